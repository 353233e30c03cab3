"""Closest approach of the intake and exhaust valve's heads through overlap. mm, rad."""

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from arcstack.mech.cam.law import Array, LiftLaw


@dataclass(frozen=True)
class Head:
    """One valve in the plane of both axes.

    ``across_mm`` is the closed head's centre from the cylinder's axis (intake positive, exhaust negative),
    ``angle_rad`` the axis' lean, and the valve opens downward and toward the middle.
    """

    across_mm: float
    radius_mm: float
    angle_rad: float

    def edges(self, lift_mm: Array) -> tuple[Array, Array]:
        """Inner edge of the head, across and down, over lift."""
        side = math.copysign(1.0, self.across_mm)
        x = self.across_mm - side * (lift_mm * math.sin(self.angle_rad) + self.radius_mm * math.cos(self.angle_rad))
        down = lift_mm * math.cos(self.angle_rad) - self.radius_mm * math.sin(self.angle_rad)
        return x, down

    def face(self, lift_mm: Array) -> tuple[Array, Array]:
        """Outer edge of the head, across and down, over lift."""
        side = math.copysign(1.0, self.across_mm)
        x = self.across_mm - side * (lift_mm * math.sin(self.angle_rad) - self.radius_mm * math.cos(self.angle_rad))
        down = lift_mm * math.cos(self.angle_rad) + self.radius_mm * math.sin(self.angle_rad)
        return x, down


@dataclass(frozen=True)
class Approach:
    """Least gap between the heads (negative: they meet) and the crank angle (rad) where it is."""

    gap_mm: float
    crank_rad: float


@lru_cache(maxsize=1024)
def closest_approach(
    intake: Head,
    exhaust: Head,
    intake_law: LiftLaw,
    exhaust_law: LiftLaw,
    intake_nose_rad: float,
    exhaust_nose_rad: float,
    lashes_mm: tuple[float, float] = (0.0, 0.0),
) -> Approach:
    """Least distance between the two heads, edge on, through the whole overlap; noses at crank angles from TDC.

    Lashes, intake and exhaust, are taken off the lifts. Each head is its diameter seen edge on; crossing lines count as
    meeting, by how far they reach past each other.

    Source: geometry of two straight edges.

    >>> from arcstack.mech.cam.law import SymmetricLobe
    >>> lobe = SymmetricLobe.polynomial(10.0, math.radians(70.0), (2.0, 8.0, 14.0, 20.0))
    >>> a, b = Head(18.0, 17.0, 0.2), Head(-18.0, 14.5, 0.2)
    >>> round(closest_approach(a, b, lobe, lobe, 1.9, -1.9).gap_mm, 1)
    4.7
    """
    crank = np.radians(np.arange(-80.0, 80.5, 0.5))
    lift_in = np.maximum(intake_law.evaluate((crank - intake_nose_rad) / 2.0) - lashes_mm[0], 0.0)
    lift_ex = np.maximum(exhaust_law.evaluate((crank - exhaust_nose_rad) / 2.0) - lashes_mm[1], 0.0)
    gap = _gap(intake.edges(lift_in), intake.face(lift_in), exhaust.edges(lift_ex), exhaust.face(lift_ex))
    at = int(np.argmin(gap))
    return Approach(float(gap[at]), float(crank[at]))


Line = tuple[Array, Array]


def _gap(edge_in: Line, far_in: Line, edge_ex: Line, far_ex: Line) -> Array:
    """Distance between two segments at each instant; below nought by how far their inner edges pass each other."""
    apart = np.minimum.reduce(
        [
            _to_segment(edge_in, edge_ex, far_ex),
            _to_segment(edge_ex, edge_in, far_in),
        ]
    )
    crossed = _crossed(edge_in, far_in, edge_ex, far_ex)
    return np.where(crossed, -np.abs(edge_ex[0] - edge_in[0]), apart)


def _to_segment(point: Line, start: Line, end: Line) -> Array:
    dx, dy = end[0] - start[0], end[1] - start[1]
    along = ((point[0] - start[0]) * dx + (point[1] - start[1]) * dy) / (dx**2 + dy**2)
    along = np.clip(along, 0.0, 1.0)
    return np.hypot(point[0] - start[0] - along * dx, point[1] - start[1] - along * dy)


def _crossed(a: Line, b: Line, c: Line, d: Line) -> "np.ndarray[tuple[int], np.dtype[np.bool_]]":
    def turn(p: Line, q: Line, r: Line) -> Array:
        return (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0])

    return np.asarray((turn(a, b, c) * turn(a, b, d) < 0) & (turn(c, d, a) * turn(c, d, b) < 0))
