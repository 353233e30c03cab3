"""What a hand does as a head goes together: steps, tools, how it is set up, and what was read a second time."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from typing import ClassVar

from pydantic import ConfigDict

from arcstack.document import Sitting
from arcstack.readings.reading import STRICT
from arcstack.readings.sent_on import this_life


class State(StrEnum):
    """How a step of assembly stands."""

    TO_DO = "to do"
    DOING = "doing"
    DONE = "done"
    SKIPPED = "skipped"
    REOPENED = "reopened"


@dataclass(frozen=True)
class Stepped:
    """A step begun, done, skipped for a reason, or reopened. ``fields`` are what was typed, by the field's key;
    ``rests`` the parts it was done with, by their path."""

    __pydantic_config__: ClassVar[ConfigDict] = STRICT

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
class Tooled:
    """How one tool comes to hand."""

    __pydantic_config__: ClassVar[ConfigDict] = STRICT

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
class SetUp:
    """Where a head goes together, and for how many days it will stand before it is started."""

    __pydantic_config__: ClassVar[ConfigDict] = STRICT

    number: int
    where: Where
    standing_days: float
    by: Sitting


@dataclass(frozen=True)
class ReadAgain:
    """A height read once more by another hand or on another day, mm."""

    __pydantic_config__: ClassVar[ConfigDict] = STRICT

    number: int
    place: str
    key: str
    value_mm: float
    typed: str
    by: Sitting


def set_up(events: Sequence[object]) -> SetUp | None:
    """How the head was last said to go together."""
    found = [e for e in this_life(events) if isinstance(e, SetUp)]
    return found[-1] if found else None


def tools_held(events: Sequence[object]) -> dict[str, Held]:
    """How each tool was last said to come to hand."""
    return {e.tool: e.held for e in this_life(events) if isinstance(e, Tooled)}
