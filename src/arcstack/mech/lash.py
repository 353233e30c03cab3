"""Lash: the shim that is needed, fitted shims that change places, and what services tell. mm."""

import itertools
import math
from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np

from arcstack.mech.number import Number


def needed_mm(fitted_mm: Number, lash_mm: Number, target_mm: Number, ratio: float = 1.0) -> Number:
    """The shim that leaves the target: fitted + ratio·(lash − target).

    ``ratio`` is a finger's with the blade at its lobe and the shim at its tip; 1 where blade and shim are in line.
    Source: what the gap is too wide is what the shim is too thin.

    >>> round(needed_mm(2.70, 0.12, 0.20), 3), round(needed_mm(2.70, 0.26, 0.20, 1.5), 3)
    (2.62, 2.79)
    """
    return fitted_mm + ratio * (lash_mm - target_mm)


def lash_with_mm(fitted_mm: Number, lash_mm: Number, new_mm: Number, ratio: float = 1.0) -> Number:
    """Lash with another shim: lash + (fitted − new)/ratio.

    Source: what a shim is thicker is taken from the gap.

    >>> round(lash_with_mm(2.80, 0.26, 2.85), 3)
    0.21
    """
    return lash_mm + (fitted_mm - new_mm) / ratio


def nearest(wanted_mm: float, sizes_mm: Sequence[float]) -> float:
    """The size nearest to what is wanted; of two alike the thinner, which leaves more lash.

    Raises ``ValueError`` without sizes.

    Source: least distance.

    >>> nearest(2.62, (2.55, 2.60, 2.65))
    2.6
    """
    if not sizes_mm:
        raise ValueError("there is no size to choose from")
    return min(sorted(sizes_mm), key=lambda size: round(abs(size - wanted_mm), 6))


def screw_turns(change_mm: Number, pitch_mm: Number, moves: float = 1.0) -> Number:
    """Turns of an adjusting screw for a change of lash at the blade: Δ/(pitch·i), i lash at the blade for each mm of
    screw. Positive is to more lash, the screw backed off.

    Source: definition of pitch, and the arm between screw and blade.

    >>> screw_turns(0.25, 1.0), round(screw_turns(-0.06, 0.75, 1.6), 3)
    (0.25, -0.05)
    """
    return change_mm / (pitch_mm * moves)


def sequence(firing_order: Sequence[int], of: Collection[int] | None = None) -> list[tuple[int, float]]:
    """Cylinders in the order in which their lobes turn away, each with the crank turn since the one before it, rad.

    At firing TDC both lobes of a cylinder point away; the next in the order is 720°/n further. ``of`` are the
    cylinders of one head: what lies between two of them is turned through all the same.
    Source: four strokes, evenly fired.

    >>> [(c, round(math.degrees(turn))) for c, turn in sequence((1, 3, 4, 2))]
    [(1, 0), (3, 180), (4, 180), (2, 180)]
    >>> [(c, round(math.degrees(turn))) for c, turn in sequence((1, 6, 5, 10, 2, 7, 3, 8, 4, 9), {1, 2, 3, 4, 5})]
    [(1, 0), (5, 144), (2, 144), (3, 144), (4, 144)]
    """
    if not firing_order:
        return []
    each, since = 4.0 * math.pi / len(firing_order), 0.0
    found: list[tuple[int, float]] = []
    for cylinder in firing_order:
        if of is None or cylinder in of:
            found.append((cylinder, since if found else 0.0))
            since = 0.0
        since += each
    return found


@dataclass(frozen=True)
class Swap:
    """Which shim goes where: by index of the place it came from, or by index on the shelf; None in both where one is
    bought."""

    from_place: tuple[int | None, ...]
    from_shelf: tuple[int | None, ...] = ()

    @property
    def new(self) -> int:
        """How many are bought."""
        shelf = self.from_shelf or (None,) * len(self.from_place)
        return sum(at is None and lies is None for at, lies in zip(self.from_place, shelf, strict=True))


