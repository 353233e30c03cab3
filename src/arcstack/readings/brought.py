"""What came by a file: kept as the file says it, under a name that says so, and without deciding anything here."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any, ClassVar

from pydantic import ConfigDict

from arcstack.document import Build, Sitting
from arcstack.readings.reading import STRICT, Reading, Signed, Waived, Zero
from arcstack.readings.recorded import Released, Reopened
from arcstack.readings.returning import Disposed

BY_FILE = " (by file)"

DECIDES = (Released, Reopened, Waived, Signed, Disposed, Zero)
"""Acts that bind whoever does them: a signature, what was let pass, a gate, what becomes of a part, an instrument that
may be read with."""


@dataclass(frozen=True)
class Brought:
    """A file taken in by a hand; what it carried stands before, under names that end in *(by file)*. ``readings`` and
    ``events`` are how many of each were new here, ``acts`` how many of these decide nothing here."""

    __pydantic_config__: ClassVar[ConfigDict] = STRICT

    number: int
    file: str
    readings: int
    events: int
    acts: int
    by: Sitting


@dataclass(frozen=True)
class BroughtAct:
    """An act that a file tells of: a signature, a let-pass, a decision. It is told, and decides nothing here."""

    __pydantic_config__: ClassVar[ConfigDict] = STRICT

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


def event_by_file(event: Any) -> Any:
    """An event as it is kept that came by a file: one that decides is only told of."""
    if not isinstance(event, DECIDES):
        return replace(event, by=by_file(event.by))
    return BroughtAct(event.number, type(event).__name__.lower(), _words(event)[:400], by_file(event.by))


def _words(event: Released | Reopened | Waived | Signed | Disposed | Zero) -> str:
    """What the file tells, in words.

    >>> _words(Signed(0, "stack", 3, (), Sitting(hand="Ilse")))
    'The gate “stack” signed at its revision 3'
    """
    if isinstance(event, Released):
        return f"Signed at its revision {event.revision}; {event.answers} answers for clearance"
    if isinstance(event, Reopened):
        return f"Opened again: {event.reason}"
    if isinstance(event, Waived):
        where = event.place or event.side or "the head"
        return f"{event.check} let pass at {where}, until {event.until}: {event.reason}"
    if isinstance(event, Signed):
        return f"The gate “{event.gate}” signed at its revision {event.revision}"
    if isinstance(event, Zero):
        return f"{event.instrument} tried on its standard"
    return f"{event.part} at {event.place}: {event.what.value}"


def brought(events: Sequence[object]) -> tuple[Brought, ...]:
    """Files that were taken in, in their order."""
    return tuple(e for e in events if isinstance(e, Brought))
