"""Springs laid out over valves, and shims under them: each school's way, with what every valve then has."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from heapq import heapify, heapreplace

import numpy as np

from arcstack.assess import cam, stack
from arcstack.assess.built import Built
from arcstack.assess.context import Context, known
from arcstack.document.places import Place, places
from arcstack.errors import MissingInput
from arcstack.mech.bench import least_spread
from arcstack.mech.cam.law import Array
from arcstack.mech.shims import ShimStack, nearest, stacks
from arcstack.readings import Sheet
from arcstack.settings import setting

MOST_SHIMS = int(setting("bench.most_shims"))


class School(StrEnum):
    """How springs are laid out, and what shims are for."""

    LEAST = "least spread of loads, springs moved"
    STRONGEST = "strongest spring to tallest valve"
    HEIGHTS = "equal heights, by shims"
    LOADS = "equal loads, by shims"
    BOTH = "springs and shims together"


class Prefer(StrEnum):
    """Which shims are taken where several would do."""

    NEAREST = "nearest, then fewest"
    FEWEST = "within tolerance, then fewest"


@dataclass(frozen=True)
class SpringOf:
    """A spring as the tester read it: its load (N) at a height (mm), and its rate (N/mm)."""

    item: str
    load_N: float
    height_mm: float
    rate_N_per_mm: float

    def load_at(self, height_mm: float) -> float:
        return self.load_N + self.rate_N_per_mm * (self.height_mm - height_mm)


@dataclass(frozen=True)
class Seat:
    """One valve's place for a spring: the height without shims, how far this spring stands below the outer's, and
    what shims lie there now (mm)."""

    place: Place
    open_mm: float
    below_mm: float
    shims_mm: float

    def height(self, shims_mm: float) -> float:
        return self.open_mm - shims_mm - self.below_mm


@dataclass(frozen=True)
class Laid:
    """One valve after matching: its spring, shims, height and seat load."""

    seat: Seat
    spring: SpringOf
    shims: ShimStack
    height_mm: float
    load_N: float


@dataclass(frozen=True)
class Match:
    """A layout: before as the springs lie (or in order of serial where they lie nowhere), and after."""

    before: tuple[Laid, ...]
    after: tuple[Laid, ...]

    @property
    def spreads_N(self) -> tuple[float, float]:
        """Highest less lowest load, before and after."""
        return _spread(self.before), _spread(self.after)


def _spread(laid: Sequence[Laid]) -> float:
    return max(x.load_N for x in laid) - min(x.load_N for x in laid)


def springs_read(sheet: Sheet, sort: str, retired: frozenset[str] = frozenset()) -> tuple[SpringOf, ...]:
    """Springs of a sort that the tester has read twice, those that are retired left out."""
    found = []
    for item, of in sheet.springs.items():
        one, two = (sheet.of_item(item, f"{sort}.load_{n}") for n in (1, 2))
        if of != sort or item in retired or one is None or two is None:
            continue
        h1, h2 = (s.last.condition.get("height_mm") for s in (one, two))
        if h1 is not None and h2 is not None and h1 > h2:
            found.append(SpringOf(item, one.value, h1, (two.value - one.value) / (h1 - h2)))
    return tuple(found)


def seats(built: Built, side: str, sort: str) -> tuple[Seat, ...]:
    """Places of a side with the heights they have as built. Raises ``MissingInput`` where one is not known."""
    found = []
    for label, ctx in built.contexts.items():
        place = _place(ctx, label)
        if place.side != side:
            continue
        height = known(lambda c=ctx: stack.installed_height(c))  # type: ignore[misc]
        own = known(lambda c=ctx: stack.inner_height(c)) if sort == "inner" else height  # type: ignore[misc]
        if height is None or own is None:
            raise MissingInput(why=f"the height of {label} is not known yet: read open heights first")
        shims = sum(s.value for s in stack.shims(ctx))
        found.append(Seat(place, height.value + shims, height.value - own.value, shims))
    if not found:
        raise MissingInput(why="how many cylinders and valves there are")
    return tuple(found)


def _place(ctx: Context, label: str) -> Place:
    return next(p for p in places(ctx.build) if p.label == label)


def laid_out(sheet: Sheet, of: Sequence[Seat], springs: Sequence[SpringOf], sort: str) -> tuple[Laid, ...]:
    """Springs where they lie now; those that lie nowhere fill what is empty, in the order of their serials."""
    by_item = {s.item: s for s in springs}
    there = {seat.place.label: by_item.get(sheet.item_at(seat.place.label, sort)) for seat in of}
    rest = iter([s for s in springs if s not in there.values()])
    found = []
    for seat in of:
        spring = there[seat.place.label] or next(rest, None)
        if spring is None:
            raise _too_few(len(of), len(springs))
        found.append(_laid(seat, spring, ShimStack((seat.shims_mm,) if seat.shims_mm else ())))
    return tuple(found)


def _too_few(valves: int, springs: int) -> MissingInput:
    more = valves - springs
    return MissingInput(why=f"{more} more spring{'' if more == 1 else 's'} read on the tester, for {valves} valves")


def _laid(seat: Seat, spring: SpringOf, shims: ShimStack) -> Laid:
    height = seat.height(shims.total_mm)
    return Laid(seat, spring, shims, height, spring.load_at(height))


@dataclass(frozen=True)
class Shelf:
    """Shims on hand: sizes (mm), how many at most lie under a spring, and how much in all; the target and what is let
    pass of it (mm)."""

    sizes_mm: tuple[float, ...]
    target_mm: float
    tolerance_mm: float
    most: int = MOST_SHIMS
    total_mm: float = 2.0

    @property
    def stacks(self) -> list[ShimStack]:
        return stacks(self.sizes_mm, self.most, self.total_mm)


def shims_for(seat: Seat, shelf: Shelf, prefer: Prefer) -> ShimStack:
    """Shims that bring a place to the target: the nearest, or the fewest within tolerance."""
    target = shelf.target_mm + seat.below_mm
    if prefer is Prefer.FEWEST:
        good = [s for s in shelf.stacks if abs(seat.open_mm - s.total_mm - target) <= shelf.tolerance_mm + 1e-9]
        if good:
            return min(good, key=lambda s: (len(s.shims_mm), abs(seat.open_mm - s.total_mm - target)))
    return nearest(seat.open_mm, target, shelf.stacks)


def matched(
    of: Sequence[Seat], springs: Sequence[SpringOf], before: Sequence[Laid], school: School,
    shelf: Shelf | None = None, prefer: Prefer = Prefer.NEAREST,
) -> tuple[Laid, ...]:  # fmt: skip
    """Every valve after matching by a school.

    Raises ``MissingInput`` where it asks for shims and there are none, or for more springs than there are.
    """
    if len(springs) < len(of):
        raise _too_few(len(of), len(springs))
    if school in (School.HEIGHTS, School.LOADS, School.BOTH) and shelf is None:
        raise MissingInput(why="shims on the shelf, and a target height")
    if school is School.STRONGEST:
        return _strongest(of, springs, before)
    if school is School.LEAST:
        return _least(of, springs, [b.shims for b in before])
    assert shelf is not None
    if school is School.HEIGHTS:
        return tuple(_laid(seat, b.spring, shims_for(seat, shelf, prefer)) for seat, b in zip(of, before, strict=True))
    if school is School.LOADS:
        return _equal_loads(before, shelf)
    return _together(of, springs, shelf)


def _strongest(of: Sequence[Seat], springs: Sequence[SpringOf], before: Sequence[Laid]) -> tuple[Laid, ...]:
    shims = [b.shims for b in before]
    middle = float(np.mean([seat.height(s.total_mm) for seat, s in zip(of, shims, strict=True)]))
    by_load = sorted(springs, key=lambda s: -s.load_at(middle))[: len(of)]
    tallest = sorted(range(len(of)), key=lambda i: -of[i].height(shims[i].total_mm))
    given = dict(zip(tallest, by_load, strict=True))
    return tuple(_laid(seat, given[i], shims[i]) for i, seat in enumerate(of))


def _loads(of: Sequence[Seat], springs: Sequence[SpringOf], shims: Sequence[ShimStack]) -> Array:
    heights = [seat.height(s.total_mm) for seat, s in zip(of, shims, strict=True)]
    return np.array([[spring.load_at(h) for h in heights] for spring in springs])


def _least(of: Sequence[Seat], springs: Sequence[SpringOf], shims: Sequence[ShimStack]) -> tuple[Laid, ...]:
    found = least_spread(_loads(of, springs, shims))
    return tuple(_laid(seat, springs[s], shims[i]) for i, (seat, s) in enumerate(zip(of, found.springs, strict=True)))


def _equal_loads(before: Sequence[Laid], shelf: Shelf) -> tuple[Laid, ...]:
    """Shims that leave the least spread of loads with these springs, heights within tolerance where that can be."""
    return _narrowest([[_laid(x.seat, x.spring, s) for s in _allowed(x.seat, shelf)] for x in before])


def _allowed(seat: Seat, shelf: Shelf) -> list[ShimStack]:
    """Shims that leave a height within tolerance of the target; where none do, the nearest."""
    near = [s for s in shelf.stacks if abs(seat.height(s.total_mm) - shelf.target_mm) <= shelf.tolerance_mm + 1e-9]
    return near or [shims_for(seat, shelf, Prefer.NEAREST)]


def _narrowest(choices: Sequence[Sequence[Laid]]) -> tuple[Laid, ...]:
    """One of each list, so that highest less lowest load is the least there is.

    Source: smallest range that covers an element of every sorted list: the lowest is moved up until its list ends.
    """
    rows = [sorted(c, key=lambda x: (x.load_N, len(x.shims.shims_mm))) for c in choices]
    heap = [(row[0].load_N, i, 0) for i, row in enumerate(rows)]
    heapify(heap)
    top = max(row[0].load_N for row in rows)
    best, chosen = float("inf"), [0] * len(rows)
    at = [0] * len(rows)
    while True:
        low, i, n = heap[0]
        if top - low < best - 1e-9:
            best, chosen = top - low, at.copy()
        if n + 1 == len(rows[i]):
            return tuple(row[k] for row, k in zip(rows, chosen, strict=True))
        at[i] = n + 1
        heapreplace(heap, (rows[i][n + 1].load_N, i, n + 1))
        top = max(top, rows[i][n + 1].load_N)


def _together(of: Sequence[Seat], springs: Sequence[SpringOf], shelf: Shelf) -> tuple[Laid, ...]:
    """Springs and shims chosen at once: the least spread that any of both leaves, heights within tolerance."""
    allowed = [_allowed(seat, shelf) for seat in of]
    loads = np.full((len(springs), len(of), max(len(a) for a in allowed)), np.nan)
    for valve, (seat, shims) in enumerate(zip(of, allowed, strict=True)):
        heights = np.array([seat.height(s.total_mm) for s in shims])
        for n, spring in enumerate(springs):
            loads[n, valve, : len(shims)] = spring.load_N + spring.rate_N_per_mm * (spring.height_mm - heights)
    found = least_spread(loads)
    rows = [
        [_laid(seat, springs[n], s) for s in allowed[i]]
        for i, (seat, n) in enumerate(zip(of, found.springs, strict=True))
    ]
    return _narrowest(rows)


def tray(after: Sequence[Laid]) -> Mapping[str, str]:
    """The order of the tray to print: by place, the spring that goes there."""
    return {x.seat.place.label: x.spring.item for x in after}


def useful(ctx: Context) -> tuple[float, float] | None:
    """Installed height of the design and that height less net lift, mm: where the tester reads."""
    height, lift = known(lambda: stack.installed_height(ctx)), known(lambda: cam.net_lift(ctx))
    return None if height is None or lift is None else (height.value, height.value - lift.value)
