"""Signatures sealed: a digest of all that each was put under, chained to the one before it, and checked again."""

import hashlib
import json
from dataclasses import astuple, dataclass
from datetime import datetime

from arcstack.errors import NotFound
from arcstack.readings.recorded import Released
from arcstack.store import Builds, Database, Readings, SealRow, Seals, Session

FIRST = "0" * 64
"""What the first seal is chained to."""


@dataclass(frozen=True)
class Broken:
    """A signature that is not what it was when it was put, and why that is known."""

    head: str
    at: datetime
    why: str


@dataclass(frozen=True)
class Checked:
    """What came of a check: how many seals there are, how many heads of them are gone, what is broken, and how many
    signatures stand before the first seal: put by an earlier version, or theirs were taken away."""

    seals: int
    gone: int
    broken: tuple[Broken, ...]
    unsealed: int = 0


def seal(session: Session, build_id: int, revision: int, event: int, at: datetime) -> str:
    """Seal a signature within the unit of work that puts it; gives the digest."""
    seals = Seals(session)
    last = seals.last()
    before = last.digest if last is not None else FIRST
    identity = Builds(session).row(build_id).identity
    made = SealRow(last.number + 1 if last else 1, identity, event, before, "", at)
    digest = _digest(session, made, build_id, revision)
    seals.add(SealRow(made.number, identity, event, before, digest, at))
    return digest


def _digest(session: Session, made: SealRow, build_id: int, revision: int) -> str:
    """SHA-256 over the seal before, the head, the document that was signed, and every reading and event up to the
    signature, each as it is stored."""
    rows = Readings(session)
    found = hashlib.sha256()
    for text in (
        made.before,
        made.identity,
        Builds(session).document(build_id, revision),
        *(json.dumps(astuple(r), default=str) for r in rows.all(build_id) if r.number <= made.event),
        *(json.dumps(astuple(e), default=str) for e in rows.events(build_id) if e.number <= made.event),
    ):
        found.update(f"{len(text)}:".encode())
        found.update(text.encode())
    return found.hexdigest()


def check(database: Database) -> Checked:
    """Work every seal again from what stands there now, and follow the chain."""
    broken, gone, before = [], 0, FIRST
    with database.session() as session:
        rows = Seals(session).all()
        for n, row in enumerate(rows, 1):
            head = Builds(session).of_identity(row.identity)
            name = head.name if head is not None else "a head that is gone"
            if row.before != before or row.number != n:
                broken.append(Broken(name, row.at, "the chain is cut before it: a signature was taken out or put in"))
            before = row.digest
            if head is None:
                gone += 1
                continue
            why = _wrong(session, row, head.id)
            if why:
                broken.append(Broken(name, row.at, why))
        sealed = {row.event for row in rows}
        unsealed = [(b, e) for b, e in Readings(session).of_kinds([Released.kind]) if e.number not in sealed]
        later = [(b, e) for b, e in unsealed if sealed and e.number > min(sealed)]
        broken += [Broken(Builds(session).row(b).name, e.at, "it was never sealed here") for b, e in later]
    return Checked(len(rows), gone, tuple(broken), len(unsealed) - len(later))


def _wrong(session: Session, row: SealRow, build_id: int) -> str:
    event = next((e for e in Readings(session).events(build_id, row.event - 1) if e.number == row.event), None)
    if event is None or event.kind != "released":
        return "the signature itself is not there any more"
    try:
        digest = _digest(session, row, build_id, int(json.loads(event.body)["revision"]))
    except (NotFound, ValueError, KeyError):
        return "the document that was signed is not there any more"
    return "" if digest == row.digest else "what was signed was changed since"
