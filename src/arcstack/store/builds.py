"""Builds and revisions, stored and found."""

import zlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import delete, func, select, update
from sqlalchemy.orm import Session

from arcstack.errors import NotFound, StaleRevision
from arcstack.store.reason import Kind, Reason
from arcstack.store.tables import BuildTable, CarriedTable, RevisionTable


@dataclass(frozen=True)
class BuildRow:
    """A build, and the number of its newest revision."""

    id: int
    name: str
    newest: int
    changed: datetime


@dataclass(frozen=True)
class RevisionRow:
    """A revision, without its document: when, by whom, why."""

    number: int
    at: datetime
    author: str
    reason: Reason


@dataclass(frozen=True)
class Document:
    """A document to be stored: its JSON text, the build's name, and the kept cams it carries by side."""

    text: str
    name: str
    carries: Mapping[str, str]


class Builds:
    """The builds of one workshop, within one unit of work."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def add(self, revision: RevisionRow, document: Document) -> int:
        """Store a new build with its first revision; gives its id."""
        row = BuildTable(name=document.name, newest=revision.number, changed=revision.at)
        self.session.add(row)
        self.session.flush()
        self._add_revision(row.id, revision, document)
        return row.id

    def append(self, build_id: int, base: int, revision: RevisionRow, document: Document) -> None:
        """Add a revision on top of ``base``.

        Raises ``StaleRevision`` when ``base`` is no longer the newest, ``NotFound`` for an unknown build.
        """
        moved = self.session.execute(
            update(BuildTable)
            .where(BuildTable.id == build_id, BuildTable.newest == base)
            .values(name=document.name, newest=revision.number, changed=revision.at)
        )
        if moved.rowcount != 1:  # type: ignore[attr-defined]
            raise StaleRevision(base, self.row(build_id).newest)
        self._add_revision(build_id, revision, document)

    def _add_revision(self, build_id: int, r: RevisionRow, document: Document) -> None:
        why = r.reason
        self.session.add(
            RevisionTable(
                build_id=build_id, number=r.number, at=r.at, author=r.author, kind=why.kind.value,
                path=why.path[:120], before=why.before[:200], after=why.after[:200], other=why.other,
                document=zlib.compress(document.text.encode(), 6),
            )
        )  # fmt: skip
        self.session.execute(delete(CarriedTable).where(CarriedTable.build_id == build_id))
        for side, key in document.carries.items():
            self.session.add(CarriedTable(build_id=build_id, side=side, key=key))

    def row(self, build_id: int) -> BuildRow:
        """The build's row. Raises ``NotFound``."""
        found = self.session.get(BuildTable, build_id, populate_existing=True)
        if found is None:
            raise NotFound(f"There is no build {build_id}.")
        return _build_row(found)

    def page(self, limit: int, offset: int = 0) -> list[BuildRow]:
        """Builds, last changed first; no document is read."""
        rows = self.session.scalars(
            select(BuildTable).order_by(BuildTable.changed.desc(), BuildTable.id.desc()).limit(limit).offset(offset)
        )
        return [_build_row(r) for r in rows]

    def count(self) -> int:
        return self.session.scalar(select(func.count()).select_from(BuildTable)) or 0

    def document(self, build_id: int, number: int) -> str:
        """A revision's document as its JSON text. Raises ``NotFound``."""
        found = self.session.scalar(
            select(RevisionTable.document).where(RevisionTable.build_id == build_id, RevisionTable.number == number)
        )
        if found is None:
            raise NotFound(f"There is no revision {number} of this build.")
        return zlib.decompress(found).decode()

    def revisions(self, build_id: int, limit: int, offset: int = 0) -> Sequence[RevisionRow]:
        """Revisions of a build, newest first; no document is read."""
        t = RevisionTable
        rows = self.session.execute(
            select(t.number, t.at, t.author, t.kind, t.path, t.before, t.after, t.other)
            .where(t.build_id == build_id)
            .order_by(t.number.desc())
            .limit(limit)
            .offset(offset)
        )
        return [
            RevisionRow(r.number, r.at, r.author, Reason(Kind(r.kind), r.path, r.before, r.after, r.other))
            for r in rows
        ]

    def kinds(self, build_id: int) -> list[tuple[int, str]]:
        """What each revision of a build was made by, first to last."""
        rows = self.session.execute(
            select(RevisionTable.number, RevisionTable.kind)
            .where(RevisionTable.build_id == build_id)
            .order_by(RevisionTable.number)
        )
        return [(number, kind) for number, kind in rows]


def _build_row(r: BuildTable) -> BuildRow:
    return BuildRow(r.id, r.name, r.newest, r.changed)
