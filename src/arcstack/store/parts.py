"""Parts on the shelf, stored and found."""

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import delete, func, select, update
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from arcstack.errors import NameTaken, NotFound
from arcstack.store.tables import BuildTable, FittedTable, PartTable


@dataclass(frozen=True)
class PartRow:
    """A part in its newest version; ``document`` is its JSON text."""

    key: str
    kind: str
    name: str
    version: int
    retired: bool
    changed: datetime
    document: str


class Parts:
    """The parts of one workshop, within one unit of work."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def all(self) -> list[PartRow]:
        """By kind and name."""
        here = select(PartTable).where(~PartTable.removed).order_by(PartTable.kind, PartTable.name)
        return [_row(r) for r in self.session.scalars(here)]

    def mark(self) -> tuple[int, int, datetime | None]:
        """What changes whenever a part does: how many there are, all their versions, and the last change."""
        found = self.session.execute(
            select(func.count(), func.coalesce(func.sum(PartTable.version), 0), func.max(PartTable.changed)).where(
                ~PartTable.removed
            )
        ).one()
        return found[0], found[1], found[2]

    def find(self, key: str) -> PartRow | None:
        found = self.session.get(PartTable, key, populate_existing=True)
        return _row(found) if found and not found.removed else None

    def get(self, key: str) -> PartRow:
        """Raises ``NotFound``."""
        found = self.find(key)
        if found is None:
            raise NotFound("That part is not on the shelf any more; builds that carry it keep its figures.")
        return found

    def put(self, row: PartRow) -> None:
        """Add a part, or change the one that has its key. Raises ``NameTaken``."""
        found = self.session.get(PartTable, row.key)
        if found is None:
            # a name is free again once its part was taken off
            gone = (PartTable.kind == row.kind, PartTable.name == row.name, PartTable.removed)
            self.session.execute(delete(PartTable).where(*gone))
            found = PartTable(key=row.key, removed=False)
            self.session.add(found)
        found.kind, found.name, found.version, found.retired = row.kind, row.name, row.version, row.retired
        found.changed, found.document = row.changed, row.document
        try:
            self.session.flush()
        except IntegrityError as error:
            raise NameTaken(f"Another {row.kind} is called {row.name}.") from error

    def remove(self, key: str) -> None:
        """Take a part off; until its name is taken by another it can be put back."""
        self.session.execute(update(PartTable).where(PartTable.key == key).values(removed=True))

    def put_back(self, key: str) -> PartRow:
        """Put a part back that was taken off. Raises ``NotFound``."""
        found = self.session.get(PartTable, key, populate_existing=True)
        if found is None:
            raise NotFound("That part cannot be put back: another has its name now.")
        found.removed = False
        self.session.flush()
        return _row(found)

    def users(self, key: str) -> list[tuple[int, str, str]]:
        """Builds whose newest revision has the part: (id, name, place)."""
        rows = self.session.execute(
            select(BuildTable.id, BuildTable.name, FittedTable.place)
            .join(FittedTable, FittedTable.build_id == BuildTable.id)
            .where(FittedTable.key == key)
            .order_by(BuildTable.name, BuildTable.id, FittedTable.place)
        )
        return [(build_id, name, place) for build_id, name, place in rows]


def _row(r: PartTable) -> PartRow:
    return PartRow(r.key, r.kind, r.name, r.version, r.retired, r.changed, r.document)
