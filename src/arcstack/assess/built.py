"""The build as built: every closed check worked again for each place, the worst of them, and what the set must keep."""

from collections.abc import Callable, Hashable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, date, datetime
from threading import RLock
from typing import Any, TypeVar

from arcstack.assess import running, spring, stack
from arcstack.assess.assessment import Assessment, level, verdict
from arcstack.assess.catalogue import checks, limit_title
from arcstack.assess.context import Context, known
from arcstack.cached import cached_property
from arcstack.checks import Evidence, Figure, Level, Verdict
from arcstack.document import FIELDS, SIDES
from arcstack.document.places import Place
from arcstack.evidence import Coverage, coverage, passing
from arcstack.readings import Sheet, Waived, as_built
from arcstack.settings import setting
from arcstack.units import LENGTH, MASS, RATIO, Dimension

T = TypeVar("T")

OF_DESIGN = running.RUN_OVER_SPEEDS
"""Checks of a train that is run over its speeds: worked of the design, not of each valve."""

_LET_PASS = (Level.FAIL, Level.TIGHT)
"""What a hand may let pass: what is not known is not let pass."""

LEAST_MASS_SPREAD_KG = setting("bench.least_mass_spread")


@dataclass(frozen=True)
class Stand:
    """How one check stands at one place, before any waiver."""

    place: Place
    verdict: Verdict

    @cached_property
    def coverage(self) -> Coverage | None:
        """What of it was measured, and what is owed; None where it cannot be told."""
        return coverage(self.verdict.figure) if self.verdict.figure is not None else None

    @property
    def measured(self) -> bool:
        """Whether everything below it was measured that can be: there, and once where it stands once."""
        return self.coverage is not None and self.coverage.whole

    @property
    def begun(self) -> bool:
        """Whether anything that it rests on was read there, and still holds."""
        return self.coverage is not None and self.coverage.begun


@dataclass(frozen=True)
class Across:
    """One check over the places of one side, in the order of the head; ``waived`` is what names let pass of it."""

    check: str
    side: str
    title: str
    stands: tuple[Stand, ...]
    waived: tuple[Waived, ...] = ()

    @cached_property
    def at(self) -> tuple[tuple[Place, Verdict], ...]:
        return tuple((s.place, let_pass(s.verdict, s.place.label, self.waived)) for s in self.stands)

    @cached_property
    def worst(self) -> tuple[Place, Verdict]:
        """The place that stands worst, and how."""
        return max(self.at, key=lambda row: (row[1].level.severity, -(row[1].room if row[1].room is not None else 0.0)))

    @property
    def level(self) -> Level:
        return self.worst[1].level

    @property
    def proven(self) -> bool:
        """True only where every place is."""
        return all(v.proven for _, v in self.at)

    @cached_property
    def measured(self) -> int:
        """Places at which the check is measured: every figure below it that can be."""
        return sum(s.measured for s in self.stands)

    @cached_property
    def begun(self) -> int:
        """Places at which something that the check rests on was read, and still holds."""
        return sum(s.begun for s in self.stands)

    @cached_property
    def owed(self) -> str:
        """What is owed at the places where it is not measured, in a few words."""
        found = next((s.coverage for s in self.stands if s.coverage is not None and not s.coverage.whole), None)
        return found.words if found is not None else ""

    @property
    def values(self) -> tuple[tuple[Place, float], ...]:
        return tuple((p, v.figure.value) for p, v in self.at if v.figure is not None)

    @property
    def spread(self) -> float | None:
        """Highest less lowest over the places that can be told."""
        found = [value for _, value in self.values]
        return max(found) - min(found) if len(found) > 1 else None


def read_whole(figure: Figure) -> bool:
    """Whether every figure below that stands at a valve was measured there, and one at least did."""
    found = [f for f in _leaves(figure) if f.path is not None and f.path in FIELDS and FIELDS[f.path].each]
    return bool(found) and all(f.evidence is Evidence.MEASURED and f.sample is None for f in found)


def _leaves(figure: Figure) -> list[Figure]:
    if not figure.inputs:
        return [figure]
    return [leaf for inner in figure.inputs for leaf in _leaves(inner)]


@dataclass(frozen=True)
class Worked:
    """Every check over the places of a side, and what the set must keep.

    ``aside`` is what rooms above make of it, by name: it is kept for as long as nothing of the side changes.
    """

    across: tuple[Across, ...]
    sets: tuple[Verdict, ...]
    aside: dict[Hashable, Any] = field(default_factory=dict, compare=False)


