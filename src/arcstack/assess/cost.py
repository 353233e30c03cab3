"""What the springs cost at the cam: nose pressure, drive torque, friction power."""

from dataclasses import replace

import numpy as np

from arcstack.assess import cam, contact, control
from arcstack.assess.check import Check, Mover, Named
from arcstack.assess.context import Context, figure, length
from arcstack.checks import Figure, Limit
from arcstack.document.parts import Meets
from arcstack.mech import cost as model
from arcstack.mech.cam.facts import samples
from arcstack.mech.cam.law import Array
from arcstack.mech.control import cam_rad_per_s
from arcstack.units import COUNT, FORCE, POWER, SPEED, STRESS, TORQUE, show


def rolls(ctx: Context) -> bool:
    """Whether a roller meets the lobe."""
    return not ctx.bucket and ctx.lever.meets is Meets.ROLLER


@figure
def coefficient(ctx: Context) -> Figure:
    """Friction of the follower on its lobe: of a slide, or of a roller and its bearing."""
    if rolls(ctx):
        return ctx.assumption("control.friction_coefficient.roller", "μ", "Friction of roller on lobe, rolling")
    return ctx.assumption("control.friction_coefficient", "μ", "Friction of follower on lobe, sliding")


@figure
def _contact(ctx: Context) -> tuple[Array, Array, Array, float]:
    """Cam angles, lobe lift, slope at the valve, base radius."""
    curve, base = cam.curve(ctx), ctx.entry("cam.base_circle", "D_c")
    taken = samples(curve.valve)
    return taken.angle, curve.lobe.evaluate(taken.angle), taken.velocity, base.value / 2.0


def _lobe_force(ctx: Context, rpm: float) -> tuple[Array, Array]:
    """Force at the valve and at the lobe over the curve's samples."""
    force = control.train(ctx).sampled_force_N(rpm)
    return force, contact.lobe_force(ctx, force)


def power_at(ctx: Context, rpm: float) -> float:
    """Friction of one valve at a crank speed, W."""
    angle, lift, _, radius = _contact(ctx)
    _, force = _lobe_force(ctx, rpm)
    return model.friction_power_W(angle, force, radius, lift, coefficient(ctx).value, cam_rad_per_s(rpm))


def torque_at(ctx: Context, rpm: float) -> Array:
    """Torque of one lobe over the cam angle of the curve's samples, N·m."""
    _, lift, slope, radius = _contact(ctx)
    force, lobe = _lobe_force(ctx, rpm)
    return model.drive_torque_Nm(force, slope, lobe, radius, lift, coefficient(ctx).value)


def _usual(ctx: Context) -> Figure:
    return ctx.entry("brief.usual_speed", "n_u")


@figure
def friction(ctx: Context) -> Figure:
    """Friction power of one valve at the usual speed."""
    ctx.need("brief.usual_speed", "cam.base_circle")
    speed, base = _usual(ctx), ctx.entry("cam.base_circle", "D_c")
    value = power_at(ctx, speed.value)
    inputs = (coefficient(ctx), base, control.train_figures(ctx), speed)
    rub = Figure.calculated(
        "M_f", "Rub on the lobe, mean of a cam turn", value / cam_rad_per_s(speed.value), TORQUE,
        "mean over the turn of μ·F·(D_c/2 + L), F the force at the lobe", *inputs,
    )  # fmt: skip
    how = "Rolling, not sliding." if rolls(ctx) else "Sliding."
    note = f"At {show(speed.value, SPEED)}, one valve. {how}"
    return Figure.calculated(
        "P_f", "Friction power, one valve", value, POWER, "P_f = M_f·π·n_u/60", rub, speed, note=note
    )


