"""Sessions of people who signed in, kept here: each can be seen and ended, and a copied cookie ends with it."""

import hashlib
import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta

from arcstack.application.people import Person, person_of
from arcstack.application.workshop import Who
from arcstack.settings import setting
from arcstack.store import Database, SignedIn, SignedInRow
from arcstack.store import People as Rows

WHOLE = timedelta(hours=setting("people.session_hours"))
IDLE = timedelta(hours=setting("people.idle_hours"))
NOTED_EVERY = timedelta(seconds=setting("people.noted_every"))


@dataclass(frozen=True)
class Session:
    """A session that holds: whose, on what, from where, since when and when it was last used."""

    key: str
    person: str
    device: str
    address: str
    began: datetime
    used: datetime


class Sessions:
    """Every session of a workshop. The browser holds a random token; here stands its hash only."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def begin(self, person: Person, device: str, address: str, now: datetime) -> str:
        """A session of its own for somebody who was let in; gives the token that the browser holds."""
        token = secrets.token_urlsafe(32)
        with self.database.session(writes=True) as session:
            rows = SignedIn(session)
            rows.forget(now - 2 * WHOLE)
            rows.add(SignedInRow(key_of(token), person.id, person.name, now, now, device[:120], address[:45]))
        return token

    def person(self, token: str, now: datetime) -> Person | None:
        """Whose a token is; None once its session was ended, is over, or was not used for too long."""
        with self.database.session() as session:
            row = SignedIn(session).get(key_of(token))
            if row is None or not _holds(row, now):
                return None
            found = person_of(Rows(session).get(row.person_id))
        if not found.active:
            return None
        if now - row.used >= NOTED_EVERY:
            with self.database.session(writes=True) as session:
                SignedIn(session).use(row.key, now)
        return found

    def all(self, now: datetime, person: Person | None = None) -> list[Session]:
        """Those that hold, of one person or of all, the last used first."""
        with self.database.session() as session:
            rows = SignedIn(session).all(person.id if person is not None else None)
        return [Session(r.key, r.name, r.device, r.address, r.began, r.used) for r in rows if _holds(r, now)]

    def end(self, key: str, who: Who, of: Person | None = None) -> bool:
        """End one, of a person where one is named; whether there was one."""
        with self.database.session(writes=True) as session:
            row = SignedIn(session).get(key)
            if row is None or (of is not None and row.person_id != of.id):
                return False
            return SignedIn(session).end(who.now(), key=key) > 0

    def end_of(self, person: Person, who: Who, but: str = "") -> int:
        """End every one of a person, but the one of a token; gives how many."""
        with self.database.session(writes=True) as session:
            return SignedIn(session).end(who.now(), person_id=person.id, but=key_of(but) if but else "")


def key_of(token: str) -> str:
    """By what a token is known here: its hash, from which it cannot be made."""
    return hashlib.sha256(token.encode()).hexdigest()


def _holds(row: SignedInRow, now: datetime) -> bool:
    return now - row.began < WHOLE and now - row.used < IDLE and now >= row.began - timedelta(minutes=5)
