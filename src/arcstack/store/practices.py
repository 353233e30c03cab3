"""Practices of the workshop's own, stored and found."""

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import delete, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from arcstack.errors import NameTaken, NotFound
from arcstack.store.tables import PracticeTable


@dataclass(frozen=True)
class PracticeRow:
    """A practice in its newest version; ``document`` is its JSON text."""

    key: str
    name: str
    version: int
    changed: datetime
    document: str


class Practices:
    """The workshop's own practices, within one unit of work."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def all(self) -> list[PracticeRow]:
        """By name."""
        return [_row(r) for r in self.session.scalars(select(PracticeTable).order_by(PracticeTable.name))]

    def get(self, key: str) -> PracticeRow:
        """Raises ``NotFound``."""
        found = self.session.get(PracticeTable, key, populate_existing=True)
        if found is None:
            raise NotFound("That practice is not kept here any more; builds that carry it keep theirs.")
        return _row(found)

    def find(self, key: str) -> PracticeRow | None:
        found = self.session.get(PracticeTable, key, populate_existing=True)
        return _row(found) if found else None

    def put(self, row: PracticeRow) -> None:
        """Add a practice, or change the one that has its key. Raises ``NameTaken``."""
        found = self.session.get(PracticeTable, row.key)
        if found is None:
            found = PracticeTable(key=row.key)
            self.session.add(found)
        found.name, found.version, found.changed, found.document = row.name, row.version, row.changed, row.document
        try:
            self.session.flush()
        except IntegrityError as error:
            raise NameTaken(f"Another practice is called {row.name}.") from error

    def remove(self, key: str) -> None:
        self.session.execute(delete(PracticeTable).where(PracticeTable.key == key))


def _row(r: PracticeTable) -> PracticeRow:
    return PracticeRow(r.key, r.name, r.version, r.changed, r.document)
