"""Contact of lobe and follower: where it runs, how sharp it is, how hard it presses. mm, N, MPa."""

import math

import numpy as np

from arcstack.mech.cam.law import Array

STEEL_MODULUS_MPA = 210_000.0
STEEL_POISSON = 0.3


def bucket_edge_margin_mm(
    diameter_mm: float, eccentricity_mm: float, lobe_width_mm: float, offset_mm: float = 0.0
) -> float:
    """Crown left outside the contact line's farthest corner: D/2 − √(e² + (w/2 + |o|)²).

    ``eccentricity`` is the largest |dL/dθ|, ``offset`` the lobe's along the shaft that turns the bucket.

    >>> round(bucket_edge_margin_mm(33.0, 14.0, 12.0), 3)
    1.268
    """
    return diameter_mm / 2.0 - math.hypot(eccentricity_mm, lobe_width_mm / 2.0 + abs(offset_mm))


def lobe_under_radius_mm(
    lift_mm: Array, slope_mm: Array, bend_mm: Array, base_radius_mm: float, follower_radius_mm: float
) -> tuple[Array, Array]:
    """Radius of a lobe under a follower that is itself round, and the relative radius of the two, over the cam angle.

    Lift and its first two derivatives are per cam radian at the lobe, the follower moving straight in and out. The
    follower's centre runs on the pitch curve r = R_b + R_f + L, bent by κ = (r² + 2r′² − r·r″)/(r² + r′²)^(3/2). The
    lobe is its parallel: ρ = 1/κ − R_f, below zero on a hollow flank; 1/R = 1/ρ + 1/R_f gives R = R_f·(1 − κ·R_f).
    Where R is not above zero the lobe would be undercut. Without end in R_f it is the flat follower's R_b + L + L″.
    Source: curvature of a plane curve in polar coordinates, and of its parallel.

    >>> still = np.zeros(1)
    >>> rho, relative = lobe_under_radius_mm(still, still, still, 17.0, 20.0)
    >>> round(float(rho[0]), 3), round(float(relative[0]), 3)
    (17.0, 9.189)
    """
    r = base_radius_mm + follower_radius_mm + lift_mm
    bend = (r**2 + 2.0 * slope_mm**2 - r * bend_mm) / (r**2 + slope_mm**2) ** 1.5
    with np.errstate(divide="ignore"):
        lobe = 1.0 / bend - follower_radius_mm
    return lobe, follower_radius_mm * (1.0 - bend * follower_radius_mm)


def hertz_line_MPa(
    force_N: Array | float,
    width_mm: float,
    radius_mm: Array | float,
    modulus_MPa: float = STEEL_MODULUS_MPA,
    poisson: float = STEEL_POISSON,
) -> Array:
    """Peak pressure of a line contact of two like bodies: p = √(F·E′/(π·w·R)).

    R is the relative radius, that of the lobe where the other is flat. 1/E′ = 2·(1−ν²)/E. Zero force gives none; a
    radius at or below zero gives nan, for it cannot be ground.
    Source: Hertz.

    >>> round(float(hertz_line_MPa(1450.0, 14.0, 9.5)), 1)
    632.8
    """
    force, radius = np.asarray(force_N, dtype=np.float64), np.asarray(radius_mm, dtype=np.float64)
    effective = modulus_MPa / (2.0 * (1.0 - poisson**2))
    with np.errstate(invalid="ignore", divide="ignore"):
        pressure = np.sqrt(np.maximum(force, 0.0) * effective / (math.pi * width_mm * radius))
    return np.where(radius > 0.0, pressure, np.nan)
