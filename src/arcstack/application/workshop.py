"""Builds opened, changed and stepped back, each accepted change as a revision."""

import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Generic, TypeVar

from arcstack.application.bench import happened_within
from arcstack.application.difference import Change, differences
from arcstack.application.frozen import not_signed_off
from arcstack.application.kept import Kept
from arcstack.document import SIDES, Build, Sitting, judged_by
from arcstack.document.belongs import resting_on
from arcstack.document.model import LONGEST_NOTE
from arcstack.errors import FieldError, StaleRevision
from arcstack.formats import read_build, write_build
from arcstack.readings import Stated
from arcstack.readings.recorded import OPENS_DOCUMENT, Reopened
from arcstack.readings.sheet import first_said
from arcstack.settings import setting
from arcstack.store import (
    BuildRow,
    Builds,
    Database,
    Document,
    Kind,
    Order,
    Readings,
    Reason,
    RevisionRow,
    Session,
    Shelf,
)


@dataclass(frozen=True)
class Who:
    """The hand that makes a change, and the clock it is made by."""

    name: str
    now: Callable[[], datetime]


@dataclass(frozen=True)
class Steps:
    """Where a step back and a step forward lead; None where there is none."""

    back: int | None
    forward: int | None


@dataclass(frozen=True)
class Current:
    """A build at one revision, and where a step back or forward from its newest would lead."""

    id: int
    revision: int
    build: Build
    steps: Steps


T = TypeVar("T")

PAGE = int(setting("workshop.page"))


