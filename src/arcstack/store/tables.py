from datetime import datetime

from sqlalchemy import CheckConstraint, Double, ForeignKey, Index, LargeBinary, String, Text, UniqueConstraint
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class Base(DeclarativeBase):
    """Tables of the workshop's database."""


class BuildTable(Base):
    """A build: what its newest revision says of itself, and that revision's number.

    ``words`` is what it is searched by; ``summary`` how its verdicts stand at a revision, and ``worst`` the place of
    the worst of them. ``identity`` tells it from every other, wherever it is copied to.
    """

    __tablename__ = "build"
    __table_args__ = (Index("ix_build_changed", "changed"), Index("ix_build_identity", "identity"))

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(80))
    newest: Mapped[int]
    changed: Mapped[datetime]
    customer: Mapped[str] = mapped_column(String(80), server_default="")
    job: Mapped[str] = mapped_column(String(80), server_default="")
    words: Mapped[str] = mapped_column(String(600), server_default="")
    identity: Mapped[str] = mapped_column(String(32), server_default="")
    archived: Mapped[datetime | None]
    deleted: Mapped[datetime | None]
    worst: Mapped[int | None]
    summary: Mapped[str | None] = mapped_column(Text)


class PracticeTable(Base):
    """A practice of the workshop's own, in its newest version."""

    __tablename__ = "practice"

    key: Mapped[str] = mapped_column(String(40), primary_key=True)
    name: Mapped[str] = mapped_column(String(80), unique=True)
    version: Mapped[int]
    changed: Mapped[datetime]
    document: Mapped[str] = mapped_column(Text)


class CamTable(Base):
    """A cam kept under a name of the builder's own; ``key`` is what builds that use it carry."""

    __tablename__ = "cam"

    id: Mapped[int] = mapped_column(primary_key=True)
    key: Mapped[str] = mapped_column(String(40), unique=True)
    name: Mapped[str] = mapped_column(String(80), unique=True)
    origin: Mapped[str] = mapped_column(String(200))
    changed: Mapped[datetime]
    document: Mapped[str] = mapped_column(Text)


class PartTable(Base):
    """A part on the shelf, in its newest version; its whole is ``document``. A removed one can be put back."""

    __tablename__ = "part"
    __table_args__ = (UniqueConstraint("kind", "name"),)

    key: Mapped[str] = mapped_column(String(32), primary_key=True)
    kind: Mapped[str] = mapped_column(String(16))
    name: Mapped[str] = mapped_column(String(80))
    version: Mapped[int]
    retired: Mapped[bool] = mapped_column(default=False)
    removed: Mapped[bool] = mapped_column(default=False)
    changed: Mapped[datetime]
    document: Mapped[str] = mapped_column(Text)


class FittedTable(Base):
    """A part from the shelf that the newest revision of a build has in a place, such as ``intake.retainer``."""

    __tablename__ = "fitted"

    build_id: Mapped[int] = mapped_column(ForeignKey("build.id", ondelete="CASCADE"), primary_key=True)
    place: Mapped[str] = mapped_column(String(40), primary_key=True)
    key: Mapped[str] = mapped_column(String(32), index=True)


class CarriedTable(Base):
    """A kept cam that the newest revision of a build carries on one side."""

    __tablename__ = "carried"

    build_id: Mapped[int] = mapped_column(ForeignKey("build.id", ondelete="CASCADE"), primary_key=True)
    side: Mapped[str] = mapped_column(String(8), primary_key=True)
    key: Mapped[str] = mapped_column(String(40), index=True)


