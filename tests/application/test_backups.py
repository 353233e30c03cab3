"""Backups: consistent while others write, looked through, kept by a rule, and brought back from whatever state."""

import atexit
import gzip
import json
import os
import shutil
import sqlite3
import subprocess
import sys
import tempfile
import zipfile
from contextlib import closing
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from functools import cache
from pathlib import Path
from threading import Event, Thread

import pytest

from arcstack.application import PartShelf, Who, Workshop
from arcstack.application.backups import (
    FILE,
    MANIFEST,
    SEALED,
    Backup,
    Backups,
    keeps,
    looked_through,
    restore,
    unsealed,
)
from arcstack.application.backups.keeping import alone
from arcstack.application.backups.one_head import restore_head
from arcstack.application.bench import Bench
from arcstack.application.open_files import MANIFEST as OPEN_MANIFEST
from arcstack.application.open_files import bring_in, export
from arcstack.application.people import People
from arcstack.application.pictures import Pictures
from arcstack.demo import demo_builds
from arcstack.demo.recorded import returned_record
from arcstack.demo.returned import returned_head
from arcstack.document import Sitting
from arcstack.errors import DocumentError, NotFound, StoreError
from arcstack.formats import read_build
from arcstack.readings.brought import brought, document_by_file, event_by_file, reading_by_file
from arcstack.readings.pictured import Pictured
from arcstack.readings.recorded import Booked, Sort
from arcstack.shelf import PartKind
from arcstack.store import Database, Shelf
from arcstack.store.numbers import given
from tests.application.pictured import picture

WHO = Who("ann", lambda: datetime(2026, 3, 1, 8, 30))
BY = Sitting(hand="ann", at=datetime(2026, 3, 1, 8, 30, tzinfo=UTC))


class Clock:
    """A clock that is set by hand."""

    def __init__(self) -> None:
        self.now = datetime(2026, 3, 1, 9, 0, tzinfo=UTC)

    def __call__(self) -> datetime:
        return self.now

    def later(self, **by: float) -> None:
        self.now += timedelta(**by)


BY = Sitting(hand="ann", at=datetime(2026, 3, 1, 8, 30, tzinfo=UTC))


@pytest.fixture
def clock() -> Clock:
    return Clock()


def filled(folder: Path) -> Database:
    """A workshop with two builds, a returned head with its record, a part, a person and two photographs."""
    shutil.copytree(filled_once(), folder, dirs_exist_ok=True)
    return Database.open(folder / FILE)


@cache
def filled_once() -> Path:
    """The same, made once and copied for each that asks for one."""
    folder = Path(tempfile.mkdtemp(prefix="arc-stack-filled-"))
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    database = Database.open(folder / FILE)
    workshop, bench = Workshop(database), Bench(database)
    for build in demo_builds():
        workshop.create(build, WHO)
    build, readings, events = returned_head()
    number = workshop.create(build, WHO)
    record = returned_record(max(e.number for e in events) + 1)
    with database.session(writes=True) as session:
        bench.laid_in(session, number, readings, [*events, *record])
    store = Pictures(folder / "pictures")
    for n, size in enumerate(((640, 480), (480, 640))):
        seen = store.keep(picture(size=size))
        bench.happened(
            number,
            Pictured(
                0, seen.sha256, seen.kind, seen.width, seen.height, seen.size, f"{n}.jpg", "", "", "", 0, "clean", BY
            ),
        )
    PartShelf(database).add(PartKind.RETAINER, "Heron 9", WHO)
    People(database).put("Ilse", None, "four old seats ring", WHO)
    database.engine.dispose()
    return folder


def told(folder: Path) -> dict[str, list[tuple[object, ...]]]:
    """Everything that a workshop's file holds."""
    with closing(sqlite3.connect(folder / FILE)) as file:
        names = [n for (n,) in file.execute("SELECT name FROM sqlite_master WHERE type='table' ORDER BY name")]
        return {n: file.execute(f"SELECT * FROM {n} ORDER BY 1").fetchall() for n in names}


def files(folder: Path) -> dict[str, bytes]:
    return {str(p.relative_to(folder)): p.read_bytes() for p in sorted(folder.rglob("*")) if p.is_file()}


# -- taking one


def test_a_backup_holds_everything_and_is_looked_through(tmp_path: Path, clock: Clock) -> None:
    filled(tmp_path / "shop")
    keeper = Backups(tmp_path / "shop", clock)
    assert keeper.due()
    assert keeper.last_good() is None
    made = keeper.take()
    assert made.good
    assert made.counts["build"] == 3
    assert made.pictures == 4
    assert told(made.path) == told(tmp_path / "shop")
    assert files(keeper.place / "pictures") == files(tmp_path / "shop" / "pictures")
    assert keeper.last_good() == made
    assert not keeper.due()
    clock.later(hours=23.9)
    assert not keeper.due()
    clock.later(hours=0.2)
    assert keeper.due()
    assert oct((made.path / FILE).stat().st_mode)[-3:] == "600"