@figure
def friction_head(ctx: Context) -> Figure:
    """Friction power of all valves of this side."""
    ctx.need("engine.cylinders", "engine.valves_per_cylinder")
    one, cylinders = friction(ctx), ctx.entry("engine.cylinders", "z")
    valves = ctx.entry("engine.valves_per_cylinder", "z_v")
    odd = int(valves.value) % 2
    formula = "n_v = z·z_v/2" if not odd else f"n_v = z·(z_v {'+' if ctx.intake else '−'} 1)/2"
    note = "Of an odd number one more is an intake valve." if odd else ""
    label = f"{ctx.side_name.capitalize()} valves"
    count = Figure.calculated("n_v", label, ctx.places, COUNT, formula, cylinders, valves, note=note)
    return Figure.by("Friction power, this side", POWER, "P_Σ = n_v·P_f", count, one)


@figure
def peak_torque(ctx: Context) -> Figure:
    """Most torque one lobe asks at the usual speed."""
    ctx.need("brief.usual_speed", "cam.base_circle")
    speed = _usual(ctx)
    torque = torque_at(ctx, speed.value)
    at = int(np.argmax(torque))
    angle, lift, slope, _ = _contact(ctx)
    force, lobe = _lobe_force(ctx, speed.value)
    origin, train = cam.curve(ctx).origin, control.train_figures(ctx)
    along = [
        Figure.calculated(
            "F_v", "Force at the valve there", max(float(force[at]), 0.0), FORCE, "worked along the lobe", train, speed,
        ),
        length("V′", "Slope of valve lift there, per cam rad", float(slope[at]), "read off the lift curve", origin),
        Figure.calculated(
            "F", "Force at the lobe there", max(float(lobe[at]), 0.0), FORCE, "F_v · dV/dL", train, cam.ratio(ctx),
        ),
        length("L", "Lobe lift there", float(lift[at]), "read off the lift curve", origin),
    ]  # fmt: skip
    note = (
        f"Most at {abs(np.degrees(angle[at])):.0f} cam degrees before the nose; the closing flank gives back "
        f"{show(-float(np.nanmin(torque)), TORQUE)}."
    )
    return Figure.calculated(
        "T", "Cam torque, one lobe", float(torque[at]), TORQUE, "T = (F_v·V′ + μ·F·(D_c/2 + L))/1000", *along,
        coefficient(ctx), ctx.entry("cam.base_circle", "D_c"), note=note,
    )  # fmt: skip


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
        waiver=share.waiver or most.waiver,
        tight=share.tight * most.high,
        dimension=STRESS,
        reason=f"{share.high:g} of {show(most.high, STRESS)} for this pair. {share.reason}",
    )


def _bare_nose(ctx: Context) -> float:
    return nose_pressure_at(ctx, _usual(ctx).value)


def _bare_friction(ctx: Context) -> float:
    return power_at(ctx, _usual(ctx).value)


def _counts(ctx: Context) -> bool:
    """What spring load costs: a school that is heavy for power shows it and does not judge it."""
    return ctx.practice.schools.load != "heavy"


CHECKS = (
    Check(
        "control.nose_pressure",
        "Nose, usual speed",
        "control",
        "Pressure that the springs keep on the nose all day.",
        work=nose_pressure,
        bare=lambda ctx: _bare_nose(ctx),
        limit=nose_limit,
        judges=_counts,
        on_curve=True,
        moved_by=(Mover.HEIGHT,),
    ),
    Check(
        "control.friction",
        "Friction",
        "control",
        "Power one valve costs at the usual speed.",
        work=friction,
        bare=lambda ctx: _bare_friction(ctx),
        limit="control.friction",
        judges=_counts,
        on_curve=True,
        moved_by=(Mover.HEIGHT,),
    ),
)

FIGURES = (
    Named("cost.nose_pressure", "Nose pressure, usual speed", nose_pressure),
    Named("cost.torque", "Cam torque, one lobe", peak_torque),
    Named("cost.friction", "Friction power, one valve", friction),
    Named("cost.friction_head", "Friction power, this side", friction_head),
)
