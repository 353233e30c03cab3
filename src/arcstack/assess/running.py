"""Valve to piston hot at overspeed: what rod, bearings, heat and float take from the gap as it stands cold."""

import math
from dataclasses import dataclass, replace
from typing import cast

from arcstack.assess import elastic, piston
from arcstack.assess.check import Check, Mover, Named, Says
from arcstack.assess.context import Context, figure, length
from arcstack.checks import Evidence, Figure
from arcstack.document.parts import RodMaterial
from arcstack.mech import pushed
from arcstack.settings import setting
from arcstack.units import FORCE, LENGTH, STRESS, show

MODULUS_MPa = {
    RodMaterial.STEEL: setting("rod.modulus_steel"),
    RodMaterial.TITANIUM: setting("rod.modulus_titanium"),
    RodMaterial.ALUMINIUM: setting("rod.modulus_aluminium"),
}


def speed(ctx: Context) -> Figure:
    """The fastest it may ever turn: overspeed, else the limiter."""
    return ctx.entry("brief.overspeed" if ctx.given("brief.overspeed") else "brief.limiter", "n_o")


def _typical(ctx: Context, key: str, symbol: str, label: str, give: str) -> Figure:
    """The middle of what the practice takes as typical, with all of it as its band."""
    limit = ctx.limit(key)
    assert limit.low is not None
    assert limit.high is not None
    note = f"{limit.origin}: {limit.reason} {give}"
    middle, band = (limit.low + limit.high) / 2.0, (limit.low, limit.high)
    return Figure(symbol, label, middle, LENGTH, Evidence.ASSUMED, None, note=note, band=band, waiver=limit.waiver)


@figure
def rod_force(ctx: Context) -> Figure:
    """Pull of piston and rod at TDC of gas exchange."""
    ctx.need("engine.reciprocating", "engine.stroke", "engine.rod")
    mass, turns = ctx.entry("engine.reciprocating", "m"), speed(ctx)
    stroke, rod = ctx.entry("engine.stroke", "h"), ctx.entry("engine.rod", "l")
    value = pushed.rod_force_N(mass.value, stroke.value, rod.value, turns.value * math.pi / 30.0)
    formula = "F = m·h/2000·(π·n_o/30)²·(1 + h/(2·l))"
    return Figure.calculated("F", "Pull on the rod", value, FORCE, formula, mass, stroke, rod, turns)


@figure
def stretch(ctx: Context) -> Figure:
    """How much longer the rod is at TDC of gas exchange: stated, else by mass and section, else as is typical."""
    if ctx.given("engine.rod_stretch"):
        return ctx.entry("engine.rod_stretch", "Δl")
    material = ctx.document.engine.rod_material
    if not (ctx.given("engine.reciprocating") and ctx.given("engine.rod_section")):
        key, words = f"piston.rod_stretch.{material.value}", f"Rod stretch, {material.value}, typical"
        return _typical(ctx, key, "Δl", words, "Give reciprocating mass and the rod’s least section to work it.")
    pull, rod, section = rod_force(ctx), ctx.entry("engine.rod", "l"), ctx.entry("engine.rod_section", "A")
    modulus = Figure("E", f"Modulus, {material.value}", MODULUS_MPa[material], STRESS, Evidence.PRINTED)
    value = pushed.rod_stretch_mm(pull.value, rod.value, section.value, modulus.value)
    return length("Δl", "Rod stretch", value, "Δl = F·l/(E·A)", pull, rod, modulus, section)


@figure
def bearings(ctx: Context) -> Figure:
    """Pin and big-end clearance, whole: at TDC of gas exchange all of it lies below."""
    ends = ("engine.pin_clearance", "engine.bearing_clearance")
    if not all(ctx.given(p) for p in ends):
        return _typical(
            ctx, "piston.bearing_clearance", "j", "Pin and big-end clearance, typical", "Give both to work with them."
        )
    pin, big = (ctx.entry(p, s) for p, s in zip(ends, ("j_p", "j_b"), strict=True))
    return Figure.by("Pin and big-end clearance", LENGTH, "j = j_p + j_b", pin, big)


