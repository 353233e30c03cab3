"""Lift, the estimated curve, and the audit of the card."""

import math
from dataclasses import dataclass

from arcstack.assess.context import Context, MissingInput, figure, length
from arcstack.build.parts import Duration, Place
from arcstack.checks import Evidence, Figure, Limit, Missing
from arcstack.errors import CurveConflict
from arcstack.mech import follower
from arcstack.mech.cam import card
from arcstack.mech.cam.estimate import CardDuration, estimated_lobe
from arcstack.mech.cam.law import LiftLaw, ScaledLaw, SymmetricLobe
from arcstack.units import ANGLE, LENGTH, RATIO, show

DURATIONS = ("duration_1", "duration_2", "duration_3")


@figure
def ratio(ctx: Context) -> Figure:
    """The ratio that is fitted: 1 for a bucket, an input otherwise."""
    if ctx.bucket:
        return Figure("i", "Follower ratio", 1.0, RATIO, Evidence.MEASURED, None, note="a bucket is 1")
    return ctx.entry("cam.ratio", "i")


@figure
def lash(ctx: Context) -> Figure:
    return ctx.entry("cam.lash", "s")


@figure
def gross_lift(ctx: Context) -> Figure:
    """Lift at the valve before lash: from the lobe where it is known, else as given at the valve.

    Under a practice that goes by measurement, a lift measured at the valve governs where there is one.
    """
    at_valve = ctx.side.cam.valve_lift
    measured = at_valve is not None and at_valve.evidence is Evidence.MEASURED
    if measured and ctx.practice.schools.lift_basis == "measured":
        read = ctx.entry("cam.valve_lift", "L_v")
        note = "Measured at the valve: by this practice it governs over lobe × ratio."
        return length("L", "Lift at the valve, before lash", read.value, "L = L_v", read, note=note)
    if ctx.given("cam.lobe_lift"):
        lobe, i = ctx.entry("cam.lobe_lift", "L_c"), ratio(ctx)
        value = follower.valve_lift_mm(lobe.value, i.value)
        return length("L", "Lift at the valve, before lash", value, "L = L_c · i", lobe, i)
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
    return length("L_n", "Net lift", value, "L_n = L − s, once, at the valve", gross, s)


@dataclass(frozen=True)
class Curve:
    """The lift law at the valve before lash, the lobe's own law, and what it rests on."""

    valve: LiftLaw
    lobe: SymmetricLobe
    origin: Figure


@figure
def curve(ctx: Context) -> Curve:
    """The estimated curve of the card. Raises ``CurveConflict`` where no smooth lobe meets it."""
    gross, i, s = gross_lift(ctx), ratio(ctx), lash(ctx)
    inputs = [gross, i, s]
    durations = []
    for name in DURATIONS:
        row: Duration = getattr(ctx.side.cam, name)
        if row.check_lift is None or row.duration is None:
            continue
        check = ctx.entry(f"cam.{name}.check_lift", "c")
        angle = ctx.entry(f"cam.{name}.duration", "D")
        lift = check.value
        if row.place is Place.VALVE:
            lift = follower.lobe_lift_for_valve_lift_mm(lift, i.value, s.value)
        words = f"{show(angle.value, ANGLE, extra=-1)} at {show(check.value, LENGTH)} at the {row.place.value}"
        durations.append(CardDuration(lift, angle.value, words))
        inputs += [check, angle]
    if not durations:
        raise MissingInput(
            Missing(ctx.path("cam.duration_1.check_lift"), "Check lift"),
            Missing(ctx.path("cam.duration_1.duration"), "Duration"),
        )
    lobe = estimated_lobe(gross.value / i.value, durations, s.value / i.value)
    shape = Figure(
        "φ",
        "Shape of the curve",
        lobe.flank.powers[1],
        RATIO,
        Evidence.ASSUMED,
        None,
        note="estimated: a smooth symmetric lobe with ramps that meets the card",
    )
    origin = Figure.calculated(
        "L(θ)",
        "Estimated lift curve",
        gross.value,
        LENGTH,
        "polynomial main event on ramps, through lift and durations",
        *inputs,
        shape,
        note="Estimated from the card. Good for reserve and first clearances, not for a speed limit to sign.",
    )
    return Curve(ScaledLaw(lobe, i.value), lobe, origin)


