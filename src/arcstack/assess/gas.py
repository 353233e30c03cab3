"""Gas force on the closed valve, by both rules."""

from arcstack.assess import spring
from arcstack.assess.check import Check, Mover, Named
from arcstack.assess.context import Context, figure
from arcstack.checks import Evidence, Figure
from arcstack.mech import gas
from arcstack.settings import setting
from arcstack.units import FORCE, GAUGE_PRESSURE

AMBIENT = Figure(
    "p₀", "Ambient, absolute", gas.AMBIENT_BAR, GAUGE_PRESSURE, Evidence.ASSUMED, None, note="standard atmosphere"
)

BAR = "1 bar is 0.1 N/mm²."


@figure
def boost(ctx: Context) -> Figure:
    return ctx.entry("brief.boost", "p_b")


@figure
def back_pressure(ctx: Context) -> Figure:
    """Mean gauge pressure before the turbine; assumed from boost by a stated ratio where it is not given."""
    if ctx.given("brief.back_pressure"):
        return ctx.entry("brief.back_pressure", "p_e")
    b = boost(ctx)
    if ctx.given("brief.back_pressure_ratio"):
        ratio = ctx.entry("brief.back_pressure_ratio", "x")
    else:
        ratio = ctx.assumption("gas.back_pressure_ratio", "x", "Back pressure ÷ boost", "brief.back_pressure")
    return Figure.by(
        "Back pressure, mean gauge",
        GAUGE_PRESSURE,
        "p_e = x · p_b",
        b,
        ratio,
        note="Not measured: assumed from boost.",
    )


@figure
def pulse_peak(ctx: Context) -> Figure:
    """Gauge pressure at the top of the exhaust pulse."""
    if ctx.given("brief.pulse_peak"):
        return ctx.entry("brief.pulse_peak", "p_p")
    mean = back_pressure(ctx)
    ratio = ctx.assumption("gas.pulse_ratio", "y", "Pulse peak ÷ mean", "brief.pulse_peak")
    return Figure.by(
        "Exhaust pulse peak, gauge",
        GAUGE_PRESSURE,
        "p_p = y · p_e",
        mean,
        ratio,
        note="Not measured: assumed from the mean, which it often passes by half as much or twice.",
        band=(mean.value * min(PULSE_LEAST, ratio.value), mean.value * max(PULSE_MOST, ratio.value)),
    )


PULSE_LEAST, PULSE_MOST = setting("gas.pulse_least"), setting("gas.pulse_most")
"""Between which the peak of an exhaust pulse over its mean usually lies."""


@figure
def usual_load(ctx: Context) -> Figure:
    """Seat load that would do with no boost."""
    if ctx.given("stack.usual_load"):
        return ctx.entry("stack.usual_load", "S_u")
    return ctx.assumption("gas.usual_seat_load", "S_u", "Usual seat load, no boost")


@figure
def boost_rule_force(ctx: Context) -> Figure:
    head = ctx.entry("stack.valve.head", "d_v")
    pressure = boost(ctx) if ctx.intake else back_pressure(ctx)
    return Figure.calculated(
        "G_b",
        "Boost rule force",
        gas.boost_rule_force_N(head.value, pressure.value),
        FORCE,
        f"G_b = 0.1·{pressure.symbol}·π·d_v²/4",
        pressure,
        head,
        note=f"Gauge pressure on the whole head; what the cylinder pushes back is left out. {BAR}",
    )


@figure
def boost_rule(ctx: Context) -> Figure:
    load, usual, force = spring.seat_load(ctx), usual_load(ctx), boost_rule_force(ctx)
    return Figure.by("Seat load over need, boost rule", FORCE, "M_b = S_Σ − S_u − G_b", load, usual, force)


