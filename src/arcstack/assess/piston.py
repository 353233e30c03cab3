"""Valve to piston, parked and through the phaser's range."""

import math
from dataclasses import replace

import numpy as np

from arcstack.assess import cam, phaser, placed
from arcstack.assess.check import Check, Mover, Named, Says
from arcstack.assess.context import Context, figure, length
from arcstack.checks import Evidence, Figure, Limit, Missing
from arcstack.document import Absent, get
from arcstack.document.parts import PocketFloor, RodMaterial
from arcstack.errors import MissingInput
from arcstack.mech import piston
from arcstack.mech.cam.law import Array
from arcstack.settings import setting
from arcstack.units import ANGLE, COUNT, LENGTH, RATIO, parse, show

MOST_PHASER_RAD = math.radians(setting("phaser.most"))
"""As far as a phaser's range is looked through, which is all that its field takes."""


def floor(ctx: Context) -> PocketFloor:
    """How the floor lies under the valve: as said, or flat where a hand said that there is no pocket."""
    said = ctx.side.clearance.floor
    if said is PocketFloor.UNSTATED and isinstance(ctx.side.clearance.pocket, Absent):
        return PocketFloor.FLAT
    return said


@figure
def along(ctx: Context, loses: bool) -> Figure:
    """What a millimetre along the cylinder counts along the valve. Where nobody said how the floor lies it is what is
    harder: of what ``loses`` room as over a flat crown, else as over a floor square to the valve."""
    angle, said = ctx.entry("clearance.valve_angle", "α"), floor(ctx)
    flat = said is PocketFloor.FLAT or (said is PocketFloor.UNSTATED and loses)
    value = float(piston.along_valve(angle.value, flat))
    symbol, formula = ("a_c", "a_c = ") if loses else ("a", "a = ")
    unsaid = said is PocketFloor.UNSTATED and angle.value != 0.0
    words = (
        "not stated, the harder is taken"
        if unsaid
        else "upright"
        if not angle.value
        else (PocketFloor.FLAT if flat else PocketFloor.SQUARE).value
    )
    lies = Figure(
        "n", "Pocket’s floor", float(flat), COUNT, Evidence.ASSUMED if unsaid else Evidence.MEASURED,
        ctx.path("clearance.floor"), note=words, unsaid=unsaid,
    )  # fmt: skip
    formula += "1/cos(α)" if flat else "cos(α)"
    return Figure.calculated(symbol, "Along the valve, of the cylinder", value, RATIO, formula, angle, lies)


def _gasket_since(ctx: Context) -> Figure | None:
    """By how much the gasket is thicker than the one that the drop was taken with; None where it is that one."""
    drop = ctx.side.clearance.drop_at_tdc
    was = dict(drop.taken_with).get("engine.gasket") if drop is not None else None
    if not was or not ctx.given("engine.gasket"):
        return None
    now = ctx.entry("engine.gasket", "g")
    then = Figure("g_t", "Gasket, as the drop was taken", parse(was, LENGTH).value, LENGTH, Evidence.ASSUMED, now.path)
    return Figure.by("Gasket thicker since", LENGTH, "Δg = g − g_t", now, then)


@figure
def drop_at_tdc(ctx: Context) -> Figure:
    """How far the valve can be pushed with the piston at TDC: measured, or estimated from the block's figures. A gasket
    of another thickness moves it by the same rule as a cut."""
    milling = ctx.optional("engine.milling", "c")
    angle, cuts = ctx.entry("clearance.valve_angle", "α"), along(ctx, True)
    if ctx.given("clearance.drop_at_tdc"):
        drop = ctx.entry("clearance.drop_at_tdc", "d")
        thicker = _gasket_since(ctx)
        if thicker is None:
            return Figure.by("Drop at TDC, after the cut", LENGTH, "d₀ = d − c·a_c", drop, milling, cuts)
        moves = along(ctx, thicker.value < 0.0)
        formula = f"d₀ = d − c·a_c + Δg·{moves.symbol}"
        inputs = [drop, milling, cuts, thicker, *([moves] if moves.symbol != cuts.symbol else [])]
        return Figure.by("Drop at TDC, with the gasket of now", LENGTH, formula, *inputs)
    rest = ("engine.deck", "engine.gasket", "clearance.recess", "clearance.pocket")
    if not all(ctx.given(p) for p in rest):
        raise MissingInput(
            Missing(ctx.path("clearance.drop_at_tdc"), "Drop at TDC, or deck, gasket, recess and pocket")
        )
    deck, gasket, recess, pocket = (ctx.entry(p, s) for p, s in zip(rest, ("k", "g", "e", "p"), strict=True))
    room = along(ctx, False)
    flat = floor(ctx) is PocketFloor.FLAT
    value = piston.estimated_drop_at_tdc_mm(deck.value, gasket.value, recess.value, pocket.value, angle.value, flat)
    value -= milling.value * cuts.value
    return length(
        "d₀",
        "Drop at TDC, estimated",
        value,
        "d₀ = (k + g + e + p)·a − c·a_c",
        deck,
        gasket,
        recess,
        pocket,
        milling,
        room,
        cuts,
        note="Estimated. Push the valve to the piston at TDC and measure before you trust it.",
    )


