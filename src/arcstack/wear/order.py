"""The order of a teardown: what is done first because it cannot be done later."""

from collections.abc import Sequence
from dataclasses import dataclass

from arcstack.document import Sitting
from arcstack.document.words import one_line
from arcstack.errors import FieldError
from arcstack.readings.assembling import State, Stepped
from arcstack.readings.event import Event, of_kind
from arcstack.readings.returning import Look, findings, received
from arcstack.readings.sent_on import this_life

PREFIX = "back:"
LEAST_REASON = 3


@dataclass(frozen=True)
class Stage:
    """One stage of a teardown: what is done, and why in this order."""

    id: str
    title: str
    why: str


ORDER = (
    Stage("pictures", "Photographed before any cleaning", "What is washed off was the evidence."),
    Stage("whole", "Looked at whole: lash, tips, lobes, crowns", "Read now, the strip confirms or contradicts it."),
    Stage("stripped", "Stripped in order, each part to its numbered tray", "A part without its place tells nothing."),
    Stage("cleaned", "All photographed, then cleaned", "Only now: nothing is left to be seen in the dirt."),
    Stage("measured", "Measured on the bench", "A sign is a guess until its figure is read."),
)


@dataclass(frozen=True)
class Stood:
    """A stage as it stands: by whom it was passed, for which reason where it was let go, and whether it is next."""

    stage: Stage
    by: Sitting | None
    reason: str
    next: bool

    @property
    def passed(self) -> bool:
        return self.by is not None


def order_of(events: Sequence[Event]) -> tuple[Stood, ...]:
    """Every stage of the teardown as it stands."""
    last = {e.step: e for e in of_kind(this_life(events), Stepped) if e.step.startswith(PREFIX)}
    rows, waits = [], received(events) is None
    for stage in ORDER:
        e = last.get(PREFIX + stage.id)
        passed = e is not None and e.state in (State.DONE, State.SKIPPED)
        rows.append(
            Stood(stage, e.by if e and passed else None, e.reason if e and passed else "", not passed and not waits)
        )
        waits = waits or not passed
    return tuple(rows)


def passes(events: Sequence[Event], name: str, reason: str, pictures: int, by: Sitting, read: int = 0) -> Stepped:
    """A stage passed; ``read`` counts what was read since the head came back.

    Raises ``FieldError`` out of order, without a name, and without a picture, a finding or a reading and no reason.
    """
    rows = order_of(events)
    here = next((r for r in rows if r.stage.id == name), None)
    if here is None:
        raise FieldError("stage", "That is no stage of a teardown.")
    if by.hand == "workshop":
        raise FieldError("hand", "Whose hand did it? It has a name.")
    if received(events) is None:
        raise FieldError("stage", "Receive the head first: who touched it, how far it went, what its customer says.")
    if here.passed:
        raise FieldError("stage", f"{here.stage.title}: that was passed already.")
    if not here.next:
        before = next(r for r in rows if r.next)
        raise FieldError("stage", f"Not yet: {before.stage.title[0].lower()}{before.stage.title[1:]} comes first.")
    words = one_line(reason, 200)
    if name == "stripped" and not findings(events) and len(words) < LEAST_REASON:
        raise FieldError("stage", "Nothing was found yet, nor looked for and found absent. Say what was, or why not.")
    if name == "measured" and not read and len(words) < LEAST_REASON:
        raise FieldError("stage", "Nothing was read since it came back. Read it at the bench, or say why not.")
    if name in ("pictures", "cleaned") and pictures == 0 and len(words) < LEAST_REASON:
        raise FieldError("stage", "There is no photograph of it yet. Take one, or say why it is cleaned without.")
    return Stepped(0, PREFIX + name, State.SKIPPED if words else State.DONE, by, words)


def look_now(events: Sequence[Event]) -> Look:
    """As what a finding counts that is made now."""
    passed = {r.stage.id for r in order_of(events) if r.passed}
    if "cleaned" in passed:
        return Look.CLEAN
    return Look.STRIPPED if "stripped" in passed else Look.WHOLE
