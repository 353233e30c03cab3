"""What bench readings come to: clearances, seal of a seat, springs to valves, half-widths of a sum. mm, N, bar, s."""

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from arcstack.mech.cam.law import Array
from arcstack.mech.number import Number

G_N_PER_KG = 9.80665


def rock_clearance_mm(rock_mm: Number, guide_mm: Number, beyond_mm: Number) -> Number:
    """Clearance of a stem by the rock test: total rock W at a dial so far beyond a guide of a length G.

    c = W/(1 + 2·a/G). Weaker than a bore gauge: one figure for the whole bore. Source: similar triangles about the
    guide's middle.

    >>> round(rock_clearance_mm(0.19, 38.0, 30.0), 3)
    0.074
    """
    return rock_mm / (1.0 + 2.0 * beyond_mm / guide_mm)


def mass_by_swing_kg(at_tip_kg: Number, arm_mm: Number, period_s: Number) -> Number:
    """Mass at the valve of a finger or rocker, J/r²: weighed at its tip with its pivot on a support, and swung about
    that pivot.

    J = w·r·g·T²/(4π²), so J/r² = w·g·T²/(4π²·r); w is what the scale shows under the tip, T one full swing.
    Source: physical pendulum, m·d = w·r. A bar of 40 g and 40 mm has a third of its mass at its end.

    >>> round(mass_by_swing_kg(0.020, 40.0, 0.32764), 5)
    0.01333
    """
    return at_tip_kg * G_N_PER_KG * period_s**2 / (4.0 * math.pi**2 * arm_mm / 1000.0)


def vacuum_time_constant_s(first_bar: float, second_bar: float, seconds: float) -> float:
    """Time constant of a sealed port's decay from two gauge readings so far apart; infinite where nothing is lost.

    Raises ``ValueError`` where the second is the deeper, or no vacuum was left. Source: an isothermal leak decays
    exponentially.

    >>> round(vacuum_time_constant_s(0.84, 0.71, 12.0), 3)
    71.37
    """
    if not 0.0 < second_bar <= first_bar or seconds <= 0.0:
        raise ValueError("the second reading is taken later, and stands between nought and the first")
    return math.inf if second_bar == first_bar else seconds / math.log(first_bar / second_bar)


def half_life_s(time_constant_s: Number) -> Number:
    """How long until half of the vacuum is lost. Source: definition.

    >>> round(half_life_s(71.370404), 3)
    49.47
    """
    return time_constant_s * math.log(2.0)


@dataclass(frozen=True)
class Solid:
    """Where a spring went solid under a tester: ``height_mm``, told from between two heights that were pressed, and
    half of what the loads leave open. The height is the taller end of that: told too low, a reserve is not there.
    """

    height_mm: float
    above_mm: float
    below_mm: float
    half_mm: float = 0.0


_STILL_SOFT = 1.5
"""Times its rate that a step's slope may be, and all of it still was above solid."""


def solid_by_slope(
    presses: Sequence[tuple[float, float]], rate: float, steep: float, good_to_N: float = 0.0
) -> Solid | None:
    """The solid height of a spring from heights and loads (mm, N): where its load climbs so many times as steep as its
    rate (N/mm). None while no step is so steep.

    Pressed once more beyond it, the two lines are met, and what loads good to ``good_to_N`` leave open is added; before
    that the taller height of the step is taken. A step that went solid near its lower end is not steep yet: the line
    above solid goes through presses that came after none of that. Raises ``ValueError`` for fewer than two heights, a
    height pressed twice or no rate. Source: coil on coil leaves the wire's own stiffness.

    >>> solid_by_slope([(22.2, 610.0), (22.0, 618.0), (21.8, 690.0), (21.6, 770.0)], 40.0, 5.0)
    Solid(height_mm=21.978, above_mm=22.0, below_mm=21.8, half_mm=0.0)

    Loads good to 2 N leave 0.01 mm open; of a step that was half soft the lines meet above its taller height.

    >>> solid_by_slope([(22.2, 610.0), (22.0, 618.0), (21.8, 690.0), (21.6, 770.0)], 40.0, 5.0, 2.0)
    Solid(height_mm=21.989, above_mm=22.0, below_mm=21.8, half_mm=0.011)
    >>> solid_by_slope([(22.2, 610.0), (22.0, 618.0), (21.8, 632.0), (21.6, 712.0), (21.4, 792.0)], 40.0, 5.0).height_mm
    21.817
    >>> solid_by_slope([(22.2, 610.0), (22.0, 618.0)], 40.0, 5.0) is None
    True
    """
    rows = sorted(presses, reverse=True)
    if len(rows) < 2 or rate <= 0.0 or any(a[0] == b[0] for a, b in itertools.pairwise(rows)):
        raise ValueError("two or more heights, each pressed once, and a rate above nought")
    slopes = [(b[1] - a[1]) / (a[0] - b[0]) for a, b in itertools.pairwise(rows)]
    at = next((i for i, slope in enumerate(slopes) if slope > steep * rate), None)
    if at is None:
        return None
    soft = at
    while soft > 0 and slopes[soft - 1] > _STILL_SOFT * rate:
        soft -= 1
    above, (below, pressed) = rows[soft][0], rows[at + 1]
    if at + 1 >= len(slopes) or slopes[at + 1] <= steep * rate:
        return Solid(above, above, below, (above - below) / 2.0)
    # F = base − k·h, by presses that were surely soft, meets F = pressed + s·(below − h)
    held = rows[max(soft - 3, 0) : soft] or rows[:1]
    base, stiff = math.fsum(load + rate * h for h, load in held) / len(held), slopes[at + 1]
    met = (pressed + stiff * below - base) / (stiff - rate)
    reach = math.sqrt(2.0) * (met - below) / (below - rows[at + 2][0])
    half = good_to_N * math.sqrt(1.0 / len(held) + 1.0 + reach**2) / (stiff - rate)
    told = min(max(met + half, below), rows[max(soft - 1, 0)][0])
    # to the next µm, upwards
    return Solid(math.ceil(round(1000.0 * told, 6)) / 1000.0, above, below, round(half, 3))