class _Half:
    """One side of a head as built. Contexts stand at once; its checks are worked when they are asked for.

    ``before`` is the same side as it was last touched: what has not changed since is taken from it.
    """

    def __init__(self, design: Context, sheet: Sheet, side: str, before: "_Half | None") -> None:
        self.design, self.side = design, side
        self.places = tuple(p for p in sheet.places if p.side == side)
        self.waived = tuple(
            w for w in sheet.waivers if w.place and w.side in (side, "") and not passing.over(w.until, today())
        )
        self.rests = {p.label: sheet.rests_of(p.label) for p in self.places}
        self.build = sheet.build
        same_design = before is not None and (before.build is sheet.build or before.build == sheet.build)
        self.contexts: dict[str, Context] = {}
        for place in self.places:
            base = design
            if before is not None and place.label in before.contexts:
                base = before.contexts[place.label]
                if same_design and before.rests.get(place.label) == self.rests[place.label]:
                    self.contexts[place.label] = base
                    continue
            self.contexts[place.label] = base.of(as_built(sheet, place))
        self._worked: Worked | None = None
        # of the last one that was worked, never of one that leans on another in turn
        self._last: _Half | None = before if before is None or before._worked is not None else before._last

    @property
    def at_hand(self) -> bool:
        """Whether it stands worked, or stood so before what has changed since."""
        last = self._last
        return self._worked is not None or (last is not None and last._worked is not None)

    def worked(self) -> Worked:
        """Every check over the places, and what the set must keep."""
        if self._worked is None:
            here = [(p, self.contexts[p.label]) for p in self.places]
            last = self._last
            if last is not None and last._worked is not None and self._stands_as(last):
                self._worked = last._worked
            else:
                sets = (check.verdict(self.design, self.side, here) for check in SETS)
                self._worked = Worked(self._across(here, last), tuple(v for v in sets if v is not None))
            self._last = None
        return self._worked

    def _stands_as(self, last: "_Half") -> bool:
        """Whether nothing of the side has changed."""
        same = len(last.contexts) == len(self.contexts) and all(
            last.contexts.get(label) is ctx for label, ctx in self.contexts.items()
        )
        return same and last.design is self.design and last.waived == self.waived

    def _across(self, here: list[tuple[Place, Context]], last: "_Half | None") -> tuple[Across, ...]:
        """Every check that applies anywhere; how it stood where nothing has changed is kept."""
        same: set[str] = set()
        kept: dict[tuple[str, str], Stand] = {}
        if last is not None and last._worked is not None:
            same = {p.label for p, ctx in here if last.contexts.get(p.label) is ctx}
            kept = {(a.check, s.place.label): s for a in last._worked.across for s in a.stands if s.place.label in same}
        found = []
        for about in checks().values():
            if about.id in OF_DESIGN:
                continue
            stands = []
            for place, ctx in here:
                stand = kept.get((about.id, place.label))
                if stand is None and place.label not in same and (v := verdict(ctx, about)) is not None:
                    stand = Stand(place, v)
                if stand is not None:
                    stands.append(stand)
            if stands:
                own = tuple(w for w in self.waived if w.check == about.id)
                found.append(Across(about.id, self.side, about.title, tuple(stands), own))
        return tuple(found)


class _By(Mapping[str, T]):
    """What there is of each of some names, taken when it is asked for."""

    def __init__(self, names: Iterable[str], take: Callable[[str], T]) -> None:
        self._names, self._take = tuple(names), take

    def __getitem__(self, name: str) -> T:
        if name not in self._names:
            raise KeyError(name)
        return self._take(name)

    def __iter__(self) -> Iterator[str]:
        return iter(self._names)

    def __len__(self) -> int:
        return len(self._names)


