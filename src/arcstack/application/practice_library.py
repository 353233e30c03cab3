"""Practices of the workshop's own: copied from another, changed, exported and taken in."""

from uuid import uuid4

from arcstack.application.workshop import Who
from arcstack.document import named
from arcstack.errors import NotFound, PracticeError
from arcstack.practice import OwnPractice, practice, practices, read_own
from arcstack.store import Database, PracticeRow, Practices


class PracticeLibrary:
    """What is kept here in its newest version; a build carries the version that it is judged by."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def all(self) -> list[OwnPractice]:
        with self.database.session() as session:
            return [read_own(r.document) for r in Practices(session).all()]

    def get(self, key: str) -> OwnPractice:
        """Raises ``NotFound``."""
        with self.database.session() as session:
            return read_own(Practices(session).get(key).document)

    def find(self, key: str) -> OwnPractice | None:
        with self.database.session() as session:
            found = Practices(session).find(key)
        return read_own(found.document) if found else None

    def copy(self, of: str, name: str, who: Who) -> OwnPractice:
        """A practice of one's own that starts as a shipped one, or one's own, stands.

        Raises ``FieldError`` for a name that is none, ``NameTaken``, ``NotFound`` for a practice that does not exist.
        """
        name = named(name, "name", "A practice")
        held = self.find(of)
        key = f"own-{uuid4().hex[:12]}"
        if held is not None:
            made = held.model_copy(update={"id": key, "name": name, "version": 1})
        else:
            try:
                base = practice(of)
            except PracticeError as error:
                raise NotFound("There is no such practice to copy.") from error
            made = OwnPractice(id=key, name=name, about=base.about, based_on=base.id, based_on_version=base.version)
        return self._put(made, who)

    def save(self, changed: OwnPractice, who: Who) -> OwnPractice:
        """Keep a change as the next version; the same practice again is no version.

        Raises ``PracticeError`` where limits contradict themselves, ``NameTaken``, ``NotFound``.
        """
        held = self.get(changed.id)
        if changed.model_copy(update={"version": held.version}) == held:
            return held
        changed.whole()
        return self._put(changed.model_copy(update={"version": held.version + 1}), who)

    def take(self, data: bytes, who: Who) -> OwnPractice:
        """Take in a practice's file; one that is here already is changed only by a later version.

        Raises ``PracticeError``, ``NameTaken``.
        """
        own = read_own(data)
        held = self.find(own.id)
        if held is not None and held.version >= own.version:
            raise PracticeError(f"{held.name} is here in version {held.version}; the file has version {own.version}")
        return self._put(own, who)

    def forget(self, key: str) -> None:
        """Take a practice out; builds that are judged by it keep theirs."""
        with self.database.session(writes=True) as session:
            Practices(session).remove(key)

    def newer(self, key: str, version: int) -> int | None:
        """The version that is here of a practice, where it is later than the one given."""
        held = self.find(key)
        now = held.version if held else next((p.version for p in practices() if p.id == key), 0)
        return now if now > version else None

    def _put(self, own: OwnPractice, who: Who) -> OwnPractice:
        row = PracticeRow(own.id, own.name, own.version, who.now(), own.model_dump_json(exclude_none=True))
        with self.database.session(writes=True) as session:
            Practices(session).put(row)
        return own
