from datetime import datetime
from pathlib import Path

import pytest

from arcstack.application import CamLibrary, Carrier, Who, Workshop
from arcstack.demo import demo_builds
from arcstack.document import Build, change
from arcstack.errors import FieldError, NotFound
from arcstack.store import Database, Kind, Reason

WHY = Reason(Kind.FIELD, "engine.stroke", "", "86")

WHO = Who("ann", lambda: datetime(2026, 3, 1))


@pytest.fixture
def workshop(tmp_path: Path) -> Workshop:
    return Workshop(Database.open(tmp_path / "workshop.sqlite"))


@pytest.fixture
def library(workshop: Workshop) -> CamLibrary:
    return CamLibrary(workshop.database, workshop)


def test_a_kept_cam_is_used_in_several_builds_and_knows_them(workshop: Workshop, library: CamLibrary) -> None:
    kept = library.keep("Hill 254", demo_builds()[0].intake.cam, WHO)
    assert (kept.name, kept.origin) == ("Hill 254", "card, kept by ann")
    ids = []
    for name, side in (("one", "intake"), ("two", "exhaust")):
        build_id = workshop.create(Build(name=name), WHO)
        workshop.save(build_id, 1, library.use(kept.key, Build(name=name), side), WHO, WHY)
        ids.append(build_id)
    assert library.uses(kept.key) == [Carrier(ids[0], "one", "intake"), Carrier(ids[1], "two", "exhaust")]
    held = workshop.open(ids[1]).build.exhaust.cam
    assert held.lobe_lift == demo_builds()[0].intake.cam.lobe_lift


def test_a_change_touches_only_the_builds_that_were_named(workshop: Workshop, library: CamLibrary) -> None:
    kept = library.keep("Hill 254", demo_builds()[0].intake.cam, WHO)
    first, second = (workshop.create(library.use(kept.key, Build(name=n), "intake"), WHO) for n in "ab")
    bigger = change(demo_builds()[0], "intake.cam.lobe_lift", "10.6 mm").intake.cam
    library.keep("Hill 254", bigger, WHO, [Carrier(first, "a", "intake")])
    lifts = [workshop.open(b).build.intake.cam.lobe_lift for b in (first, second)]
    assert [lift.typed if lift else "" for lift in lifts] == ["10.6 mm", "10.00 mm"]
    assert workshop.open(first).revision == 2
    assert workshop.open(second).revision == 1
    assert len(library.all()) == 1
    assert library.get(kept.key).cam.lobe_lift == bigger.lobe_lift


def test_a_forgotten_cam_leaves_the_builds_alone(workshop: Workshop, library: CamLibrary) -> None:
    kept = library.keep("Hill 254", demo_builds()[0].intake.cam, WHO)
    build_id = workshop.create(library.use(kept.key, Build(name="a"), "intake"), WHO)
    library.forget(kept.key)
    assert workshop.open(build_id).build.intake.cam.lobe_lift is not None
    with pytest.raises(NotFound):
        library.get(kept.key)


@pytest.mark.parametrize("name", ["", "   ", "x" * 81, "a\x07b"])
def test_a_name_that_is_none_is_refused(library: CamLibrary, name: str) -> None:
    with pytest.raises(FieldError):
        library.keep(name, demo_builds()[0].intake.cam, WHO)


def test_who_carries_which_cam_is_asked_once_and_the_first_are_named(workshop: Workshop, library: CamLibrary) -> None:
    cam = demo_builds()[0].intake.cam
    many, one, none = (library.keep(name, cam, WHO) for name in ("many", "one", "none"))
    for name in ("d", "b", "c", "a"):
        build = library.use(many.key, library.use(many.key, Build(name=name), "intake"), "exhaust")
        workshop.create(build, WHO)
    workshop.create(library.use(one.key, Build(name="e"), "exhaust"), WHO)
    found = library.carried(3)
    assert none.key not in found
    assert (found[many.key].of, found[many.key].more) == (8, 5)
    assert (found[one.key].of, found[one.key].more) == (1, 0)
    for kept in (many, one):
        assert list(found[kept.key].first) == library.uses(kept.key)[:3]
    assert [(c.name, c.side) for c in found[many.key].first] == [("a", "intake"), ("a", "exhaust"), ("b", "intake")]
