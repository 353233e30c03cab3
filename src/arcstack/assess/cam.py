"""Lift, the estimated curve, and the audit of the card."""

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache, partial

import numpy as np

from arcstack.assess.check import Check, Named
from arcstack.assess.context import Context, figure, known, length, name_of
from arcstack.assess.reads import note
from arcstack.checks import Evidence, Figure, Limit, Missing
from arcstack.document.parts import Duration, Hand, MeasuredCurve, Place, RatioFrom
from arcstack.document.ratio_table import read_ratio_table
from arcstack.errors import MissingInput
from arcstack.mech import follower
from arcstack.mech.cam.estimate import (
    CardDuration,
    estimated_asymmetric,
    estimated_lobe,
    open_asymmetric,
    usual_ramp_mm_per_rad,
)
from arcstack.mech.cam.facts import LobeFacts, facts, lobe_area_mm_rad
from arcstack.mech.cam.law import AsymmetricLobe, LashLaw, LiftLaw, Ramp, SymmetricLobe
from arcstack.mech.cam.smoothing import Smoothed as Smoothed
from arcstack.mech.cam.smoothing import smooth
from arcstack.mech.ratio import ConstantRatio, Motion, PivotArm, at_lobe, at_valve, lobe_for_valve_mm
from arcstack.settings import setting
from arcstack.units import ANGLE, LENGTH, RATIO, show


@figure
def motion(ctx: Context) -> Motion:
    """How the fitted follower turns lobe lift into valve lift."""
    lever = ctx.lever
    if ctx.bucket:
        return ConstantRatio(1.0)
    if lever.ratio_from is RatioFrom.CONSTANT:
        return ConstantRatio(ctx.entry("follower.ratio", "i").value)
    if lever.ratio_from is RatioFrom.TABLE:
        if not lever.ratio_table:
            raise MissingInput(Missing(ctx.path("follower.ratio_table"), "Lobe lift and ratio"))
        return read_ratio_table(lever.ratio_table)
    try:
        return PivotArm(*(f.value for f in _pivot(ctx)))
    except ValueError as error:
        raise _no_arm(ctx, error) from error


def _no_arm(ctx: Context, error: ValueError) -> MissingInput:
    return MissingInput(Missing(ctx.path("follower.pad_arm"), "Arms that fit the lift"), why=str(error))


def _pivot(ctx: Context) -> list[Figure]:
    names = ("arm", "arm_height", "pad_arm", "pad_height")
    ctx.need(*(f"follower.{n}" for n in names))
    return [ctx.entry(f"follower.{n}", s) for n, s in zip(names, ("A", "h_t", "B", "h_p"), strict=True)]


@figure
def lobe_top(ctx: Context) -> Figure:
    """Lift of the lobe: given, measured, or what the lift at the valve asks of it."""
    table = ctx.side.cam.curve
    if table is not None and table.place is Place.LOBE:
        return measured_lift(ctx, table)
    if ctx.given("cam.lobe_lift"):
        return ctx.entry("cam.lobe_lift", "L_c")
    if table is not None or ctx.given("cam.valve_lift"):
        valve = measured_lift(ctx, table) if table is not None else ctx.entry("cam.valve_lift", "L_v")
        value = lobe_for_valve_mm(motion(ctx), valve.value)
        return length("L_c", "Lobe lift", value, f"lobe lift that gives {valve.symbol} at the valve", valve)
    raise MissingInput(Missing(ctx.path("cam.lobe_lift"), "Lobe lift, or valve lift"))


