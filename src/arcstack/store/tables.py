from datetime import datetime

from sqlalchemy import CheckConstraint, ForeignKey, Index, String, Text, UniqueConstraint
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class Base(DeclarativeBase):
    """Tables of the workshop's database."""


class BuildTable(Base):
    """A build: its name as of the newest revision, and that revision's number."""

    __tablename__ = "build"
    __table_args__ = (Index("ix_build_changed", "changed"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(80))
    head: Mapped[int]
    changed: Mapped[datetime]


class CamTable(Base):
    """A cam kept under a name of the builder's own; ``key`` is what builds that use it carry."""

    __tablename__ = "cam"

    id: Mapped[int] = mapped_column(primary_key=True)
    key: Mapped[str] = mapped_column(String(40), unique=True)
    name: Mapped[str] = mapped_column(String(80), unique=True)
    origin: Mapped[str] = mapped_column(String(200))
    changed: Mapped[datetime]
    document: Mapped[str] = mapped_column(Text)


class RevisionTable(Base):
    """A revision: the whole document as it was accepted. Only ever added."""

    __tablename__ = "revision"
    __table_args__ = (UniqueConstraint("build_id", "number"), CheckConstraint("number >= 1"))

    id: Mapped[int] = mapped_column(primary_key=True)
    build_id: Mapped[int] = mapped_column(ForeignKey("build.id", ondelete="CASCADE"))
    number: Mapped[int]
    at: Mapped[datetime]
    author: Mapped[str] = mapped_column(String(80))
    reason: Mapped[str] = mapped_column(String(200))
    act: Mapped[str] = mapped_column(String(8), server_default="change")
    document: Mapped[str] = mapped_column(Text)
