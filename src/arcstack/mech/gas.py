"""Gas force on a valve. Pressures bar absolute, diameters mm, forces N; positive opens the valve."""

import math

from arcstack.mech.number import Number

AMBIENT_BAR = 1.01325
"""Standard atmosphere on the stem's end."""

_N_PER_BAR_MM2 = 0.1


def area_mm2(diameter_mm: Number) -> Number:
    """Area of a circle.

    Source: geometry.

    >>> round(area_mm2(33.5), 2)
    881.41
    """
    return math.pi * diameter_mm**2 / 4.0


def opening_force_N(
    head_mm: Number, stem_mm: Number, port_bar: Number, cylinder_bar: Number, ambient_bar: float = AMBIENT_BAR
) -> Number:
    """Net force that lifts a closed valve off its seat.

    F = p_port·(A_head − A_stem) + p_ambient·A_stem − p_cylinder·A_head, absolute pressures. All three equal
    give no force.

    Source: balance of pressures on both faces and the stem.

    >>> round(opening_force_N(33.5, 5.97, 2.75, 2.05), 3)
    56.837
    >>> abs(opening_force_N(33.5, 5.97, 1.01325, 1.01325)) < 1e-9
    True
    """
    head, stem = area_mm2(head_mm), area_mm2(stem_mm)
    return _N_PER_BAR_MM2 * (port_bar * (head - stem) + ambient_bar * stem - cylinder_bar * head)


def boost_rule_force_N(head_mm: Number, gauge_bar: Number) -> Number:
    """What the boost rule adds to the usual seat load: gauge pressure × valve area. Ignores cylinder pressure.

    Source: the trade's boost rule.

    >>> round(boost_rule_force_N(33.5, 1.75), 1)
    154.2
    """
    return _N_PER_BAR_MM2 * gauge_bar * area_mm2(head_mm)
