"""A head that does not exist: the same by the same seed, wrong only where a fault was planted."""

import math
from dataclasses import replace

import pytest

from arcstack.application.starts import template
from arcstack.assess import assess
from arcstack.assess.built import built
from arcstack.checks import Level
from arcstack.readings import FaultNamed, Phase, Sheet, Taught
from arcstack.readings.lash_history import Caused
from arcstack.readings.learning import Fault, Truth, head_for, seen, served_before, sound_head, true_sheet, truth
from arcstack.readings.lessons import LESSONS, SPOILS, Kind
from arcstack.readings.mock_up import Moved, Pass, Pushed
from arcstack.readings.outcomes import Outcome, false_alarms, outcome, until_the_end
from arcstack.trials.lashing import judged
from tests.readings.bench import BY, Hand

HEAD = template("bucket")


def test_the_same_seed_is_the_same_head() -> None:
    assert truth(HEAD, "whole", 7) == truth(HEAD, "whole", 7)
    assert truth(HEAD, "whole", 7).values != truth(HEAD, "whole", 8).values


@pytest.mark.parametrize("lesson", LESSONS)
def test_every_planted_fault_spoils_a_check_where_it_is_and_a_lesson_has_one_of_each_named(lesson: str) -> None:
    head = head_for(lesson, HEAD)
    assert all(v.level is not Level.FAIL for v in assess(head).verdicts if v.id.startswith(("piston", "phaser")))
    for seed in (1, 2, 3):
        hidden = truth(head, lesson, seed)
        assert [f.kind for f in hidden.faults] == list(LESSONS[lesson].faults)
        true = true_sheet(head, hidden, BY)
        really = built(assess(true.build), true)
        for fault in hidden.faults:
            if fault.kind is Kind.TIMED:
                # a cam out of its place spoils what it comes near to, one that is late may well clear everything
                assert abs(hidden.mocked.early_rad[fault.place]) > math.radians(1.9)
                continue
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
    assert outcome(fault, hand.sheet(), hidden) is Outcome.MISSED
    hand.take("runout", fault.place, 0.11)
    assert outcome(fault, hand.sheet(), hidden) is Outcome.SUSPECTED
    # a note is no name, a cut or another fault neither
    hand.take("runout", fault.place, 0.11, note="x")
    hand.happened(FaultNamed(90, Kind.LEAK.value, fault.place, BY))
    assert outcome(fault, hand.sheet(), hidden) is Outcome.SUSPECTED
    hand.happened(FaultNamed(91, fault.kind.value, fault.place, BY))
    assert outcome(fault, hand.sheet(), hidden) is Outcome.FOUND
    assert [n.fault for n in false_alarms(hand.sheet(), hidden)] == [Kind.LEAK.value]
    hand.happened(FaultNamed(92, fault.kind.value, fault.place, BY, off=True))
    hand.happened(FaultNamed(93, Kind.LEAK.value, fault.place, BY, off=True))
    assert outcome(fault, hand.sheet(), hidden) is Outcome.SUSPECTED
    assert false_alarms(hand.sheet(), hidden) == ()


def test_what_is_said_once_the_truth_was_shown_counts_for_nothing() -> None:
    hidden = truth(HEAD, "zero", 3)
    fault = hidden.faults[0]
    hand = Hand(HEAD)
    hand.take("runout", fault.place, 0.11)
    after = hand.sheet()
    end = max(r.number for r in after.readings) + 1
    events = [Taught(end, "zero", 3, BY, True), FaultNamed(end + 1, fault.kind.value, fault.place, BY)]
    whole = Sheet(HEAD, after.readings, [*after.events, *events])
    assert outcome(fault, whole, hidden) is Outcome.FOUND
    assert outcome(fault, until_the_end(whole), hidden) is Outcome.SUSPECTED
    late = Sheet(HEAD, [replace(r, number=end + 2) for r in after.readings], events)
    assert outcome(fault, until_the_end(late), hidden) is Outcome.MISSED
    assert until_the_end(after) is after


def test_a_spring_that_is_left_out_is_found_and_one_that_is_put_is_only_suspected() -> None:
    hidden = truth(HEAD, "springs", 3)
    early = next(f for f in hidden.faults if f.kind is Kind.EARLY)
    hand = Hand(HEAD)
    hand.take("outer.solid", "1I-a", 23.0, item=early.item)
    # while none is put, none is left out
    assert outcome(early, hand.sheet(), hidden) is Outcome.SUSPECTED
    hand.put("O-OTHER", "outer", "2I-a")
    assert outcome(early, hand.sheet(), hidden) is Outcome.FOUND
    hand.put(early.item, "outer", early.place)
    assert outcome(early, hand.sheet(), hidden) is Outcome.SUSPECTED


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


