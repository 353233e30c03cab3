"""How an act is stored: judged against the head as it stands, in one unit of work, with nothing worked inside it."""

from collections.abc import Callable, Sequence
from datetime import UTC, date, datetime

from arcstack.application.head import Opened
from arcstack.application.workshop import TRIES
from arcstack.document import Sitting
from arcstack.errors import FieldError, StaleRevision
from arcstack.readings import Event

WORKSHOP = "workshop"
"""The hand of whoever gave no name."""

LEAST_REASON = len("why")
"""A reason has at least so many letters."""


def act(head: Opened, decide: Callable[[Opened], Sequence[Event]]) -> None:
    """Store what ``decide`` makes of a head: all of its events or none.

    What is decided was true of the head as it was looked at. Where another hand was faster, it is decided anew, of the
    head as it stands then. Raises what ``decide`` raises of the head as it stands, ``Frozen``, and ``StaleRevision``
    where others were faster every time.
    """
    for _ in range(TRIES):
        try:
            if head.shop.bench.happened_at(head.current.id, head.current.revision, head.sheet, decide(head)):
                return
            head = head.anew()
        except FieldError:
            stood, head = head, head.anew()
            if (stood.current.revision, stood.sheet.mark) == (head.current.revision, head.sheet.mark):
                raise
    raise StaleRevision(head.current.revision, head.current.revision)


def by_name(by: Sitting, question: str, field: str = "hand") -> None:
    """Raise ``FieldError`` where whoever acts gave no name.

    >>> by_name(Sitting(hand="workshop"), "Whose hand took it?")
    Traceback (most recent call last):
    arcstack.errors.FieldError: Whose hand took it? It has a name.
    """
    if by.hand == WORKSHOP:
        raise FieldError(field, question if question.endswith(".") else f"{question} It has a name.")


def reasoned(reason: str, otherwise: str, field: str = "reason") -> str:
    """A reason that says something. Raises ``FieldError`` with ``otherwise`` for one that does not."""
    if len(reason) < LEAST_REASON:
        raise FieldError(field, otherwise)
    return reason


def day_of(by: Sitting) -> date:
    """The day on which a hand acts.

    >>> day_of(Sitting(hand="ada", at=datetime(2026, 3, 14, 9, 30)))
    datetime.date(2026, 3, 14)
    """
    return (by.at or datetime.now(UTC)).date()
