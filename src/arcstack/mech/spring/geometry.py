"""Round-wire helical springs from their wire. Source: elementary helical spring theory."""

import math


def rate_N_per_mm(wire_mm: float, mean_diameter_mm: float, active_coils: float, shear_modulus_MPa: float) -> float:
    """k = G·d⁴ / (8·D³·Na).

    >>> round(rate_N_per_mm(3.9, 23.6, 5.2, 77200.0), 3)
    32.662
    """
    return shear_modulus_MPa * wire_mm**4 / (8.0 * mean_diameter_mm**3 * active_coils)


def active_mass_kg(wire_mm: float, mean_diameter_mm: float, active_coils: float, density_kg_m3: float) -> float:
    """m = ρ·π²·d²·D·Na/4: the wire of the active coils.

    >>> round(active_mass_kg(3.9, 23.6, 5.2, 7850.0) * 1000, 3)
    36.154
    """
    return density_kg_m3 * 1e-9 * math.pi**2 * wire_mm**2 * mean_diameter_mm * active_coils / 4.0


def surge_Hz(rate: float, mass_kg: float) -> float:
    """First surge frequency with both ends fixed, f = ½·√(k/m); rate in N/mm.

    >>> round(surge_Hz(32.662272, 0.036153802), 2)
    475.24
    """
    return 0.5 * math.sqrt(rate * 1000.0 / mass_kg)
