"""People and their passwords: added, changed, signed in, and held off when they guess."""

from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from enum import StrEnum
from functools import total_ordering
from uuid import uuid4

from argon2 import PasswordHasher
from argon2.exceptions import Argon2Error, InvalidHashError

from arcstack.application import second_factor
from arcstack.application.workshop import Who
from arcstack.document.words import one_line
from arcstack.errors import FieldError, TooOften
from arcstack.settings import setting
from arcstack.store import Database, Guesses, PersonRow, SignedIn
from arcstack.store import People as Rows

LEAST, LONGEST = int(setting("people.least_password")), int(setting("people.longest_password"))
WINDOW_S = int(setting("people.window"))
TRIES_NAME, TRIES_ADDRESS = int(setting("people.tries_name")), int(setting("people.tries_address"))


@total_ordering
class Role(StrEnum):
    """What a person may do, each everything that those before may."""

    LOOK = "look"
    MEASURE = "measure"
    BUILD = "build"
    OWNER = "owner"

    @property
    def words(self) -> str:
        return _WORDS[self]

    def __lt__(self, other: object) -> bool:
        return list(Role).index(self) < list(Role).index(Role(str(other)))


_WORDS = {
    Role.LOOK: "sees everything, changes nothing",
    Role.MEASURE: "takes readings, findings, pictures, steps of assembly, orders and hours",
    Role.BUILD: "changes builds, parts and practices too, and signs off",
    Role.OWNER: "everything, people and backups among it",
}


@dataclass(frozen=True)
class Person:
    """A person who may sign in; ``second`` where a code is asked of them too."""

    id: int
    name: str
    role: Role
    active: bool
    second: bool = False


