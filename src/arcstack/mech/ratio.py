"""Followers with a ratio: lobe lift to valve lift, constant, from a table, or from a finger's own geometry. mm, rad."""

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Protocol

import numpy as np

from arcstack.mech.cam.law import Array, LiftLaw, ScaledLaw


class Motion(Protocol):
    """Valve lift as a function of lobe lift; a value, like a lift law."""

    def __hash__(self) -> int: ...

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
    """Overall ratio measured at several lobe lifts: a polynomial (cubic at most) through or among them.

    Past either end the end's own ratio is held, never the polynomial: slope and bend of the ratio die away over a
    table's step, so that no velocity or acceleration jumps there.

    >>> curve = RatioCurve((0.0, 3.0, 6.5), (1.50, 1.56, 1.54))
    >>> round(float(curve.valve_mm(np.array([3.0]))[0]), 3)
    4.68
    >>> short = RatioCurve((3.0, 6.2), (1.56, 1.60))
    >>> round(float(short.valve_mm(np.array([1e-6]))[0] / 1e-6), 3)
    1.56
    """

    lobe_mm: tuple[float, ...]
    ratio: tuple[float, ...]

    def _ratio(self, lobe_mm: Array) -> tuple[Array, Array, Array]:
        """Ratio, and its first and second derivative by lobe lift."""
        degree = min(len(self.lobe_mm) - 1, 3)
        inside = np.polynomial.Polynomial.fit(self.lobe_mm, self.ratio, degree).convert()
        low, high = self.lobe_mm[0], self.lobe_mm[-1]
        found = [np.asarray(p(lobe_mm), dtype=np.float64) for p in (inside, inside.deriv(1), inside.deriv(2))]
        step = (high - low) / (len(self.lobe_mm) - 1)
        # below the table its first ratio is held by the time there is no lift
        for end, sign, width in ((low, -1.0, min(low, step)), (high, 1.0, step)):
            beyond = sign * (lobe_mm - end) > 0.0
            if not np.any(beyond):
                continue
            held = _dying(sign * (lobe_mm[beyond] - end), sign * inside.deriv(1)(end), inside.deriv(2)(end), width)
            found[0][beyond] = inside(end) + held[0]
            found[1][beyond] = sign * held[1]
            found[2][beyond] = held[2]
        return found[0], found[1], found[2]

    def valve_mm(self, lobe_mm: Array, order: int = 0) -> Array:
        lobe = np.asarray(lobe_mm, dtype=np.float64)
        ratio, slope, bend = self._ratio(lobe)
        if order == 0:
            return lobe * ratio
        found: Array = ratio + lobe * slope if order == 1 else 2.0 * slope + lobe * bend
        return found


