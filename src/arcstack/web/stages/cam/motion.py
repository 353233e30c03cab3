"""Velocity, acceleration and jerk of a curve, per cam radian and at a speed, as rows."""

import math
from dataclasses import dataclass

from arcstack.assess.context import Context
from arcstack.assess.motion import GRAVITY, Extreme, Of, extremes, touching, valve_law
from arcstack.mech.cam.law import LiftLaw


@dataclass(frozen=True)
class MotionRow:
    """One extreme: on the cam (per radian), at the speed, and where, in cam degrees from the nose."""

    label: str
    on_cam: str
    at_speed: str
    where: str


def motion(law: LiftLaw, rpm: float) -> list[MotionRow]:
    """Extremes of velocity, acceleration and jerk on either flank and over the nose."""
    return [MotionRow(e.label, *_words(e), _at(e.cam_rad)) for e in extremes(law, rpm)]


def _words(e: Extreme) -> tuple[str, str]:
    if e.of is Of.VELOCITY:
        return f"{e.on_cam:.2f} mm/rad", f"{e.at_speed:.2f} m/s"
    if e.of is Of.ACCELERATION:
        return f"{e.on_cam:.1f} mm/rad²", f"{e.at_speed:,.0f} m/s² · {e.at_speed / GRAVITY:,.0f} g"
    return f"{e.on_cam:.0f} mm/rad³", f"{e.at_speed / 1e6:.2f} ·10⁶ m/s³"


def _at(cam_rad: float) -> str:
    return f"{math.degrees(cam_rad):+.1f}°".replace("-", "−")


def motion_rows(ctx: Context, rpm: float) -> list[MotionRow]:
    """The rows of a side's curve; empty while it has none."""
    law = valve_law(ctx)
    if law is None:
        return []
    rows, found = motion(law, rpm), touching(ctx, rpm)
    if found is None:
        return rows
    named = "Radius of curvature, least" if ctx.bucket else "Relative radius, least"
    return [
        *rows,
        MotionRow(named, f"{found.radius_mm:.2f} mm", "–", _at(found.radius_at)),
        MotionRow("Contact force, least", "–", f"{found.force_N:.0f} N", _at(found.force_at)),
        MotionRow(
            "Contact pressure, most", f"{found.pressed_N:.0f} N there", f"{found.pressure_MPa:.0f} MPa",
            _at(found.pressure_at),
        ),
    ]  # fmt: skip
