"""Who did what; what others touched is stale until we measured it; and by what a head is known again."""

from dataclasses import replace
from datetime import date, timedelta

import pytest

from arcstack.demo import demo_builds
from arcstack.demo.returned import returned_head
from arcstack.errors import FieldError
from arcstack.readings import Cut, Sheet
from arcstack.readings.left import left
from arcstack.readings.recorded import Known, Released, Worked, Worker
from arcstack.record.identity import Likeness, fingerprint, likeness
from arcstack.record.ledger import ledger, since, told
from tests.readings.bench import BY, WHEN, Hand, as_designed

SOUND, _ = demo_builds()
LATER = BY.model_copy(update={"at": WHEN + timedelta(days=3)})
AFTER = BY.model_copy(update={"at": WHEN + timedelta(days=5)})


def work(worker: Worker = Worker.OTHER, day: str = "2026-11-03", places: tuple[str, ...] = (), *steps: str) -> Worked:
    return Worked(
        900, day, worker, "Ember Heads", "seats recut", Known.TOLD, steps or ("Seats and stems",), places, LATER
    )


def measured() -> Hand:
    hand = as_designed(SOUND)
    for place in hand.places:
        hand.take("seat_width", place.label, 1.2)
    return hand


def settled(hand: Hand, label: str, key: str = "seat_width") -> str:
    sheet = hand.sheet()
    found = sheet.settled(next(p for p in sheet.places if p.label == label), key)
    assert found is not None
    return found.stale


def test_work_by_others_makes_what_it_touched_stale_and_nothing_else() -> None:
    hand = measured()
    hand.happened(work(places=("1I-a",)))
    assert settled(hand, "1I-a") == "another shop worked on it on 2026-11-03: seats recut"
    assert settled(hand, "1I-b") == ""
    assert settled(hand, "1I-a", "open_height") == ""
    assert {x.spot.place.label for x in left(hand.sheet()) if x.why.startswith("stale")} == {"1I-a"}


def test_of_the_whole_head_it_is_every_place() -> None:
    hand = measured()
    hand.happened(work())
    assert all(settled(hand, p.label) for p in hand.places)


def test_our_own_work_is_told_of_by_our_own_readings_and_cuts() -> None:
    hand = measured()
    hand.happened(work(Worker.OWN))
    assert settled(hand, "1I-a") == ""


@pytest.mark.parametrize(
    ("day", "stale"), [("2026-11-01", False), ("2026-11-02", True), ("2026-11-03", True), ("", True)]
)
def test_a_reading_surely_taken_after_the_work_holds(day: str, stale: bool) -> None:
    hand = measured()  # read on the 2nd
    hand.happened(work(day=day))
    assert bool(settled(hand, "1I-a")) is stale


def test_a_reading_of_the_same_day_holds_once_the_work_was_told_of_before_it() -> None:
    hand = measured()
    hand.happened(work(day="2026-11-05"))  # told of on the 5th
    assert settled(hand, "1I-a")
    same_day = BY.model_copy(update={"at": WHEN + timedelta(days=3, minutes=5)})
    hand.take("seat_width", "1I-a", 1.21, by=same_day)
    assert settled(hand, "1I-a") == ""
    assert settled(hand, "1I-b")


def test_measured_by_us_since_is_counted_figure_by_figure() -> None:
    hand = measured()
    event = replace(work(Worker.UNKNOWN, "", ("1I-a", "1I-b")), number=hand.next)
    hand.happened(event)
    none, of = since(hand.sheet(), event)
    assert none == 0
    assert of >= 2
    hand.take("seat_width", "1I-a", 1.25, by=AFTER)
    assert settled(hand, "1I-a") == ""
    assert since(hand.sheet(), event) == (1, of)


def test_a_spring_that_stood_there_is_touched_with_its_place() -> None:
    hand = measured()
    hand.happened(work(Worker.OTHER, "2026-11-03", ("1I-a",), "Springs"))
    sheet = hand.sheet()
    here, there = (sheet.of_item(f"O-{label}", "outer.solid") for label in ("1I-a", "1I-b"))
    assert here is not None
    assert here.stale
    assert there is not None
    assert not there.stale


def test_the_ledger_tells_everything_newest_first_and_marks_a_claim() -> None:
    hand = measured()
    hand.happened(work())
    hand.happened(Cut(901, "1I-a", 0.05, 0.1, 0.0, AFTER))
    hand.happened(Released(902, 3, 1, 1, "x", "Ilse", (), "5,000 km", AFTER))
    rows = ledger(hand.sheet())
    assert [r.day for r in rows] == sorted((r.day for r in rows), reverse=True)
    told_of = next(r for r in rows if r.work is not None)
    assert told_of.claim
    assert told_of.since is not None
    assert told_of.since[0] == 0
    assert "0.05 mm off the face, 0.10 mm off the seat at 1I-a" in [r.what for r in rows]
    assert any("readings, final" in r.what and "height micrometer 2" in r.what for r in rows)
    assert not any(r.claim for r in rows if r.work is None)


@pytest.mark.parametrize(
    ("change", "words"),
    [({"done": ""}, "What was done"), ({"day": "2026-11-30"}, "still to come"), ({"name": ""}, "Which shop"),
     ({"touched": ("Nothing",)}, "no step")],
)  # fmt: skip
def test_work_that_cannot_be_written_down(change: dict[str, object], words: str) -> None:
    with pytest.raises(FieldError, match=words):
        told(replace(work(), **change), date(2026, 11, 29))  # type: ignore[arg-type]


def test_a_fingerprint_has_ten_numbers_and_says_from_how_many_places() -> None:
    bare = fingerprint(Sheet(SOUND))
    assert len(bare) == 10
    assert all(s.value is None and s.read == 0 for s in bare)
    hand = Hand(SOUND)
    own = [p for p in hand.places if p.side == "intake"]
    for n, place in enumerate(own):
        hand.take("tip_height", place.label, 44.0 + 0.01 * n)
    found = {s.label: s for s in fingerprint(hand.sheet())}
    mean, spread = found["Intake, tip height, mean"], found["Intake, tip height, spread"]
    assert mean.value == pytest.approx(44.0 + 0.01 * (len(own) - 1) / 2)
    assert spread.value == pytest.approx(0.01 * (len(own) - 1))
    assert (mean.read, mean.of) == (len(own), len(own))


def test_two_heads_are_held_against_each_other_number_by_number() -> None:
    hand, other = as_designed(SOUND), as_designed(SOUND)
    for h, off in ((hand, 0.0), (other, 0.2)):
        for n, place in enumerate(h.places):
            h.take("tip_height", place.label, 44.0 + 0.01 * n + off)
    one, two = fingerprint(hand.sheet()), fingerprint(other.sheet())
    assert likeness(one, one).alike == likeness(one, one).shared
    found = likeness(one, two)
    assert found.shared - found.alike == 2
    assert likeness(one, fingerprint(Sheet(SOUND))) == Likeness(0, 0)


def test_the_returned_head_has_its_own_ledger() -> None:
    rows = ledger(Sheet(*returned_head()))
    assert any(r.what.startswith("Received: “") for r in rows)
