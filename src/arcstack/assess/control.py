"""Rigid-train separation speed and the force left at limiter and overspeed."""

import math
from dataclasses import dataclass, replace

import numpy as np

from arcstack.assess import cam, gas, spring
from arcstack.assess.check import Check, Mover, Named, Says
from arcstack.assess.context import Context, figure, length
from arcstack.checks import Evidence, Figure, Limit, Missing, Sense
from arcstack.errors import MissingInput
from arcstack.mech.cam.facts import lift_and_bend, samples
from arcstack.mech.cam.law import LiftLaw
from arcstack.mech.control import RigidTrain as RigidTrain
from arcstack.mech.control import cam_rad_per_s
from arcstack.units import ANGLE, FORCE, RATIO, SPEED, show


@dataclass(frozen=True)
class Separated:
    """A separation speed and the cam angle from the nose where the follower leaves the lobe."""

    speed: Figure
    angle: Figure
    train: RigidTrain


@figure
def train(ctx: Context) -> RigidTrain:
    """The rigid train held by its spring alone."""
    return RigidTrain(
        cam.curve(ctx).valve,
        spring.pack(ctx),
        spring.moving_mass(ctx).value,
        cam.lash(ctx).value,
    )


@figure
def train_figures(ctx: Context) -> Figure:
    """What the train is made of, as one figure to hang workings on."""
    open_, mass, lash, origin = spring.open_load(ctx), spring.moving_mass(ctx), cam.lash(ctx), cam.curve(ctx).origin
    inputs = (open_, spring.seat_load(ctx), mass, lash, origin)
    label = "Springs on the train, at full lift"
    return Figure.calculated("F_Σ", label, open_.value, FORCE, "F_Σ = O_Σ", *inputs)


@figure
def judged_train(ctx: Context) -> RigidTrain:
    """The train with the gas force that the practice takes off."""
    if not ctx.practice.schools.gas_in_separation:
        return train(ctx)
    return replace(train(ctx), opening_force_N=max(gas.difference_force(ctx).value, 0.0))


def lift_there(ctx: Context, law: LiftLaw, cam_rad: float) -> tuple[Figure, Figure]:
    """Net lift and acceleration of the valve at a cam angle, read off the curve."""
    origin, lash = cam.curve(ctx).origin, cam.lash(ctx)
    lift, bend = lift_and_bend(law, cam_rad)
    gross = length("V", "Valve lift there", lift, "read off the lift curve", origin)
    return (
        length("x", "Net lift there", lift - lash.value, "x = V − s", gross, lash),
        length("V″", "Acceleration there, per cam rad²", bend, "read off the lift curve", origin),
    )


def _gas_taken_off(ctx: Context, with_gas: bool) -> tuple[str, list[Figure]]:
    """How gas stands in a formula, and its figure."""
    return (" − max(G_d, 0)", [gas.difference_force(ctx)]) if with_gas else ("", [])


def _separation(ctx: Context, with_gas: bool) -> Separated:
    curve, mass = cam.curve(ctx), spring.moving_mass(ctx)
    less, gas_force = _gas_taken_off(ctx, with_gas)
    held = replace(train(ctx), opening_force_N=max(gas_force[0].value, 0.0) if gas_force else 0.0)
    found = held.separation()
    if found is None:
        raise MissingInput(Missing(ctx.path("cam.durations.1.duration"), "A curve that decelerates"))
    angle = math.degrees(abs(found.cam_rad))
    tried = [replace(held, valve_law=other.valve).separation_rpm_about() for other in curve.others]
    band = cam.spread(ctx, found.rpm, [rpm for rpm in tried if math.isfinite(rpm)])
    lift, bend = lift_there(ctx, held.valve_law, found.cam_rad)
    load = spring.load_at(ctx, lift)
    formula = f"n_s = 60/π·√(10⁶·max({load.symbol}{less}, 0)/(m·|V″|))"
    label = "Separation speed" + (", gas taken off" if with_gas else ", spring alone")
    note = f"Least at {angle:.1f} cam degrees from the nose. Rigid train: flex and spring surge make it lower."
    note += " g and mm make 10⁶."
    if band:
        note += f" The curve leaves {show(band[0], SPEED)} to {show(band[1], SPEED)} open."
    speed = Figure.calculated(
        "n_s", label, found.rpm, SPEED, formula, load, *gas_force, mass, bend, note=note, band=band
    )
    where = Figure.calculated("θ_s", "Parts at, from the nose", abs(found.cam_rad), ANGLE, "where that least is", speed)
    return Separated(speed, where, held)


