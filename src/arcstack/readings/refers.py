"""Events that name another event or a reading by its number, and the same with every number given anew."""

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from arcstack.readings.event import Event
from arcstack.readings.mock_up import Withdrawn
from arcstack.readings.pictured import Marked, Pictured, PictureOff
from arcstack.readings.recorded import (
    Arrived,
    Booked,
    Inspected,
    OrderOff,
    Released,
    Reopened,
    RunOff,
    Substituted,
)
from arcstack.readings.returning import FoundNot

NAMES: Mapping[type, str] = {
    FoundNot: "finding", Pictured: "finding", Marked: "picture", PictureOff: "picture", Arrived: "order",
    Inspected: "order", Substituted: "order", OrderOff: "order", RunOff: "run", Booked: "replaces", Reopened: "release",
    Withdrawn: "event",
}  # fmt: skip
"""Which field of an event names another event."""


def renumbered(event: Event, events: Mapping[int, int], readings: Mapping[int, int]) -> Event:
    """The event with what it names called by the new numbers; what is not there any more is named as 0."""
    if isinstance(event, Released):
        return replace(event, readings=_last(readings, event.readings), events=_last(events, event.events))
    name = NAMES.get(type(event))
    was: Any = getattr(event, name) if name else None
    return replace(event, **{name: events.get(was, 0)}) if name and was else event  # type: ignore[arg-type]


def _last(numbers: Mapping[int, int], mark: int) -> int:
    """The last of the new numbers up to an old mark."""
    return max((new for old, new in numbers.items() if old <= mark), default=0)
