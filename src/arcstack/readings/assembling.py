"""What a hand does as a head goes together: steps, tools, how it is set up, and what was read a second time."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum

from arcstack.document import Sitting
from arcstack.readings.event import Event, of_kind
from arcstack.readings.sent_on import this_life


class State(StrEnum):
    """How a step of assembly stands."""

    TO_DO = "to do"
    DOING = "doing"
    DONE = "done"
    SKIPPED = "skipped"
    REOPENED = "reopened"


@dataclass(frozen=True)
class Stepped(Event, kind="stepped"):
    """A step begun, done, skipped for a reason, or reopened. ``fields`` are what was typed, by the field's key;
    ``rests`` the parts it was done with, by their path."""

    number: int
    step: str
    state: State
    by: Sitting
    reason: str = ""
    fields: Mapping[str, str] = field(default_factory=dict)
    rests: Mapping[str, str] = field(default_factory=dict)


class Held(StrEnum):
    """How a tool comes to hand."""

    OWNED = "owned"
    BORROWED = "borrowed"
    MADE = "made"
    MISSING = "not there"
    BACK = "given back"


@dataclass(frozen=True)
class Tooled(Event, kind="tooled"):
    """How one tool comes to hand."""

    number: int
    tool: str
    held: Held
    by: Sitting


class Where(StrEnum):
    """Where the head is put together."""

    BENCH = "on the bench"
    ENGINE = "on the engine"
    CAMS_IN = "on the engine, cams in"


@dataclass(frozen=True)
class SetUp(Event, kind="set_up"):
    """Where a head goes together, and for how many days it will stand before it is started."""

    number: int
    where: Where
    standing_days: float
    by: Sitting


@dataclass(frozen=True)
class ReadAgain(Event, kind="read_again"):
    """A height read once more by another hand or on another day, mm."""

    number: int
    place: str
    key: str
    value_mm: float
    typed: str
    by: Sitting


def set_up(events: Sequence[Event]) -> SetUp | None:
    """How the head was last said to go together."""
    found = of_kind(this_life(events), SetUp)
    return found[-1] if found else None


def tools_held(events: Sequence[Event]) -> dict[str, Held]:
    """How each tool was last said to come to hand."""
    return {e.tool: e.held for e in of_kind(this_life(events), Tooled)}
