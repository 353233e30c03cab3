"""What the springs cost at the cam: nose pressure, drive torque, friction power."""

from dataclasses import replace

import numpy as np

from arcstack.assess import cam, contact, control
from arcstack.assess.context import Context, figure
from arcstack.checks import Figure, Limit
from arcstack.mech import cost
from arcstack.mech.cam.facts import samples
from arcstack.mech.cam.law import Array
from arcstack.mech.control import cam_rad_per_s
from arcstack.units import COUNT, POWER, SPEED, STRESS, TORQUE, show


@figure
def coefficient(ctx: Context) -> Figure:
    return ctx.assumption("control.friction_coefficient", "μ", "Friction of follower on lobe")


@figure
def _contact(ctx: Context) -> tuple[Array, Array, Array, float]:
    """Cam angles, lobe lift, slope at the valve, base radius."""
    curve, base = cam.curve(ctx), ctx.entry("cam.base_circle", "D_c")
    taken = samples(curve.valve)
    return taken.angle, curve.lobe.evaluate(taken.angle), taken.velocity, base.value / 2.0


def power_at(ctx: Context, rpm: float) -> float:
    """Friction of one valve at a crank speed, W."""
    angle, lift, _, radius = _contact(ctx)
    force = control.train(ctx).sampled_force_N(rpm) * cam.ratio(ctx).value
    return cost.friction_power_W(angle, force, radius, lift, coefficient(ctx).value, cam_rad_per_s(rpm))


def torque_at(ctx: Context, rpm: float) -> Array:
    """Torque of one lobe over the cam angle of the curve's samples, N·m."""
    _, lift, slope, radius = _contact(ctx)
    force = control.train(ctx).sampled_force_N(rpm)
    return cost.drive_torque_Nm(force, slope, force * cam.ratio(ctx).value, radius, lift, coefficient(ctx).value)


def _usual(ctx: Context) -> Figure:
    return ctx.entry("brief.usual_speed", "n_u")


@figure
def friction(ctx: Context) -> Figure:
    """Friction power of one valve at the usual speed."""
    ctx.need("brief.usual_speed", "cam.base_circle")
    speed, base = _usual(ctx), ctx.entry("cam.base_circle", "D_c")
    value = power_at(ctx, speed.value)
    inputs = (coefficient(ctx), base, control.train_figures(ctx), speed)
    note = f"At {show(speed.value, SPEED)}, one valve."
    return Figure.calculated(
        "P_f", "Friction power, one valve", value, POWER, "P_f = ω/2π · ∮ μ·F·(D_c/2 + L) dθ", *inputs, note=note
    )


@figure
def friction_head(ctx: Context) -> Figure:
    """Friction power of all valves of this side."""
    ctx.need("engine.cylinders", "engine.valves_per_cylinder")
    one, cylinders = friction(ctx), ctx.entry("engine.cylinders", "z")
    valves = ctx.entry("engine.valves_per_cylinder", "z_v")
    mine = max(valves.value // 2, 1.0) if ctx.intake or valves.value % 2 == 0 else valves.value - valves.value // 2
    count = Figure.calculated(
        "n_v",
        f"{ctx.side_name.capitalize()} valves",
        mine * cylinders.value,
        COUNT,
        "n_v = z · z_v/2",
        cylinders,
        valves,
    )
    return Figure.calculated(
        "P_Σ", "Friction power, this side", one.value * count.value, POWER, "P_Σ = n_v · P_f", count, one
    )


@figure
def peak_torque(ctx: Context) -> Figure:
    """Most torque one lobe asks at the usual speed."""
    ctx.need("brief.usual_speed", "cam.base_circle")
    speed = _usual(ctx)
    torque = torque_at(ctx, speed.value)
    at = int(np.argmax(torque))
    angle = _contact(ctx)[0]
    inputs = (control.train_figures(ctx), coefficient(ctx), ctx.entry("cam.base_circle", "D_c"), speed)
    note = (
        f"Most at {abs(np.degrees(angle[at])):.0f} cam degrees before the nose; the closing flank gives back "
        f"{show(-float(torque.min()), TORQUE)}."
    )
    return Figure.calculated(
        "T", "Cam torque, one lobe", float(torque[at]), TORQUE, "T = F·dL/dθ + μ·F·(D_c/2 + L)", *inputs, note=note
    )


def nose_pressure_at(ctx: Context, rpm: float) -> float:
    """Contact pressure on the nose at a speed, MPa; nothing where the follower has left it."""
    return contact.pressure_at(ctx, rpm, near_nose=True)[0]


@figure
def nose_pressure(ctx: Context) -> Figure:
    """Pressure on the nose at the usual speed, all day long."""
    return contact.pressure(ctx, "p_u", "Nose pressure, usual speed", [_usual(ctx)], near_nose=True)


def nose_limit(ctx: Context) -> Limit:
    """The share that the practice lets the nose carry all day of what its materials bear."""
    share, most = ctx.limit("control.nose_pressure"), contact.pressure_limit(ctx, "follower.contact_pressure.nose")
    assert share.high is not None
    assert most.high is not None
    return replace(
        share,
        high=share.high * most.high,
        tight=share.tight * most.high,
        dimension=STRESS,
        reason=f"{share.high:g} of {show(most.high, STRESS)} for this pair. {share.reason}",
    )
