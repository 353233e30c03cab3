"""The end of one life of a head, and what of its events belongs to the one it is in."""

from collections.abc import Sequence
from dataclasses import dataclass

from arcstack.document import Sitting
from arcstack.readings.event import Event


@dataclass(frozen=True)
class SentOn(Event, kind="sent_on"):
    """A teardown closed into the next revision: which one, and what it was made for. What follows is another life."""

    number: int
    revision: int
    reason: str
    by: Sitting


def this_life(events: Sequence[Event]) -> Sequence[Event]:
    """Events since the head was last sent on into a revision; all of them where it never was."""
    last = next((n for n in range(len(events) - 1, -1, -1) if isinstance(events[n], SentOn)), -1)
    return events[last + 1 :]
