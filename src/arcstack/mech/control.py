"""Rigid valvetrain: the speed at which the spring no longer holds the follower to the lobe."""

import math
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from arcstack.cached import cached_property
from arcstack.mech.cam.facts import SAMPLED_RAD, samples
from arcstack.mech.cam.law import Array, LiftLaw
from arcstack.mech.number import Number
from arcstack.mech.spring.pack import StraightLoad


def cam_rad_per_s(crank_rpm: Number) -> Number:
    """Cam speed in rad/s of a four-stroke crank speed in rpm.

    Source: a four-stroke cam turns at half the crank's speed.

    >>> round(cam_rad_per_s(8000.0), 2)
    418.88
    """
    return crank_rpm * math.pi / 60.0


def separation_omega2(
    seat_less_gas_N: Number | float, rate_N_per_mm: float, net_lift_mm: Number, mass_kg: float, decelerates_m: Number
) -> Number:
    """ω² at which inertia uses up a straight load: (A + k·v)/(m·a), with the deceleration a in m per cam rad².

    Source: Newton, at the angle where the follower would leave the lobe.

    >>> round(separation_omega2(332.0, 36.7, 9.2, 0.118, 0.0208))
    272832
    """
    found: Number = (seat_less_gas_N + rate_N_per_mm * net_lift_mm) / (mass_kg * decelerates_m)
    return found


def separation_rpm(omega2: Number) -> Number:
    """Crank speed of a cam's ω² (rad²/s²); nought where gas alone beats the spring.

    Source: a four-stroke cam turns at half the crank's speed.

    >>> round(float(separation_rpm(272832.0)))
    9976
    """
    found: Number = np.sqrt(np.maximum(omega2, 0.0)) * 60.0 / math.pi
    return found


class PackLoad(Protocol):
    """Load of the springs (N) over net lift (mm)."""

    def load_N(self, lift_mm: Array) -> Array: ...

    def straight(self) -> StraightLoad | None:
        """The line that the load runs on once every spring is taut; None where it curves."""


@dataclass(frozen=True)
class LinearPack:
    """A pack of one rate: seat load N, rate N/mm."""

    seat_load_N: float
    rate_N_per_mm: float

    def load_N(self, lift_mm: Array) -> Array:
        return self.seat_load_N + self.rate_N_per_mm * lift_mm

    def straight(self) -> StraightLoad:
        return StraightLoad(self.seat_load_N, self.rate_N_per_mm)


@dataclass(frozen=True)
class Separation:
    """Lowest crank speed at which contact force reaches zero, and the cam angle from the nose where it does."""

    rpm: float
    cam_rad: float


@lru_cache(maxsize=256)
def _decelerating(law: LiftLaw, lash_mm: float) -> tuple[Array, Array, Array]:
    """Cam angle (rad), net lift (mm) and deceleration (m/rad²) at those samples where the spring is needed."""
    taken = samples(law)
    needs = _needs_spring(taken.lift, taken.acceleration, lash_mm)
    return taken.angle[needs], taken.lift[needs] - lash_mm, -taken.acceleration[needs] * 1e-3


SUBDIVIDED = 10
"""Parts that the step between two samples is divided into where a lobe may part."""


@lru_cache(maxsize=256)
def may_part(law: LiftLaw, lash_mm: float) -> tuple[Array, Array, Array]:
    """Where a lobe can part first under a straight load: cam angle (rad), net lift (mm), deceleration (m/rad²).

    ω² there is (A + k·v)/(m·a) of seat load less gas A and rate k. Whatever those are, the least lies on the lower hull
    of v/a over 1/a; it is taken of the samples first, then of points between them about each that stands on it.

    Source: the least of straight lines is told by the hull of their coefficients.
    """
    taken = samples(law)
    needs = _needs_spring(taken.lift, taken.acceleration, lash_mm)
    at = np.nonzero(needs)[0]
    if not len(at):
        return taken.angle[at], taken.lift[at], taken.acceleration[at]
    decelerates = -taken.acceleration[at] * 1e-3
    corners = at[_lower_hull(1.0 / decelerates, (taken.lift[at] - lash_mm) / decelerates)]
    share = np.linspace(0.0, 1.0, SUBDIVIDED + 1)
    ends = [taken.angle[np.clip(corners + step, 0, len(taken.angle) - 1)] for step in (-1, 0, 1)]
    fine = np.unique(np.concatenate([(a[:, None] + (b - a)[:, None] * share).ravel() for a, b in pairwise(ends)]))
    lift, acceleration = law.evaluate(fine), law.evaluate(fine, 2)
    needs = _needs_spring(lift, acceleration, lash_mm)
    angle, net, decelerates = fine[needs], lift[needs] - lash_mm, -acceleration[needs] * 1e-3
    on = _lower_hull(1.0 / decelerates, net / decelerates)
    found = angle[on], net[on], decelerates[on]
    for column in found:
        column.setflags(write=False)
    return found


def _lower_hull(x: Array, y: Array) -> NDArray[np.intp]:
    """Which points stand on the lower convex hull of y over x, in the order of x."""
    order = np.lexsort((y, x))
    xs, ys = x[order].tolist(), y[order].tolist()
    kept: list[int] = []
    for i in range(len(xs)):
        if kept and xs[i] == xs[kept[-1]]:
            continue
        while len(kept) > 1:
            a, b = kept[-2], kept[-1]
            if (ys[b] - ys[a]) * (xs[i] - xs[a]) >= (ys[i] - ys[a]) * (xs[b] - xs[a]):
                kept.pop()
            else:
                break
        kept.append(i)
    return order[kept]


def _needs_spring(lift: Array, acceleration: Array, lash_mm: float) -> NDArray[np.bool_]:
    needs: NDArray[np.bool_] = (acceleration < -1e-6) & (lift > lash_mm)
    return needs


