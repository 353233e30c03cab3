"""Piston position and the gap between piston and valve. Lengths mm, crank angles rad from crank-at-top."""

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from arcstack.cached import cached_property
from arcstack.mech.cam.facts import lift_table
from arcstack.mech.cam.law import Array, LiftLaw
from arcstack.mech.number import Number


def piston_drop_mm(crank_rad: Array, stroke_mm: float, rod_mm: float, pin_offset_mm: float = 0.0) -> Array:
    """Piston below its own highest point, exact.

    s = √((l+r)² − e²) − (r·cosθ + √(l² − (r·sinθ − e)²)), r = stroke/2; a positive pin offset e lies toward the
    side the crank turns to at positive angles. Raises ``ValueError`` for a rod too short for the stroke.

    Source: geometry of the slider crank with an offset pin.

    >>> [round(float(d), 4) for d in piston_drop_mm(np.radians([-20.0, 0.0, 20.0]), 88.4, 144.0, 0.8)]
    [3.5463, 0.0005, 3.3774]
    """
    r = stroke_mm / 2.0
    if rod_mm <= r + abs(pin_offset_mm):
        raise ValueError("the rod must be longer than half the stroke plus the pin offset")
    highest = math.sqrt((rod_mm + r) ** 2 - pin_offset_mm**2)
    here = r * np.cos(crank_rad) + np.sqrt(rod_mm**2 - (r * np.sin(crank_rad) - pin_offset_mm) ** 2)
    return np.asarray(highest - here, dtype=np.float64)


def along_valve(valve_angle_rad: Number, flat: bool = False) -> Number:
    """How much a millimetre along the cylinder counts along the valve: cos α over a floor square to the valve, 1/cos α
    over a flat crown.

    A floor square to the valve comes nearer by its own normal; a plane square to the cylinder is met by going down the
    leaning valve, which is further. Source: geometry.

    >>> round(float(along_valve(math.radians(26.0))), 4), round(float(along_valve(math.radians(26.0), flat=True)), 4)
    (0.8988, 1.1126)
    """
    lean: Number = np.cos(valve_angle_rad)
    return 1.0 / lean if flat else lean


def estimated_drop_at_tdc_mm(
    deck_mm: Number, gasket_mm: Number, recess_mm: Number, pocket_mm: Number, valve_angle_rad: Number,
    flat: bool = False,
) -> Number:  # fmt: skip
    """How far the valve could drop at TDC, from the block's figures: (deck + gasket + recess + pocket) along the valve.

    ``deck`` is the piston's crown below the deck (negative when it stands proud), ``recess`` the valve's lowest
    edge above the head's face, ``pocket`` the depth of a pocket cut square to the valve. An estimate only.

    Source: geometry, along the valve.

    >>> round(float(estimated_drop_at_tdc_mm(0.3, 1.1, 1.9, 4.3, math.radians(13.5))), 3)
    7.39
    """
    found: Number = (deck_mm + gasket_mm + recess_mm + pocket_mm) * along_valve(valve_angle_rad, flat)
    return found


def milling_loss_mm(cut_mm: Number, valve_angle_rad: Number, flat: bool = False) -> Number:
    """Drop lost to metal cut off head or block: cut·cos α over a floor square to the valve, cut/cos α over a flat one.

    Source: geometry, along the valve.

    >>> round(float(milling_loss_mm(0.25, math.radians(13.5))), 3)
    0.243
    >>> round(float(milling_loss_mm(1.0, math.radians(26.0), flat=True) - milling_loss_mm(1.0, math.radians(26.0))), 2)
    0.21
    """
    found: Number = cut_mm * along_valve(valve_angle_rad, flat)
    return found


_NEAR_TDC = np.radians(np.arange(-60.0, 60.0 + 1e-9, 0.1))
"""Crank angles at which gaps are looked at."""


_COARSE_MM = 0.01
"""A gap over every fifth of those angles is told too wide by less than this."""


@dataclass(frozen=True)
class LeastGap:
    """Least gap along the valve axis (mm), and where: crank angle (rad) and phaser advance (crank rad)."""

    gap_mm: float
    crank_rad: float
    phaser_rad: float

    @property
    def is_phased(self) -> bool:
        """Whether it lies at a phaser that is off its parked place."""
        return abs(self.phaser_rad) > 1e-9


