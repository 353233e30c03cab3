"""Workshops that earlier versions of the program made: opened, every revision read, shown and exported."""

import gzip
import json
import sqlite3
from contextlib import closing
from datetime import datetime
from pathlib import Path

import pytest

from arcstack.application import CamLibrary, PartShelf, PracticeLibrary, Who, Workshop
from arcstack.application.bench import Bench
from arcstack.application.people import People
from arcstack.application.reasons import words
from arcstack.assess import assess
from arcstack.document import Absent, Sitting
from arcstack.errors import DocumentError
from arcstack.formats import read_build, write_build
from arcstack.readings import Phase, Sheet
from arcstack.readings.recorded import Arrived, Ordered, release
from arcstack.readings.returning import received
from arcstack.readings.taking import How
from arcstack.shelf import PartKind
from arcstack.store import Database, Kind, Reason, Shelf
from arcstack.store.database import known_versions
from arcstack.web import create_app

EARLIER = Path(__file__).parent / "earlier"
MADE = [EARLIER / f"workshop-{version}.sqlite.gz" for version in ("0002", "0003")]
"""Made before documents were packed and had lists."""
WHO = Who("ann", lambda: datetime(2026, 3, 1, 8))


def opened(made: Path, folder: Path) -> Workshop:
    (folder / "workshop.sqlite").write_bytes(gzip.decompress(made.read_bytes()))
    return Workshop(Database.open(folder / "workshop.sqlite"))


@pytest.mark.parametrize("made", MADE, ids=lambda p: p.name)
def test_every_revision_is_read_shown_and_exported(made: Path, tmp_path: Path) -> None:
    workshop = opened(made, tmp_path)
    before = tmp_path / f"workshop.before-{known_versions()[-1]}.sqlite"
    with closing(sqlite3.connect(before)) as db:
        stored = {
            (build, number): json.loads(text)
            for build, number, text in db.execute("SELECT build_id, number, document FROM revision")
        }
    assert len(stored) == sum(workshop.open(b.id).revision for b in workshop.builds().rows)
    for (build_id, number), raw in stored.items():
        build = workshop.open(build_id, number).build
        assert build.name == raw["name"]
        assert read_build(write_build(build)) == build
        for side in ("intake", "exhaust"):
            old, new = raw[side], build.side(side)
            shims = [e["value"] if e else None for e in (old["stack"][f"shim_{n}"] for n in (1, 2, 3))]
            held = [0.0 if isinstance(e, Absent) else e.value if e else None for e in new.stack.shims]
            assert held == shims[: len(held)]
            assert not any(s is not None for s in shims[len(held) :])
            assert [d.check_lift.value for d in new.cam.durations if d.check_lift] == [
                d["check_lift"]["value"] for d in (old["cam"][f"duration_{n}"] for n in (1, 2, 3)) if d["check_lift"]
            ]
            follower = new.follower.of(build.engine.follower)
            assert (follower.mass.value if follower.mass else None) == old["stack"]["bucket"]["mass"]["value"]
            names = [old[f"candidate_{n}"]["name"] for n in (1, 2, 3, 4, 5)]
            assert [c.name for c in new.candidates] == names[: len(new.candidates)]
    app = create_app(tmp_path)
    with app.test_client() as client:
        for build in workshop.builds().rows:
            assert client.get(f"/builds/{build.id}/intake/stack").status_code == 200
            assert client.get(f"/builds/{build.id}/intake/revisions").status_code == 200
            assert client.get(f"/builds/{build.id}/export").status_code == 200


def test_what_an_earlier_version_told_of_its_changes_is_kept(tmp_path: Path) -> None:
    workshop = opened(MADE[-1], tmp_path)
    rows = workshop.revisions(2).rows
    assert words(rows[-1].reason) == "Demo build"
    assert "Pack copied to slot 3, intake" in [words(r.reason) for r in rows]
    steps = [r.reason for r in rows if r.reason.kind in (Kind.BACK, Kind.FORWARD)]
    assert [s.other for s in steps] == [5, 6, 5]
    current = workshop.open(2)
    assert current.steps.back is not None
    assert workshop.step_back(2, current.revision, WHO).build.name == "Tamarack, lake-boat four"


