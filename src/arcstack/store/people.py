"""People who may sign in, stored and found."""

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from arcstack.errors import NotFound
from arcstack.store.tables import PersonTable


@dataclass(frozen=True)
class PersonRow:
    """A person as stored: ``password`` is a hash, ``mark`` changes with it.

    ``second`` is the secret of a second factor, empty without one, and ``second_used`` its last step that was taken.
    """

    id: int
    name: str
    role: str
    password: str
    mark: str
    active: bool
    changed: datetime
    second: str = ""
    second_used: int = 0


class People:
    """The people of one workshop, within one unit of work."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def all(self) -> list[PersonRow]:
        """By name, those who may no longer sign in last."""
        rows = self.session.scalars(select(PersonTable).order_by(PersonTable.active.desc(), PersonTable.folded))
        return [_row(r) for r in rows]

    def count(self) -> int:
        """How many may sign in."""
        found = select(func.count()).select_from(PersonTable).where(PersonTable.active)
        return self.session.scalar(found) or 0

    def named(self, name: str) -> PersonRow | None:
        """A person by name, whatever its letters' case."""
        found = self.session.scalar(select(PersonTable).where(PersonTable.folded == name.strip().casefold()[:80]))
        return _row(found) if found else None

    def get(self, number: int) -> PersonRow:
        """Raises ``NotFound``."""
        found = self.session.get(PersonTable, number)
        if found is None:
            raise NotFound("There is no such person.")
        return _row(found)

    def put(self, row: PersonRow) -> int:
        """Add a person (``id`` 0), or change one; gives the number."""
        made = self.session.get(PersonTable, row.id) if row.id else None
        if made is None:
            made = PersonTable()
            self.session.add(made)
        made.name, made.folded, made.role = row.name, row.name.strip().casefold()[:80], row.role
        made.second, made.second_used = row.second, row.second_used
        made.password, made.mark, made.active, made.changed = row.password, row.mark, row.active, row.changed
        self.session.flush()
        return made.id


def _row(r: PersonTable) -> PersonRow:
    return PersonRow(r.id, r.name, r.role, r.password, r.mark, r.active, r.changed, r.second, r.second_used)
