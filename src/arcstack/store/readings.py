"""Readings and events of the bench, stored and found; nothing of them is ever changed."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from arcstack.store.numbers import next_number
from arcstack.store.tables import EventTable, InstrumentTable, ReadingTable


@dataclass(frozen=True)
class ReadingRow:
    """A reading as it is stored; ``more`` is JSON. ``number`` is 0 until it is."""

    key: str
    place: str
    item: str
    value: float
    typed: str
    hand: str
    instrument: str
    at: datetime
    phase: str
    service: int
    replaces: int | None
    void: bool
    more: str
    number: int = 0


@dataclass(frozen=True)
class EventRow:
    """An event as it is stored; ``body`` is JSON."""

    kind: str
    hand: str
    instrument: str
    at: datetime
    body: str
    number: int = 0


class Readings:
    """The bench of one workshop, within one unit of work."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def add(self, build_id: int, row: ReadingRow) -> int:
        """Store a reading; gives its number."""
        values = {n: v for n, v in vars(row).items() if n != "number"}
        made = ReadingTable(id=next_number(self.session, "said"), build_id=build_id, **values)
        self.session.add(made)
        return made.id

    def add_event(self, build_id: int, row: EventRow) -> int:
        """Store an event; gives its number."""
        values = {n: v for n, v in vars(row).items() if n != "number"}
        made = EventTable(id=next_number(self.session, "said"), build_id=build_id, **values)
        self.session.add(made)
        return made.id

    def any(self, build_id: int) -> bool:
        """Whether anything was ever read of a build."""
        return (
            self.session.scalar(select(ReadingTable.id).where(ReadingTable.build_id == build_id).limit(1)) is not None
        )

    def mark(self, build_id: int) -> tuple[int, int]:
        """The last reading and the last event of a build: they change with every row."""
        last = select(func.coalesce(func.max(ReadingTable.id), 0)).where(ReadingTable.build_id == build_id)
        event = select(func.coalesce(func.max(EventTable.id), 0)).where(EventTable.build_id == build_id)
        return self.session.scalar(last) or 0, self.session.scalar(event) or 0

    def all(self, build_id: int, after: int = 0) -> list[ReadingRow]:
        """Of one build, oldest first; those after a number."""
        found = self.session.scalars(
            select(ReadingTable)
            .where(ReadingTable.build_id == build_id, ReadingTable.id > after)
            .order_by(ReadingTable.id)
        )
        return [
            ReadingRow(
                r.key, r.place, r.item, r.value, r.typed, r.hand, r.instrument, r.at, r.phase, r.service, r.replaces,
                r.void, r.more, r.id,
            )
            for r in found
        ]  # fmt: skip

    def events(self, build_id: int, after: int = 0) -> list[EventRow]:
        """Of one build, oldest first; those after a number."""
        found = self.session.scalars(
            select(EventTable).where(EventTable.build_id == build_id, EventTable.id > after).order_by(EventTable.id)
        )
        return [EventRow(r.kind, r.hand, r.instrument, r.at, r.body, r.id) for r in found]

    def of_kinds(self, kinds: Sequence[str]) -> list[tuple[int, EventRow]]:
        """Events of some kinds of every build, each with its build, oldest first."""
        found = self.session.scalars(select(EventTable).where(EventTable.kind.in_(kinds)).order_by(EventTable.id))
        return [(r.build_id, EventRow(r.kind, r.hand, r.instrument, r.at, r.body, r.id)) for r in found]

    def of_kind_after(self, kind: str, number: int) -> list[EventRow]:
        """Events of a kind of every build after a number, oldest first."""
        found = self.session.scalars(
            select(EventTable).where(EventTable.kind == kind, EventTable.id > number).order_by(EventTable.id)
        )
        return [EventRow(r.kind, r.hand, r.instrument, r.at, r.body, r.id) for r in found]

    def last_of(self, build_id: int, kinds: Sequence[str]) -> EventRow | None:
        """The last event of a build that is of one of some kinds."""
        r = self.session.scalar(
            select(EventTable)
            .where(EventTable.build_id == build_id, EventTable.kind.in_(kinds))
            .order_by(EventTable.id.desc())
            .limit(1)
        )
        return EventRow(r.kind, r.hand, r.instrument, r.at, r.body, r.id) if r else None

    # -- instruments, which are the workshop's

    def instruments(self) -> list[str]:
        """Their documents, by name."""
        return list(self.session.scalars(select(InstrumentTable.document).order_by(InstrumentTable.name)))

    def put_instrument(self, name: str, document: str) -> None:
        """Add one, or change the one of that name."""
        self.session.merge(InstrumentTable(name=name, document=document))

    def remove_instrument(self, name: str) -> None:
        """Take one away; what was read with it stays."""
        self.session.execute(delete(InstrumentTable).where(InstrumentTable.name == name))
