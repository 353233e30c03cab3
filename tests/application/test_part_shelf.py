"""The shelf of a workshop: kept, changed, taken off and put back, and builds told of it."""

from datetime import datetime
from pathlib import Path

import pytest

from arcstack.application import PartShelf, Who, Workshop
from arcstack.application.copying import copied
from arcstack.application.part_shelf import differences
from arcstack.application.starts import template
from arcstack.demo.loader import demo_shelf
from arcstack.errors import FieldError, NameTaken, NotFound
from arcstack.shelf import PartKind, changed
from arcstack.store import Database, Kind, Reason

WHO = Who("ann", lambda: datetime(2026, 3, 1, 8, 30))


@pytest.fixture
def shelf(tmp_path: Path) -> PartShelf:
    return PartShelf(Database.open(tmp_path / "workshop.sqlite"))


def test_parts_are_kept_changed_and_counted(shelf: PartShelf) -> None:
    made = shelf.add(PartKind.RETAINER, " R-1 ", WHO)
    assert [(p.name, p.version) for p in shelf.all()] == [("R-1", 1)]
    heavier = shelf.save(changed(made, "mass", "9 g"), WHO)
    assert heavier.version == 2
    assert shelf.save(heavier, WHO) is not None
    assert shelf.get(made.key).version == 2
    # pieces counted, bought and priced are no new version of the part
    counted = shelf.save(changed(changed(heavier, "on_hand", "16"), "price", "12.5"), WHO)
    assert (counted.version, shelf.get(made.key).on_hand) == (2, 16)
    with pytest.raises(FieldError, match="another window"):
        shelf.save(changed(made, "mass", "8 g"), WHO)
    with pytest.raises(NameTaken):
        shelf.add(PartKind.RETAINER, "R-1", WHO)
    twin = shelf.add(PartKind.RETAINER, "R-2", WHO, of=counted)
    assert (twin.at("mass"), twin.on_hand, twin.version) == (counted.at("mass"), 0, 1)
    assert shelf.add(PartKind.LOCKS, "R-1", WHO).kind is PartKind.LOCKS
    assert [p.name for p in shelf.offered(PartKind.RETAINER)] == ["R-1", "R-2"]
    shelf.save(counted.model_copy(update={"retired": True}), WHO)
    assert [p.name for p in shelf.offered(PartKind.RETAINER)] == ["R-2"]
    assert [d.label for d in differences(made, counted)] == ["Retainer mass", "Price", "On hand"]


def test_a_part_taken_off_can_be_put_back_until_its_name_is_another_s(shelf: PartShelf) -> None:
    made = shelf.add(PartKind.SEAL, "S-1", WHO)
    shelf.remove(made.key)
    assert shelf.all() == ()
    with pytest.raises(NotFound):
        shelf.get(made.key)
    assert shelf.put_back(made.key) == made
    shelf.remove(made.key)
    shelf.add(PartKind.SEAL, "S-1", WHO)
    with pytest.raises(NotFound, match="another has its name"):
        shelf.put_back(made.key)


def test_parts_are_taken_in_whole_or_not_at_all(shelf: PartShelf) -> None:
    parts = demo_shelf()
    assert shelf.take(parts, WHO) == (len(parts), 0)
    assert shelf.take(parts, WHO) == (0, 0)
    lighter = [changed(p, "mass", "8 g") if p.kind is PartKind.RETAINER else p for p in parts]
    assert shelf.take(lighter, WHO) == (0, sum(p.kind is PartKind.RETAINER for p in parts))
    # a file of another workshop has other keys: the name tells
    strange = [p.model_copy(update={"key": "f" * 32}) for p in parts[:1]]
    assert shelf.take(strange, WHO) == (0, 0)
    one, other = parts[0], parts[1]
    clash = [one.model_copy(update={"key": "e" * 32, "name": "new"}), other.model_copy(update={"name": one.name})]
    with pytest.raises(NameTaken):
        shelf.take(clash, WHO)
    assert "new" not in [p.name for p in shelf.all()]


def test_a_build_is_told_of_a_change_and_takes_it_or_keeps_its_own(shelf: PartShelf) -> None:
    workshop = Workshop(shelf.database)
    made = shelf.add(PartKind.RETAINER, "R-1", WHO)
    made = shelf.save(changed(made, "mass", "9 g"), WHO)
    build, part = shelf.fit(template("bucket"), "intake", made.key, "retainer")
    build_id = workshop.create(build, WHO)
    assert shelf.newer(build) == []
    assert [(u.build_id, u.side, u.place) for u in shelf.users(part.key)] == [(build_id, "intake", "retainer")]
    lighter = shelf.save(changed(made, "mass", "8 g"), WHO)
    told = shelf.newer(build)
    assert [(n.side, n.place, n.part) for n in told] == [("intake", "retainer", lighter)]
    taken, _ = shelf.fit(build, "intake", made.key, "retainer")
    assert taken.intake.stack.retainer.mass.typed == "8 g"  # type: ignore[union-attr]
    assert shelf.newer(taken) == []
    kept = shelf.keep(build, "intake", "retainer")
    assert shelf.newer(kept) == []
    assert kept.intake.stack == build.intake.stack
    shelf.remove(made.key)
    assert [n.part for n in shelf.newer(kept)] == [None]
    alone = shelf.keep(kept, "intake", "retainer")
    assert alone.intake.from_shelf == {}
    workshop.save(build_id, 1, alone, WHO, Reason(Kind.PART_KEPT, "intake.retainer", after="R-1"))
    assert shelf.users(made.key) == []
    with pytest.raises(NotFound):
        shelf.keep(alone, "intake", "retainer")
    with pytest.raises(FieldError):
        shelf.fit(build, "intake", made.key, "wheel")


def test_what_came_from_the_shelf_goes_along_with_a_side_that_is_copied(shelf: PartShelf) -> None:
    made = shelf.add(PartKind.RETAINER, "R-1", WHO)
    locks = shelf.add(PartKind.LOCKS, "L-1", WHO)
    build, _ = shelf.fit(template("bucket"), "intake", made.key, "retainer")
    build, _ = shelf.fit(build, "exhaust", locks.key, "locks")
    both = copied(build, "exhaust", build.intake, ["retainer"])
    assert {place: ref.name for place, ref in both.exhaust.from_shelf.items()} == {"retainer": "R-1", "locks": "L-1"}
    bare = copied(build, "exhaust", build.intake, ["locks"])
    assert bare.exhaust.from_shelf == {}
