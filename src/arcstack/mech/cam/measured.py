"""What a measured lift table says of itself before it is smoothed: base circle, noise, closing, lobes, holes."""

import math
from dataclasses import dataclass

import numpy as np

from arcstack.mech.cam.law import Array


@dataclass(frozen=True)
class Hole:
    """A stretch with no readings inside the lobe, between two cam angles (rad)."""

    from_rad: float
    to_rad: float


@dataclass(frozen=True)
class TableFacts:
    """Lengths mm, angles cam rad on the table's own axis.

    ``base_mm`` is the reading on the base circle, ``closing_mm`` the base after the lobe less the base before
    it, ``noise_mm`` the rms scatter of single readings, ``resolution_mm`` the least step between readings.
    ``lobes`` holds the first and last index above a third of the tallest lift, one pair a lobe.
    """

    base_mm: float
    closing_mm: float
    noise_mm: float
    resolution_mm: float
    lobes: tuple[tuple[int, int], ...]
    holes: tuple[Hole, ...]
    open_ends: tuple[bool, bool]
    lift_mm: float


def rolled(angle_rad: Array, lift_mm: Array, turn_rad: float) -> tuple[Array, Array]:
    """A whole turn cut open in the middle of its base circle, so that the lobe is in one piece.

    ``turn_rad`` is a whole turn on the table's own angle axis.

    Source: definition.
    """
    low = lift_mm <= np.quantile(lift_mm, 0.25) + 0.02 * (lift_mm.max() - lift_mm.min())
    best, run, start = (0, 0), 0, 0
    doubled = np.concatenate([low, low])
    for i, flat in enumerate(doubled):
        if not flat:
            run = 0
            continue
        if run == 0:
            start = i
        run += 1
        if best[0] < run <= len(low):
            best = (run, start)
    cut = (best[1] + best[0] // 2) % len(low)
    angle = np.concatenate([angle_rad[cut:], angle_rad[:cut] + turn_rad])
    return angle, np.concatenate([lift_mm[cut:], lift_mm[:cut]])


def noise_mm(lift_mm: Array) -> float:
    """Scatter of single readings, from fourth differences, which a smooth lobe leaves nearly nought.

    Source: fourth differences of white noise have a variance of 70 times its own.

    >>> rng = np.random.default_rng(1)
    >>> 0.0045 < noise_mm(np.sin(np.linspace(0, 3, 400)) + rng.normal(0, 0.005, 400)) < 0.0055
    True
    """
    if len(lift_mm) < 8:
        return 0.0
    fourth = np.diff(lift_mm, 4)
    # the median ignores the few places where the lobe itself bends sharply
    return float(np.median(np.abs(fourth)) / 0.6745 / math.sqrt(70.0))


def table_facts(cam_rad: Array, lift_mm: Array) -> TableFacts:
    """Facts of a table with rising angles, the lobe in one piece.

    Source: definition.
    """
    tallest = float(lift_mm.max() - lift_mm.min())
    rough = float(np.quantile(lift_mm, 0.1)) if _has_base(lift_mm, tallest) else float(min(lift_mm[0], lift_mm[-1]))
    high = lift_mm - rough > tallest / 3.0
    lobes = _runs(high)
    first, last = (lobes[0][0], lobes[-1][1]) if lobes else (0, len(lift_mm) - 1)
    before, after = _base(lift_mm[:first], tallest, True), _base(lift_mm[last + 1 :], tallest, False)
    ends = [b for b in (before, after) if b is not None]
    base = float(np.mean(ends)) if ends else rough
    steps = np.diff(np.unique(np.round(lift_mm, 9)))
    scatter = noise_mm(lift_mm)
    usual = float(np.median(np.diff(cam_rad)))
    holes = tuple(
        Hole(float(cam_rad[i]), float(cam_rad[i + 1]))
        for i in range(len(cam_rad) - 1)
        if cam_rad[i + 1] - cam_rad[i] > 3.5 * usual and (high[i] or high[i + 1])
    )
    slope = np.gradient(lift_mm, cam_rad)
    steep = 0.1 * float(np.abs(slope).max())
    starts, ends_open = (bool(lift_mm[i] - base > 0.05 * tallest or abs(slope[i]) > steep) for i in (0, -1))
    return TableFacts(
        base,
        (after - before) if before is not None and after is not None else 0.0,
        scatter,
        float(steps.min()) if len(steps) else 0.0,
        tuple(lobes),
        holes,
        (starts, ends_open),
        float(lift_mm.max() - base),
    )


def off_neighbours(angle: Array, lift: Array) -> tuple[Array, Array]:
    """How far each reading (5 or more, rising angles) lies off the cubic through the four next to it, and that cubic.

    Where a hole is among them nothing is said: 0 off. Source: Lagrange's interpolation.

    >>> off, expected = off_neighbours(np.arange(6.0), np.array([0.0, 1.0, 4.0, 90.0, 16.0, 25.0]))
    >>> round(float(off[3])), round(float(expected[3]))
    (81, 9)
    """
    n, usual = len(angle), float(np.median(np.diff(angle)))
    first = np.clip(np.arange(n) - 2, 0, n - 5)
    five = first[:, None] + np.arange(5)
    near = five[five != np.arange(n)[:, None]].reshape(n, 4)
    x, y = angle[near], lift[near]
    expected = np.zeros(n)
    for k in range(4):
        others = [j for j in range(4) if j != k]
        weight = np.prod((angle[:, None] - x[:, others]) / (x[:, [k]] - x[:, others]), axis=1)
        expected += weight * y[:, k]
    whole = np.ptp(angle[five], axis=1) < 6.5 * usual
    return np.where(whole, lift - expected, 0.0), expected


def _has_base(lift_mm: Array, tallest: float) -> bool:
    return bool(np.count_nonzero(lift_mm - lift_mm.min() < 0.03 * tallest) >= 4)


def _runs(high: "np.ndarray[tuple[int], np.dtype[np.bool_]]") -> list[tuple[int, int]]:
    found, start = [], None
    for i, value in enumerate([*high, False]):
        if value and start is None:
            start = i
        if not value and start is not None:
            found.append((start, i - 1))
            start = None
    return found


def _base(flank: Array, tallest: float, before: bool) -> float | None:
    """Base reading on one side of the lobe: the middle of its flat end, or None where it has none."""
    if len(flank) < 2:
        return None
    rough = float(np.quantile(flank, 0.1))
    flat = flank[np.abs(flank - rough) < max(4.0 * noise_mm(flank), 0.002 * tallest)]
    # the median, so that the foot of a ramp among the flat readings does not lift the base
    return float(np.median(flat)) if len(flat) else float(flank[0] if before else flank[-1])
