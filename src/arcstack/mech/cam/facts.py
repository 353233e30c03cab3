"""What can be read off a lift law."""

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from arcstack.mech.cam.law import Array, LiftLaw


def _one(law: LiftLaw, angle: float, order: int = 0) -> float:
    return float(law.evaluate(np.array([angle]), order)[0])


def grid(law: LiftLaw, step_rad: float = np.radians(0.1)) -> Array:
    """Cam angles over the law's support, no further apart than ``step_rad``, the nose included.

    Source: definition.
    """
    start, end = law.support_rad
    before = np.linspace(start, 0.0, int(np.ceil(-start / step_rad)) + 1)
    after = np.linspace(0.0, end, int(np.ceil(end / step_rad)) + 1)
    return np.concatenate([before, after[1:]])


@lru_cache(maxsize=64)
def lift_table(law: LiftLaw) -> tuple[Array, Array]:
    """Cam angles 0.05 degree apart and the lift at each, read-only.

    Between them a straight line is within a hundredth of a micrometre of a real lobe.

    Source: definition.
    """
    angles = grid(law, math.radians(0.05))
    lift = law.evaluate(angles)
    angles.setflags(write=False)
    lift.setflags(write=False)
    return angles, lift


SAMPLED_RAD = math.radians(0.25)
"""Cam angle between samples, at most."""


@dataclass(frozen=True)
class Samples:
    """A law every ``SAMPLED_RAD``: angle (rad), lift, velocity and acceleration per cam rad, read-only."""

    angle: Array
    lift: Array
    velocity: Array
    acceleration: Array


@lru_cache(maxsize=128)
def samples(law: LiftLaw) -> Samples:
    """The law's samples, taken once.

    Source: definition.
    """
    angle = grid(law, SAMPLED_RAD)
    columns = [angle, *(law.evaluate(angle, order) for order in range(3))]
    for column in columns:
        column.setflags(write=False)
    return Samples(*columns)


@lru_cache(maxsize=4096)
def lift_and_bend(law: LiftLaw, angle_rad: float) -> tuple[float, float]:
    """Lift (mm) and acceleration (mm per cam rad²) at one cam angle, kept: many valves ask for one lobe's.

    Source: definition.

    >>> from arcstack.mech.cam.law import SymmetricLobe
    >>> lobe = SymmetricLobe.polynomial(10.4, math.radians(72.0), (2.0, 8.0, 14.0, 20.0))
    >>> [round(x, 2) for x in lift_and_bend(lobe, 0.0)]
    [10.4, -22.77]
    """
    return _one(law, angle_rad), _one(law, angle_rad, 2)


def lobe_area_mm_rad(law: LiftLaw) -> float:
    """Area under the lift curve, mm · crank rad: what the lobe offers to flow.

    Source: definition, by the trapezoid rule.

    >>> from arcstack.mech.cam.law import SymmetricLobe
    >>> round(lobe_area_mm_rad(SymmetricLobe.polynomial(10.4, math.radians(72.0), (2.0, 8.0, 14.0, 20.0))), 2)
    27.54
    """
    angles, lift = lift_table(law)
    return float(2.0 * np.trapezoid(lift, angles))


@dataclass(frozen=True)
class LobeFacts:
    """Extremes of a lift law: mm, mm/rad, mm/rad² of cam angle."""

    max_lift_mm: float
    peak_velocity_mm_per_rad: float
    peak_accel_mm_per_rad2: float
    min_accel_mm_per_rad2: float


@lru_cache(maxsize=128)
def facts(law: LiftLaw) -> LobeFacts:
    """Extremes over the lobe, from samples 0.1 cam degree apart.

    Source: definition.

    >>> import math
    >>> from arcstack.mech.cam.law import SymmetricLobe
    >>> f = facts(SymmetricLobe.polynomial(10.4, math.radians(72.0), (2.0, 8.0, 14.0, 20.0)))
    >>> round(f.peak_velocity_mm_per_rad, 2), round(f.min_accel_mm_per_rad2, 2)
    (14.89, -22.77)
    """
    angles = grid(law)
    acceleration = law.evaluate(angles, 2)
    return LobeFacts(
        float(law.evaluate(angles).max()),
        float(np.abs(law.evaluate(angles, 1)).max()),
        float(acceleration.max()),
        float(acceleration.min()),
    )


def flat_follower_min_radius_mm(law: LiftLaw, base_circle_radius_mm: float) -> float:
    """Least radius of curvature under a flat follower, ρ = R + L + d²L/dθ² (mm).

    Negative cannot be ground. Source: envelope of a flat-faced follower.
    """
    angles = grid(law)
    return float((base_circle_radius_mm + law.evaluate(angles) + law.evaluate(angles, 2)).min())


@lru_cache(maxsize=512)
def crossings_rad(law: LiftLaw, lift_mm: float) -> tuple[float, float]:
    """Cam angles where lift rises through and falls back through ``lift_mm``.

    The crossings nearest the nose, read off the lift table. Raises ``ValueError`` where the check lift is not below
    the lobe's lift, or not above zero.

    Source: definition, by linear interpolation.
    """
    if not 0.0 < lift_mm < _one(law, 0.0):
        raise ValueError(f"a check lift of {lift_mm:g} mm is not between zero and the lobe's lift")
    angles, lift = lift_table(law)
    top = int(np.searchsorted(angles, 0.0))
    below = np.nonzero(lift[:top] < lift_mm)[0]
    after = np.nonzero(lift[top:] < lift_mm)[0]
    first, last = (int(below[-1]) if len(below) else 0), top + (int(after[0]) if len(after) else len(lift) - top - 1)
    rises = np.interp(lift_mm, lift[first : first + 2], angles[first : first + 2])
    falls = np.interp(-lift_mm, -lift[last - 1 : last + 1], angles[last - 1 : last + 1])
    return float(rises), float(falls)


def duration_crank_rad(law: LiftLaw, lift_mm: float) -> float:
    """Crank angle for which lift is above ``lift_mm`` (rad): twice the cam angle.

    Source: definition; the cam turns at half the crank's speed.

    >>> import math
    >>> from arcstack.mech.cam.law import SymmetricLobe
    >>> lobe = SymmetricLobe.polynomial(10.4, math.radians(72.0), (2.0, 8.0, 14.0, 20.0))
    >>> round(math.degrees(duration_crank_rad(lobe, 1.0)), 3)
    226.569
    """
    opening, closing = crossings_rad(law, lift_mm)
    return 2.0 * (closing - opening)
