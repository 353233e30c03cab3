"""Findings weighed: invented heads, the table's own points, chains, conflicts, absence, places."""

import tomllib
from pathlib import Path
from typing import Any

import pytest

from arcstack.document import Sitting
from arcstack.readings.returning import Found, FoundNot, Look, Severity, findings
from arcstack.wear.diagnosis import Diagnosis, diagnose, headline
from arcstack.wear.signs import causes, chains, remedies, signs

BY = Sitting(hand="wen")
HEADS: list[dict[str, Any]] = tomllib.loads((Path(__file__).parent / "heads.toml").read_text("utf-8"))["heads"]
WORDS = {"": Severity.SEEN, "nail": Severity.NAIL, "step": Severity.STEP, "absent": Severity.SEEN}


def found(text: str, *places: str) -> Found:
    sign, _, how = text.partition(":")
    return Found(0, sign, places, WORDS[how], Look.STRIPPED, BY, absent=how == "absent")


def read(*texts: str, record: tuple[str, ...] = ()) -> Diagnosis:
    return diagnose([found(t) for t in texts], record)


def points(of: Diagnosis) -> dict[str, float]:
    return {s.cause.id: s.points for s in of.scored}


@pytest.mark.parametrize("head", HEADS, ids=[h["name"].partition(":")[0] for h in HEADS])
def test_an_invented_head_is_read_as_a_practitioner_would(head: dict[str, Any]) -> None:
    told = read(*head["found"], record=tuple(head.get("record", ())))
    assert (told.leader.cause.id if told.leader else "") == head["leader"]
    assert (told.chain.id if told.chain else "") == head["chain"]
    assert bool(told.conflict) is head["conflict"], told.conflict
    if "second" in head:
        assert told.runner_up is not None
        assert told.runner_up.cause.id == head["second"]
    if "began" in head:
        assert told.began is not None
        assert told.began.link.title == head["began"]


def test_there_are_enough_heads_and_every_cause_leads_one_or_is_second() -> None:
    assert len(HEADS) >= 12
    named = {h["leader"] for h in HEADS} | {h.get("second", "") for h in HEADS}
    assert set(causes()) <= named


TABLE = """
seat_hammered 3 1 0 0 0 0 0 0 0 0
face_step 2 1 0 0 0 0 1 0 0 0
tip_dents 3 1 0 0 0 0 0 0 0 0
drag_lines 0 0 0 0 3 2 0 0 0 0
closing_flank 3 0 0 0 0 0 0 0 0 0
opening_flank 2 0 0 0 0 0 0 0 0 0
crown_dished 2 0 0 0 0 0 0 0 1 0
rings_even -1 0 0 0 -1 0 0 0 -3 0
rings_gone 0 0 0 0 2 0 0 0 3 0
base_rub 0 0 0 3 0 0 0 0 0 0
base_clean 0 0 0 -2 0 0 0 0 0 0
lash_closing 0 2 0 1 0 0 0 0 0 0
journals_scored 0 0 0 0 2 3 0 0 0 0
journals_perfect 0 0 0 0 -2 -2 0 0 0 0
stem_blue 0 0 0 0 0 0 3 0 0 0
bent 1 0 0 0 0 0 1 3 0 0
spring_broken 2 1 3 0 0 0 0 0 0 0
springs_lost 0 3 0 0 0 0 1 0 0 0
springs_kept -1 -3 0 0 0 0 0 0 0 0
seal_off 0 0 0 0 0 0 0 0 0 3
retainer_marked 0 0 0 0 0 0 0 0 0 3
"""
COLUMNS = (
    "float",
    "load_lost",
    "goes_solid",
    "lash_tight",
    "starvation",
    "debris",
    "heat",
    "contact",
    "stopped",
    "on_seal",
)


@pytest.mark.parametrize("row", TABLE.split("\n")[1:-1])
def test_each_sign_has_the_points_of_the_handbook(row: str) -> None:
    name, *texts = row.split()
    wanted = {c: float(t) for c, t in zip(COLUMNS, texts, strict=True) if t != "0"}
    assert points(read(name)) == wanted


