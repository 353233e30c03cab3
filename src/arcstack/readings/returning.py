"""What a hand does with a head that comes back: received, looked at, findings, remedies, dispositions."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum

from arcstack.document import Sitting
from arcstack.document.places import Place
from arcstack.readings.event import Event, of_kind
from arcstack.readings.sent_on import this_life


class Look(StrEnum):
    """When in a teardown something was seen: what is seen with the head whole is confirmed or contradicted later."""

    WHOLE = "head whole"
    STRIPPED = "stripped"
    CLEAN = "clean"


class Severity(StrEnum):
    """How much of a sign there is."""

    SEEN = "seen"
    NAIL = "catches a nail"
    STEP = "measurable step"


@dataclass(frozen=True)
class Received(Event, kind="received", after_release=True):
    """A head as it came in: who touched it, what it did, and what its customer says, in his own words."""

    number: int
    complaint: str
    touched: str
    distance_km: float | None
    hours: float | None
    limiter_events: int | None
    by: Sitting


@dataclass(frozen=True)
class Found(Event, kind="found"):
    """One sign at its places, or looked for there and found absent. ``places`` empty is the head as a whole;
    ``value`` is what was measured, as it was typed."""

    number: int
    sign: str
    places: tuple[str, ...]
    severity: Severity
    look: Look
    by: Sitting
    absent: bool = False
    extent: str = ""
    colour: str = ""
    value: str = ""
    note: str = ""


@dataclass(frozen=True)
class FoundNot(Event, kind="found_not", names="finding"):
    """A finding taken back; it stays to be seen."""

    number: int
    finding: int
    by: Sitting


OPEN_QUESTION = "open"
"""Said of a cause: it was looked for, and is not settled."""


@dataclass(frozen=True)
class Named(Event, kind="named"):
    """The cause that a hand says it was, after the signs were weighed, and why; or that it is an open question.

    ``at`` is the side, cylinder or place that it holds for; empty for the whole head.
    """

    number: int
    cause: str
    reason: str
    by: Sitting
    at: str = ""

    @property
    def open(self) -> bool:
        return self.cause == OPEN_QUESTION


@dataclass(frozen=True)
class Remedy(Event, kind="remedy"):
    """A remedy that tempts, taken all the same: for which cause, or let pass for a reason."""

    number: int
    remedy: str
    cause: str
    reason: str
    by: Sitting


class What(StrEnum):
    """What becomes of a part."""

    REUSE = "reuse"
    POLISH = "polish and measure"
    REFACE = "reface"
    RECUT = "recut"
    SEND = "send out"
    REPLACE = "replace one"
    REPLACE_SET = "replace the set"
    QUARANTINE = "quarantine"
    SPARE = "keep as spare"
    SCRAP = "scrap"


@dataclass(frozen=True)
class Disposed(Event, kind="disposed", decides=True):
    """What becomes of one part at a place, with what that asked for, and what it costs."""

    number: int
    part: str
    place: str
    what: What
    by: Sitting
    fields: Mapping[str, str] = field(default_factory=dict)
    cost: float | None = None
    cause: str = ""
    note: str = ""

    @property
    def as_told(self) -> str:
        return f"{self.part} at {self.place}: {self.what.value}"


def received(events: Sequence[Event]) -> Received | None:
    """How the head came in, last said."""
    found = of_kind(this_life(events), Received)
    return found[-1] if found else None


def findings(events: Sequence[Event]) -> tuple[Found, ...]:
    """Findings that stand, in the order they were made."""
    events = this_life(events)
    back = {e.finding for e in of_kind(events, FoundNot)}
    return tuple(e for e in of_kind(events, Found) if e.number not in back)


def disposed(events: Sequence[Event]) -> tuple[Disposed, ...]:
    """What was last said to become of each part at each place."""
    last: dict[tuple[str, str], Disposed] = {}
    for e in this_life(events):
        if isinstance(e, Disposed):
            last[e.part, e.place] = e
    return tuple(last.values())


def named(events: Sequence[Event]) -> tuple[Named, ...]:
    """What a hand last said it was, for the whole head and for each part of it that was spoken of by itself."""
    return named_in(this_life(events))


def named_in(life: Sequence[Event]) -> tuple[Named, ...]:
    """The same of one life of the head, over or not."""
    last: dict[str, Named] = {}
    for e in life:
        if isinstance(e, Named):
            last.pop(e.at, None)
            last[e.at] = e
    return tuple(last.values())


def cause_at(events: Sequence[Event], place: Place) -> Named | None:
    """The cause that was named nearest to a place: its own, its cylinder's, its side's, the head's; None while that
    is an open question, or nobody spoke of it."""
    said = {n.at: n for n in named(events)}
    found = next((said[at] for at in (place.label, str(place.cylinder), place.side, "") if at in said), None)
    return None if found is None or found.open else found


def remedies_taken(events: Sequence[Event]) -> tuple[Remedy, ...]:
    """Tempting remedies that a hand took."""
    return of_kind(this_life(events), Remedy)
