"""A head that does not exist: the same by the same seed, wrong only where a fault was planted."""

import pytest

from arcstack.assess import assess
from arcstack.assess.built import built
from arcstack.checks import Level
from arcstack.readings.learning import LESSONS, SPOILS, Kind, Outcome, outcome, true_sheet, truth
from arcstack.services.starts import template
from tests.readings.bench import BY, Hand

HEAD = template("bucket")


def test_the_same_seed_is_the_same_head() -> None:
    assert truth(HEAD, "whole", 7) == truth(HEAD, "whole", 7)
    assert truth(HEAD, "whole", 7).values != truth(HEAD, "whole", 8).values


@pytest.mark.parametrize("lesson", LESSONS)
def test_every_planted_fault_spoils_a_check_where_it_is_and_a_lesson_has_one_of_each_named(lesson: str) -> None:
    for seed in (1, 2, 3):
        hidden = truth(HEAD, lesson, seed)
        assert [f.kind for f in hidden.faults] == list(LESSONS[lesson].faults)
        really = built(assess(HEAD), true_sheet(HEAD, hidden, BY))
        for fault in hidden.faults:
            side = "exhaust" if fault.place == "exhaust" or "E-" in fault.place else "intake"
            levels = [
                v.level
                for across in really.sides[side]
                if across.check in SPOILS[fault.kind]
                for p, v in across.at
                if fault.place in (p.label, p.side)
            ]
            assert levels, fault
            if fault.kind is Kind.WEAK:
                loads = sorted(
                    v
                    for (w, f), v in hidden.values.items()
                    if f == "outer.load_1" and (("E-" in w) == (side == "exhaust"))
                )
                assert hidden.values[fault.item, "outer.load_1"] == loads[0] < 0.93 * loads[len(loads) // 2]
                continue
            assert any(level is not Level.CLEAR for level in levels), fault


def test_a_sound_place_of_a_lesson_seals_and_runs_true() -> None:
    hidden = truth(HEAD, "heights", 4)
    really = built(assess(HEAD), true_sheet(HEAD, hidden, BY))
    for check in ("seat.vacuum", "seat.vacuum_decay", "valve.runout", "guide.clearance"):
        for side in ("intake", "exhaust"):
            assert {v.level for _, v in really.across(check, side).at} <= {Level.CLEAR, Level.TIGHT}, check


def test_nothing_is_found_unread_and_a_reading_alone_is_a_suspicion() -> None:
    hidden = truth(HEAD, "zero", 3)
    fault = hidden.faults[0]
    assert fault.kind is Kind.BENT
    hand = Hand(HEAD)
    assert outcome(fault, hand.sheet()) is Outcome.MISSED
    hand.take("runout", fault.place, 0.11)
    assert outcome(fault, hand.sheet()) is Outcome.SUSPECTED
    hand.take("runout", fault.place, 0.11, note="bent: goes back")
    assert outcome(fault, hand.sheet()) is Outcome.FOUND


def test_a_spring_that_is_left_out_is_found_and_one_that_is_put_is_only_suspected() -> None:
    hidden = truth(HEAD, "springs", 3)
    early = next(f for f in hidden.faults if f.kind is Kind.EARLY)
    hand = Hand(HEAD)
    hand.take("outer.solid", "1I-a", 23.0, item=early.item)
    # while none is put, none is left out
    assert outcome(early, hand.sheet()) is Outcome.SUSPECTED
    hand.put("O-OTHER", "outer", "2I-a")
    assert outcome(early, hand.sheet()) is Outcome.FOUND
    hand.put(early.item, "outer", early.place)
    assert outcome(early, hand.sheet()) is Outcome.SUSPECTED
