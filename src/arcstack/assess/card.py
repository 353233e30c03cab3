"""The card held against itself: events, duration, centreline, printed lift."""

import math
from dataclasses import dataclass

import numpy as np

from arcstack.assess import cam, placed
from arcstack.assess.check import Check, Says
from arcstack.assess.context import Context, ask, known, length
from arcstack.checks import Evidence, Figure, Limit
from arcstack.document import FIELDS
from arcstack.document.parts import Place
from arcstack.errors import CurveConflict, MissingInput, NotKnown
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
    """Every comparison that the card's figures allow, with each other and with a measured curve, worst first."""
    rows = [a for a in (_lift_audit(ctx), _centreline_audit(ctx), *_duration_audits(ctx)) if a is not None]
    rows += [_curve_audit(ctx, d) for d in differences(ctx)]
    return sorted(rows, key=lambda a: -a.strain)


def ask_for_the_lobe(ctx: Context) -> None:
    """Raise ``MissingInput`` where only a lift at the valve is stated: it was made with a ratio that is not known."""
    side = ctx.side.cam
    if ctx.bucket or side.curve is not None or side.lobe_lift is not None or side.valve_lift is None:
        return
    raise MissingInput(
        ctx.missing("cam.lobe_lift"),
        why="The lift at the valve was printed with the card's own ratio: the lobe's lift tells whether yours gives it",
    )


def _lift_audit(ctx: Context) -> Audit | None:
    stated = ctx.side.cam.valve_lift
    if not ctx.given("cam.lobe_lift") or stated is None or stated.stands is Evidence.MEASURED:
        # a lift that was measured is no part of the card: what it falls short of is a check of its own
        return None
    i = known(lambda: cam.ratio(ctx))
    if i is None:
        return None
    lobe = ctx.entry("cam.lobe_lift", "L_c")
    printed = ctx.entry("cam.valve_lift", "L_v")
    implied = printed.value / lobe.value
    said = f"{stated.stands.value.capitalize()} valve lift {show(printed.value, LENGTH)}"
    words = f"{said} implies a ratio of {implied:.3f}; {i.value:.3f} is fitted"
    label = "Stated lift against lobe × ratio"
    found = Figure.by(label, LENGTH, "Δ = |L_v − L_c·i|", printed, lobe, i, note=words)
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
    for number, row in cam.stated_durations(ctx):
        assert row.check_lift is not None
        if row.place is not given.event_place:
            continue
        if not math.isclose(row.check_lift.value, given.event_lift.value, abs_tol=5e-3):
            continue
        stated = ctx.entry(f"cam.durations.{number}.duration", "D")
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
    found = ask(lambda: cam.curve(ctx))
    return found.why if isinstance(found, CurveConflict) else ""


@dataclass(frozen=True)
class Difference:
    """One figure of the card beside the measured curve's; ``why`` is what usually makes them differ.

    ``placed`` is what says where on the crank the curve stands, for a figure that asks it.
    """

    label: str
    stated: Figure
    curve: float
    why: str
    placed: tuple[Figure, ...] = ()

    @property
    def angle(self) -> bool:
        return self.stated.dimension is ANGLE


def differences(ctx: Context) -> list[Difference]:
    """Lift, durations and events that the card states, each beside a measured curve's; empty without one."""
    if ctx.side.cam.curve is None:
        return []
    try:
        measured = cam.curve(ctx)
        moves, s = cam.motion(ctx), cam.card_lash(ctx).value
    except NotKnown:
        return []
    top = float(measured.lobe.evaluate(np.zeros(1))[0])
    rows: list[Difference] = []
    if ctx.given("cam.lobe_lift"):
        why = "wrong lobe, ratio taken twice, or worn"
        rows.append(Difference("Lobe lift", ctx.entry("cam.lobe_lift", "L_c"), top, why))
    if ctx.given("cam.valve_lift"):
        why = "another ratio, flex, or lash left in"
        rows.append(Difference("Valve lift", ctx.entry("cam.valve_lift", "L_v"), cam.gross_lift(ctx).value, why))
    for number, row in cam.stated_durations(ctx):
        assert row.check_lift is not None
        at_valve = row.place is Place.VALVE
        lift = lobe_for_valve_mm(moves, row.check_lift.value + s) if at_valve else row.check_lift.value
        label = f"Duration at {show(row.check_lift.value, LENGTH)} at the {row.place.value}"
        why = "lash, ratio, or another check lift" if at_valve else "another check lift, or taken at the valve"
        # a lobe that does not even reach the check lift has no duration there
        found = duration_crank_rad(measured.lobe, lift) if lift < top else 0.0
        rows.append(Difference(label, ctx.entry(f"cam.durations.{number}.duration", "D"), found, why))
    return rows + _placed(ctx)


