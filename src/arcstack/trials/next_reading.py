"""Which reading would decide: how far each figure below a check may be off, and how much of it a reading takes away."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial

from arcstack.assess.assessment import verdict
from arcstack.assess.built import OF_DESIGN
from arcstack.assess.catalogue import checks
from arcstack.assess.check import Check
from arcstack.assess.context import Context, known
from arcstack.assess.half_width import half_width
from arcstack.checks import Evidence, Figure, Verdict
from arcstack.document import FIELDS, Entry, decided, get, put
from arcstack.mech.bench import worst_and_likely
from arcstack.readings import ASKED, Per, Sheet, stands_per
from arcstack.settings import setting
from arcstack.units import Dimension, System, show

TIGHTEST = int(setting("next.tightest"))


_NOT_READ = frozenset({Per.ENGINE, Per.CAM})
"""What a cam's card says and what a brief asks is no reading of the bench."""


@dataclass(frozen=True)
class Share:
    """One figure below a check: how far it may be off, how far the check goes with that, and that once it is read."""

    path: str
    label: str
    half_width: float
    moves: float
    read: float
    evidence: Evidence


@dataclass(frozen=True)
class Doubt:
    """How far a check may be off by its figures: all against it, and by the root of the sum of squares."""

    verdict: Verdict
    shares: tuple[Share, ...]

    @property
    def worst(self) -> float:
        return worst_and_likely([s.moves for s in self.shares])[0]

    @property
    def likely(self) -> float:
        return worst_and_likely([s.moves for s in self.shares])[1]

    def once_read(self, share: Share) -> float:
        """The likely band after one figure was read."""
        return worst_and_likely([s.read if s is share else s.moves for s in self.shares])[1]


@dataclass(frozen=True)
class Next:
    """A reading to take: of which figure, for which check, and how far its band then goes."""

    share: Share
    doubt: Doubt

    @property
    def takes(self) -> float:
        """How much of the likely band it takes away, in the check's tight zone where it has one."""
        limit = self.doubt.verdict.limit
        unit = (limit.tight if limit is not None and limit.tight else 0.0) or 1.0
        return (self.doubt.likely - self.doubt.once_read(self.share)) / unit

    def words(self, system: System = System.MM) -> str:
        """The reading in words: what it would make of the check's band."""
        figure = self.doubt.verdict.figure
        assert figure is not None
        d = figure.dimension
        value, now = show(figure.value, d, system), show(self.doubt.likely, d, system)
        after = show(self.doubt.once_read(self.share), d, system)
        measured = show(
            half_width(self.share.path, Evidence.MEASURED, None, None), _dimension(self.share.path), system, 1
        )
        return (
            f"{self.share.label} decides this: measured to {measured}, {value.number} ± {now.number} becomes "
            f"{value.number} ± {f'{after.number} {after.unit}'.rstrip()}."
        )


def _dimension(path: str) -> Dimension:
    spec = FIELDS[path].quantity
    assert spec is not None
    return spec.dimension


def _leaves(figure: Figure) -> dict[str, Figure]:
    return {leaf.path: leaf for leaf in figure.leaves if leaf.path}


Tried = dict[tuple[str, float], tuple[Context, Context]]
"""The side with a figure at each end of its half-width, by path and half-width."""


def doubt(ctx: Context, v: Verdict, sheet: Sheet | None = None, tried: Tried | None = None) -> Doubt:
    """Each figure below a verdict moved through its half-width, both ways, and how far the check goes with it.

    What was ``tried`` for one verdict is there for the next.
    """
    assert v.figure is not None
    tried = {} if tried is None else tried
    about = checks()[v.id]
    resolutions = _resolutions(ctx, sheet)
    shares = []
    for path, leaf in _leaves(v.figure).items():
        entry = get(ctx.build, path) if path in FIELDS and FIELDS[path].quantity is not None else None
        if not isinstance(entry, Entry) or decided(path) or stands_per(path) in _NOT_READ:
            continue
        half = half_width(path, leaf.evidence, entry.value, resolutions.get(path))
        read = half_width(path, Evidence.MEASURED, entry.value, None)
        moves = _moved(ctx, about, v.figure.value, path, entry, half, tried)
        if moves > 0.0:
            shares.append(Share(path, FIELDS[path].label, half, moves, moves * min(read / half, 1.0), leaf.evidence))
    return Doubt(v, tuple(sorted(shares, key=lambda s: -s.moves)))


def _resolutions(ctx: Context, sheet: Sheet | None) -> dict[str, float]:
    """Of what was read at this place: its instrument's resolution, or the scatter of repeats where that is more."""
    label, side = ctx.build.side(ctx.side_name).bench.place, ctx.side_name
    if sheet is None or not label:
        return {}
    place = next(p for p in sheet.places if p.label == label)
    found = {}
    for asked in ASKED.values():
        path = asked.of(ctx.build, side)
        item = sheet.item_at(label, asked.item) if asked.item else ""
        settled = sheet.of_item(item, asked.key) if item else None if asked.item else sheet.settled(place, asked.key)
        if path and settled is not None and settled.last.resolution is not None:
            found[path] = max(settled.last.resolution, settled.scatter / 2.0)
    return found


def _moved(ctx: Context, about: Check, value: float, path: str, entry: Entry, half: float, tried: Tried) -> float:
    if half <= 0.0:
        return 0.0
    ends = tried.get((path, half))
    if ends is None:
        moved = (entry.model_copy(update={"value": entry.value + way}) for way in (half, -half))
        first, second = (ctx.of(put(ctx.build, path, to)) for to in moved)
        ends = tried[path, half] = first, second
    found = (known(partial(about.value, end)) for end in ends)
    return max((abs(x - value) for x in found if x is not None and math.isfinite(x)), default=0.0)


def read_next(
    ctx: Context, verdicts: Sequence[Verdict], sheet: Sheet | None = None, most: int = TIGHTEST
) -> list[Next]:
    """Readings by how much of the band of the tightest checks each would take away, those that take none left out."""
    judged = [
        v for v in verdicts if v.judges and v.figure is not None and v.limit is not None and v.id not in OF_DESIGN
    ]
    tightest = sorted(judged, key=lambda v: v.room if v.room is not None else math.inf)[:most]
    best: dict[str, Next] = {}
    tried: Tried = {}
    for v in tightest:
        found = doubt(ctx, v, sheet, tried)
        for share in found.shares:
            if share.evidence is Evidence.MEASURED or share.read >= share.moves:
                continue
            one = Next(share, found)
            if share.path not in best or one.takes > best[share.path].takes:
                best[share.path] = one
    return sorted(best.values(), key=lambda n: -n.takes)


def design_next(ctx: Context) -> tuple[Next, ...]:
    """The same of a side as it was designed, worked once for as long as nothing of it changes."""
    return ctx.once(("reading that decides",), lambda: tuple(read_next(ctx, _verdicts(ctx))))


def _verdicts(ctx: Context) -> list[Verdict]:
    """Every verdict of the side, asked for here: what it read is then read by whatever is made of it."""
    return [v for about in checks().values() if (v := verdict(ctx, about)) is not None]
