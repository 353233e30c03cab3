"""Events of a lift law on the crank, overlap, and what moves the cam. Crank radians from gas-exchange TDC."""

import math
from dataclasses import dataclass

from arcstack.mech.cam.facts import crossings_rad
from arcstack.mech.cam.law import LiftLaw
from arcstack.mech.number import Number


@dataclass(frozen=True)
class Events:
    """Crank angles (rad, 0 at gas-exchange TDC, negative before it) where lift rises and falls through a check lift."""

    opens_rad: float
    closes_rad: float

    @property
    def duration_rad(self) -> float:
        return self.closes_rad - self.opens_rad

    @property
    def centreline_rad(self) -> float:
        """Middle between the two events; the point of maximum lift may lie elsewhere."""
        return (self.opens_rad + self.closes_rad) / 2.0


def events(law: LiftLaw, lift_mm: float, nose_rad: float, advance_rad: float = 0.0) -> Events:
    """Events of ``law`` at a check lift, its nose at crank angle ``nose_rad``, all made earlier by ``advance_rad``.

    Raises ``ValueError`` for a check lift that the law does not cross.

    Source: crossings of the check lift, twice the cam angle.

    >>> from arcstack.mech.cam.law import SymmetricLobe
    >>> lobe = SymmetricLobe.polynomial(10.4, math.radians(72.0), (2.0, 8.0, 14.0, 20.0))
    >>> e = events(lobe, 1.0, math.radians(108.0))
    >>> round(math.degrees(e.opens_rad), 2), round(math.degrees(e.centreline_rad), 2)
    (-5.28, 108.0)
    """
    rises, falls = crossings_rad(law, lift_mm)
    return Events(nose_rad + 2.0 * rises - advance_rad, nose_rad + 2.0 * falls - advance_rad)


def overlap_rad(intake: Events, exhaust: Events) -> float:
    """Crank angle for which both valves are above the check lift; negative when the exhaust has closed before.

    Source: definition.

    >>> round(math.degrees(overlap_rad(Events(math.radians(-5), 0.0), Events(0.0, math.radians(3)))), 6)
    8.0
    """
    return exhaust.closes_rad - intake.opens_rad


def milling_retard_rad(cut_mm: Number, sprocket_teeth: Number, pitch_mm: Number) -> Number:
    """Crank retard when head and crank come ``cut_mm`` closer on a straight drive run, crank rad.

    The run between the sprockets shortens by the cut, so the cam's sprocket, of pitch radius teeth·pitch/2π, turns
    back by cut/radius at the cam: twice that at the crank. The tensioned side is taken as straight along the cut.

    Source: a run of the drive shortened on one side.

    >>> round(math.degrees(milling_retard_rad(0.5, 42, 8.0)), 2)
    1.07
    """
    radius = sprocket_teeth * pitch_mm / (2.0 * math.pi)
    return 2.0 * cut_mm / radius


def tooth_rad(sprocket_teeth: Number) -> Number:
    """One tooth of the cam's sprocket in crank rad.

    Source: definition.

    >>> round(math.degrees(tooth_rad(40)), 1)
    18.0
    """
    return 4.0 * math.pi / sprocket_teeth
