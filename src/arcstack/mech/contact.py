"""Contact of lobe and flat follower: where it runs, how sharp it is, how hard it presses. mm, N, MPa."""

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


def hertz_line_MPa(
    force_N: Array | float,
    width_mm: float,
    radius_mm: Array | float,
    modulus_MPa: float = STEEL_MODULUS_MPA,
    poisson: float = STEEL_POISSON,
) -> Array:
    """Peak pressure of a line contact of two like bodies, one flat: p = √(F·E′/(π·w·ρ)).

    1/E′ = 2·(1−ν²)/E. Zero force gives none; a radius at or below zero gives nan, for it cannot be ground.
    Source: Hertz.

    >>> round(float(hertz_line_MPa(1450.0, 14.0, 9.5)), 1)
    632.8
    """
    force, radius = np.asarray(force_N, dtype=np.float64), np.asarray(radius_mm, dtype=np.float64)
    effective = modulus_MPa / (2.0 * (1.0 - poisson**2))
    with np.errstate(invalid="ignore", divide="ignore"):
        pressure = np.sqrt(np.maximum(force, 0.0) * effective / (math.pi * width_mm * radius))
    return np.where(radius > 0.0, pressure, np.nan)