@dataclass(frozen=True)
class Page(Generic[T]):
    """Some of the rows of a long list: page ``number`` of ``of``, counted from 1."""

    rows: list[T]
    number: int
    of: int

    @classmethod
    def of_rows(cls, number: int, count: int, take: Callable[[int, int], Sequence[T]]) -> "Page[T]":
        """``take`` gives so many rows from an offset; a page past the end is the last one."""
        pages = max(-(-count // PAGE), 1)
        number = min(max(number, 1), pages)
        return cls(list(take(PAGE, (number - 1) * PAGE)), number, pages)


NEW = Reason(Kind.NEW)

OPENING = (Kind.CAME_BACK, Kind.REOPENED)
"""What may be put on a revision that is signed off: it opens the head for its next one."""

TRIES = int(setting("workshop.tries"))
"""An edit that others were faster than is made anew so often: each time one of them was taken."""

KEPT_BYTES = int(setting("workshop.kept_text"))


_documents: Kept[str, tuple[str, Build]] = Kept(KEPT_BYTES, size=lambda kept: len(kept[0]))
"""Documents read once, by their text; as many as so many bytes of it hold."""


def _read(text: str) -> Build:
    kept = _documents.get(text)
    return kept[1] if kept is not None else _documents.put(text, (text, read_build(text, kept=True)))[1]


class Workshop:
    """Everything that can be done with builds."""

    def __init__(self, database: Database, saved: Callable[[int], None] = lambda number: None) -> None:
        """``saved`` is told the number of each revision once it is on the disk."""
        self.database = database
        self.saved = saved

    def builds(
        self, page: int = 1, shelf: Shelf = Shelf.OPEN, search: str = "", order: Order = Order.CHANGED
    ) -> "Page[BuildRow]":
        """A page of the builds on a shelf that hold every word of a search, counted from 1."""
        with self.database.session() as session:
            builds = Builds(session)

            def take(limit: int, offset: int) -> list[BuildRow]:
                return builds.page(limit, offset, shelf, search, order)

            return Page.of_rows(page, builds.count(shelf, search), take)

    def count(self, shelf: Shelf) -> int:
        with self.database.session() as session:
            return Builds(session).count(shelf)

    def row(self, build_id: int) -> BuildRow:
        """A build as the list shows it. Raises ``NotFound``."""
        with self.database.session() as session:
            return Builds(session).row(build_id)

    def same(self, build: Build) -> BuildRow | None:
        """The build here that a document is a copy of, told by its identity."""
        with self.database.session() as session:
            return Builds(session).of_identity(build.identity)

    def shelve(self, build_id: int, shelf: Shelf, who: Who) -> BuildRow:
        """Archive a build, delete it, or bring it back; gives it as it was. Raises ``NotFound``."""
        with self.database.session(writes=True) as session:
            before = Builds(session).row(build_id)
            Builds(session).shelve(build_id, shelf, who.now())
        return before

    def remove(self, build_id: int) -> None:
        """Take a deleted build away for good.

        Raises ``NotFound`` for one that is not deleted, ``Frozen`` for a head that is signed off: what somebody answers
        for is kept.
        """
        with self.database.session(writes=True) as session:
            # one that was sent on is somebody's work still
            not_signed_off(session, build_id, (Reopened,))
            Builds(session).remove(build_id)

    def summarise(self, build_id: int, worst: int, summary: str) -> None:
        """Keep how a build's verdicts stand, for the list."""
        with self.database.session(writes=True) as session:
            Builds(session).summarise(build_id, worst, summary)

    def create(self, build: Build, who: Who, why: Reason = NEW) -> int:
        """Store a new build, under its identity where no other has it; gives its id."""
        with self.database.session(writes=True) as session:
            build_id = self.add(session, build, who, why)
        self.saved(1)
        return build_id

    def add(self, session: Session, build: Build, who: Who, why: Reason = NEW) -> int:
        """Store a new build within a unit of work that does more; gives its id."""
        builds, identity = Builds(session), build.identity
        if identity and builds.of_identity(identity) is not None:
            identity = ""
        build = pinned(build.model_copy(update={"identity": ""}))
        try:
            self._number_free(session, build.head.number, None)
        except FieldError as taken:
            note = f"Head number {build.head.number} left out: {taken.message}\n{build.note}".strip()[:LONGEST_NOTE]
            build = build.model_copy(update={"head": build.head.model_copy(update={"number": ""}), "note": note})
        return builds.add(_revision(1, who, why), _stored(build), identity)

    def exported(self, build_id: int) -> Build:
        """A build's newest revision with the identity that tells it elsewhere. Raises ``NotFound``."""
        return self.open(build_id).build.model_copy(update={"identity": self.row(build_id).identity})

    def duplicate(self, build_id: int, name: str, who: Who) -> int:
        """A new build that starts as another stands, under a name of its own; gives its id. Raises ``NotFound``."""
        standing = self.open(build_id).build
        why = Reason(Kind.DUPLICATED, after=standing.name)
        return self.create(standing.model_copy(update={"name": name}), who, why)

    def open(self, build_id: int, number: int | None = None) -> Current:
        """A build at its newest revision, or at ``number``. Raises ``NotFound``."""
        with self.database.session() as session:
            return self.read(session, build_id, number)

    def read(self, session: Session, build_id: int, number: int | None = None) -> Current:
        """``open`` within a unit of work that does more."""
        builds = Builds(session)
        wanted = builds.row(build_id).newest if number is None else number
        text = builds.document(build_id, wanted)
        return Current(build_id, wanted, _read(text), steps_from(builds.kinds(build_id)))

    def revisions(self, build_id: int, page: int = 1) -> "Page[RevisionRow]":
        """A page of revisions, newest first, counted from 1. Raises ``NotFound``."""
        with self.database.session() as session:
            builds = Builds(session)
            newest = builds.row(build_id).newest
            return Page.of_rows(page, newest, lambda limit, offset: builds.revisions(build_id, limit, offset))

    def edit(
        self, build_id: int, base: int, make: Callable[[Build], tuple[Build, Reason]], who: Who, beside: bool = False
    ) -> Current:
        """Accept what ``make`` makes of revision ``base``, and why, as the next revision; it is stored in one unit of
        work, which does not wait for ``make``.

        Nothing is stored where nothing changed. Where another window was faster, an edit that may stand ``beside``
        others is made on what stands now, unless both touched one field, or a field that rests on the other's. Raises
        ``StaleRevision`` for any other, whether or not anything changed here, ``NotFound`` where there is no such
        revision, and whatever ``make`` raises.
        """
        for _ in range(TRIES):
            newest = self.row(build_id).newest
            standing = self.open(build_id, base)
            if newest != base and not (beside and newest > base):
                raise StaleRevision(base, newest)
            # what is made may take long: nobody else's edit waits for it, and one that came meanwhile is told below
            changed, why = make(standing.build)
            if newest != base:
                now = self.open(build_id, newest)
                if meets(why.path or "name", standing.build, now.build):
                    raise StaleRevision(base, newest)
                changed, why = make(now.build)
            try:
                with self.database.session(writes=True) as session:
                    current = self.append(session, build_id, newest, changed, who, why)
            except StaleRevision as error:
                if not beside:
                    raise
                last = error
                continue
            if current.revision != newest:
                self.saved(current.revision)
            return current
        raise StaleRevision(base, last.newest)

    def save(self, build_id: int, base: int, changed: Build, who: Who, why: Reason) -> Current:
        """``edit`` with a document that is at hand."""
        return self.edit(build_id, base, lambda _: (changed, why), who)

    def append(self, session: Session, build_id: int, base: int, changed: Build, who: Who, why: Reason) -> Current:
        """``save`` within a unit of work that does more: all of it is stored, or nothing."""
        builds = Builds(session)
        newest = builds.row(build_id).newest
        if newest != base:
            raise StaleRevision(base, newest)
        standing = self.read(session, build_id, base)
        if changed == standing.build and why.kind not in (Kind.BACK, Kind.FORWARD):
            return standing
        if why.kind not in OPENING:
            not_signed_off(session, build_id, OPENS_DOCUMENT)
        if changed.head.number.strip() != standing.build.head.number.strip():
            self._number_free(session, changed.head.number, build_id)
        changed = pinned(changed)
        builds.append(build_id, base, _revision(base + 1, who, why), _stored(changed))
        self._said_first(session, build_id, standing.build, changed, who)
        session.flush()
        return Current(build_id, base + 1, changed, steps_from(builds.kinds(build_id)))

    def _said_first(self, session: Session, build_id: int, before: Build, after: Build, who: Who) -> None:
        """What the design says for the first time is said of the very parts that were read."""
        rows = first_said(before, after)
        if not rows or not Readings(session).any(build_id):
            return
        by = Sitting(hand=who.name.strip()[:80] or "workshop", at=who.now())
        for path, value in rows:
            happened_within(session, build_id, Stated(0, path, value, by))

    def _number_free(self, session: Session, number: str, own: int | None) -> None:
        """Raises ``FieldError`` where another head has a number: two never share one."""
        builds, wanted = Builds(session), number.strip().casefold()
        if not wanted:
            return
        for row in builds.page(builds.count(search=wanted), search=wanted):
            if row.id == own or row.shelf is Shelf.DELETED:
                continue
            text = builds.document(row.id, row.newest)
            # a number such as 7 stands in many: only what may hold it as such is read
            if f'"number":{json.dumps(wanted, ensure_ascii=False)}' not in text.casefold():
                continue
            other = _read(text)
            if other.head.number.strip().casefold() == wanted:
                raise FieldError("head.number", f"{row.name} has that number, and two heads never share one.")

    def restore(self, build_id: int, base: int, to: int, who: Who) -> Current:
        """Make revision ``to`` the newest again, as a change of its own that a step back takes back.

        Raises ``StaleRevision``, and ``FieldError`` for a revision that is not earlier.
        """
        if not 0 < to < base:
            raise FieldError("revision", "There is nothing earlier to step back to.")
        return self.save(build_id, base, self.open(build_id, to).build, who, Reason(Kind.RESTORED, other=to))

    def step_back(self, build_id: int, base: int, who: Who) -> Current:
        """Take the last change back, a restore too, as a revision of its own.

        Raises ``FieldError`` where there is none, ``StaleRevision`` where another window was faster.
        """
        return self._step(build_id, base, who, Kind.BACK)

    def step_forward(self, build_id: int, base: int, who: Who) -> Current:
        """Make again what the last step back took back. Raises as that does."""
        return self._step(build_id, base, who, Kind.FORWARD)

    def _step(self, build_id: int, base: int, who: Who, kind: Kind) -> Current:
        with self.database.session(writes=True) as session:
            standing = self.read(session, build_id)
            if standing.revision != base:
                raise StaleRevision(base, standing.revision)
            to = standing.steps.back if kind is Kind.BACK else standing.steps.forward
            if to is None:
                raise FieldError(
                    "revision",
                    "There is nothing to step back to." if kind is Kind.BACK else "Nothing was stepped back.",
                )
            target = self.read(session, build_id, to).build
            current = self.append(session, build_id, base, target, who, Reason(kind, other=to))
        self.saved(current.revision)
        return current

    def compare(self, build_id: int, first: int, second: int) -> list[Change]:
        """What differs between two revisions."""
        return differences(self.open(build_id, first).build, self.open(build_id, second).build)


def meets(path: str, base: Build, theirs: Build) -> bool:
    """Whether an edit of one field touches what another hand changed since: that field, or one that it rests on.

    What rests on the field itself is none: the edit that comes after it leaves it outdated, as ever.

    >>> from arcstack.document import change
    >>> base = Build(name="x")
    >>> theirs = change(base, "engine.bore", "86")
    >>> meets("brief.limiter", base, theirs), meets("engine.bore", base, theirs)
    (False, True)
    """
    other = {c.path for c in differences(base, theirs)}
    return path in other or path in _resting(other)


def _resting(paths: set[str]) -> set[str]:
    """Every figure that rests on one of some fields, on its own side or, for one of the engine, on both."""
    found = set()
    for path in paths:
        side, _, source = path.partition(".")
        sides, source = ((side,), source) if side in SIDES else (SIDES, path)
        found |= {f"{s}.{p}" for s in sides for p in resting_on(source)}
    return found


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
        if act == Kind.BACK and behind and now is not None:
            ahead.append(now)
            now = behind.pop()
        elif act == Kind.FORWARD and ahead and now is not None:
            behind.append(now)
            now = ahead.pop()
        else:
            if now is not None:
                behind.append(now)
            ahead.clear()
            now = number
    return Steps(behind[-1] if behind else None, ahead[-1] if ahead else None)


def pinned(build: Build) -> Build:
    """The build with the version of its practice that it is judged by. Raises ``PracticeError``."""
    version = judged_by(build).version
    return build if build.practice_version == version else build.model_copy(update={"practice_version": version})


def _revision(number: int, who: Who, why: Reason) -> RevisionRow:
    return RevisionRow(number, who.now(), who.name.strip()[:80] or "workshop", why)


def _stored(build: Build) -> Document:
    text = write_build(build, compact=True)
    _documents.put(text, (text, build))
    carries = {side: key for side in SIDES if (key := build.side(side).cam.kept)}
    job, head = build.job, build.head
    told = (job.customer, job.number, head.number, head.marks, head.casting, head.date_code, head.bank, head.owner)
    words = " ".join((build.name, *told, build.engine.code))
    fitted = {f"{side}.{place}": ref.key for side in SIDES for place, ref in build.side(side).from_shelf.items()}
    return Document(text, build.name, carries, job.customer, job.number, words.casefold(), fitted)
