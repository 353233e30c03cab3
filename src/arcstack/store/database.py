"""The database file: opened, brought up to date, and handed out as sessions."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from sqlalchemy import create_engine, event
from sqlalchemy.engine import URL
from sqlalchemy.orm import Session

MIGRATIONS = Path(__file__).parent / "migrations"


def _configure(connection: Any, _record: Any) -> None:
    """Write-ahead log, foreign keys held, every commit on the disk before it is reported."""
    cursor = connection.cursor()
    for pragma in ("journal_mode=WAL", "foreign_keys=ON", "synchronous=FULL", "busy_timeout=5000"):
        cursor.execute(f"PRAGMA {pragma}")
    cursor.close()


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
        config = Config()
        config.set_main_option("script_location", str(MIGRATIONS))
        with self.engine.begin() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, "head")

    @contextmanager
    def session(self) -> Iterator[Session]:
        """A unit of work: committed whole, or not at all."""
        with Session(self.engine) as session, session.begin():
            yield session
