"""Places of a head: how many, what they are called, and in which order a hand comes to them."""

import pytest

from arcstack.document import Build, change
from arcstack.document.places import count, in_order_of_work, places
from tests.builds import typed


def head(cylinders: str, valves: str, **more: str) -> Build:
    rows = {"engine.cylinders": cylinders, "engine.valves_per_cylinder": valves}
    return typed(Build(name="Head"), rows | {path.replace("__", "."): text for path, text in more.items()})


def test_a_four_of_four_valves_has_sixteen_places_with_their_labels() -> None:
    found = places(head("4", "4"))
    assert [p.label for p in found[:4]] == ["1I-a", "1I-b", "2I-a", "2I-b"]
    assert found[-1].label == "4E-b"
    assert len(found) == len({p.label for p in found}) == 16


@pytest.mark.parametrize(
    ("cylinders", "valves", "intake", "exhaust"), [("3", "5", 9, 6), ("4", "2", 4, 4), ("2", "3", 4, 2)]
)
def test_an_odd_valve_more_is_an_intakes(cylinders: str, valves: str, intake: int, exhaust: int) -> None:
    build = head(cylinders, valves)
    sides = [p.side for p in places(build)]
    assert (sides.count("intake"), sides.count("exhaust")) == (intake, exhaust)
    assert (count(build, "intake"), count(build, "exhaust")) == (intake, exhaust)


def test_a_head_of_two_banks_has_its_share_and_its_letter() -> None:
    build = head("6", "4", engine__banks="2", head__bank="left")
    assert {p.cylinder for p in places(build)} == {1, 2, 3}
    assert places(build)[0].label == "L1I-a"
    # of one bank no letter is needed, and while nobody said which it is, none is made up
    assert places(head("6", "4", head__bank="left"))[0].label == "1I-a"
    assert places(head("6", "4", engine__banks="2"))[0].label == "1I-a"


def test_what_is_not_known_has_no_places() -> None:
    assert places(Build(name="Nothing yet")) == ()
    build = change(Build(name="Half"), "engine.cylinders", "4")
    assert places(build) == ()
    assert count(build, "intake") == 0


def test_the_hand_goes_up_one_side_and_down_the_other() -> None:
    order = [p.label for p in in_order_of_work(places(head("2", "4")))]
    assert order == ["1I-a", "1I-b", "2I-a", "2I-b", "2E-b", "2E-a", "1E-b", "1E-a"]
