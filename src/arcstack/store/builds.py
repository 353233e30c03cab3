"""Builds and revisions, stored and found."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select, update
from sqlalchemy.orm import Session

from arcstack.errors import NotFound, StaleRevision
from arcstack.store.tables import BuildTable, RevisionTable


@dataclass(frozen=True)
class BuildRow:
    id: int
    name: str
    head: int
    changed: datetime


@dataclass(frozen=True)
class RevisionRow:
    """A revision: ``document`` is its JSON text, ``act`` what made it: ``change``, a step ``back`` or ``forward``."""

    number: int
    at: datetime
    author: str
    reason: str
    document: str
    act: str = "change"


class Builds:
    """The builds of one workshop, within one unit of work."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def add(self, name: str, revision: RevisionRow) -> int:
        """Store a new build with its first revision; gives its id."""
        row = BuildTable(name=name, head=revision.number, changed=revision.at)
        self.session.add(row)
        self.session.flush()
        self._add_revision(row.id, revision)
        return row.id

    def append(self, build_id: int, name: str, base: int, revision: RevisionRow) -> None:
        """Add a revision on top of ``base``.

        Raises ``StaleRevision`` when ``base`` is no longer the newest, ``NotFound`` for an unknown build.
        """
        moved = self.session.execute(
            update(BuildTable)
            .where(BuildTable.id == build_id, BuildTable.head == base)
            .values(name=name, head=revision.number, changed=revision.at)
        )
        if moved.rowcount != 1:  # type: ignore[attr-defined]
            raise StaleRevision(base, self.row(build_id).head)
        self._add_revision(build_id, revision)

    def _add_revision(self, build_id: int, r: RevisionRow) -> None:
        self.session.add(
            RevisionTable(
                build_id=build_id,
                number=r.number,
                at=r.at,
                author=r.author,
                reason=r.reason,
                document=r.document,
                act=r.act,
            )
        )

    def row(self, build_id: int) -> BuildRow:
        """The build's row. Raises ``NotFound``."""
        found = self.session.get(BuildTable, build_id, populate_existing=True)
        if found is None:
            raise NotFound(f"There is no build {build_id}.")
        return _build_row(found)

    def all(self, limit: int = 200, offset: int = 0) -> list[BuildRow]:
        """Builds, last changed first."""
        rows = self.session.scalars(
            select(BuildTable).order_by(BuildTable.changed.desc(), BuildTable.id.desc()).limit(limit).offset(offset)
        )
        return [_build_row(r) for r in rows]

    def revision(self, build_id: int, number: int) -> RevisionRow:
        """One revision. Raises ``NotFound``."""
        found = self.session.scalar(
            select(RevisionTable).where(RevisionTable.build_id == build_id, RevisionTable.number == number)
        )
        if found is None:
            raise NotFound(f"There is no revision {number} of this build.")
        return _revision_row(found)

    def revisions(self, build_id: int, limit: int = 500) -> Sequence[RevisionRow]:
        """Revisions of a build, newest first."""
        rows = self.session.scalars(
            select(RevisionTable)
            .where(RevisionTable.build_id == build_id)
            .order_by(RevisionTable.number.desc())
            .limit(limit)
        )
        return [_revision_row(r) for r in rows]

    def acts(self, build_id: int) -> list[tuple[int, str]]:
        """What each revision of a build was made by, first to last; the documents stay where they are."""
        rows = self.session.execute(
            select(RevisionTable.number, RevisionTable.act)
            .where(RevisionTable.build_id == build_id)
            .order_by(RevisionTable.number)
        )
        return [(number, act) for number, act in rows]


def _build_row(r: BuildTable) -> BuildRow:
    return BuildRow(r.id, r.name, r.head, r.changed)


def _revision_row(r: RevisionTable) -> RevisionRow:
    return RevisionRow(r.number, r.at, r.author, r.reason, r.document, r.act)
