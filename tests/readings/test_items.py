"""Valves and buckets by their serials: what was read goes with them, or is read again where they went."""

import random
from dataclasses import replace

import pytest

from arcstack.assess import assess
from arcstack.assess.built import Built, built
from arcstack.demo import demo_builds
from arcstack.document.places import Place
from arcstack.readings import Cut, Phase, Waived
from arcstack.readings.asked import ASKED
from arcstack.readings.exchange import Follows, exchanged
from arcstack.readings.left import Spot, following
from arcstack.readings.sheet import Sheet, rests_at
from tests.readings.bench import BY, Hand


def taken(hand: Hand, key: str, place: Place, value: float, phase: Phase = Phase.FINAL, **more: object) -> int:
    sheet = hand.sheet()
    return hand.take(key, place.label, value, phase, rests=rests_at(sheet, place, ASKED[key]),
                     cuts=len(sheet.cut_at(place.label, key)), **more)  # fmt: skip


def swapped(hand: Hand, sort: str, one: Place, other: Place) -> None:
    a, b = (hand.sheet().item_at(p.label, sort) for p in (one, other))
    hand.put(a, sort, other.label)
    hand.put(b, sort, one.label)


@pytest.fixture
def hand() -> Hand:
    return Hand(demo_builds()[0])


def test_a_valve_takes_its_mass_along_and_leaves_its_runout_to_be_read_again(hand: Hand) -> None:
    one, other = hand.places[:2]
    hand.put("V-1", "valve", one.label)
    hand.put("V-2", "valve", other.label)
    taken(hand, "valve_mass", one, 0.0501)
    taken(hand, "valve_mass", other, 0.0523)
    taken(hand, "runout", one, 0.012)
    swapped(hand, "valve", one, other)
    sheet = hand.sheet()
    masses = {p.label: s.value for p in (one, other) if (s := sheet.settled(p, "valve_mass"))}
    assert masses == {one.label: 0.0523, other.label: 0.0501}
    runout = sheet.settled(one, "runout")
    assert runout is not None
    assert runout.stale == "Valve V-1 stood there and V-2 does"
    assert sheet.settled(other, "runout") is None


def test_a_valve_out_of_the_head_is_counted_nowhere(hand: Hand) -> None:
    one = hand.places[0]
    hand.put("V-1", "valve", one.label)
    taken(hand, "valve_mass", one, 0.0501)
    hand.put("V-1", "valve", "")
    assert hand.sheet().settled(one, "valve_mass") is None


def test_a_serial_given_later_leaves_readings_standing_until_that_valve_moves(hand: Hand) -> None:
    one, other = hand.places[:2]
    taken(hand, "tip_height", one, 47.2)
    hand.put("V-1", "valve", one.label)
    hand.put("V-2", "valve", other.label)
    first = hand.sheet().settled(one, "tip_height")
    assert first is not None
    assert first.stale == ""
    swapped(hand, "valve", one, other)
    later = hand.sheet().settled(one, "tip_height")
    assert later is not None
    assert later.stale == "Valve V-1 stood there and V-2 does"


def test_what_was_cut_off_a_face_stays_off_that_valve_wherever_it_goes(hand: Hand) -> None:
    one, other = hand.places[:2]
    hand.put("V-1", "valve", one.label)
    hand.put("V-2", "valve", other.label)
    taken(hand, "margin", one, 1.40)
    taken(hand, "margin", other, 1.50)
    hand.happened(Cut(9, one.label, 0.10, 0.20, 0.0, BY, valve="V-1"))
    swapped(hand, "valve", one, other)
    head = built(assess(hand.build), hand.sheet())

    def margin(place: Place) -> float:
        entry = head.contexts[place.label].side.stack.valve.margin
        assert entry is not None
        return float(entry.value)  # type: ignore[union-attr]

    assert margin(other) == pytest.approx(1.30)
    assert margin(one) == pytest.approx(1.50)


