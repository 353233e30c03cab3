"""What becomes of parts: what each choice asks for first, what stops it, and remedies that tempt."""

from datetime import timedelta

import pytest

from arcstack.assess import assess
from arcstack.demo import demo_builds
from arcstack.document import Build, Sitting, change
from arcstack.document.model import Decision
from arcstack.document.places import places
from arcstack.errors import FieldError
from arcstack.readings import Phase
from arcstack.readings.returning import Disposed, Found, Look, Severity, What, cause_at, disposed, named
from arcstack.wear.dispositions import asks, by_set, cautions, dispose, kinds, name_cause, take_remedy, worn
from arcstack.wear.report import summary
from arcstack.wear.signs import causes, remedies
from tests.readings.bench import WHEN, Hand

SOUND, _ = demo_builds()
BY = Sitting(hand="wen", at=WHEN)
NOBODY = Sitting(hand="workshop")
PLACE = places(SOUND)[0]


def made(kind: str, what: What, build: Build = SOUND, **typed: str) -> Disposed:
    hand = Hand(build)
    return dispose(hand.sheet(), assess(build).sides["intake"], PLACE, kind, what, typed, BY)


def refused(words: str, kind: str, what: What, build: Build = SOUND, **typed: str) -> None:
    with pytest.raises(FieldError, match=words):
        made(kind, what, build, **typed)


# -- what is asked for first


@pytest.mark.parametrize(("kind", "what"), [(k.key, w) for k in kinds().values() for w in k.choices])
def test_a_choice_without_what_it_asks_for_is_refused_in_words(kind: str, what: What) -> None:
    wanted = asks(kind, what)
    if wanted:
        first = wanted[0].label
        refused(f"asks for this first: {first[0].lower()}{first[1:]}", kind, what)


@pytest.mark.parametrize(
    ("bore", "words"),
    [("25.020 mm", "under 30.0 µm: it would hang"), ("25.000 mm", "no larger than what runs in it"),
     ("25.100 mm", "retired from 100.0 µm on"), ("24.9 mm", "no larger"), ("25 bar", "bar")],
)  # fmt: skip
def test_a_polished_journal_is_held_to_its_oil_clearance(bore: str, words: str) -> None:
    refused(words, "journal", What.POLISH, shaft="25.000 mm", bore=bore)


@pytest.mark.parametrize("bore", ["25.030 mm", "25.080 mm", "25.099 mm"])
def test_a_journal_within_it_is_polished_and_measured(bore: str) -> None:
    found = made("journal", What.POLISH, shaft="25.000 mm", bore=bore, cost="45.50")
    assert found.fields == {"shaft": "25.000 mm", "bore": bore}
    assert found.cost == 45.5
    assert worn("journal", 0.081)
    assert not worn("journal", 0.08)


@pytest.mark.parametrize(
    ("bore", "ok"), [("33.019 mm", False), ("33.020 mm", True), ("33.079 mm", True), ("33.080 mm", False)]
)
def test_a_bucket_is_retired_by_the_clearance_in_its_bore(bore: str, ok: bool) -> None:
    if ok:
        made("bucket", What.POLISH, outside="33.000 mm", bore=bore)
    else:
        refused("clearance", "bucket", What.POLISH, outside="33.000 mm", bore=bore)


def test_a_face_is_cut_on_a_straight_valve_with_margin_left_and_a_whole_witness() -> None:
    whole = {"cut": "0.05 mm", "runout": "0.03 mm", "margin": "0.80 mm", "witness": "yes"}
    made("valve", What.REFACE, **whole)
    refused("bent valve: quarantine", "valve", What.REFACE, **whole | {"runout": "0.031 mm"})
    refused("it would glow", "valve", What.REFACE, **whole | {"margin": "0.79 mm"})
    refused("full, unbroken witness", "valve", What.REFACE, **whole | {"witness": ""})
    refused("metal given back", "valve", What.REFACE, **whole | {"margin": "-1 mm"})


def test_a_seat_is_cut_no_deeper_than_is_left() -> None:
    refused("decide on them first", "seat", What.RECUT, depth="0.20 mm", left="0.20 mm")
    made("seat", What.RECUT, depth="0.20 mm", left="0.20 mm", note="springs were replaced last month")
    refused("does not come back", "seat", What.RECUT, depth="0.21 mm", left="0.20 mm")
    assert made("seat", What.RECUT, depth="0.21 mm", left="0.20 mm", note="last season of this head").note


def test_a_cut_a_thousand_times_too_deep_is_a_mistyped_one() -> None:
    refused("more than 3.00 mm", "seat", What.RECUT, depth="100 mm", left="350 mm", note="so it was typed")
    refused("more than 3.00 mm", "valve", What.REFACE, cut="50 mm", runout="0.01 mm", margin="1.2 mm", witness="yes")