def test_kept_cams_and_who_carries_them_come_along(tmp_path: Path) -> None:
    workshop = opened(MADE[-1], tmp_path)
    library = CamLibrary(workshop.database, workshop)
    kept = library.all()
    assert len(kept) == 4
    assert all(k.cam.durations for k in kept)
    # the demo's builds were made before their cams were kept
    assert all(library.uses(k.key) == [] for k in kept)


def test_an_earlier_document_judges_as_it_did(tmp_path: Path) -> None:
    workshop = opened(MADE[-1], tmp_path)
    found = assess(workshop.open(1, 1).build)
    assert found.verdict("spring.reserve.inner", "intake").figure.value == pytest.approx(-0.2902)  # type: ignore[union-attr]


def test_a_document_of_a_newer_version_is_refused_in_words() -> None:
    with pytest.raises(DocumentError, match="is of version 5; this program reads version 4 and earlier"):
        read_build(json.dumps({"format": "arc-stack-build", "version": 5, "name": "later"}))


def test_a_workshop_of_the_version_before_opens_with_its_list_filled(tmp_path: Path) -> None:
    workshop = opened(EARLIER / "workshop-0004.sqlite.gz", tmp_path)
    told = [words(r.reason) for r in workshop.revisions(1).rows]
    assert told[-4:] == ["Marks: – → B2", "Job: – → J-17", "Customer: – → Odo & Wen", "Demo build"]
    assert "Limit, Separation ÷ limiter: one run a day" in told
    assert "Fitted pack kept as intake candidate 1" in told
    row = workshop.row(1)
    assert (row.customer, row.job, row.shelf) == ("Odo & Wen", "J-17", Shelf.OPEN)
    assert len({r.identity for r in workshop.builds().rows}) == 2
    assert [r.id for r in workshop.builds(search="wen b2").rows] == [1]
    for number in range(1, row.newest + 1):
        build = workshop.open(1, number).build
        assert read_build(write_build(build)) == build
    # the limit was stepped back; the pack stays, named as it was
    build = workshop.open(1).build
    assert build.overrides == {}
    assert build.intake.candidate(1).name.endswith(", copy")
    assert workshop.step_forward(1, row.newest, WHO).build.overrides["control.separation"].reason == "one run a day"


def test_a_workshop_without_a_shelf_opens_with_an_empty_one(tmp_path: Path) -> None:
    workshop = opened(EARLIER / "workshop-0005.sqlite.gz", tmp_path)
    assert [r.shelf for r in (workshop.row(1), workshop.row(2))] == [Shelf.OPEN, Shelf.ARCHIVED]
    assert [p.name for p in PracticeLibrary(workshop.database).all()] == ["House limits"]
    for number in (1, 2):
        build = workshop.open(1, number).build
        assert read_build(write_build(build)) == build
    # what was not asked for then is open now, and nothing else turned
    found = assess(workshop.open(1).build)
    assert {v.level.value for v in found.verdicts if v.stage == "fit"} == {"open"}
    failing = {v.id for v in found.verdicts if v.level.value == "fail"}
    assert failing == {"spring.reserve.inner", "piston.clearance_swept", "phaser.range"}
    shelf = PartShelf(workshop.database)
    assert shelf.all() == ()
    part = shelf.add(PartKind.RETAINER, "R-1", WHO)
    assert [p.name for p in shelf.all()] == ["R-1"]
    changed, _ = shelf.fit(workshop.open(1).build, "intake", part.key, "retainer")
    workshop.save(1, 2, changed, WHO, Reason(Kind.PART_FITTED, "intake.retainer", after="R-1"))
    assert [(u.build_id, u.side, u.place) for u in shelf.users(part.key)] == [(1, "intake", "retainer")]
    assert words(workshop.revisions(1).rows[0].reason) == "Intake retainer: R-1 fitted from the shelf"