@pytest.mark.parametrize(
    ("first", "again", "follows"),
    [
        # bad seat at the second place: whatever valve is laid there leaks
        ((0.84, 0.61), (0.83, 0.60), Follows.PLACE),
        # bad valve: the leak goes where it goes
        ((0.84, 0.61), (0.62, 0.83), Follows.VALVE),
        # both a little
        ((0.84, 0.61), (0.74, 0.73), Follows.BOTH),
    ],
)
def test_an_exchange_tells_whether_the_leak_follows_the_valve(
    hand: Hand, first: tuple[float, float], again: tuple[float, float], follows: Follows
) -> None:
    one, other = hand.places[:2]
    hand.put("V-1", "valve", one.label)
    hand.put("V-2", "valve", other.label)
    for place, value in zip((one, other), first, strict=True):
        taken(hand, "vacuum", place, value, resolution=0.01)
    assert exchanged(hand.sheet(), one, "vacuum") is None
    swapped(hand, "valve", one, other)
    taken(hand, "vacuum", one, again[0], resolution=0.01)
    assert exchanged(hand.sheet(), one, "vacuum") is None
    taken(hand, "vacuum", other, again[1], resolution=0.01)
    for place in (one, other):
        found = exchanged(hand.sheet(), place, "vacuum")
        assert found is not None
        assert found.follows is follows
    assert exchanged(hand.sheet(), hand.places[2], "vacuum") is None


def test_two_that_read_alike_leave_nothing_to_explain(hand: Hand) -> None:
    one, other = hand.places[:2]
    hand.put("V-1", "valve", one.label)
    hand.put("V-2", "valve", other.label)
    for _ in range(2):
        taken(hand, "vacuum", one, 0.84, resolution=0.01)
        taken(hand, "vacuum", other, 0.83, resolution=0.01)
        swapped(hand, "valve", one, other)
    assert exchanged(hand.sheet(), one, "vacuum") is None


def test_a_second_service_is_read_anew_and_stands_before_the_first(hand: Hand) -> None:
    one, other = hand.places[:2]
    for place in hand.places:
        taken(hand, "tip_height", place, 47.20, Phase.SERVICE, service=1)
    assert following(hand.sheet(), Spot(ASKED["tip_height"], one), Phase.SERVICE, 1) is None
    after = following(hand.sheet(), Spot(ASKED["tip_height"], one), Phase.SERVICE, 2)
    assert after is not None
    taken(hand, "tip_height", one, 47.05, Phase.SERVICE, service=2)
    values = [s.value for p in (one, other) if (s := hand.sheet().settled(p, "tip_height"))]
    assert values == [47.05, 47.20]


def stands(head: Built) -> list[object]:
    return [
        [(a.check, p.label, v.level, v.figure and v.figure.value, v.proven, a.measured) for p, v in a.at]
        for side in head.sides.values()
        for a in side
    ] + [[(v.id, v.level, v.figure and v.figure.value, v.note) for v in side] for side in head.sets.values()]


@pytest.mark.parametrize("seed", range(3))
def test_what_is_kept_of_a_head_is_what_it_would_be_worked_anew(hand: Hand, seed: int) -> None:
    """Readings, exchanges, cuts, waivers and changes of the design in any order: nothing kept is out of date."""
    choose = random.Random(seed)
    design, kept = assess(hand.build), None
    for n, place in enumerate(hand.places):
        hand.put(f"V-{n}", "valve", place.label)
        hand.put(f"O-{n}", "outer", place.label)
    for _ in range(14):
        place, other = choose.sample([p for p in hand.places if p.side == choose.choice(("intake", "exhaust"))], 2)
        match choose.randrange(7):
            case 0:
                taken(hand, "open_height", place, 36.7 + choose.random() * 0.2)
            case 1:
                taken(hand, choose.choice(("tip_height", "valve_mass", "vacuum", "margin")), place, choose.random())
            case 2:
                swapped(hand, choose.choice(("valve", "outer")), place, other)
            case 3:
                hand.happened(Cut(0, place.label, 0.1, 0.05, 0.0, BY, valve=hand.sheet().item_at(place.label, "valve")))
            case 4:
                hand.happened(Waived(0, "stack.installed_height", place.side, place.label, "ran", "x", "", BY))
            case 5:
                hand.take("outer.solid", place.label, 22.0 + choose.random(), item=choose.choice(("O-1", "O-3")))
            case _ if hand.readings:
                last = choose.choice(hand.readings)
                gone = replace(last, number=hand.next, replaces=last.number, void=True)
                hand.readings.append(gone)
        kept = built(design, hand.sheet(), kept)
        assert stands(kept) == stands(built(design, hand.sheet()))


def test_a_sheet_knows_which_side_an_item_belongs_to(hand: Hand) -> None:
    hand.put("V-9", "valve", "2E-a")
    hand.put("V-9", "valve", "")
    sheet = hand.sheet()
    assert (sheet.side_of("V-9"), sheet.place_of("V-9"), sheet.side_of("V-8")) == ("exhaust", None, "")
    assert isinstance(sheet, Sheet)
