"""What a reading was true of, and what becomes of it when that is another now."""

import pytest

from arcstack.assembly.progress import touched_since
from arcstack.assess import assess, stack
from arcstack.assess import gaps as fit
from arcstack.assess.built import built
from arcstack.demo import demo_builds
from arcstack.document import Build, change
from arcstack.readings import Cut, Stated
from arcstack.readings.sheet import first_said
from tests.readings.bench import BY, Hand, as_designed

SOUND = demo_builds()[0]


def stale(hand: Hand, build: Build, key: str, label: str = "1I-a") -> str:
    sheet = hand.sheet(build)
    found = sheet.settled(next(p for p in sheet.places if p.label == label), key)
    assert found is not None
    return found.stale


EXCHANGED = [
    ("open_height", "stack.valve.length", "99.5"), ("open_height", "stack.valve.groove", "several beads"),
    ("open_height", "stack.locks.taper", "7 deg"), ("open_height", "stack.locks.stem", "5.5"),
    ("open_height", "stack.retainer.offset", "0.6"), ("open_height", "stack.locator.code", "B-other"),
    ("seal_height", "stack.seal.code", "SL-other"), ("seal_height", "stack.seal.height", "11.1"),
    ("seal_height", "stack.guide.code", "G-other"), ("seal_height", "stack.guide.height", "15.5"),
    ("retainer_depth", "stack.retainer.depth", "5.9"), ("retainer_step", "stack.retainer.code", "R-other"),
    ("lobe_lift", "cam.code", "C-other"), ("lobe_lift", "cam.lobe_lift", "10.9"),
    ("margin", "stack.valve.code", "V-other"), ("vacuum", "stack.valve.head", "36"),
]  # fmt: skip


@pytest.mark.parametrize(("key", "path", "text"), EXCHANGED)
def test_a_part_exchanged_reopens_what_was_read_of_it_and_put_back_it_stands(key: str, path: str, text: str) -> None:
    hand = as_designed(SOUND)
    if key not in {r.key for r in hand.readings}:
        hand.take(key, "1I-a", 1.2)
    assert stale(hand, SOUND, key) == ""
    other = change(SOUND, f"intake.{path}", text, by=BY)
    assert stale(hand, other, key) != ""
    assert stale(hand, SOUND, key) == ""


@pytest.mark.parametrize(
    "path", ["stack.retainer.step", "stack.locator.step", "stack.retainer.mass", "stack.outer.code"]
)
def test_a_height_does_not_rest_on_what_it_does_not_touch(path: str) -> None:
    hand = as_designed(SOUND)
    other = change(
        SOUND, f"intake.{path}", {"mass": "0.011 kg", "code": "S-other"}.get(path.split(".")[-1], "1.1"), by=BY
    )
    assert stale(hand, other, "open_height") == ""


def test_a_design_put_right_by_what_was_read_is_the_same_part() -> None:
    hand = as_designed(SOUND)
    hand.take("retainer_depth", "1I-a", 4.44)
    assert stale(hand, change(SOUND, "intake.stack.retainer.depth", "4.45"), "retainer_depth") == ""
    assert stale(hand, change(SOUND, "intake.stack.retainer.depth", "4.9"), "retainer_depth") != ""


def test_what_is_said_first_is_said_of_the_part_that_was_read_and_another_is_not() -> None:
    unsaid = change(SOUND, "intake.stack.retainer.offset", "")
    hand = as_designed(unsaid)
    said = change(unsaid, "intake.stack.retainer.offset", "0.5 mm")
    for path, value in first_said(unsaid, said):
        hand.happened(Stated(0, path, value, BY))
    assert stale(hand, said, "open_height") == ""
    assert stale(hand, unsaid, "open_height") == ""
    other = change(said, "intake.stack.retainer.offset", "0.9 mm")
    assert "was not known and is 0.9" in stale(hand, other, "open_height")
    # emptied and typed anew it is another part
    emptied = change(said, "intake.stack.retainer.offset", "")
    again = change(emptied, "intake.stack.retainer.offset", "0.9 mm")
    for path, value in first_said(emptied, again):
        hand.happened(Stated(0, path, value, BY))
    assert stale(hand, again, "open_height") != ""


def height(hand: Hand, build: Build = SOUND) -> tuple[float, bool]:
    ctx = built(assess(build), hand.sheet(build)).contexts["1I-a"]
    found = stack.installed_height(ctx)
    return found.value, found.proven


def test_other_shims_move_an_installed_height_that_was_read_over_the_first() -> None:
    """Read 36.00 over 0.75; then 1.00 lies there: 36.00 + 0.75 − 1.00 = 35.75, and it is read no more."""
    hand = Hand(SOUND)
    place = hand.places[0]
    hand.take("shims", place.label, 0.75, typed="0.50 + 0.25 mm")
    hand.take("installed_height", place.label, 36.00)
    assert height(hand) == (pytest.approx(36.00), True)
    assert touched_since(hand.sheet()) == []
    first = hand.readings[-2].number
    hand.take("shims", place.label, 1.00, typed="1.00 mm", replaces=first)
    value, proven = height(hand)
    assert value == pytest.approx(35.75)
    assert not proven
    assert stale(hand, SOUND, "installed_height") == "Shims under it were 0.75 mm in all and are 1 mm"
    assert touched_since(hand.sheet()) == [place.label]
    # the first shims laid back under it, it stands again
    hand.take("shims", place.label, 0.75, typed="0.75 mm", replaces=hand.readings[-1].number)
    assert height(hand) == (pytest.approx(36.00), True)


def test_shims_of_the_design_exchanged_under_a_height_reopen_it_too() -> None:
    hand = Hand(SOUND)
    hand.take("installed_height", "1I-a", 36.00, rests={"laid:shims": "0.75"})
    other = change(change(SOUND, "intake.stack.shims.2", ""), "intake.stack.shims.1", "0.50")
    assert stale(hand, SOUND, "installed_height") == ""
    assert "0.75 mm in all and are 0.5 mm" in stale(hand, other, "installed_height")
    assert height(hand, other)[0] == pytest.approx(36.25)


def test_a_tip_that_was_ground_stands_less_proud() -> None:
    """0.6 and 1.0 mm off one tip: it stands 1.6 mm less proud, and nobody has read it since."""
    hand = Hand(SOUND)
    was = fit.tip_proud(built(assess(SOUND), hand.sheet()).contexts["1I-a"])
    for tip in (0.6, 1.0):
        hand.happened(Cut(0, "1I-a", 0.0, 0.0, tip, BY))
    now = fit.tip_proud(built(assess(SOUND), hand.sheet()).contexts["1I-a"])
    assert now.value == pytest.approx(was.value - 1.6)
    assert any("ground" in f.outdated for f in now.leaves)
    other = fit.tip_proud(built(assess(SOUND), hand.sheet()).contexts["1I-b"])
    assert other.value == was.value