@dataclass(frozen=True)
class ValveToPiston:
    """One valve over one piston.

    ``centreline_rad`` is after TDC (negative for an exhaust cam), ``phaser_rad`` positive makes the event
    earlier. ``drop_at_tdc_mm`` is how far the valve can be pushed before it touches with the piston at TDC.
    """

    valve_law: LiftLaw
    centreline_rad: float
    drop_at_tdc_mm: float
    valve_angle_rad: float
    stroke_mm: float
    rod_mm: float
    pin_offset_mm: float = 0.0
    flat: bool = False
    """Whether the piston is flat where the valve meets it; else its pocket's floor is square to the valve."""

    def net_lift_mm(self, crank_rad: Array, phaser_rad: float, lash_mm: float) -> Array:
        """Lift at the valve over crank angle, lash taken off once."""
        cam = (crank_rad - self.centreline_rad + phaser_rad) / 2.0
        return np.maximum(self.valve_law.evaluate(cam) - lash_mm, 0.0)

    def room_mm(self, crank_rad: Array) -> Array:
        """How far the valve could open over crank angle before it meets the piston."""
        drop = piston_drop_mm(crank_rad, self.stroke_mm, self.rod_mm, self.pin_offset_mm)
        return self.drop_at_tdc_mm + drop * float(along_valve(self.valve_angle_rad, self.flat))

    @cached_property
    def _room(self) -> Array:
        return self.room_mm(_NEAR_TDC)

    # kept with the pair, which is a few numbers: many valves of a head stand alike over their pistons
    @lru_cache(maxsize=1024)  # noqa: B019
    def gap_of_mm(self, phaser_rad: float) -> float:
        """Least gap at one place of the phaser, lash at zero, to a hundredth of a mm."""
        table, lift = lift_table(self.valve_law)
        cam = (_NEAR_TDC - self.centreline_rad + phaser_rad) / 2.0
        return float((self._room - np.interp(cam, table, lift, left=0.0, right=0.0)).min())

    @lru_cache(maxsize=1024)  # noqa: B019
    def least_gap(self, phaser_from_rad: float = 0.0, phaser_to_rad: float = 0.0, lash_mm: float = 0.0) -> LeastGap:
        """Least gap within 60 crank degrees of TDC over a range of phaser positions.

        c(θ) = drop at TDC + piston drop along the valve − lift(θ), in steps of 0.1 degree, refined by a parabola. The
        phaser position is found first, in 17 steps and every half degree: the gap bends by less than a µm in that.
        """
        phaser = phaser_from_rad
        if phaser_from_rad != phaser_to_rad:
            tried = np.linspace(phaser_from_rad, phaser_to_rad, 17)
            phaser = float(tried[np.argmin(self._gaps_mm(tried[:, None], lash_mm, slice(None, None, 5)).min(axis=1))])
        gap = self._gaps_mm(phaser, lash_mm)
        return LeastGap(*_parabola(_NEAR_TDC, gap, int(np.argmin(gap))), phaser)

    @lru_cache(maxsize=1024)  # noqa: B019
    def permitted_rad(self, least_mm: float, most_rad: float, way: float = 1.0, lash_mm: float = 0.0) -> float | None:
        """How far from parked the phaser may go, earlier (``way`` 1) or later (−1), with every position on the way at
        least so far from the piston: ``most_rad`` where all of it may be used, None where even parked is too close.

        Looked for every two degrees on every fifth crank angle, then by halving on all to a thousandth of one.
        """
        if self._gaps_mm(0.0, lash_mm).min() < least_mm:
            return None
        steps = np.append(np.arange(math.radians(2.0), most_rad, math.radians(2.0)), most_rad)
        close = self._gaps_mm(way * steps[:, None], lash_mm, slice(None, None, 5)).min(axis=1) < least_mm + _COARSE_MM
        for at in np.flatnonzero(close):
            low, high = (float(steps[at - 1]) if at else 0.0), float(steps[at])
            if self._gaps_mm(way * high, lash_mm).min() >= least_mm:
                continue
            while high - low > math.radians(1e-3):
                middle = (low + high) / 2.0
                low, high = (low, middle) if self._gaps_mm(way * middle, lash_mm).min() < least_mm else (middle, high)
            return low
        return most_rad

    def _gaps_mm(self, phaser_rad: Array | float, lash_mm: float, every: slice = slice(None)) -> Array:
        """Gap near TDC over crank angle, for one phaser position or a column of them."""
        table, lift = lift_table(self.valve_law)
        cam = (_NEAR_TDC[every] - self.centreline_rad + phaser_rad) / 2.0
        net = np.maximum(np.interp(cam, table, lift, left=0.0, right=0.0) - lash_mm, 0.0)
        gaps: Array = self._room[every] - net
        return gaps


def _parabola(x: Array, y: Array, at: int) -> tuple[float, float]:
    """Vertex through the least sample and its neighbours: value, place."""
    if at in (0, len(x) - 1):
        return float(y[at]), float(x[at])
    before, here, after = (float(v) for v in y[at - 1 : at + 2])
    bend = before - 2.0 * here + after
    if bend <= 0:
        return here, float(x[at])
    shift = 0.5 * (before - after) / bend
    return here - 0.25 * (before - after) * shift, float(x[at]) + shift * float(x[at + 1] - x[at])
