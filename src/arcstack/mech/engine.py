"""The engine's own size."""

import math

from arcstack.mech.number import Number


def displacement_cm3(bore_mm: Number, stroke_mm: Number, cylinders: Number) -> Number:
    """Volume that all pistons sweep: π/4·B²·S·n, cm³.

    Source: geometry of the cylinder.

    >>> round(displacement_cm3(85.5, 86.2, 4), 1)
    1979.7
    """
    return math.pi / 4.0 * bore_mm**2 * stroke_mm * cylinders / 1000.0
