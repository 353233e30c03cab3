from datetime import datetime
from pathlib import Path

import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import text as sql
from sqlalchemy.exc import IntegrityError

from arcstack.errors import NotFound, StaleRevision
from arcstack.store import Builds, Database, Document, Kind, Reason, RevisionRow
from arcstack.store.tables import Base

AT = datetime(2026, 3, 1, 8, 30)


def row(number: int) -> RevisionRow:
    return RevisionRow(number, AT, "ann", Reason(Kind.FIELD, "engine.stroke", "", "86 mm"))


def text(document: str = "{}", name: str = "one") -> Document:
    return Document(document, name, {})


@pytest.fixture
def database(tmp_path: Path) -> Database:
    return Database.open(tmp_path / "deep" / "workshop.sqlite")


def test_migrations_make_what_the_tables_say(database: Database) -> None:
    with database.engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), Base.metadata) == []


def test_the_file_is_kept_safe(database: Database) -> None:
    with database.engine.connect() as connection:
        assert connection.execute(sql("PRAGMA journal_mode")).scalar() == "wal"
        assert connection.execute(sql("PRAGMA foreign_keys")).scalar() == 1
        assert connection.execute(sql("PRAGMA synchronous")).scalar() == 2


def test_revisions_are_added_on_the_newest_only(database: Database) -> None:
    with database.session() as session:
        build = Builds(session).add(row(1), text())
        Builds(session).append(build, 1, row(2), text('{"a": 1}'))
    with pytest.raises(StaleRevision) as caught, database.session() as session:
        Builds(session).append(build, 1, row(2), text())
    assert (caught.value.base, caught.value.newest) == (1, 2)
    with database.session() as session:
        assert [r.number for r in Builds(session).revisions(build, 10)] == [2, 1]
        assert Builds(session).document(build, 2) == '{"a": 1}'


def test_a_unit_of_work_that_breaks_leaves_nothing(database: Database) -> None:
    with pytest.raises(IntegrityError), database.session() as session:
        build = Builds(session).add(row(1), text())
        Builds(session)._add_revision(build, row(1), text())
        session.flush()
    with database.session() as session:
        assert Builds(session).page(10) == []


def test_what_is_not_there_is_said(database: Database) -> None:
    with database.session() as session:
        with pytest.raises(NotFound):
            Builds(session).row(9)
        with pytest.raises(NotFound):
            Builds(session).append(9, 1, row(2), text())
        build = Builds(session).add(row(1), text())
        with pytest.raises(NotFound):
            Builds(session).document(build, 7)


def test_opening_again_keeps_everything(database: Database) -> None:
    with database.session() as session:
        Builds(session).add(row(1), text())
    with Database.open(database.path).session() as session:
        assert [b.name for b in Builds(session).page(10)] == ["one"]
