"""What came by a file: kept as the file says it, under a name that says so, and without deciding anything here."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from arcstack.document import Build, Sitting
from arcstack.readings.event import Event, of_kind
from arcstack.readings.reading import Reading

BY_FILE = " (by file)"


@dataclass(frozen=True)
class Brought(Event, kind="brought"):
    """A file taken in by a hand; what it carried stands before, under names that end in *(by file)*. ``readings`` and
    ``events`` are how many of each were new here, ``acts`` how many of these decide nothing here."""

    number: int
    file: str
    readings: int
    events: int
    acts: int
    by: Sitting


@dataclass(frozen=True)
class BroughtAct(Event, kind="brought_act"):
    """An act that a file tells of: a signature, a let-pass, a decision. It is told, and decides nothing here."""

    number: int
    act: str
    words: str
    by: Sitting


def by_file(by: Sitting) -> Sitting:
    """Who a file says it was, so that nobody takes it for a hand of this shop; told so once only.

    >>> by_file(by_file(Sitting(hand="Ilse"))).hand
    'Ilse (by file)'
    """
    hand = by.hand.removesuffix(BY_FILE)
    return by.model_copy(update={"hand": f"{hand[: 80 - len(BY_FILE)]}{BY_FILE}"})


def document_by_file(build: Build, here: Build | None = None) -> Build:
    """A document as it is kept that came by a file: what it says was measured or stated by a hand is told as that. What
    stands in the head that is ``here`` just so is its own."""
    return Build.model_validate(_by_file(build.model_dump(), here.model_dump() if here is not None else None))


def _by_file(said: Any, here: Any) -> Any:
    if said == here:
        return said
    if isinstance(said, dict):
        beside = here if isinstance(here, dict) else {}
        return {k: _hand_by_file(v) if k == "by" else _by_file(v, beside.get(k)) for k, v in said.items()}
    if isinstance(said, (list, tuple)):
        row = here if isinstance(here, (list, tuple)) and len(here) == len(said) else [None] * len(said)
        return type(said)(_by_file(s, h) for s, h in zip(said, row, strict=True))
    return said


def _hand_by_file(by: Any) -> Any:
    return by_file(Sitting.model_validate(by)).model_dump() if by and by["hand"] else by


def reading_by_file(reading: Reading) -> Reading:
    """A reading as it is kept that came by a file."""
    return replace(reading, by=by_file(reading.by))


def event_by_file(event: Event) -> Event:
    """An event as it is kept that came by a file: one that decides is only told of."""
    if event.decides:
        return BroughtAct(event.number, event.kind, event.as_told[:400], by_file(event.by))
    return event.changed(by=by_file(event.by))


def brought(events: Sequence[Event]) -> tuple[Brought, ...]:
    """Files that were taken in, in their order."""
    return of_kind(events, Brought)