def test_springs_go_as_a_set_and_one_alone_wants_a_reason() -> None:
    assert kinds()["springs"].as_set
    assert not kinds()["bucket"].as_set
    refused("For one alone, say why", "springs", What.REPLACE)
    made("springs", What.REPLACE, note="a tool fell on it, the rest were tested")
    made("springs", What.REPLACE_SET)


def test_a_build_that_decided_otherwise_replaces_by_that() -> None:
    for choice, springs, buckets in (("one", False, False), ("set", True, True)):
        made_so = SOUND.model_copy(
            update={"decisions": {"replacing": Decision(choice=choice, reason="our way", by=BY)}}
        )
        assert by_set(kinds()["springs"], made_so) == (springs, "this build decided so: our way")
        assert by_set(kinds()["bucket"], made_so)[0] is buckets
    one = SOUND.model_copy(update={"decisions": {"replacing": Decision(choice="one", reason="our way", by=BY)}})
    made("springs", What.REPLACE, one)
    assert by_set(kinds()["springs"], SOUND) == (True, kinds()["springs"].why)


def test_springs_are_used_again_only_where_each_was_tested_after_service() -> None:
    hand = Hand(SOUND)
    for name in ("outer", "inner"):
        hand.put(f"{name[0].upper()}-1", name, PLACE.label)
    ctx = assess(SOUND).sides["intake"]
    typed = {"tested": "yes"}
    with pytest.raises(FieldError, match="O-1 was not read after service"):
        dispose(hand.sheet(), ctx, PLACE, "springs", What.REUSE, typed, BY)
    later = BY.model_copy(update={"instrument": "tester 1", "at": WHEN + timedelta(days=90)})
    for name in ("outer", "inner"):
        item = f"{name[0].upper()}-1"
        for phase, load in ((Phase.INCOMING, 300.0), (Phase.SERVICE, 295.0)):
            hand.take(f"{name}.load_1", PLACE.label, load, phase, item=item, condition={"height_mm": 36.0}, by=later)
    assert dispose(hand.sheet(), ctx, PLACE, "springs", What.REUSE, typed, BY).what is What.REUSE


def test_a_bent_valve_is_not_used_again_by_its_own_reading() -> None:
    bent = change(SOUND, "intake.bench.runout", "0.06 mm")
    refused("quarantine, no reuse", "valve", What.REUSE, bent)
    made("valve", What.REUSE, change(SOUND, "intake.bench.runout", "0.03 mm"))
    refused("Say what it waits for", "valve", What.QUARANTINE)
    made("valve", What.QUARANTINE, note="dye-test, shelf 3")


@pytest.mark.parametrize(
    ("cost", "words"), [("-1", "between 0"), ("lots", "a number"), ("1e9", "between 0"), ("nan", "between 0")]
)
def test_a_cost_is_a_sum_of_money(cost: str, words: str) -> None:
    refused(words, "retainer", What.REPLACE, cost=cost)


def test_what_is_no_choice_and_no_hand_is_refused() -> None:
    refused("nothing that becomes", "seal", What.REUSE)
    refused("nothing that becomes", "piston", What.REUSE)
    with pytest.raises(FieldError, match="It has a name"):
        dispose(Hand(SOUND).sheet(), assess(SOUND).sides["intake"], PLACE, "seal", What.REPLACE, {}, NOBODY)


def test_the_last_word_on_a_part_stands() -> None:
    first, second = made("retainer", What.REUSE), made("retainer", What.REPLACE)
    other = made("locks", What.REUSE)
    assert [(d.part, d.what) for d in disposed([first, other, second])] == [
        ("retainer", What.REPLACE), ("locks", What.REUSE),
    ]  # fmt: skip


# -- what can hurt


def test_sodium_titanium_and_beryllium_are_said_where_the_tool_is() -> None:
    sodium = change(SOUND, "intake.stack.valve.filling", "sodium-filled")
    assert "never ground at the tip" in cautions(assess(sodium).sides["intake"], "valve", What.SCRAP)[0]
    unsaid = cautions(assess(SOUND).sides["intake"], "valve", What.REFACE)
    assert any("is not said" in c for c in unsaid)
    solid = change(change(SOUND, "intake.stack.valve.filling", "solid"), "intake.stack.valve.material", "titanium")
    assert [c.partition(":")[0] for c in cautions(assess(solid).sides["intake"], "valve", What.REFACE)] == ["Titanium"]
    assert cautions(assess(solid).sides["intake"], "valve", What.REUSE) == ()
    assert "poison" in cautions(assess(SOUND).sides["intake"], "seat", What.RECUT)[0]


# -- remedies


