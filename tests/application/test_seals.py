"""Seals: what was signed is found changed, wherever it was changed."""

import hashlib
import sqlite3
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

import pytest
from click.testing import CliRunner

from arcstack.application import Who, Workshop
from arcstack.application.bench import Bench
from arcstack.application.record import sign_off
from arcstack.application.seals import check
from arcstack.cli import main
from arcstack.demo import demo_builds
from arcstack.document import Sitting
from arcstack.readings.recorded import Released, Reopened
from arcstack.readings.taking import How
from arcstack.store import Database

NOW = datetime(2026, 3, 1, 8, 30, tzinfo=UTC)
WHO = Who("Ilse", lambda: NOW.replace(tzinfo=None))
BY = Sitting(hand="Ilse", instrument="H-2", at=NOW)


@pytest.fixture
def shop(tmp_path: Path) -> tuple[Database, Path]:
    """Two heads, one of them signed twice: three seals."""
    database = Database.open(tmp_path / "workshop.sqlite")
    workshop, bench = Workshop(database), Bench(database)
    for build in demo_builds()[:2]:
        number = workshop.create(build, WHO)
        bench.read(number, build, "open_height", "1I-a", "36.81 mm", How(BY, sure=True))
    for number in (1, 2, 1):
        current = workshop.open(number)
        made = sign_off(workshop, bench, current, (), bench.marks(number), "Ilse", "1,000 km", BY)
        assert isinstance(made, Released)
        if number == 1:
            bench.happened(1, Reopened(0, 0, "for the test", BY))
    return database, tmp_path


def change(folder: Path, *statements: str) -> None:
    with closing(sqlite3.connect(folder / "workshop.sqlite")) as file:
        for statement in statements:
            file.execute(statement)
        file.commit()


def test_what_stands_as_it_was_signed_is_found_so(shop: tuple[Database, Path]) -> None:
    database, folder = shop
    found = check(database)
    assert (found.seals, found.gone, found.broken) == (3, 0, ())
    # what came after a signature is no part of it
    Bench(database).happened(1, Reopened(0, 0, "once more", BY))
    assert check(database).broken == ()
    told = CliRunner().invoke(main, ["seals", "--data", str(folder)])
    assert (told.exit_code, told.output) == (0, "3 signatures, each as it was put.\n")


@pytest.mark.parametrize(
    ("statement", "heads", "why"),
    [
        ("UPDATE reading SET value = 36.5 WHERE build_id = 2", ["Fennel"], "changed since"),
        ("UPDATE reading SET hand = 'Wen' WHERE build_id = 1", ["Tamarack", "Tamarack"], "changed since"),
        ("DELETE FROM reading WHERE build_id = 2", ["Fennel"], "changed since"),
        ("UPDATE event SET body = replace(body, 'Ilse', 'Wen') WHERE build_id = 2", ["Fennel"], "changed since"),
        ("DELETE FROM event WHERE build_id = 2", ["Fennel"], "not there any more"),
        ("DELETE FROM seal WHERE number = 2", ["Tamarack"], "chain is cut"),
        ("DELETE FROM revision WHERE build_id = 2", ["Fennel"], "not there any more"),
        ("UPDATE seal SET digest = '" + hashlib.sha256(b"x").hexdigest() + "' WHERE number = 2", ["Fennel", "Tamarack"], ""),
    ],
)  # fmt: skip
def test_what_was_changed_under_a_signature_is_named(
    shop: tuple[Database, Path], statement: str, heads: list[str], why: str
) -> None:
    database, folder = shop
    change(folder, statement)
    found = check(database)
    # where a seal was taken out of the middle, its signature is found without one too
    assert any("never sealed" in b.why for b in found.broken) is statement.startswith("DELETE FROM seal")
    names = [b.head.split(",")[0] for b in found.broken if "never sealed" not in b.why]
    assert sorted(names) == sorted(heads), found.broken
    assert all(why in b.why for b in found.broken if "never sealed" not in b.why)
    told = CliRunner().invoke(main, ["seals", "--data", str(folder)])
    assert told.exit_code == 1
    assert heads[0] in told.output


def test_a_signature_that_was_put_into_the_file_is_named(shop: tuple[Database, Path]) -> None:
    database, folder = shop
    change(
        folder,
        "INSERT INTO event (id, build_id, kind, hand, instrument, at, body) SELECT 900, build_id, kind, hand, instrument,"
        " at, body FROM event WHERE kind = 'released' AND build_id = 2",
    )
    found = check(database)
    assert ([b.why for b in found.broken], found.unsealed) == (["it was never sealed here"], 0)


def test_signatures_whose_seals_are_all_gone_are_counted_and_not_called_none(shop: tuple[Database, Path]) -> None:
    database, folder = shop
    change(folder, "DELETE FROM seal")
    found = check(database)
    assert (found.seals, found.broken, found.unsealed) == (0, (), 3)
    told = CliRunner().invoke(main, ["seals", "--data", str(folder)])
    assert "3 signatures stand without a seal" in told.output
    assert "Nothing was signed" not in told.output


def test_nothing_signed_is_nothing_broken(tmp_path: Path) -> None:
    Database.open(tmp_path / "workshop.sqlite")
    told = CliRunner().invoke(main, ["seals", "--data", str(tmp_path)])
    assert (told.exit_code, told.output) == (0, "Nothing was signed here yet.\n")
