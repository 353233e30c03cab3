"""Starts, upgrades, shared changes and every other act cut off by a kill at a random moment: the old state, or the new.

usage: python -m tests.store.killed KILLS SEED    (a child is forked for each, and killed)
"""

import json
import os
import random
import shutil
import sqlite3
import sys
import tempfile
import time
from collections.abc import Callable
from contextlib import closing
from datetime import datetime
from pathlib import Path

from alembic import command
from alembic.config import Config

from arcstack.application import CamLibrary, Who, Workshop
from arcstack.application.bench import Bench
from arcstack.application.cam_library import Carrier
from arcstack.demo import demo_builds
from arcstack.demo.workshop import make_demo
from arcstack.document import Sitting, change, set_cam
from arcstack.document.places import places
from arcstack.readings import Put
from arcstack.readings.taking import How
from arcstack.store import Database
from arcstack.store.database import MIGRATIONS, known_versions
from arcstack.web import create_app
from tests.store.killed_acts import ACTS, cut_off, widened

WHO = Who("ann", lambda: datetime(2026, 3, 1, 8))
SOUND = demo_builds()[0]


def longest(work: Callable[[], object]) -> float:
    """How long the work takes when it is left alone."""
    began = time.monotonic()
    child = os.fork()
    if child == 0:
        widened()
        work()
        os._exit(0)
    os.waitpid(child, 0)
    return time.monotonic() - began