def swapped(
    fitted_mm: Sequence[float], needed: Sequence[float], band_mm: float, shelf_mm: Sequence[float] = ()
) -> Swap:
    """Fitted shims, and those on the shelf, over the places whose lash they bring within a band: as few bought as can
    be, then as few off the shelf, among equals with the least total error, and of those the most that stay where they
    are. ``shelf_mm`` has every single shim that lies there.

    Source: assignment of least cost.

    >>> made = swapped((2.70, 2.80, 2.75, 2.85), (2.62, 2.86, 2.73, 2.89), 0.03)
    >>> made.from_place, made.new
    ((None, 3, 2, None), 2)

    One shim of 2.90 on the shelf would do for the second place too, but the last has nothing else.

    >>> made = swapped((2.70, 2.80, 2.75, 2.85), (2.62, 2.88, 2.73, 2.92), 0.03, (2.90,))
    >>> made.from_place, made.from_shelf, made.new
    ((None, 3, 2, None), (None, None, None, 0), 1)
    """
    count = len(fitted_mm)
    if len(needed) != count:
        raise ValueError("a fitted and a needed shim for every place")
    sizes = np.asarray([*fitted_mm, *shelf_mm], dtype=np.float64)
    off = np.abs(np.asarray(needed, dtype=np.float64)[:, None] - sizes[None, :])
    fits = off <= band_mm + 1e-9
    moved = np.ones((count, len(sizes)))
    moved[:, :count] -= np.eye(count)
    # one bought weighs more than every one off the shelf, that more than every error, an error more than staying put
    dear = np.where(np.arange(len(sizes)) >= count, 100.0, 0.0)
    cost = np.where(fits, off + dear + 1e-7 * moved, 100_000.0)
    # loaded where it is used: it takes longer to load than all of the rest
    from scipy.optimize import linear_sum_assignment

    rows, columns = linear_sum_assignment(cost)
    took = [int(c) if fits[r, c] else None for r, c in zip(rows, columns, strict=True)]
    return Swap(
        tuple(at if at is not None and at < count else None for at in took),
        tuple(at - count if at is not None and at >= count else None for at in took),
    )


@dataclass(frozen=True)
class Serviced:
    """One service of one valve: lash as it was found and as it was left, and how far either may be off."""

    found_mm: float
    set_mm: float
    half_width_mm: float = 0.01


@dataclass(frozen=True)
class Trend:
    """What services of a valve tell: how much it closed in each, positive closing, and in all."""

    steps_mm: tuple[float, ...]
    half_widths_mm: tuple[float, ...]

    @property
    def total_mm(self) -> float:
        """
        >>> services = [Serviced(0.20, 0.20), Serviced(0.14, 0.20), Serviced(0.15, 0.20), Serviced(0.12, 0.20)]
        >>> trend_of(services).total_mm
        0.19
        """
        return round(math.fsum(self.steps_mm), 9)

    @property
    def running(self) -> int:
        """In how many of the last services it closed, without a break."""
        count = 0
        for step, half in zip(reversed(self.steps_mm), reversed(self.half_widths_mm), strict=True):
            if step <= half:
                break
            count += 1
        return count

    @property
    def steady(self) -> bool:
        """Whether it closed a little at every one of its last services, each within what a blade tells, and together by
        more than that leaves open: the root of the sum of the squares of its half-widths.

        >>> Trend((0.02,) * 6, (0.02,) * 6).steady, Trend((0.02, 0.0), (0.02, 0.02)).steady
        (True, False)
        """
        own: list[tuple[float, float]] = []
        for step, half in zip(reversed(self.steps_mm), reversed(self.half_widths_mm), strict=True):
            if step <= 0.0:
                break
            own.append((step, half))
        return len(own) > 1 and math.fsum(s for s, _ in own) > math.sqrt(math.fsum(h * h for _, h in own))

    @property
    def grows(self) -> bool:
        """Whether each of its last two steps or more was longer than the one before by more than both could be off."""
        pairs = list(zip(self.steps_mm, self.half_widths_mm, strict=True))
        last = pairs[-2:]
        return len(last) == 2 and last[0][0] > 0.0 and last[1][0] - last[0][0] > last[0][1] + last[1][1]


def trend_of(services: Sequence[Serviced]) -> Trend:
    """What a valve's services tell: set at one less found at the next.

    Source: differences, service by service.

    >>> trend_of([Serviced(0.20, 0.20), Serviced(0.14, 0.20), Serviced(0.15, 0.20)]).steps_mm
    (0.06, 0.05)
    """
    steps = tuple(round(a.set_mm - b.found_mm, 9) for a, b in itertools.pairwise(services))
    halves = tuple(a.half_width_mm + b.half_width_mm for a, b in itertools.pairwise(services))
    return Trend(steps, halves)