def worst_and_likely(half_widths: Sequence[float]) -> tuple[float, float]:
    """How far a sum can be off: all against it, and by the root of the sum of squares.

    Source: independent errors.

    >>> worst, likely = worst_and_likely([0.03, 0.01, 0.02, 0.02, 0.05, 0.3])
    >>> round(worst, 2), round(likely, 4)
    (0.43, 0.3071)
    """
    return math.fsum(abs(h) for h in half_widths), math.sqrt(math.fsum(h * h for h in half_widths))


@dataclass(frozen=True)
class Assigned:
    """Which spring goes to each valve, by number, and the highest less the lowest load that leaves, N."""

    springs: tuple[int, ...]
    spread_N: float


def loads_N(load_N: Sequence[float], rate_N_per_mm: Sequence[float], height_mm: float, at_mm: Sequence[float]) -> Array:
    """Load of each spring (a row each) at each valve's height, from its load at one height and its rate.

    Source: a straight line through a point.

    >>> loads_N([350.0], [43.5], 36.0, [36.0, 36.1]).round(2).tolist()
    [[350.0, 345.65]]
    """
    load, rate = np.asarray(load_N, dtype=np.float64), np.asarray(rate_N_per_mm, dtype=np.float64)
    found: Array = load[:, None] + rate[:, None] * (height_mm - np.asarray(at_mm, dtype=np.float64))[None, :]
    return found


MOST_STEPS = 800
"""Ends of a window that are tried: with more loads than this, those nearest to each other are tried as one."""


def least_spread(loads: Array) -> Assigned:
    """Springs (rows) to valves (columns), one each, so that highest less lowest is the least that any way reaches.

    A third axis are loads of one spring at one valve by what may lie under it, of which one is chosen; not a number
    where there are fewer. Every load may be the lowest: the next higher one under which all valves can still be served
    is looked for, the two ends moving past each other once. Springs may outnumber valves. Raises ``ValueError`` where
    valves do.

    Source: bottleneck assignment, by matchings over a sliding window.

    >>> least_spread(np.array([[350.0, 346.0], [354.0, 350.0]]))
    Assigned(springs=(0, 1), spread_N=0.0)
    >>> least_spread(np.array([[[350.0, 360.0], [346.0, 356.0]], [[340.0, 351.0], [344.0, 358.0]]]))
    Assigned(springs=(0, 1), spread_N=2.0)
    """
    from scipy.sparse import csr_matrix
    from scipy.sparse.csgraph import maximum_bipartite_matching

    by_choice = loads if loads.ndim == 3 else loads[:, :, None]
    springs, valves, _ = by_choice.shape
    if springs < valves:
        raise ValueError("there are more valves than springs")

    def served(low: float, high: float) -> tuple[int, ...] | None:
        inside = np.asarray(((by_choice >= low) & (by_choice <= high)).any(axis=2))
        found = maximum_bipartite_matching(csr_matrix(inside), perm_type="row")
        return tuple(int(s) for s in found) if (found >= 0).all() else None

    steps = np.unique(by_choice[np.isfinite(by_choice)])
    apart = float(steps[-1] - steps[0]) / MOST_STEPS if len(steps) > MOST_STEPS else 0.0
    if apart:
        # the highest of those that are one: a window ends with all of them in it
        steps = np.unique(np.ceil((steps - steps[0]) / apart)) * apart + steps[0]
    best: Assigned | None = None
    top = 0
    for low in steps:
        while top < len(steps) and served(float(low), float(steps[top]) + apart) is None:
            top += 1
        if top == len(steps):
            break
        spread = float(steps[top] - low)
        if best is None or spread < best.spread_N:
            chosen = served(float(low), float(steps[top]) + apart)
            assert chosen is not None
            best = Assigned(chosen, spread)
    assert best is not None
    return best
