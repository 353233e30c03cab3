"""Rows of a table as an open file carries them: put back as they were, and nothing else."""

from datetime import datetime
from pathlib import Path

import pytest
from sqlalchemy import event

from arcstack.application import Who, Workshop
from arcstack.demo import demo_builds
from arcstack.formats import read_build, write_build
from arcstack.store import Database
from arcstack.store.numbers import go_on_after
from arcstack.store.readings import EventRow, Readings
from arcstack.store.rows import put_rows, rows_of

WHO = Who("ann", lambda: datetime(2026, 3, 1, 8, 30))


def kept_as(text: str) -> str:
    return write_build(read_build(text), compact=True)


@pytest.fixture
def database(tmp_path: Path) -> Database:
    found = Database.open(tmp_path / "workshop.sqlite")
    Workshop(found).create(demo_builds()[0], WHO)
    return found


def test_rows_come_back_as_they_were(database: Database) -> None:
    with database.session() as session:
        before = {name: list(rows_of(session, name)) for name in ("build", "revision")}
    assert [len(rows) for rows in before.values()] == [1, 1]
    with database.session(writes=True) as session:
        assert put_rows(session, "revision", [], kept_as) == 0
        assert list(rows_of(session, "revision")) == []
        assert put_rows(session, "revision", before["revision"], kept_as) == 1
    with database.session() as session:
        assert {name: list(rows_of(session, name)) for name in before} == before


def test_a_row_that_holds_something_else_is_refused_by_its_number(database: Database) -> None:
    with database.session() as session:
        good = next(rows_of(session, "revision"))
    empty = next(k for k, v in good.items() if k != "id" and v is not None)
    for wrong, words in (
        ({**good, "more": 1}, "row 2 holds something else"),
        ({k: v for k, v in good.items() if k != empty}, "row 2 holds something else"),
        ("no row", "row 2 holds something else"),
        ({**good, "number": None}, "row 2: number is empty"),
        ({**good, "at": "yesterday"}, "row 2"),
    ):
        with pytest.raises(ValueError, match=words), database.session(writes=True) as session:
            put_rows(session, "revision", [good, wrong], kept_as)
        with database.session() as session:
            assert list(rows_of(session, "revision")) == [good]


def test_rows_that_belong_to_nothing_or_stand_twice_are_refused(database: Database) -> None:
    with database.session() as session:
        good = next(rows_of(session, "revision"))
    twice = pytest.raises(ValueError, match="belong to nothing, or stand there twice")
    with twice, database.session(writes=True) as session:
        put_rows(session, "revision", [good, good], kept_as)


def test_many_events_cost_one_look_up_and_are_numbered_in_turn(database: Database) -> None:
    asked: list[str] = []
    event.listen(database.engine, "before_cursor_execute", lambda *given: asked.append(given[2]))
    row = EventRow("note", "ann", "", datetime(2026, 3, 1, 9), "{}")
    with database.session(writes=True) as session:
        numbers = [Readings(session).add_event(1, row) for _ in range(40)]
    assert numbers == list(range(numbers[0], numbers[0] + 40))
    assert sum(statement.startswith("SELECT") for statement in asked) == 3
    with database.session(writes=True) as session:
        assert Readings(session).add_event(1, row) == numbers[-1] + 1
        assert [e.number for e in Readings(session).events(1)] == [*numbers, numbers[-1] + 1]


def test_rows_that_come_in_between_are_counted_on_from(database: Database) -> None:
    row = EventRow("note", "ann", "", datetime(2026, 3, 1, 9), "{}")
    with database.session(writes=True) as session:
        first = Readings(session).add_event(1, row)
        session.flush()
        kept = [{**r, "id": r["id"] + 50} for r in rows_of(session, "event")]
        put_rows(session, "event", kept, kept_as)
        assert Readings(session).add_event(1, row) == first + 51
        go_on_after(session, {"said": first + 90})
        assert Readings(session).add_event(1, row) == first + 91


def test_a_number_of_a_unit_of_work_that_came_to_nothing_is_given_anew(database: Database) -> None:
    row = EventRow("note", "ann", "", datetime(2026, 3, 1, 9), "{}")
    with pytest.raises(RuntimeError), database.session(writes=True) as session:
        lost = Readings(session).add_event(1, row)
        raise RuntimeError
    with database.session(writes=True) as session:
        assert Readings(session).add_event(1, row) == lost
