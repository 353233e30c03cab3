"""Power before and after: repeats laid over each other, and what of a difference is more than their scatter."""

import math
import statistics
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from arcstack.errors import QuantityError
from arcstack.readings.recorded import Ran
from arcstack.settings import setting
from arcstack.units import GAUGE_PRESSURE, parse

STEP_RPM, SAME_BOOST_BAR = setting("power.step"), setting("power.same_boost")
REPEATS, TIMES_SCATTER = int(setting("power.repeats")), setting("power.times_scatter")

CONDITIONS = {
    "bench": "Bench",
    "correction": "Correction",
    "gear": "Gear",
    "tyre": "Tyre or hub",
    "fuel": "Fuel",
    "lambda": "Lambda",
    "timing": "Ignition timing",
    "boost": "Boost, peak",
    "air": "Air temperature",
    "coolant": "Coolant temperature",
    "barometer": "Barometer",
}
"""What is told of a run, in the order it is asked."""

METHOD = ("bench", "correction", "gear", "tyre")
"""Conditions that are how it was measured: where one differs, the two are not held against each other."""

TUNE = ("fuel", "lambda", "timing")
"""Conditions that are changes to the engine themselves."""


class Sense(StrEnum):
    """What a difference at one speed is worth."""

    GAIN = "gain"
    LOSS = "loss"
    WITHIN = "within the scatter"
    BOOST = "boost differs"


@dataclass(frozen=True)
class Group:
    """Repeats of one state: mean power and its scatter at each speed (kW), and boost where all of them kept it (bar).

    ``scatter`` is highest less lowest; nan everywhere for a single run, which has none to show.
    """

    name: str
    runs: tuple[Ran, ...]
    rpm: tuple[float, ...]
    mean: tuple[float, ...]
    scatter: tuple[float, ...]
    boost: tuple[float, ...] | None

    @property
    def enough(self) -> bool:
        """Whether there are as many repeats as scatter is told from."""
        return len(self.runs) >= REPEATS

    @property
    def revisions(self) -> tuple[int, ...]:
        return tuple(sorted({r.revision for r in self.runs}))

    @property
    def peak(self) -> tuple[float, float]:
        """Most power of the mean (kW), and at which speed."""
        at = int(np.argmax(self.mean))
        return self.mean[at], self.rpm[at]


def group(name: str, runs: Sequence[Ran]) -> Group | None:
    """Repeats over the speeds that all of them reach, each ``STEP_RPM``; None where they share fewer than two.

    >>> from arcstack.document import Sitting
    >>> by = Sitting(hand="ada")
    >>> one = Ran(1, "a", "", 1, ((3000.0, 100.0), (4000.0, 140.0)), (), {}, by)
    >>> two = Ran(2, "a", "", 1, ((3000.0, 102.0), (4000.0, 140.0)), (), {}, by)
    >>> found = group("a", [one, two])
    >>> found.mean[0], found.scatter[0], found.peak, found.enough
    (101.0, 2.0, (140.0, 4000.0), False)
    """
    curves = [r.power for r in runs if len(r.power) > 1]
    grid = _grid(curves)
    if len(grid) < 2:
        return None
    rows = np.array([_along(c, grid) for c in curves])
    boosts = [r.boost for r in runs]
    boost = None
    if all(len(b) > 1 and b[0][0] <= grid[0] and b[-1][0] >= grid[-1] for b in boosts):
        boost = tuple(float(x) for x in np.mean([_along(b, grid) for b in boosts], axis=0))
    scatter = np.ptp(rows, axis=0) if len(rows) > 1 else np.full(len(grid), np.nan)
    return Group(
        name, tuple(runs), tuple(map(float, grid)), tuple(map(float, rows.mean(axis=0))), tuple(map(float, scatter)),
        boost,
    )  # fmt: skip


def _grid(curves: Sequence[Sequence[tuple[float, float]]]) -> NDArray[np.float64]:
    if not curves:
        return np.empty(0)
    low, high = max(c[0][0] for c in curves), min(c[-1][0] for c in curves)
    first, last = np.ceil(low / STEP_RPM - 1e-9), np.floor(high / STEP_RPM + 1e-9)
    return np.asarray(np.arange(first, last + 1.0) * STEP_RPM, dtype=np.float64)


def _along(curve: Sequence[tuple[float, float]], grid: NDArray[np.float64]) -> NDArray[np.float64]:
    rpm, value = np.array(curve, dtype=np.float64).T
    return np.asarray(np.interp(grid, rpm, value), dtype=np.float64)


def groups(runs: Sequence[Ran]) -> tuple[Group, ...]:
    """Every group of repeats that has a curve, in the order it was first run."""
    by_name: dict[str, list[Ran]] = {}
    for r in runs:
        by_name.setdefault(r.group, []).append(r)
    return tuple(g for name, own in by_name.items() if (g := group(name, own)) is not None)


@dataclass(frozen=True)
class Point:
    """A difference at one speed: after less before, and twice the larger scatter that it must pass (kW)."""

    rpm: float
    before: float
    after: float
    must_pass: float
    sense: Sense

    @property
    def gain(self) -> float:
        return self.after - self.before


