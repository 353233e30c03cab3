"""How a curve moves its valve: extremes of velocity, acceleration and jerk, and the contact that goes with them."""

from dataclasses import dataclass
from enum import Enum

import numpy as np

from arcstack.assess import cam, contact, control
from arcstack.assess.context import Context, known
from arcstack.mech.cam.facts import grid
from arcstack.mech.cam.law import Array, LiftLaw
from arcstack.mech.control import cam_rad_per_s

GRAVITY = 9.80665


class Of(Enum):
    """What an extreme is of."""

    VELOCITY = 1
    ACCELERATION = 2
    JERK = 3


@dataclass(frozen=True)
class Extreme:
    """One extreme of a law: mm per cam rad to the power of its order, the same at the speed (m, s), where (cam rad)."""

    label: str
    of: Of
    on_cam: float
    at_speed: float
    cam_rad: float


def extremes(law: LiftLaw, rpm: float) -> list[Extreme]:
    """Extremes of velocity, acceleration and jerk on either flank and over the nose.

    v = dL/dθ · ω, a = d²L/dθ² · ω², j = d³L/dθ³ · ω³ with ω of the cam, half the crank's.
    """
    omega, angles = cam_rad_per_s(rpm), grid(law, np.radians(0.1))
    velocity, acceleration, jerk = (law.evaluate(angles, order) for order in (1, 2, 3))

    def at(label: str, of: Of, values: Array, i: int) -> Extreme:
        value = float(values[i])
        return Extreme(label, of, value, value * omega**of.value / 1e3, float(angles[i]))

    flanks = (("opening", angles < 0), ("closing", angles > 0))
    rows = [
        at("Velocity, opening", Of.VELOCITY, velocity, int(np.argmax(velocity))),
        at("Velocity, closing", Of.VELOCITY, velocity, int(np.argmin(velocity))),
    ]
    for name, part in flanks:
        i = int(np.argmax(np.where(part, acceleration, -np.inf)))
        rows.append(at(f"Acceleration, {name} flank", Of.ACCELERATION, acceleration, i))
    rows.append(at("Deceleration, most", Of.ACCELERATION, acceleration, int(np.argmin(acceleration))))
    rows.append(at("Deceleration, nose", Of.ACCELERATION, acceleration, int(np.argmin(np.abs(angles)))))
    for name, part in flanks:
        i = int(np.argmax(np.where(part, np.abs(jerk), -np.inf)))
        rows.append(at(f"Jerk, {name} flank", Of.JERK, jerk, i))
    return rows


@dataclass(frozen=True)
class Touching:
    """Contact of lobe and follower at a speed: mm, N, MPa, each with its cam angle (rad)."""

    radius_mm: float
    radius_at: float
    force_N: float
    force_at: float
    pressure_MPa: float
    pressure_at: float
    pressed_N: float


def touching(ctx: Context, rpm: float) -> Touching | None:
    """Least radius, least force and greatest pressure along the lobe; None while figures are missing."""
    return known(lambda: _touching(ctx, rpm))


def _touching(ctx: Context, rpm: float) -> Touching:
    angles, radius = contact.curvature(ctx)
    force = control.train(ctx).sampled_force_N(rpm)
    pressure, where, there = contact.pressure_at(ctx, rpm, near_nose=False)
    low, least = int(np.argmin(radius)), int(np.nanargmin(force))
    return Touching(
        float(radius[low]), float(angles[low]), float(force[least]), float(angles[least]), pressure, where, there
    )


def valve_law(ctx: Context) -> LiftLaw | None:
    """The side's law at the valve; None while it has none."""
    found = known(lambda: cam.curve(ctx))
    return None if found is None else found.valve
