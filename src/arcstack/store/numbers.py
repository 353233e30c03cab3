"""Numbers of builds, and of what is said of them: given once, also when what bore one is gone."""

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from arcstack.store.tables import BuildTable, EventTable, NumbersTable, ReadingTable

_BORN_BY = {"build": (BuildTable,), "said": (ReadingTable, EventTable)}
"""Readings and events are counted together: their numbers tell which was said first, whatever a clock says."""


def next_number(session: Session, of: str) -> int:
    """The next number of builds (``build``), or of readings and events (``said``)."""
    return _last(session, of) + 1


def keep_numbers(session: Session) -> None:
    """Before something goes for good: remember how far numbers were given."""
    for of in _BORN_BY:
        session.merge(NumbersTable(of=of, last=_last(session, of)))
    session.flush()


def given(session: Session) -> dict[str, int]:
    """How far numbers were given, of each sort."""
    return {of: _last(session, of) for of in _BORN_BY}


def go_on_after(session: Session, last: dict[str, int]) -> None:
    """Give no number that was given before, though nothing here bears it: what stood here before a restore may still be
    looked at in an open window."""
    for of, number in last.items():
        session.merge(NumbersTable(of=of, last=max(number, _last(session, of))))
    session.flush()


def _last(session: Session, of: str) -> int:
    born = [session.scalar(select(func.max(table.id))) or 0 for table in _BORN_BY[of]]
    gone = session.scalar(select(NumbersTable.last).where(NumbersTable.of == of)) or 0
    return max(*born, gone)
