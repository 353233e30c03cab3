"""The shelf: parts kept, found, changed and taken in, and builds told of what has changed since."""

from collections.abc import Iterable
from dataclasses import dataclass
from threading import Lock
from uuid import uuid4

from arcstack.application.workshop import Who
from arcstack.document import SIDES, Build, Entry, FromShelf, said
from arcstack.errors import FieldError, NotFound
from arcstack.shelf import OWN, PartKind, ShelfPart, blank, fields_of, title_of
from arcstack.shelf.fitting import PLACES, fitted
from arcstack.store import Database, PartRow, Parts


@dataclass(frozen=True)
class User:
    """A build that has a part from the shelf in a place of one side."""

    build_id: int
    name: str
    side: str
    place: str


@dataclass(frozen=True)
class Newer:
    """A part that a build has, and that was changed on the shelf since; ``part`` is None where it is gone."""

    side: str
    place: str
    held: FromShelf
    part: ShelfPart | None


class PartShelf:
    """The workshop's parts."""

    def __init__(self, database: Database) -> None:
        self.database = database
        self._lock = Lock()
        self._kept: tuple[object, tuple[ShelfPart, ...]] = (None, ())

    def all(self) -> tuple[ShelfPart, ...]:
        """Every part, retired ones too, by kind and name; read again only after a change."""
        with self.database.session() as session:
            mark = Parts(session).mark()
            with self._lock:
                if self._kept[0] == mark:
                    return self._kept[1]
            found = tuple(_part(row) for row in Parts(session).all())
        with self._lock:
            self._kept = (mark, found)
        return found

    def offered(self, kind: PartKind | None = None) -> list[ShelfPart]:
        """Parts that can be fitted, of one kind or all."""
        return [p for p in self.all() if not p.retired and kind in (None, p.kind)]

    def get(self, key: str) -> ShelfPart:
        """Raises ``NotFound``."""
        with self.database.session() as session:
            return _part(Parts(session).get(key))

    def users(self, key: str) -> list[User]:
        """Builds whose newest revision has the part."""
        with self.database.session() as session:
            rows = Parts(session).users(key)
        return [User(build_id, name, *place.split(".", 1)) for build_id, name, place in rows]

    def add(self, kind: PartKind, name: str, who: Who, of: ShelfPart | None = None) -> ShelfPart:
        """Keep a new part, empty or as another stands. Raises ``FieldError``, ``NameTaken``."""
        part = blank(uuid4().hex, kind, name)
        if of is not None:
            part = of.model_copy(update={"key": part.key, "name": part.name, "version": 1, "on_hand": 0, "on_order": 0})
        with self.database.session(writes=True) as session:
            Parts(session).put(_row(part, who))
        return part

    def save(self, part: ShelfPart, who: Who) -> ShelfPart:
        """Keep a change as the part's next version; the same part again is no version.

        What only counts pieces is no new version: builds that have the part are not asked about it. Raises
        ``NotFound``, ``NameTaken``, ``FieldError`` where another hand changed it meanwhile.
        """
        with self.database.session(writes=True) as session:
            held = _part(Parts(session).get(part.key))
            if held.version != part.version:
                raise FieldError("name", f"{held.name} was changed by another window; look again.")
            if held == part:
                return held
            counts = {n: getattr(part, n) for n in _COUNTED}
            moved = held.model_copy(update=counts) != part
            made = part.model_copy(update={"version": held.version + moved})
            Parts(session).put(_row(made, who))
        with self._lock:
            self._kept = (None, ())
        return made

    def take(self, parts: Iterable[ShelfPart], who: Who) -> tuple[int, int]:
        """Take in parts, all of them or none: how many are new and how many changed.

        One that is here under its key, or under its kind and name, is changed. Raises ``NameTaken``.
        """
        new = altered = 0
        with self.database.session(writes=True) as session:
            store = Parts(session)
            held = {row.key: row for row in store.all()}
            named = {(row.kind, row.name.casefold()): row for row in held.values()}
            for part in parts:
                row = held.get(part.key) or named.get((part.kind.value, part.name.casefold()))
                if row is None:
                    store.put(_row(part.model_copy(update={"version": 1}), who))
                    new += 1
                    continue
                now = _part(row)
                made = part.model_copy(update={"key": now.key, "version": now.version})
                if made != now:
                    store.put(_row(made.model_copy(update={"version": now.version + 1}), who))
                    altered += 1
        with self._lock:
            self._kept = (None, ())
        return new, altered

    def remove(self, key: str) -> ShelfPart:
        """Take a part off the shelf; builds that have it keep its figures. Raises ``NotFound``."""
        with self.database.session(writes=True) as session:
            part = _part(Parts(session).get(key))
            Parts(session).remove(key)
        with self._lock:
            self._kept = (None, ())
        return part

    def put_back(self, key: str) -> ShelfPart:
        """Put back a part that was taken off. Raises ``NotFound``."""
        with self.database.session(writes=True) as session:
            part = _part(Parts(session).put_back(key))
        with self._lock:
            self._kept = (None, ())
        return part

    def newer(self, build: Build) -> list[Newer]:
        """Parts of a build that were changed on the shelf since, or taken off it."""
        if not any(build.side(side).from_shelf for side in SIDES):
            return []
        here = {p.key: p for p in self.all()}
        found = []
        for side in SIDES:
            for place, held in build.side(side).from_shelf.items():
                part = here.get(held.key)
                if part is None or part.version > held.version:
                    found.append(Newer(side, place, held, part))
        return found

    def fit(self, build: Build, side: str, key: str, place: str) -> tuple[Build, ShelfPart]:
        """The build with a part in a place. Raises ``NotFound``, ``FieldError``."""
        if place not in PLACES:
            raise FieldError(side, "There is no such place.")
        part = self.get(key)
        return fitted(build, side, part, place), part

    def keep(self, build: Build, side: str, place: str) -> Build:
        """The build that keeps a part as it was fitted, and is not told of the shelf's change again."""
        held = build.side(side).from_shelf.get(place)
        if held is None:
            raise NotFound("No part from the shelf is there.")
        refs = dict(build.side(side).from_shelf)
        try:
            refs[place] = held.model_copy(update={"version": self.get(held.key).version})
        except NotFound:
            del refs[place]
        return build.model_copy(update={side: build.side(side).model_copy(update={"from_shelf": refs})})


_COUNTED = ("on_hand", "on_order", "lead_days", "second_source", "note", "retired", "price", "number")
"""What is no figure of the part itself."""


@dataclass(frozen=True)
class Difference:
    """A figure of a part that differs between two versions, in words."""

    label: str
    before: str
    after: str


def differences(before: ShelfPart, after: ShelfPart) -> list[Difference]:
    """What differs between two parts of one kind."""
    found = []
    for path, spec in fields_of(after.kind).items():
        if spec.lists:
            continue
        old, new = before.at(path), after.at(path)
        if old != new and said(old) != said(new):
            found.append(Difference(title_of(after.kind, path), said(old) or "–", said(new) or "–"))
    for name in OWN:
        old, new = getattr(before, name), getattr(after, name)
        if old != new:
            found.append(Difference(title_of(after.kind, name), _plain(old), _plain(new)))
    return found


def _plain(value: object) -> str:
    if isinstance(value, Entry):
        return value.typed
    return "–" if value is None or value == "" else str(value)


def _part(row: PartRow) -> ShelfPart:
    return ShelfPart.model_validate_json(row.document)


def _row(part: ShelfPart, who: Who) -> PartRow:
    text = part.model_dump_json(exclude_defaults=True)
    return PartRow(part.key, part.kind.value, part.name, part.version, part.retired, who.now(), text)