@figure
def ratio(ctx: Context) -> Figure:
    """The overall ratio that is fitted, at full lift: 1 for a bucket, an input, or from the follower's own figures."""
    if ctx.bucket:
        return Figure("i", "Follower ratio", 1.0, RATIO, Evidence.MEASURED, None, note="a bucket is 1")
    how = ctx.lever.ratio_from
    if how is RatioFrom.CONSTANT:
        return ctx.entry("follower.ratio", "i")
    top, moves = lobe_top(ctx), motion(ctx)
    try:
        along = [float(moves.valve_mm(np.array([top.value * x]))[0]) / (top.value * x) for x in (0.25, 0.5, 1.0)]
    except ValueError as error:
        raise _no_arm(ctx, error) from error
    value = along[-1]
    note = (
        f"Overall ratio {along[0]:.3f} at a quarter, {along[1]:.3f} at half, {along[2]:.3f} at full lift of the lobe."
    )
    label = "Follower ratio at full lift"
    if how is RatioFrom.TABLE:
        table = ratio_table(ctx, "i_t", "Ratio table, at full lift", value)
        ends = read_ratio_table(ctx.lever.ratio_table).lobe_mm[-1]
        if top.value > ends + 1e-6:
            # past its end it is held, and nobody read it there
            words = f"read to {show(ends, LENGTH)} of lobe lift only"
            table = replace(table, evidence=Evidence.ASSUMED, unsaid=True, note=f"{table.note}. {words}".strip(". "))
        return Figure.calculated("i", label, value, RATIO, "i = i_t", table, top, note=note + _held(ctx, top.value))
    lift = length("V", "Valve lift by the arms", value * top.value, "both arms turned alike", top, *_pivot(ctx))
    return Figure.calculated("i", label, value, RATIO, "i = V/L_c", lift, top, note=note)


def ratio_table(ctx: Context, symbol: str, label: str, value: float) -> Figure:
    """What is read off the ratio table, with the table's own evidence."""
    lever = ctx.lever
    return ctx.read_off(
        "follower.ratio_table",
        symbol,
        label,
        value,
        RATIO,
        lever.ratio_table_from,
        lever.ratio_table_by,
        lever.ratio_table_with,
    )


def _held(ctx: Context, top_mm: float) -> str:
    """What to say where the lobe's lift runs past an end of the ratio table."""
    table = read_ratio_table(ctx.lever.ratio_table)
    low, high = table.lobe_mm[0], table.lobe_mm[-1]
    past = [f"below {low:g} mm"] if low > 0.0 else []
    past += [f"above {high:g} mm"] if top_mm > high + 1e-6 else []
    return f" The table's end ratio is held {' and '.join(past)} of lobe." if past else ""


@figure
def lash(ctx: Context) -> Figure:
    """Lash at the valve: as it was read there, else as the design sets it."""
    return ctx.entry("bench.lash" if ctx.given("bench.lash") else "cam.lash", "s")


@figure
def card_lash(ctx: Context) -> Figure:
    """The lash that a card's figures at the valve are meant with: a lobe is no other for the lash that it is set to."""
    return ctx.entry("cam.lash", "s")


@figure
def gross_lift(ctx: Context) -> Figure:
    """Lift at the valve before lash: from the lobe where it is known, else as given at the valve.

    Under a practice that goes by measurement, a lift measured at the valve governs where there is one.
    """
    table = ctx.side.cam.curve
    if table is not None:
        read = measured_lift(ctx, table)
        if table.place is Place.VALVE:
            taken = table_lash(ctx)
            return Figure.by("Lift at the valve, before lash", LENGTH, "L = L_m + s_m", read, taken)
        i = ratio(ctx)
        value = follower.valve_lift_mm(read.value, i.value)
        return length("L", "Lift at the valve, before lash", value, "L = L_m·i", read, i)
    at_valve = ctx.side.cam.valve_lift
    measured = at_valve is not None and at_valve.stands is Evidence.MEASURED
    if measured and ctx.practice.schools.lift_basis == "measured":
        read = ctx.entry("cam.valve_lift", "L_v")
        note = "Measured at the valve: by this practice it governs over lobe × ratio."
        return length("L", "Lift at the valve, before lash", read.value, "L = L_v", read, note=note)
    if ctx.given("cam.lobe_lift"):
        lobe, i = ctx.entry("cam.lobe_lift", "L_c"), ratio(ctx)
        value = follower.valve_lift_mm(lobe.value, i.value)
        return length("L", "Lift at the valve, before lash", value, "L = L_c·i", lobe, i)
    if ctx.given("cam.valve_lift"):
        printed = ctx.entry("cam.valve_lift", "L_v")
        return length(
            "L",
            "Lift at the valve, before lash",
            printed.value,
            "L = L_v",
            printed,
            note="No lobe lift is given, so the figure at the valve is used as it stands.",
        )
    raise MissingInput(Missing(ctx.path("cam.lobe_lift"), "Lobe lift, or valve lift"))


