"""The turbo side: what the engine around a valvetrain allows, each judged once something of it was said."""

import math
from collections.abc import Callable
from dataclasses import replace

from arcstack.assess.check import Check, Named
from arcstack.assess.context import Context, figure
from arcstack.assess.half_width import unread
from arcstack.assess.oil import said
from arcstack.checks import Evidence, Figure
from arcstack.document.parts import Gasket, Lubricant, Use
from arcstack.errors import MissingInput
from arcstack.mech import clamping, compression
from arcstack.settings import setting
from arcstack.units import COUNT, FORCE, GAUGE_PRESSURE, RATIO, SPEED, STRESS, VOLUME, show

NUT_FACTOR = {
    Lubricant.DRY: setting("turbo.nut_factor_dry"),
    Lubricant.OIL: setting("turbo.nut_factor_oil"),
    Lubricant.MOLY: setting("turbo.nut_factor_moly"),
}
PEAK_BAR = setting("turbo.peak")
LEAST_PEAK_BAR, MOST_PEAK_BAR = setting("turbo.peak_least"), setting("turbo.peak_most")
BURETTE_CC = setting("turbo.burette")
WEIGHTS = (
    ("limiter_soft", setting("turbo.weight_soft")), ("limiter_staged", setting("turbo.weight_staged")),
    ("limiter_hard", setting("turbo.weight_hard")), ("launch", setting("turbo.weight_launch")),
    ("missed_shifts", setting("turbo.weight_missed")),
)  # fmt: skip
NUT_FACTOR_OFF, NUT_FACTOR_OFF_DRY = setting("turbo.nut_factor_off"), setting("turbo.nut_factor_off_dry")
STUD_SHARE, STUD_MODULUS_MPA = setting("turbo.stud_share"), setting("turbo.stud_modulus")
ROAD_KM, TRACK_HOURS = setting("turbo.road_km"), setting("turbo.track_hours")


@figure
def back_pressure_ratio(ctx: Context) -> Figure:
    """Mean back pressure over boost, gauge over gauge."""
    ctx.need("brief.back_pressure", "brief.boost")
    back, boost = ctx.entry("brief.back_pressure", "p_b"), ctx.entry("brief.boost", "p_l")
    note = ""
    if ctx.given("turbo.narrowest"):
        where, wide = ctx.document.turbo.narrowest_at or "its narrowest part", ctx.entry("turbo.narrowest", "D")
        note = f"Downstream: {show(wide.value, wide.dimension)} at {where}."
    return Figure.by("Back pressure ÷ boost", RATIO, "q_b = p_b/p_l", back, boost, note=note)


def _boosted(ctx: Context) -> bool:
    """Back pressure measured under boost: an assumed one is judged by the gas rules alone."""
    boost = ctx.document.brief.boost
    return ctx.given("brief.back_pressure") and boost is not None and boost.value > 0.0


# -- clamping


@figure
def nut_factor(ctx: Context) -> Figure:
    """By its lubricant where it was not measured: without one a torque says nothing."""
    if ctx.given("turbo.nut_factor"):
        given = ctx.entry("turbo.nut_factor", "K")
        return given if given.evidence is Evidence.MEASURED else _rubbed(given, NUT_FACTOR_OFF)
    lubricant = ctx.document.turbo.lubricant
    if lubricant is Lubricant.NOT_SAID:
        raise MissingInput(ctx.missing("turbo.lubricant"), why="a torque without its lubricant says nothing")
    words = f"Nut factor, {lubricant.value}"
    off = NUT_FACTOR_OFF_DRY if lubricant is Lubricant.DRY else NUT_FACTOR_OFF
    return _rubbed(Figure("K", words, NUT_FACTOR[lubricant], RATIO, Evidence.ASSUMED), off)


def _rubbed(factor: Figure, off: float) -> Figure:
    """A nut factor with what friction leaves open of it."""
    return replace(factor, band=(factor.value - off, factor.value + off))


