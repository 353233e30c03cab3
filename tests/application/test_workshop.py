from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from datetime import datetime, timedelta
from itertools import count
from pathlib import Path

import pytest

from arcstack.application import Who, Workshop, differences
from arcstack.demo import demo_builds
from arcstack.document import Build, change, get
from arcstack.errors import FieldError, NotFound, StaleRevision
from arcstack.store import Database, Kind, Reason

WHY = Reason(Kind.FIELD, "engine.stroke", "", "86")


def clock() -> Iterator[datetime]:
    for minute in count():
        yield datetime(2026, 3, 1, 8) + timedelta(minutes=minute)


@pytest.fixture
def who() -> Who:
    ticks = clock()
    return Who("ann", lambda: next(ticks))


@pytest.fixture
def workshop(tmp_path: Path) -> Workshop:
    return Workshop(Database.open(tmp_path / "workshop.sqlite"))


def test_each_accepted_change_is_a_revision_with_author_time_and_reason(workshop: Workshop, who: Who) -> None:
    build_id = workshop.create(Build(name="one"), who)
    first = workshop.open(build_id)
    second = workshop.save(build_id, 1, change(first.build, "engine.stroke", "86"), who, WHY)
    assert second.revision == 2
    newest, oldest = workshop.revisions(build_id).rows
    assert (newest.number, newest.author, newest.reason) == (2, "ann", WHY)
    assert newest.at > oldest.at
    assert workshop.open(build_id) == second
    assert workshop.open(build_id, 1).build == first.build


def test_nothing_changed_is_no_revision(workshop: Workshop, who: Who) -> None:
    build_id = workshop.create(demo_builds()[0], who)
    assert workshop.save(build_id, 1, workshop.open(build_id).build, who, WHY).revision == 1
    assert len(workshop.revisions(build_id).rows) == 1


def test_the_slower_window_is_told(workshop: Workshop, who: Who) -> None:
    build_id = workshop.create(Build(name="one"), who)
    base = workshop.open(build_id).build
    workshop.save(build_id, 1, change(base, "engine.stroke", "86"), who, WHY)
    with pytest.raises(StaleRevision):
        workshop.save(build_id, 1, change(base, "engine.stroke", "88"), who, WHY)
    assert workshop.open(build_id).revision == 2


def test_stepping_back_walks_through_what_was(workshop: Workshop, who: Who) -> None:
    build_id = workshop.create(Build(name="one"), who)
    build = workshop.open(build_id).build
    for number, stroke in enumerate(("84", "86", "88"), start=1):
        build = change(build, "engine.stroke", stroke)
        workshop.save(build_id, number, build, who, WHY)
    seen = []
    for base in (4, 5, 6):
        back = workshop.step_back(build_id, base, who).build.engine.stroke
        seen.append(back.typed if back else "")
    assert seen == ["86 mm", "84 mm", ""]
    assert workshop.open(build_id).steps.back is None
    assert len(workshop.revisions(build_id).rows) == 7
    with pytest.raises(FieldError, match="nothing to step back to"):
        workshop.step_back(build_id, 7, who)
    forward = workshop.step_forward(build_id, 7, who)
    assert forward.build.engine.stroke.typed == "84 mm"  # type: ignore[union-attr]
    assert workshop.step_forward(build_id, 8, who).build.engine.stroke.typed == "86 mm"  # type: ignore[union-attr]
    with pytest.raises(StaleRevision):
        workshop.step_back(build_id, 8, who)


def test_a_restore_can_be_taken_back_and_a_change_ends_what_lay_ahead(workshop: Workshop, who: Who) -> None:
    build_id = workshop.create(Build(name="one"), who)
    for number, stroke in enumerate(("84", "86"), start=1):
        workshop.save(build_id, number, change(workshop.open(build_id).build, "engine.stroke", stroke), who, WHY)
    assert workshop.restore(build_id, 3, 1, who).build.engine.stroke is None
    assert workshop.step_back(build_id, 4, who).build.engine.stroke.typed == "86 mm"  # type: ignore[union-attr]
    assert workshop.step_forward(build_id, 5, who).build.engine.stroke is None
    workshop.step_back(build_id, 6, who)
    workshop.save(build_id, 7, change(workshop.open(build_id).build, "engine.rod", "140"), who, WHY)
    assert workshop.open(build_id).steps.forward is None
    with pytest.raises(FieldError, match="Nothing was stepped back"):
        workshop.step_forward(build_id, 8, who)


def test_saving_what_did_not_change_is_told_too_when_another_was_faster(workshop: Workshop, who: Who) -> None:
    build_id = workshop.create(Build(name="one"), who)
    first = workshop.open(build_id).build
    workshop.save(build_id, 1, change(first, "engine.stroke", "86"), who, WHY)
    with pytest.raises(StaleRevision):
        workshop.save(build_id, 1, first, who, WHY)
    assert workshop.open(build_id).revision == 2


def test_compare_names_field_before_and_after(workshop: Workshop, who: Who) -> None:
    build_id = workshop.create(demo_builds()[1], who)
    build = change(workshop.open(build_id).build, "intake.stack.retainer.mass", "9.9 g")
    workshop.save(build_id, 1, build.model_copy(update={"practice": "sprint"}), who, WHY)
    rows = workshop.compare(build_id, 1, 2)
    assert [(r.path, r.before, r.after) for r in rows] == [
        ("practice", "balanced", "sprint"),
        ("intake.stack.retainer.mass", "9.8 g · printed", "9.9 g · printed"),
    ]
    assert differences(build, build) == []


def test_unknown_build(workshop: Workshop) -> None:
    with pytest.raises(NotFound):
        workshop.open(5)


def test_twelve_hands_on_one_head_lose_nothing_of_different_fields(tmp_path: Path) -> None:
    """Each from a window of its own that stands at the first revision: all are taken, each as a revision."""
    workshop = Workshop(Database.open(tmp_path / "workshop.sqlite"))
    number = workshop.create(demo_builds()[0], Who("ann", lambda: datetime(2026, 3, 1, 8, 30)))
    rows = [
        ("brief.usual_speed", "6610 rpm"), ("brief.limiter", "8110 rpm"), ("brief.boost", "1.51 bar"),
        ("brief.back_pressure", "1.91 bar"), ("engine.bore", "85.51 mm"), ("engine.stroke", "86.21 mm"),
        ("engine.rod", "141.51 mm"), ("engine.deck", "0.26 mm"), ("engine.gasket", "1.16 mm"),
        ("engine.pin_offset", "0.61 mm"), ("brief.overspeed", "8710 rpm"), ("engine.valve_spacing", "38.51 mm"),
    ]  # fmt: skip

    def edit(row: tuple[str, str]) -> int:
        path, text = row
        made = workshop.edit(
            number,
            1,
            lambda b: (change(b, path, text), Reason(Kind.FIELD, path)),
            Who("ann", lambda: datetime(2026, 3, 1, 8, 30)),
            beside=True,
        )
        return made.revision

    with ThreadPoolExecutor(len(rows)) as pool:
        revisions = sorted(pool.map(edit, rows))
    assert revisions == list(range(2, 2 + len(rows)))
    now = workshop.open(number).build
    for path, text in rows:
        assert get(now, path).typed == text
