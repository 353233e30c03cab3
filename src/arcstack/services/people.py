"""People and their passwords: added, changed, signed in, and held off when they guess."""

from dataclasses import dataclass, replace
from enum import StrEnum
from functools import total_ordering
from uuid import uuid4

from argon2 import PasswordHasher
from argon2.exceptions import Argon2Error, InvalidHashError
from limits import RateLimitItemPerSecond
from limits.storage import MemoryStorage
from limits.strategies import MovingWindowRateLimiter

from arcstack.document.words import one_line
from arcstack.errors import FieldError, TooOften
from arcstack.services.workshop import Who
from arcstack.settings import setting
from arcstack.store import Database, PersonRow
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
    """A person who may sign in. ``key`` is what a session holds: it ends with the password it was begun by."""

    id: int
    name: str
    role: Role
    active: bool
    key: str


class People:
    """The people of a workshop."""

    def __init__(self, database: Database, hasher: PasswordHasher | None = None) -> None:
        """``hasher`` is argon2id as its library sets it, unless another is given."""
        self.database = database
        self._hasher = hasher or PasswordHasher()
        self._limiter = MovingWindowRateLimiter(MemoryStorage())
        self._nobody = ""

    def all(self) -> list[Person]:
        with self.database.session() as session:
            return [_person(r) for r in Rows(session).all()]

    def any(self) -> bool:
        """Whether anybody may sign in."""
        with self.database.session() as session:
            return Rows(session).count() > 0

    def of_key(self, key: str) -> Person | None:
        """The person whose session this is; None once it has ended."""
        number, _, mark = key.partition(":")
        if not number.isdigit():
            return None
        with self.database.session() as session:
            found = next((r for r in Rows(session).all() if r.id == int(number)), None)
        return _person(found) if found is not None and found.active and found.mark == mark else None

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
                found.id if found else 0,
                found.name if found else name,
                kept.value,
                hashed,
                uuid4().hex,
                True,
                who.now(),
            )
            number = rows.put(row)
            return _person(replace(row, id=number))

    def change(self, number: int, role: Role, active: bool, who: Who) -> Person:
        """Give a person another role, or shut them out; either ends their sessions.

        Raises ``FieldError``, ``NotFound``.
        """
        with self.database.session(writes=True) as session:
            rows = Rows(session)
            found = rows.get(number)
            self._not_last_owner(rows, found, role, active)
            mark = found.mark if active and role.value == found.role else uuid4().hex
            row = replace(found, role=role.value, active=active, mark=mark, changed=who.now())
            rows.put(row)
            return _person(row)

    @staticmethod
    def _not_last_owner(rows: Rows, found: PersonRow | None, role: Role, active: bool) -> None:
        owners = [r for r in rows.all() if r.active and r.role == Role.OWNER.value]
        last = found is not None and [r.id for r in owners] == [found.id]
        if last and (role is not Role.OWNER or not active):
            raise FieldError("role", "That is the last owner: make another one first.")

    def sign_in(self, name: str, password: str, address: str) -> Person:
        """The person whom name and password tell.

        Raises ``FieldError``, the same for a wrong name as for a wrong password, and ``TooOften`` where a name or an
        address has tried too often: then not even the right one is let in.
        """
        by_name = RateLimitItemPerSecond(TRIES_NAME, WINDOW_S), "name", name.strip().casefold()[:80]
        by_address = RateLimitItemPerSecond(TRIES_ADDRESS, WINDOW_S), "address", address
        for item, *who in (by_name, by_address):
            if not self._limiter.test(item, *who):
                raise TooOften(WINDOW_S)
        with self.database.session() as session:
            found = Rows(session).named(name)
        if found is not None and found.active and len(password) <= LONGEST and self._is(found.password, password):
            if self._hasher.check_needs_rehash(found.password):
                with self.database.session(writes=True) as session:
                    Rows(session).put(replace(found, password=self._hasher.hash(password)))
            return _person(found)
        if found is None or not found.active:
            # as long as a right name takes: the time tells nobody who there is
            self._is(self._somebody(), password[:LONGEST])
        for item, *who in (by_name, by_address):
            self._limiter.hit(item, *who)
        raise FieldError("password", "That name and that password do not go together.")

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


def _person(row: PersonRow) -> Person:
    return Person(row.id, row.name, Role(row.role), row.active, f"{row.id}:{row.mark}")
