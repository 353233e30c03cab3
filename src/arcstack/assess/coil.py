"""A spring's wire: what it makes of rate, mass, stress and life."""

from dataclasses import dataclass

from arcstack.assess.check import Check, Named
from arcstack.assess.context import Context, figure, length
from arcstack.checks import Evidence, Figure, Limit
from arcstack.document.parts import Damping, Pack, Shape, Wound
from arcstack.errors import NotFitted
from arcstack.mech.spring import fatigue, geometry, stress
from arcstack.mech.spring.fatigue import CHROME_SILICON
from arcstack.settings import setting
from arcstack.units import LENGTH, MASS, RATE, RATIO, STRESS

END_COILS = setting("spring.end_coils")

TAPERED = {Shape.CYLINDRICAL: 0.0, Shape.CONICAL: 1.0, Shape.BEEHIVE: 0.5}

DEAD_COILS = Figure(
    "n_d", "Dead coils", END_COILS, RATIO, Evidence.ASSUMED, None, note="both ends closed and ground",
)  # fmt: skip
SHEAR_MODULUS = Figure(
    "G", "Shear modulus of the wire", CHROME_SILICON.shear_modulus_MPa, STRESS, Evidence.ASSUMED, None,
    note="typical of chrome-silicon spring wire",
)  # fmt: skip
DENSITY = Figure(
    "ρ", "Density of the wire, g/cm³", CHROME_SILICON.density_kg_m3 / 1000.0, RATIO, Evidence.ASSUMED, None,
    note="typical of spring steel",
)  # fmt: skip


@dataclass(frozen=True)
class CoilFigures:
    """A spring's coil and the figures it came from."""

    coil: geometry.Coil
    wire: Figure
    mean: Figure
    top: Figure
    active: Figure
    wahl: Figure


@figure
def wound(ctx: Context, name: str) -> CoilFigures:
    """The coil of a spring. Raises ``MissingInput``."""
    base, tail = f"stack.{name}.", "" if name == "outer" else "_i"
    spring = getattr(ctx.side.stack, name)
    ctx.need(base + "wire", base + "outside", *([] if ctx.given(base + "active") else [base + "coils"]))
    wire, outside = ctx.entry(base + "wire", f"d{tail}"), ctx.entry(base + "outside", f"D_o{tail}")
    across = f"D{tail} = {outside.symbol} − {wire.symbol}"
    mean = Figure.by(f"Mean coil diameter, {name}", LENGTH, across, outside, wire)
    if ctx.given(base + "active"):
        active = ctx.entry(base + "active", f"N{tail}")
    else:
        total = ctx.entry(base + "coils", f"N_t{tail}")
        formula = f"N{tail} = max({total.symbol} − n_d, 0.5)"
        active = Figure.by(f"Active coils, {name}", RATIO, formula, total, DEAD_COILS)
    top = mean
    if spring.shape is not Shape.CYLINDRICAL:
        at_top = ctx.entry(base + "outside_top", f"D_t{tail}")
        formula = f"D_m{tail} = {at_top.symbol} − {wire.symbol}"
        top = Figure.by(f"Mean diameter at the top, {name}", LENGTH, formula, at_top, wire)
    coil = geometry.Coil(wire.value, mean.value, active.value, top.value, TAPERED[spring.shape])
    return CoilFigures(coil, wire, mean, top, active, _wahl(name, coil, wire, mean))


def _wahl(name: str, coil: geometry.Coil, wire: Figure, mean: Figure) -> Figure:
    tail = "" if name == "outer" else "_i"
    c = f"C{tail}"
    index = Figure.calculated(
        c, f"Spring index, {name}", coil.index, RATIO, f"{c} = {mean.symbol}/{wire.symbol}", mean, wire
    )
    value = stress.wahl_factor(coil.wire_mm, coil.mean_mm)
    formula = f"K{tail} = (4·{c} − 1)/(4·{c} − 4) + 0.615/{c}"
    return Figure.calculated(f"K{tail}", f"Wahl factor, {name}", value, RATIO, formula, index)


def _effective(w: CoilFigures, name: str, mean_mm: float, how: str) -> Figure:
    """The mean diameter that a formula takes: the coil's own, or averaged where coils taper."""
    if w.coil.tapered == 0.0:
        return w.mean
    tail = "" if name == "outer" else "_i"
    return length(f"D_e{tail}", f"Mean diameter, {how}, {name}", mean_mm, "over the coils that taper", w.mean, w.top)


@figure
def wire_rate(ctx: Context, name: str) -> Figure:
    """Rate that the wire makes."""
    w, tail = wound(ctx, name), "" if name == "outer" else "_i"
    mean = _effective(w, name, w.coil.mean_cube_mm3 ** (1.0 / 3.0), "cubes averaged")
    value = geometry.rate_N_per_mm(w.coil, CHROME_SILICON.shear_modulus_MPa)
    formula = f"k{tail} = G·{w.wire.symbol}⁴/(8·{mean.symbol}³·{w.active.symbol})"
    label = f"Rate from the wire, {name}"
    return Figure.calculated(f"k{tail}", label, value, RATE, formula, SHEAR_MODULUS, w.wire, mean, w.active)


