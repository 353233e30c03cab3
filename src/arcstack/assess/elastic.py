"""The elastic train of a side: what it is made of, what it does over speed, and how sure that is."""

from collections.abc import Callable, Sequence

import numpy as np

from arcstack.assess import cam, coil, control, spring, surge
from arcstack.assess.context import Context, MissingInput, figure, no_sweeps
from arcstack.build.parts import FollowerKind, Pack
from arcstack.checks import Figure, Limit, Sense
from arcstack.dynamics.model import Chain, Train
from arcstack.dynamics.motion import FASTEST_RPM, AtSpeed
from arcstack.dynamics.question import Answer, Question, Run
from arcstack.dynamics.sweep import parting_rpm, speeds_rpm
from arcstack.units import FORCE, LENGTH, RATIO, SPEED, VELOCITY, show

STIFFNESS_BY_KIND = {FollowerKind.BUCKET: 28_000.0, FollowerKind.FINGER: 14_000.0, FollowerKind.ROCKER: 9_000.0}
"""N/mm at the valve, where it is not measured: a bucket is stiffest, a rocker on its shaft gives most."""

DAMPING_RATIO = 0.06

SOFT, STIFF = (0.6, 0.5), (1.6, 2.0)
"""What assumed stiffness and damping are multiplied by for the two ends of the band."""

AS_BUILT, SOFT_RUN, STIFF_RUN = "as built", "soft", "stiff"

SWEPT = 60
BAND_SWEPT = 36


class Working(MissingInput):
    """The elastic train is still being worked out."""

    def __init__(self) -> None:
        super().__init__(why="Elastic train not worked out yet")


@figure
def stiffness(ctx: Context) -> Figure:
    kind = ctx.build.engine.follower
    why = f"usual for a {kind.value}; {SOFT[0]:g} to {STIFF[0]:g} of it is tried too"
    return ctx.entry("stack.bucket.stiffness", "k_t", STIFFNESS_BY_KIND[kind], why)


@figure
def damping(ctx: Context) -> Figure:
    why = f"usual; {SOFT[1]:g} to {STIFF[1]:g} of it is tried too"
    return ctx.entry("stack.bucket.damping", "ζ_t", DAMPING_RATIO, why)


def _chain(ctx: Context, name: str, load: float, rate: float, stiffening: float, closed: float) -> Chain:
    solid = ctx.entry(f"stack.{name}.solid", "b").value
    return Chain(load, rate, closed - solid, coil.active_mass(ctx, name).value, stiffening)


@figure
def chains(ctx: Context) -> tuple[Chain, ...]:
    """The springs of the side as chains of coils; an assembled figure is shared out by the wires' own rates."""
    names = surge.coiled(ctx)
    if ctx.side.stack.pack is not Pack.ASSEMBLED:
        return tuple(_own_chain(ctx, n) for n in names)
    seat, rate = spring.seat_load(ctx).value, spring.pack_rate(ctx).value
    wires = [coil.wire_rate(ctx, n).value for n in names]
    return tuple(
        _chain(ctx, n, seat * w / sum(wires), rate * w / sum(wires), 0.0, spring.height(ctx, n).value)
        for n, w in zip(names, wires, strict=True)
    )


def _own_chain(ctx: Context, name: str) -> Chain:
    """Load over lift as load + rate·x + stiffening·x², met at closed, half and full lift."""
    curve, closed, lift = spring.line(ctx, name).curve, spring.height(ctx, name).value, cam.gross_lift(ctx).value
    at = np.array([0.0, lift / 2.0, lift])
    load = np.maximum(np.asarray(curve.load_N(closed - at)), 0.0)
    second = 2.0 * (load[2] - 2.0 * load[1] + load[0]) / lift**2
    rate = (load[2] - load[0]) / lift - second * lift
    return _chain(ctx, name, float(load[0]), float(rate), float(second), closed)


