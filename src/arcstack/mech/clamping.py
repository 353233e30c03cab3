"""What holds a head down: preload by torque or stretch, against the gas that lifts it. N, mm, MPa."""

import math

from arcstack.mech.number import Number


def preload_by_torque_N(torque_Nm: Number, friction: Number, diameter_mm: Number) -> Number:
    """F = T/(K·d): K is the nut factor of thread and face together, which the lubricant decides.

    Source: the short form of the bolted joint.

    >>> [round(preload_by_torque_N(90.0, k, 11.0) / 1000.0, 1) for k in (0.13, 0.20)]
    [62.9, 40.9]
    """
    return torque_Nm * 1000.0 / (friction * diameter_mm)


def preload_by_stretch_N(stretch_mm: Number, length_mm: Number, area_mm2: Number, modulus_MPa: Number) -> Number:
    """F = E·A·δ/L of a stud that was measured longer by δ over its clamped length.

    Source: Hooke.

    >>> round(preload_by_stretch_N(0.35, 100.0, 75.8, 205_000.0) / 1000.0, 1)
    54.4
    """
    return modulus_MPa * area_mm2 * stretch_mm / length_mm


def gas_force_N(peak_bar: Number, gasket_bore_mm: Number) -> Number:
    """Peak pressure on the gasket's bore.

    Source: pressure times area.

    >>> round(gas_force_N(130.0, 87.5) / 1000.0, 1)
    78.2
    """
    return peak_bar * 0.1 * math.pi / 4.0 * gasket_bore_mm**2


def studs_of_cylinder(studs: int, shared_by: float = 2.0) -> float:
    """Studs that hold one cylinder where each stands between so many.

    Source: a shared stud counts by its share.

    >>> studs_of_cylinder(4)
    2.0
    """
    return studs / shared_by