@pytest.mark.parametrize(("how", "times"), [("seen", 1.0), ("nail", 1.5), ("step", 2.0)])
def test_what_catches_a_nail_says_half_as_much_again_and_a_step_twice(how: str, times: float) -> None:
    text = "tip_dents" if how == "seen" else f"tip_dents:{how}"
    assert points(read(text)) == {"float": 3.0 * times, "load_lost": 1.0 * times}


def test_a_sign_counts_once_by_the_worst_of_its_findings_and_keeps_every_place() -> None:
    told = diagnose([found("tip_dents", "1I-a"), found("tip_dents:step", "3I-b"), found("tip_dents:nail", "1I-a")])
    assert points(told)["float"] == 6.0
    assert told.scored[0].says[0].places == ("1I-a", "3I-b")


def test_what_is_looked_for_and_absent_counts_once_as_its_opposite_or_takes_a_point() -> None:
    assert points(read("base_rub:absent")) == {"lash_tight": -2.0}
    assert points(read("base_rub:absent", "base_clean")) == {"lash_tight": -2.0}
    assert points(read("closing_flank:absent")) == {"float": -1.0}
    assert points(read("tip_dents:absent")) == {"float": -1.0}
    assert points(read("tip_dents:absent", "tip_dents")) == {"float": 3.0, "load_lost": 1.0}
    assert points(read("tip_dents", "tip_dents:absent")) == {"float": -1.0}
    apart = [found("tip_dents", "1I-a"), found("tip_dents:absent", "2I-a")]
    assert points(diagnose(apart)) == {"float": 3.0, "load_lost": 1.0}
    assert read("tip_dents:absent").leader is None


def test_what_two_causes_share_within_two_points_is_a_conflict_and_further_apart_is_none() -> None:
    near = read("stem_blue", "bent:step")
    assert near.leader is not None
    assert points(near)["contact"] - points(near)["heat"] == 1.0
    assert "within 2 points" in near.conflict
    exact = read("seal_off", "face_step", "bent")
    assert (points(exact)["on_seal"], points(exact)["float"], points(exact)["contact"]) == (3.0, 3.0, 3.0)
    assert "Float or bounce and piston contact" in exact.conflict
    far = read("seal_off:step", "bent")
    assert points(far)["on_seal"] - points(far)["contact"] == 3.0
    assert far.conflict == ""


def test_a_strong_sign_against_the_leader_is_a_conflict_and_a_weak_one_is_only_shown() -> None:
    strong = read("springs_lost:step", "lash_closing", "springs_kept")
    assert strong.leader is not None
    assert strong.leader.cause.id == "load_lost"
    assert "“Springs kept their load” speaks strongly against load lost" in strong.conflict
    weak = read("tip_dents", "closing_flank", "rings_even")
    assert weak.leader is not None
    assert weak.conflict == ""
    assert [s.sign.id for s in weak.leader.speaks_against] == ["rings_even"]


def test_with_only_the_opening_flank_marked_both_readings_stand() -> None:
    assert "only the opening flank" in read("opening_flank:step").conflict
    assert "only the opening flank" not in read("opening_flank:step", "closing_flank").conflict


def test_a_chain_names_its_earliest_link_that_anything_shows_and_what_would_show_where_it_began() -> None:
    told = read("tip_dents", "closing_flank", "springs_lost", "seat_hammered")
    assert told.chain is not None
    assert told.began is not None
    assert told.began.link.title == "Height grows, load is lost"
    assert [m.shown for m in told.links] == [False, True, True, True]
    assert told.next_reading[1] == "seat"
    # with its first link unshown it is no headline
    assert not told.headline
    assert read("lash_closing", "tip_dents", "closing_flank", "springs_lost", "seat_hammered").headline
    alone = read("stem_blue")
    assert alone.chain is None
    assert not alone.headline
    assert alone.next_reading == (causes()["heat"].tells, "runout")
    assert read().next_reading[1] == "look"