@figure
def preload(ctx: Context) -> Figure:
    """What one stud holds with."""
    if ctx.given("turbo.preload"):
        return ctx.entry("turbo.preload", "F")
    if ctx.given("turbo.stud_stretch"):
        return _by_stretch(ctx)
    ctx.need("turbo.torque", "turbo.stud_diameter")
    torque, wide, factor = ctx.entry("turbo.torque", "T"), ctx.entry("turbo.stud_diameter", "d"), nut_factor(ctx)
    value = clamping.preload_by_torque_N(torque.value, factor.value, wide.value)
    note = ""
    if ctx.given("turbo.stud_area"):
        note = f"{show(value / ctx.entry('turbo.stud_area', 'A').value, STRESS)} in its thread."
    band = None
    if factor.band is not None:
        least, most = (clamping.preload_by_torque_N(torque.value, k, wide.value) for k in reversed(factor.band))
        band = least, most
        note += f" {show(band[0], FORCE)} to {show(band[1], FORCE)} by friction: stretch tells it better."
    return Figure.calculated(
        "F", "Preload of one stud", value, FORCE, "F = 1000·T/(K·d)", torque, factor, wide, note=note.strip(), band=band
    )


def _by_stretch(ctx: Context) -> Figure:
    """A stud that was measured longer says what it holds with, whatever lies on its thread."""
    ctx.need("turbo.stud_length", "turbo.stud_area")
    longer, whole = ctx.entry("turbo.stud_stretch", "δ"), ctx.entry("turbo.stud_length", "L")
    area = ctx.entry("turbo.stud_area", "A")
    steel = Figure("E", "Modulus of a steel stud", STUD_MODULUS_MPA, STRESS, Evidence.ASSUMED)
    value = clamping.preload_by_stretch_N(longer.value, whole.value, area.value, steel.value)
    return Figure.calculated("F", "Preload of one stud", value, FORCE, "F = E·A·δ/L", steel, area, longer, whole)


@figure
def stud_load(ctx: Context) -> Figure:
    """Preload over what the stud bears, which is never all of its proof."""
    ctx.need("turbo.stud_area", "turbo.stud_proof")
    force, area, proof = preload(ctx), ctx.entry("turbo.stud_area", "A"), ctx.entry("turbo.stud_proof", "R_p")
    bears = area.value * proof.value
    band = force.band and (force.band[0] / bears, force.band[1] / bears)
    return Figure.by("Preload ÷ proof", RATIO, "q_p = F/(A·R_p)", force, area, proof, band=band)


@figure
def clamp(ctx: Context) -> Figure:
    """What holds the least held cylinder over what lifts it."""
    ctx.need("turbo.studs_around", "turbo.gasket_bore")
    force, around = preload(ctx), ctx.entry("turbo.studs_around", "n")
    shared = ctx.entry("turbo.studs_shared", "z", STUD_SHARE, "a stud between two cylinders holds each by half")
    holds = Figure.by(
        "Clamp on one cylinder",
        FORCE,
        "F_c = F·n/z",
        force,
        around,
        shared,
        band=force.band and (force.band[0] * around.value / shared.value, force.band[1] * around.value / shared.value),
    )
    bore = ctx.entry("turbo.gasket_bore", "D_g")
    peak = _peak(ctx)
    gas = clamping.gas_force_N(peak.value, bore.value)
    lifts = Figure.calculated("F_g", "Gas that lifts it", gas, FORCE, "F_g = p_z/10·π/4·D_g²", peak, bore)
    band = None
    if peak.band is not None or holds.band is not None:
        (least, most), (low, high) = holds.band or (holds.value,) * 2, peak.band or (peak.value,) * 2
        band = least / clamping.gas_force_N(high, bore.value), most / clamping.gas_force_N(low, bore.value)
    settles = ctx.document.turbo.gasket_kind is Gasket.COMPOSITE
    note = "A composite gasket settles: torque it again after the first heat, by its maker." if settles else ""
    return Figure.by("Clamp ÷ gas", RATIO, "q_c = F_c/F_g", holds, lifts, band=band, note=note)


