"""Builds opened, changed and stepped back, each accepted change as a revision."""

from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from threading import Lock

from arcstack.build import Build
from arcstack.errors import FieldError, StaleRevision
from arcstack.formats import read_build, write_build
from arcstack.practice import practice
from arcstack.services.difference import Change, differences
from arcstack.store import BuildRow, Builds, Database, RevisionRow, Session


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


CHANGE, BACK, FORWARD = "change", "back", "forward"
"""What a revision can be made by."""

KEPT_BYTES = 48_000_000
"""Text of documents that are kept read, in all."""


class _Documents:
    """Documents read once: the last used are kept, up to so many bytes of their text."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._lock = Lock()
        self._kept: OrderedDict[str, Build] = OrderedDict()
        self._size = 0

    def read(self, text: str) -> Build:
        with self._lock:
            found = self._kept.get(text)
            if found is not None:
                self._kept.move_to_end(text)
                return found
        return self.keep(text, read_build(text, kept=True))

    def keep(self, text: str, build: Build) -> Build:
        """Keep a document with its text."""
        with self._lock:
            if text not in self._kept:
                self._size += len(text)
            self._kept[text] = build
            self._kept.move_to_end(text)
            while self._size > self._most and len(self._kept) > 1:
                gone, _ = self._kept.popitem(last=False)
                self._size -= len(gone)
        return build


_documents = _Documents(KEPT_BYTES)


class Workshop:
    """Everything that can be done with builds."""

    def __init__(self, database: Database, saved: Callable[[int], None] = lambda number: None) -> None:
        """``saved`` is told the number of each revision once it is on the disk."""
        self.database = database
        self.saved = saved

    def builds(self) -> list[BuildRow]:
        """Builds, last changed first."""
        with self.database.session() as session:
            return Builds(session).all()

    def create(self, build: Build, who: Who, reason: str = "new build") -> int:
        """Store a new build; gives its id."""
        practice(build.practice)
        with self.database.session(writes=True) as session:
            build_id = self.add(session, build, who, reason)
        self.saved(1)
        return build_id

    def add(self, session: Session, build: Build, who: Who, reason: str) -> int:
        """Store a new build within a unit of work that does more; gives its id."""
        return Builds(session).add(build.name, _revision(1, build, who, reason))

    def open(self, build_id: int, number: int | None = None) -> Current:
        """A build at its newest revision, or at ``number``. Raises ``NotFound``."""
        with self.database.session() as session:
            builds = Builds(session)
            wanted = builds.row(build_id).head if number is None else number
            text = builds.revision(build_id, wanted).document
        return Current(build_id, wanted, _documents.read(text))

    def read(self, session: Session, build_id: int, number: int) -> Build:
        """A build's document within a unit of work. Raises ``NotFound``."""
        return _documents.read(Builds(session).revision(build_id, number).document)

    def revisions(self, build_id: int) -> list[RevisionRow]:
        """Revisions, newest first. Raises ``NotFound``."""
        with self.database.session() as session:
            builds = Builds(session)
            builds.row(build_id)
            return list(builds.revisions(build_id))

    def save(self, build_id: int, base: int, changed: Build, who: Who, reason: str) -> Current:
        """Accept ``changed`` as the next revision on top of ``base``.

        Nothing is stored where nothing changed. Raises ``StaleRevision`` where another window was faster, whether or
        not anything changed here.
        """
        with self.database.session(writes=True) as session:
            current = self.append(session, build_id, base, changed, who, reason)
        if current.revision != base:
            self.saved(current.revision)
        return current

    def append(
        self,
        session: Session,
        build_id: int,
        base: int,
        changed: Build,
        who: Who,
        reason: str,
        act: str = CHANGE,
    ) -> Current:
        """``save`` within a unit of work that does more: all of it is stored, or nothing."""
        builds = Builds(session)
        newest = builds.row(build_id).head
        if newest != base:
            raise StaleRevision(base, newest)
        if changed == _documents.read(builds.revision(build_id, base).document) and act == CHANGE:
            return Current(build_id, base, changed)
        builds.append(build_id, changed.name, base, _revision(base + 1, changed, who, reason, act))
        return Current(build_id, base + 1, changed)

    def restore(self, build_id: int, base: int, to: int, who: Who) -> Current:
        """Make revision ``to`` the newest again, as a change of its own that a step back takes back.

        Raises ``StaleRevision``, and ``FieldError`` for a revision that is not earlier.
        """
        if not 0 < to < base:
            raise FieldError("revision", "There is nothing earlier to step back to.")
        return self.save(build_id, base, self.open(build_id, to).build, who, f"restored revision {to}")

    def step_back(self, build_id: int, base: int, who: Who) -> Current:
        """Take the last change back, a restore too, as a revision of its own.

        Raises ``FieldError`` where there is none, ``StaleRevision`` where another window was faster.
        """
        return self._step(build_id, base, who, BACK)

    def step_forward(self, build_id: int, base: int, who: Who) -> Current:
        """Make again what the last step back took back. Raises as that does."""
        return self._step(build_id, base, who, FORWARD)

    def _step(self, build_id: int, base: int, who: Who, act: str) -> Current:
        with self.database.session(writes=True) as session:
            builds = Builds(session)
            newest = builds.row(build_id).head
            if newest != base:
                raise StaleRevision(base, newest)
            steps = steps_from(builds.acts(build_id))
            to = steps.back if act == BACK else steps.forward
            if to is None:
                raise FieldError(
                    "revision", "There is nothing to step back to." if act == BACK else "Nothing was stepped back."
                )
            target = _documents.read(builds.revision(build_id, to).document)
            current = self.append(session, build_id, base, target, who, f"step {act} to revision {to}", act)
        self.saved(current.revision)
        return current

    def steps(self, build_id: int) -> "Steps":
        """The revisions that a step back and a step forward lead to. Raises ``NotFound``."""
        with self.database.session() as session:
            builds = Builds(session)
            builds.row(build_id)
            return steps_from(builds.acts(build_id))

    def compare(self, build_id: int, first: int, second: int) -> list[Change]:
        """What differs between two revisions."""
        return differences(self.open(build_id, first).build, self.open(build_id, second).build)


@dataclass(frozen=True)
class Steps:
    """Where a step back and a step forward lead; None where there is none."""

    back: int | None
    forward: int | None


def steps_from(acts: list[tuple[int, str]]) -> Steps:
    """The two, from what each revision was made by, first to last.

    A change, a restore among them, is put on what is there and ends what could be stepped forward to.

    >>> steps_from([(1, "change"), (2, "change"), (3, "back"), (4, "forward"), (5, "back")])
    Steps(back=None, forward=2)
    """
    behind: list[int] = []
    ahead: list[int] = []
    now: int | None = None
    for number, act in acts:
        if act == BACK and behind and now is not None:
            ahead.append(now)
            now = behind.pop()
        elif act == FORWARD and ahead and now is not None:
            behind.append(now)
            now = ahead.pop()
        else:
            if now is not None:
                behind.append(now)
            ahead.clear()
            now = number
    return Steps(behind[-1] if behind else None, ahead[-1] if ahead else None)


def _revision(number: int, build: Build, who: Who, reason: str, act: str = CHANGE) -> RevisionRow:
    name = who.name.strip()[:80] or "workshop"
    text = write_build(build)
    _documents.keep(text, build)
    return RevisionRow(number, who.now(), name, reason[:200], text, act)