@pytest.mark.parametrize("fact", ["inner_wrong", "part_wrong"])
def test_a_part_seen_wrong_leads_and_no_vote_takes_it_away(fact: str) -> None:
    told = read("tip_dents:step", "closing_flank:step", "seat_hammered:step", fact)
    assert told.leader is not None
    assert told.leader.cause.id == "wrong_assembly"
    assert told.leader.points == 3.0
    assert told.runner_up is not None
    assert told.runner_up.cause.id == "float"
    assert "lie within" not in told.conflict
    # looked for and not there, it leads nothing
    assert read("tip_dents", f"{fact}:absent").leader.cause.id == "float"  # type: ignore[union-attr]


def test_a_side_has_one_headline_and_an_open_question_is_one() -> None:
    assert headline(read("stem_blue")) == causes()["heat"].title.lower()
    chained = read("lash_closing", "tip_dents", "closing_flank", "springs_lost", "seat_hammered")
    assert headline(chained).startswith("open question: " if chained.conflict else "one chain: ")
    assert headline(read("stem_blue", "bent:step")).startswith("open question: Piston contact and")
    assert headline(read("carbon")).startswith("open question: nothing")


def test_normal_signs_are_listed_and_say_nothing() -> None:
    told = read("carbon", "shades", "tip_dents")
    assert [s.id for s in told.normal] == ["carbon", "shades"]
    assert set(points(told)) == {"float", "load_lost"}


def test_one_cylinder_is_read_by_itself_with_what_holds_for_the_whole_head() -> None:
    rows = [found("bent:step", "3E-a"), found("stem_blue", "1I-a"), found("journals_perfect")]
    three = diagnose(rows, at=frozenset({"3E-a", "3E-b"}))
    assert points(three) == {"contact": 6.0, "float": 2.0, "heat": 2.0, "starvation": -2.0, "debris": -2.0}
    assert points(diagnose(rows))["heat"] == 5.0


def test_what_the_record_shows_counts_once_beside_what_was_seen() -> None:
    told = read("lash_closing:nail", record=("lash_closing",))
    assert points(told) == {"load_lost": 3.0, "lash_tight": 1.5}
    assert not told.scored[0].says[0].by_record
    assert read(record=("lash_closing",)).scored[0].says[0].by_record


def test_a_finding_taken_back_weighs_nothing_and_an_unknown_sign_is_left_out() -> None:
    one = Found(1, "tip_dents", (), Severity.SEEN, Look.WHOLE, BY)
    assert findings([one, FoundNot(2, 1, BY)]) == ()
    assert read("of_another_version").scored == ()


def test_the_data_names_only_what_is_there() -> None:
    for sign in signs().values():
        assert set(sign.weights) <= set(causes())
        assert all(-3 <= w <= 3 and w != 0 for w in sign.weights.values())
        assert not sign.opposite or sign.opposite in signs()
        assert sign.normal is not bool(sign.weights)
        assert not sign.fact or sign.weights.get(sign.fact) == 3
    for chain in chains():
        assert set(chain.causes) <= set(causes())
        assert {s for link in chain.links for s in link.signs} <= set(signs())
    for remedy in remedies().values():
        assert set(remedy.asks) <= set(causes())


def test_a_single_point_is_enough_to_lead_and_to_stand_second() -> None:
    told = read("crown_dished:absent", "bent", "spring_broken:absent")
    assert points(told)["float"] == -1.0
    assert [s.points for s in told.leader.speaks_for] == [3.0] if told.leader else False
    one = read("face_step", "closing_flank:absent", "tip_dents:absent")
    assert points(one) == {"load_lost": 1.0, "heat": 1.0, "float": 0.0}
    assert one.leader is not None
    assert one.runner_up is not None
    assert (one.leader.cause.id, one.runner_up.cause.id) == ("load_lost", "heat")


def test_a_sign_that_would_speak_with_two_points_is_missed_and_one_with_one_is_not() -> None:
    assert points(read("face_step:absent")) == {"float": -1.0}
    assert points(read("crown_dished:absent")) == {"float": -1.0}
    assert points(read("opening_flank:absent")) == {"float": -1.0}
