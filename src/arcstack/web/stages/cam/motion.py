"""Velocity, acceleration and jerk of a curve, per cam radian and at a speed."""

from dataclasses import dataclass

import numpy as np

from arcstack.assess import cam, contact, control
from arcstack.assess.context import Context
from arcstack.errors import NotKnown
from arcstack.mech.cam.facts import grid
from arcstack.mech.cam.law import LiftLaw
from arcstack.mech.control import cam_rad_per_s

GRAVITY = 9.80665


@dataclass(frozen=True)
class MotionRow:
    """One extreme: on the cam (per radian), at the speed, and where, in cam degrees from the nose."""

    label: str
    on_cam: str
    at_speed: str
    where: str


def motion(law: LiftLaw, rpm: float) -> list[MotionRow]:
    """Extremes of velocity, acceleration and jerk on either flank and over the nose.

    v = dL/dθ · ω, a = d²L/dθ² · ω², j = d³L/dθ³ · ω³ with ω of the cam, half the crank's.
    """
    omega = cam_rad_per_s(rpm)
    angles = grid(law, np.radians(0.1))
    velocity, acceleration, jerk = (law.evaluate(angles, order) for order in (1, 2, 3))
    rows = []
    for label, values, pick in (
        ("Velocity, opening", velocity, np.argmax),
        ("Velocity, closing", velocity, np.argmin),
    ):
        i = int(pick(values))
        rows.append(MotionRow(label, f"{values[i]:.2f} mm/rad", f"{values[i] * omega / 1e3:.2f} m/s", _at(angles[i])))
    flanks = ((angles < 0, "opening"), (angles > 0, "closing"))
    for part, name in flanks:
        i = int(np.argmax(np.where(part, acceleration, -np.inf)))
        rows.append(_acceleration(f"Acceleration, {name} flank", acceleration[i], omega, angles[i]))
    i = int(np.argmin(acceleration))
    rows.append(_acceleration("Deceleration, most", acceleration[i], omega, angles[i]))
    nose = int(np.argmin(np.abs(angles)))
    rows.append(_acceleration("Deceleration, nose", acceleration[nose], omega, angles[nose]))
    for part, name in flanks:
        i = int(np.argmax(np.where(part, np.abs(jerk), -np.inf)))
        speed = jerk[i] * omega**3 / 1e9
        rows.append(
            MotionRow(f"Jerk, {name} flank", f"{jerk[i]:.0f} mm/rad³", f"{speed:.2f} ·10⁶ m/s³", _at(angles[i]))
        )
    return rows


def _acceleration(label: str, value: float, omega: float, angle: float) -> MotionRow:
    a = value * omega**2 / 1e3
    return MotionRow(label, f"{value:.1f} mm/rad²", f"{a:,.0f} m/s² · {a / GRAVITY:,.0f} g", _at(angle))


def _at(angle: float) -> str:
    return f"{np.degrees(angle):+.1f}°".replace("-", "−")


def motion_rows(ctx: Context, rpm: float) -> list[MotionRow]:
    """The rows of a side's curve; empty while it has none."""
    try:
        rows = motion(cam.curve(ctx).valve, rpm)
    except NotKnown:
        return []
    return rows + _contact(ctx, rpm)


def _contact(ctx: Context, rpm: float) -> list[MotionRow]:
    """Radius along the lobe, and contact force and pressure at the speed; nothing while figures are missing."""
    try:
        angles, radius = contact.curvature(ctx)
        force = control.train(ctx).sampled_force_N(rpm)
        pressure, where, there = contact.pressure_at(ctx, rpm, near_nose=False)
    except NotKnown:
        return []
    low = int(np.argmin(radius))
    least = int(np.nanargmin(force))
    return [
        MotionRow(
            f"{'Radius of curvature' if ctx.bucket else 'Relative radius'}, least",
            f"{radius[low]:.2f} mm",
            "–",
            _at(angles[low]),
        ),
        MotionRow("Contact force, least", "–", f"{force[least]:.0f} N", _at(angles[least])),
        MotionRow("Contact pressure, most", f"{there:.0f} N there", f"{pressure:.0f} MPa", _at(where)),
    ]