@figure
def separation_spring_alone(ctx: Context) -> Separated:
    return _separation(ctx, with_gas=False)


@figure
def separation_with_gas(ctx: Context) -> Separated:
    return _separation(ctx, with_gas=True)


@figure
def separation(ctx: Context) -> Separated:
    """The one the practice judges."""
    return separation_with_gas(ctx) if ctx.practice.schools.gas_in_separation else separation_spring_alone(ctx)


@figure
def _bare_separation(ctx: Context) -> float:
    """The judged separation speed alone, rpm."""
    found = judged_train(ctx).separation()
    if found is None:
        raise MissingInput(Missing(ctx.path("cam.durations.1.duration"), "A curve that decelerates"))
    return found.rpm


def separation_speed(ctx: Context) -> Figure:
    """The judged separation speed; that no overspeed was said, to which it would be held, is one of its leaves."""
    found = separation(ctx).speed
    if ctx.given("brief.overspeed"):
        return found
    words = "Overspeed is not stated: held to the limiter alone."
    silent = Figure(
        "n_o", "Overspeed: not stated", ctx.entry("brief.limiter", "n_l").value, SPEED, Evidence.ASSUMED,
        "brief.overspeed", note=words, unsaid=True,
    )  # fmt: skip
    return replace(found, inputs=(*found.inputs, silent), note=f"{found.note} {words}".strip())


@figure
def separation_limit(ctx: Context) -> Limit:
    """Speed that separation must reach: the practice's share of the limiter, and never below overspeed."""
    share = ctx.limit("control.separation")
    limiter = ctx.entry("brief.limiter", "n_l")
    assert share.low is not None
    low, by = limiter.value * share.low, f"{share.low:g} × limiter {show(limiter.value, SPEED)}"
    if ctx.given("brief.overspeed"):
        over = ctx.entry("brief.overspeed", "n_o")
        if over.value > low:
            low, by = over.value, f"overspeed {show(over.value, SPEED)} governs"
    reason, tight = f"{by}. {share.reason}", share.tight * limiter.value
    return replace(share, sense=Sense.AT_LEAST, low=low, high=None, tight=tight, dimension=SPEED, reason=reason)


@figure
def force_reserve(ctx: Context, path: str) -> Figure:
    """Closing force over what inertia needs, at a speed of the brief, where it is least."""
    at = ctx.entry(path, "n")
    found = separation(ctx)
    ends = found.speed.band
    return Figure.by(
        f"Force reserve at {at.label.lower()}",
        RATIO,
        "q = (n_s/n)²",
        found.speed,
        at,
        note="Above 1 the follower stays on the lobe.",
        band=((ends[0] / at.value) ** 2, (ends[1] / at.value) ** 2) if ends else None,
    )


@figure
def force_reserve_limiter(ctx: Context) -> Figure:
    return force_reserve(ctx, "brief.limiter")


@figure
def least_force_overspeed(ctx: Context) -> Figure:
    """Force that still holds the follower to the lobe at overspeed, where it is least."""
    speed = ctx.entry("brief.overspeed", "n_o")
    held = judged_train(ctx)
    force = held.sampled_force_N(speed.value)
    at = int(np.nanargmin(force))
    there = float(samples(held.valve_law).angle[at])
    lift, bend = lift_there(ctx, held.valve_law, there)
    load, push = spring.load_at(ctx, lift), inertia(spring.moving_mass(ctx), bend, speed)
    less, gas_force = _gas_taken_off(ctx, ctx.practice.schools.gas_in_separation)
    return Figure.calculated(
        "F_c",
        "Least contact force, overspeed",
        float(force[at]),
        FORCE,
        f"F_c = {load.symbol} + {push.symbol}{less}",
        load,
        push,
        *gas_force,
        note=f"Least at {abs(math.degrees(there)):.0f} cam degrees from the nose.",
    )


