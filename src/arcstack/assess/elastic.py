"""The elastic train of a side: what it is made of, what it does over speed, and how sure that is."""

import math
from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np

from arcstack.assess import cam, coil, control, spring, surge
from arcstack.assess.check import Check, Named, Says
from arcstack.assess.context import Context, figure
from arcstack.checks import Evidence, Figure, Limit, Sense
from arcstack.document.parts import FollowerKind, Pack
from arcstack.dynamics.model import Chain, Train
from arcstack.dynamics.motion import FASTEST_RPM, AtSpeed
from arcstack.dynamics.question import Answer, Question, Run
from arcstack.dynamics.sweep import grid_rpm, parting_rpm
from arcstack.errors import Waiting
from arcstack.mech.control import cam_rad_per_s
from arcstack.settings import setting
from arcstack.units import FORCE, LENGTH, RATIO, SPEED, VELOCITY, show

STIFFNESS_BY_KIND = {FollowerKind.BUCKET: 28_000.0, FollowerKind.FINGER: 14_000.0, FollowerKind.ROCKER: 9_000.0}
"""N/mm at the valve, where it is not measured: a bucket is stiffest, a rocker on its shaft gives most."""

DAMPING_RATIO = setting("train.damping")
SEAT_STIFFNESS = setting("train.seat_stiffness")
SEAT_DAMPING = setting("train.seat_damping")

SPREAD = {
    "k_t": (0.6, 1.6),
    "ζ_t": (0.5, 2.0),
    "k_z": (0.5, 2.0),
    "ζ_z": (0.5, 2.0),
    "ζ_c": (0.5, 3.0),
    "R_f": (0.5, 2.0),
}
"""Usual spread of each figure of the train that is only assumed: what it is multiplied by at its ends."""

LEAST_RUB = setting("train.least_rub")

AS_BUILT = "as built"

STEP_RPM = setting("train.step")
BAND_STEP_RPM = setting("train.band_step")

BAND_FROM = setting("train.band_from")

SWEPT = int(setting("train.swept"))


def _usual(ctx: Context, path: str, symbol: str, value: float, words: str) -> Figure:
    low, high = SPREAD[symbol]
    return ctx.entry(path, symbol, value, f"{words}; {low:g} to {high:g} of it is tried too")


@figure
def stiffness(ctx: Context) -> Figure:
    kind = ctx.kind
    return _usual(ctx, "follower.stiffness", "k_t", STIFFNESS_BY_KIND[kind], f"usual for a {kind.value}")


@figure
def damping(ctx: Context) -> Figure:
    return _usual(ctx, "follower.damping", "ζ_t", DAMPING_RATIO, "usual")


@figure
def seat_stiffness(ctx: Context) -> Figure:
    return _usual(ctx, "stack.seat_stiffness", "k_z", SEAT_STIFFNESS, "usual of a valve on its seat")


@figure
def seat_damping(ctx: Context) -> Figure:
    return _usual(ctx, "stack.seat_damping", "ζ_z", SEAT_DAMPING, "usual of a valve on its seat")


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
        seat_stiffness_N_per_mm=seat_stiffness(ctx).value,
        seat_damping_ratio=seat_damping(ctx).value,
        opening_force_N=held.opening_force_N,
        friction_N=surge.friction(ctx).value,
        coil_damping=surge.coil_damping(ctx).value,
    )


@figure
def top_rpm(ctx: Context) -> float:
    """Highest speed that is looked at: past overspeed by a tenth, and past the limit with its tight zone."""
    limiter = ctx.entry("brief.limiter", "n_l").value
    over = ctx.document.brief.overspeed.value if ctx.document.brief.overspeed else limiter
    limit = separation_limit(ctx)
    assert limit.low is not None
    return min(max(1.10 * max(limiter, over), limit.low + limit.tight), FASTEST_RPM)