def _peak(ctx: Context) -> Figure:
    if ctx.given("turbo.peak_pressure"):
        return ctx.entry("turbo.peak_pressure", "p_z")
    note = "boosted petrol, until it was indicated"
    band = (LEAST_PEAK_BAR, MOST_PEAK_BAR)
    return Figure(
        "p_z", "Peak cylinder pressure", PEAK_BAR, GAUGE_PRESSURE, Evidence.ASSUMED, None, note=note, band=band
    )


# -- compression


@figure
def swept(ctx: Context) -> Figure:
    """What one piston sweeps."""
    bore, stroke = ctx.entry("engine.bore", "B"), ctx.entry("engine.stroke", "h")
    value = compression.cylinder_cc(bore.value, stroke.value)
    return Figure.calculated("V_h", "Swept volume, one cylinder", value, VOLUME, "V_h = π/4·B²·h/1000", bore, stroke)


@figure
def clearance_volume(ctx: Context) -> Figure:
    """What is above the piston at TDC, with what a cut has taken."""
    ctx.need("turbo.chamber", "turbo.gasket_bore", "engine.gasket", "engine.deck", "engine.bore")
    chamber, bore = ctx.entry("turbo.chamber", "V_k"), ctx.entry("engine.bore", "B")
    hole, thick, deck = (
        ctx.entry("turbo.gasket_bore", "D_g"),
        ctx.entry("engine.gasket", "g"),
        ctx.entry("engine.deck", "k"),
    )
    dish, cut = ctx.stated("turbo.dish", "V_m", "Dish, dome or flat?"), ctx.optional("engine.milling", "c")
    volumes = compression.Volumes(
        chamber.value, float(compression.cylinder_cc(hole.value, thick.value)),
        float(compression.cylinder_cc(bore.value, deck.value - cut.value)), dish.value,
    )  # fmt: skip
    formula = "V_c = V_k + π/4·D_g²·g/1000 + π/4·B²·(k − c)/1000 + V_m"
    inputs = (chamber, hole, thick, bore, deck, cut, dish)
    # a plate of the bore's area as thick as a length may be off
    plates = sum(unread(f) for f in (thick, deck, cut))
    half = BURETTE_CC + unread(chamber) + unread(dish) + float(compression.cylinder_cc(bore.value, plates))
    band = (volumes.clearance - half, volumes.clearance + half)
    return Figure.calculated("V_c", "Clearance volume", volumes.clearance, VOLUME, formula, *inputs, band=band)


@figure
def ratio(ctx: Context) -> Figure:
    """Static compression ratio, with the band that its volumes leave."""
    whole, above = swept(ctx), clearance_volume(ctx)
    assert above.band is not None
    value = compression.ratio(whole.value, above.value)
    band = (float(compression.ratio(whole.value, above.band[1])), float(compression.ratio(whole.value, above.band[0])))
    note = f"{band[0]:.2f} to {band[1]:.2f} by what its volumes leave open."
    return Figure.calculated(
        "ε", "Compression ratio", value, RATIO, "ε = (V_h + V_c)/V_c", whole, above, note=note, band=band
    )


@figure
def ratio_off(ctx: Context) -> Figure:
    """How far compression may lie off its target."""
    wanted, now = ctx.entry("turbo.compression_target", "ε_w"), ratio(ctx)
    assert now.band is not None
    band = (now.band[0] - wanted.value, now.band[1] - wanted.value)
    return Figure.by(
        "Compression, off its target",
        RATIO,
        "Δε = ε − ε_w",
        now,
        wanted,
        note=now.note,
        band=band,
    )


# -- events and weak links


