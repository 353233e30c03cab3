"""Acts of the record, of files and of backups that are killed at a random moment: each must leave the old state or the
new, and what comes after goes on.

A child that is killed stops a little before each file is put in place and before each commit, so that the moments
between two steps are wide enough to be met.
"""

import atexit
import os
import shutil
import signal
import sqlite3
import tempfile
import time
from collections.abc import Callable
from contextlib import closing
from datetime import UTC, datetime
from functools import cache
from pathlib import Path

from sqlalchemy import event
from sqlalchemy.engine import Engine

from arcstack.application import Who, Workshop
from arcstack.application.backups import FILE, Backups, restore
from arcstack.application.bench import Bench
from arcstack.application.pictures import Pictures
from arcstack.application.record import sign_off
from arcstack.application.seals import check
from arcstack.demo import demo_builds
from arcstack.demo.returned import returned_head
from arcstack.document import Sitting, change
from arcstack.readings.brought import Brought
from arcstack.readings.pictured import Pictured, pictures
from arcstack.readings.recorded import Released, Reopened
from arcstack.readings.taking import How
from arcstack.store import Database, Kind, Reason, Shelf
from tests.application.pictured import picture

NOW = datetime(2026, 3, 1, 8, tzinfo=UTC)
WHO = Who("ann", lambda: NOW.replace(tzinfo=None))
BY = Sitting(hand="ann", instrument="H-2", at=NOW)
SOUND, OTHER = demo_builds()
WIDENED_S = 0.01

Moment = Callable[[float], float]


def widened() -> None:
    """Make the moments between two steps of an act wide, in a child that is to be killed."""

    def slowly(work: Callable[..., object]) -> Callable[..., object]:
        def later(*args: object, **more: object) -> object:
            time.sleep(WIDENED_S)
            done = work(*args, **more)
            time.sleep(WIDENED_S)
            return done

        return later

    for name in ("replace", "unlink", "rename"):
        setattr(Path, name, slowly(getattr(Path, name)))
    event.listen(Engine, "commit", lambda _: time.sleep(WIDENED_S))


def cut_off(work: Callable[[], object], after_s: float) -> None:
    """``work`` in a child of its own, killed after so long, or ended by itself."""
    child = os.fork()
    if child == 0:
        try:
            widened()
            work()
        finally:
            os._exit(0)
    time.sleep(after_s)
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)


@cache
def takes(work: Callable[[Path], None]) -> float:
    """How long an act takes in such a child when it is left alone, s."""
    with tempfile.TemporaryDirectory() as folder:
        place = shop(Path(folder))
        began = time.monotonic()
        child = os.fork()
        if child == 0:
            widened()
            work(place)
            os._exit(0)
        os.waitpid(child, 0)
        return time.monotonic() - began


@cache
def template() -> Path:
    """A workshop of two heads, one of them read and signed and opened again, with a photograph and a backup."""
    folder = Path(tempfile.mkdtemp(prefix="arc-stack-killed-"))
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    database = Database.open(folder / FILE)
    workshop, bench = Workshop(database), Bench(database)
    for build in (SOUND, OTHER):
        workshop.create(build, WHO)
    bench.read(1, SOUND, "open_height", "1I-a", "36.81 mm", How(BY, sure=True))
    sign_off(workshop, bench, workshop.open(1), (), bench.marks(1), "ann", "1,000 km", BY)
    bench.happened(1, Reopened(0, 0, "looked at again", BY))
    photograph(folder, database, 40)
    workshop.shelve(2, Shelf.DELETED, WHO)
    Backups(folder, lambda: NOW).take()
    database.engine.dispose()
    return folder


def shop(folder: Path) -> Path:
    """The template, in a folder of its own."""
    return Path(shutil.copytree(template(), folder / "shop"))


def photograph(folder: Path, database: Database, size: int) -> None:
    seen = Pictures(folder / "pictures").keep(picture(size=(size, size)))
    made = (seen.sha256, seen.kind, seen.width, seen.height, seen.size, "a.jpg", "", "", "", 0, "clean", BY)
    Bench(database).happened(1, Pictured(0, *made))


def killed(folder: Path, work: Callable[[Path], None], moment: Moment) -> tuple[Path, Database]:
    """The workshop after an act was killed in it, opened again."""
    place = shop(folder)
    cut_off(lambda: work(place), moment(takes(work)))
    with closing(sqlite3.connect(place / FILE)) as db:
        assert db.execute("PRAGMA integrity_check").fetchone() == ("ok",)
        assert db.execute("PRAGMA foreign_key_check").fetchone() is None
    return place, Database.open(place / FILE)


# -- the acts


def _sign(place: Path) -> None:
    database = Database.open(place / FILE)
    workshop, bench = Workshop(database), Bench(database)
    for _ in range(3):
        sign_off(workshop, bench, workshop.open(1), (), bench.marks(1), "ann", "1,000 km", BY)
        bench.happened(1, Reopened(0, 0, "looked at again", BY))


def signed_off(folder: Path, moment: Moment) -> None:
    """Every signature has its seal, and the chain holds."""
    _, database = killed(folder, _sign, moment)
    found = check(database)
    released = [e for e in Bench(database).sheet(1, SOUND).events if isinstance(e, Released)]
    assert (found.broken, found.unsealed) == ((), 0), found
    assert found.seals == len(released), (found, len(released))


