"""What is written into the record of a head beside its readings: others' work, orders, runs on the power bench, what it
cost, its release, and its opening again."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import ClassVar

from pydantic import ConfigDict

from arcstack.document import Sitting
from arcstack.readings.reading import STRICT
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
class Worked:
    """Work on the head that no reading of ours shows. ``day`` is ISO, empty where it is not known; ``touched`` are the
    names of the bench's steps that it undoes, ``places`` empty for all of the head."""

    __pydantic_config__: ClassVar[ConfigDict] = STRICT

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
class Ordered:
    """One line on order: a part for its places, and why. ``figure`` is what it is inspected against, as typed."""

    __pydantic_config__: ClassVar[ConfigDict] = STRICT

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
class Arrived:
    """A line came in, all of it or ``count`` of it."""

    __pydantic_config__: ClassVar[ConfigDict] = STRICT

    number: int
    order: int
    count: int
    by: Sitting
    note: str = ""


@dataclass(frozen=True)
class Inspected:
    """A line measured against its figure: what was found, and whether it passes."""

    __pydantic_config__: ClassVar[ConfigDict] = STRICT

    number: int
    order: int
    found: str
    passes: bool
    by: Sitting


@dataclass(frozen=True)
class Substituted:
    """Another part taken in place of what was ordered: where it went in, and the checks that it opened or moved."""

    __pydantic_config__: ClassVar[ConfigDict] = STRICT

    number: int
    order: int
    part: str
    side: str
    place: str
    opened: tuple[str, ...]
    by: Sitting


@dataclass(frozen=True)
class OrderOff:
    """A line taken back, and why; it stays to be seen."""

    __pydantic_config__: ClassVar[ConfigDict] = STRICT

    number: int
    order: int
    reason: str
    by: Sitting


@dataclass(frozen=True)
class Ran:
    """One pull on a power bench: power over speed as pairs of rpm and kW, boost over speed where it was kept.

    ``group`` names the repeats it belongs to; ``told`` are its conditions as they were typed, by their name.
    """

    __pydantic_config__: ClassVar[ConfigDict] = STRICT

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
class RunOff:
    """A run taken back, and why."""

    __pydantic_config__: ClassVar[ConfigDict] = STRICT

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
class Booked:
    """Hours at a rate, or money, against the head. A ``replaces`` corrects an earlier one; ``void`` takes it back."""

    __pydantic_config__: ClassVar[ConfigDict] = STRICT

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
class Weighed:
    """What becomes of a part, with the sum beside each way: a spare from the shelf, salvage, a new one."""

    __pydantic_config__: ClassVar[ConfigDict] = STRICT

    number: int
    part: str
    ways: dict[str, tuple[float, float]]
    rate: float
    chosen: str
    reason: str
    by: Sitting


@dataclass(frozen=True)
class Released:
    """The head signed off at a revision, with the last reading and the last event that the signature stands on.

    ``digest`` is of the document; ``answers`` is who answers for clearance; ``waived`` what was let pass by name.
    """

    __pydantic_config__: ClassVar[ConfigDict] = STRICT

    number: int
    revision: int
    readings: int
    events: int
    digest: str
    answers: str
    waived: tuple[str, ...]
    next_look: str
    by: Sitting


@dataclass(frozen=True)
class Reopened:
    """A released head opened for its next revision, and why."""

    __pydantic_config__: ClassVar[ConfigDict] = STRICT

    number: int
    release: int
    reason: str
    by: Sitting


Recorded = (
    Worked
    | Ordered
    | Arrived
    | Inspected
    | Substituted
    | OrderOff
    | Ran
    | RunOff
    | Booked
    | Weighed
    | Released
    | Reopened
)


def worked(events: Sequence[object]) -> tuple[Worked, ...]:
    """Work that was told of, in the order it was written down."""
    return tuple(e for e in events if isinstance(e, Worked))


def release(events: Sequence[object]) -> Released | None:
    """The release that holds: the last one, unless the head was opened again or came back since."""
    last: Released | None = None
    for e in events:
        if isinstance(e, Released):
            last = e
        elif isinstance(e, Reopened | SentOn):
            last = None
    return last


def runs(events: Sequence[object]) -> tuple[Ran, ...]:
    """Runs that stand."""
    off = {e.run for e in events if isinstance(e, RunOff)}
    return tuple(e for e in events if isinstance(e, Ran) and e.number not in off)


def booked(events: Sequence[object]) -> tuple[Booked, ...]:
    """What stands booked: neither corrected nor taken back."""
    rows = [e for e in events if isinstance(e, Booked)]
    replaced = {e.replaces for e in rows if e.replaces is not None}
    return tuple(e for e in rows if not e.void and e.number not in replaced)
