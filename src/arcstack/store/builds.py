"""Builds and revisions, stored and found."""

import zlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from enum import StrEnum
from uuid import uuid4

from sqlalchemy import ColumnElement, delete, func, select, update
from sqlalchemy.orm import Session

from arcstack.errors import NotFound, StaleRevision
from arcstack.store.numbers import keep_numbers, next_number
from arcstack.store.reason import Kind, Reason
from arcstack.store.tables import BuildTable, CarriedTable, FittedTable, RevisionTable


class Shelf(StrEnum):
    """Where a build is kept."""

    OPEN = "open"
    ARCHIVED = "archived"
    DELETED = "deleted"


class Order(StrEnum):
    """What builds are sorted by."""

    CHANGED = "changed"
    NAME = "name"
    CUSTOMER = "customer"
    JOB = "job"
    WORST = "worst"


@dataclass(frozen=True)
class BuildRow:
    """A build, and the number of its newest revision; ``summary`` is how its verdicts stood, where that is known."""

    id: int
    name: str
    newest: int
    changed: datetime
    customer: str = ""
    job: str = ""
    identity: str = ""
    shelf: Shelf = Shelf.OPEN
    summary: str | None = None


@dataclass(frozen=True)
class RevisionRow:
    """A revision, without its document: when, by whom, why."""

    number: int
    at: datetime
    author: str
    reason: Reason


@dataclass(frozen=True)
class Document:
    """A document to be stored: its JSON text, what it says of itself, and the kept cams it carries by side.

    ``words`` is what it is found by, in small letters; ``fitted`` are parts from the shelf by their place.
    """

    text: str
    name: str
    carries: Mapping[str, str]
    customer: str = ""
    job: str = ""
    words: str = ""
    fitted: Mapping[str, str] = field(default_factory=dict)

    @property
    def columns(self) -> dict[str, str]:
        return {"name": self.name, "customer": self.customer, "job": self.job, "words": self.words[:600]}


class Builds:
    """The builds of one workshop, within one unit of work."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def add(self, revision: RevisionRow, document: Document, identity: str = "") -> int:
        """Store a new build with its first revision; gives its id."""
        row = BuildTable(
            id=next_number(self.session, "build"),
            newest=revision.number,
            changed=revision.at,
            identity=identity or uuid4().hex,
            **document.columns,
        )
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
            .values(newest=revision.number, changed=revision.at, **document.columns)
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
        self.session.execute(delete(FittedTable).where(FittedTable.build_id == build_id))
        for place, key in document.fitted.items():
            self.session.add(FittedTable(build_id=build_id, place=place, key=key))

    def row(self, build_id: int) -> BuildRow:
        """The build's row. Raises ``NotFound``."""
        found = self.session.get(BuildTable, build_id, populate_existing=True)
        if found is None:
            raise NotFound(f"There is no build {build_id}.")
        return _build_row(found)

    def page(
        self, limit: int, offset: int = 0, shelf: Shelf | None = None, search: str = "", order: Order = Order.CHANGED
    ) -> list[BuildRow]:
        """Builds of a shelf (all where none is named) that hold every word of a search; no document is read.

        Last changed first, or by name, customer, job, or the worst verdict first.
        """
        last = (BuildTable.changed.desc(), BuildTable.id.desc())
        by = {
            Order.CHANGED: last,
            Order.NAME: (func.lower(BuildTable.name), *last),
            Order.CUSTOMER: (BuildTable.customer == "", func.lower(BuildTable.customer), *last),
            Order.JOB: (BuildTable.job == "", func.lower(BuildTable.job), *last),
            Order.WORST: (func.coalesce(BuildTable.worst, -1).desc(), *last),
        }[order]
        wanted = _wanted(shelf, search)
        rows = self.session.scalars(select(BuildTable).where(*wanted).order_by(*by).limit(limit).offset(offset))
        return [_build_row(r) for r in rows]

    def count(self, shelf: Shelf | None = None, search: str = "") -> int:
        found = select(func.count()).select_from(BuildTable).where(*_wanted(shelf, search))
        return self.session.scalar(found) or 0

    def of_identity(self, identity: str) -> BuildRow | None:
        """The build that has an identity, on whatever shelf."""
        if not identity:
            return None
        found = self.session.scalar(select(BuildTable).where(BuildTable.identity == identity))
        return _build_row(found) if found else None

    def shelve(self, build_id: int, shelf: Shelf, at: datetime) -> None:
        """Put a build on a shelf. Raises ``NotFound``."""
        self.row(build_id)
        put = {"archived": at if shelf is Shelf.ARCHIVED else None, "deleted": at if shelf is Shelf.DELETED else None}
        self.session.execute(update(BuildTable).where(BuildTable.id == build_id).values(**put))

    def remove(self, build_id: int) -> None:
        """Take a deleted build away for good, with every revision. Raises ``NotFound`` for one that is not deleted."""
        if self.row(build_id).shelf is not Shelf.DELETED:
            raise NotFound(f"Build {build_id} is not among the deleted ones.")
        keep_numbers(self.session)
        self.session.execute(delete(BuildTable).where(BuildTable.id == build_id))

    def summarise(self, build_id: int, worst: int, summary: str) -> None:
        """Keep how a build's verdicts stand."""
        values = {"worst": worst, "summary": summary}
        self.session.execute(update(BuildTable).where(BuildTable.id == build_id).values(**values))

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


def _wanted(shelf: Shelf | None, search: str) -> list[ColumnElement[bool]]:
    """What a build must be to be listed: on the shelf, with each word of the search in it."""
    t = BuildTable
    on = {
        Shelf.OPEN: [t.archived.is_(None), t.deleted.is_(None)],
        Shelf.ARCHIVED: [t.archived.is_not(None), t.deleted.is_(None)],
        Shelf.DELETED: [t.deleted.is_not(None)],
        None: [],
    }[shelf]
    return [*on, *(t.words.contains(word, autoescape=True) for word in search.casefold().split()[:8])]


def _build_row(r: BuildTable) -> BuildRow:
    shelf = Shelf.DELETED if r.deleted else Shelf.ARCHIVED if r.archived else Shelf.OPEN
    return BuildRow(r.id, r.name, r.newest, r.changed, r.customer, r.job, r.identity, shelf, r.summary)