@figure
def train(ctx: Context) -> Train:
    """The elastic train. Raises ``MissingInput``."""
    springs = chains(ctx)
    held = control.judged_train(ctx)
    coils = sum(s.mass_kg for s in springs) / 3.0
    return Train(
        held.valve_law,
        spring.moving_mass(ctx).value - coils,
        springs,
        held.lash_mm,
        stiffness(ctx).value,
        damping(ctx).value,
        opening_force_N=held.opening_force_N,
        friction_N=surge.friction(ctx).value,
        coil_damping=surge.COIL_DAMPING,
    )


@figure
def top_rpm(ctx: Context) -> float:
    """Highest speed that is looked at: past overspeed by a tenth."""
    limiter = ctx.entry("brief.limiter", "n_l").value
    over = ctx.build.brief.overspeed.value if ctx.build.brief.overspeed else limiter
    return min(1.10 * max(limiter, over), FASTEST_RPM)


def swept(ctx: Context, count: int) -> tuple[float, ...]:
    """Speeds from a third of the limiter to the top, with the brief's own among them."""
    brief, top = ctx.build.brief, top_rpm(ctx)
    lowest = 0.35 * ctx.entry("brief.limiter", "n_l").value
    own = [e.value for e in (brief.usual_speed, brief.peak_speed, brief.limiter, brief.overspeed) if e is not None]
    return tuple(sorted({*speeds_rpm(lowest, top, count), *(s for s in own if lowest <= s <= top)}))


@figure
def question(ctx: Context) -> Question:
    """The sweep that the verdicts rest on; both ends of the band where stiffness or damping is assumed."""
    found = train(ctx)
    runs = [Run(AS_BUILT, found, swept(ctx, SWEPT))]
    for name, (stiff, damp) in ((SOFT_RUN, SOFT), (STIFF_RUN, STIFF)):
        k = found.stiffness_N_per_mm * (1.0 if ctx.given("stack.bucket.stiffness") else stiff)
        z = found.damping_ratio * (1.0 if ctx.given("stack.bucket.damping") else damp)
        if (k, z) != (found.stiffness_N_per_mm, found.damping_ratio):
            runs.append(Run(name, found.with_assumed(k, z), swept(ctx, BAND_SWEPT)))
    return Question(tuple(runs))


@figure
def answer(ctx: Context) -> Answer:
    """What the train does over speed. Raises ``Working`` while that is not known."""
    if ctx.sweeps is no_sweeps:
        # what is missing is told; the rest is not even asked
        train(ctx)
        top_rpm(ctx)
        raise Working
    found = ctx.sweeps(question(ctx))
    if found is None:
        raise Working
    return found


def _inputs(ctx: Context) -> list[Figure]:
    return [control.train_figures(ctx), stiffness(ctx), damping(ctx), surge.friction(ctx)]


@figure
def parting_gap(ctx: Context) -> Figure:
    return ctx.assumption("control.parting_gap", "g", "Gap that counts as parted")


def _parts(rows: Sequence[AtSpeed], gap: float) -> float:
    """Speed at which the rows part; the fastest of them where they never do."""
    return parting_rpm(rows, gap) or rows[-1].rpm


@figure
def separation(ctx: Context) -> Figure:
    """Lowest speed at which valve and cam part on the lobe."""
    gap, rows = parting_gap(ctx), answer(ctx).rows
    each = [_parts(r, gap.value) for r in rows.values()]
    own = rows[AS_BUILT]
    held = parting_rpm(own, gap.value) is None
    note = f"Holds to {show(own[-1].rpm, SPEED)}, the fastest tried." if held else ""
    if len(each) > 1:
        note += f" Assumed stiffness and damping leave {show(min(each), SPEED)} to {show(max(each), SPEED)} open."
    for said in spring.gone_solid(ctx):
        note += f" {said} Its coils are followed as they touch; no speed is safe with that."
    return Figure.calculated(
        "n_e",
        "Separation, elastic train",
        each[0],
        SPEED,
        "first n at which valve and cam part by more than g on the lobe",
        *_inputs(ctx),
        gap,
        note=note.strip(),
        band=(min(each), max(each)) if len(each) > 1 else None,
    )


@figure
def parting_question(ctx: Context) -> Question:
    """The build's own sweep without its band: enough to lay packs side by side."""
    return Question((Run(AS_BUILT, train(ctx), swept(ctx, SWEPT)),))


