"""What stands against a signature: each thing by itself, and none once it is mended or let pass by name."""

from dataclasses import replace

import pytest

from arcstack.assess import assess
from arcstack.assess.built import built
from arcstack.checks import Evidence
from arcstack.demo import demo_builds
from arcstack.document import Build, Entry, Sitting, change, get
from arcstack.errors import FieldError
from arcstack.readings import Event, Phase, Sheet, Waived
from arcstack.readings.recorded import Known as HowKnown
from arcstack.readings.recorded import Ordered, Released, Reopened, Worked, Worker, release
from arcstack.readings.returning import Disposed, Found, Look, Received, Severity, What
from arcstack.readings.sent_on import SentOn
from arcstack.record.release import AT_PLACES, OF_SET, Against, Kind, against, digest, sign
from tests.assembly.hands import WEN, Builder
from tests.builds import bramble, quill, sorrel, teasel
from tests.readings.bench import Hand, as_designed

SOUND, FAILING = demo_builds()


def found(sheet: Sheet) -> tuple[Against, ...]:
    design = assess(sheet.build)
    return against(design, sheet, built(design, sheet))


def of(rows: tuple[Against, ...], kind: Kind) -> list[Against]:
    return [a for a in rows if a.kind is kind]


@pytest.fixture(scope="module")
def whole() -> Hand:
    """The sound head, every place read as designed."""
    return as_designed(SOUND)


def with_(hand: Hand, *events: Event) -> Sheet:
    numbered = [replace(e, number=hand.next + n) for n, e in enumerate(events)]
    return Sheet(hand.build, hand.readings, [*hand.events, *numbered])


def test_an_unmeasured_head_lacks_every_safety_check_by_its_count() -> None:
    rows = found(Sheet(SOUND))
    unread = of(rows, Kind.UNREAD)
    assert {a.key for a in unread} <= {*AT_PLACES, *OF_SET}
    assert {"spring.reserve.outer", "spring.reserve.inner", "stack.retainer_seal"} <= {a.key for a in unread}
    reserve = next(a for a in unread if a.key == "spring.reserve.inner" and a.side == "intake")
    assert reserve.words == "0 of 8 measured; not all 8"
    assert all(a.standing for a in rows)


def test_one_valve_that_was_not_measured_is_named(whole: Hand) -> None:
    unread = {a.key: a for a in of(found(whole.sheet()), Kind.UNREAD) if a.side == "intake"}
    assert "spring.reserve.inner" not in unread
    hand = Hand(SOUND)
    hand.events = list(whole.events)
    hand.readings = [r for r in whole.readings if r.place != "2I-a" and r.item not in ("I-2I-a", "O-2I-a")]
    without = {a.key: a for a in of(found(hand.sheet()), Kind.UNREAD) if a.side == "intake"}
    assert without["spring.reserve.inner"].words == "7 of 8 measured; not 2I-a"


def test_a_fit_that_is_only_printed_is_not_proven_and_one_that_was_measured_is(whole: Hand) -> None:
    keys = {(a.key, a.side) for a in of(found(whole.sheet()), Kind.UNREAD)}
    assert ("fit.tip_proud", "intake") in keys
    build = SOUND
    for path in ("valve.groove_below_tip", "retainer.locks_outside", "retainer.taper"):
        entry = get(build, f"intake.stack.{path}")
        assert isinstance(entry, Entry)
        build = change(build, f"intake.stack.{path}", entry.typed, Evidence.MEASURED, by=WEN)
    kept = [a.side for a in found(Sheet(build, whole.readings, whole.events)) if a.key == "fit.tip_proud"]
    assert kept == ["exhaust"]


def test_what_fails_as_built_stands_with_its_places_and_tight_does_not(whole: Hand) -> None:
    hand = Hand(SOUND)
    hand.events = list(whole.events)
    hand.readings = [
        replace(r, value=r.value + 2.5, typed="") if r.item == "I-2I-a" and r.key == "inner.solid" else r
        for r in whole.readings
    ]
    rows = [a for a in of(found(hand.sheet()), Kind.BUILT) if a.key == "spring.reserve.inner"]
    assert [(a.side, a.places) for a in rows] == [("intake", ("2I-a",))]
    assert rows[0].words == "fail at 2I-a"


def test_a_design_that_fails_on_paper_stands() -> None:
    rows = found(Sheet(FAILING))
    assert any(a.kind in (Kind.PAPER, Kind.BUILT) and "fail" in a.words for a in rows)


def test_stale_readings_stand_with_what_undid_them(whole: Hand) -> None:
    event = Worked(
        0, "", Worker.OTHER, "Ember Heads", "guides reamed", HowKnown.TOLD, ("Open heights",), ("1I-a",), WEN
    )
    rows = of(found(with_(whole, event)), Kind.STALE)
    assert len(rows) == 1
    assert rows[0].places == ("1I-a",)
    assert "guides reamed" in rows[0].words
    assert of(found(whole.sheet()), Kind.STALE) == []


def test_a_mock_up_that_was_never_begun_stands_on_both_sides(whole: Hand) -> None:
    assert [(a.side, "never swept" in a.words) for a in of(found(whole.sheet()), Kind.MOCK_UP)] == [
        ("intake", True), ("exhaust", True),
    ]  # fmt: skip