def _dying(past: Array, slope: float, bend: float, width: float) -> tuple[Array, Array, Array]:
    """What a slope and a bend at an end still add at a distance ``past`` it, nothing beyond ``width``; with the first
    and second derivative by that distance. Quintic Hermite: all three meet at both ends."""
    if width <= 0.0:
        none = np.zeros_like(past)
        return none, none, none
    u = np.minimum(past / width, 1.0)
    s, c = slope * width, bend * width**2
    shape = np.polynomial.Polynomial([0.0, s, 0.5 * c, -6.0 * s - 1.5 * c, 8.0 * s + 1.5 * c, -3.0 * s - 0.5 * c])
    return shape(u), shape.deriv(1)(u) / width, shape.deriv(2)(u) / width**2


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

    Source: the motion inverted.

    >>> round(lobe_for_valve_mm(ConstantRatio(1.6), 8.0), 6)
    5.0
    """
    if isinstance(motion, ConstantRatio):
        return valve_mm / motion.ratio
    return float(lobes_for_valve_mm(motion, np.array([valve_mm]))[0])


def lobes_for_valve_mm(motion: Motion, valve_mm: Array) -> Array:
    """Lobe lift for each valve lift, straight between 4,000 points of the motion.

    Source: the motion inverted by table.

    >>> [round(float(x), 6) for x in lobes_for_valve_mm(ConstantRatio(1.6), np.array([0.0, 8.0]))]
    [0.0, 5.0]
    """
    top = float(np.max(valve_mm, initial=0.0))
    if isinstance(motion, ConstantRatio):
        return np.asarray(valve_mm / motion.ratio, dtype=np.float64)
    if isinstance(motion, PivotArm):
        most = motion.pad_height + 0.98 * motion.pad_arm
    elif isinstance(motion, RatioCurve):
        most = 1.3 * max(motion.lobe_mm[-1], top / min(motion.ratio))
    else:
        most = 3.0 * max(top, 1.0)
    lobe, valve = _inverse(motion, most)
    return np.asarray(np.interp(valve_mm, valve, lobe), dtype=np.float64)


@lru_cache(32)
def _inverse(motion: Motion, most: float) -> tuple[Array, Array]:
    lobe = np.linspace(0.0, most, 4001)
    return lobe, np.maximum.accumulate(motion.valve_mm(lobe))


def _jerk(law: LiftLaw, cam_rad: Array) -> Array:
    """Third derivative as a central difference of the second over a hundredth of a degree."""
    step = math.radians(0.01)
    found: Array = (law.evaluate(cam_rad + step, 2) - law.evaluate(cam_rad - step, 2)) / (2.0 * step)
    return found


@dataclass(frozen=True)
class FollowedLaw:
    """A lobe's law seen at the valve through a follower whose ratio changes with lift (chain rule)."""

    law: LiftLaw
    motion: Motion

    @property
    def support_rad(self) -> tuple[float, float]:
        return self.law.support_rad

    def evaluate(self, cam_rad: Array, order: int = 0) -> Array:
        """As ``LiftLaw``."""
        if order == 3:
            return _jerk(self, cam_rad)
        lobe = self.law.evaluate(cam_rad)
        if order == 0:
            return self.motion.valve_mm(lobe)
        velocity = self.law.evaluate(cam_rad, 1)
        first = self.motion.valve_mm(lobe, 1)
        if order == 1:
            return first * velocity
        return self.motion.valve_mm(lobe, 2) * velocity**2 + first * self.law.evaluate(cam_rad, 2)


@dataclass(frozen=True)
class BackLaw:
    """The lobe's law behind a lift law taken at the valve, through a follower whose ratio changes with lift."""

    law: LiftLaw
    motion: Motion

    @property
    def support_rad(self) -> tuple[float, float]:
        return self.law.support_rad

    def evaluate(self, cam_rad: Array, order: int = 0) -> Array:
        """As ``LiftLaw``: V = g(L) turned round, so L′ = V′/g′ and L″ = (V″ − g″·L′²)/g′; the jerk as a difference."""
        if order == 3:
            return _jerk(self, cam_rad)
        valve = self.law.evaluate(cam_rad)
        lobe = lobes_for_valve_mm(self.motion, valve)
        if order == 0:
            return lobe
        first = self.motion.valve_mm(lobe, 1)
        velocity = self.law.evaluate(cam_rad, 1) / first
        if order == 1:
            return velocity
        return (self.law.evaluate(cam_rad, 2) - self.motion.valve_mm(lobe, 2) * velocity**2) / first


def at_lobe(law: LiftLaw, motion: Motion) -> LiftLaw:
    """A law taken at the valve as the lobe has it.

    Source: the motion inverted.
    """
    return ScaledLaw(law, 1.0 / motion.ratio) if isinstance(motion, ConstantRatio) else BackLaw(law, motion)


def at_valve(law: LiftLaw, motion: Motion) -> LiftLaw:
    """The lobe's law as the valve sees it.

    Source: definition.
    """
    return ScaledLaw(law, motion.ratio) if isinstance(motion, ConstantRatio) else FollowedLaw(law, motion)
