"""What parts on one valve leave between each other. mm, rad."""

import numpy as np

from arcstack.mech.number import Number


def lock_sinks_mm(expected_mm: Number, locks_mm: Number, taper_rad: Number) -> Number:
    """How much deeper a pair of locks sits than the retainer is made for: δ = (D_r − D_l)/(2·tan(t/2)).

    Both diameters are the locks' outside at the top; the taper is included, both sides together. Above zero the
    locks sink and the retainer climbs by as much; below zero they stand high. Source: geometry of a cone.

    >>> import math
    >>> [round(float(lock_sinks_mm(12.1, 12.0, math.radians(taper))), 2) for taper in (10.0, 20.0)]
    [0.57, 0.28]
    """
    found: Number = (expected_mm - locks_mm) / (2.0 * np.tan(taper_rad / 2.0))
    return found


def inside_mm(outside_mm: Number, wire_mm: Number) -> Number:
    """Inside diameter of a coil: D_o − 2·d. Source: geometry.

    >>> round(inside_mm(28.2, 3.75), 2)
    20.7
    """
    return outside_mm - 2.0 * wire_mm


def tip_proud_mm(groove_below_tip_mm: Number, lock_above_groove_mm: Number, sinks_mm: Number) -> Number:
    """How far the stem's tip stands above retainer and locks: the groove's depth less the lock above it.

    A retainer that climbs over its locks by ``sinks_mm`` takes that much of it; locks that stand high do not give any.
    Source: geometry along the valve.

    >>> [round(float(tip_proud_mm(5.2, 3.6, deep)), 2) for deep in (0.57, -0.2)]
    [1.03, 1.6]
    """
    climbs: Number = np.maximum(sinks_mm, 0.0)
    return groove_below_tip_mm - lock_above_groove_mm - climbs