class ReadingTable(Base):
    """One reading of the bench. Only ever added; ``more`` is the rest of it as JSON."""

    __tablename__ = "reading"
    __table_args__ = (Index("ix_reading_build", "build_id"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    build_id: Mapped[int] = mapped_column(ForeignKey("build.id", ondelete="CASCADE"))
    key: Mapped[str] = mapped_column(String(40))
    place: Mapped[str] = mapped_column(String(12))
    item: Mapped[str] = mapped_column(String(20))
    value: Mapped[float] = mapped_column(Double)
    typed: Mapped[str] = mapped_column(String(40))
    hand: Mapped[str] = mapped_column(String(80))
    instrument: Mapped[str] = mapped_column(String(80))
    at: Mapped[datetime]
    phase: Mapped[str] = mapped_column(String(16))
    service: Mapped[int]
    replaces: Mapped[int | None]
    void: Mapped[bool]
    more: Mapped[str] = mapped_column(Text)


class EventTable(Base):
    """What was done at the bench beside reading: put, cut, waived, tried on a standard, signed. Only ever added."""

    __tablename__ = "event"
    __table_args__ = (Index("ix_event_build", "build_id"), Index("ix_event_kind", "kind"))

    id: Mapped[int] = mapped_column(primary_key=True)
    build_id: Mapped[int] = mapped_column(ForeignKey("build.id", ondelete="CASCADE"))
    kind: Mapped[str] = mapped_column(String(16))
    hand: Mapped[str] = mapped_column(String(80))
    instrument: Mapped[str] = mapped_column(String(80))
    at: Mapped[datetime]
    body: Mapped[str] = mapped_column(Text)


class PersonTable(Base):
    """Somebody who may sign in; ``password`` is a hash, ``mark`` what every session of theirs must still hold."""

    __tablename__ = "person"

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(80))
    folded: Mapped[str] = mapped_column(String(80), unique=True)
    role: Mapped[str] = mapped_column(String(16))
    password: Mapped[str] = mapped_column(String(200))
    mark: Mapped[str] = mapped_column(String(32))
    active: Mapped[bool]
    changed: Mapped[datetime]
    second: Mapped[str] = mapped_column(String(64), server_default="")
    second_used: Mapped[int] = mapped_column(server_default="0")


class SignedInTable(Base):
    """A session of somebody who signed in; ``key`` is the hash of what the browser holds."""

    __tablename__ = "signed_in"

    key: Mapped[str] = mapped_column(String(64), primary_key=True)
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id", ondelete="CASCADE"))
    began: Mapped[datetime]
    used: Mapped[datetime]
    device: Mapped[str] = mapped_column(String(120))
    address: Mapped[str] = mapped_column(String(45))
    ended: Mapped[datetime | None]


class GuessTable(Base):
    """A wrong password: kept for as long as guesses are counted, for every process that serves the workshop."""

    __tablename__ = "guess"

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(80))
    address: Mapped[str] = mapped_column(String(45))
    at: Mapped[datetime]


class TrailTable(Base):
    """Who did what to the workshop itself. Only ever added; what is old goes with a note that says so."""

    __tablename__ = "trail"
    __table_args__ = {"sqlite_autoincrement": True}

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    at: Mapped[datetime]
    who: Mapped[str] = mapped_column(String(80))
    act: Mapped[str] = mapped_column(String(24))
    about: Mapped[str] = mapped_column(String(400))
    address: Mapped[str] = mapped_column(String(45))


class LinkAddressTable(Base):
    """An address that an instrument may be linked to."""

    __tablename__ = "link_address"

    address: Mapped[str] = mapped_column(String(120), primary_key=True)
    by: Mapped[str] = mapped_column(String(80))
    at: Mapped[datetime]


class NumbersTable(Base):
    """The last number that was ever given, where what bore it is gone: no number is given twice."""

    __tablename__ = "numbers"

    of: Mapped[str] = mapped_column(String(16), primary_key=True)
    last: Mapped[int]


class SealTable(Base):
    """A signature sealed: the digest of all that it was put under, and of the seal before it."""

    __tablename__ = "seal"

    number: Mapped[int] = mapped_column(primary_key=True)
    identity: Mapped[str] = mapped_column(String(32))
    event: Mapped[int]
    before: Mapped[str] = mapped_column(String(64))
    digest: Mapped[str] = mapped_column(String(64))
    at: Mapped[datetime]


class InstrumentTable(Base):
    """An instrument of the workshop; its whole is ``document``."""

    __tablename__ = "instrument"

    name: Mapped[str] = mapped_column(String(40), primary_key=True)
    document: Mapped[str] = mapped_column(Text)


class RevisionTable(Base):
    """A revision: the whole document as it was accepted, packed small, and why. Only ever added."""

    __tablename__ = "revision"
    __table_args__ = (UniqueConstraint("build_id", "number"), CheckConstraint("number >= 1"))

    id: Mapped[int] = mapped_column(primary_key=True)
    build_id: Mapped[int] = mapped_column(ForeignKey("build.id", ondelete="CASCADE"))
    number: Mapped[int]
    at: Mapped[datetime]
    author: Mapped[str] = mapped_column(String(80))
    kind: Mapped[str] = mapped_column(String(16))
    path: Mapped[str] = mapped_column(String(120), server_default="")
    before: Mapped[str] = mapped_column(String(200), server_default="")
    after: Mapped[str] = mapped_column(String(200), server_default="")
    other: Mapped[int | None]
    document: Mapped[bytes] = mapped_column(LargeBinary)