@figure
def net_lift(ctx: Context) -> Figure:
    gross, s = gross_lift(ctx), lash(ctx)
    value = follower.net_lift_mm(gross.value, s.value)
    return length("L_n", "Net lift", value, "L_n = L − s", gross, s, note="Lash is taken off once, at the valve.")


@figure
def table_lash(ctx: Context) -> Figure:
    """Lash with which a table was read at the valve. Raises ``MissingInput`` while nobody said."""
    return ctx.stated("cam.curve_lash", "s_m", "With what lash was the table read at the valve? Type it, or none")


@dataclass(frozen=True)
class Curve:
    """The lift law at the valve before lash, the lobe's own law, and what it rests on.

    ``smoothed`` is there when the curve was measured. ``others`` are curves that the same card would allow too, or ways
    that the scatter of the readings and their smoothing move it. ``ends`` are those that a train is turned on.
    """

    valve: LiftLaw
    lobe: LiftLaw
    origin: Figure
    smoothed: Smoothed | None = None
    others: tuple["Curve", ...] = ()
    ends: tuple["Curve", ...] = ()


STARTS_MM = setting("cam.table_starts")

HANDS = {Hand.LIGHT: 0.1, Hand.USUAL: 1.0, Hand.STRONG: 10.0}
"""What each hand multiplies the smoothing's penalty by."""


@lru_cache(maxsize=64)
def smoothed(table: MeasuredCurve, hand: Hand) -> Smoothed:
    """A measured table under a hand; the same one is smoothed once."""
    return smooth(np.array(table.cam_rad), np.array(table.lift_mm), HANDS[hand])


def facts_of(found: Smoothed) -> LobeFacts:
    """What can be read off a smoothed table."""
    return facts(found.law)


@figure
def curve(ctx: Context) -> Curve:
    """The measured curve where there is one, else the card's estimate.

    Raises ``CurveConflict`` where no smooth lobe meets the card.
    """
    note(ctx.curve_bit)
    table = ctx.side.cam.curve
    return _estimated_curve(ctx) if table is None else _measured_curve(ctx, table)


def measured_lift(ctx: Context, table: MeasuredCurve) -> Figure:
    """Greatest lift of the smoothed table, where it was taken."""
    found = smoothed(table, ctx.side.cam.hand)
    top = float(found.law.evaluate(np.array([0.0]))[0])
    note = f"{len(table.cam_rad)} readings, smoothed; rms left over {found.residual_mm:.4f} mm"
    start = max(table.lift_mm[0], table.lift_mm[-1])
    if start > STARTS_MM:
        # below its ends the flanks are nobody's reading, nor is the base circle that lift is counted from
        note += f". It begins at {show(start, LENGTH)} of lift: what lies below is assumed"
        label = f"Lift of the table, at the {table.place.value}"
        path = ctx.path("cam.curve")
        return Figure("L_m", label, top, LENGTH, Evidence.ASSUMED, path, note=note, sample=(1, ctx.places), unsaid=True)
    if table.stands is not Evidence.MEASURED:
        note += f". {table.outdated or 'No instrument and hand are known: it counts as assumed'}"
    label = f"Lift of the table, at the {table.place.value}"
    return Figure(
        "L_m",
        label,
        top,
        LENGTH,
        table.stands,
        ctx.path("cam.curve"),
        outdated=table.outdated,
        note=note,
        sample=(1, ctx.places),
    )


def _measured_curve(ctx: Context, table: MeasuredCurve) -> Curve:
    i, read = ratio(ctx), measured_lift(ctx, table)
    found = smoothed(table, ctx.side.cam.hand)
    at_the_lobe = table.place is Place.LOBE
    inputs = (read, i) if at_the_lobe else (read, table_lash(ctx))
    note = f"{read.note}. Its scatter and smoothing are tried too, {len(found.ways)} ways." if found.ways else read.note
    origin = Figure.calculated(
        "L(θ)", "Measured lift curve", gross_lift(ctx).value, LENGTH,
        "smoothed table × i" if at_the_lobe else "smoothed table + s_m, at the valve", *inputs, note=note,
    )  # fmt: skip
    ways, ends = (
        tuple(Curve(*_laws(ctx, law, at_the_lobe), origin) for law in laws) for laws in (found.ways, found.ends)
    )
    return Curve(*_laws(ctx, found.law, at_the_lobe), origin, found, ways, ends)