@figure
def parting(ctx: Context) -> Figure:
    """As ``separation``, without its band. Raises ``Working`` while its sweep is not known."""
    found = ctx.sweeps(parting_question(ctx))
    if found is None:
        raise Working
    gap = parting_gap(ctx)
    value = _parts(found.rows[AS_BUILT], gap.value)
    return Figure.calculated(
        "n_e", "Separation, elastic train", value, SPEED, "as the elastic verdict", *_inputs(ctx), gap
    )


@figure
def separation_limit(ctx: Context) -> Limit:
    share, limiter = ctx.limit("control.elastic_separation"), ctx.entry("brief.limiter", "n_l")
    assert share.low is not None
    low, by = limiter.value * share.low, f"{share.low:g} × limiter {show(limiter.value, SPEED)}"
    if ctx.given("brief.overspeed") and ctx.entry("brief.overspeed", "n_o").value > low:
        low = ctx.entry("brief.overspeed", "n_o").value
        by = f"overspeed {show(low, SPEED)} governs"
    return Limit(
        share.key, Sense.AT_LEAST, low, None, share.tight * limiter.value, SPEED, f"{by}. {share.reason}", share.origin
    )


def at(rows: Sequence[AtSpeed], rpm: float, take: Callable[[AtSpeed], float]) -> float:
    """A figure of the sweep at a speed, straight between the speeds swept."""
    return float(np.interp(rpm, [r.rpm for r in rows], [take(r) for r in rows]))


def _at_speed(
    ctx: Context, speed: Figure, take: Callable[[AtSpeed], float]
) -> tuple[float, tuple[float, float] | None]:
    values = [at(rows, speed.value, take) for rows in answer(ctx).rows.values()]
    return values[0], (min(values), max(values)) if len(values) > 1 else None


@figure
def rated(ctx: Context) -> Figure:
    """Rated speed: that of peak power, else the limiter."""
    return ctx.entry("brief.peak_speed" if ctx.given("brief.peak_speed") else "brief.limiter", "n_r")


@figure
def seating(ctx: Context) -> Figure:
    """Speed with which the valve meets its seat at rated speed."""
    speed = rated(ctx)
    value, band = _at_speed(ctx, speed, lambda r: r.seating_m_per_s)
    note = f"At {show(speed.value, SPEED)}."
    if band:
        note += f" {show(band[0], VELOCITY)} to {show(band[1], VELOCITY)} over the assumed stiffness and damping."
    return Figure.calculated(
        "v_z",
        "Seating velocity",
        value,
        VELOCITY,
        "v_z at the first touch after the nose",
        *_inputs(ctx),
        speed,
        note=note,
        band=band,
    )


@figure
def bounce(ctx: Context) -> Figure:
    """How far the valve lifts again after it has seated, at the limiter."""
    speed = ctx.entry("brief.limiter", "n_l")
    value, band = _at_speed(ctx, speed, lambda r: r.bounce_mm)
    return Figure.calculated(
        "x_b",
        "Bounce at the limiter",
        value,
        LENGTH,
        "highest lift after the first touch",
        *_inputs(ctx),
        speed,
        note=f"At {show(speed.value, SPEED)}.",
        band=band,
    )


@figure
def load_lost(ctx: Context) -> Figure:
    """Spring load that surge takes at the limiter, as a share of the open load."""
    speed, open_ = ctx.entry("brief.limiter", "n_l"), spring.open_load(ctx)
    value, band = _at_speed(ctx, speed, lambda r: r.load_lost_N / open_.value)
    return Figure.calculated(
        "q_s",
        "Load lost to surge, limiter",
        value,
        RATIO,
        "q_s = most load missing on the lobe / O_Σ",
        *_inputs(ctx),
        open_,
        speed,
        band=band,
    )


@figure
def peak_contact(ctx: Context) -> Figure:
    """Peak contact force at the limiter."""
    speed = ctx.entry("brief.limiter", "n_l")
    value, band = _at_speed(ctx, speed, lambda r: r.peak_contact_N)
    return Figure.calculated(
        "F_p", "Peak contact force, limiter", value, FORCE, "most cam force in a turn", *_inputs(ctx), speed, band=band
    )
