"""Valve to piston as it was measured: pushed with a dial at several crank angles, or pressed into clay. mm, rad."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from arcstack.mech.cam.law import Array
from arcstack.mech.number import Number
from arcstack.mech.piston import ValveToPiston, along_valve
from arcstack.mech.scatter import Known, reading_half

_STEP_RAD = math.radians(0.1)


@dataclass(frozen=True)
class Push:
    """At one crank angle: how far the valve went to the piston, and its lift there where that was read too."""

    crank_rad: float
    travel_mm: float
    lift_mm: float | None = None


@dataclass(frozen=True)
class Compared:
    """One push against the model: lift tells timing and lobe, lift and travel together tell drop and geometry."""

    push: Push
    lift_off_mm: float | None
    geometry_off_mm: float | None
    gap_off_mm: float


def gap_mm(pair: ValveToPiston, crank_rad: Array, lash_mm: float = 0.0, phaser_rad: float = 0.0) -> Array:
    """The model's gap over crank angle: room less net lift.

    Source: geometry, along the valve.
    """
    found: Array = pair.room_mm(crank_rad) - pair.net_lift_mm(crank_rad, phaser_rad, lash_mm)
    return found


def compared(
    pair: ValveToPiston, pushes: Sequence[Push], lash_mm: float = 0.0, phaser_rad: float = 0.0
) -> list[Compared]:
    """Each push against the model, as it was set up: lash, and where the phaser was held.

    Source: room is lift and travel together.
    """
    found = []
    for push in pushes:
        at = np.array([push.crank_rad])
        lift = float(pair.net_lift_mm(at, phaser_rad, lash_mm)[0])
        room = float(pair.room_mm(at)[0])
        lift_off = None if push.lift_mm is None else push.lift_mm - lift
        geometry = None if push.lift_mm is None else push.lift_mm + push.travel_mm - room
        found.append(Compared(push, lift_off, geometry, push.travel_mm - (room - lift)))
    return found


def drop_that_fits_mm(
    pair: ValveToPiston, pushes: Sequence[Push], lash_mm: float = 0.0, phaser_rad: float = 0.0
) -> float:
    """The drop at TDC that fits pushes best, timing held: the model's with the mean of what it is off.

    Raises ``ValueError`` without a push. Source: least squares of one constant.
    """
    if not pushes:
        raise ValueError("at least one push")
    off = [c.gap_off_mm for c in compared(pair, pushes, lash_mm, phaser_rad)]
    return pair.drop_at_tdc_mm + math.fsum(off) / len(off)


@dataclass(frozen=True)
class Fit:
    """Drop and timing that fit pushes together, as changes of the model (timing positive is earlier), each with half of
    the width that the readings leave it. ``together`` is their covariance in those half-widths, mm·rad."""

    drop_mm: float
    timing_rad: float
    drop_half_mm: float
    timing_half_rad: float
    together: float = 0.0

    def gap_half_mm(self, per_rad: float) -> float:
        """What a gap that changes by ``per_rad`` (mm a radian) with an earlier cam is left open by.

        Where drop and timing cannot be told apart, their sum still is known where it was pushed.

        >>> found = fit_both([0.0] * 6, [math.degrees(s) for s in (-0.08, -0.10, -0.11, -0.12, -0.13, -0.13)], 0.05)
        >>> round(found.gap_half_mm(math.degrees(-0.11)), 3)
        0.021
        """
        square = self.drop_half_mm**2 + (per_rad * self.timing_half_rad) ** 2 + 2.0 * per_rad * self.together
        return math.sqrt(max(square, 0.0))


def fit_both(
    residuals_mm: Sequence[float], per_rad: Sequence[float], good_to_mm: float, timing: Known | None = None
) -> Fit:
    """Least squares of r = Δd + Δφ·∂c/∂φ, with what readings good to ``good_to_mm`` leave open of each.

    ``per_rad`` is how the gap changes with the cam made earlier, mm a radian; ``timing`` what is known of it otherwise,
    as one more reading. Raises ``ValueError`` without a residual, or where nothing is known of the timing and the
    sensitivities are fewer than two or all alike, by which the two cannot be told apart.
    Source: normal equations; the covariance is the reading's variance times their inverse.

    Six sensitivities from −0.08 to −0.13 mm a degree are nearly alike: readings good to 0.05 mm leave 1.2°.

    >>> slopes = [math.degrees(s) for s in (-0.08, -0.10, -0.11, -0.12, -0.13, -0.13)]
    >>> found = fit_both([0.0] * 6, slopes, 0.05)
    >>> round(math.degrees(found.timing_half_rad), 1), round(found.drop_half_mm, 2)
    (1.2, 0.13)

    One alone, of a cam that may be off by 4°: 0.05 mm by itself, 0.44 with the timing.

    >>> alone = fit_both([0.0], slopes[2:3], 0.05, Known(0.0, math.radians(4.0)))
    >>> round(alone.drop_half_mm, 2), round(alone.gap_half_mm(slopes[2]), 2)
    (0.44, 0.05)
    """
    if not residuals_mm or len(residuals_mm) != len(per_rad):
        raise ValueError("a residual or more, each with its sensitivity")
    slopes, off = np.asarray(per_rad, dtype=np.float64), np.asarray(residuals_mm, dtype=np.float64)
    spread = float(((slopes - slopes.mean()) ** 2).sum())
    if timing is None and spread <= 1e-9 * float((slopes**2).sum()) + 1e-18:
        raise ValueError("every angle moves alike with the cam: drop and timing cannot be told apart")
    sure = (good_to_mm / timing.half) ** 2 if timing is not None else 0.0
    about = timing.value if timing is not None else 0.0
    normal = np.array([[len(off), slopes.sum()], [slopes.sum(), (slopes**2).sum() + sure]])
    inverse = np.linalg.inv(normal)
    drop, turn = inverse @ np.array([off.sum(), (slopes * off).sum() + sure * about])
    halves = np.sqrt(np.diag(inverse)) * good_to_mm
    return Fit(float(drop), float(turn), float(halves[0]), float(halves[1]), float(inverse[0, 1]) * good_to_mm**2)


def sensitivity(pair: ValveToPiston, crank_rad: float, lash_mm: float = 0.0, phaser_rad: float = 0.0) -> float:
    """How the gap at a crank angle changes with the cam made earlier, mm a radian of crank.

    Source: central difference.
    """
    at = np.array([crank_rad])
    later, earlier = (float(gap_mm(pair, at, lash_mm, phaser_rad + step)[0]) for step in (-_STEP_RAD, _STEP_RAD))
    return (earlier - later) / (2.0 * _STEP_RAD)


def fit_pushes(
    pair: ValveToPiston, pushes: Sequence[Push], good_to_mm: float, lash_mm: float = 0.0, phaser_rad: float = 0.0,
    timing: Known | None = None,
) -> Fit:  # fmt: skip
    """Drop and timing that fit pushes of a dial, as wide as the pushes themselves scatter about them.

    Raises ``ValueError`` as ``fit_both`` does. Source: least squares, as ``fit_both``.
    """
    off = [c.gap_off_mm for c in compared(pair, pushes, lash_mm, phaser_rad)]
    slopes = [sensitivity(pair, p.crank_rad, lash_mm, phaser_rad) for p in pushes]
    first = fit_both(off, slopes, good_to_mm, timing)
    left = [o - first.drop_mm - first.timing_rad * s for o, s in zip(off, slopes, strict=True)]
    # what is known of the timing spends less of the readings than one that they must tell
    told = 1.0 - (first.timing_half_rad / timing.half) ** 2 if timing is not None else 1.0
    return fit_both(off, slopes, reading_half(left, 1.0 + told, good_to_mm), timing)


def fit_lifts(rows: Sequence[Compared], per_rad: Sequence[float], good_to_mm: float, timing: Known) -> Fit:
    """Drop and timing by pushes whose lift was read too: lift and travel tell the drop, lift alone the timing.

    Raises ``ValueError`` without a row. Source: mean of what geometry is off; least squares of one turn.
    """
    if not rows or any(r.geometry_off_mm is None or r.lift_off_mm is None for r in rows):
        raise ValueError("at least one push, each with its lift")
    geometry = [r.geometry_off_mm or 0.0 for r in rows]
    lifts = [-(r.lift_off_mm or 0.0) for r in rows]
    drop = math.fsum(geometry) / len(geometry)
    drop_half = reading_half([g - drop for g in geometry], 1.0, good_to_mm) / math.sqrt(len(geometry))
    turn, half = timing.value, timing.half
    good = good_to_mm
    for _ in range(2):
        sure = (good / timing.half) ** 2
        square = math.fsum(s * s for s in per_rad) + sure
        turn = (math.fsum(o * s for o, s in zip(lifts, per_rad, strict=True)) + sure * timing.value) / square
        half = good / math.sqrt(square)
        good = reading_half([o - turn * s for o, s in zip(lifts, per_rad, strict=True)], 1.0, good_to_mm)
    return Fit(drop, turn, drop_half, half)


def corrected(pair: ValveToPiston, fit: Fit) -> ValveToPiston:
    """The model with what a fit found: its drop changed, and its lobe so much earlier.

    Source: what a fit found is taken for so.
    """
    return replace(
        pair, drop_at_tdc_mm=pair.drop_at_tdc_mm + fit.drop_mm, centreline_rad=pair.centreline_rad - fit.timing_rad
    )


def by_clay_mm(
    imprint_mm: Number, gasket_used_mm: Number, gasket_crushed_mm: Number, valve_angle_rad: float, lash_mm: Number,
    *, along_cylinder: bool = False, flat: bool = False,
) -> Number:  # fmt: skip
    """The least gap by the thinnest of an imprint, gasket and lash put right: t − (used − crushed), along the valve, −
    lash.

    Cut along the cylinder, the imprint counts by the cosine. Source: geometry, along the valve.

    >>> round(float(by_clay_mm(2.40, 1.30, 1.15, math.radians(14.0), 0.20)), 3)
    2.054
    >>> round(float(by_clay_mm(2.40, 1.15, 1.15, math.radians(14.0), 0.0, along_cylinder=True)), 3)
    2.329
    """
    lean = math.cos(valve_angle_rad)
    gasket = (gasket_used_mm - gasket_crushed_mm) * along_valve(valve_angle_rad, flat)
    return imprint_mm * (lean if along_cylinder else 1.0) - gasket - lash_mm


def rod_force_N(mass_kg: Number, stroke_mm: Number, rod_mm: Number, speed_rad_per_s: Number) -> Number:
    """Force on the rod at TDC of gas exchange: m·r·ω²·(1 + r/l). Source: slider crank, first two orders.

    >>> round(rod_force_N(0.45, 86.0, 138.0, 911.06) / 1000.0, 1)
    21.1
    """
    r = stroke_mm / 2.0
    return mass_kg * r / 1000.0 * speed_rad_per_s**2 * (1.0 + r / rod_mm)


def rod_stretch_mm(force_N: Number, rod_mm: Number, section_mm2: Number, modulus_MPa: Number) -> Number:
    """How far a rod stretches: F·l/(E·A), by its least section. Source: Hooke.

    >>> round(rod_stretch_mm(21_100.0, 138.0, 180.0, 205_000.0), 3)
    0.079
    """
    return force_N * rod_mm / (modulus_MPa * section_mm2)