def _laws(ctx: Context, read: LiftLaw, at_the_lobe: bool) -> tuple[LiftLaw, LiftLaw]:
    """The laws at the valve and at the lobe, from one that was read at either."""
    moves = motion(ctx)
    if at_the_lobe:
        return at_valve(read, moves), read
    taken = table_lash(ctx).value
    law = LashLaw(read, Ramp(taken, usual_ramp_mm_per_rad(ratio(ctx).value))) if taken > 0.0 else read
    return law, at_lobe(law, moves)


def stated_durations(ctx: Context) -> Iterator[tuple[int, Duration]]:
    """The card's durations that are whole, each with its number."""
    for number, row in enumerate(ctx.side.cam.durations, 1):
        if row.check_lift is not None and row.duration is not None:
            yield number, row


def card_durations(ctx: Context) -> tuple[list[CardDuration], list[Figure]]:
    """The card's durations with their check lifts at the lobe, and the figures they come from."""
    s = card_lash(ctx)
    durations: list[CardDuration] = []
    inputs: list[Figure] = []
    for number, row in stated_durations(ctx):
        check = ctx.entry(f"cam.durations.{number}.check_lift", "c")
        angle = ctx.entry(f"cam.durations.{number}.duration", "D")
        lift = check.value
        if row.place is Place.VALVE:
            lift = lobe_for_valve_mm(motion(ctx), lift + s.value)
        words = f"{show(angle.value, ANGLE, extra=-1)} at {show(check.value, LENGTH)} at the {row.place.value}"
        durations.append(CardDuration(lift, angle.value, words))
        inputs += [check, angle]
    if not durations:
        raise MissingInput(
            Missing(ctx.path("cam.durations.1.check_lift"), "Check lift"),
            Missing(ctx.path("cam.durations.1.duration"), "Duration"),
        )
    return durations, inputs


def card_estimate(ctx: Context) -> LiftLaw:
    """The law that the card alone would give, at the valve, whether or not a curve was measured."""
    durations, _ = card_durations(ctx)
    moves = motion(ctx)
    if not ctx.given("cam.lobe_lift"):
        raise MissingInput(Missing(ctx.path("cam.lobe_lift"), "Lobe lift"))
    peak = ctx.entry("cam.lobe_lift", "L_c").value
    return at_valve(estimated_lobe(peak, durations, lobe_for_valve_mm(moves, card_lash(ctx).value)), moves)


def _estimated_curve(ctx: Context) -> Curve:
    gross, i, s = gross_lift(ctx), ratio(ctx), card_lash(ctx)
    durations, inputs = card_durations(ctx)
    moves = motion(ctx)
    peak, lash_at_lobe = gross.value / i.value, lobe_for_valve_mm(moves, s.value)
    offset = ctx.optional("cam.peak_offset", "δ")
    lobe = estimated_asymmetric(peak, durations, lash_at_lobe, offset.value)
    shape = Figure(
        "φ", "Shape of the curve", lobe.flank.powers[1] if isinstance(lobe, SymmetricLobe) else 0.0, RATIO,
        Evidence.ASSUMED, None, note="estimated: a smooth lobe with ramps that meets the card",
    )  # fmt: skip
    inputs = [gross, i, s, *inputs, offset, shape]
    origin = Figure.calculated(
        "L(θ)", "Estimated lift curve", gross.value, LENGTH,
        "polynomial main event on ramps, through lift and durations", *inputs,
        note=f"Estimated from the card{_ramp_words(lobe)}. Good for reserve and first clearances, not for a speed "
        "limit to sign.",
    )  # fmt: skip
    base = None
    if ctx.bucket and ctx.given("cam.base_circle"):
        # under a bucket no lobe is tried that is hollow on its base circle
        circle = ctx.entry("cam.base_circle", "D_c")
        base, origin = circle.value / 2.0, origin.among(circle)
    shapes = open_asymmetric(peak, durations, lash_at_lobe, base, offset.value)
    others = tuple(Curve(at_valve(x, moves), x, origin) for x in shapes)
    return Curve(at_valve(lobe, moves), lobe, origin, None, others, others)


