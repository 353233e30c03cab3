"""Events on any basis, overlap, and the two heads in it."""

import math

from arcstack.assess import cam
from arcstack.assess.context import Context, figure
from arcstack.checks import Figure
from arcstack.mech import timing, valve_to_valve
from arcstack.units import ANGLE, LENGTH

OVERLAP_LIFT_MM = 1.0


def events(ctx: Context, lift_at_valve_mm: float, advance_rad: float = 0.0) -> timing.Events:
    """Events at a lift of the valve before lash. Raises ``ValueError`` where the curve does not reach it."""
    return timing.events(cam.curve(ctx).valve, lift_at_valve_mm, cam.nose_crank_rad(ctx), advance_rad)


def _worst_phase(intake: Context, exhaust: Context) -> tuple[Figure, Figure]:
    return (
        intake.absent("cam.phaser_advance", "φ₊", "no advance"),
        exhaust.absent("cam.phaser_retard", "φ₋", "no retard"),
    )


@figure
def overlap(ctx: Context) -> Figure:
    """Overlap at 1 mm of net lift, phasers at their most."""
    if not ctx.intake:
        return overlap(ctx.other)
    intake, exhaust = ctx, ctx.other
    advance, retard = _worst_phase(intake, exhaust)
    opens = events(intake, OVERLAP_LIFT_MM + cam.lash(intake).value, advance.value)
    closes = events(exhaust, OVERLAP_LIFT_MM + cam.lash(exhaust).value, -retard.value)
    parked = timing.overlap_rad(
        events(intake, OVERLAP_LIFT_MM + cam.lash(intake).value),
        events(exhaust, OVERLAP_LIFT_MM + cam.lash(exhaust).value),
    )
    value = timing.overlap_rad(opens, closes)
    note = f"Intake {_tdc('opens', opens.opens_rad)}, exhaust {_tdc('closes', closes.closes_rad)}"
    note += f"; parked {math.degrees(parked):.0f}°."
    return Figure.calculated(
        "Ω", "Overlap at 1 mm net, phased", value, ANGLE, "Ω = intake opening BTDC + exhaust closing ATDC",
        cam.curve(intake).origin, cam.curve(exhaust).origin, cam.centreline(intake), cam.centreline(exhaust),
        advance, retard, note=note,
    )  # fmt: skip


def _tdc(does: str, angle: float) -> str:
    degrees = math.degrees(angle)
    return f"{does} {abs(degrees):.0f}° {'after' if degrees >= 0 else 'before'} TDC"


@figure
def valve_gap(ctx: Context) -> Figure:
    """Closest approach of the two heads through overlap, phasers at their most, lash at zero."""
    if not ctx.intake:
        return valve_gap(ctx.other)
    intake, exhaust = ctx, ctx.other
    ctx.need("engine.valve_spacing")
    intake.need("stack.valve.head", "clearance.valve_angle")
    exhaust.need("stack.valve.head", "clearance.valve_angle")
    spacing = ctx.entry("engine.valve_spacing", "a")
    advance, retard = _worst_phase(intake, exhaust)
    heads, inputs = [], [spacing]
    for side, sign in ((intake, 1.0), (exhaust, -1.0)):
        head, angle = side.entry("stack.valve.head", "d_v"), side.entry("clearance.valve_angle", "α")
        heads.append(valve_to_valve.Head(sign * spacing.value / 2.0, head.value / 2.0, angle.value))
        inputs += [head, angle, cam.curve(side).origin, cam.centreline(side)]
    found = valve_to_valve.closest_approach(
        heads[0], heads[1], cam.curve(intake).valve, cam.curve(exhaust).valve,
        cam.nose_crank_rad(intake) - advance.value, cam.nose_crank_rad(exhaust) + retard.value,
    )  # fmt: skip
    where = math.degrees(found.crank_rad)
    place = f"{abs(where):.0f}° {'after' if where >= 0 else 'before'} TDC"
    note = f"Least at {place}, phasers at their most. Lash taken as nothing."
    return Figure.calculated(
        "v_v", "Valve to valve", found.gap_mm, LENGTH, "v_v = least distance of the heads, edge on, through overlap",
        *inputs, advance, retard, note=note,
    )  # fmt: skip
