"""Springs on the tester: what was read of each, which of them pass, and one taken."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from arcstack.application.head import Opened
from arcstack.assess.bench import tallest_solid
from arcstack.assess.context import known
from arcstack.assess.spring import line as spring_line
from arcstack.assess.stack import inner_height
from arcstack.checks.verdict import HAIR
from arcstack.document import FIELDS, Sitting
from arcstack.errors import FieldError
from arcstack.readings import Settled
from arcstack.readings.pressing import Pressed, pressed
from arcstack.readings.taking import How, serial_of
from arcstack.trials.matching import SpringOf, springs_read, useful

FIGURES = ("free_length", "load_1", "load_2", "solid", "mass")
"""What is read of one spring, in the order of the tester."""

LOADS = ("load_1", "load_2")


@dataclass(frozen=True)
class TestedSpring:
    """One spring by its serial, with what was read of it.

    ``passes`` is None while its solid height or what it may be is not known; ``loss`` the share of its load that it
    lost in service, None where it was not read before and after; ``retire`` where that is past the limit.
    """

    item: str
    place: str
    settled: Mapping[str, Settled]
    rate_N_per_mm: float | None
    passes: bool | None
    loss: float | None
    retire: bool

    @property
    def stale(self) -> str:
        """Why something that was read of it no longer holds; empty where all does."""
        return next((s.stale for s in self.settled.values() if s.stale), "")


def heights_of(head: Opened, sort: str) -> tuple[float, float] | None:
    """Where the tester reads, mm: the design's installed height of this spring, and that less net lift."""
    ctx = head.design.sides[head.side]
    outer = useful(ctx)
    if outer is None or sort == "outer":
        return outer
    inner = known(lambda: inner_height(ctx))
    return None if inner is None else (inner.value, inner.value - (outer[0] - outer[1]))


def tested(head: Opened, sort: str) -> list[TestedSpring]:
    """Every spring of a sort that stands on this side or nowhere yet."""
    ctx, sheet = head.design.sides[head.side], head.sheet
    allowed, limit = known(lambda: tallest_solid(ctx, sort)), ctx.limit("spring.loss").high or 0.0
    by_item = {s.item: s for s in springs_read(sheet, sort)}
    found = []
    for item, of in sheet.springs.items():
        place = sheet.place_of(item)
        if of != sort or (place is not None and place.side != head.side):
            continue
        read = {f: sheet.of_item(item, f"{sort}.{f}") for f in FIGURES}
        settled = {f: s for f, s in read.items() if s is not None}
        solid, loss = settled.get("solid"), _loss(head, item, sort)
        passes = None if solid is None or allowed is None else solid.value <= allowed.value + HAIR
        rate = by_item[item].rate_N_per_mm if item in by_item else None
        label = place.label if place else ""
        found.append(TestedSpring(item, label, settled, rate, passes, loss, loss is not None and loss > limit))
    return found


def _loss(head: Opened, item: str, sort: str) -> float | None:
    pair = head.sheet.before_and_after(item, f"{sort}.load_1")
    return (pair[0].value - pair[1].value) / pair[0].value if pair else None


def rejected(head: Opened, sort: str) -> frozenset[str]:
    """Springs that go solid too early or have lost too much."""
    return frozenset(s.item for s in tested(head, sort) if s.passes is False or s.retire)


@dataclass(frozen=True)
class LoadSpread:
    """Loads of several springs at one height, N: their mean, what lies between the least and the most, and which is
    furthest off, by which share of the mean."""

    mean_N: float
    spread_N: float
    furthest: str
    off: float


def spread_of(springs: Sequence[SpringOf], height_mm: float) -> LoadSpread | None:
    """How the loads of springs lie at a height; None for no springs."""
    if not springs:
        return None
    loads = {s.item: s.load_at(height_mm) for s in springs}
    mean = sum(loads.values()) / len(loads)
    furthest = max(loads, key=lambda item: abs(loads[item] - mean))
    return LoadSpread(mean, max(loads.values()) - min(loads.values()), furthest, (loads[furthest] - mean) / mean)


@dataclass(frozen=True)
class TwoLoads:
    """Two heights, mm, and the loads there, N, as they stand in the form of a spring in hand."""

    heights_mm: tuple[float, float]
    loads_N: tuple[float, float]

    @property
    def rate_N_per_mm(self) -> float | None:
        """None where they tell none.

        >>> TwoLoads((36.0, 26.0), (300.0, 700.0)).rate_N_per_mm
        40.0
        """
        apart = self.heights_mm[0] - self.heights_mm[1]
        rate = (self.loads_N[1] - self.loads_N[0]) / apart if apart else 0.0
        return rate if rate > 0.0 else None


def on_tester(head: Opened, sort: str, steps: list[tuple[float, float]], own: TwoLoads | None) -> Pressed:
    """What the presses so far come to, by the rate of the spring in hand: its ``own``, or else its design's.

    Raises ``FieldError``.
    """
    rate = own.rate_N_per_mm if own is not None else None
    if rate is None and len(steps) > 1:
        line = known(lambda: spring_line(head.design.sides[head.side], sort))
        rate = line.curve.rate_at(max(steps)[0]) if line is not None else None
    return pressed(steps, rate if len(steps) > 1 else None)


def checked_height(head: Opened, sort: str, number: int, height_mm: float) -> float:
    """A height of a load that such a spring can have. Raises ``QuantityError``."""
    spec = FIELDS[f"{head.side}.stack.{sort}.height_{number}"].quantity
    assert spec is not None
    spec.check(height_mm)
    return height_mm


def take(
    head: Opened, by: Sitting, by_scale: Sitting, *, sort: str, item: str, texts: Mapping[str, str],
    heights_mm: Sequence[float], presses: Pressed, how: How,
) -> str:  # fmt: skip
    """Take what the tester read of one spring: all of it, or nothing; gives its serial.

    ``how`` is how a load is read, with the tester's resolution and correction; a tester weighs nothing, so that a mass
    is by the scale of the sitting, or counts as assumed. Raises ``Doubtful``, ``FieldError``.
    """
    serial = serial_of(item)
    rows = [(f, texts[f]) for f in FIGURES if texts.get(f)]
    if not rows:
        raise FieldError("item", f"Nothing was read of {serial}.")

    def how_read(figure: str) -> How:
        if figure in LOADS:
            return replace(how, by=by, condition={"height_mm": heights_mm[LOADS.index(figure)]})
        plain = replace(how, by=by_scale if figure == "mass" else by, resolution=None, correction=0.0)
        if figure == "solid" and presses.solid is not None:
            note = f"by the slope of {len(presses.steps)} presses"
            return replace(plain, resolution=presses.solid.half_mm, note=note)
        return plain

    taken = [(f"{sort}.{f}", "", serial, text, how_read(f)) for f, text in rows]
    head.shop.bench.take_all(head.current.id, head.current.build, taken)
    return serial