@figure
def pair(ctx: Context) -> piston.ValveToPiston:
    """The valve over its piston."""
    ctx.need("engine.stroke", "engine.rod", "clearance.valve_angle")
    return piston.ValveToPiston(
        cam.curve(ctx).valve,
        placed.nose_crank_rad(ctx),
        drop_at_tdc(ctx).value,
        ctx.entry("clearance.valve_angle", "α").value,
        ctx.entry("engine.stroke", "h").value,
        ctx.entry("engine.rod", "l").value,
        ctx.optional("engine.pin_offset", "e_p").value,
        floor(ctx) is PocketFloor.FLAT,
    )


def _piston_there(ctx: Context, crank: Figure) -> Figure:
    """The piston below its highest point at a crank angle, by the crank's own figures."""
    stroke, rod = ctx.entry("engine.stroke", "h"), ctx.entry("engine.rod", "l")
    offset = ctx.optional("engine.pin_offset", "e_p")
    value = piston.piston_drop_mm(np.array([crank.value]), stroke.value, rod.value, offset.value)[0]
    formula = "s = √((l + h/2)² − e_p²) − h/2·cos(θ) − √(l² − (h/2·sin(θ) − e_p)²)"
    return length("s", "Piston below its highest point there", value, formula, stroke, rod, offset, crank)


def _gap(
    ctx: Context, symbol: str, label: str, found: piston.LeastGap, phasing: tuple[Figure, ...], extra: str
) -> Figure:
    where = math.degrees(found.crank_rad)
    side = "after" if where >= 0 else "before"
    note = f"Least at {abs(where):.1f}° {side} TDC{extra}. Lash taken as nothing."
    curve, centre = cam.curve(ctx), placed.centreline(ctx)
    crank = length("θ", "Crank angle there", found.crank_rad, "where that least is", curve.origin, centre, of=ANGLE)
    drop, fallen, falls = drop_at_tdc(ctx), _piston_there(ctx, crank), along(ctx, False)
    # the vertex of a parabola through the samples lies a hair below the curve's own figures there
    lifted = drop.value + fallen.value * falls.value - found.gap_mm
    lift = length("L", "Valve lift there", lifted, "read off the lift curve", curve.origin, centre, *phasing)
    # each curve where its own events put it
    tried = [pair(other).gap_of_mm(found.phaser_rad) for other in cam.variants(ctx)]
    band = cam.spread(ctx, found.gap_mm, tried)
    if band:
        note += f" The curve leaves {show(band[0], LENGTH)} to {show(band[1], LENGTH)} open."
    formula = f"{symbol} = d₀ + s·a − L"
    inputs = (replace(drop, symbol="d₀"), fallen, falls, lift)
    return Figure.calculated(symbol, label, found.gap_mm, LENGTH, formula, *inputs, note=note, band=band)


def drop_over_crank_mm(ctx: Context, crank_rad: Array) -> Array:
    """The piston below its highest point over crank angles; a pin of which nothing is said stands in the middle."""
    ctx.need("engine.stroke", "engine.rod")
    stroke, rod = ctx.entry("engine.stroke", "h"), ctx.entry("engine.rod", "l")
    return piston.piston_drop_mm(crank_rad, stroke.value, rod.value, ctx.optional("engine.pin_offset", "e_p").value)


@figure
def parked(ctx: Context) -> tuple[Figure, piston.LeastGap]:
    """Least gap with the phaser parked, lash at zero."""
    found = pair(ctx).least_gap()
    return _gap(ctx, "c_p", "Piston clearance, parked", found, (), ""), found


@figure
def swept(ctx: Context) -> tuple[Figure, piston.LeastGap]:
    """Least gap over the phaser's whole range, lash at zero. Open while nobody said whether there is a phaser."""
    model = pair(ctx)
    advance, retard = phaser.used(ctx)
    found = model.least_gap(-retard.value, advance.value)
    phase = found.phaser_rad
    word = "parked" if phase == 0 else f"{show(abs(phase), ANGLE)} {'advanced' if phase > 0 else 'retarded'}"
    return _gap(ctx, "c_s", "Piston clearance, phaser swept", found, (advance, retard), f", {word}"), found