def test_a_backup_is_consistent_while_others_write(tmp_path: Path, clock: Clock) -> None:
    database = filled(tmp_path / "shop")
    bench, stop = Bench(database), Event()
    written = [0]

    def writes() -> None:
        # two rows in each unit of work: a copy holds both or neither
        while not stop.is_set():
            with database.session(writes=True) as session:
                for half in ("a", "b"):
                    bench.add_within(session, 1, [Booked(0, Sort.PARTS, "", f"{written[0]} {half}", 0.0, 0.0, 1.0, BY)])
            written[0] += 1

    hand = Thread(target=writes)
    hand.start()
    keeper = Backups(tmp_path / "shop", clock)
    try:
        made = []
        for _ in range(5):
            clock.later(minutes=1)
            made.append(keeper.take())
    finally:
        stop.set()
        hand.join()
    assert written[0] > 5
    for b in made:
        assert b.good
        with closing(sqlite3.connect(b.path / FILE)) as file:
            rows = [
                json.loads(x)["what"].split()[0]
                for (x,) in file.execute("SELECT body FROM event WHERE kind='booked' AND build_id=1")
            ]
        assert all(rows.count(n) == 2 for n in set(rows))


def test_a_photograph_is_copied_once_and_for_all(tmp_path: Path, clock: Clock) -> None:
    filled(tmp_path / "shop")
    keeper = Backups(tmp_path / "shop", clock)
    keeper.take()
    pool = keeper.place / "pictures"
    before = {p: p.stat().st_mtime_ns for p in pool.rglob("*") if p.is_file()}
    clock.later(days=1)
    keeper.take()
    assert {p: p.stat().st_mtime_ns for p in pool.rglob("*") if p.is_file()} == before


def test_a_kill_in_the_middle_leaves_no_half_a_backup(
    tmp_path: Path, clock: Clock, monkeypatch: pytest.MonkeyPatch
) -> None:
    filled(tmp_path / "shop")
    keeper = Backups(tmp_path / "shop", clock)
    good = keeper.take()
    clock.later(minutes=1)

    def killed(*_: object) -> list[str]:
        raise KeyboardInterrupt

    with monkeypatch.context() as patch:
        patch.setattr(keeper, "_pool", killed)
        with pytest.raises(KeyboardInterrupt):
            keeper.take()
    assert keeper.all() == [good]
    # one that a power cut left behind is cleared away by the next
    left = keeper.place / ".half-2026-03-01T00-00-00Z"
    left.mkdir()
    (left / FILE).write_bytes(b"half")
    assert keeper.all() == [good]
    keeper.take()
    assert not left.exists()


def test_a_full_disk_is_told_and_what_was_there_stays(
    tmp_path: Path, clock: Clock, monkeypatch: pytest.MonkeyPatch
) -> None:
    filled(tmp_path / "shop")
    keeper = Backups(tmp_path / "shop", clock)
    good = keeper.take()
    clock.later(minutes=1)

    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("arcstack.application.backups.keeping.put_bytes", full)
    with pytest.raises(StoreError):
        keeper.take()
    keeper.start("each day")
    for _ in range(200):
        if not keeper.work.running:
            break
        Event().wait(0.02)
    assert keeper.work.wrong
    assert keeper.all() == [good]


def test_one_is_taken_by_itself_when_it_is_due(tmp_path: Path, clock: Clock) -> None:
    filled(tmp_path / "shop")
    keeper = Backups(tmp_path / "shop", clock)
    keeper.each_day(look_s=0.01)
    try:
        for _ in range(500):
            if keeper.last_good() is not None:
                break
            Event().wait(0.02)
    finally:
        keeper.stop()
    last = keeper.last_good()
    assert last is not None
    assert last.why == "each day"


def test_nothing_is_taken_of_no_workshop(tmp_path: Path, clock: Clock) -> None:
    keeper = Backups(tmp_path / "empty", clock)
    assert not keeper.due()
    with pytest.raises(StoreError, match="There is no workshop"):
        keeper.take()


# -- keeping


def made(at: datetime) -> Backup:
    return Backup(Path(at.isoformat()), at, "", "", {}, 0, 0)


def test_the_rule_keeps_two_days_whole_then_days_weeks_and_months(clock: Clock) -> None:
    now = datetime(2026, 6, 30, 12, 0, tzinfo=UTC)
    each = [made(now - timedelta(hours=6 * n)) for n in range(4 * 365)]
    kept = sorted((b.at for b in keeps(each, now)), reverse=True)
    assert [now - at for at in kept[:9]] == [timedelta(hours=6 * n) for n in range(9)]
    days = {at.date() for at in kept}
    assert all((now - timedelta(days=n)).date() in days for n in range(14))
    assert len([at for at in kept if now - at > timedelta(days=75)]) <= 12
    assert min(kept) < now - timedelta(days=330)
    assert len(kept) < 45
    assert keeps([], now) == set()
    old = made(now - timedelta(days=3000))
    assert keeps([old], now) == {old}


