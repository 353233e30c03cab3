"""Valve to piston, parked and through the phaser's range."""

import math

from arcstack.assess import cam
from arcstack.assess.context import Context, MissingInput, figure, length
from arcstack.build.parts import RodMaterial
from arcstack.checks import Figure, Limit, Missing
from arcstack.mech import piston
from arcstack.units import ANGLE, LENGTH, show


@figure
def drop_at_tdc(ctx: Context) -> Figure:
    """How far the valve can be pushed with the piston at TDC: measured, or estimated from the block's figures."""
    milling = ctx.absent("engine.milling", "c", "nothing cut since")
    angle = ctx.entry("clearance.valve_angle", "α")
    lost = piston.milling_loss_mm(milling.value, angle.value)
    if ctx.given("clearance.drop_at_tdc"):
        drop = ctx.entry("clearance.drop_at_tdc", "d")
        if milling.value == 0:
            return drop
        return length("d₀", "Drop at TDC, after the cut", drop.value - lost, "d₀ = d − c·cos α", drop, milling, angle)
    rest = ("engine.deck", "engine.gasket", "clearance.recess", "clearance.pocket")
    if not all(ctx.given(p) for p in rest):
        raise MissingInput(
            Missing(ctx.path("clearance.drop_at_tdc"), "Drop at TDC, or deck, gasket, recess and pocket")
        )
    deck, gasket, recess, pocket = (ctx.entry(p, s) for p, s in zip(rest, ("k", "g", "e", "p"), strict=True))
    value = piston.estimated_drop_at_tdc_mm(deck.value, gasket.value, recess.value, pocket.value, angle.value) - lost
    return length(
        "d₀",
        "Drop at TDC, estimated",
        value,
        "d₀ = (k + g + e + p − c)·cos α",
        deck,
        gasket,
        recess,
        pocket,
        milling,
        angle,
        note="Estimated. Push the valve to the piston at TDC and measure before you trust it.",
    )


@figure
def pair(ctx: Context) -> tuple[piston.ValveToPiston, tuple[Figure, ...]]:
    """The valve over its piston, and the figures that went in."""
    ctx.need("engine.stroke", "engine.rod", "clearance.valve_angle")
    curve, centre, drop = cam.curve(ctx), cam.centreline(ctx), drop_at_tdc(ctx)
    angle = ctx.entry("clearance.valve_angle", "α")
    stroke, rod = ctx.entry("engine.stroke", "h"), ctx.entry("engine.rod", "l")
    offset = ctx.absent("engine.pin_offset", "e_p", "no pin offset")
    model = piston.ValveToPiston(
        curve.valve,
        cam.nose_crank_rad(ctx),
        drop.value,
        angle.value,
        stroke.value,
        rod.value,
        offset.value,
    )
    return model, (drop, curve.origin, centre, angle, stroke, rod, offset)


def _gap(
    ctx: Context, symbol: str, label: str, found: piston.LeastGap, inputs: tuple[Figure, ...], extra: str
) -> Figure:
    where = math.degrees(found.crank_rad)
    side = "after" if where >= 0 else "before"
    note = f"Least at {abs(where):.1f}° {side} TDC{extra}. Lash taken as nothing."
    model, _ = pair(ctx)
    phaser = found.phaser_rad
    tried = [model.gap_of_mm(law, phaser) for law in cam.curve(ctx).others]
    band = (min(found.gap_mm, *tried), max(found.gap_mm, *tried)) if tried else None
    if band:
        note += f" The card leaves {show(band[0], LENGTH)} to {show(band[1], LENGTH)} open."
    formula = f"{symbol} = least over crank of d₀ + s(θ)·cos α − L(θ)"
    return Figure.calculated(symbol, label, found.gap_mm, LENGTH, formula, *inputs, note=note, band=band)


@figure
def parked(ctx: Context) -> tuple[Figure, piston.LeastGap]:
    """Least gap with the phaser parked, lash at zero."""
    model, inputs = pair(ctx)
    found = model.least_gap()
    return _gap(ctx, "c_p", "Piston clearance, parked", found, inputs, ""), found


@figure
def swept(ctx: Context) -> tuple[Figure, piston.LeastGap]:
    """Least gap over the phaser's whole range, lash at zero."""
    model, inputs = pair(ctx)
    advance = ctx.absent("cam.phaser_advance", "φ₊", "no advance")
    retard = ctx.absent("cam.phaser_retard", "φ₋", "no retard")
    found = model.least_gap(-retard.value, advance.value)
    phase = found.phaser_rad
    word = "parked" if phase == 0 else f"{show(abs(phase), ANGLE)} {'advanced' if phase > 0 else 'retarded'}"
    return _gap(ctx, "c_s", "Piston clearance, phaser swept", found, (*inputs, advance, retard), f", {word}"), found


def clearance_limit(ctx: Context, key: str) -> Limit:
    """The practice's limit, raised for aluminium rods."""
    limit = ctx.limit(key)
    if ctx.build.engine.rod_material is not RodMaterial.ALUMINIUM or limit.low is None:
        return limit
    allowance = ctx.limit("piston.rod_allowance")
    assert allowance.low is not None
    return Limit(
        limit.key,
        limit.sense,
        limit.low + allowance.low,
        limit.high,
        limit.tight,
        limit.dimension,
        f"{limit.reason} {allowance.reason}",
        limit.origin,
        limit.soft_high,
    )
