"""Surge of each spring: its frequency, its order, and the speeds at which the lift curve rings it."""

from dataclasses import dataclass

import numpy as np

from arcstack.assess import cam, coil, spring
from arcstack.assess.check import Check, Named, Says
from arcstack.assess.context import Context, figure
from arcstack.checks import Evidence, Figure
from arcstack.document.parts import Damping, Pack
from arcstack.mech.cam.law import Array
from arcstack.mech.spring import geometry
from arcstack.mech.spring import surge as surge_model
from arcstack.settings import setting
from arcstack.units import FORCE, FREQUENCY, MASS, RATIO, SPEED, show

COIL_DAMPING = setting("train.coil_damping")

_FRICTION_SHARE = {Damping.NONE: 0.0, Damping.INTERFERENCE: 0.05, Damping.FLAT: 0.07}
"""Rub of the pack as a share of its seat load, where it is not given."""

AVOID_SHARE, MATTERS_SHARE = setting("surge.avoid_share"), setting("surge.matters_share")

FROM_SHARE, TO_SHARE = setting("surge.from_share"), setting("surge.to_share")
"""How far below and above the limiter surge is looked at over speed."""

HARMONICS = range(4, 21)


def coiled(ctx: Context) -> tuple[str, ...]:
    """Springs that swing: both of a pair, also where one figure stands for their load."""
    return ("outer",) if ctx.side.stack.pack is Pack.SINGLE else ("outer", "inner")


def springs_mass(ctx: Context) -> Figure:
    """What the springs of a valve weigh, in all."""
    ctx.need(*(f"stack.{n}.mass" for n in coiled(ctx)))
    parts = [ctx.entry(f"stack.{n}.mass", f"m_{n[0]}") for n in coiled(ctx)]
    return Figure.calculated("m_p", "Mass of the springs", sum(p.value for p in parts), MASS, "m_p = Σ m", *parts)


def own_rate(ctx: Context, name: str) -> Figure:
    """A spring's own rate: its line's, or its wire's where one load figure stands for the pair."""
    return coil.wire_rate(ctx, name) if ctx.side.stack.pack is Pack.ASSEMBLED else spring.line(ctx, name).rate


def frequency(ctx: Context, name: str) -> Figure:
    """First surge frequency, both ends held."""
    spring.fitted(ctx, name)
    rate, mass, tail = own_rate(ctx, name), coil.active_mass(ctx, name), "" if name == "outer" else "_i"
    value = geometry.surge_Hz(rate.value, mass.value)
    return Figure.calculated(
        f"f_s{tail}", f"Surge frequency, {name}", value, FREQUENCY, f"f_s{tail} = ½·√(10⁶·{rate.symbol}/{mass.symbol})",
        rate, mass, note=f"N/mm and g make 10⁶. Further modes near {2 * value:.0f} and {3 * value:.0f} Hz.",
    )  # fmt: skip


@figure
def frequency_outer(ctx: Context) -> Figure:
    return frequency(ctx, "outer")


@figure
def frequency_inner(ctx: Context) -> Figure:
    return frequency(ctx, "inner")


def frequencies(ctx: Context) -> list[Figure]:
    return [frequency_outer(ctx) if n == "outer" else frequency_inner(ctx) for n in coiled(ctx)]


@figure
def order(ctx: Context) -> Figure:
    """Order of the lower spring at the limiter."""
    limiter = ctx.entry("brief.limiter", "n_l")
    rows = frequencies(ctx)
    low = min(rows, key=lambda f: f.value).among(*rows)
    value = surge_model.order(low.value, limiter.value)
    note = f"{low.label.split(', ')[-1].capitalize()} spring, cam at {limiter.value / 120.0:.1f} turns a second."
    return Figure.calculated(
        "o", "Surge order at the limiter", value, RATIO, f"o = {low.symbol}/(n_l/120)", low, limiter, note=note
    )


@figure
def coil_damping(ctx: Context) -> Figure:
    return ctx.entry("stack.coil_damping", "ζ_c", COIL_DAMPING, "usual of a bare spring")


