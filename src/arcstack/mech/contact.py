"""Contact of lobe and follower: where it runs, how sharp it is, how hard it presses. mm, N, MPa."""

import math
from dataclasses import dataclass

import numpy as np

from arcstack.mech.cam.law import Array
from arcstack.mech.number import Number


@dataclass(frozen=True)
class Body:
    """What a body in contact is made of: Young's modulus (MPa) and Poisson's ratio, typical of its kind."""

    name: str
    modulus_MPa: float
    poisson: float


STEEL = Body("steel", 210_000.0, 0.3)
CHILLED_IRON = Body("chilled iron", 170_000.0, 0.26)


def bucket_edge_margin_mm(
    diameter_mm: Number, eccentricity_mm: Number, lobe_width_mm: Number, offset_mm: Number | float = 0.0
) -> Number:
    """Crown left outside the contact line's farthest corner: D/2 − √(e² + (w/2 + |o|)²).

    ``eccentricity`` is the largest |dL/dθ|, ``offset`` the lobe's along the shaft that turns the bucket.

    Source: geometry of a line of contact on a round crown.

    >>> round(float(bucket_edge_margin_mm(33.0, 14.0, 12.0)), 3)
    1.268
    """
    found: Number = diameter_mm / 2.0 - np.hypot(eccentricity_mm, lobe_width_mm / 2.0 + abs(offset_mm))  # type: ignore[operator]
    return found


def pitch_radius_mm(
    lift_mm: Array, velocity_mm: Array, acceleration_mm: Array, base_radius_mm: float, follower_radius_mm: float
) -> Array:
    """Radius of the path on which the centre of a round follower runs about its cam, over the cam angle.

    Lift and its first two derivatives are per cam radian at the lobe, the follower moving straight in and out: with
    r = R_b + R_f + L, ρ_p = (r² + L′²)^(3/2)/(r² + 2·L′² − r·L″), below zero where the path is hollow and infinite
    where it is straight. The lobe is its parallel, ρ = ρ_p − R_f, and 1/R = 1/ρ + 1/R_f makes the relative radius
    R = R_f·(1 − R_f/ρ_p): not above zero, the lobe would be undercut; without end in R_f, it is the flat follower's
    R_b + L + L″. Source: curvature of a plane curve in polar coordinates, and of its parallel.

    >>> still = np.zeros(1)
    >>> float(pitch_radius_mm(still, still, still, 17.0, 20.0)[0])
    37.0
    """
    r = base_radius_mm + follower_radius_mm + lift_mm
    bent = r**2 + 2.0 * velocity_mm**2 - r * acceleration_mm
    with np.errstate(divide="ignore"):
        radius: Array = (r**2 + velocity_mm**2) ** 1.5 / bent
    return radius


def relative_radius_mm(pitch_radius_mm: Array, follower_radius_mm: float) -> Array:
    """R = R_f·(1 − R_f/ρ_p), the relative radius of lobe and round follower.

    Source: 1/R = 1/ρ + 1/R_f with ρ = ρ_p − R_f.

    >>> round(float(relative_radius_mm(np.array([37.0]), 20.0)[0]), 3)
    9.189
    """
    relative: Array = follower_radius_mm * (1.0 - follower_radius_mm / pitch_radius_mm)
    return relative


def effective_modulus_MPa(one: Body = STEEL, other: Body = STEEL) -> float:
    """E′ of two bodies, 1/E′ = (1−ν₁²)/E₁ + (1−ν₂²)/E₂. Source: Hertz.

    >>> round(effective_modulus_MPa()), round(effective_modulus_MPa(STEEL, CHILLED_IRON))
    (115385, 101853)
    """
    return 1.0 / sum((1.0 - body.poisson**2) / body.modulus_MPa for body in (one, other))


def hertz_line_MPa(
    force_N: Array | float,
    width_mm: float,
    radius_mm: Array | float,
    effective_modulus: float = effective_modulus_MPa(),
) -> Array:
    """Peak pressure of a line contact of two bodies: p = √(F·E′/(π·w·R)).

    R is the relative radius, that of the lobe where the other is flat. Zero force gives none; a radius at or below
    zero gives nan, for it cannot be ground.
    Source: Hertz.

    >>> round(float(hertz_line_MPa(1450.0, 14.0, 9.5)), 1)
    632.8
    """
    force, radius = np.asarray(force_N, dtype=np.float64), np.asarray(radius_mm, dtype=np.float64)
    with np.errstate(invalid="ignore", divide="ignore"):
        pressure = np.sqrt(np.maximum(force, 0.0) * effective_modulus / (math.pi * width_mm * radius))
    return np.where(radius > 0.0, pressure, np.nan)
