"""Rigid-train separation speed and the force left at limiter and overspeed."""

import math
from dataclasses import dataclass, replace

from arcstack.assess import cam, gas, spring
from arcstack.assess.context import Context, MissingInput, figure
from arcstack.checks import Figure, Limit, Missing, Sense
from arcstack.mech.control import RigidTrain
from arcstack.units import ANGLE, RATIO, SPEED, show


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
        spring.seat_load(ctx).value,
        spring.pack_rate(ctx).value,
        spring.moving_mass(ctx).value,
        cam.lash(ctx).value,
    )


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
        found.train.force_reserve(at.value),
        RATIO,
        "q = (n_s/n)²",
        found.speed,
        at,
        note="Above 1 the follower stays on the lobe.",
    )
