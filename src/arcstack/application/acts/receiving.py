"""The head that comes back: received, torn down in its order, what is found on it, the cause that is named."""

from arcstack.application.acts.acting import act, by_name
from arcstack.application.head import Opened
from arcstack.document import Sitting
from arcstack.document.places import Place
from arcstack.errors import FieldError
from arcstack.readings.assembling import Stepped
from arcstack.readings.pictured import pictures
from arcstack.readings.returning import Found, FoundNot, Named, Received, Severity, findings, received
from arcstack.readings.sent_on import this_life
from arcstack.readings.taking import place_called
from arcstack.wear import dispositions
from arcstack.wear.diagnosis import Diagnosis, diagnose
from arcstack.wear.order import look_now, passes
from arcstack.wear.signs import signs
from arcstack.wear.witness import signs_by_record


def receive(
    head: Opened, by: Sitting, *, complaint: str, touched: str, distance_km: float | None, hours: float | None,
    limiter_events: int | None,
) -> None:  # fmt: skip
    """Say how the head came in."""
    by_name(by, "Whose hand receives it?")
    if not complaint:
        raise FieldError("complaint", "What does its customer say? In his own words; “nothing” is an answer.")
    act(head, lambda _: [Received(0, complaint, touched, distance_km, hours, limiter_events, by)])


def pass_stage(head: Opened, by: Sitting, *, stage: str, reason: str) -> None:
    """Pass a stage of the teardown."""

    def decided(now: Opened) -> list[Stepped]:
        events, came = now.sheet.events, received(now.sheet.events)
        read = sum(r.number > came.number for r in now.sheet.readings) if came is not None else 0
        return [passes(events, stage, reason, len(pictures(this_life(events))), by, read)]

    act(head, decided)


def find(
    head: Opened, by: Sitting, *, sign: str, places: list[str], whole_head: bool, absent: bool,
    severity: Severity | None, extent: str, colour: str, value: str, note: str,
) -> None:  # fmt: skip
    """Take a finding: a sign at its places, or looked for there and not found."""

    def decided(now: Opened) -> list[Found]:
        by_name(by, "Whose eye saw it?")
        if received(now.sheet.events) is None:
            raise FieldError("sign", "Receive the head first: what was found on which head, and when.")
        if sign not in signs():
            raise FieldError("sign", "Choose what was seen, or looked for.")
        at = tuple(place_called(now.sheet, label).label for label in places)
        if not at and not whole_head:
            raise FieldError("places", "Where? Choose its places, or say that it is of the whole head.")
        if severity is None and not absent:
            raise FieldError("severity", "How much of it: seen, catches a nail, or a step that can be measured?")
        if severity is Severity.STEP and not absent and not value:
            raise FieldError("value", "A measurable step has a measure: how much?")
        how_much = severity or Severity.SEEN
        return [Found(0, sign, at, how_much, look_now(now.sheet.events), by, absent, extent, colour, value, note)]

    act(head, decided)


def take_back(head: Opened, by: Sitting, *, finding: int | None) -> None:
    """Take a finding back; it stays in the record."""

    def decided(now: Opened) -> list[FoundNot]:
        if finding is None or finding not in {f.number for f in findings(now.sheet.events)}:
            raise FieldError("finding", "That finding was taken back already.")
        return [FoundNot(0, finding, by)]

    act(head, decided)


def diagnosed(head: Opened, at: frozenset[str] | None = None) -> Diagnosis:
    """The findings of a head weighed, with what its own record shows; those at some places, where they are named."""
    record = signs_by_record(head.built, head.sheet, head.design)
    return diagnose(findings(head.sheet.events), record, at)


def is_within(name: str, place: Place) -> bool:
    """Whether a place is of a part of the head: a side, a cylinder, or the place itself."""
    return name in (place.side, str(place.cylinder), place.label)


def name_cause(head: Opened, by: Sitting, *, cause: str, reason: str, at: str = "") -> None:
    """Name the cause by a hand; of a part of the head where ``at`` names one."""

    def decided(now: Opened) -> list[Named]:
        if at and not any(is_within(at, p) for p in now.sheet.places):
            raise FieldError("at", "There is no such part of this head.")
        return [dispositions.name_cause(cause, reason, by, at)]

    act(head, decided)
