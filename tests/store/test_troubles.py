"""The workshop's files gone, read-only, full, damaged, newer, cut off: plain words, and nothing half done."""

import gzip
import os
import sqlite3
import subprocess
import sys
from contextlib import closing
from datetime import datetime
from pathlib import Path

import pytest
from click.testing import CliRunner

from arcstack.application import Who, Workshop
from arcstack.cli import main
from arcstack.document import Build, change
from arcstack.errors import StoreError
from arcstack.store import Database, Kind, Reason
from arcstack.store.database import known_versions
from arcstack.web import create_app

WHY = Reason(Kind.FIELD, "engine.stroke", "", "86")

ROOT = Path(__file__).parents[2]
WHO = Who("ann", lambda: datetime(2026, 3, 1, 8))


def test_kills_in_any_act_leave_the_old_state_or_the_new() -> None:
    done = subprocess.run(
        [sys.executable, "-m", "tests.store.killed", "33", "3"], cwd=ROOT, capture_output=True, text=True, check=False
    )
    assert done.stdout.strip() == "33 kills, none stuck", done.stderr[-2000:]


def test_files_are_their_owners_only(tmp_path: Path) -> None:
    create_app(tmp_path / "here")
    assert (tmp_path / "here").stat().st_mode & 0o777 == 0o700
    for file in (tmp_path / "here").iterdir():
        assert file.stat().st_mode & 0o777 == 0o600, file


@pytest.mark.parametrize("key", [b"", b"short"])
def test_a_key_that_was_cut_off_is_made_anew(tmp_path: Path, key: bytes) -> None:
    (tmp_path / "secret.key").write_bytes(key)
    create_app(tmp_path)
    made = (tmp_path / "secret.key").read_bytes()
    assert len(made) == 32
    create_app(tmp_path)
    assert (tmp_path / "secret.key").read_bytes() == made


def test_a_damaged_and_a_newer_file_are_told_at_the_start(tmp_path: Path) -> None:
    broken, newer = tmp_path / "broken", tmp_path / "newer"
    broken.mkdir()
    (broken / "workshop.sqlite").write_text("no database, " * 40)
    with pytest.raises(StoreError, match="damaged and cannot be read"):
        Database.open(broken / "workshop.sqlite")
    Database.open(newer / "workshop.sqlite").engine.dispose()
    with closing(sqlite3.connect(newer / "workshop.sqlite")) as db, db:
        db.execute("UPDATE alembic_version SET version_num = '0099'")
    with pytest.raises(StoreError, match=r"written by a newer version of Arc Stack \(0099\)"):
        Database.open(newer / "workshop.sqlite")
    told = CliRunner().invoke(main, ["serve", "--data", str(newer), "--port", "8399"])
    assert told.exit_code == 1
    assert "newer version" in told.output
    assert "Traceback" not in told.output


def test_a_place_that_is_no_folder_is_told(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("")
    for command in ("serve", "demo"):
        told = CliRunner().invoke(main, [command, "--data", str(tmp_path / "file" / "here"), "--port", "8399"])
        assert told.exit_code == 1
        assert "is no folder" in told.output


def test_a_full_disk_stores_nothing_and_says_so_and_work_goes_on_with_room(tmp_path: Path) -> None:
    workshop = Workshop(Database.open(tmp_path / "workshop.sqlite"))
    build_id = workshop.create(Build(name="one"), WHO)
    changed = change(workshop.open(build_id).build, "engine.stroke", "86").model_copy(update={"note": ""})

    def pages(most: int) -> None:
        with workshop.database.engine.connect() as connection:
            connection.exec_driver_sql(f"PRAGMA max_page_count={most}")

    pages(1)
    with pytest.raises(StoreError, match="is full"):
        for base in range(1, 40):
            changed = changed.model_copy(update={"note": os.urandom(990).hex()})
            workshop.save(build_id, base, changed, WHO, WHY)
            pages(1)
    stood = workshop.open(build_id)
    pages(10_000)
    assert workshop.save(build_id, stood.revision, Build(name="two"), WHO, WHY).revision == stood.revision + 1


def test_a_file_taken_away_while_it_runs_is_begun_anew(tmp_path: Path) -> None:
    workshop = Workshop(Database.open(tmp_path / "workshop.sqlite"))
    workshop.create(Build(name="gone"), WHO)
    (tmp_path / "workshop.sqlite").unlink()
    assert workshop.builds().rows == []
    assert workshop.open(workshop.create(Build(name="next"), WHO)).build.name == "next"


def test_a_read_only_file_is_told_on_the_page_and_mended_without_a_restart(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    app = create_app(tmp_path)
    workshop: Workshop = app.extensions["shop"].workshop
    build_id = workshop.create(Build(name="one"), WHO)
    engine = workshop.database.engine
    with engine.connect() as connection:
        connection.exec_driver_sql("PRAGMA query_only=ON")
    app.config["WTF_CSRF_ENABLED"] = False
    form = {"path": "engine.stroke", "text": "86", "base": "1", "stage": "brief", "side": "intake"}
    with app.test_client() as client:
        told = client.post(f"/builds/{build_id}/edit", data=form, headers={"HX-Request": "true"})
        assert told.status_code == 503
        assert "can be read but not written. Nothing was stored" in told.get_data(as_text=True)
        assert client.get(f"/builds/{build_id}/intake/brief").status_code == 200
        engine.dispose()
        assert client.post(f"/builds/{build_id}/edit", data=form).status_code == 200
    assert workshop.open(build_id).revision == 2


def test_an_upgrade_keeps_a_copy_of_the_file_as_it_was(tmp_path: Path) -> None:
    path, made = tmp_path / "workshop.sqlite", Path(__file__).parent / "earlier" / "workshop-0003.sqlite.gz"
    path.write_bytes(gzip.decompress(made.read_bytes()))
    size = path.stat().st_size
    assert len(Workshop(Database.open(path)).builds().rows) == 2
    assert path.stat().st_size < size / 3
    with closing(sqlite3.connect(tmp_path / f"workshop.before-{known_versions()[-1]}.sqlite")) as db:
        assert db.execute("SELECT version_num FROM alembic_version").fetchone() == ("0003",)
    assert (tmp_path / f"workshop.before-{known_versions()[-1]}.sqlite").stat().st_mode & 0o777 == 0o600


def test_a_taken_port_is_told(tmp_path: Path) -> None:
    import socket

    with socket.socket() as holder:
        holder.bind(("127.0.0.1", 0))
        holder.listen()
        port = holder.getsockname()[1]
        told = CliRunner().invoke(main, ["serve", "--data", str(tmp_path), "--port", str(port)])
    assert told.exit_code == 1
    assert f"Port {port} is taken" in told.output
