"""Numbers of builds, and of what is said of them: given once, also when what bore one is gone."""

from sqlalchemy import func, inspect, select
from sqlalchemy.orm import Session

from arcstack.store.tables import BuildTable, EventTable, NumbersTable, ReadingTable

_BORN_BY = {"build": (BuildTable,), "said": (ReadingTable, EventTable)}
"""Readings and events are counted together: their numbers tell which was said first, whatever a clock says."""


def next_number(session: Session, of: str) -> int:
    """The next number of builds (``build``), or of readings and events (``said``), within a unit of work that writes.

    Nobody else gives any meanwhile, so it is looked up once: a file of six hundred readings asked six hundred times.
    """
    last = session.info.get(("last", of))
    number = (_last(session, of) if last is None else int(last)) + 1
    session.info["last", of] = number
    return number


def look_anew(session: Session) -> None:
    """After rows came in with their own numbers, or numbers go on from elsewhere: the last is looked up again."""
    for of in _BORN_BY:
        session.info.pop(("last", of), None)


def keep_numbers(session: Session) -> None:
    """Before something goes for good: remember how far numbers were given."""
    for of in _BORN_BY:
        session.merge(NumbersTable(of=of, last=_last(session, of)))
    session.flush()


def given(session: Session) -> dict[str, int]:
    """How far numbers were given, of each sort; also in a workshop of an earlier version."""
    there = set(inspect(session.connection()).get_table_names())
    if NumbersTable.__tablename__ in there:
        return {of: _last(session, of) for of in _BORN_BY}
    born = {of: [t for t in tables if t.__tablename__ in there] for of, tables in _BORN_BY.items()}
    return {of: max((session.scalar(select(func.max(t.id))) or 0 for t in own), default=0) for of, own in born.items()}


def go_on_after(session: Session, last: dict[str, int]) -> None:
    """Give no number that was given before, though nothing here bears it: what stood here before a restore may still be
    looked at in an open window."""
    for of, number in last.items():
        session.merge(NumbersTable(of=of, last=max(number, _last(session, of))))
    session.flush()
    look_anew(session)


def _last(session: Session, of: str) -> int:
    gone = select(NumbersTable.last).where(NumbersTable.of == of)
    born = [select(func.max(table.id)) for table in _BORN_BY[of]]
    return max(session.scalar(asked) or 0 for asked in (*born, gone))