def parked_gap(ctx: Context) -> Figure:
    return parked(ctx)[0]


def swept_gap(ctx: Context) -> Figure:
    return swept(ctx)[0]


def rests(ctx: Context) -> tuple[Figure, ...]:
    """What a gap over the crank rests on beside the drop: the lift curve and where it stands, the valve's lean, the
    crank's own figures."""
    ctx.need("engine.stroke", "engine.rod", "clearance.valve_angle")
    crank = (ctx.entry("engine.stroke", "h"), ctx.entry("engine.rod", "l"), ctx.optional("engine.pin_offset", "e_p"))
    return cam.curve(ctx).origin, placed.centreline(ctx), ctx.entry("clearance.valve_angle", "α"), *crank


@figure
def permitted(ctx: Context) -> Figure:
    """How far the phaser may go toward the piston before a gap on the way falls below the limit, parked counted in.

    Found over the whole circle that a field takes; nought where even parked is too close.
    """
    way = 1.0 if ctx.intake else -1.0
    limit = clearance_limit(ctx, "piston.clearance_swept")
    assert limit.low is not None
    model, most = pair(ctx), MOST_PHASER_RAD
    found = model.permitted_rad(limit.low, most, way)
    note = f"Every position on the way leaves {show(limit.low, LENGTH)}."
    if found is None:
        note = f"Even parked it leaves less than {show(limit.low, LENGTH)}."
    inputs = (drop_at_tdc(ctx), *rests(ctx))
    return replace(
        length(
            "φ_p",
            "Phaser permitted",
            found or 0.0,
            "most φ that leaves the limit on every way to it",
            *inputs,
            note=note,
            of=ANGLE,
        ),
        at_least=found == most,
    )


@figure
def phaser_room(ctx: Context) -> Figure:
    """Permitted range less the range that is used."""
    may, does = permitted(ctx), phaser.toward(ctx)
    note = may.note
    if phaser.limited(ctx):
        note = f"{note} {does.note}"
    elif phaser.unheld(ctx):
        note = f"{note} Its limit does not count yet: say what keeps it, a stop or software."
    formula = f"Δφ = φ_p − {does.symbol}"
    return Figure.by("Phaser, permitted less used", ANGLE, formula, may, does, note=note, at_least=may.at_least)


def _phased(ctx: Context) -> bool:
    """Whether there is a phaser that goes toward the piston, or nobody said that there is none."""
    return not isinstance(get(ctx.document, ctx.path(phaser.toward_piston(ctx))), Absent)


def clearance_limit(ctx: Context, key: str) -> Limit:
    """The practice's limit, raised for aluminium rods."""
    limit = ctx.limit(key)
    if ctx.document.engine.rod_material is not RodMaterial.ALUMINIUM or limit.low is None:
        return limit
    allowance = ctx.limit("piston.rod_allowance")
    assert allowance.low is not None
    return replace(
        limit,
        low=limit.low + allowance.low,
        reason=f"{limit.reason} {allowance.reason}",
        waiver=limit.waiver or allowance.waiver,
    )


CHECKS = (
    Check(
        "piston.clearance",
        "Piston, parked",
        "clearance",
        "Least gap between valve and piston with the phaser parked.",
        work=parked_gap,
        limit=lambda ctx: clearance_limit(ctx, "piston.clearance"),
        moved_by=(Mover.TIMING,),
        says=Says.ALWAYS,
    ),
    Check(
        "piston.clearance_swept",
        "Piston, phased",
        "clearance",
        "Least gap over the phaser's whole range.",
        work=swept_gap,
        limit=lambda ctx: clearance_limit(ctx, "piston.clearance_swept"),
        moved_by=(Mover.TIMING,),
        says=Says.ALWAYS,
    ),
    Check(
        "phaser.range",
        "Phaser range",
        "clearance",
        "Range toward the piston that its limit permits, less the range that is used.",
        work=phaser_room,
        limit="phaser.range",
        applies=_phased,
        on_curve=True,
        moved_by=(Mover.TIMING,),
        says=Says.BELOW_NOUGHT,
    ),
)

FIGURES = (
    Named("piston.drop", "Drop at TDC", drop_at_tdc),
    Named("piston.parked", "Least gap, parked", parked_gap),
    Named("piston.swept", "Least gap, phaser swept", swept_gap),
    Named("piston.permitted", "Phaser permitted", permitted),
)