@figure
def centreline(ctx: Context) -> Figure:
    """Distance of the lobe's centre from TDC (positive on both sides), as stated or from events."""
    if ctx.given("cam.centreline"):
        return ctx.entry("cam.centreline", "C")
    if ctx.given("cam.tdc_event") and ctx.given("cam.bdc_event"):
        tdc, bdc = ctx.entry("cam.tdc_event", "E_t"), ctx.entry("cam.bdc_event", "E_b")
        value = card.centreline_rad(tdc.value, bdc.value)
        return length(
            "C",
            "Centreline",
            value,
            "C = (E_t + 180° + E_b)/2 − E_t",
            tdc,
            bdc,
            of=ANGLE,
        )
    raise MissingInput(Missing(ctx.path("cam.centreline"), "Centreline, or both events"))


@dataclass(frozen=True)
class Audit:
    """One comparison of a card with itself: what is compared, the difference as a figure, and its limit."""

    words: str
    difference: Figure
    limit: Limit

    @property
    def strain(self) -> float:
        assert self.limit.high is not None
        return self.difference.value / self.limit.high


def audits(ctx: Context) -> list[Audit]:
    """Every comparison that the card's figures allow, worst first."""
    rows = [a for a in (_lift_audit(ctx), _centreline_audit(ctx), *_duration_audits(ctx)) if a is not None]
    return sorted(rows, key=lambda a: -a.strain)


def _lift_audit(ctx: Context) -> Audit | None:
    if not (ctx.given("cam.lobe_lift") and ctx.given("cam.valve_lift")):
        return None
    try:
        lobe, i = ctx.entry("cam.lobe_lift", "L_c"), ratio(ctx)
    except MissingInput:
        return None
    printed = ctx.entry("cam.valve_lift", "L_v")
    off = abs(printed.value - lobe.value * i.value)
    implied = printed.value / lobe.value
    words = (
        f"Printed valve lift {show(printed.value, LENGTH)} implies a ratio of {implied:.3f}; {i.value:.3f} is fitted"
    )
    found = length("Δ", "Printed lift against lobe × ratio", off, "Δ = |L_v − L_c · i|", printed, lobe, i, note=words)
    return Audit(words, found, ctx.limit("cam.card.lift"))


def _centreline_audit(ctx: Context) -> Audit | None:
    if not all(ctx.given(f"cam.{n}") for n in ("centreline", "tdc_event", "bdc_event")):
        return None
    stated = ctx.entry("cam.centreline", "C")
    tdc, bdc = ctx.entry("cam.tdc_event", "E_t"), ctx.entry("cam.bdc_event", "E_b")
    worked = card.centreline_rad(tdc.value, bdc.value)
    words = f"Events give a centreline of {show(worked, ANGLE)}; the card says {show(stated.value, ANGLE)}"
    found = length(
        "Δ",
        "Centreline against events",
        abs(worked - stated.value),
        "Δ = |(E_t + 180° + E_b)/2 − E_t − C|",
        tdc,
        bdc,
        stated,
        of=ANGLE,
        note=words,
    )
    return Audit(words, found, ctx.limit("cam.card.angle"))


def _duration_audits(ctx: Context) -> list[Audit]:
    cam = ctx.side.cam
    if not (cam.tdc_event and cam.bdc_event and cam.event_lift):
        return []
    tdc, bdc = ctx.entry("cam.tdc_event", "E_t"), ctx.entry("cam.bdc_event", "E_b")
    worked = card.duration_rad(tdc.value, bdc.value)
    rows = []
    for name in DURATIONS:
        row: Duration = getattr(cam, name)
        if row.check_lift is None or row.duration is None or row.place is not cam.event_place:
            continue
        if not math.isclose(row.check_lift.value, cam.event_lift.value, abs_tol=5e-3):
            continue
        stated = ctx.entry(f"cam.{name}.duration", "D")
        words = (
            f"Events give {show(worked, ANGLE)} at {show(row.check_lift.value, LENGTH)}; "
            f"the card says {show(stated.value, ANGLE)}"
        )
        found = length(
            "Δ",
            "Duration against events",
            abs(worked - stated.value),
            "Δ = |E_t + 180° + E_b − D|",
            tdc,
            bdc,
            stated,
            of=ANGLE,
            note=words,
        )
        rows.append(Audit(words, found, ctx.limit("cam.card.angle")))
    return rows


def conflict(ctx: Context) -> str:
    """Why no smooth curve meets the card, or an empty text."""
    try:
        curve(ctx)
    except CurveConflict as error:
        return str(error)
    except MissingInput:
        pass
    return ""