@figure
def active_mass(ctx: Context, name: str) -> Figure:
    """Mass of the coils that work."""
    w, tail = wound(ctx, name), "" if name == "outer" else "_i"
    value = geometry.active_mass_kg(w.coil, CHROME_SILICON.density_kg_m3)
    mean = _effective(w, name, w.coil.mean_diameter_mm, "averaged")
    formula = f"m_a{tail} = ρ·π²·{w.wire.symbol}²·{mean.symbol}·{w.active.symbol}/(4·1000)"
    label = f"Mass of the active coils, {name}"
    note = "ρ in g/cm³ and lengths in mm make grams."
    return Figure.calculated(f"m_a{tail}", label, value, MASS, formula, DENSITY, w.wire, mean, w.active, note=note)


def shear(ctx: Context, name: str, load: Figure, symbol: str, label: str) -> Figure:
    """Wahl shear under a load, at the largest coil."""
    w = wound(ctx, name)
    value = stress.shear_MPa(max(load.value, 0.0), w.coil.wire_mm, w.coil.mean_mm)
    formula = f"{symbol} = {w.wahl.symbol}·8·max({load.symbol}, 0)·{w.mean.symbol}/(π·{w.wire.symbol}³)"
    return Figure.calculated(symbol, label, value, STRESS, formula, w.wahl, load, w.mean, w.wire)


def goodman(ctx: Context, name: str, seat: Figure, open_: Figure) -> Figure:
    """Safety against the Goodman line of typical wire."""
    w, tail = wound(ctx, name), "" if name == "outer" else "_i"
    d = w.coil.wire_mm
    strength = Figure(
        f"S_s{tail}", "Shear strength of the wire", CHROME_SILICON.shear_strength_MPa(d), STRESS, Evidence.ASSUMED,
        None,
        note=f"typical clean chrome-silicon: {CHROME_SILICON.shear_share:g} of a tensile strength of "
        f"{CHROME_SILICON.tensile_1mm_MPa:g}·d^−{CHROME_SILICON.size:g} MPa",
    )  # fmt: skip
    endurance = Figure(
        f"S_e{tail}", "Reversed shear borne without end", CHROME_SILICON.reversed_amplitude_MPa(d), STRESS,
        Evidence.ASSUMED, None,
        note=f"typical peened wire: {CHROME_SILICON.amplitude_MPa:g} MPa either side of {CHROME_SILICON.mean_MPa:g}",
    )  # fmt: skip
    value = fatigue.goodman_factor(seat.value, open_.value, d)
    half, both = f"({open_.symbol} − {seat.symbol})/2", f"({open_.symbol} + {seat.symbol})/2"
    formula = f"n = 1/(({half})/{endurance.symbol} + ({both})/{strength.symbol})"
    note = f"The {name} spring. Typical wire, clean and peened; rust, a nick or heat takes most of it away."
    return Figure.calculated(
        "n", f"Fatigue factor, {name}", value, RATIO, formula, seat, open_, endurance, strength, note=note
    )


def line_MPa(wire_mm: float) -> tuple[float, float]:
    """The ends of the Goodman line of typical wire: shear strength, and what it bears reversed without end."""
    return CHROME_SILICON.shear_strength_MPa(wire_mm), CHROME_SILICON.reversed_amplitude_MPa(wire_mm)


@figure
def nest_gap(ctx: Context) -> Figure:
    """Radial gap between the springs, or between each and a flat damper."""
    if ctx.side.stack.pack is Pack.SINGLE:
        raise NotFitted("no inner spring is fitted")
    ctx.need("stack.outer.outside", "stack.outer.wire", "stack.inner.outside")
    outside, wire, inner = (
        ctx.entry("stack.outer.outside", "D_o"),
        ctx.entry("stack.outer.wire", "d"),
        ctx.entry("stack.inner.outside", "D_o_i"),
    )
    inputs, thickness, formula = [outside, wire, inner], 0.0, "c = (D_o − 2·d − D_o_i)/2"
    if ctx.side.stack.damping is Damping.FLAT:
        t = ctx.entry("stack.damper_thickness", "t_d")
        inputs.append(t)
        thickness, formula = t.value, formula + " − t_d"
    value = geometry.nest_gap_mm(outside.value, wire.value, inner.value, thickness)
    wanted = ctx.side.stack.damping is Damping.INTERFERENCE
    note = "Below zero they interfere, as this pack means to." if wanted else "Below zero they interfere."
    return length("c", "Gap between the springs", value, formula, *inputs, note=note)


def same_hand(ctx: Context) -> str:
    """The caution where outer and inner are wound the same way, else an empty text."""
    stack = ctx.side.stack
    if stack.pack is not Pack.DUAL or stack.outer.wound is Wound.UNSTATED or stack.outer.wound is not stack.inner.wound:
        return ""
    return (
        f"Outer and inner are both wound {stack.outer.wound.value}: coils of one can catch between coils of the other."
    )


def _nest_limit(ctx: Context) -> Limit:
    wanted = ctx.side.stack.damping is Damping.INTERFERENCE
    return ctx.limit("spring.nest_gap.interference" if wanted else "spring.nest_gap")


CHECKS = (
    Check(
        "spring.nest_gap",
        "Between springs",
        "springs",
        "Radial gap between outer and inner spring.",
        work=nest_gap,
        limit=_nest_limit,
        applies=lambda ctx: ctx.side.stack.pack is not Pack.SINGLE,
    ),
)

FIGURES = (Named("spring.nest_gap", "Gap between the springs", nest_gap),)
