"""What is left to read, in the order of the bench, and where a hand goes next."""

from arcstack.demo import demo_builds
from arcstack.document import change
from arcstack.readings import ASKED, Phase, Step
from arcstack.readings.left import Spot, following, left, spots
from tests.readings.bench import Hand, as_designed


def at(hand: Hand, key: str, label: str) -> Spot:
    return Spot(ASKED[key], next(p for p in hand.places if p.label == label))


def test_an_unread_head_asks_for_everything_in_the_order_of_the_bench() -> None:
    hand = Hand(demo_builds()[0])
    found = left(hand.sheet())
    steps = [x.spot.asked.step for x in found]
    assert [s for i, s in enumerate(steps) if i == 0 or steps[i - 1] is not s] == list(Step)
    heights = [x for x in found if x.spot.asked.key == "open_height"]
    assert [x.spot.place.label for x in heights[:9]] == [
        "1I-a",
        "1I-b",
        "2I-a",
        "2I-b",
        "3I-a",
        "3I-b",
        "4I-a",
        "4I-b",
        "4E-b",
    ]
    assert sum(x.seconds for x in heights) == 16 * 20
    assert not any(x.spot.asked.optional for x in found)


def test_a_hand_goes_along_one_side_and_back_along_the_other() -> None:
    hand = Hand(demo_builds()[0])
    spot = at(hand, "tip_height", "4I-b")
    hand.take("tip_height", "4I-b", 47.0)
    after = following(hand.sheet(), spot, Phase.FINAL)
    assert after is not None
    assert after.place.label == "4E-b"


def test_a_guide_is_read_whole_before_the_next() -> None:
    hand = Hand(demo_builds()[0])
    hand.take("bore_top_1", "1I-a", 6.0)
    after = following(hand.sheet(), at(hand, "bore_top_1", "1I-a"), Phase.FINAL)
    assert after is not None
    assert (after.asked.key, after.place.label) == ("bore_top_2", "1I-a")


def test_an_open_height_is_read_twice_and_a_third_time_where_two_disagree() -> None:
    hand = Hand(demo_builds()[0])
    spot = at(hand, "open_height", "1I-a")
    hand.take("open_height", "1I-a", 36.80)
    assert following(hand.sheet(), spot, Phase.FINAL) == spot
    hand.take("open_height", "1I-a", 36.90)
    assert following(hand.sheet(), spot, Phase.FINAL) == spot
    hand.take("open_height", "1I-a", 36.88)
    after = following(hand.sheet(), spot, Phase.FINAL)
    assert after is not None
    assert after.place.label == "1I-b"


def test_what_was_skipped_comes_again_at_the_end_and_then_the_step_is_done() -> None:
    hand = Hand(demo_builds()[0])
    row = [s.place.label for s in spots(hand.sheet(), Step.TIPS)]
    for label in row[1:]:
        hand.take("tip_height", label, 47.0)
    after = following(hand.sheet(), at(hand, "tip_height", row[-1]), Phase.FINAL)
    assert after is not None
    assert after.place.label == row[0]
    hand.take("tip_height", row[0], 47.0)
    assert following(hand.sheet(), at(hand, "tip_height", row[0]), Phase.FINAL) is None
    # another phase begins anew
    assert following(hand.sheet(), at(hand, "tip_height", row[0]), Phase.SERVICE) is not None


def test_the_rock_test_stands_for_the_bores_and_the_stems() -> None:
    hand = Hand(demo_builds()[0])
    for key, value in (("rock", 0.19), ("rock_beyond", 30.0), ("guide_length", 38.0)):
        hand.take(key, "1I-a", value)
    guides = [x for x in left(hand.sheet()) if x.spot.asked.step is Step.GUIDES]
    assert "1I-a" not in {x.spot.place.label for x in guides}
    assert "1I-b" in {x.spot.place.label for x in guides}


def test_an_exchanged_retainer_opens_what_rests_on_it_and_nothing_else() -> None:
    build = demo_builds()[0]
    hand = as_designed(build)
    before = {(x.spot.asked.key, x.spot.place.label) for x in left(hand.sheet())}
    after = left(hand.sheet(change(build, "intake.stack.retainer.code", "R-12")))
    new = {(x.spot.asked.key, x.spot.place.label) for x in after} - before
    assert {key for key, _ in new} == {"open_height", "retainer_mass", "retainer_step", "retainer_depth"}
    assert len(new) == 32
    assert all("I-" in label for _, label in new)
    assert all("Retainer" in x.why for x in after if (x.spot.asked.key, x.spot.place.label) in new)


def test_a_single_spring_asks_for_no_inner() -> None:
    build = change(demo_builds()[0], "intake.stack.pack", "single")
    found = left(Hand(build).sheet())
    assert not any(x.spot.asked.item == "inner" and x.spot.place.side == "intake" for x in found)
    assert any(x.spot.asked.item == "inner" and x.spot.place.side == "exhaust" for x in found)
