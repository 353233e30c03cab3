"""Shear stress in round spring wire. Source: Wahl's curvature correction."""

import math

import numpy as np

from arcstack.mech.number import Number


def wahl_factor(wire_mm: Number, mean_diameter_mm: Number) -> Number:
    """K = (4C−1)/(4C−4) + 0.615/C, C = D/d. Raises ``ValueError`` for C at or below 1.

    Source: Wahl's curvature and direct-shear factor.

    >>> round(wahl_factor(3.9, 23.6), 4)
    1.2501
    """
    index = mean_diameter_mm / wire_mm
    if np.any(index <= 1.0):
        raise ValueError("the coil's mean diameter must be larger than its wire")
    return (4.0 * index - 1.0) / (4.0 * index - 4.0) + 0.615 / index


def shear_MPa(load_N: Number, wire_mm: Number, mean_diameter_mm: Number) -> Number:
    """τ = K·8·F·D/(π·d³).

    Source: torsion of a helical wire, with Wahl's factor.

    >>> round(shear_MPa(610.0, 3.9, 23.6), 1)
    772.6
    """
    k = wahl_factor(wire_mm, mean_diameter_mm)
    return k * 8.0 * load_N * mean_diameter_mm / (math.pi * wire_mm**3)