@pytest.mark.parametrize("remedy", list(remedies()))
def test_a_tempting_remedy_asks_for_its_cause_or_a_name_and_a_reason(remedy: str) -> None:
    tempting = remedies()[remedy]
    with pytest.raises(FieldError) as told:
        take_remedy(remedy, (), "", BY)
    assert tempting.why in told.value.message
    assert "Find the cause first" in told.value.message
    answering = name_cause(tempting.asks[0], "read on the tester", BY)
    assert take_remedy(remedy, (answering,), "", BY).cause == tempting.asks[0]
    other = next(c for c in causes() if c not in tempting.asks)
    with pytest.raises(FieldError):
        take_remedy(remedy, (name_cause(other, "by its look", BY),), "", BY)
    passed = take_remedy(remedy, (), "only to drive it to the trailer", BY)
    assert (passed.cause, passed.reason) == ("", "only to drive it to the trailer")
    with pytest.raises(FieldError, match="It has a name"):
        take_remedy(remedy, (answering,), "", NOBODY)


def test_a_cause_has_a_name_and_what_shows_it() -> None:
    for cause, reason, by, words in (
        ("bad luck", "by its look", BY, "which cause"), ("float", "", BY, "what shows it"), ("float", "dents", NOBODY, "name"),
    ):  # fmt: skip
        with pytest.raises(FieldError, match=words):
            name_cause(cause, reason, by)
    with pytest.raises(FieldError, match="no remedy"):
        take_remedy("prayer", (), "hope", BY)


def test_a_head_has_several_causes_by_place_and_an_open_question_is_an_answer_but_no_cause() -> None:
    hand = found_there("rings_gone")
    for cause, at in (("starvation", ""), ("open", "intake"), ("float", "exhaust"), ("debris", ""), ("heat", "3")):
        hand.happened(name_cause(cause, "by what was seen", BY, at))
    events = hand.sheet().events
    # the last word for each part of the head
    assert [(n.cause, n.at) for n in named(events)] == [
        ("open", "intake"), ("float", "exhaust"), ("debris", ""), ("heat", "3"),
    ]  # fmt: skip
    at = {p.label: cause_at(events, p) for p in hand.places}
    assert {label: n.cause if n else "" for label, n in at.items() if label in ("1I-a", "1E-a", "3I-b")} == {
        "1I-a": "", "1E-a": "float", "3I-b": "heat",
    }  # fmt: skip
    # what is still open has not been found
    ctx, typed = assess(SOUND).sides["intake"], {"outside": "24.960 mm", "bore": "25.000 mm"}
    with pytest.raises(FieldError, match="Name its cause first"):
        dispose(hand.sheet(), ctx, PLACE, "bucket", What.POLISH, typed, BY)
    hand.happened(name_cause("starvation", "dry bore", BY, PLACE.label))
    assert dispose(hand.sheet(), ctx, PLACE, "bucket", What.POLISH, typed, BY).what is What.POLISH
    told = summary((), named(events))
    assert told == (
        "intake: open question, by what was seen; exhaust: float or bounce, by what was seen; "
        f"{causes()['debris'].title.lower()}, by what was seen; cylinder 3: {causes()['heat'].title.lower()}, by what was seen"
    )


def found_there(sign: str) -> Hand:
    hand = Hand(SOUND)
    hand.happened(Found(0, sign, (PLACE.label,), Severity.NAIL, Look.STRIPPED, BY))
    return hand


@pytest.mark.parametrize(
    ("sign", "kind", "what"),
    [
        ("spring_broken", "springs", What.REUSE), ("rust", "springs", What.REUSE), ("bent", "valve", What.REUSE),
        ("bent", "valve", What.REFACE), ("crown_dished", "bucket", What.REUSE),
    ],
)  # fmt: skip
def test_broken_pitted_bent_or_dished_is_not_used_again_by_anybody(sign: str, kind: str, what: What) -> None:
    ctx = assess(SOUND).sides["intake"]
    typed = {
        "note": "it ran like that before",
        "cut": "0.05 mm",
        "runout": "0.01 mm",
        "margin": "1.2 mm",
        "witness": "yes",
    }
    with pytest.raises(FieldError, match="not used again"):
        dispose(found_there(sign).sheet(), ctx, PLACE, kind, what, typed, BY)


def test_a_bucket_that_stopped_asks_for_its_cause_before_it_is_polished() -> None:
    ctx, typed = assess(SOUND).sides["intake"], {"outside": "24.960 mm", "bore": "25.000 mm"}
    hand = found_there("rings_gone")
    with pytest.raises(FieldError, match="Name its cause first"):
        dispose(hand.sheet(), ctx, PLACE, "bucket", What.POLISH, typed, BY)
    hand.happened(name_cause("starvation", "dry bores all along", BY))
    assert dispose(hand.sheet(), ctx, PLACE, "bucket", What.POLISH, typed, BY).what is What.POLISH


def test_a_spring_without_a_serial_cannot_have_been_tested() -> None:
    refused("has no serial: what has no number cannot have been tested", "springs", What.REUSE, tested="yes")
