"""The database file: opened, brought up to date, and handed out as sessions."""

import os
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from typing import Any

from sqlalchemy import Connection, create_engine, event, inspect, text
from sqlalchemy.engine import URL
from sqlalchemy.orm import Session

from arcstack.errors import StoreError
from arcstack.store.trouble import worded

MIGRATIONS = Path(__file__).parent / "migrations"

OWNER_ONLY, OWNER_FOLDER = 0o600, 0o700


def _configure(connection: Any, _record: Any) -> None:
    """Write-ahead log, foreign keys held, every commit on the disk before it is reported.

    Transactions are begun by hand: left to itself the driver ends one before tables are changed.
    """
    connection.isolation_level = None
    cursor = connection.cursor()
    for pragma in ("busy_timeout=5000", "journal_mode=WAL", "foreign_keys=ON", "synchronous=FULL"):
        cursor.execute(f"PRAGMA {pragma}")
    cursor.close()


def _begin(connection: Connection) -> None:
    """One writer at a time, known from the start, so that none finds out halfway."""
    connection.exec_driver_sql(connection.get_execution_options().get("begin", "BEGIN"))


def known_versions() -> list[str]:
    """The migrations' numbers, which their file names start with, first to last."""
    return sorted(p.name.split("_")[0] for p in (MIGRATIONS / "versions").glob("[0-9]*.py"))


class Database:
    """One SQLite file; ``open`` brings its tables up to date.

    Every trouble with the file is raised as ``StoreError`` in plain words. A file that was taken away is made anew
    when it is next asked for.
    """

    def __init__(self, path: Path) -> None:
        self.path = path
        self.engine = create_engine(URL.create("sqlite", database=str(path)))
        event.listen(self.engine, "connect", _configure)
        event.listen(self.engine, "begin", _begin)

    @classmethod
    def open(cls, path: Path) -> "Database":
        """Raises ``StoreError`` where the file cannot be opened, read or brought up to date."""
        database = cls(path)
        database.migrate()
        return database

    def migrate(self) -> None:
        """Run every migration that this file has not seen, tables and version in one transaction.

        A file that holds builds is copied beside itself first. Raises ``StoreError``.
        """
        with worded(self.path):
            own_folder(self.path.parent)
            if not self.path.exists():
                self.path.touch(OWNER_ONLY)
            version, versions = self._version(), known_versions()
            if version == versions[-1]:
                return
            if version is not None and version not in versions:
                raise StoreError(
                    f"The workshop in {self.path.parent} was written by a newer version of Arc Stack ({version}). Use "
                    "that one, or another folder."
                )
            if version is not None:
                kept = self.path.with_name(f"{self.path.stem}.before-{versions[-1]}{self.path.suffix}")
                self.copy_to(kept)
                with closing(sqlite3.connect(kept)) as copy:
                    if (said := copy.execute("PRAGMA integrity_check").fetchone()[0]) != "ok":
                        raise StoreError(
                            f"The copy that is kept before an upgrade is not good ({said[:80]}). Nothing was upgraded: "
                            "restore a backup."
                        )
            self._upgrade(versions[-1])
            if version is not None:
                # an upgrade may pack what is stored: what that frees is given back
                with closing(sqlite3.connect(self.path)) as file:
                    file.execute("VACUUM")
                    file.execute("PRAGMA wal_checkpoint(TRUNCATE)")

    def _upgrade(self, newest: str) -> None:
        # only a file that is behind pays for loading the migration tool
        from alembic import command
        from alembic.config import Config

        config = Config()
        config.set_main_option("script_location", str(MIGRATIONS))
        engine = self.engine.execution_options(begin="BEGIN IMMEDIATE")
        with engine.connect() as connection, connection.begin():
            # another process may have been faster
            if self._version_of(connection) != newest:
                config.attributes["connection"] = connection
                command.upgrade(config, "head")

    def copy_to(self, place: Path) -> None:
        """A whole copy of the file as it stands, put in place in one step."""
        half = place.with_name(f"{place.name}.half")
        half.unlink(missing_ok=True)
        half.touch(OWNER_ONLY)
        with closing(sqlite3.connect(self.path)) as source, closing(sqlite3.connect(half)) as target:
            source.backup(target)
        with half.open("rb") as written:
            os.fsync(written.fileno())
        half.replace(place)

    def _version(self) -> str | None:
        """The migration this file stands at; None for a new file."""
        with self.engine.connect() as connection:
            return self._version_of(connection)

    @staticmethod
    def _version_of(connection: Connection) -> str | None:
        if not inspect(connection).has_table("alembic_version"):
            return None
        found: str | None = connection.execute(text("SELECT version_num FROM alembic_version")).scalar()
        return found

    @contextmanager
    def session(self, writes: bool = False) -> Iterator[Session]:
        """A unit of work: committed whole, or not at all. Raises ``StoreError``.

        One that ``writes`` after it has read is alone from its start.
        """
        with worded(self.path):
            self._look_for_file()
            engine = self.engine.execution_options(begin="BEGIN IMMEDIATE") if writes else self.engine
            with Session(engine) as session, session.begin():
                yield session

    def _look_for_file(self) -> None:
        """Make a file anew that was taken away while the program ran: what it held is gone, but work goes on."""
        if not self.path.exists():
            self.engine.dispose()
            for rest in ("-wal", "-shm"):
                self.path.with_name(self.path.name + rest).unlink(missing_ok=True)
            self.migrate()


def own_folder(folder: Path) -> None:
    """Make a folder that only its owner can look into; one that is there already is left as it is."""
    if not folder.is_dir():
        folder.mkdir(parents=True, exist_ok=True, mode=OWNER_FOLDER)
