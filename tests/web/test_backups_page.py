"""The page of backups: when the last good one was, one more now, and the workshop to take along."""

import io
import time
import zipfile
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from click.testing import CliRunner

from arcstack.application import Workshop
from arcstack.application.backups import FILE, Backups, is_sealed, restore, unsealed
from arcstack.cli import main
from arcstack.errors import StoreError
from arcstack.store import Database
from tests.application.pictured import picture
from tests.web.conftest import Browser


def keeper(browser: Browser) -> Backups:
    found: Backups = browser.client.application.extensions["shop"].backups
    return found


def waited(browser: Browser) -> str:
    for _ in range(300):
        if not keeper(browser).work.running:
            break
        time.sleep(0.02)
    return browser.get("/backups")


def test_the_page_says_when_the_last_good_one_was(browser: Browser) -> None:
    assert "There is no good one yet" in browser.get("/backups")
    assert "Backups</a>" in browser.get("/")
    browser.post("/backups", 302)
    page = waited(browser)
    assert "The last good one was 0 minutes ago" in page
    assert "2 builds, 0 readings" in page
    assert ">good<" in page
    keeper(browser).clock = lambda: datetime.now(UTC) - timedelta(days=4)
    browser.post("/backups", 302)
    assert waited(browser).count(">good<") == 2


def test_one_that_is_four_days_old_is_late(browser: Browser) -> None:
    keeper(browser).clock = lambda: datetime.now(UTC) - timedelta(days=4)
    browser.post("/backups", 302)
    page = waited(browser)
    assert "The last good one was 4 days ago" in page
    assert 'class="mark tight' in page


def test_a_try_that_fails_is_told(browser: Browser) -> None:
    keeper(browser).data = keeper(browser).data / "gone"
    browser.post("/backups", 302)
    assert "The last backup failed: There is no workshop" in waited(browser)


def test_the_whole_workshop_is_taken_along_in_both_forms(browser: Browser) -> None:
    for form, inside in (("whole", "workshop.sqlite"), ("open", "tables/build.json")):
        told = browser.client.post(
            f"/backups/{form}", headers={"X-CSRFToken": browser.token, "Referer": "http://localhost/"}
        )
        assert told.status_code == 200
        assert told.headers["Content-Disposition"].startswith("attachment; filename=arc-stack-")
        with zipfile.ZipFile(io.BytesIO(told.get_data())) as whole:
            assert inside in whole.namelist()
        told.close()
    assert browser.client.post("/backups/other", headers={"X-CSRFToken": browser.token}).status_code in (400, 404, 405)


def test_a_backup_that_failed_stands_on_the_first_page_until_it_is_mended(browser: Browser) -> None:
    work = keeper(browser).work
    work.wrong = "The disk is full."
    page = browser.get("/")
    assert "The last backup failed: The disk is full." in page
    assert "See to the backups" in page
    work.wrong = ""
    assert "See to the backups" not in browser.get("/")


def test_a_full_disk_in_any_act_is_told_in_words(browser: Browser, monkeypatch: pytest.MonkeyPatch) -> None:
    def full(*_: object, **__: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("arcstack.application.pictures.tempfile.TemporaryDirectory", full)
    data = {"picture": (io.BytesIO(picture()), "a.jpg"), "csrf_token": browser.token}
    browser.sit()
    told = browser.client.post("/builds/1/intake/pictures", data=data, headers={"Referer": "http://localhost/"})
    assert told.status_code == 503
    assert "is full. Nothing was stored. Make room" in told.get_data(as_text=True)


def test_one_file_to_take_along_is_sealed_and_comes_back_by_its_passphrase_alone(
    browser: Browser, tmp_path: Path
) -> None:
    words = "four old seats ring"
    for again, told in (("four old seats rang", "The two passphrases differ"), ("", "The two passphrases differ")):
        assert told in browser.post("/backups/whole", 422, passphrase=words, again=again)
    assert "at least 10 characters" in browser.post("/backups/whole", 422, passphrase="short", again="short")
    headers = {"X-CSRFToken": browser.token, "Referer": "http://localhost/"}
    told = browser.client.post("/backups/whole", data={"passphrase": words, "again": words}, headers=headers)
    name = told.headers["Content-Disposition"].partition("filename=")[2]
    assert name.endswith(".sealed.zip")
    file = tmp_path / name
    file.write_bytes(told.data)
    assert browser.build().name.encode() not in told.data
    assert is_sealed(file)
    home, aside = tmp_path / "home", tmp_path / "aside"
    aside.mkdir()
    with pytest.raises(StoreError, match="is not opened by that passphrase"):
        unsealed(file, "four old seats rang", aside)
    restore(unsealed(file, words, aside), home, lambda: datetime(2026, 3, 1, tzinfo=UTC))
    restored = Database.open(home / FILE)
    assert Workshop(restored).open(browser.failing).build == browser.build()
    restored.engine.dispose()
    # by command, which asks
    again = CliRunner().invoke(main, ["restore", str(file), "--data", str(tmp_path / "other"), "--stdin"], input=words)
    assert "Restored into" in again.output


@pytest.mark.parametrize(
    ("rows", "words"),
    [
        ({"key.age": b"x"}, "holds no sealed workshop"),
        ({"a.age": b"x", "b.age": b"x", "key.age": b"x"}, "holds no sealed workshop"),
        ({"../a.age": b"x", "key.age": b"x"}, "holds no sealed workshop"),
        ({"a.age": b"0" * 1_000_000, "key.age": b"x"}, "larger than it is"),
        ({"a.age": b"x", "key.age": b"x"}, "is not opened"),
        (None, "cut off or damaged"),
    ],
)
def test_what_is_no_sealed_file_is_told_and_lays_nothing_outside(
    tmp_path: Path, rows: dict[str, bytes] | None, words: str
) -> None:
    file, aside = tmp_path / "in" / "x.sealed.zip", tmp_path / "in" / "aside"
    aside.mkdir(parents=True)
    if rows is None:
        file.write_bytes(b"PK\x03\x04 no zip")
    else:
        with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as made:
            for name, data in rows.items():
                made.writestr(name, data)
    with pytest.raises(StoreError, match=words):
        unsealed(file, "four old seats ring", aside)
    assert [p.name for p in tmp_path.iterdir()] == ["in"]
