"""An elastic valvetrain: one valve on a stiff, damped train, held by springs that are chains of coils."""

import math
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np

from arcstack.cached import cached_property
from arcstack.mech.cam.law import Array, LiftLaw

COILS = 12
"""Masses in the chain of each spring."""

CLASH_FACTOR = 20.0
"""How much stiffer a coil gets once it lies on the next."""

_TABLE_STEP_RAD = math.radians(0.1)


@lru_cache(64)
def _lobe(law: LiftLaw) -> tuple[float, float, Array, Array]:
    start, end = law.support_rad
    count = math.ceil((end - start) / _TABLE_STEP_RAD)
    angles = np.linspace(start, end, count + 1)
    lift, slope = (law.evaluate(angles, order) / 1000.0 for order in (0, 1))
    return start, (end - start) / count, np.ascontiguousarray(lift), np.ascontiguousarray(slope)


@dataclass(frozen=True)
class Chain:
    """One spring as it stands on the closed valve: N, N/mm, N/mm², mm, kg.

    Its load over lift x is load + rate·x + stiffening·x². ``to_solid_mm`` is travel from closed until it is solid.
    ``mass_kg`` is that of its active coils; a spring with no mass, or no ``coils``, is a plain force.
    """

    load_N: float
    rate_N_per_mm: float
    to_solid_mm: float
    mass_kg: float = 0.0
    stiffening_N_per_mm2: float = 0.0
    coils: int = COILS

    def load_at_N(self, lift_mm: Array) -> Array:
        """Its load over lift, standing still.

        >>> float(Chain(300.0, 32.0, 12.0, stiffening_N_per_mm2=0.5).load_at_N(np.array([10.0]))[0])
        670.0
        """
        load: Array = self.load_N + lift_mm * (self.rate_N_per_mm + self.stiffening_N_per_mm2 * lift_mm)
        return load

    @property
    def masses(self) -> int:
        return self.coils if self.mass_kg > 0.0 else 0

    def frequencies_Hz(self, modes: int = 3) -> list[float]:
        """The chain's own frequencies with both ends held: (1/π)·√(k_s/m_s)·sin(jπ/2(n+1)), k_s and m_s of one link.

        >>> Chain(300.0, 32.662272, 12.0, 0.036153802, coils=400).frequencies_Hz(1)[0].__round__(1)
        475.2
        """
        links = self.masses + 1
        stiffness, mass = self.rate_N_per_mm * 1000.0 * links, self.mass_kg / links
        return [math.sqrt(stiffness / mass) / math.pi * math.sin(j * math.pi / 2 / links) for j in range(1, modes + 1)]


@dataclass(frozen=True)
class Train:
    """What the model turns: law of lift at the valve before lash, mm; mass without the springs' own coils, kg.

    Contact of cam and valve is ``stiffness`` with ``damping_ratio`` of critical; so is that of valve and seat.
    ``friction_N`` rubs along the coils, in all: of the two springs on each other, or of one on a still coil;
    ``coil_damping`` is the springs' own, of critical.
    """

    valve_law: LiftLaw
    mass_kg: float
    springs: tuple[Chain, ...]
    lash_mm: float
    stiffness_N_per_mm: float
    damping_ratio: float
    seat_stiffness_N_per_mm: float = 90_000.0
    seat_damping_ratio: float = 0.15
    opening_force_N: float = 0.0
    friction_N: float = 0.0
    coil_damping: float = 0.01

    def __post_init__(self) -> None:
        if self.mass_kg <= 0:
            raise ValueError("the moving mass must be above zero")
        if self.stiffness_N_per_mm <= 0 or self.seat_stiffness_N_per_mm <= 0:
            raise ValueError("train and seat must have some stiffness")

    @property
    def moving_mass_kg(self) -> float:
        """Mass as a rigid train has it: a third of each spring goes with the valve."""
        return self.mass_kg + sum(s.mass_kg for s in self.springs) / 3.0

    @property
    def lobe(self) -> tuple[float, float, Array, Array]:
        """The follower's table for the step loop: first angle, step, lift (m), slope (m/rad)."""
        return _lobe(self.valve_law)

    @cached_property
    def constants(self) -> Array:
        m = self.moving_mass_kg
        stiffness, seat = self.stiffness_N_per_mm * 1000.0, self.seat_stiffness_N_per_mm * 1000.0
        return np.array(
            [
                self.lash_mm / 1000.0,
                self.mass_kg,
                stiffness,
                2.0 * self.damping_ratio * math.sqrt(stiffness * m),
                seat,
                2.0 * self.seat_damping_ratio * math.sqrt(seat * m),
                self.opening_force_N,
                self.friction_N,
                self.coil_damping,
            ]
        )

    @cached_property
    def chains(self) -> Array:
        return np.array(
            [
                [
                    s.load_N,
                    s.rate_N_per_mm * 1e3,
                    s.stiffening_N_per_mm2 * 1e6,
                    max(s.to_solid_mm, 0.0) / 1000.0,
                    s.mass_kg,
                    s.masses,
                    CLASH_FACTOR,
                ]
                for s in self.springs
            ]
        )

    def make_ready(self) -> None:
        """Work out what the step loop takes, which is then kept."""
        _ = self.lobe, self.constants, self.chains

    @property
    def fastest_rad_per_s(self) -> float:
        """Highest frequency in the train, that of coils which touch included; a step must be well below its inverse."""
        m = self.mass_kg
        found = [math.sqrt(k * 1000.0 / m) for k in (self.stiffness_N_per_mm, self.seat_stiffness_N_per_mm)]
        for s in self.springs:
            if s.masses:
                links = s.masses + 1
                most = s.rate_N_per_mm + 2.0 * abs(s.stiffening_N_per_mm2) * max(s.to_solid_mm, 0.0)
                link = most * 1000.0 * links * (1.0 + CLASH_FACTOR)
                found.append(2.0 * math.sqrt(link * links / s.mass_kg))
        return max(found)

    def with_assumed(self, **figures: float) -> "Train":
        """The same train with other figures for what is assumed of it, by the names of its fields."""
        changes: dict[str, Any] = dict(figures)
        return replace(self, **changes)
