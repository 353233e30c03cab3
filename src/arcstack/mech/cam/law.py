"""Lift laws: smooth functions of the cam angle from the nose."""

import math
from dataclasses import dataclass, field
from typing import Protocol

import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float64]


class LiftLaw(Protocol):
    """Lift as a smooth function of the cam angle, zero at the nose, positive after it.

    A law is a value: two that give the same lift are equal and have the same hash.
    """

    def __hash__(self) -> int: ...

    @property
    def support_rad(self) -> tuple[float, float]:
        """First and last cam angle (rad) with lift above zero."""

    def evaluate(self, cam_rad: Array, order: int = 0) -> Array:
        """Lift (mm) for order 0, velocity (mm/rad) for 1, acceleration (mm/rad²) for 2, jerk (mm/rad³) for 3."""


@dataclass(frozen=True)
class PolynomialFlank:
    """Half a lobe as ``h + Σ Cᵢ·xᵖⁱ``, x = angle/β from 0 at the nose to 1 at the flank's foot.

    The four coefficients follow from lift, velocity, acceleration and jerk at the foot: ``foot_lift_mm``,
    ``foot_slope_mm_per_rad`` (negative: lift falls away from the nose), zero and zero. With foot lift and
    slope zero this is the classic four-power polynomial lobe (2-p-q-r).

    >>> flank = PolynomialFlank(10.4, math.radians(72.0), (2.0, 8.0, 14.0, 20.0))
    >>> [f"{float(flank.evaluate(np.array([a]))[0]):.4f}" for a in (0.0, flank.beta_rad / 2)]
    ['10.4000', '5.9584']
    """

    peak_mm: float
    beta_rad: float
    powers: tuple[float, float, float, float]
    foot_lift_mm: float = 0.0
    foot_slope_mm_per_rad: float = 0.0
    coefficients: tuple[float, ...] = field(init=False)

    def __post_init__(self) -> None:
        if self.peak_mm <= self.foot_lift_mm or self.beta_rad <= 0:
            raise ValueError("the nose must stand above the flank's foot, and the flank have a width")
        p = np.asarray(self.powers)
        rows = np.vstack([np.ones(4), p, p * (p - 1), p * (p - 1) * (p - 2)])
        right = np.array([self.foot_lift_mm - self.peak_mm, self.foot_slope_mm_per_rad * self.beta_rad, 0.0, 0.0])
        object.__setattr__(self, "coefficients", tuple(float(c) for c in np.linalg.solve(rows, right)))

    def evaluate(self, angle_rad: Array, order: int = 0) -> Array:
        """Lift or a derivative at angles (rad, 0 to β) counted away from the nose."""
        x = angle_rad / self.beta_rad
        total = np.full_like(x, self.peak_mm if order == 0 else 0.0)
        for c, p in zip(self.coefficients, self.powers, strict=True):
            scale = c / self.beta_rad**order
            for k in range(order):
                scale *= p - k
            # a term that is differentiated away must not leave nought times infinity at the nose
            if scale != 0.0:
                total += scale * x ** (p - order)
        return total


@dataclass(frozen=True)
class Ramp:
    """The quiet foot of a lobe, from the base circle up to ``height_mm`` at ``velocity_mm_per_rad``.

    Velocity rises as a half cosine over the first ``height/velocity`` radians, which takes up half the
    height, and stays constant for the rest. A height of zero is no ramp.
    """

    height_mm: float = 0.0
    velocity_mm_per_rad: float = 0.0

    @property
    def rise_rad(self) -> float:
        return self.height_mm / self.velocity_mm_per_rad if self.height_mm > 0 else 0.0

    @property
    def length_rad(self) -> float:
        """Whole length of the ramp, cam rad."""
        return 1.5 * self.rise_rad

    def evaluate(self, distance_rad: Array, order: int = 0) -> Array:
        """Lift or a derivative at a distance (rad) from where the ramp leaves the base circle."""
        rise, v = self.rise_rad, self.velocity_mm_per_rad
        u = np.clip(distance_rad, 0.0, rise)
        k = math.pi / rise
        if order == 0:
            return 0.5 * v * (u - np.sin(k * u) / k) + v * np.clip(distance_rad - rise, 0.0, None)
        if order == 1:
            return 0.5 * v * (1.0 - np.cos(k * u))
        curve = np.sin(k * u) if order == 2 else k * np.cos(k * u)
        return np.where(distance_rad < rise, 0.5 * v * k * curve, 0.0)