@figure
def floats(ctx: Context) -> Figure:
    """Widest gap between follower and cam at that speed, by the elastic train. Raises ``Waiting``."""
    turns, found = speed(ctx), elastic.answer(ctx).rows
    values = [elastic.at(rows, turns.value, lambda r: r.separation_mm) for rows in found.values()]
    band = (min(values), max(values)) if len(values) > 1 else None
    own = found[elastic.AS_BUILT]
    note = f"At {show(turns.value, turns.dimension)}."
    if own[-1].rpm < turns.value:
        note += f" The train was run to {show(own[-1].rpm, turns.dimension)} only."
    words = "most gap between follower and cam in a turn"
    return replace(
        length("x_f", "Float past the cam", values[0], words, *elastic.inputs(ctx), turns, note=note), band=band
    )


@figure
def taken(ctx: Context) -> Figure:
    """Everything that the piston rises by, along its bore."""
    rod, play, growth = stretch(ctx), bearings(ctx), ctx.optional("engine.growth", "g")
    low, high = (sum(f.band[n] if f.band else f.value for f in (rod, play)) - growth.value for n in (0, 1))
    band = (low, high) if rod.band or play.band else None
    return Figure.by("Piston stands higher by", LENGTH, "Δp = Δl + j − g", rod, play, growth, band=band)


@figure
def takes(ctx: Context) -> tuple[Figure, ...]:
    """What is taken from the cold gap, each along the valve: rod, bearings, growth (given back where it is positive),
    float."""
    lean = piston.along(ctx, True).value
    rod, play, growth = stretch(ctx), bearings(ctx), ctx.optional("engine.growth", "g")

    def along(figure_: Figure, sign: float = 1.0) -> Figure:
        band = tuple(sorted(sign * lean * b for b in figure_.band)) if figure_.band else None
        return replace(figure_, value=sign * lean * figure_.value, band=cast("tuple[float, float] | None", band))

    rows = (along(rod), along(play), along(growth, -1.0), floats(ctx))
    return tuple(r for r in rows if r.value or r.band)


@dataclass(frozen=True)
class Step:
    """One step from the cold gap to what is left hot: its figure, and from where to where it leads (mm)."""

    figure: Figure
    start_mm: float
    end_mm: float

    @property
    def gives(self) -> bool:
        """Whether it gives back instead of taking."""
        return self.end_mm > self.start_mm


def steps(ctx: Context) -> tuple[Step, ...]:
    """The cold gap, what is taken from it or given back, one after the other, and what is left."""
    cold, left = piston.swept_gap(ctx), gap(ctx)
    found, at = [Step(cold, 0.0, cold.value)], cold.value
    for take in takes(ctx):
        found.append(Step(take, at, at - take.value))
        at -= take.value
    return (*found, Step(left, 0.0, left.value))


@figure
def gap(ctx: Context) -> Figure:
    """The least gap over the phaser's range, hot at overspeed."""
    return left_of(ctx, piston.swept_gap(ctx))


def left_of(ctx: Context, cold: Figure) -> Figure:
    """What is left of a least gap as it stands cold, hot at overspeed."""
    rises, up = taken(ctx), floats(ctx)
    counts = piston.along(ctx, True)
    lean = counts.value
    ends = []
    for cold_end, other in ((0, 1), (1, 0)):
        gap_mm, rise_mm, up_mm = (
            f.band[n] if f.band else f.value for f, n in ((cold, cold_end), (rises, other), (up, other))
        )
        ends.append(gap_mm - rise_mm * lean - up_mm)
    band = (ends[0], ends[1]) if any(f.band for f in (cold, rises, up)) else None
    note = f"At {show(speed(ctx).value, speed(ctx).dimension)}, lash taken as nothing."
    if band:
        note += f" What is assumed leaves {show(band[0], LENGTH)} to {show(band[1], LENGTH)} open."
    formula = f"c_r = {cold.symbol} − Δp·a_c − x_f"
    label = "Piston clearance, hot at overspeed"
    return Figure.by(label, LENGTH, formula, cold, rises, counts, up, note=note, band=band)


CHECKS = (
    Check(
        "piston.clearance_running",
        "Piston, running",
        "clearance",
        "Least gap that is left hot at overspeed, rod, bearings and float taken off.",
        work=gap,
        limit="piston.clearance_running",
        moved_by=(Mover.TIMING,),
        says=Says.ALWAYS,
    ),
)

RUN_OVER_SPEEDS = frozenset(c.id for c in (*elastic.CHECKS, *CHECKS))
"""Checks that rest on the elastic train, run over its speeds: worked of the design, not of each valve."""

FIGURES = (
    Named("piston.stretch", "Rod stretch", stretch),
    Named("piston.bearings", "Pin and big-end clearance", bearings),
    Named("piston.float", "Float past the cam", floats),
    Named("piston.running", "Least gap, hot at overspeed", gap),
)