@dataclass(frozen=True)
class Compared:
    """Two groups held against each other.

    ``points`` is empty where they cannot be: ``why`` then says so. ``doubts`` stand beside the result; ``changes`` are
    what was done between the two, and with more than one of them no gain is due to any.
    """

    before: Group
    after: Group
    points: tuple[Point, ...]
    why: str
    doubts: tuple[str, ...]
    changes: tuple[str, ...]

    @property
    def attributable(self) -> str:
        """The one change that the difference is due to; empty where there is none or more than one."""
        return self.changes[0] if len(self.changes) == 1 and not self.why else ""

    def spans(self, sense: Sense) -> tuple[tuple[float, float], ...]:
        """Ranges of speed over which every point has one sense."""
        found: list[tuple[float, float]] = []
        for n, p in enumerate(self.points):
            if p.sense is not sense:
                continue
            if found and n and self.points[n - 1].sense is sense:
                found[-1] = found[-1][0], p.rpm
            else:
                found.append((p.rpm, p.rpm))
        return tuple(found)


def compare(before: Group, after: Group, changes: Sequence[str]) -> Compared:
    """What changed between two groups of repeats, speed by speed.

    A difference counts only where it passes twice the larger of the two scatters, and only where boost is equal to
    ``SAME_BOOST_BAR``: at other speeds the point says that boost differs, everywhere where only its peaks were told and
    are not equal. ``changes`` are the document's.
    """
    told_before, told_after = _told(before), _told(after)
    other = [CONDITIONS[k] for k in METHOD if told_before[k] != told_after[k]]
    tune = [
        f"{CONDITIONS[k]}: {_or(told_before[k])} → {_or(told_after[k])}"
        for k in TUNE
        if told_before[k] != told_after[k]
    ]
    doubts = _doubts(before, after, told_before, told_after)
    all_changes = (*changes, *tune)
    if other:
        verb = "differs" if len(other) == 1 else "differ"
        why = f"{_list(other)} {verb}: runs of two methods are not held against each other"
        return Compared(before, after, (), why, doubts, all_changes)
    if any(np.isnan(g.scatter[0]) for g in (before, after)):
        why = "one run has no scatter: what a difference must pass is not known until it is repeated"
        return Compared(before, after, (), why, doubts, all_changes)
    shared = sorted(set(before.rpm) & set(after.rpm))
    if len(shared) < 2:
        return Compared(before, after, (), "they share no range of speed", doubts, all_changes)
    return Compared(before, after, tuple(_point(before, after, rpm) for rpm in shared), "", doubts, all_changes)


def _point(before: Group, after: Group, rpm: float) -> Point:
    i, j = before.rpm.index(rpm), after.rpm.index(rpm)
    must = TIMES_SCATTER * max(before.scatter[i], after.scatter[j])
    gain = after.mean[j] - before.mean[i]
    sense = Sense.GAIN if gain > must else Sense.LOSS if -gain > must else Sense.WITHIN
    apart = _boost_apart(before, after, i, j)
    if apart is not None and apart > SAME_BOOST_BAR + 1e-9:
        sense = Sense.BOOST
    return Point(rpm, before.mean[i], after.mean[j], must, sense)


def _boost_apart(before: Group, after: Group, i: int, j: int) -> float | None:
    """How far boost of the two lies apart there (bar): by their traces, or by the peaks that were told; None untold."""
    if before.boost is not None and after.boost is not None:
        return abs(after.boost[j] - before.boost[i])
    told, then = _told(before)["boost"], _told(after)["boost"]
    if not told or not then:
        return None
    peaks = [_peak_bar(text) for text in (told, then)]
    if peaks[0] is None or peaks[1] is None:
        # words that are no figure are equal only where they are the same
        return 0.0 if told == then else math.inf
    return abs(peaks[1] - peaks[0])


def _peak_bar(text: str) -> float | None:
    try:
        return parse(text, GAUGE_PRESSURE, "bar").value
    except QuantityError:
        return None


def _told(g: Group) -> Mapping[str, str]:
    """What all runs of a group say of each condition; where they differ, all of it."""
    # two hands write one bench with other spaces and capitals
    return {
        k: " / ".join(dict.fromkeys(" ".join(r.told.get(k, "").casefold().split()) for r in g.runs)) for k in CONDITIONS
    }


def _or(text: str) -> str:
    return text or "not said"


def _list(words: Sequence[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1].lower()}"


def _doubts(before: Group, after: Group, told: Mapping[str, str], then: Mapping[str, str]) -> tuple[str, ...]:
    found = []
    for g in (before, after):
        if not g.enough:
            found.append(f"{g.name}: {len(g.runs)} run{'s' if len(g.runs) > 1 else ''}, {REPEATS} are wanted")
        if len(g.revisions) > 1:
            found.append(f"{g.name}: its runs are of {len(g.revisions)} revisions")
    if before.boost is None or after.boost is None:
        if not told["boost"] or not then["boost"]:
            found.append("boost was not kept, nor said: more boost is more power")
        elif told["boost"] != then["boost"]:
            found.append(f"boost was told, not kept over speed: {told['boost']} and {then['boost']}")
    silent = [CONDITIONS[k] for k in METHOD if not told[k] and not then[k]]
    if silent:
        found.append(f"{_list(silent)}: not said of either")
    apart = [CONDITIONS[k] for k in ("air", "coolant", "barometer") if told[k] != then[k]]
    if apart:
        found.append(f"{_list(apart)} not alike")
    return tuple(found)


def mean_gain(compared: Compared) -> float | None:
    """Mean of the differences over the speeds where boost is equal (kW); None where there is none such."""
    own = [p.gain for p in compared.points if p.sense is not Sense.BOOST]
    return statistics.fmean(own) if own else None