def lifted_rad(train: RigidTrain) -> float:
    """Cam angle from the nose up to which the valve is off its seat, on the flank where it is the longer."""
    taken = samples(train.valve_law)
    return float(np.abs(taken.angle[taken.lift > train.lash_mm]).max())


def inertia(mass: Figure, bend: Figure, speed: Figure) -> Figure:
    """Inertia of the moving mass at a speed, positive where it presses on the lobe."""
    value = mass.value * bend.value * 1e-3 * cam_rad_per_s(speed.value) ** 2
    formula = f"F_m = {mass.symbol}·{bend.symbol}·(π·{speed.symbol}/60)²/10⁶"
    note = "g and mm make 10⁶."
    return Figure.calculated("F_m", "Inertia there", value, FORCE, formula, mass, bend, speed, note=note)


@figure
def separation_settled(ctx: Context) -> Figure:
    """Separation speed once the springs have lost what new ones lose."""
    held, loss = replace(judged_train(ctx), pack=spring.settled_pack(ctx)), spring.load_loss(ctx)
    found = held.separation()
    if found is None:
        raise MissingInput(Missing(ctx.path("cam.durations.1.duration"), "A curve that decelerates"))
    lift, bend = lift_there(ctx, held.valve_law, found.cam_rad)
    load, mass = spring.load_at(ctx, lift), spring.moving_mass(ctx)
    less, gas_force = _gas_taken_off(ctx, ctx.practice.schools.gas_in_separation)
    formula = f"n_s′ = 60/π·√(10⁶·max({load.symbol}·(1 − ℓ){less}, 0)/(m·|V″|))"
    return Figure.calculated(
        "n_s′", "Separation, springs settled", found.rpm, SPEED, formula, load, loss, *gas_force, mass, bend
    )


CHECKS = (
    Check(
        "control.separation",
        "Separation",
        "control",
        "Speed at which the spring no longer holds the follower to the lobe.",
        work=separation_speed,
        bare=lambda ctx: _bare_separation(ctx),
        limit=separation_limit,
        moved_by=(Mover.HEIGHT,),
    ),
    Check(
        "control.force_reserve",
        "Force reserve",
        "control",
        "Closing force over what inertia needs at the limiter, where it is least.",
        work=force_reserve_limiter,
        bare=lambda ctx: (_bare_separation(ctx) / ctx.entry("brief.limiter", "n").value) ** 2,
        limit="control.force_reserve",
        moved_by=(Mover.HEIGHT,),
    ),
    Check(
        "control.overspeed",
        "Held at overspeed",
        "control",
        "Contact force left on the lobe at overspeed.",
        work=least_force_overspeed,
        bare=lambda ctx: float(np.nanmin(judged_train(ctx).sampled_force_N(ctx.entry("brief.overspeed", "n_o").value))),
        limit="control.overspeed",
        on_curve=True,
        moved_by=(Mover.HEIGHT,),
        says=Says.ALWAYS,
    ),
)

FIGURES = (
    Named("control.separation_alone", "Separation, spring alone", lambda ctx: separation_spring_alone(ctx).speed),
    Named("control.separation_gas", "Separation, gas taken off", lambda ctx: separation_with_gas(ctx).speed),
    Named("control.reserve_limiter", "Force reserve at limiter", lambda ctx: force_reserve(ctx, "brief.limiter")),
    Named("control.reserve_overspeed", "Force reserve at overspeed", lambda ctx: force_reserve(ctx, "brief.overspeed")),
    Named("control.least_overspeed", "Least contact force, overspeed", least_force_overspeed),
    Named("control.separation_settled", "Separation, springs settled", separation_settled),
)
