"""Builds opened, changed and stepped back, each accepted change as a revision."""

from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from threading import Lock

from arcstack.build import Build
from arcstack.errors import FieldError
from arcstack.formats import read_build, write_build
from arcstack.practice import practice
from arcstack.services.difference import Change, differences
from arcstack.store import BuildRow, Builds, Database, RevisionRow


@dataclass(frozen=True)
class Who:
    """The hand that makes a change, and the clock it is made by."""

    name: str
    now: Callable[[], datetime]


@dataclass(frozen=True)
class Current:
    """A build at one revision."""

    id: int
    revision: int
    build: Build


_KEPT = 256
_documents: OrderedDict[str, Build] = OrderedDict()
_documents_lock = Lock()


def _document(text: str, build: Build | None = None) -> Build:
    """The document of a text, read once: the last few are kept, and one just written is kept with its text."""
    with _documents_lock:
        found = _documents.get(text) or build
        if found is not None:
            _documents[text] = found
            _documents.move_to_end(text)
            while len(_documents) > _KEPT:
                _documents.popitem(last=False)
            return found
    return _document(text, read_build(text))


class Workshop:
    """Everything that can be done with builds."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def builds(self) -> list[BuildRow]:
        """Builds, last changed first."""
        with self.database.session() as session:
            return Builds(session).all()

    def create(self, build: Build, who: Who, reason: str = "new build") -> int:
        """Store a new build; gives its id."""
        practice(build.practice)
        with self.database.session() as session:
            return Builds(session).add(build.name, self._revision(1, build, who, reason))

    def open(self, build_id: int, number: int | None = None) -> Current:
        """A build at its newest revision, or at ``number``. Raises ``NotFound``."""
        with self.database.session() as session:
            builds = Builds(session)
            wanted = builds.row(build_id).head if number is None else number
            return Current(build_id, wanted, _document(builds.revision(build_id, wanted).document))

    def revisions(self, build_id: int) -> list[RevisionRow]:
        """Revisions, newest first. Raises ``NotFound``."""
        with self.database.session() as session:
            builds = Builds(session)
            builds.row(build_id)
            return list(builds.revisions(build_id))

    def save(self, build_id: int, base: int, changed: Build, who: Who, reason: str) -> Current:
        """Accept ``changed`` as the next revision on top of ``base``.

        Nothing is stored where nothing changed. Raises ``StaleRevision`` where another window was faster.
        """
        current = self.open(build_id, base)
        if changed == current.build and self._head(build_id) == base:
            return current
        with self.database.session() as session:
            row = self._revision(base + 1, changed, who, reason)
            Builds(session).append(build_id, changed.name, base, row)
        return Current(build_id, base + 1, changed)

    def step_back(self, build_id: int, base: int, to: int, who: Who) -> Current:
        """Make revision ``to`` the newest again, as a revision of its own."""
        if to >= base:
            raise FieldError("revision", "There is nothing earlier to step back to.")
        target = self.open(build_id, to)
        return self.save(build_id, base, target.build, who, f"back to revision {to}")

    def compare(self, build_id: int, first: int, second: int) -> list[Change]:
        """What differs between two revisions."""
        return differences(self.open(build_id, first).build, self.open(build_id, second).build)

    def undo_target(self, build_id: int) -> int | None:
        """The revision that a step back leads to: the one before, skipping steps already undone."""
        with self.database.session() as session:
            reasons = Builds(session).reasons(build_id)
        number = max(reasons)
        while reasons.get(number, "").startswith("back to revision "):
            number = int(reasons[number].removeprefix("back to revision "))
        return number - 1 if number > 1 else None

    def _head(self, build_id: int) -> int:
        with self.database.session() as session:
            return Builds(session).row(build_id).head

    def _revision(self, number: int, build: Build, who: Who, reason: str) -> RevisionRow:
        name = who.name.strip()[:80] or "workshop"
        text = write_build(build)
        _document(text, build)
        return RevisionRow(number, who.now(), name, reason[:200], text)