def _with_brief(ctx: Context, speeds: Sequence[float]) -> tuple[float, ...]:
    """Speeds with the brief's own among them."""
    brief = ctx.document.brief
    own = [e.value for e in (brief.usual_speed, brief.peak_speed, brief.limiter, brief.overspeed) if e is not None]
    return tuple(sorted({*speeds, *(s for s in own if speeds[0] <= s <= speeds[-1])}))


def lowest_rpm(ctx: Context) -> float:
    """Speed from which is looked: a third of the limiter."""
    return 0.35 * ctx.entry("brief.limiter", "n_l").value


def swept(ctx: Context, step: float) -> tuple[float, ...]:
    """Speeds ``step`` apart from a third of the limiter to the top, with the brief's own among them."""
    return _with_brief(ctx, grid_rpm(lowest_rpm(ctx), top_rpm(ctx), step))


def _known(figure: Figure) -> bool:
    return figure.weakest in (Evidence.MEASURED, Evidence.PRINTED)


def _ends(ctx: Context) -> dict[str, tuple[float, float]]:
    """The two ends of each figure of the train that is only assumed, by its symbol."""
    seat, coils = (seat_stiffness(ctx), seat_damping(ctx)), (surge.coil_damping(ctx), surge.friction(ctx))
    figures = (stiffness(ctx), damping(ctx), *seat, *coils)
    ends = {f.symbol: (f.value * SPREAD[f.symbol][0], f.value * SPREAD[f.symbol][1]) for f in figures if not _known(f)}
    if "R_f" in ends and ends["R_f"][1] == 0.0:
        ends["R_f"] = (0.0, LEAST_RUB * spring.seat_load(ctx).value)
    return ends


_FIELDS = {
    "k_t": "stiffness_N_per_mm", "ζ_t": "damping_ratio", "k_z": "seat_stiffness_N_per_mm", "ζ_z": "seat_damping_ratio",
    "ζ_c": "coil_damping", "R_f": "friction_N",
}  # fmt: skip

TOGETHER = (("train", ("k_t", "ζ_t")), ("seat", ("k_z", "ζ_z")), ("coils", ("ζ_c", "R_f")))
"""Figures that are tried at their ends together."""


def tried_otherwise(ctx: Context) -> list[tuple[str, Train]]:
    """The train at each end of what is only assumed, then on each other curve that the card or readings allow."""
    found, ends, rows = train(ctx), _ends(ctx), []
    for name, symbols in TOGETHER:
        for at, word in enumerate(("soft", "stiff")):
            moved = {_FIELDS[s]: ends[s][at] for s in symbols if s in ends}
            if moved:
                rows.append((f"{name}, {word}", found.with_assumed(**moved)))
    rows += [
        (f"curve {number}", replace(found, valve_law=other.valve))
        for number, other in enumerate(cam.curve(ctx).ends, 1)
    ]
    return rows


def cam_deg_per_ms(rpm: float) -> float:
    """Cam degrees that pass in a millisecond at a crank speed."""
    return math.degrees(cam_rad_per_s(rpm)) / 1000.0


@figure
def question(ctx: Context) -> Question:
    """The sweep that the verdicts rest on, and one for each end of its band."""
    runs = [Run(AS_BUILT, train(ctx), swept(ctx, STEP_RPM))]
    upper = tuple(s for s in swept(ctx, BAND_STEP_RPM) if s >= BAND_FROM * ctx.entry("brief.limiter", "n_l").value)
    runs += [Run(name, other, upper) for name, other in tried_otherwise(ctx)]
    return Question(tuple(runs))


@figure
def answer(ctx: Context) -> Answer:
    """What the train does over speed. Raises ``Waiting`` while that is not known."""
    if not ctx.sweeps_at_all:
        # what is missing is told; the rest is not even asked
        train(ctx)
        top_rpm(ctx)
        raise Waiting
    found = ctx.sweep(question(ctx))
    if found is None:
        raise Waiting
    return found