def test_lash_is_read_at_every_valve_and_one_that_closes_stands(whole: Hand) -> None:
    bare = {(a.key, a.side): a.words for a in found(Sheet(SOUND))}
    assert bare["lash.band", "intake"] == bare["lash.band", "exhaust"] == "open at all 8"
    read = as_designed(SOUND)
    for place in read.places:
        read.take("lash", place.label, 0.16 if "I" in place.label else 0.22)
    assert "lash.band" not in {a.key for a in found(read.sheet()) if "open" in a.words}
    assert of(found(whole.sheet()), Kind.LASH) == []
    for n, lash in enumerate((0.40, 0.30, 0.20, 0.10), 1):
        read.take("lash", "1I-a", lash, Phase.SERVICE, service=n)
    closing = of(found(read.sheet()), Kind.LASH)
    assert [(a.side, a.places[0]) for a in closing] == [("intake", "1I-a")]
    assert "find the cause" in closing[0].words


def test_assembly_stands_until_its_last_count() -> None:
    hand = Builder(SOUND)
    assert "steps are not done" in of(found(hand.sheet), Kind.ASSEMBLY)[0].words
    hand.all_until("packed")
    hand.do("packed")
    assert of(found(hand.sheet), Kind.ASSEMBLY) == []


def test_an_open_line_stands_and_one_that_is_inspected_does_not(whole: Hand) -> None:
    line = Ordered(0, "seal", (), 8, "worn", "", "2026-11-01", "", WEN)
    rows = of(found(with_(whole, line)), Kind.ORDER)
    assert rows[0].words == "1 lines are open: seal: on order"


def test_a_head_that_came_back_and_was_not_sent_on_stands(whole: Hand) -> None:
    came = Received(0, "it rattles", "nobody", None, None, None, WEN)
    sign_ = Found(0, "seat_hammered", ("1I-a",), Severity.NAIL, Look.STRIPPED, WEN)
    rows = of(found(with_(whole, came, sign_)), Kind.DISPOSITION)
    assert "nothing decided where signs were found: 1I-a" in rows[0].words
    sent = Disposed(0, "valve", "1I-a", What.SEND, WEN, {"to": "Ember Heads"})
    assert "out of the house" in of(found(with_(whole, came, sign_, sent)), Kind.DISPOSITION)[0].words
    assert "nothing decided" not in of(found(with_(whole, came, sign_, sent)), Kind.DISPOSITION)[0].words
    assert of(found(with_(whole, came, sign_, sent, SentOn(0, 2, "worn", WEN))), Kind.DISPOSITION) == []


def let_pass(a: Against) -> Waived:
    return Waived(0, a.key, a.side, "", "known, watched", "1,000 km", "", WEN, stood=a.words)


def test_a_signature_is_refused_until_all_is_let_pass_by_name(whole: Hand) -> None:
    rows = found(whole.sheet())
    with pytest.raises(FieldError, match="things stand against it"):
        sign(rows, 1, "{}", (1, 2), "Ilse", "5,000 km", WEN)
    waivers = {(a.key, a.side, a.words): let_pass(a) for a in rows}
    passed = found(with_(whole, *waivers.values()))
    assert not any(a.standing for a in passed)
    made = sign(passed, 3, "{}", (10, 20), "Ilse", "5,000 km", WEN)
    assert (made.revision, made.readings, made.events, made.answers) == (3, 10, 20, "Ilse")
    assert made.digest == digest("{}")
    assert len(made.waived) == len(passed)
    assert all("wen, until 1,000 km: known, watched" in w for w in made.waived)
    with pytest.raises(FieldError, match="1 things"):
        sign([replace(passed[0], waived=None), *passed[1:]], 3, "{}", (1, 2), "Ilse", "5,000 km", WEN)


def test_what_was_let_pass_unread_is_not_let_pass_once_it_is_read_and_fails(whole: Hand) -> None:
    hand = Hand(SOUND)
    hand.events = list(whole.events)
    hand.readings = [r for r in whole.readings if r.place != "2I-a" and r.item not in ("I-2I-a", "O-2I-a")]
    unread = next(a for a in found(hand.sheet()) if a.key == "spring.reserve.inner" and a.kind is Kind.UNREAD)
    passed = with_(hand, let_pass(unread))
    assert not next(a for a in found(passed) if a.key == "spring.reserve.inner").standing
    read = [
        replace(r, value=r.value + 2.5, typed="") if r.item == "I-2I-a" and r.key == "inner.solid" else r
        for r in whole.readings
    ]
    failing = [a for a in found(Sheet(SOUND, read, passed.events)) if a.key == "spring.reserve.inner"]
    assert [(a.words, a.standing) for a in failing] == [("fail at 2I-a", True)]


@pytest.mark.parametrize(
    ("answers", "look", "by", "words"),
    [
        ("", "x", WEN, "Who answers"),
        ("Ilse", "", WEN, "looked at next"),
        ("Ilse", "x", Sitting(hand="workshop"), "hand"),
    ],
)
def test_a_signature_has_names(answers: str, look: str, by: Sitting, words: str) -> None:
    with pytest.raises(FieldError, match=words):
        sign((), 1, "{}", (0, 0), answers, look, by)


def test_a_release_holds_until_it_is_opened_again_or_the_head_came_back() -> None:
    made = Released(5, 3, 1, 1, "x", "Ilse", (), "5,000 km", WEN)
    assert release([]) is None
    assert release([made]) is made
    assert release([made, Reopened(6, 5, "a seal", WEN)]) is None
    assert release([made, SentOn(6, 4, "worn", WEN)]) is None
    again = replace(made, number=7, revision=4)
    assert release([made, Reopened(6, 5, "a seal", WEN), again]) is again


@pytest.mark.parametrize("other", [quill(), sorrel(), bramble(), teasel()], ids=lambda b: b.name)
def test_every_other_follower_is_looked_at_without_falling_over(other: Build) -> None:
    bare, read = found(Sheet(other)), found(as_designed(other).sheet())
    assert sum(len(a.places) for a in read) < sum(len(a.places) for a in bare)