@figure
def difference_force(ctx: Context) -> Figure:
    """Worst net gas force that lifts the closed valve.

    Intake: just before opening, port at manifold pressure, cylinder at back pressure. Exhaust: during the intake
    stroke, port at the pulse's peak, cylinder at manifold pressure.
    """
    head, stem = ctx.entry("stack.valve.head", "d_v"), ctx.entry("stack.valve.stem", "d_s")
    port, cylinder = (boost(ctx), back_pressure(ctx)) if ctx.intake else (pulse_peak(ctx), boost(ctx))
    value = gas.opening_force_N(head.value, stem.value, port.value + gas.AMBIENT_BAR, cylinder.value + gas.AMBIENT_BAR)
    ends = [
        gas.opening_force_N(head.value, stem.value, end + gas.AMBIENT_BAR, cylinder.value + gas.AMBIENT_BAR)
        for end in port.band or ()
    ]
    when = "just before it opens" if ctx.intake else "during the intake stroke"
    return Figure.calculated(
        "G_d",
        "Difference rule force",
        value,
        FORCE,
        f"G_d = 0.1·π/4·(({port.symbol} + p₀)·(d_v² − d_s²) + p₀·d_s² − ({cylinder.symbol} + p₀)·d_v²)",
        port,
        cylinder,
        head,
        stem,
        AMBIENT,
        note=f"Worst {when}. Below zero the gas holds the valve shut. {BAR}",
        band=(float(min(ends)), float(max(ends))) if ends else None,
    )


@figure
def difference_rule(ctx: Context) -> Figure:
    load, usual, force = spring.seat_load(ctx), usual_load(ctx), difference_force(ctx)
    left = load.value - usual.value
    ends = [left - max(end, 0.0) for end in force.band or ()]
    return Figure.by(
        "Seat load over need, difference rule",
        FORCE,
        "M_d = S_Σ − S_u − max(G_d, 0)",
        load,
        usual,
        force,
        note="Gas that holds the valve shut is not counted in the spring's favour.",
        band=(min(ends), max(ends)) if ends else None,
    )


OPENS_OVER_MM = setting("gas.opens_over")


@figure
def opening_pressure(ctx: Context) -> Figure:
    """Gauge pressure in the cylinder as the exhaust valve opens."""
    if ctx.given("brief.opening_pressure"):
        return ctx.entry("brief.opening_pressure", "p_z")
    return ctx.assumption("gas.opening_pressure", "p_z", "Cylinder as exhaust opens, gauge", "brief.opening_pressure")


@figure
def opening_load(ctx: Context) -> Figure:
    """Force that holds the exhaust valve shut as the lobe opens it; nothing on the intake side."""
    if ctx.intake:
        return Figure("G_z", "Gas against opening", 0.0, FORCE, Evidence.ASSUMED, None, note="intake: none is counted")
    head, stem = ctx.entry("stack.valve.head", "d_v"), ctx.entry("stack.valve.stem", "d_s")
    port, cylinder = back_pressure(ctx), opening_pressure(ctx)
    lifts = gas.opening_force_N(head.value, stem.value, port.value + gas.AMBIENT_BAR, cylinder.value + gas.AMBIENT_BAR)
    formula = f"G_z = max(0.1·π/4·(({cylinder.symbol} + p₀)·d_v² − ({port.symbol} + p₀)·(d_v² − d_s²) − p₀·d_s²), 0)"
    return Figure.calculated(
        "G_z", "Gas against opening", max(-lifts, 0.0), FORCE, formula, cylinder, port, head, stem, AMBIENT,
        note=f"Fades to nothing over the first {OPENS_OVER_MM:g} mm. {BAR}",
    )  # fmt: skip


CHECKS = (
    Check(
        "gas.boost_rule",
        "Boost rule",
        "control",
        "Seat load over the usual figure and gauge pressure × valve area.",
        work=boost_rule,
        limit="gas.boost_rule",
        judges=lambda ctx: ctx.practice.schools.boost == "boost",
        moved_by=(
            Mover.HEIGHT,
            Mover.PRESSURE,
        ),
    ),
    Check(
        "gas.difference_rule",
        "Difference rule",
        "control",
        "Seat load over the usual figure and the worst net gas force.",
        work=difference_rule,
        limit="gas.difference_rule",
        judges=lambda ctx: ctx.practice.schools.boost == "difference",
        moved_by=(
            Mover.HEIGHT,
            Mover.PRESSURE,
        ),
    ),
)

FIGURES = (
    Named("gas.back_pressure", "Back pressure, mean gauge", back_pressure),
    Named("gas.pulse_peak", "Exhaust pulse peak, gauge", pulse_peak),
    Named("gas.usual_load", "Usual seat load, no boost", usual_load),
    Named("gas.boost_rule_force", "Boost rule force", boost_rule_force),
    Named("gas.difference_force", "Difference rule force", difference_force),
    Named("gas.opening_load", "Gas against opening", opening_load),
)
