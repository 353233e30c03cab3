from datetime import datetime
from pathlib import Path

import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import text
from sqlalchemy.exc import IntegrityError

from arcstack.errors import NotFound, StaleRevision
from arcstack.store import Builds, Database, RevisionRow
from arcstack.store.tables import Base

AT = datetime(2026, 3, 1, 8, 30)


def row(number: int, document: str = "{}") -> RevisionRow:
    return RevisionRow(number, AT, "ann", "typed", document)


@pytest.fixture
def database(tmp_path: Path) -> Database:
    return Database.open(tmp_path / "deep" / "workshop.sqlite")


def test_migrations_make_what_the_tables_say(database: Database) -> None:
    with database.engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), Base.metadata) == []


def test_the_file_is_kept_safe(database: Database) -> None:
    with database.engine.connect() as connection:
        assert connection.execute(text("PRAGMA journal_mode")).scalar() == "wal"
        assert connection.execute(text("PRAGMA foreign_keys")).scalar() == 1
        assert connection.execute(text("PRAGMA synchronous")).scalar() == 2


def test_revisions_are_added_on_the_newest_only(database: Database) -> None:
    with database.session() as session:
        build = Builds(session).add("one", row(1))
        Builds(session).append(build, "one", 1, row(2, '{"a": 1}'))
    with pytest.raises(StaleRevision) as caught, database.session() as session:
        Builds(session).append(build, "one", 1, row(2))
    assert (caught.value.base, caught.value.head) == (1, 2)
    with database.session() as session:
        assert [r.number for r in Builds(session).revisions(build)] == [2, 1]
        assert Builds(session).revision(build, 2).document == '{"a": 1}'


def test_a_unit_of_work_that_breaks_leaves_nothing(database: Database) -> None:
    with pytest.raises(IntegrityError), database.session() as session:
        build = Builds(session).add("one", row(1))
        Builds(session)._add_revision(build, row(1))
        session.flush()
    with database.session() as session:
        assert Builds(session).all() == []


def test_what_is_not_there_is_said(database: Database) -> None:
    with database.session() as session:
        with pytest.raises(NotFound):
            Builds(session).row(9)
        with pytest.raises(NotFound):
            Builds(session).append(9, "x", 1, row(2))
        build = Builds(session).add("one", row(1))
        with pytest.raises(NotFound):
            Builds(session).revision(build, 7)


def test_opening_again_keeps_everything(database: Database) -> None:
    with database.session() as session:
        Builds(session).add("one", row(1))
    with Database.open(database.path).session() as session:
        assert [b.name for b in Builds(session).all()] == ["one"]
