"""Static compression: swept and clearance volume. mm in, cm³ out."""

import math
from dataclasses import dataclass

from arcstack.mech.number import Number


def cylinder_cc(bore_mm: Number, height_mm: Number) -> Number:
    """Volume of a round of some height: π/4·b²·h, in cm³.

    Source: geometry.

    >>> round(cylinder_cc(86.0, 86.0), 1), round(cylinder_cc(87.5, 1.15), 1)
    (499.6, 6.9)
    """
    return math.pi / 4.0 * bore_mm**2 * height_mm / 1000.0


@dataclass(frozen=True)
class Volumes:
    """What is above the piston at TDC, cm³: chamber by burette, gasket, deck, dish (a dome is negative)."""

    chamber: float
    gasket: float
    deck: float
    dish: float

    @property
    def clearance(self) -> float:
        """
        >>> round(Volumes(48.0, 6.9, 1.45, 4.0).clearance, 2)
        60.35
        """
        return self.chamber + self.gasket + self.deck + self.dish


def ratio(swept_cc: Number, clearance_cc: Number) -> Number:
    """(swept + clearance)/clearance.

    Source: definition.

    >>> [round(ratio(499.6, v), 2) for v in (60.35, 61.35, 59.35)]
    [9.28, 9.14, 9.42]
    """
    return (swept_cc + clearance_cc) / clearance_cc