@figure
def friction(ctx: Context) -> Figure:
    """Rub within the pack that damps surge."""
    if ctx.given("stack.friction"):
        return ctx.entry("stack.friction", "R_f")
    kind = ctx.side.stack.damping
    share, seat = _FRICTION_SHARE[kind], spring.seat_load(ctx)
    whose = "no damper, springs clear of each other" if kind is Damping.NONE else f"usual of a pack with {kind.value}"
    rub = Figure("s_f", "Rub, share of seat load", share, RATIO, Evidence.ASSUMED, None, note=whose)
    return Figure.calculated(
        "R_f", "Friction in the pack", share * seat.value, FORCE, "R_f = s_f·S_Σ", rub, seat,
        note=f"Not measured: {share:.0%} of the seat load is assumed, {whose}.".replace("%", " %"),
    )  # fmt: skip


@figure
def harmonics(ctx: Context) -> Array:
    """Amplitude (mm) of each harmonic of net lift over a cam turn, from none to the highest looked at."""
    return surge_model.lift_harmonics_mm(cam.curve(ctx).valve, cam.lash(ctx).value, max(HARMONICS))


@dataclass(frozen=True)
class Ringing:
    """One speed at which a harmonic of this lift curve rings a spring."""

    spring: str
    found: surge_model.Resonance
    avoid: bool
    matters: bool

    @property
    def words(self) -> str:
        return f"{show(self.found.rpm, SPEED)}, harmonic {self.found.harmonic}, {self.spring}"


@figure
def ringing(ctx: Context) -> list[Ringing]:
    """Every such speed from a third of the limiter to past overspeed, fastest first."""
    limiter = ctx.entry("brief.limiter", "n_l").value
    top = max(ctx.document.brief.overspeed.value if ctx.document.brief.overspeed else 0.0, limiter) * 1.05
    lift = harmonics(ctx)
    loads = spring.open_loads(ctx)
    rub, least = friction(ctx).value, spring.open_load(ctx).value * MATTERS_SHARE
    rows = []
    for at, (name, own) in enumerate(zip(coiled(ctx), frequencies(ctx), strict=True)):
        rate, share = own_rate(ctx, name).value, loads[min(at, len(loads) - 1)].value * AVOID_SHARE
        for harmonic in HARMONICS:
            found = surge_model.resonance(
                harmonic, float(lift[harmonic]), own.value, rate, coil_damping(ctx).value, rub
            )
            if limiter / 3.0 <= found.rpm <= top:
                rows.append(Ringing(name, found, found.load_lost_N > share, found.load_lost_N > least))
    return sorted(rows, key=lambda r: -r.found.rpm)


@dataclass(frozen=True)
class OverSpeed:
    """A spring's surge order over crank speed, and the harmonic of the lift that rings it there (mm)."""

    spring: str
    order: Array
    rings_mm: Array


def over_speed(ctx: Context, points: int) -> tuple[Array, tuple[OverSpeed, ...]]:
    """Speeds (rpm) round the limiter, and each spring over them."""
    limiter, over = ctx.entry("brief.limiter", "n_l").value, ctx.document.brief.overspeed
    rpm = np.linspace(FROM_SHARE * limiter, TO_SHARE * max(limiter, over.value if over else 0.0), points)
    lift, damping, found = harmonics(ctx), coil_damping(ctx).value, []
    for name, own in zip(coiled(ctx), frequencies(ctx), strict=True):
        order = surge_model.order(np.full_like(rpm, own.value), rpm)
        found.append(OverSpeed(name, order, surge_model.harmonic_near_mm(lift, order, damping)))
    return rpm, tuple(found)


CHECKS = (
    Check(
        "spring.surge_order",
        "Surge order",
        "springs",
        "Surge frequency ÷ cam frequency at the limiter.",
        work=order,
        limit="spring.surge_order",
        says=Says.ALWAYS,
    ),
)

FIGURES = (
    Named("spring.surge.outer", "Surge frequency, outer", frequency_outer),
    Named("spring.surge.inner", "Surge frequency, inner", frequency_inner),
    Named("spring.surge_order", "Surge order at the limiter", order),
    Named("spring.friction", "Friction in the pack", friction),
)
