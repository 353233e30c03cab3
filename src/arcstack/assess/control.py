"""Rigid-train separation speed and the force left at limiter and overspeed."""

import math
from dataclasses import dataclass, replace

import numpy as np

from arcstack.assess import cam, gas, spring
from arcstack.assess.context import Context, MissingInput, figure
from arcstack.checks import Figure, Limit, Missing, Sense
from arcstack.mech.cam.facts import samples
from arcstack.mech.control import RigidTrain
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
    curve, seat, rate = cam.curve(ctx), spring.seat_load(ctx), spring.pack_rate(ctx)
    mass, lash = spring.moving_mass(ctx), cam.lash(ctx)
    value = spring.open_load(ctx).value
    formula = "F_Σ(x) = S_Σ + k_Σ·x, over net lift x"
    return Figure.calculated(
        "F_Σ", "Springs on the train, at full lift", value, FORCE, formula, seat, rate, mass, lash, curve.origin
    )


@figure
def judged_train(ctx: Context) -> RigidTrain:
    """The train with the gas force that the practice takes off."""
    if not ctx.practice.schools.gas_in_separation:
        return train(ctx)
    return replace(train(ctx), opening_force_N=max(gas.difference_force(ctx).value, 0.0))


def _separation(ctx: Context, with_gas: bool) -> Separated:
    curve, seat, rate = cam.curve(ctx), spring.seat_load(ctx), spring.pack_rate(ctx)
    mass, lash = spring.moving_mass(ctx), cam.lash(ctx)
    inputs = [seat, rate, mass, lash, curve.origin]
    force = 0.0
    if with_gas:
        gas_force = gas.difference_force(ctx)
        force = max(gas_force.value, 0.0)
        inputs.insert(2, gas_force)
    held = replace(train(ctx), opening_force_N=force)
    found = held.separation()
    if found is None:
        raise MissingInput(Missing(ctx.path("cam.duration_1.duration"), "A curve that decelerates"))
    angle = math.degrees(abs(found.cam_rad))
    tried = [replace(held, valve_law=law).separation_rpm_about() for law in curve.others]
    band = (min(found.rpm, *tried), max(found.rpm, *tried)) if tried else None
    formula = "n = (60/π)·√(min over θ of (S_Σ + k_Σ·(L(θ) − s)" + (" − G_d" if with_gas else "") + ") / (m·|L″(θ)|))"
    label = "Separation speed" + (", gas taken off" if with_gas else ", spring alone")
    note = f"Least at {angle:.1f} cam degrees from the nose. Rigid train: flex and spring surge make it lower."
    if band:
        note += f" The card leaves {show(band[0], SPEED)} to {show(band[1], SPEED)} open."
    speed = Figure.calculated("n_s", label, found.rpm, SPEED, formula, *inputs, note=note, band=band)
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
    return Limit(
        share.key, Sense.AT_LEAST, low, None, share.tight * limiter.value, SPEED, f"{by}. {share.reason}", share.origin
    )


def force_reserve(ctx: Context, path: str) -> Figure:
    """Closing force over what inertia needs, at a speed of the brief, where it is least."""
    at = ctx.entry(path, "n")
    found = separation(ctx)
    return Figure.calculated(
        "q",
        f"Force reserve at {at.label.lower()}",
        (found.speed.value / at.value) ** 2,
        RATIO,
        "q = (n_s/n)²",
        found.speed,
        at,
        note="Above 1 the follower stays on the lobe.",
    )


@figure
def force_reserve_limiter(ctx: Context) -> Figure:
    return force_reserve(ctx, "brief.limiter")


@figure
def least_force_overspeed(ctx: Context) -> Figure:
    """Force that still holds the follower to the lobe at overspeed, where it is least."""
    speed = ctx.entry("brief.overspeed", "n_o")
    held, found = judged_train(ctx), separation(ctx)
    force = held.sampled_force_N(speed.value)
    at = int(np.nanargmin(force))
    angle = abs(math.degrees(samples(held.valve_law).angle[at]))
    formula = "F_c = min over θ of F_Σ(L − s) + m·L″·ω²" + (" − G_d" if held.opening_force_N else "")
    note = f"Least at {angle:.0f} cam degrees from the nose."
    return Figure.calculated(
        "F_c",
        "Least contact force, overspeed",
        float(force[at]),
        FORCE,
        formula,
        train_figures(ctx),
        found.speed,
        speed,
        note=note,
    )


@figure
def separation_settled(ctx: Context) -> Figure:
    """Separation speed once the springs have lost what new ones lose."""
    held, fresh = replace(judged_train(ctx), pack=spring.settled_pack(ctx)), separation(ctx)
    found = held.separation()
    value = found.rpm if found is not None else fresh.speed.value
    return Figure.calculated(
        "n_s′",
        "Separation, springs settled",
        value,
        SPEED,
        "as n_s, with (1 − ℓ) of every load",
        fresh.speed,
        spring.load_loss(ctx),
    )
