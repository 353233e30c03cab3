"""Shear stress in round spring wire. Source: Wahl's curvature correction."""

import math


def wahl_factor(wire_mm: float, mean_diameter_mm: float) -> float:
    """K = (4C−1)/(4C−4) + 0.615/C, C = D/d. Raises ``ValueError`` for C at or below 1.

    >>> round(wahl_factor(3.9, 23.6), 4)
    1.2501
    """
    index = mean_diameter_mm / wire_mm
    if index <= 1.0:
        raise ValueError("the coil's mean diameter must be larger than its wire")
    return (4.0 * index - 1.0) / (4.0 * index - 4.0) + 0.615 / index


def shear_MPa(load_N: float, wire_mm: float, mean_diameter_mm: float) -> float:
    """τ = K·8·F·D/(π·d³).

    >>> round(shear_MPa(610.0, 3.9, 23.6), 1)
    772.6
    """
    k = wahl_factor(wire_mm, mean_diameter_mm)
    return k * 8.0 * load_N * mean_diameter_mm / (math.pi * wire_mm**3)
