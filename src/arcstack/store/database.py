"""The database file: opened, brought up to date, and handed out as sessions."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from sqlalchemy import create_engine, event, inspect, text
from sqlalchemy.engine import URL
from sqlalchemy.orm import Session

MIGRATIONS = Path(__file__).parent / "migrations"


def _configure(connection: Any, _record: Any) -> None:
    """Write-ahead log, foreign keys held, every commit on the disk before it is reported."""
    cursor = connection.cursor()
    for pragma in ("journal_mode=WAL", "foreign_keys=ON", "synchronous=FULL", "busy_timeout=5000"):
        cursor.execute(f"PRAGMA {pragma}")
    cursor.close()


def _newest() -> str:
    """The last migration's number, which its file name starts with."""
    return max(p.name.split("_")[0] for p in (MIGRATIONS / "versions").glob("[0-9]*.py"))


class Database:
    """One SQLite file; ``open`` brings its tables up to date."""

    def __init__(self, path: Path) -> None:
        path.parent.mkdir(parents=True, exist_ok=True)
        self.path = path
        self.engine = create_engine(URL.create("sqlite", database=str(path)))
        event.listen(self.engine, "connect", _configure)

    @classmethod
    def open(cls, path: Path) -> "Database":
        database = cls(path)
        database.migrate()
        return database

    def migrate(self) -> None:
        """Run every migration that this file has not seen."""
        if self._version() == _newest():
            return
        # only a file that is behind pays for loading the migration tool
        from alembic import command
        from alembic.config import Config

        config = Config()
        config.set_main_option("script_location", str(MIGRATIONS))
        with self.engine.begin() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, "head")

    def _version(self) -> str | None:
        """The migration this file stands at; None for a new file."""
        with self.engine.connect() as connection:
            if not inspect(connection).has_table("alembic_version"):
                return None
            return connection.execute(text("SELECT version_num FROM alembic_version")).scalar()

    @contextmanager
    def session(self) -> Iterator[Session]:
        """A unit of work: committed whole, or not at all."""
        with Session(self.engine) as session, session.begin():
            yield session
