"""The card held against itself: events, duration, centreline, printed lift."""

import math
from dataclasses import dataclass

import numpy as np

from arcstack.assess import cam
from arcstack.assess.context import Context, MissingInput, length
from arcstack.build.parts import Duration, Place
from arcstack.checks import Figure, Limit
from arcstack.errors import CurveConflict
from arcstack.mech import timing
from arcstack.mech.cam import card as card_model
from arcstack.mech.cam.facts import duration_crank_rad, lobe_area_mm_rad
from arcstack.mech.ratio import lobe_for_valve_mm
from arcstack.units import ANGLE, LENGTH, show


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
        lobe, i = ctx.entry("cam.lobe_lift", "L_c"), cam.ratio(ctx)
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
    worked = card_model.centreline_rad(tdc.value, bdc.value)
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
    given = ctx.side.cam
    if not (given.tdc_event and given.bdc_event and given.event_lift):
        return []
    tdc, bdc = ctx.entry("cam.tdc_event", "E_t"), ctx.entry("cam.bdc_event", "E_b")
    worked = card_model.duration_rad(tdc.value, bdc.value)
    rows = []
    for name in cam.DURATIONS:
        row: Duration = getattr(given, name)
        if row.check_lift is None or row.duration is None or row.place is not given.event_place:
            continue
        if not math.isclose(row.check_lift.value, given.event_lift.value, abs_tol=5e-3):
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
        cam.curve(ctx)
    except CurveConflict as error:
        return str(error)
    except MissingInput:
        pass
    return ""


@dataclass(frozen=True)
class Compared:
    """One figure of the card beside the curve's, with what usually makes them differ."""

    label: str
    card: str
    curve: str
    difference: str
    reasons: str


def against_curve(ctx: Context) -> list[Compared]:
    """The card beside a measured curve, figure by figure; empty without one."""
    table = ctx.side.cam.curve
    if table is None:
        return []
    rows: list[Compared] = []
    try:
        measured = cam.curve(ctx)
        moves, s = cam.motion(ctx), cam.lash(ctx).value
    except MissingInput:
        return []
    if ctx.given("cam.lobe_lift"):
        stated = ctx.entry("cam.lobe_lift", "L_c").value
        top = float(measured.lobe.evaluate(np.zeros(1))[0])
        rows.append(_lengths("Lobe lift", stated, top, "wrong lobe, ratio taken twice, or worn"))
    if ctx.given("cam.valve_lift"):
        stated = ctx.entry("cam.valve_lift", "L_v").value
        rows.append(_lengths("Valve lift", stated, cam.gross_lift(ctx).value, "another ratio, flex, or lash left in"))
    for name in cam.DURATIONS:
        row: Duration = getattr(ctx.side.cam, name)
        if row.check_lift is None or row.duration is None:
            continue
        at_valve = row.place is Place.VALVE
        lift = lobe_for_valve_mm(moves, row.check_lift.value + s) if at_valve else row.check_lift.value
        label = f"Duration at {show(row.check_lift.value, LENGTH)} at the {row.place.value}"
        why = "lash, ratio, or another check lift" if at_valve else "another check lift, or taken at the valve"
        if lift < float(measured.lobe.evaluate(np.zeros(1))[0]):
            rows.append(_angles(label, row.duration.value, duration_crank_rad(measured.lobe, lift), why))
    return rows + _placed(ctx) + _area(ctx)


def _placed(ctx: Context) -> list[Compared]:
    """The card's events and its nose beside the curve's, the curve placed by the stated centreline."""
    given = ctx.side.cam
    rows: list[Compared] = []
    try:
        law, nose, at = cam.curve(ctx).valve, cam.nose_crank_rad(ctx), cam.centre_lift_mm(ctx)
        found = timing.events(law, at, nose)
    except (MissingInput, ValueError):
        return rows
    tdc, bdc = (-found.opens_rad, found.closes_rad) if ctx.intake else (found.closes_rad, -found.opens_rad)
    why = "cam advanced or retarded, or another check lift"
    if given.tdc_event and given.event_lift:
        rows.append(_angles("Event by TDC", given.tdc_event.value, tdc, why))
    if given.bdc_event and given.event_lift:
        rows.append(_angles("Event by BDC", given.bdc_event.value, bdc - math.pi, why))
    stated = given.peak_offset.value if given.peak_offset else 0.0
    rows.append(_angles("Maximum lift after centreline", stated, nose - found.centreline_rad, "flanks that differ"))
    return rows


def _area(ctx: Context) -> list[Compared]:
    """Area under the curve beside that of the card's own estimate."""
    try:
        estimate = cam.card_estimate(ctx)
        measured = cam.curve(ctx).valve
    except (MissingInput, CurveConflict):
        return []
    card, curve = (math.degrees(lobe_area_mm_rad(x)) for x in (estimate, measured))
    off = (curve / card - 1.0) * 100.0
    why = "fuller or slimmer flanks than a usual lobe" if abs(off) > 3.0 else ""
    return [
        Compared(
            "Area under the curve", f"{card:.0f} mm·°", f"{curve:.0f} mm·°", f"{off:+.1f} %".replace("-", "−"), why
        )
    ]


def _lengths(label: str, card: float, curve: float, why: str) -> Compared:
    reasons = why if abs(curve - card) > 0.05 else ""
    return Compared(label, str(show(card, LENGTH)), str(show(curve, LENGTH)), str(show(curve - card, LENGTH)), reasons)


def _angles(label: str, card: float, curve: float, why: str) -> Compared:
    reasons = why if abs(curve - card) > math.radians(1.5) else ""
    return Compared(label, str(show(card, ANGLE)), str(show(curve, ANGLE)), str(show(curve - card, ANGLE)), reasons)