# -- an engine that is turned


def mocked(lesson: str, seed: int = 3) -> tuple[Fault, Truth, str]:
    hidden = truth(HEAD, lesson, seed)
    return hidden.faults[0], hidden, hidden.faults[0].place


def test_a_cam_is_found_once_it_was_read_and_moved_to_its_place() -> None:
    fault, hidden, side = mocked("timing")
    early = hidden.mocked.early_rad[side]
    taken = Pass(1, side, "1I-a", 1.0, 0.1, 0.7, None, 0.0, BY)

    def stands(*events: object) -> Outcome:
        return outcome(fault, Sheet(HEAD, [], [replace(e, number=n) for n, e in enumerate(events, 1)]), hidden)  # type: ignore[type-var]

    assert stands() is Outcome.MISSED
    assert stands(taken) is Outcome.SUSPECTED
    right, wrong = Moved(2, side, -early / 2.0, BY), Moved(2, side, early / 2.0, BY)
    assert stands(taken, right) is Outcome.FOUND
    # turned the other way the error doubles; moved back again twice it is right
    assert stands(taken, wrong) is Outcome.SUSPECTED
    assert stands(taken, wrong, right, right) is Outcome.FOUND
    # the other side's cam is another, and moved unread it is luck
    other = "exhaust" if side == "intake" else "intake"
    assert stands(taken, Moved(2, other, -early / 2.0, BY)) is Outcome.SUSPECTED
    assert stands(right) is Outcome.MISSED


def test_a_tight_chamber_is_found_once_it_was_pushed_and_named() -> None:
    fault, hidden, side = mocked("phaser")
    assert 1.2 <= hidden.mocked.tight_mm[side] <= 1.6
    push = [Pushed(1, side, "1I-a", 0.0, 4.0, 2.0, BY)]
    said = FaultNamed(2, fault.kind.value, side, BY)
    assert outcome(fault, Sheet(HEAD, [], [said]), hidden) is Outcome.MISSED
    assert outcome(fault, Sheet(HEAD, [], push), hidden) is Outcome.SUSPECTED
    assert outcome(fault, Sheet(HEAD, [], [*push, replace(said, where="exhaust")]), hidden) is Outcome.SUSPECTED
    assert outcome(fault, Sheet(HEAD, [], [*push, said]), hidden) is Outcome.FOUND


@pytest.mark.parametrize("key", ["vacuum", "tip_height", "open_height", "seat_width"])
def test_what_the_shop_before_read_is_no_reading_of_the_learners(key: str) -> None:
    fault, hidden, place = mocked("lash")
    hand = Hand(HEAD)
    hand.take(key, place, 1.0, by=BY.model_copy(update={"hand": "the shop before you"}))
    hand.happened(Caused(1, place, "seat recession", "seat 0.7 wide", BY))
    assert outcome(fault, hand.sheet(), hidden) is Outcome.MISSED


def test_a_sinking_valve_closes_over_three_services_and_is_found_by_its_seat_and_its_cause() -> None:
    fault, hidden, place = mocked("lash")
    rows = served_before(HEAD, hidden)
    hand = Hand(HEAD)
    for key, at, text, service in rows:
        hand.take(key, at, float(text.split()[0]), phase=Phase.SERVICE if service else Phase.FINAL, service=service,
                  by=BY.model_copy(update={"hand": "the shop before you"}))  # fmt: skip
    ctx = assess(HEAD).sides["intake" if "I-" in place else "exhaust"]
    told = {p.label: judged(ctx, hand.sheet().lash_of(p)) for p in hand.places}
    assert [label for label, (level, _) in told.items() if level is not Level.CLEAR] == [place]
    assert "closed 0.19 mm in 3 services" in told[place][1]
    assert outcome(fault, hand.sheet(), hidden) is Outcome.MISSED
    hand.take("vacuum", place, hidden.values[place, "vacuum"])
    assert outcome(fault, hand.sheet(), hidden) is Outcome.SUSPECTED
    hand.happened(Caused(1, place, "read wrong", "again", BY))
    assert outcome(fault, hand.sheet(), hidden) is Outcome.SUSPECTED
    hand.happened(Caused(2, place, "seat recession", "seat 0.7 wide", BY))
    assert outcome(fault, hand.sheet(), hidden) is Outcome.FOUND
    assert served_before(HEAD, truth(HEAD, "heights", 3)) == []