def _photograph(place: Path) -> None:
    database = Database.open(place / FILE)
    for size in (50, 60, 70):
        photograph(place, database, size)


def photographed(folder: Path, moment: Moment) -> None:
    """A photograph that the record tells of lies there whole."""
    place, database = killed(folder, _photograph, moment)
    store = Pictures(place / "pictures")
    told = pictures(Bench(database).sheet(1, SOUND).events)
    assert len(told) >= 1
    for one in told:
        assert store.whole(one.sha256, one.format) is not None, one
    photograph(place, database, 80)


def _bring(place: Path) -> None:
    database = Database.open(place / FILE)
    build, readings, events = returned_head()
    with database.session(writes=True) as unit:
        number = Workshop(database).add(unit, build, WHO, Reason(Kind.IMPORTED, after="a.json"))
        Bench(database).brought(unit, number, readings, events, "a.json", BY)


def brought_in(folder: Path, moment: Moment) -> None:
    """A head that came by a file is here with all that it carried, or not at all."""
    _, database = killed(folder, _bring, moment)
    _, readings, _ = returned_head()
    with closing(sqlite3.connect(database.path)) as db:
        heads = [n for (n,) in db.execute("SELECT id FROM build WHERE id > 2")]
        assert len(heads) <= 1
        for number in heads:
            count = db.execute("SELECT count(*) FROM reading WHERE build_id = ?", (number,)).fetchone()[0]
            assert count == len(readings), count
    for number in heads:
        sheet = Bench(database).sheet(number, Workshop(database).open(number).build)
        assert sum(isinstance(e, Brought) for e in sheet.events) == 1
    _bring(database.path.parent)


def _remove(place: Path) -> None:
    Workshop(Database.open(place / FILE)).remove(2)


def removed(folder: Path, moment: Moment) -> None:
    """A head that was removed is gone with all of it, and its number is not given again."""
    _, database = killed(folder, _remove, moment)
    with closing(sqlite3.connect(database.path)) as db:
        heads = {n for (n,) in db.execute("SELECT id FROM build")}
        assert heads in ({1}, {1, 2})
        assert {n for (n,) in db.execute("SELECT DISTINCT build_id FROM revision")} == heads
    assert Workshop(database).create(OTHER, WHO) == 3


def _edit(place: Path) -> None:
    workshop = Workshop(Database.open(place / FILE))
    for turn in range(1, 6):
        now = workshop.open(1)
        rpm = f"{8000 + turn} rpm"
        changed = change(now.build, "brief.limiter", rpm)
        workshop.save(1, now.revision, changed, WHO, Reason(Kind.FIELD, "brief.limiter", after=rpm))
        with (place / "said").open("a") as said:
            said.write(f"{turn}\n")


def edited(folder: Path, moment: Moment) -> None:
    """What was said to be stored is; a revision and what the list shows of it stand together."""
    place, database = killed(folder, _edit, moment)
    said = len((place / "said").read_text().split()) if (place / "said").exists() else 0
    current = Workshop(database).open(1)
    assert said <= current.revision - 1 <= said + 1, (said, current.revision)
    assert Workshop(database).row(1).newest == current.revision
    limiter = current.build.brief.limiter
    assert current.revision == 1 or (limiter is not None and round(limiter.value) == 8000 + current.revision - 1)


def _back_up(place: Path) -> None:
    photograph(place, Database.open(place / FILE), 50)
    Backups(place, lambda: NOW.replace(hour=9)).take()


def backed_up(folder: Path, moment: Moment) -> None:
    """What was good before is good; a half one is none; and the next one is taken."""
    place, database = killed(folder, _back_up, moment)
    database.engine.dispose()
    found = Backups(place, lambda: NOW.replace(hour=10))
    assert all(b.good for b in found.all()), found.all()
    assert len(found.all()) in (1, 2)
    made = found.take()
    assert made.good, made.wrong
    assert not list((place / "backups").glob(".half-*"))
    back = restore(made.path, folder / "home", lambda: NOW)
    assert (back.lost, back.unread) == ((), ())


def _restore(place: Path) -> None:
    restore(next((place / "backups").glob("2*")), place, lambda: NOW.replace(hour=9))


def restored(folder: Path, moment: Moment) -> None:
    """The workshop is the one that was there or the one that comes back, and a restore goes through again."""
    place = shop(folder)
    database = Database.open(place / FILE)
    Workshop(database).create(SOUND.model_copy(update={"name": "Later"}), WHO)
    database.engine.dispose()
    cut_off(lambda: _restore(place), moment(takes(_restore)))
    if (place / FILE).exists():
        with closing(sqlite3.connect(place / FILE)) as db:
            assert {n for (n,) in db.execute("SELECT id FROM build")} in ({1, 2}, {1, 2, 3})
    else:
        # between two renames: what stood there lies beside, whole
        aside = [p for p in place.glob("workshop*.sqlite") if p.name != FILE]
        assert aside, sorted(p.name for p in place.iterdir())
        with closing(sqlite3.connect(aside[0])) as db:
            assert db.execute("SELECT count(*) FROM build").fetchone() == (3,)
    _restore(place)
    database = Database.open(place / FILE)
    assert Workshop(database).row(1).name == SOUND.name
    database.engine.dispose()


ACTS = (signed_off, photographed, brought_in, removed, edited, backed_up, restored)