def test_what_is_let_go_takes_its_photographs_along_and_bad_ones_never_push_out_good_ones(
    tmp_path: Path, clock: Clock
) -> None:
    database = filled(tmp_path / "shop")
    keeper = Backups(tmp_path / "shop", clock)
    first = keeper.take()
    with database.session(writes=True) as session:
        from sqlalchemy import text

        session.execute(text("DELETE FROM event WHERE kind = 'pictured'"))
    clock.later(days=1000)
    second = keeper.take()
    assert keeper.all() == [second, first]
    for n in range(30):
        clock.later(days=40)
        last = keeper.take()
        assert last in keeper.all(), n
    assert first not in keeper.all()
    assert files(keeper.place / "pictures") == {}


# -- looking through


@pytest.mark.parametrize(
    ("harm", "words"),
    [
        ("cut", "not the one that was written"), ("bit", "not the one that was written"), ("gone", "cannot be opened"),
        ("manifest", "cannot be opened"), ("counts", "should hold"), ("newer", "no backup of Arc Stack"),
        ("version", "newer version"), ("escape", "by no name that one has"),
    ],
)  # fmt: skip
def test_a_copy_that_is_not_whole_is_not_good(tmp_path: Path, clock: Clock, harm: str, words: str) -> None:
    filled(tmp_path / "shop")
    keeper = Backups(tmp_path / "shop", clock)
    copy = keeper.take().path
    assert looked_through(copy) == ""
    file, manifest = copy / FILE, copy / MANIFEST
    said = json.loads(manifest.read_text())
    if harm == "cut":
        file.write_bytes(file.read_bytes()[:-4096])
    elif harm == "bit":
        data = bytearray(file.read_bytes())
        data[len(data) // 2] ^= 1
        file.write_bytes(data)
    elif harm == "gone":
        file.unlink()
    elif harm == "manifest":
        manifest.write_text("{")
    elif harm == "counts":
        said["counts"]["reading"] += 1
    elif harm == "newer":
        said["arc_stack_backup"] = 2
    elif harm == "escape":
        said["pictures"] = ["../../etc/passwd"]
    elif harm == "version":
        with closing(sqlite3.connect(file)) as db:
            db.execute("UPDATE alembic_version SET version_num = '9999'")
            db.commit()
        from arcstack.application.backups.copies import hash_of

        said["sha256"] = hash_of(file)
    if harm in ("counts", "newer", "version", "escape"):
        manifest.write_text(json.dumps(said))
    assert words in looked_through(copy)
    with pytest.raises(StoreError, match="is not good"):
        restore(copy, tmp_path / "other", clock)
    assert not (tmp_path / "other" / FILE).exists()


def pool_of(keeper: Backups) -> list[Path]:
    """Photographs that backups share, without their small copies."""
    return sorted(p for p in (keeper.place / "pictures").rglob("*.*") if ".small." not in p.name)


def turn(path: Path) -> None:
    """One byte of a file turned."""
    data = bytearray(path.read_bytes())
    data[len(data) // 2] ^= 1
    path.write_bytes(data)


def test_what_is_whole_comes_back_and_the_rest_is_named(tmp_path: Path, clock: Clock) -> None:
    filled(tmp_path / "shop").engine.dispose()
    keeper = Backups(tmp_path / "shop", clock)
    copy = keeper.take().path
    bad, good = pool_of(keeper)
    turn(bad)
    back = restore(copy, tmp_path / "other", clock)
    assert [Path(n).name for n in back.lost] == [bad.name]
    assert Workshop(Database.open(tmp_path / "other" / FILE)).count(Shelf.OPEN) == 3
    assert (tmp_path / "other" / "pictures" / good.parent.name / good.name).is_file()
    assert not (tmp_path / "other" / "pictures" / bad.parent.name / bad.name).exists()
    # one that stands whole in the workshop already is not lost
    assert restore(copy, tmp_path / "shop", clock).lost == ()


def test_a_byte_that_turns_in_the_pool_is_mended_within_a_week(tmp_path: Path, clock: Clock) -> None:
    filled(tmp_path / "shop")
    keeper = Backups(tmp_path / "shop", clock)
    keeper.take()
    for path in (keeper.place / "pictures").rglob("*.*"):
        turn(path)
    for _ in range(7):
        clock.later(days=1)
        made = keeper.take()
    assert made.good
    assert made.lost == ()
    assert restore(made.path, tmp_path / "other", clock).lost == ()


def test_a_photograph_that_is_gone_from_the_workshop_is_said_and_the_rest_is_good(tmp_path: Path, clock: Clock) -> None:
    filled(tmp_path / "shop")
    gone, turned = sorted(p for p in (tmp_path / "shop" / "pictures").rglob("*.*") if ".small." not in p.name)
    gone.unlink()
    turn(turned)
    keeper = Backups(tmp_path / "shop", clock)
    made = keeper.take()
    assert made.good
    assert sorted(Path(n).name for n in made.lost) == sorted([gone.name, turned.name])
    assert "2 photographs are missing or damaged" in keeper.trouble()
    # a copy that was whole once stays so
    assert len(restore(made.path, tmp_path / "other", clock).lost) == 2


def test_one_is_good_only_after_it_was_restored_for_trial(
    tmp_path: Path, clock: Clock, monkeypatch: pytest.MonkeyPatch
) -> None:
    database = filled(tmp_path / "shop")
    keeper = Backups(tmp_path / "shop", clock)
    with database.session(writes=True) as session:
        from sqlalchemy import text

        # the file holds together, and a head of it cannot be read
        session.execute(text("UPDATE revision SET document = x'78' WHERE build_id = 2"))
    made = keeper.take()
    assert not made.good
    assert "restored for trial" in made.wrong
    assert "The last backup is not good" in keeper.trouble()
    assert not list(keeper.place.glob(".half-*"))


# -- clocks, processes, disks


def test_a_clock_that_was_ahead_once_ends_no_later_backup(tmp_path: Path, clock: Clock) -> None:
    filled(tmp_path / "shop")
    ticks = [0.0]
    keeper = Backups(tmp_path / "shop", clock, ticks=lambda: ticks[0])
    clock.later(days=3650)
    far = keeper.take()
    assert not keeper.due()
    clock.later(days=-3650)
    # it was taken just now, by the time that has run
    assert not keeper.due()
    ticks[0] += 25 * 3600
    assert keeper.due()
    near = keeper.take()
    assert near.at < far.at
    assert keeper.last_good() == near
    assert keeper.all() == [near, far]
    assert not keeper.due()
    # started anew, it sees to it by the clock, and takes one where the clock says nothing
    again = Backups(tmp_path / "shop", clock)
    assert not again.due()
    clock.later(hours=25)
    assert again.due()
    clock.later(days=-30)
    assert Backups(tmp_path / "shop", clock).due()


def test_a_clock_that_stands_still_ends_none_either(tmp_path: Path, clock: Clock) -> None:
    filled(tmp_path / "shop")
    ticks = [0.0]
    keeper = Backups(tmp_path / "shop", clock, ticks=lambda: ticks[0])
    keeper.take()
    ticks[0] += 23 * 3600
    assert not keeper.due()
    ticks[0] += 2 * 3600
    assert keeper.due()


def test_two_programs_do_not_take_one_at_a_time_and_neither_clears_the_others_half(
    tmp_path: Path, clock: Clock
) -> None:
    filled(tmp_path / "shop")
    keeper = Backups(tmp_path / "shop", clock)
    keeper.take()
    half = keeper.place / ".half-of-the-other"
    half.mkdir()
    with alone(keeper.place / ".lock"), pytest.raises(StoreError, match="Another program is taking a backup"):
        Backups(tmp_path / "shop", clock).take()
    assert half.exists()
    keeper.take()
    assert not half.exists()


def test_whatever_goes_wrong_is_told_and_not_lost_with_its_thread(
    tmp_path: Path, clock: Clock, monkeypatch: pytest.MonkeyPatch
) -> None:
    filled(tmp_path / "shop")
    keeper = Backups(tmp_path / "shop", clock)
    for error, words in (
        (sqlite3.OperationalError("disk I/O error"), "does not take what is written"),
        (sqlite3.OperationalError("database or disk is full"), "is full"),
        (OSError(30, "Read-only file system"), "may not write"),
        (RuntimeError("of another kind"), "of another kind"),
    ):

        def broken(*_: object, error: Exception = error) -> None:
            raise error

        monkeypatch.setattr("arcstack.application.backups.keeping.copied", broken)
        keeper.start("each day")
        for _ in range(300):
            if not keeper.work.running:
                break
            Event().wait(0.02)
        assert words in keeper.work.wrong
        assert "The last backup failed" in keeper.trouble()
    monkeypatch.undo()
    keeper.start("by hand")
    for _ in range(500):
        if not keeper.work.running:
            break
        Event().wait(0.02)
    assert keeper.trouble() == ""
    clock.later(days=3)
    assert "3 days old" in keeper.trouble()


def test_a_refused_restore_leaves_nothing_behind(tmp_path: Path, clock: Clock, monkeypatch: pytest.MonkeyPatch) -> None:
    database = filled(tmp_path / "shop")
    copy = Backups(tmp_path / "shop", clock).take().path
    other = filled(tmp_path / "other")
    before = set(files(tmp_path / "other")) | {f"{FILE}-shm", f"{FILE}-wal"}
    with other.engine.connect() as held:
        held.exec_driver_sql("SELECT 1 FROM build").all()
        with pytest.raises(StoreError, match="is being served"):
            restore(copy, tmp_path / "other", clock)
    assert set(files(tmp_path / "other")) <= before
    shutil.rmtree(tmp_path / "third", ignore_errors=True)
    monkeypatch.setattr(
        "arcstack.application.backups.restoring._set_aside", lambda *_: (_ for _ in ()).throw(OSError(28, "full"))
    )
    with pytest.raises(StoreError, match="is full"):
        restore(copy, tmp_path / "third", clock)
    assert files(tmp_path / "third") == {}
    database.engine.dispose()


def test_what_is_whole_of_a_damaged_database_comes_back_and_the_rest_is_named(tmp_path: Path, clock: Clock) -> None:
    filled(tmp_path / "shop").engine.dispose()
    shop = tmp_path / "shop" / FILE
    with closing(sqlite3.connect(shop)) as file:
        size = file.execute("PRAGMA page_size").fetchone()[0]
        try:
            page = file.execute(
                "SELECT pageno FROM dbstat WHERE name = 'reading' AND pagetype = 'leaf' ORDER BY pageno LIMIT 1 OFFSET 2"
            ).fetchone()[0]
        except sqlite3.OperationalError:
            # without that table of SQLite's own: a page that holds a reading's words
            data = shop.read_bytes()
            page = data.index(b"open_height", len(data) // 3) // size + 1
        readings = file.execute("SELECT count(*) FROM reading").fetchone()[0]
        file.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    data = bytearray(shop.read_bytes())
    data[(page - 1) * size : page * size] = b"\xff" * size
    shop.write_bytes(data)
    keeper = Backups(tmp_path / "shop", clock)
    made = keeper.take()
    # it is taken, and said not to be good; what to do is known
    assert "damaged" in made.wrong
    assert "The last backup is not good" in keeper.trouble()
    with pytest.raises(StoreError, match="is not good"):
        restore(made.path, tmp_path / "home", clock)
    back = restore(made.path, tmp_path / "home", clock, whole_rows=True)
    assert back.unread
    home = Database.open(tmp_path / "home" / FILE)
    assert Workshop(home).open(1).build == demo_builds()[0]
    with closing(sqlite3.connect(tmp_path / "home" / FILE)) as file:
        assert file.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
        kept = file.execute("SELECT count(*) FROM reading").fetchone()[0]
    assert 0 < kept < readings


def test_a_restore_gives_no_number_again_that_an_open_window_may_show(tmp_path: Path, clock: Clock) -> None:
    database = filled(tmp_path / "shop")
    copy = Backups(tmp_path / "shop", clock).take().path
    later = Workshop(database).create(demo_builds()[0].model_copy(update={"name": "Later"}), WHO)
    said = Bench(database).marks(3)[1]
    Bench(database).happened(later, Booked(0, Sort.PARTS, "2026-03-01", "shims", 0.0, 0.0, 9.0, BY))
    database.engine.dispose()
    restore(copy, tmp_path / "shop", clock)
    again = Database.open(tmp_path / "shop" / FILE)
    made = Workshop(again).create(demo_builds()[0].model_copy(update={"name": "Other"}), WHO)
    assert made == later + 1
    Bench(again).happened(made, Booked(0, Sort.PARTS, "2026-03-01", "shims", 0.0, 0.0, 9.0, BY))
    assert Bench(again).marks(made)[1] > said + 1


def test_a_zip_is_no_larger_than_it_says(tmp_path: Path, clock: Clock) -> None:
    filled(tmp_path / "shop")
    target, bomb = tmp_path / "along.zip", tmp_path / "bomb.zip"
    Backups(tmp_path / "shop", clock).portable(target)
    with zipfile.ZipFile(target) as whole_, zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as made_:
        for each in whole_.namelist():
            data = whole_.read(each)
            made_.writestr(each, data + b"\0" * 200_000_000 if each == FILE else data)
    with pytest.raises(StoreError, match="larger than it says"):
        restore(bomb, tmp_path / "home", clock)
    assert not (tmp_path / "home").exists() or files(tmp_path / "home") == {}


# -- a second folder, and one head


def test_each_backup_lies_in_the_second_folder_too_and_opens_with_its_passphrase(tmp_path: Path, clock: Clock) -> None:
    filled(tmp_path / "shop")
    keeper, share = Backups(tmp_path / "shop", clock), tmp_path / "share"
    keeper.second.name(share, "nine words of a passphrase")
    made = keeper.take()
    assert keeper.trouble() == ""
    (sealed,) = keeper.second.files()
    assert sealed.suffix == SEALED
    kept = (
        sealed.read_bytes() + (share / "key.age").read_bytes() + (tmp_path / "shop" / "second-folder.json").read_bytes()
    )
    for secret in (b"SQLite format 3", b"Tamarack", b"nine words", b"AGE-SECRET-KEY"):
        assert secret not in kept
    with pytest.raises(StoreError, match="not opened by that passphrase"):
        unsealed(sealed, "another passphrase", tmp_path)
    plain = unsealed(sealed, "nine words of a passphrase", tmp_path)
    assert restore(plain, tmp_path / "home", clock).counts == made.counts
    turn(sealed)
    with pytest.raises(StoreError, match="or it is damaged"):
        unsealed(sealed, "nine words of a passphrase", tmp_path)
    # a share that is gone is told, and the backup itself is good
    shutil.rmtree(share)
    share.write_text("no folder any more")
    clock.later(days=1)
    assert keeper.take().good
    assert "second folder" in keeper.trouble()
    keeper.second.forget()
    keeper.take()
    assert keeper.trouble() == ""


def test_the_second_folder_keeps_so_many(tmp_path: Path, clock: Clock, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("arcstack.application.backups.second.KEEPS", 3)
    filled(tmp_path / "shop")
    keeper = Backups(tmp_path / "shop", clock)
    keeper.second.name(tmp_path / "share", "")
    for _ in range(5):
        clock.later(days=1)
        keeper.take()
    found = keeper.second.files()
    assert len(found) == 3
    assert restore(found[0], tmp_path / "home", clock).lost == ()


@pytest.mark.parametrize("name", ["3", "returned"])
def test_one_head_comes_back_beside_what_stands(tmp_path: Path, clock: Clock, name: str) -> None:
    database = filled(tmp_path / "shop")
    keeper = Backups(tmp_path / "shop", clock)
    copy = keeper.take().path
    workshop = Workshop(database)
    was, sheet = workshop.open(3).build, Bench(database).sheet(3, workshop.open(3).build)
    workshop.shelve(3, Shelf.DELETED, WHO)
    workshop.remove(3)
    database.engine.dispose()
    shutil.rmtree(tmp_path / "shop" / "pictures")
    back = restore_head(copy, tmp_path / "shop", name if name == "3" else was.name, WHO)
    # never under the number that another head had
    assert back.id == 4
    assert (back.readings, back.pictures) == (len(sheet.readings), 2)
    now = Bench(database).sheet(4, workshop.open(4).build)
    assert workshop.open(4).build == document_by_file(was)
    assert [r.value for r in now.readings] == [r.value for r in sheet.readings]
    assert all(r.by.hand.endswith("(by file)") for r in now.readings)
    assert workshop.count(Shelf.OPEN) == 3
    with pytest.raises(NotFound, match="no such head"):
        restore_head(copy, tmp_path / "shop", "Nobody", WHO)


# -- bringing back


@pytest.mark.parametrize("portable", [False, True])
def test_a_backup_comes_back_whole_on_another_machine(tmp_path: Path, clock: Clock, portable: bool) -> None:
    filled(tmp_path / "shop")
    keeper = Backups(tmp_path / "shop", clock)
    source = tmp_path / "along.zip"
    if portable:
        assert keeper.portable(source).good
    else:
        source = keeper.take().path
    back = restore(source, tmp_path / "home" / "arc-stack", clock)
    assert back.counts["build"] == 3
    assert (back.old, back.lost) == (None, ())
    assert told(tmp_path / "home" / "arc-stack") == told(tmp_path / "shop")
    assert files(tmp_path / "home" / "arc-stack" / "pictures") == files(tmp_path / "shop" / "pictures")
    again = Workshop(Database.open(tmp_path / "home" / "arc-stack" / FILE))
    assert [r.name for r in again.builds().rows] == [
        r.name for r in Workshop(Database(tmp_path / "shop" / FILE)).builds().rows
    ]


def test_a_workshop_that_is_served_is_not_restored_over(tmp_path: Path, clock: Clock) -> None:
    database = filled(tmp_path / "shop")
    copy = Backups(tmp_path / "shop", clock).take().path
    before = told(tmp_path / "shop")
    with database.engine.connect(), pytest.raises(StoreError, match=r"is being served\. Stop it first"):
        restore(copy, tmp_path / "shop", clock)
    assert told(tmp_path / "shop") == before
    database.engine.dispose()
    old = restore(copy, tmp_path / "shop", clock).old
    assert old is not None
    assert old.is_file()


@pytest.mark.parametrize("state", ["damaged", "emptied", "half written", "gone", "log left behind"])
def test_a_backup_is_brought_back_from_whatever_state(tmp_path: Path, clock: Clock, state: str) -> None:
    shop = tmp_path / "shop"
    database = filled(shop)
    keeper = Backups(shop, clock)
    copy = keeper.take().path
    wanted = told(copy)
    database.engine.dispose()
    file = shop / FILE
    if state == "damaged":
        data = bytearray(file.read_bytes())
        data[100:5000] = os.urandom(4900)
        file.write_bytes(data)
    elif state == "emptied":
        file.write_bytes(b"")
    elif state == "half written":
        script = (
            "import sqlite3,os\n"
            f"db=sqlite3.connect({str(file)!r}); db.execute('PRAGMA journal_mode=WAL')\n"
            "db.execute('BEGIN IMMEDIATE'); db.execute(\"UPDATE build SET name='half'\")\n"
            "os.kill(os.getpid(), 9)\n"
        )
        subprocess.run([sys.executable, "-c", script], check=False)
    elif state == "gone":
        for part in shop.glob(f"{FILE}*"):
            part.unlink()
    else:
        file.with_name(f"{FILE}-wal").write_bytes(os.urandom(8192))
    old = restore(copy, shop, clock).old
    # how far numbers were given goes on from what stood there
    assert told(shop) | {"numbers": []} == wanted
    assert (old is None) is (state == "gone")
    assert not file.with_name(f"{FILE}-wal").exists() or file.with_name(f"{FILE}-wal").stat().st_size == 0
    assert Workshop(Database.open(file)).open(1).build == demo_builds()[0]


def test_numbers_go_on_after_a_restore_onto_a_workshop_of_an_earlier_version(tmp_path: Path, clock: Clock) -> None:
    shop, earlier = tmp_path / "shop", Path(__file__).parents[1] / "store/earlier/workshop-0008.sqlite.gz"
    filled(shop).engine.dispose()
    copy = Backups(shop, clock).take().path
    (shop / FILE).write_bytes(gzip.decompress(earlier.read_bytes()))
    with closing(sqlite3.connect(shop / FILE)) as db:
        last = {"build": 70, "said": 7_000}
        db.execute("UPDATE reading SET id = 7000 WHERE id = (SELECT max(id) FROM reading)")
        db.execute(
            "INSERT INTO build (id, name, newest, changed) VALUES (?, 'Last', 1, '2026-01-01')", (last["build"],)
        )
        db.commit()
    restore(copy, shop, clock)
    database = Database.open(shop / FILE)
    with database.session() as session:
        assert given(session) == last
    assert Workshop(database).create(demo_builds()[0], WHO) == last["build"] + 1
    database.engine.dispose()


def test_a_restore_that_is_killed_leaves_the_workshop_that_was_there(
    tmp_path: Path, clock: Clock, monkeypatch: pytest.MonkeyPatch
) -> None:
    shop = tmp_path / "shop"
    database = filled(shop)
    copy = Backups(shop, clock).take().path
    Workshop(database).create(demo_builds()[0].model_copy(update={"name": "Later"}), WHO)
    database.engine.dispose()
    before = told(shop)

    def killed(*_: object) -> None:
        raise KeyboardInterrupt

    for step in ("_set_aside", "put_file"):
        with monkeypatch.context() as patch:
            patch.setattr(f"arcstack.application.backups.restoring.{step}", killed)
            with pytest.raises(KeyboardInterrupt):
                restore(copy, shop, clock)
        assert told(shop) == before, step


def test_a_backup_of_an_earlier_version_is_brought_up_to_date(tmp_path: Path, clock: Clock) -> None:
    filled(tmp_path / "shop")
    copy = Backups(tmp_path / "shop", clock).take().path
    with closing(sqlite3.connect(copy / FILE)) as db:
        for table in ("signed_in", "person", "guess", "trail", "link_address", "numbers", "seal"):
            db.execute(f"DROP TABLE {table}")
        db.execute("UPDATE alembic_version SET version_num = '0007'")
        db.commit()
    from arcstack.application.backups.copies import hash_of

    said = json.loads((copy / MANIFEST).read_text()) | {"sha256": hash_of(copy / FILE)}
    (copy / MANIFEST).write_text(json.dumps(said))
    restore(copy, tmp_path / "home", clock)
    assert not People(Database(tmp_path / "home" / FILE)).any()


@pytest.mark.parametrize(
    "name", ["../workshop.sqlite", "/etc/passwd", "pictures/../x/y", "pictures/ab/.hidden", "evil.py"]
)
def test_a_portable_file_leads_nowhere_else(tmp_path: Path, clock: Clock, name: str) -> None:
    bad = tmp_path / "bad.zip"
    with zipfile.ZipFile(bad, "w") as made_:
        made_.writestr(name, "x")
    with pytest.raises(StoreError, match="no part of a backup"):
        restore(bad, tmp_path / "home", clock)
    for data in (b"", b"no zip", b"PK\x03\x04" + b"\x00" * 50):
        bad.write_bytes(data)
        with pytest.raises(StoreError, match="no backup, or it is cut off"):
            restore(bad, tmp_path / "home", clock)
    assert not (tmp_path / "home" / FILE).exists()


# -- open files


def test_the_whole_workshop_leaves_as_open_files_and_comes_back(tmp_path: Path, clock: Clock) -> None:
    database = filled(tmp_path / "shop")
    target = tmp_path / "open.zip"
    counts = export(database, tmp_path / "shop" / "pictures", target, clock())
    assert counts["build"] == 3
    with zipfile.ZipFile(target) as whole:
        names = whole.namelist()
        assert "tables/person.json" not in names
        assert {"builds/1/build.json", "builds/3/build.json", "builds/3/readings.csv", "shelf.csv"} <= set(names)
        for name in names:
            if name.endswith(".json"):
                json.loads(whole.read(name))
        assert "four old seats ring" not in str([whole.read(n) for n in names])
        assert b"argon2" not in b"".join(whole.read(n) for n in names)
        rows = json.loads(whole.read("tables/revision.json"))
        assert read_build(json.dumps(rows[0]["document"])).name == demo_builds()[0].name
    home = Database.open(tmp_path / "home" / FILE)
    assert bring_in(home, tmp_path / "home" / "pictures", target, BY) == counts
    here, there = told(tmp_path / "home"), told(tmp_path / "shop")
    for table in there:
        if table not in ("person", "revision", "reading", "event"):
            assert here[table] == there[table], table
    assert files(tmp_path / "home" / "pictures") == files(tmp_path / "shop" / "pictures")
    assert Workshop(home).open(3).build == document_by_file(Workshop(database).open(3).build)
    came = Bench(home).sheet(3, Workshop(home).open(3).build)
    were = Bench(database).sheet(3, Workshop(database).open(3).build)
    assert came.readings == tuple(map(reading_by_file, were.readings))
    assert came.events[:-1] == tuple(map(event_by_file, were.events))
    assert [e.file for e in brought(came.events)] == ["open.zip"]
    with pytest.raises(StoreError, match="holds builds already"):
        bring_in(home, tmp_path / "home" / "pictures", target, BY)


@pytest.mark.parametrize(
    ("name", "make", "words"),
    [
        ("tables/build.json", lambda rows: rows[:-1], "belong to nothing"),
        ("tables/build.json", lambda rows: {"x": 1}, "no list"),
        ("tables/build.json", lambda rows: [{"id": 1}], "else than its columns"),
        ("tables/build.json", lambda rows: [rows[0] | {"id": "one"}, *rows[1:]], "is no int"),
        ("tables/build.json", lambda rows: [rows[0] | {"name": None}, *rows[1:]], "is empty"),
        ("tables/build.json", lambda rows: [rows[0] | {"changed": "soon"}, *rows[1:]], "row 1"),
        ("tables/revision.json", lambda rows: [rows[0] | {"document": {"format": "x"}}, *rows[1:]], "row 1"),
        ("tables/event.json", lambda rows: [rows[0] | {"body": {}}, *rows[1:]], "tables/event"),
        ("tables/reading.json", lambda rows: [rows[0] | {"hand": None}, *rows[1:]], "tables/reading"),
        ("tables/event.json", lambda rows: [1], "tables/event"),
        (OPEN_MANIFEST, lambda told_: told_ | {"version": 2}, "newer version"),
    ],
)  # fmt: skip
def test_open_files_that_are_not_whole_are_taken_in_not_at_all(
    tmp_path: Path, clock: Clock, name: str, make: object, words: str
) -> None:
    database = filled(tmp_path / "shop")
    target, bad = tmp_path / "open.zip", tmp_path / "bad.zip"
    export(database, tmp_path / "shop" / "pictures", target, clock())
    with zipfile.ZipFile(target) as whole, zipfile.ZipFile(bad, "w") as broken:
        for each in whole.namelist():
            data = whole.read(each)
            broken.writestr(each, json.dumps(make(json.loads(data))) if each == name else data)  # type: ignore[operator]
    home = Database.open(tmp_path / "home" / FILE)
    with pytest.raises((DocumentError, StoreError), match=words):
        bring_in(home, tmp_path / "home" / "pictures", bad, BY)
    assert Workshop(home).builds().rows == []
    missing = tmp_path / "missing.zip"
    with zipfile.ZipFile(target) as whole, zipfile.ZipFile(missing, "w") as broken:
        broken.writestr(OPEN_MANIFEST, whole.read(OPEN_MANIFEST))
    with pytest.raises(DocumentError, match="is missing"):
        bring_in(home, tmp_path / "home" / "pictures", missing, BY)


def test_a_backup_taken_twice_in_one_second_is_two(tmp_path: Path, clock: Clock) -> None:
    filled(tmp_path / "shop")
    keeper = Backups(tmp_path / "shop", clock)
    one, two = keeper.take(), keeper.take()
    assert one.path != two.path
    assert len(keeper.all()) == 2
    assert replace(one, path=two.path).at == two.at