class People:
    """The people of a workshop."""

    def __init__(self, database: Database, hasher: PasswordHasher | None = None) -> None:
        """``hasher`` is argon2id as its library sets it, unless another is given."""
        self.database = database
        self._hasher = hasher or PasswordHasher()
        self._nobody = ""

    def all(self) -> list[Person]:
        with self.database.session() as session:
            return [person_of(r) for r in Rows(session).all()]

    def any(self) -> bool:
        """Whether anybody may sign in."""
        with self.database.session() as session:
            return Rows(session).count() > 0

    def put(self, name: str, role: Role | None, password: str, who: Who) -> Person:
        """Add a person, or give one a new password, and another role where one is named; every session of theirs ends.

        The first is an owner. Raises ``FieldError``.
        """
        name = one_line(name, 80)
        if not name or name == "workshop":
            raise FieldError("name", "A person has a name.")
        _held(name, password)
        hashed = self._hasher.hash(password)
        with self.database.session(writes=True) as session:
            rows = Rows(session)
            found, first = rows.named(name), rows.count() == 0
            if first and role not in (None, Role.OWNER):
                raise FieldError("role", "The first is an owner: somebody must be able to let others in.")
            kept = role or (Role(found.role) if found else Role.OWNER if first else Role.MEASURE)
            self._not_last_owner(rows, found, kept, active=True)
            row = PersonRow(
                found.id if found else 0, found.name if found else name, kept.value, hashed, uuid4().hex, True,
                who.now(), found.second if found else "", found.second_used if found else 0,
            )  # fmt: skip
            number = rows.put(row)
            SignedIn(session).end(who.now(), person_id=number)
            return person_of(replace(row, id=number))

    def change(self, number: int, role: Role, active: bool, who: Who) -> Person:
        """Give a person another role, or shut them out; either ends their sessions.

        Raises ``FieldError``, ``NotFound``.
        """
        with self.database.session(writes=True) as session:
            rows = Rows(session)
            found = rows.get(number)
            self._not_last_owner(rows, found, role, active)
            row = replace(found, role=role.value, active=active, changed=who.now())
            rows.put(row)
            if not active or role.value != found.role:
                SignedIn(session).end(who.now(), person_id=number)
            return person_of(row)

    def set_second(self, number: int, secret: str, code: str, who: Who) -> None:
        """Ask a person for a code too from now on, or, with an empty secret, no more.

        Raises ``FieldError`` where the code shows that the telephone does not have the secret.
        """
        step = second_factor.step_of(secret, code, _clock(who)) if secret else 0
        if step is None:
            raise FieldError("code", "That is not the code of this secret: read it in again, and see to the clock.")
        with self.database.session(writes=True) as session:
            row = Rows(session).get(number)
            Rows(session).put(replace(row, second=secret, second_used=step, changed=who.now()))

    @staticmethod
    def _not_last_owner(rows: Rows, found: PersonRow | None, role: Role, active: bool) -> None:
        owners = [r for r in rows.all() if r.active and r.role == Role.OWNER.value]
        last = found is not None and [r.id for r in owners] == [found.id]
        if last and (role is not Role.OWNER or not active):
            raise FieldError("role", "That is the last owner: make another one first.")

    def sign_in(self, name: str, password: str, address: str, code: str = "", who: Who | None = None) -> Person:
        """The person whom name, password and, where they chose so, a code tell.

        Raises ``FieldError``, the same and after the same time for whatever of these is wrong, and ``TooOften`` where a
        name or an address has tried too often, at whichever process: then not even the right one is let in.
        """
        who = who or Who(name, lambda: datetime.now(UTC).replace(tzinfo=None))
        folded, since = name.strip().casefold()[:80], who.now() - timedelta(seconds=WINDOW_S)
        with self.database.session() as session:
            of_name, of_address = Guesses(session).since(since, folded, address)
            found = Rows(session).named(name)
        if of_name >= TRIES_NAME or of_address >= TRIES_ADDRESS:
            raise TooOften(WINDOW_S)
        known = found is not None and found.active
        # one hash is worked whatever was typed: the time tells nobody who there is
        nobody = self._somebody()
        right = self._is(found.password if found is not None and known else nobody, password[:LONGEST])
        step = (
            second_factor.step_of(found.second, code, _clock(who), found.second_used) if found and found.second else 0
        )
        if found is not None and known and right and len(password) <= LONGEST and step is not None:
            better = self._hasher.hash(password) if self._hasher.check_needs_rehash(found.password) else ""
            if better or found.second:
                self._let_in(found, better, step)
            return person_of(found)
        with self.database.session(writes=True) as session:
            Guesses(session).add(folded, address, who.now(), since)
        raise FieldError("password", WRONG)

    def confirm(self, person: Person, password: str, address: str, code: str = "") -> None:
        """Ask once more for the password, and the code, of whoever is signed in.

        Raises ``FieldError``, also where it was tried too often.
        """
        try:
            again = self.sign_in(person.name, password, address, code)
        except TooOften as error:
            raise FieldError("password", str(error)) from error
        if again.id != person.id:
            raise FieldError("password", "That is somebody else's.")

    def _let_in(self, found: PersonRow, better: str, step: int) -> None:
        """Note the code that was taken, and a better hash; what changed meanwhile stays.

        Raises ``FieldError`` where the code was taken at another process in this moment.
        """
        with self.database.session(writes=True) as session:
            now = Rows(session).get(found.id)
            if now.password != found.password or (found.second and now.second_used >= step):
                raise FieldError("password", WRONG)
            Rows(session).put(replace(now, password=better or now.password, second_used=step or now.second_used))

    def _somebody(self) -> str:
        if not self._nobody:
            self._nobody = self._hasher.hash(uuid4().hex)
        return self._nobody

    def _is(self, hashed: str, password: str) -> bool:
        try:
            return self._hasher.verify(hashed, password)
        except (Argon2Error, InvalidHashError):
            return False


def _held(name: str, password: str) -> None:
    if not LEAST <= len(password) <= LONGEST:
        raise FieldError("password", f"A password has {LEAST} characters at least: a few words in a row will do.")
    if name.casefold() in password.casefold() or len(set(password)) < 5:
        raise FieldError("password", "That one is guessed at once: neither the name nor one character over and over.")


WRONG = "That name and that password do not go together, or the code is not its own."


def _clock(who: Who) -> float:
    return who.now().replace(tzinfo=UTC).timestamp()


def person_of(row: PersonRow) -> Person:
    """A person as stored, without what is secret of them."""
    return Person(row.id, row.name, Role(row.role), row.active, bool(row.second))