def first_look(ctx: Context, found: Answer) -> str:
    """What a first look says, in words: two turns from rest, few speeds, no band."""
    rows, gap = found.rows[AS_BUILT], parting_gap(ctx).value
    parts = parting_rpm(rows, gap)
    if parts is None:
        return f"{ctx.side_name} holds to {show(rows[-1].rpm, SPEED)}"
    return f"{ctx.side_name} parts near {show(parts, SPEED)}"


def inputs(ctx: Context) -> list[Figure]:
    """What the train rests on."""
    return [
        control.train_figures(ctx), stiffness(ctx), damping(ctx), seat_stiffness(ctx), seat_damping(ctx),
        surge.coil_damping(ctx), surge.friction(ctx),
    ]  # fmt: skip


@figure
def parting_gap(ctx: Context) -> Figure:
    return ctx.assumption("control.parting_gap", "g", "Gap that counts as parted")


def _parts(rows: Sequence[AtSpeed], gap: float) -> float:
    """Speed at which the rows part; the fastest of them where they never do."""
    return parting_rpm(rows, gap) or rows[-1].rpm


def _band(values: list[float]) -> tuple[float, float] | None:
    return (min(values), max(values)) if len(values) > 1 else None


def unsteady(ctx: Context, *speeds: float) -> str:
    """What is to be said where the train does not repeat at a speed that counts."""
    rows = answer(ctx).rows[AS_BUILT]
    wild = [s for s in speeds if not min(rows, key=lambda r: abs(r.rpm - s)).repeats]
    return f"At {show(wild[0], SPEED)} it does not repeat: the largest of the last turns counts." if wild else ""


@figure
def separation(ctx: Context) -> Figure:
    """Lowest speed at which valve and cam part on the lobe; where they never do, what it holds to at least."""
    gap, rows = parting_gap(ctx), answer(ctx).rows
    each = [_parts(r, gap.value) for r in rows.values()]
    own, band = rows[AS_BUILT], _band(each)
    held = parting_rpm(own, gap.value) is None
    told = [f"Holds to at least {show(own[-1].rpm, SPEED)}, the fastest tried."] if held else []
    if band:
        told.append(
            f"What is assumed of train, seat, coils and curve leaves {show(band[0], SPEED)} to {show(band[1], SPEED)} "
            "open."
        )
    told += [unsteady(ctx, each[0])]
    told += [
        f"{said} Its coils are followed as they touch; no speed is safe with that." for said in spring.gone_solid(ctx)
    ]
    words = (
        "fastest n tried, none parts by more than g" if held else "first n at which valve and cam part by more than g"
    )
    return Figure.calculated(
        "n_e",
        "Separation, elastic train",
        each[0],
        SPEED,
        words,
        *inputs(ctx),
        gap,
        note=" ".join(t for t in told if t),
        band=band,
        at_least=held,
    )


@figure
def parting_question(ctx: Context) -> Question:
    """The build's own sweep without its band: enough to lay packs side by side."""
    return Question((Run(AS_BUILT, train(ctx), swept(ctx, STEP_RPM)),))


@figure
def parting(ctx: Context) -> Figure:
    """As ``separation``, without its band. Raises ``Waiting`` while its sweep is not known."""
    found = ctx.sweep(parting_question(ctx))
    if found is None:
        raise Waiting
    gap = parting_gap(ctx)
    value = _parts(found.rows[AS_BUILT], gap.value)
    held = parting_rpm(found.rows[AS_BUILT], gap.value) is None
    return Figure.calculated(
        "n_e", "Separation, elastic train", value, SPEED, "as the elastic verdict", *inputs(ctx), gap, at_least=held
    )


