"""What is written into the record of a head beside its readings: others' work, orders, runs on the power bench, what it
cost, its release, and its opening again."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Self

from arcstack.document import Sitting
from arcstack.readings.event import Event, last_of, of_kind
from arcstack.readings.returning import Received
from arcstack.readings.sent_on import SentOn


class Worker(StrEnum):
    """Who did a piece of work."""

    OWN = "own shop"
    OTHER = "another shop"
    UNKNOWN = "not known"


class Known(StrEnum):
    """How it is known that it was done."""

    SEEN = "seen"
    TOLD = "told"
    PAPER = "on paper"


@dataclass(frozen=True)
class Worked(Event, kind="worked", after_release=True):
    """Work on the head that no reading of ours shows. ``day`` is ISO, empty where it is not known; ``touched`` are the
    names of the bench's steps that it undoes, ``places`` empty for all of the head."""

    number: int
    day: str
    worker: Worker
    name: str
    done: str
    known: Known
    touched: tuple[str, ...]
    places: tuple[str, ...]
    by: Sitting
    parts: str = ""


@dataclass(frozen=True)
class Ordered(Event, kind="ordered"):
    """One line on order: a part for its places, and why. ``figure`` is what it is inspected against, as typed."""

    number: int
    part: str
    places: tuple[str, ...]
    count: int
    why: str
    supplier: str
    day: str
    due: str
    by: Sitting
    figure: str = ""
    price: float | None = None


@dataclass(frozen=True)
class Arrived(Event, kind="arrived", names="order"):
    """A line came in, all of it or ``count`` of it."""

    number: int
    order: int
    count: int
    by: Sitting
    note: str = ""


@dataclass(frozen=True)
class Inspected(Event, kind="inspected", names="order"):
    """A line measured against its figure: what was found, and whether it passes."""

    number: int
    order: int
    found: str
    passes: bool
    by: Sitting


@dataclass(frozen=True)
class Substituted(Event, kind="substituted", names="order"):
    """Another part taken in place of what was ordered: where it went in, and the checks that it opened or moved."""

    number: int
    order: int
    part: str
    side: str
    place: str
    opened: tuple[str, ...]
    by: Sitting


@dataclass(frozen=True)
class OrderOff(Event, kind="order_off", names="order"):
    """A line taken back, and why; it stays to be seen."""

    number: int
    order: int
    reason: str
    by: Sitting


@dataclass(frozen=True)
class Ran(Event, kind="ran", after_release=True):
    """One pull on a power bench: power over speed as pairs of rpm and kW, boost over speed where it was kept.

    ``group`` names the repeats it belongs to; ``told`` are its conditions as they were typed, by their name.
    """

    number: int
    group: str
    day: str
    revision: int
    power: tuple[tuple[float, float], ...]
    boost: tuple[tuple[float, float], ...]
    told: dict[str, str]
    by: Sitting
    origin: str = ""


@dataclass(frozen=True)
class RunOff(Event, kind="run_off", names="run", after_release=True):
    """A run taken back, and why."""

    number: int
    run: int
    reason: str
    by: Sitting


class Sort(StrEnum):
    """What is booked."""

    HOURS = "hours"
    PARTS = "parts"
    OUTSIDE = "outside work"


@dataclass(frozen=True)
class Booked(Event, kind="booked", names="replaces", after_release=True):
    """Hours at a rate, or money, against the head. A ``replaces`` corrects an earlier one; ``void`` takes it back."""

    number: int
    sort: Sort
    day: str
    what: str
    hours: float
    rate: float
    money: float
    by: Sitting
    replaces: int | None = None
    void: bool = False

    @property
    def sum(self) -> float:
        """What it comes to.

        >>> Booked(1, Sort.HOURS, "", "guides", 2.5, 80.0, 0.0, Sitting(hand="ada")).sum
        200.0
        """
        return self.hours * self.rate + self.money


@dataclass(frozen=True)
class Weighed(Event, kind="weighed", after_release=True):
    """What becomes of a part, with the sum beside each way: a spare from the shelf, salvage, a new one."""

    number: int
    part: str
    ways: dict[str, tuple[float, float]]
    rate: float
    chosen: str
    reason: str
    by: Sitting


@dataclass(frozen=True)
class Released(Event, kind="released", decides=True):
    """The head signed off at a revision, with the last reading and the last event that the signature stands on.

    ``digest`` is of the document; ``answers`` is who answers for clearance; ``waived`` what was let pass by name.
    """

    number: int
    revision: int
    readings: int
    events: int
    digest: str
    answers: str
    waived: tuple[str, ...]
    next_look: str
    by: Sitting

    @property
    def as_told(self) -> str:
        return f"Signed at its revision {self.revision}; {self.answers} answers for clearance"

    def renumbered(self, events: Mapping[int, int], readings: Mapping[int, int]) -> Self:
        return self.changed(readings=_last(readings, self.readings), events=_last(events, self.events))


@dataclass(frozen=True)
class Reopened(Event, kind="reopened", names="release", decides=True, after_release=True):
    """A released head opened for its next revision, and why."""

    number: int
    release: int
    reason: str
    by: Sitting

    @property
    def as_told(self) -> str:
        return f"Opened again: {self.reason}"


def _last(numbers: Mapping[int, int], mark: int) -> int:
    """The last of the new numbers up to an old mark."""
    return max((new for old, new in numbers.items() if old <= mark), default=0)


OF_ORDERS: tuple[type[Event], ...] = (Ordered, Arrived, Inspected, Substituted, OrderOff)
"""What is written of parts on order."""


def worked(events: Sequence[Event]) -> tuple[Worked, ...]:
    """Work that was told of, in the order it was written down."""
    return of_kind(events, Worked)


OPENS_DOCUMENT: tuple[type[Event], ...] = (Reopened, SentOn)
"""After which the document of a head that was signed off is written again."""

OPENS_BENCH: tuple[type[Event], ...] = (*OPENS_DOCUMENT, Received)
"""After which its bench is: a head that came back is looked at before anything of it is decided."""


def release(events: Sequence[Event]) -> Released | None:
    """The release that holds: the last one, unless the head was opened again or sent on since."""
    last = last_of(events, Released, *OPENS_DOCUMENT)
    return last if isinstance(last, Released) else None


def runs(events: Sequence[Event]) -> tuple[Ran, ...]:
    """Runs that stand."""
    off = {e.run for e in of_kind(events, RunOff)}
    return tuple(e for e in of_kind(events, Ran) if e.number not in off)


def booked(events: Sequence[Event]) -> tuple[Booked, ...]:
    """What stands booked: neither corrected nor taken back."""
    rows = of_kind(events, Booked)
    replaced = {e.replaces for e in rows if e.replaces is not None}
    return tuple(e for e in rows if not e.void and e.number not in replaced)
