"""A head that does not exist: the same by the same seed, wrong only where a fault was planted."""

import pytest

from arcstack.assess import assess
from arcstack.assess.built import built
from arcstack.checks import Level
from arcstack.readings.learning import LESSONS, SPOILS, Kind, Outcome, outcome, seen, sound_head, true_sheet, truth
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


def test_an_instrument_meets_the_head_as_it_lies() -> None:
    """Shims that were laid move the installed height; a bent valve takes its leak along, a leaking seat keeps its own."""
    hidden = truth(HEAD, "whole", 5)
    at = {f.kind: f.place for f in hidden.faults}
    bent, leak = at[Kind.BENT], at[Kind.LEAK]
    other = next(p.label for p in Hand(HEAD).places if p.label not in at.values() and p.label[1] == bent[1])
    hand = Hand(HEAD)
    assert seen(hidden, hand.sheet(), other, "installed_height") == hidden.of(other, "installed_height")
    hand.take("shims", other, 0.75, typed="0.50 + 0.25 mm")
    height = hidden.of(other, "open_height")
    assert height is not None
    assert seen(hidden, hand.sheet(), other, "installed_height") == pytest.approx(height - 0.75)
    assert seen(hidden, hand.sheet(), other, "shims") == 0.75
    hand.put("V-1", "valve", bent)
    hand.put("V-2", "valve", other)
    assert seen(hidden, hand.sheet(), bent, "vacuum") == 0.70
    hand.put("V-1", "valve", other)
    hand.put("V-2", "valve", bent)
    sheet = hand.sheet()
    assert (seen(hidden, sheet, other, "vacuum"), seen(hidden, sheet, other, "runout")) == (0.70, 0.11)
    assert seen(hidden, sheet, bent, "vacuum") == hidden.of(other, "vacuum")
    assert seen(hidden, sheet, bent, "valve_mass") == hidden.of(other, "valve_mass")
    assert seen(hidden, sheet, bent, "tip_height") == hidden.of(bent, "tip_height")
    # the seat that leaks, whatever valve is laid on it
    hand.put("V-3", "valve", leak)
    hand.put("V-1", "valve", leak)
    assert seen(hidden, hand.sheet(), leak, "vacuum") == 0.64
    assert seen(hidden, hand.sheet(), "O-1I-A", "outer.solid") == hidden.of("O-1I-A", "outer.solid")


def test_a_sound_head_has_spreads_and_no_fault() -> None:
    hidden = sound_head(HEAD, 3)
    assert hidden.faults == ()
    assert sound_head(HEAD, 3) == hidden != sound_head(HEAD, 4)
    line = hidden.pressed("O-1I-A", "outer", 30.0), hidden.pressed("O-1I-A", "outer", 29.0)
    assert line[0] is not None
    assert line[1] is not None
    assert line[1] > line[0]
    assert hidden.of("O-1I-A", "outer@30.00") == line[0]
    assert hidden.pressed("O-9I-A", "outer", 30.0) is None
