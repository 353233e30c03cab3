"""Life of a spring's wire under a load that comes and goes: a Goodman line in shear.

Typical figures for clean, peened chrome-silicon valve-spring wire; a maker's own come first.
"""

from dataclasses import dataclass

from arcstack.mech.number import Number


@dataclass(frozen=True)
class Wire:
    """Typical strength of a wire: tensile strength (MPa) falls with its diameter (mm) as ``tensile_1mm · d^−size``.

    ``shear_share`` is shear over tensile strength. ``amplitude_MPa`` on ``mean_MPa`` is one shear load that peened
    wire of this kind bears without end; the line is drawn through it.
    """

    tensile_1mm_MPa: float = 2220.0
    size: float = 0.108
    shear_share: float = 0.67
    amplitude_MPa: float = 398.0
    mean_MPa: float = 534.0
    shear_modulus_MPa: float = 77200.0
    density_kg_m3: float = 7850.0

    def shear_strength_MPa(self, wire_mm: Number) -> Number:
        """Strength in shear.

        >>> round(Wire().shear_strength_MPa(3.9))
        1284
        """
        found: Number = self.shear_share * self.tensile_1mm_MPa * wire_mm**-self.size
        return found

    def reversed_amplitude_MPa(self, wire_mm: Number) -> Number:
        """Amplitude borne about no mean: where the line through the known point meets zero mean.

        >>> round(Wire().reversed_amplitude_MPa(3.9))
        681
        """
        return self.amplitude_MPa / (1.0 - self.mean_MPa / self.shear_strength_MPa(wire_mm))


CHROME_SILICON = Wire()


def goodman_factor(seat_MPa: Number, open_MPa: Number, wire_mm: Number, wire: Wire = CHROME_SILICON) -> Number:
    """Safety n against the Goodman line: 1/n = τ_a/S_e + τ_m/S_s, from Wahl shear at seat and open.

    Below 1 the spring is past the line. A steady stress gives shear strength over stress.

    Source: Goodman's line between reversed strength and strength in shear.

    >>> round(goodman_factor(400.0, 850.0, 3.9), 3)
    1.224
    >>> round(goodman_factor(642.0, 642.0, 3.9), 2)
    2.0
    """
    amplitude, mean = (open_MPa - seat_MPa) / 2.0, (open_MPa + seat_MPa) / 2.0
    used = amplitude / wire.reversed_amplitude_MPa(wire_mm) + mean / wire.shear_strength_MPa(wire_mm)
    return 1.0 / used