def test_a_workshop_without_readings_opens_and_takes_them(tmp_path: Path) -> None:
    workshop = opened(EARLIER / "workshop-0006.sqlite.gz", tmp_path)
    build = workshop.open(1).build
    assert build == read_build(write_build(build))
    assert len(PartShelf(workshop.database).all()) == 20
    bench = Bench(workshop.database)
    assert bench.sheet(1, build).readings == ()
    how = How(Sitting(hand="ann", instrument="H-2", at=datetime(2026, 3, 1, 8)))
    bench.read(1, build, "tip_height", "1I-a", "47.02", how)
    assert [r.value for r in Bench(Database.open(tmp_path / "workshop.sqlite")).sheet(1, build).standing] == [47.02]


def test_a_workshop_without_people_opens_with_every_reading_and_event_and_nobody_signs_in(tmp_path: Path) -> None:
    workshop = opened(EARLIER / "workshop-0007.sqlite.gz", tmp_path)
    rowan = next(r for r in workshop.builds().rows if r.name.startswith("Rowan"))
    sheet = Bench(workshop.database).sheet(rowan.id, workshop.open(rowan.id).build)
    assert (len(sheet.readings), len(sheet.events)) == (194, 47)
    assert received(sheet.events) is not None
    assert not People(workshop.database).any()
    app = create_app(tmp_path)
    with app.test_client() as client:
        for tail in ("back", "record", "orders", "sign-off", "sheets/report", "bench"):
            assert client.get(f"/builds/{rowan.id}/intake/{tail}").status_code == 200, tail


def test_a_workshop_that_counted_readings_and_events_apart_tells_which_was_said_first(tmp_path: Path) -> None:
    workshop = opened(EARLIER / "workshop-0008.sqlite.gz", tmp_path)
    bench = Bench(workshop.database)
    with closing(sqlite3.connect(tmp_path / f"workshop.before-{known_versions()[-1]}.sqlite")) as db:
        told = {
            table: list(db.execute(f"SELECT id, at, build_id FROM {table} ORDER BY id"))
            for table in ("reading", "event")
        }
    for row in workshop.builds().rows:
        sheet = bench.sheet(row.id, workshop.open(row.id).build)
        said = sorted([*sheet.readings, *sheet.events], key=lambda x: x.number)
        assert len({x.number for x in said}) == len(said)
        times = [x.by.at for x in said]
        if row.name.startswith("Tamarack"):
            assert times == sorted(t for t in times if t is not None)
        for table, rows in (("reading", sheet.readings), ("event", sheet.events)):
            assert len(rows) == sum(build == row.id for _, _, build in told[table])
    sound = next(r.id for r in workshop.builds().rows if r.name.startswith("Tamarack"))
    sheet = bench.sheet(sound, workshop.open(sound).build)
    gone = next(r for r in sheet.readings if r.void)
    assert next(r for r in sheet.readings if r.number == gone.replaces).key == "tip_height"
    came = next(e for e in sheet.events if isinstance(e, Arrived))
    assert next(e for e in sheet.events if e.number == came.order) == next(
        e for e in sheet.events if isinstance(e, Ordered)
    )
    made = release(sheet.events)
    assert made is not None
    assert made.readings == sheet.readings[-1].number
    assert made.events < made.number
    assert all(e.number <= made.events for e in sheet.events if e.number < made.number)
    # what is said next comes after all of it
    how = How(Sitting(hand="ann", instrument="H-2", at=datetime(2001, 1, 1)), phase=Phase.SERVICE)
    made_now = bench.read(sound, workshop.open(sound).build, "tip_height", "1I-b", "44.2", how)
    assert made_now.number > said_last(sheet)


def said_last(sheet: Sheet) -> int:
    return max(x.number for x in (*sheet.readings, *sheet.events))
