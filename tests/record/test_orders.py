"""Lines on order: received, inspected, substituted, and what stands against a release."""

from datetime import date

import pytest

from arcstack.assess import assess
from arcstack.demo import demo_builds
from arcstack.document import Sitting, change
from arcstack.errors import FieldError
from arcstack.readings.recorded import Arrived, Inspected, Ordered, OrderOff, Substituted
from arcstack.record.orders import State, arrived, inspected, line, lines, opens, ordered

BY = Sitting(hand="ada")
SOUND, _ = demo_builds()
LINE = Ordered(
    1, "outer spring", ("1I-a",), 8, "lost load", "Marrow Springs", "2026-03-01", "2026-03-10", BY, "390 N at 36 mm"
)


def state(*events: object) -> State:
    return lines([LINE, *events])[0].state


def test_a_line_goes_from_ordered_to_inspected() -> None:
    some, rest = Arrived(2, 1, 5, BY), Arrived(3, 1, 3, BY)
    good = Inspected(4, 1, "388 to 392 N", True, BY)
    assert state() is State.ORDERED
    assert state(some) is State.PART_CAME
    assert state(some, rest) is State.CAME
    assert state(some, rest, good) is State.PASSED
    assert state(some, rest, Inspected(4, 1, "340 N", False, BY)) is State.TURNED_AWAY
    assert state(some, OrderOff(5, 1, "not wanted", BY)) is State.OFF
    assert [lines([LINE, *e])[0].open for e in ((), (some, rest), (some, rest, good), (OrderOff(5, 1, "x", BY),))] == [
        True, True, False, False,
    ]  # fmt: skip


def test_what_was_measured_before_a_substitute_is_no_evidence_of_it() -> None:
    events = [
        Arrived(2, 1, 8, BY), Inspected(3, 1, "390 N", True, BY), Substituted(4, 1, "Tern 5", "intake", "outer", (), BY),
    ]  # fmt: skip
    assert state(*events) is State.ORDERED
    assert state(*events, Arrived(5, 1, 8, BY)) is State.CAME
    assert state(*events, Arrived(5, 1, 8, BY), Inspected(6, 1, "391 N", True, BY)) is State.PASSED


@pytest.mark.parametrize(("day", "late"), [(date(2026, 3, 10), 0), (date(2026, 3, 11), 1), (date(2026, 3, 2), 0)])
def test_late_is_counted_past_its_day(day: date, late: int) -> None:
    assert lines([LINE])[0].late(day) == late
    assert lines([LINE, Arrived(2, 1, 8, BY)])[0].late(date(2027, 1, 1)) == 0


def test_no_more_comes_in_than_was_ordered_and_none_is_measured_before_it_is_here() -> None:
    found = lines([LINE, Arrived(2, 1, 5, BY)])[0]
    with pytest.raises(FieldError, match="3 of 8 are still to come"):
        arrived(found, Arrived(0, 1, 4, BY))
    assert arrived(found, Arrived(0, 1, 3, BY)).count == 3
    with pytest.raises(FieldError, match="5 of 8 are in"):
        inspected(found, Inspected(0, 1, "390 N", True, BY))
    all_in = lines([LINE, Arrived(2, 1, 8, BY)])[0]
    with pytest.raises(FieldError, match="All of them are in"):
        arrived(all_in, Arrived(0, 1, 1, BY))
    with pytest.raises(FieldError, match="only looked at"):
        inspected(all_in, Inspected(0, 1, "", True, BY))


@pytest.mark.parametrize(
    ("change_", "words"),
    [
        ({"part": ""}, "Which part"), ({"why": ""}, "why is it wanted"), ({"count": 0}, "How many"),
        ({"count": 5_001}, "How many"), ({"due": "2026-02-27"}, "before it is ordered"), ({"price": -1.0}, "price"),
    ],
)  # fmt: skip
def test_lines_that_cannot_be_taken(change_: dict[str, object], words: str) -> None:
    with pytest.raises(FieldError, match=words):
        ordered(Ordered(**(vars(LINE) | change_)))
    with pytest.raises(FieldError, match="no such line"):
        line([LINE, OrderOff(2, 1, "x", BY)], 1)


def test_a_substitute_lists_every_check_it_moves_and_none_that_it_does_not() -> None:
    now = assess(SOUND)
    soft = change(SOUND, "intake.stack.retainer.mass", "60 g")
    found = opens(now, assess(soft), "intake", "retainer")
    moved = {m.after.id for m in found.moved}
    assert {"control.separation", "control.force_reserve"} <= moved
    assert "guide.clearance" not in moved
    assert "piston.clearance" not in moved
    assert {m.after.side for m in found.moved} == {"intake"}
    # a fail and a pass apart, and what only moves behind them
    assert [m.turns for m in found.moved] == [m.before.level != m.after.level for m in found.moved]
    assert {m.turns for m in found.moved} == {True, False}
    turns = [m.turns for m in found.moved]
    assert turns == sorted(turns, reverse=True)
    assert any(w.startswith("Separation, intake") for w in found.words)
    assert opens(now, now, "intake", "retainer").moved == ()
