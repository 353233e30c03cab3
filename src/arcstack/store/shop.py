"""Who is signed in, who guessed, what was done to the workshop itself, and what an instrument may be linked to."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import delete, func, select, update
from sqlalchemy.orm import Session

from arcstack.store.tables import GuessTable, LinkAddressTable, PersonTable, SealTable, SignedInTable, TrailTable


@dataclass(frozen=True)
class SignedInRow:
    """A session: whose, since when, when it was last used, on what, from where, and when it was ended."""

    key: str
    person_id: int
    name: str
    began: datetime
    used: datetime
    device: str
    address: str
    ended: datetime | None = None


@dataclass(frozen=True)
class TrailRow:
    """One line of the trail."""

    number: int
    at: datetime
    who: str
    act: str
    about: str
    address: str


class SignedIn:
    """Sessions of one workshop, within one unit of work."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def add(self, row: SignedInRow) -> None:
        """Begin one."""
        values = {n: v for n, v in vars(row).items() if n != "name"}
        self.session.add(SignedInTable(**values))

    def get(self, key: str) -> SignedInRow | None:
        """One that was not ended."""
        found = self._rows(SignedInTable.key == key)
        return next(iter(found), None)

    def all(self, person_id: int | None = None) -> list[SignedInRow]:
        """Those that were not ended, of one person or of all, the last used first."""
        return self._rows(*([SignedInTable.person_id == person_id] if person_id is not None else []))

    def _rows(self, *wanted: object) -> list[SignedInRow]:
        rows = self.session.execute(
            select(SignedInTable, PersonTable.name)
            .join(PersonTable, PersonTable.id == SignedInTable.person_id)
            .where(SignedInTable.ended.is_(None), *wanted)  # type: ignore[arg-type]
            .order_by(SignedInTable.used.desc())
        )
        return [
            SignedInRow(r.key, r.person_id, name, r.began, r.used, r.device, r.address, r.ended) for r, name in rows
        ]

    def use(self, key: str, at: datetime) -> None:
        """Note that one was used."""
        self.session.execute(update(SignedInTable).where(SignedInTable.key == key).values(used=at))

    def end(self, at: datetime, key: str | None = None, person_id: int | None = None, but: str = "") -> int:
        """End one, or every one of a person but one; gives how many."""
        wanted = [SignedInTable.ended.is_(None), SignedInTable.key != but]
        wanted += [SignedInTable.key == key] if key is not None else [SignedInTable.person_id == person_id]
        done = self.session.execute(update(SignedInTable).where(*wanted).values(ended=at))
        return int(done.rowcount)  # type: ignore[attr-defined]

    def forget(self, before: datetime) -> None:
        """Take away those that began before a time: none of them can still hold."""
        self.session.execute(delete(SignedInTable).where(SignedInTable.began < before))


class Guesses:
    """Wrong passwords, within one unit of work."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def since(self, at: datetime, name: str, address: str) -> tuple[int, int]:
        """How many there were of a name and from an address."""
        count = select(func.count()).select_from(GuessTable).where(GuessTable.at > at)
        of = self.session.scalar(count.where(GuessTable.name == name)) or 0
        return of, self.session.scalar(count.where(GuessTable.address == address)) or 0

    def add(self, name: str, address: str, at: datetime, forget: datetime) -> None:
        """Count one, and forget those of before a time."""
        self.session.execute(delete(GuessTable).where(GuessTable.at <= forget))
        self.session.add(GuessTable(name=name, address=address, at=at))

    def clear(self) -> None:
        """Begin anew."""
        self.session.execute(delete(GuessTable))


class Trail:
    """What was done to the workshop itself, within one unit of work. Only ever added."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def add(self, at: datetime, who: str, act: str, about: str, address: str) -> None:
        self.session.add(TrailTable(at=at, who=who[:80], act=act, about=about[:400], address=address[:45]))

    def page(self, limit: int, offset: int = 0) -> list[TrailRow]:
        """The newest first."""
        rows = self.session.scalars(select(TrailTable).order_by(TrailTable.id.desc()).limit(limit).offset(offset))
        return [TrailRow(r.id, r.at, r.who, r.act, r.about, r.address) for r in rows]

    def count(self) -> int:
        return self.session.scalar(select(func.count()).select_from(TrailTable)) or 0

    def prune(self, before: datetime) -> int:
        """Take away what is older; gives how many lines went."""
        done = self.session.execute(delete(TrailTable).where(TrailTable.at < before))
        return int(done.rowcount)  # type: ignore[attr-defined]


@dataclass(frozen=True)
class SealRow:
    """A seal as stored: of which head, under which event, chained to which digest before it."""

    number: int
    identity: str
    event: int
    before: str
    digest: str
    at: datetime


class Seals:
    """Seals of signatures, within one unit of work. Only ever added."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def add(self, row: SealRow) -> None:
        self.session.add(SealTable(**vars(row)))

    def all(self) -> list[SealRow]:
        """In their order."""
        rows = self.session.scalars(select(SealTable).order_by(SealTable.number))
        return [SealRow(r.number, r.identity, r.event, r.before, r.digest, r.at) for r in rows]

    def last(self) -> SealRow | None:
        return next(iter(reversed(self.all())), None)


class LinkAddresses:
    """Addresses that an instrument may be linked to, within one unit of work."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def all(self) -> list[str]:
        return list(self.session.scalars(select(LinkAddressTable.address).order_by(LinkAddressTable.address)))

    def allow(self, addresses: Iterable[str], by: str, at: datetime) -> None:
        for address in addresses:
            self.session.merge(LinkAddressTable(address=address, by=by[:80], at=at))

    def refuse(self, address: str) -> None:
        self.session.execute(delete(LinkAddressTable).where(LinkAddressTable.address == address))