@figure
def separation_limit(ctx: Context) -> Limit:
    share, limiter = ctx.limit("control.elastic_separation"), ctx.entry("brief.limiter", "n_l")
    assert share.low is not None
    low, by = limiter.value * share.low, f"{share.low:g} × limiter {show(limiter.value, SPEED)}"
    if ctx.given("brief.overspeed") and ctx.entry("brief.overspeed", "n_o").value > low:
        low = ctx.entry("brief.overspeed", "n_o").value
        by = f"overspeed {show(low, SPEED)} governs"
    reason, tight = f"{by}. {share.reason}", share.tight * limiter.value
    return replace(share, sense=Sense.AT_LEAST, low=low, high=None, tight=tight, dimension=SPEED, reason=reason)


def at(rows: Sequence[AtSpeed], rpm: float, take: Callable[[AtSpeed], float]) -> float:
    """A figure of the sweep at a speed, straight between the speeds swept."""
    return float(np.interp(rpm, [r.rpm for r in rows], [take(r) for r in rows]))


def _at_speed(
    ctx: Context, speed: Figure, take: Callable[[AtSpeed], float]
) -> tuple[float, tuple[float, float] | None]:
    # a run of the band that does not reach down to a speed says nothing of it
    values = [at(rows, speed.value, take) for rows in answer(ctx).rows.values() if rows[0].rpm <= speed.value]
    return values[0], _band(values)


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
        note += (
            f" {show(band[0], VELOCITY)} to {show(band[1], VELOCITY)} over what is assumed and the curve leaves open."
        )
    note = f"{note} {unsteady(ctx, speed.value)}".strip()
    return Figure.calculated(
        "v_z",
        "Seating velocity",
        value,
        VELOCITY,
        "hardest touch of the seat after the nose",
        *inputs(ctx),
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
        *inputs(ctx),
        speed,
        note=f"At {show(speed.value, SPEED)}. {unsteady(ctx, speed.value)}".strip(),
        band=band,
    )


@figure
def load_lost(ctx: Context) -> Figure:
    """Spring load that surge takes at the limiter, as a share of the open load."""
    speed, open_ = ctx.entry("brief.limiter", "n_l"), spring.open_load(ctx)
    value, band = _at_speed(ctx, speed, lambda r: r.load_lost_N / open_.value)
    words = "most load missing on the lobe in a turn"
    lost = Figure.calculated("S_q", "Load lost, limiter", value * open_.value, FORCE, words, *inputs(ctx), speed)
    return Figure.calculated(
        "q_s", "Load lost to surge, limiter", value, RATIO, "q_s = S_q/O_Σ", lost, open_, band=band
    )


@figure
def peak_contact(ctx: Context) -> Figure:
    """Peak contact force at the limiter."""
    speed = ctx.entry("brief.limiter", "n_l")
    value, band = _at_speed(ctx, speed, lambda r: r.peak_contact_N)
    return Figure.calculated(
        "F_p", "Peak contact force, limiter", value, FORCE, "most cam force in a turn", *inputs(ctx), speed, band=band
    )


CHECKS = (
    Check(
        "control.elastic_separation",
        "Elastic separation",
        "control",
        "Speed at which flex and surge part valve and cam.",
        work=separation,
        limit=separation_limit,
    ),
    Check(
        "control.seating_velocity",
        "Seating",
        "control",
        "Speed with which the valve meets its seat, at rated speed.",
        work=seating,
        limit="control.seating_velocity",
        says=Says.ALWAYS,
    ),
    Check(
        "control.bounce",
        "Bounce",
        "control",
        "Lift of the valve after it has seated, at the limiter.",
        work=bounce,
        limit="control.bounce",
    ),
)

FIGURES = (
    Named("elastic.separation", "Parts at", separation),
    Named("elastic.seating", "Seating velocity, rated speed", seating),
    Named("elastic.bounce", "Bounce at the limiter", bounce),
    Named("elastic.peak_contact", "Peak contact force, limiter", peak_contact),
    Named("elastic.load_lost", "Load lost to surge, limiter", load_lost),
    Named("elastic.stiffness", "Train stiffness", stiffness),
    Named("elastic.damping", "Train damping", damping),
)
