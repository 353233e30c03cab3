"""Round-wire helical springs from their wire. Source: elementary helical spring theory."""

import math
from dataclasses import dataclass

from arcstack.mech.number import Number


@dataclass(frozen=True)
class Coil:
    """The wound part of a spring: wire and coil diameters (mm), number of active coils.

    ``tapered`` is the share of the active coils, at the top, over which the mean diameter falls evenly from
    ``mean_mm`` to ``top_mean_mm``: 0 for a cylindrical spring, 1 for a conical one, about a half for a beehive.
    """

    wire_mm: float
    mean_mm: float
    active: float
    top_mean_mm: float
    tapered: float = 0.0

    @property
    def mean_diameter_mm(self) -> float:
        """Average of the mean diameter over the active coils."""
        return (1.0 - self.tapered) * self.mean_mm + self.tapered * (self.mean_mm + self.top_mean_mm) / 2.0

    @property
    def mean_cube_mm3(self) -> float:
        """Average of the diameter's cube, on which the rate depends: the coils act in series."""
        a, b = self.mean_mm, self.top_mean_mm
        return (1.0 - self.tapered) * a**3 + self.tapered * (a + b) * (a * a + b * b) / 4.0

    @property
    def index(self) -> float:
        """C = D/d at the largest coil, which carries the most stress."""
        return self.mean_mm / self.wire_mm


def cylindrical(wire_mm: float, mean_diameter_mm: float, active_coils: float) -> Coil:
    """A spring wound evenly all the way. Source: definition."""
    return Coil(wire_mm, mean_diameter_mm, active_coils, mean_diameter_mm)


def rate_N_per_mm(coil: Coil, shear_modulus_MPa: float) -> float:
    """k = G·d⁴ / (8·D³·Na), D³ averaged over tapered coils.

    Source: torsion of a helical wire.

    >>> round(rate_N_per_mm(cylindrical(3.9, 23.6, 5.2), 77200.0), 3)
    32.662
    """
    return shear_modulus_MPa * coil.wire_mm**4 / (8.0 * coil.mean_cube_mm3 * coil.active)


def active_mass_kg(coil: Coil, density_kg_m3: float) -> float:
    """m = ρ·π²·d²·D·Na/4: the wire of the active coils.

    Source: volume of the wound wire.

    >>> round(active_mass_kg(cylindrical(3.9, 23.6, 5.2), 7850.0) * 1000, 3)
    36.154
    """
    return density_kg_m3 * 1e-9 * math.pi**2 * coil.wire_mm**2 * coil.mean_diameter_mm * coil.active / 4.0


def surge_Hz(rate: Number, mass_kg: Number) -> Number:
    """First surge frequency with both ends fixed, f = ½·√(k/m); rate in N/mm.

    Source: standing wave in a spring held at both ends.

    >>> round(surge_Hz(32.662272, 0.036153802), 2)
    475.24
    """
    found: Number = 0.5 * (rate * 1000.0 / mass_kg) ** 0.5
    return found


def nest_gap_mm(
    outer_outside: Number, outer_wire: Number, inner_outside: Number, damper_thickness: Number | float = 0.0
) -> Number:
    """Radial gap between outer and inner spring, less a damper between them; below zero they interfere.

    Source: geometry.

    >>> round(nest_gap_mm(28.2, 3.7, 20.1), 3)
    0.35
    """
    return (outer_outside - 2.0 * outer_wire - inner_outside) / 2.0 - damper_thickness


def still_end_kg(mass_kg: float, coils: float, active: float) -> float:
    """Mass of the closed coils that a spring has beyond one at each end: at the end that stands still they do not move.

    Source: wire shared out along the coils, evenly.

    >>> round(still_end_kg(0.062, 7.75, 4.75), 4), still_end_kg(0.062, 6.75, 4.75)
    (0.008, 0.0)
    """
    return mass_kg * max(coils - active - 2.0, 0.0) / coils