def _next_look(ctx: Context, share: float) -> str:
    """When the valvetrain is looked at next, by use, shortened by what the limiter has taken of it."""
    if share >= 1.0:
        return "Springs and lash are read again before it runs."
    left = 1.0 - share
    match ctx.document.brief.use:
        case Use.ROAD:
            return f"Next look within {ROAD_KM * left:,.0f} km."
        case Use.TRACK:
            return f"Next look within {TRACK_HOURS * left:.1f} h."
    return "Next look after this meeting."


@figure
def life(ctx: Context) -> Figure:
    """Weighted seconds at the limiter since the last inspection."""
    rows = [
        (ctx.entry(f"turbo.{name}", f"t_{n}"), weight)
        for n, (name, weight) in enumerate(WEIGHTS, 1)
        if ctx.given(f"turbo.{name}")
    ]
    if not rows:
        ctx.need(*(f"turbo.{name}" for name, _ in WEIGHTS))
    value = math.fsum(f.value * weight for f, weight in rows)
    formula = "t = " + " + ".join(f"{weight:g}·{f.symbol}" for f, weight in rows)
    limit = ctx.limit("life.limiter")
    assert limit.high is not None
    share = value / limit.high
    note = f"{100.0 * share:.0f} % of what is let run between inspections. {_next_look(ctx, share)}"
    return Figure.calculated(
        "t", "Limiter life used, weighted s", value, COUNT, formula, *(f for f, _ in rows), note=note
    )


LINKS = (("rods_to", "rods and bolts"), ("crank_to", "crank and damper"), ("pump_to", "the oil pump"))


@figure
def weakest(ctx: Context) -> Figure:
    """Room of the limiter below the lowest that anything of the engine beside the valvetrain is good to."""
    found = [(ctx.entry(f"turbo.{name}", "n_w"), words) for name, words in LINKS if ctx.given(f"turbo.{name}")]
    if not found:
        ctx.need(*(f"turbo.{name}" for name, _ in LINKS))
    lowest, words = min(found, key=lambda row: row[0].value)
    lowest = lowest.among(*(f for f, _ in found))
    top = ctx.entry("brief.overspeed" if ctx.given("brief.overspeed") else "brief.limiter", "n_o")
    note = f"Lowest: {words}, {show(lowest.value, SPEED)}."
    return Figure.by("Below the weakest link", SPEED, "Δn = n_w − n_o", lowest, top, note=note)


def _check(
    check: str, title: str, about: str, work: Callable[[Context], Figure], applies: Callable[[Context], bool]
) -> Check:
    return Check(check, title, "turbo", about, work=work, limit=check, applies=applies, head=True)


_CLAMP = ("torque", "preload", "studs_around", "stud_diameter")

CHECKS = (
    _check(
        "turbo.back_pressure",
        "Back pressure ÷ boost",
        "How hard the turbine holds back.",
        back_pressure_ratio,
        _boosted,
    ),
    _check(
        "head.clamp", "Head clamping", "What holds the least held cylinder over what lifts it.", clamp, said(*_CLAMP)
    ),
    _check("head.stud", "Stud preload ÷ proof", "No stud is drawn past its proof.", stud_load, said("stud_proof")),
    _check(
        "engine.compression",
        "Compression, off target",
        "Static ratio over its whole band.",
        ratio_off,
        said("compression_target"),
    ),
    _check(
        "life.limiter",
        "Limiter life",
        "Weighted seconds since the last inspection.",
        life,
        said(*(n for n, _ in WEIGHTS)),
    ),
    _check(
        "engine.weakest",
        "Weakest link",
        "Nothing turns faster than its weakest part.",
        weakest,
        said(*(n for n, _ in LINKS)),
    ),
)

FIGURES = (
    Named("turbo.ratio", "Compression ratio", ratio),
    Named("turbo.clearance_volume", "Clearance volume", clearance_volume),
    Named("turbo.preload", "Preload of one stud", preload),
    Named("turbo.clamp", "Clamp ÷ gas", clamp),
    Named("turbo.life", "Limiter life used, weighted s", life),
    Named("turbo.weakest", "Below the weakest link", weakest),
)
