"""The build's own record as a witness: what it says for and against each cause, and what it cannot say."""

from dataclasses import replace

import pytest

from arcstack.assess import assess
from arcstack.assess.built import built
from arcstack.demo import demo_builds
from arcstack.demo.returned import LEFT, SINKS, returned_head, served_head
from arcstack.document import Build, change
from arcstack.document.places import places
from arcstack.readings import Event, Reading, Sheet
from arcstack.readings.assembling import State, Stepped
from arcstack.readings.lash_history import Served
from arcstack.readings.returning import findings, received
from arcstack.readings.sent_on import SentOn
from arcstack.units import System
from arcstack.wear.diagnosis import diagnose
from arcstack.wear.order import order_of
from arcstack.wear.witness import Witness, of_cause, signs_by_record, witnesses
from tests.readings.bench import BY, as_designed

SOUND, FAILING = demo_builds()


def told(build: Build, readings: list[Reading] | None = None, events: list[Event] | None = None) -> tuple[Witness, ...]:
    design, sheet = assess(build), Sheet(build, readings or [], events or [])
    return witnesses(design, built(design, sheet), sheet)


def record(build: Build, readings: list[Reading], events: list[Event]) -> tuple[str, ...]:
    design, sheet = assess(build), Sheet(build, readings, events)
    return signs_by_record(built(design, sheet), sheet, design)


def test_what_is_clear_on_paper_alone_is_no_witness_against_anything() -> None:
    assert {t.speaks for t in told(SOUND)} == {0}


def test_what_fails_on_paper_already_speaks_for_its_cause_with_its_figure() -> None:
    solid = [t for t in of_cause(told(FAILING), "goes_solid") if t.speaks]
    assert [(t.check, t.side) for t in solid] == [("spring.reserve.inner", "intake")]
    assert solid[0].words == "Inner reserve, intake: −0.29 mm, at least 1.50 mm, fail, on paper"
    assert of_cause(told(FAILING), "goes_solid")[0].speaks == 1


def test_what_was_measured_at_every_place_and_is_clear_speaks_against() -> None:
    hand = as_designed(SOUND)
    against = [t for t in told(SOUND, hand.readings, hand.events) if t.speaks < 0]
    assert {t.cause for t in against} == {"on_seal"}
    assert all("on paper" not in t.words for t in against)
    assert any(t.place for t in against)


def test_what_is_of_the_whole_engine_is_told_once_and_at_no_valve() -> None:
    oil = [t for t in told(SOUND) if t.check in ("oil.return", "oil.spray", "life.limiter")]
    assert len(oil) == 3
    assert all(" at 1" not in t.words and "intake" not in t.words for t in oil)


def test_a_value_that_reads_as_its_limit_is_told_to_one_more_place() -> None:
    assert any("0.072, at most 0.070, fail" in t.words for t in told(*returned_head()))


def test_the_record_speaks_in_the_units_of_its_reader() -> None:
    build, readings, events = returned_head()
    design, sheet = assess(build), Sheet(build, readings, events)
    inches = witnesses(design, built(design, sheet), sheet, System.INCH)
    assert any(
        t.words == "Seat load at 1I-a: 71.5 lbf, at least 58.5 lbf and at most 103.4 lbf, clear, on paper"
        for t in inches
    )
    assert not any(" N," in t.words or " mm" in t.words for t in inches if t.check != "lash.trend")


def test_lash_that_closed_testifies_with_every_step_and_lash_that_held_speaks_against() -> None:
    build, readings, events = served_head()
    (lash,) = [t for t in told(build, readings, events) if t.check == "lash.trend"]
    assert (lash.cause, lash.speaks, lash.place) == ("load_lost", 1, "1I-a")
    assert lash.words.startswith("Lash at 1I-a closed by 0.05 mm, 0.08 mm, 0.13 mm in all")
    held = [r for r in readings if r.place not in SINKS]
    (calm,) = [t for t in told(build, held, events) if "Lash held" in t.words]
    assert (calm.speaks, calm.words) == (-1, f"Lash held its place at {16 - len(SINKS)} valves over services")
    assert not [t for t in told(build, [r for r in readings if r.service == 0]) if "Lash" in t.words and t.speaks < 0]


def test_limiter_events_are_counted_over_every_service() -> None:
    build, readings, events = served_head()
    assert "212 limiter events since it was built" in [t.words for t in told(build, readings, events)]
    none = [replace(e, limiter_events=None) if isinstance(e, Served) else e for e in events]
    assert not [t for t in told(build, readings, none) if "limiter events" in t.words]


@pytest.mark.parametrize(
    ("states", "speaks", "words"),
    [
        ([State.DONE, State.DONE], -1, "Every step of its assembly was closed"),
        ([State.DONE, State.SKIPPED], 1, "1 steps were skipped and 0 were left open"),
        ([State.DOING, State.REOPENED], 1, "0 steps were skipped and 2 were left open"),
    ],
)
def test_an_assembly_testifies_by_the_steps_that_were_closed(states: list[State], speaks: int, words: str) -> None:
    events: list[Event] = [Stepped(n, f"s{n}", state, BY) for n, state in enumerate(states)]
    (own,) = [t for t in told(SOUND, [], events) if "assembly" in t.words]
    assert (own.cause, own.speaks) == ("wrong_assembly", speaks)
    assert words in own.words
    assert not [t for t in told(SOUND, [], [Stepped(1, "back:whole", State.DONE, BY)]) if "assembly" in t.words]


def test_readings_show_signs_by_themselves() -> None:
    build, readings, events = served_head()
    assert record(build, readings, events) == ("lash_closing",)
    assert record(*returned_head()) == ("lash_closing", "springs_lost")
    _, torn, happened = returned_head()
    kept = [r if r.place or r.value <= 0 else _carrying(r, torn) for r in torn]
    assert record(build, kept, happened) == ("lash_closing", "springs_kept")
    some = [r for r in kept if r.phase.value != "service" or r.item not in ("O05", "I05") or not r.item]
    assert record(build, some, happened) == ("lash_closing",)


def _carrying(reading: Reading, among: list[Reading]) -> Reading:
    """A spring that carries after service what it carried before."""
    first = next(r for r in among if r.item == reading.item and r.key == reading.key)
    return replace(reading, value=first.value, typed=first.typed)


# -- the demo's own head


def test_the_demo_head_reads_as_float_after_seats_sank_with_one_sign_against_it() -> None:
    build, readings, events = returned_head()
    found = diagnose(findings(events), record(build, readings, events))
    assert found.leader is not None
    assert found.runner_up is not None
    assert found.chain is not None
    assert found.began is not None
    assert (found.leader.cause.id, found.leader.points) == ("float", 11.0)
    assert (found.runner_up.cause.id, found.runner_up.points) == ("load_lost", 8.0)
    assert (found.chain.id, found.began.link.title) == ("sinking", "Seats sink")
    assert [s.sign.id for s in found.leader.speaks_against] == ["rings_even"]
    assert found.conflict == ""
    assert set(LEFT) == set(SINKS) <= {p.label for p in places(build)}


def test_a_head_that_was_sent_on_starts_its_next_life_with_nothing_found() -> None:
    _, _, events = returned_head()
    assert received(events) is not None
    later = [*events, SentOn(len(events) + 1, 2, "load lost", BY)]
    assert received(later) is None
    assert findings(later) == ()
    assert not any(s.passed for s in order_of(later))


def test_a_valve_that_is_said_to_be_filled_says_so_in_the_document() -> None:
    assert change(SOUND, "exhaust.stack.valve.filling", "sodium-filled").side("exhaust").stack.valve.filling.value == (
        "sodium-filled"
    )