@dataclass(frozen=True)
class RigidTrain:
    """A valve held to its lift law by its springs: N, kg, mm.

    ``valve_law`` is lift at the valve before lash; ``opening_force_N`` is gas force that opens the valve.
    """

    valve_law: LiftLaw
    pack: PackLoad
    mass_kg: float
    lash_mm: float = 0.0
    opening_force_N: float = 0.0

    def __post_init__(self) -> None:
        if self.mass_kg <= 0:
            raise ValueError("the moving mass must be above zero")

    def closing_force_N(self, cam_rad: Array) -> Array:
        """Spring load less gas force, where the valve is off its seat."""
        return self._closing_N(self.valve_law.evaluate(cam_rad))

    def contact_force_N(self, cam_rad: Array, crank_rpm: float) -> Array:
        """Spring load + m·L″·ω² − gas force, on the lobe (net lift above zero); nan off it."""
        lift, acceleration = self.valve_law.evaluate(cam_rad), self.valve_law.evaluate(cam_rad, 2)
        return self._force_N(lift, acceleration, crank_rpm, self._closing_N(lift))

    def force_map_N(self, cam_rad: Array, crank_rpm: Array) -> Array:
        """The same at several speeds: a row a speed, a column an angle."""
        law = self.valve_law
        lift, acceleration = law.evaluate(cam_rad), law.evaluate(cam_rad, 2)
        squared = (np.asarray(crank_rpm) * math.pi / 60.0) ** 2
        force = self._closing_N(lift)[None, :] + self.mass_kg * 1e-3 * acceleration[None, :] * squared[:, None]
        return np.where(lift[None, :] > self.lash_mm, force, np.nan)

    def sampled_force_N(self, crank_rpm: float, off: float = math.nan) -> Array:
        """The same at the law's samples, which are taken once for every speed; ``off`` stands for it off the lobe."""
        law = samples(self.valve_law)
        return self._force_N(law.lift, law.acceleration, crank_rpm, self._sampled_closing_N, off)

    @cached_property
    def _sampled_closing_N(self) -> Array:
        return self._closing_N(samples(self.valve_law).lift)

    def _force_N(
        self, lift: Array, acceleration: Array, crank_rpm: float, closing_N: Array, off: float = math.nan
    ) -> Array:
        inertia = (self.mass_kg * 1e-3 * cam_rad_per_s(crank_rpm) ** 2) * acceleration
        return np.where(lift > self.lash_mm, closing_N + inertia, off)

    def _closing_N(self, lift: Array) -> Array:
        return self.pack.load_N(lift - self.lash_mm) - self.opening_force_N

    def force_reserve(self, crank_rpm: float) -> float:
        """Least ratio of closing force to the force that inertia needs, over the decelerating lobe.

        Above 1 the follower stays on the lobe. It falls with the square of the speed.
        """
        found = self.separation()
        if found is None:
            return math.inf
        return (found.rpm / crank_rpm) ** 2

    def separation(self) -> Separation | None:
        """The separation speed; None where the lobe never decelerates the valve.

        Where gas force alone beats the spring the speed is zero.

        >>> from arcstack.mech.cam.law import SymmetricLobe
        >>> lobe = SymmetricLobe.polynomial(10.4, math.radians(72.0), (2.0, 8.0, 14.0, 20.0))
        >>> found = RigidTrain(lobe, LinearPack(332.0, 36.7), 0.118, 0.25).separation()
        >>> round(found.rpm), round(math.degrees(abs(found.cam_rad)), 1)
        (9385, 25.7)
        """
        line = self.pack.straight()
        found = None if line is None else self._straight_separation(line)
        if found is not None:
            return found
        angles, needed = self._needed_omega2
        if not len(needed):
            return None
        about = angles[np.argmin(needed)]
        # the sample itself stands in the middle, so that one of them always needs the spring
        fine = about + np.linspace(-SAMPLED_RAD, SAMPLED_RAD, 101)
        lift, acceleration = self.valve_law.evaluate(fine), self.valve_law.evaluate(fine, 2)
        needs = _needs_spring(lift, acceleration, self.lash_mm)
        needed = self._closing_N(lift[needs]) / (self.mass_kg * -acceleration[needs] * 1e-3)
        best = int(np.argmin(needed))
        return Separation(float(separation_rpm(needed[best])), float(fine[needs][best]))

    def _straight_separation(self, line: StraightLoad) -> Separation | None:
        """Under a straight load; None where no part of the lobe decelerates or a spring is slack where it would part.

        A slack spring carries more than its line carried on, which is below nought: where the least is taut it stands.
        """
        angles, net, decelerates = may_part(self.valve_law, self.lash_mm)
        if not len(angles):
            return None
        needed = separation_omega2(
            line.seat_N - self.opening_force_N, line.rate_N_per_mm, net, self.mass_kg, decelerates
        )
        best = int(np.argmin(needed))
        if net[best] < line.taut_from_mm:
            return None
        return Separation(float(separation_rpm(needed[best])), float(angles[best]))

    def separation_rpm_about(self) -> float:
        """The separation speed to within a rpm or two: for bands, where many laws are tried."""
        _, needed = self._needed_omega2
        return float(separation_rpm(needed.min())) if len(needed) else math.inf

    @property
    def _needed_omega2(self) -> tuple[Array, Array]:
        """Cam angles where the lobe decelerates the valve, and ω² at which inertia uses up the closing force there."""
        angles, net_lift, deceleration = _decelerating(self.valve_law, self.lash_mm)
        return angles, (self.pack.load_N(net_lift) - self.opening_force_N) / (self.mass_kg * deceleration)