@dataclass(frozen=True)
class SymmetricLobe:
    """A lobe alike on both flanks: a polynomial main event standing on a ramp.

    Outside its support the lift is zero: that is the base circle, no clamp of the formula.
    """

    flank: PolynomialFlank
    ramp: Ramp = Ramp()

    @classmethod
    def polynomial(cls, peak_mm: float, beta_rad: float, powers: tuple[float, float, float, float]) -> "SymmetricLobe":
        """The four-power polynomial lobe with no ramp of its own."""
        return cls(PolynomialFlank(peak_mm, beta_rad, powers))

    @property
    def peak_mm(self) -> float:
        return self.flank.peak_mm

    @property
    def half_width_rad(self) -> float:
        return self.flank.beta_rad + self.ramp.length_rad

    @property
    def support_rad(self) -> tuple[float, float]:
        return -self.half_width_rad, self.half_width_rad

    def evaluate(self, cam_rad: Array, order: int = 0) -> Array:
        angle = np.abs(np.asarray(cam_rad, dtype=np.float64))
        out = np.zeros_like(angle)
        main = angle <= self.flank.beta_rad
        out[main] = self.flank.evaluate(angle[main], order)
        if self.ramp.height_mm > 0:
            foot = ~main & (angle < self.half_width_rad)
            out[foot] = self.ramp.evaluate(self.half_width_rad - angle[foot], order)
            if order % 2:
                out[foot] = -out[foot]
        if order % 2:
            out = np.where(np.asarray(cam_rad) < 0, -out, out)
        return out


@dataclass(frozen=True)
class AsymmetricLobe:
    """A lobe whose opening flank is one symmetric lobe's and whose closing flank another's, of the same lift."""

    opening: SymmetricLobe
    closing: SymmetricLobe

    @property
    def support_rad(self) -> tuple[float, float]:
        return self.opening.support_rad[0], self.closing.support_rad[1]

    def evaluate(self, cam_rad: Array, order: int = 0) -> Array:
        angle = np.asarray(cam_rad, dtype=np.float64)
        return np.where(angle < 0, self.opening.evaluate(angle, order), self.closing.evaluate(angle, order))


@dataclass(frozen=True)
class ScaledLaw:
    """A lobe's law seen at the valve through a constant follower ratio."""

    law: LiftLaw
    ratio: float

    @property
    def support_rad(self) -> tuple[float, float]:
        return self.law.support_rad

    def evaluate(self, cam_rad: Array, order: int = 0) -> Array:
        return self.ratio * self.law.evaluate(cam_rad, order)


@dataclass(frozen=True)
class WidenedLaw:
    """The same lift over a wider or narrower angle: a factor above 1 is a gentler lobe.

    Accelerations fall with the factor's square.
    """

    law: LiftLaw
    factor: float

    @property
    def support_rad(self) -> tuple[float, float]:
        start, end = self.law.support_rad
        return start * self.factor, end * self.factor

    def evaluate(self, cam_rad: Array, order: int = 0) -> Array:
        return self.law.evaluate(np.asarray(cam_rad, dtype=np.float64) / self.factor, order) / self.factor**order


@dataclass(frozen=True)
class LashLaw:
    """Lift before lash of a table that was read at the valve with its lash set: what was read, and the lash.

    Where the valve had not moved nothing was read: there the lash is taken up as a ramp of ``ramp`` would, outward
    from where the reading ends.
    """

    law: LiftLaw
    ramp: Ramp

    @property
    def support_rad(self) -> tuple[float, float]:
        start, end = self.law.support_rad
        return start - self.ramp.length_rad, end + self.ramp.length_rad

    def evaluate(self, cam_rad: Array, order: int = 0) -> Array:
        angle = np.asarray(cam_rad, dtype=np.float64)
        start, end = self.law.support_rad
        first, last = self.support_rad
        out = self.law.evaluate(angle, order) + (self.ramp.height_mm if order == 0 else 0.0)
        for part, distance, sign in (
            (angle < start, angle - first, 1.0),
            (angle > end, last - angle, -1.0 if order % 2 else 1.0),
        ):
            out[part] = sign * self.ramp.evaluate(np.maximum(distance[part], 0.0), order)
            out[part & ((angle < first) | (angle > last))] = 0.0
        return out