def _ramp_words(lobe: LiftLaw) -> str:
    """The ramps that an estimate stands on: height and velocity at the lobe."""
    flanks = (lobe.opening, lobe.closing) if isinstance(lobe, AsymmetricLobe) else (lobe,)
    ramps = [f.ramp for f in flanks if isinstance(f, SymmetricLobe)]
    words = [f"{r.height_mm:.2f} mm at {r.velocity_mm_per_rad * math.pi / 180:.4f} mm per cam degree" for r in ramps]
    return f", on ramps of {' and '.join(words)}" if words else ""


def variants(ctx: Context) -> tuple[Context, ...]:
    """The same side with each of the other curves that the card or the readings allow."""
    return ctx.variants(curve(ctx).others, name_of(curve))


def banded(ctx: Context, found: Figure, take: Callable[[Context], float]) -> Figure:
    """A figure with the band that the lift curve leaves: ``take`` works it for each variant.

    Other lobes of a card span what it leaves open. What the scatter of readings and their smoothing move it by lies to
    either side alike.
    """
    values = []
    for variant in variants(ctx):
        other = known(partial(take, variant))
        if other is not None:
            values.append(other)
    band = spread(ctx, found.value, values)
    # what the curve does not move has no band
    if band is None or band[1] - band[0] <= 1e-9 * max(1.0, abs(found.value)):
        return found
    return replace(found, band=band)


def spread(ctx: Context, value: float, others: Sequence[float]) -> tuple[float, float] | None:
    """The band of a figure from what the other curves give for it; None where there are none.

    Lobes of a card span it. Ways of a measured curve are apart from each other: their squares are summed.
    """
    if not others:
        return None
    if curve(ctx).smoothed is not None:
        half = math.sqrt(sum((other - value) ** 2 for other in others))
        return value - half, value + half
    return min(value, *others), max(value, *others)


def reaches(ctx: Context, lift_at_valve_mm: float) -> bool:
    """Whether the curve rises past a lift of the valve before lash."""
    return lift_at_valve_mm < gross_lift(ctx).value


def at_valve_mm(ctx: Context, lobe_mm: float) -> float:
    """Lift of the valve, before lash, at a lift of the lobe."""
    return float(motion(ctx).valve_mm(np.array([lobe_mm]))[0])


def area_mm_deg(ctx: Context) -> float:
    """Area under the valve's lift, mm times cam degrees."""
    return math.degrees(lobe_area_mm_rad(curve(ctx).valve))


def steepest_mm_per_rad(ctx: Context) -> float:
    """Greatest velocity of the valve, per cam rad."""
    return facts(curve(ctx).valve).peak_velocity_mm_per_rad


def _plausible_lift(ctx: Context) -> Limit:
    """The share of the head's diameter that the practice calls plausible, as a lift."""
    head, share = ctx.entry("stack.valve.head", "d_v"), ctx.limit("lift.net")
    assert share.low is not None
    assert share.high is not None
    low, high = share.low * head.value, share.high * head.value
    reason = f"{share.low:g} to {share.high:g} of the head's diameter. {share.reason}"
    return replace(share, low=low, high=high, tight=share.tight * head.value, dimension=LENGTH, reason=reason)


CHECKS = (
    Check(
        "lift.net",
        "Net lift",
        "cam",
        "Lift the valve sees, lobe × ratio − lash, is plausible for its head.",
        work=net_lift,
        limit=_plausible_lift,
    ),
)

FIGURES = (
    Named("lift.gross", "Lift before lash", gross_lift),
    Named("lift.net", "Net lift", net_lift),
    Named("cam.curve", "Lift curve", lambda ctx: curve(ctx).origin),
    Named("follower.ratio", "Follower ratio", ratio),
)
