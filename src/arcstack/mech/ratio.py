"""Followers with a ratio: lobe lift to valve lift, constant, from a table, or from a finger's own geometry. mm, rad."""

import math
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from arcstack.mech.cam.law import Array, LiftLaw, ScaledLaw


class Motion(Protocol):
    """Valve lift as a function of lobe lift."""

    def valve_mm(self, lobe_mm: Array, order: int = 0) -> Array:
        """Valve lift for order 0; its first and second derivative by lobe lift for 1 and 2."""


@dataclass(frozen=True)
class ConstantRatio:
    """Valve lift = ratio · lobe lift."""

    ratio: float

    def valve_mm(self, lobe_mm: Array, order: int = 0) -> Array:
        return self.ratio * lobe_mm if order == 0 else np.full_like(lobe_mm, self.ratio if order == 1 else 0.0)


@dataclass(frozen=True)
class RatioCurve:
    """Overall ratio measured at several lobe lifts, and a polynomial (cubic at most) through or among them.

    >>> curve = RatioCurve((0.0, 3.0, 6.5), (1.50, 1.56, 1.54))
    >>> round(float(curve.valve_mm(np.array([3.0]))[0]), 3)
    4.68
    """

    lobe_mm: tuple[float, ...]
    ratio: tuple[float, ...]

    def _valve(self) -> "np.polynomial.Polynomial":
        degree = min(len(self.lobe_mm) - 1, 3)
        ratio = np.polynomial.Polynomial.fit(self.lobe_mm, self.ratio, degree).convert()
        return ratio * np.polynomial.Polynomial([0.0, 1.0])

    def valve_mm(self, lobe_mm: Array, order: int = 0) -> Array:
        valve = self._valve()
        return np.asarray((valve if order == 0 else valve.deriv(order))(lobe_mm), dtype=np.float64)


@dataclass(frozen=True)
class PivotArm:
    """A finger about its pivot: the lobe pushes the pad down, the tip pushes the valve, both along the valve's axis.

    ``tip_arm`` and ``pad_arm`` are the distances from the pivot, ``tip_height`` and ``pad_height`` how far each
    stands above it, along the valve, with the valve closed. The lobe's contact is taken as staying on the pad's
    own circle about the pivot; a large pad radius lets it wander and changes the ratio by a few per cent.

    >>> arm = PivotArm(40.0, 5.0, 25.0, 3.0)
    >>> round(float(arm.valve_mm(np.array([6.0]))[0]) / 6.0, 3)
    1.6
    """

    tip_arm: float
    tip_height: float
    pad_arm: float
    pad_height: float

    def __post_init__(self) -> None:
        if abs(self.tip_height) >= self.tip_arm or abs(self.pad_height) >= self.pad_arm:
            raise ValueError("an arm must be longer than its end stands above the pivot")

    def valve_mm(self, lobe_mm: Array, order: int = 0) -> Array:
        y = self.pad_height - lobe_mm
        if np.any(np.abs(y) >= self.pad_arm):
            raise ValueError("the lobe's lift is more than the pad's arm can swing")
        swing = math.asin(self.pad_height / self.pad_arm) - np.arcsin(y / self.pad_arm)
        tip = math.asin(self.tip_height / self.tip_arm) - swing
        if order == 0:
            return np.asarray(self.tip_height - self.tip_arm * np.sin(tip), dtype=np.float64)
        across = self.pad_arm**2 - y**2
        rate = across**-0.5
        if order == 1:
            return np.asarray(self.tip_arm * np.cos(tip) * rate, dtype=np.float64)
        bend = -y * across**-1.5
        return np.asarray(self.tip_arm * (np.sin(tip) * rate**2 + np.cos(tip) * bend), dtype=np.float64)


def lobe_for_valve_mm(motion: Motion, valve_mm: float) -> float:
    """Lobe lift that gives a valve lift.

    >>> round(lobe_for_valve_mm(ConstantRatio(1.6), 8.0), 6)
    5.0
    """
    if isinstance(motion, ConstantRatio):
        return valve_mm / motion.ratio
    if isinstance(motion, PivotArm):
        most = motion.pad_height + 0.98 * motion.pad_arm
    elif isinstance(motion, RatioCurve):
        most = 1.3 * max(motion.lobe_mm[-1], valve_mm / motion.ratio[-1])
    else:
        most = 3.0 * max(valve_mm, 1.0)
    lobe = np.linspace(0.0, most, 4001)
    return float(np.interp(valve_mm, np.maximum.accumulate(motion.valve_mm(lobe)), lobe))


@dataclass(frozen=True)
class FollowedLaw:
    """A lobe's law seen at the valve through a follower whose ratio changes with lift (chain rule)."""

    law: LiftLaw
    motion: Motion

    @property
    def support_rad(self) -> tuple[float, float]:
        return self.law.support_rad

    def evaluate(self, cam_rad: Array, order: int = 0) -> Array:
        """As ``LiftLaw``; the jerk is a central difference of the acceleration over a hundredth of a degree."""
        if order == 3:
            step = math.radians(0.01)
            return (self.evaluate(cam_rad + step, 2) - self.evaluate(cam_rad - step, 2)) / (2.0 * step)
        lobe = self.law.evaluate(cam_rad)
        if order == 0:
            return self.motion.valve_mm(lobe)
        velocity = self.law.evaluate(cam_rad, 1)
        first = self.motion.valve_mm(lobe, 1)
        if order == 1:
            return first * velocity
        return self.motion.valve_mm(lobe, 2) * velocity**2 + first * self.law.evaluate(cam_rad, 2)


def at_valve(law: LiftLaw, motion: Motion) -> LiftLaw:
    """The lobe's law as the valve sees it."""
    return ScaledLaw(law, motion.ratio) if isinstance(motion, ConstantRatio) else FollowedLaw(law, motion)