def _placed(ctx: Context) -> list[Difference]:
    """The card's events and its nose beside the curve's, the curve placed by the stated centreline."""
    given = ctx.side.cam
    try:
        law, nose, at = cam.curve(ctx).valve, placed.nose_crank_rad(ctx), placed.centre_lift_mm(ctx)
        found = timing.events(law, at, nose)
    except (NotKnown, ValueError):
        return []
    tdc, bdc = (-found.opens_rad, found.closes_rad) if ctx.intake else (found.closes_rad, -found.opens_rad)
    why, rows, by = "cam advanced or retarded, or another check lift", [], (placed.centreline(ctx),)
    if given.tdc_event and given.event_lift:
        rows.append(
            Difference(FIELDS[f"{ctx.side_name}.cam.tdc_event"].label, ctx.entry("cam.tdc_event", "E_t"), tdc, why, by)
        )
    if given.bdc_event and given.event_lift:
        rows.append(
            Difference(
                FIELDS[f"{ctx.side_name}.cam.bdc_event"].label,
                ctx.entry("cam.bdc_event", "E_b"),
                bdc - math.pi,
                why,
                by,
            )
        )
    if given.peak_offset:
        off = nose - found.centreline_rad
        rows.append(
            Difference(
                "Maximum lift after centreline", ctx.entry("cam.peak_offset", "δ"), off, "flanks that differ", by
            )
        )
    return rows


def _curve_audit(ctx: Context, d: Difference) -> Audit:
    """One figure of the card held against the measured curve."""
    dimension, limit = d.stated.dimension, ctx.limit("cam.card.angle" if d.angle else "cam.card.lift")
    words = f"{d.label}: the card says {show(d.stated.value, dimension)}, the measured curve {show(d.curve, dimension)}"
    origin = cam.curve(ctx).origin
    read = Figure.calculated(
        "x_m", f"{d.label}, of the curve", d.curve, dimension, "read off the curve", origin, *d.placed
    )
    found = length(
        "Δ", f"{d.label} against the curve", abs(d.curve - d.stated.value), f"Δ = |x_m − {d.stated.symbol}|", read,
        d.stated, of=dimension, note=f"{words} ({d.why})",
    )  # fmt: skip
    return Audit(words, found, limit)


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
    return [_compared(d) for d in differences(ctx)] + _area(ctx)


def _compared(d: Difference) -> Compared:
    dimension, off = d.stated.dimension, d.curve - d.stated.value
    told = abs(off) > (math.radians(1.5) if d.angle else 0.05)
    card, curve, apart = (str(show(x, dimension)) for x in (d.stated.value, d.curve, off))
    return Compared(d.label, card, curve, apart, d.why if told else "")


def _area(ctx: Context) -> list[Compared]:
    """Area under the curve beside that of the card's own estimate."""
    if ctx.side.cam.curve is None:
        return []
    try:
        estimate = cam.card_estimate(ctx)
        measured = cam.curve(ctx).valve
    except NotKnown:
        return []
    card, curve = (math.degrees(lobe_area_mm_rad(x)) for x in (estimate, measured))
    off = (curve / card - 1.0) * 100.0
    why = "fuller or slimmer flanks than a usual lobe" if abs(off) > 3.0 else ""
    return [
        Compared(
            "Area under the curve", f"{card:.0f} mm·°", f"{curve:.0f} mm·°", f"{off:+.1f} %".replace("-", "−"), why
        )
    ]


def _against_itself(ctx: Context) -> Figure:
    """The card's worst contradiction; nought where nothing is stated twice and a smooth lobe meets it."""
    ask_for_the_lobe(ctx)
    rows = audits(ctx)
    if rows:
        cam.curve(ctx)
        return rows[0].difference.among(*(a.difference for a in rows))
    cam.gross_lift(ctx)
    cam.card_lash(ctx)
    placed.centreline(ctx)
    note = "Nothing is stated twice. A smooth lobe meets the card; give events too to audit it."
    # what was compared with nothing was not found right
    silent = Figure(
        "E_t", "Card stated twice: events beside durations", 0.0, ANGLE, Evidence.ASSUMED, ctx.path("cam.tdc_event"),
        note="not stated: there is nothing to hold it to", unsaid=True,
    )  # fmt: skip
    return length("Δ", "Card against itself", 0.0, "Δ = 0", cam.curve(ctx).origin, silent, of=ANGLE, note=note)


def _against_itself_limit(ctx: Context) -> Limit:
    rows = audits(ctx)
    return rows[0].limit if rows else ctx.limit("cam.card.angle")


CHECKS = (
    Check(
        "cam.card",
        "Cam card",
        "cam",
        "Events, duration, centreline and printed lift agree, and a smooth lobe meets them.",
        work=_against_itself,
        limit=_against_itself_limit,
        says=Says.ALWAYS,
    ),
)
