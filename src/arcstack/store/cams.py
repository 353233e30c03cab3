"""Cams kept by name, stored and found."""

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import delete, func, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from arcstack.errors import NameTaken, NotFound
from arcstack.store.tables import BuildTable, CamTable, CarriedTable


@dataclass(frozen=True)
class CamRow:
    """A kept cam; ``document`` is its JSON text."""

    key: str
    name: str
    origin: str
    changed: datetime
    document: str


class Cams:
    """The cams of one workshop, within one unit of work."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def all(self) -> list[CamRow]:
        """Kept cams by name."""
        return [_row(r) for r in self.session.scalars(select(CamTable).order_by(CamTable.name))]

    def get(self, key: str) -> CamRow:
        """Raises ``NotFound``."""
        found = self.session.scalar(select(CamTable).where(CamTable.key == key))
        if found is None:
            raise NotFound("That cam is not kept any more.")
        return _row(found)

    def named(self, name: str) -> CamRow | None:
        found = self.session.scalar(select(CamTable).where(CamTable.name == name))
        return _row(found) if found else None

    def put(self, row: CamRow) -> None:
        """Add a cam, or change the one that has its key. Raises ``NameTaken`` for a name that another cam has."""
        found = self.session.scalar(select(CamTable).where(CamTable.key == row.key))
        if found is None:
            found = CamTable(key=row.key)
            self.session.add(found)
        found.name, found.origin, found.changed, found.document = row.name, row.origin, row.changed, row.document
        try:
            self.session.flush()
        except IntegrityError as error:
            raise NameTaken(f"A cam called {row.name} was kept in the same moment; look again.") from error

    def remove(self, key: str) -> None:
        self.session.execute(delete(CamTable).where(CamTable.key == key))

    def users(self, key: str) -> list[tuple[int, str, str]]:
        """Builds whose newest revision carries the cam: (id, name, side)."""
        rows = self.session.execute(
            select(BuildTable.id, BuildTable.name, CarriedTable.side)
            .join(CarriedTable, CarriedTable.build_id == BuildTable.id)
            .where(CarriedTable.key == key)
            .order_by(BuildTable.name, BuildTable.id, CarriedTable.side.desc())
        )
        return [(build_id, name, side) for build_id, name, side in rows]

    def first_users(self, most: int) -> dict[str, tuple[int, list[tuple[int, str, str]]]]:
        """Of every cam that is carried: how many sides carry it, and the first of them, by name."""
        own = CarriedTable.key
        order = (BuildTable.name, BuildTable.id, CarriedTable.side.desc())
        ranked = (
            select(
                own, BuildTable.id, BuildTable.name, CarriedTable.side,
                func.row_number().over(partition_by=own, order_by=order).label("rank"),
                func.count().over(partition_by=own).label("of"),
            ).join(BuildTable, CarriedTable.build_id == BuildTable.id).subquery()
        )  # fmt: skip
        found: dict[str, tuple[int, list[tuple[int, str, str]]]] = {}
        for r in self.session.execute(select(ranked).where(ranked.c.rank <= most).order_by(ranked.c.rank)):
            found.setdefault(r.key, (r.of, []))[1].append((r.id, r.name, r.side))
        return found


def _row(r: CamTable) -> CamRow:
    return CamRow(r.key, r.name, r.origin, r.changed, r.document)