class Built:
    """A head as built: the context of each place, each check over its places, and the checks of the set.

    A side is worked when something of it is asked for, so that a page of one side does not wait for the other.
    """

    def __init__(self, design: Assessment, sheet: Sheet, before: "Built | None" = None) -> None:
        self.build = design.build
        self._designs, self._sheet = design.sides, sheet
        self._lock = RLock()
        self._halves: dict[str, _Half] = {}
        self._earlier = {s: half for s in SIDES if before is not None and (half := before._touched(s)) is not None}
        self._side_of = {p.label: p.side for p in sheet.places}

    # made anew each time: kept here they would hold on to this for ever, and memory with it

    @property
    def contexts(self) -> Mapping[str, Context]:
        """That of each place."""
        return _By(self._side_of, lambda label: self._half(self._side_of[label]).contexts[label])

    @property
    def sides(self) -> Mapping[str, tuple[Across, ...]]:
        """Each check over the places, side by side."""
        return _By(SIDES, lambda side: self.worked(side).across)

    @property
    def sets(self) -> Mapping[str, tuple[Verdict, ...]]:
        """What the set of each side must keep."""
        return _By(SIDES, lambda side: self.worked(side).sets)

    def across(self, check: str, side: str) -> Across:
        return next(a for a in self.sides[side] if a.check == check)

    def at(self, check: str, place: Place) -> Verdict | None:
        """One check at one place, without working the others; None where it means nothing there."""
        half = self._half(place.side)
        found = verdict(half.contexts[place.label], checks()[check])
        own = tuple(w for w in half.waived if w.check == check)
        return None if found is None else let_pass(found, place.label, own)

    def _touched(self, side: str) -> _Half | None:
        with self._lock:
            return self._halves.get(side) or self._earlier.get(side)

    def _half(self, side: str) -> _Half:
        found = self._halves.get(side)
        if found is None:
            with self._lock:
                found = self._halves.get(side)
                if found is None:
                    found = _Half(self._designs[side], self._sheet, side, self._earlier.pop(side, None))
                    self._halves[side] = found
        return found

    def at_hand(self, side: str) -> bool:
        """Whether a side can be told without working every check at every valve of it anew."""
        half = self._touched(side)
        return half is not None and half.at_hand

    def worked(self, side: str) -> Worked:
        """All of a side."""
        half = self._half(side)
        with self._lock:
            return half.worked()


def built(design: Assessment, sheet: Sheet, before: Built | None = None) -> Built:
    """Every place of a head worked by the same checks as the design.

    With an earlier one ``before``, a place works only what has changed at it.
    """
    return Built(design, sheet, before)


def let_pass(found: Verdict, place: str, waivers: Sequence[Waived]) -> Verdict:
    """A verdict at a place, *waived* where a name let pass what it is now."""
    if found.level not in _LET_PASS or found.figure is None or found.limit is None:
        return found
    if passing.never(found.id, found.figure):
        return found
    now = passing.stands(found.figure, found.limit)
    held = any(w.place == place and passing.holds(w, found.level.value, now, today()) for w in waivers)
    return replace(found, level=Level.WAIVED) if held else found


def today() -> date:
    return datetime.now(UTC).date()


# -- what the set must keep


def total_mass(ctx: Context) -> Figure:
    """What moves at one valve, by its own parts."""
    return spring.moving_mass(ctx)


def tip(ctx: Context) -> Figure:
    return ctx.entry("bench.tip_height", "z_t")


@dataclass(frozen=True)
class SetCheck:
    """What the valves of a side must keep among themselves: highest less lowest, or that as a share of the mean."""

    id: str
    title: str
    work: Callable[[Context], Figure]
    dimension: Dimension
    share: bool = False

    def verdict(self, design: Context, side: str, here: list[tuple[Place, Context]]) -> Verdict | None:
        """None while fewer than two places can be told."""
        found = [(p, f) for p, ctx in here if (f := known(lambda c=ctx: self.work(c))) is not None]  # type: ignore[misc]
        read = [(p, f) for p, f in found if read_whole(f)]
        if len(read) < 2:
            return None
        low, high = min(read, key=lambda r: r[1].value), max(read, key=lambda r: r[1].value)
        ends = [replace(f, symbol=s, label=f"{f.label}, {p.label}") for s, (p, f) in (("x_max", high), ("x_min", low))]
        spread = high[1].value - low[1].value
        limit = design.limit(self.id)
        formula, value = "Δ = x_max − x_min", spread
        note = f"{low[0].label} least, {high[0].label} most; {len(read)} of {len(here)} read."
        if self.share:
            mean = sum(f.value for _, f in read) / len(read)
            formula, value = "Δ = (x_max − x_min)/mean", spread / mean
            if self.dimension is MASS and limit.high is not None and LEAST_MASS_SPREAD_KG / mean > limit.high:
                # a gram is let pass whatever share it is
                limit = replace(limit, high=LEAST_MASS_SPREAD_KG / mean)
                note += " Held to a gram, which is more."
        figure = Figure.calculated(
            "Δ", self.title, value, RATIO if self.share else self.dimension, formula, *ends, note=note
        )
        if len(read) < len(here):
            figure = replace(figure, sample=(len(read), len(here)))
        return Verdict(self.id, side, self.title, "bench", figure, limit, level(figure, limit), (), True, note)


SETS = (
    SetCheck("set.height_spread", limit_title("set.height_spread"), stack.installed_height, LENGTH),
    SetCheck("set.load_spread", limit_title("set.load_spread"), spring.seat_load, RATIO, share=True),
    SetCheck("set.mass_spread", limit_title("set.mass_spread"), total_mass, MASS, share=True),
    SetCheck("set.tip_spread", limit_title("set.tip_spread"), tip, LENGTH),
)