def first_start(folder: Path, moment: Callable[[float], float]) -> None:
    alone = longest(lambda: (make_demo(folder / "alone"), create_app(folder / "alone")))
    here = folder / "started"
    cut_off(lambda: (make_demo(here), create_app(here)), moment(alone))
    held = []
    if (here / "workshop.sqlite").exists():
        with closing(sqlite3.connect(here / "workshop.sqlite")) as db:
            tables = {name for (name,) in db.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
            assert not tables or {"build", "revision", "cam", "alembic_version"} <= tables, tables
            held = list(db.execute("SELECT id FROM build")) if tables else []
    assert len(held) in (0, 3), held
    # the next start goes on from there
    make_demo(here)
    app = create_app(here)
    assert len(app.extensions["shop"].workshop.builds().rows) == 3
    with closing(sqlite3.connect(here / "workshop.sqlite")) as db:
        assert db.execute("SELECT count(*) FROM reading").fetchone()[0] > 100
    assert len((here / "secret.key").read_bytes()) == 32


def upgrade(folder: Path, moment: Callable[[float], float]) -> None:
    path = folder / "workshop.sqlite"
    old = Database(path)
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with old.engine.connect() as connection, connection.begin():
        config.attributes["connection"] = connection
        command.upgrade(config, "0003")
    with closing(sqlite3.connect(path)) as db, db:
        db.execute("INSERT INTO build VALUES (1, 'old', 1, '2026-03-01 08:00:00')")
        text = json.dumps({"format": "arc-stack-build", "version": 2, "name": "old"})
        db.execute(
            "INSERT INTO revision VALUES (1, 1, 1, '2026-03-01 08:00:00', 'ann', 'new build', ?, 'change')", (text,)
        )
    old.engine.dispose()
    shutil.copytree(folder, folder.with_name(f"{folder.name}-alone"))
    alone = longest(lambda: Database.open(folder.with_name(f"{folder.name}-alone") / "workshop.sqlite"))
    cut_off(lambda: Database.open(path), moment(alone))
    copy = folder / f"workshop.before-{known_versions()[-1]}.sqlite"
    if copy.exists():
        with closing(sqlite3.connect(copy)) as db:
            assert list(db.execute("SELECT version_num FROM alembic_version")) == [("0003",)]
            assert list(db.execute("SELECT name FROM build")) == [("old",)]
    with closing(sqlite3.connect(path)) as db:
        version = db.execute("SELECT version_num FROM alembic_version").fetchone()[0]
        columns = {row[1] for row in db.execute("PRAGMA table_info(revision)")}
        assert ("kind" in columns) == (version > "0003"), (version, columns)
    assert Workshop(Database.open(path)).open(1).build.name == "old"


def shared_cam(folder: Path, moment: Callable[[float], float]) -> None:
    def laid(place: Path) -> tuple[CamLibrary, list[Carrier]]:
        workshop = Workshop(Database.open(place / "workshop.sqlite"))
        library = CamLibrary(workshop.database, workshop)
        kept = library.keep("shared", SOUND.intake.cam, WHO)
        uses = []
        for number in range(4):
            build = set_cam(SOUND, "intake", kept.cam).model_copy(update={"name": f"build {number}"})
            uses.append(Carrier(workshop.create(build, WHO), build.name, "intake"))
        return library, uses

    changed = change(SOUND, "intake.cam.lobe_lift", "9.7 mm").intake.cam
    library, uses = laid(folder / "alone")
    library.workshop.database.engine.dispose()
    alone = longest(lambda: library.keep("shared", changed, WHO, uses))
    library, uses = laid(folder / "killed")
    library.workshop.database.engine.dispose()
    cut_off(lambda: library.keep("shared", changed, WHO, uses), moment(alone))
    after = CamLibrary(library.database, library.workshop)
    lifts = {library.workshop.open(u.build_id).build.intake.cam.lobe_lift.value for u in uses}  # type: ignore[union-attr]
    lifts.add(after.all()[0].cam.lobe_lift.value)  # type: ignore[union-attr]
    assert lifts in ({10.0}, {9.7}), lifts


def readings_taken(folder: Path, moment: Callable[[float], float]) -> None:
    """What was said to be taken is there after a kill, and of springs put with their shims all or nothing."""
    labels = [p.label for p in places(SOUND) if p.side == "intake"]
    springs = [(f"S-{n}", "outer", label) for n, label in enumerate(labels)]
    how = How(Sitting(hand="ann", instrument="H-2", at=WHO.now()), sure=True)
    shims = [("shims", label, "", "0.50", how) for label in labels]

    def work(place: Path) -> None:
        bench = Bench(Database.open(place / "workshop.sqlite"))
        with (place / "said").open("a") as said:
            for n, label in enumerate(labels):
                made = bench.read(1, SOUND, "tip_height", label, f"{47 + n / 100:.2f}", how)
                said.write(f"{made.number}\n")
                said.flush()
                if n % 4 == 3:
                    bench.lay(1, SOUND, springs, shims, how.by)

    for place in (folder / "alone", folder / "killed"):
        database = Database.open(place / "workshop.sqlite")
        assert Workshop(database).create(SOUND, WHO) == 1
        database.engine.dispose()
    alone = longest(lambda: work(folder / "alone"))
    cut_off(lambda: work(folder / "killed"), moment(alone))
    said = (
        {int(n) for n in (folder / "killed" / "said").read_text().split()}
        if (folder / "killed" / "said").exists()
        else set()
    )
    bench = Bench(Database.open(folder / "killed" / "workshop.sqlite"))
    sheet = bench.sheet(1, SOUND)
    taken = {r.number for r in sheet.readings if r.key == "tip_height"}
    assert said <= taken, (said, taken)
    assert len(taken - said) <= 1, (said, taken)
    laid = sum(r.key == "shims" for r in sheet.readings)
    put = sum(isinstance(e, Put) for e in sheet.events)
    assert laid == put, (laid, put)
    assert laid % len(labels) == 0, laid
    # the hand goes on where it was
    assert bench.read(1, SOUND, "tip_height", labels[0], "47.10", how).number > max(taken, default=0)


TRIALS = (first_start, upgrade, shared_cam, readings_taken, *ACTS)


def main(kills: int, seed: int) -> None:
    chance = random.Random(seed)
    for number in range(kills):
        trial = TRIALS[number % len(TRIALS)]
        with tempfile.TemporaryDirectory() as folder:
            place = Path(folder) / "here"
            place.mkdir()
            trial(place, lambda alone: chance.uniform(0.0, 1.1) * alone)
    print(f"{kills} kills, none stuck")


if __name__ == "__main__":
    main(int(sys.argv[1]), int(sys.argv[2]))
