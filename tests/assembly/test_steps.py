"""Which steps a head takes, what they wait for, what reopens them, and counts that must close."""

from collections.abc import Callable
from dataclasses import replace
from datetime import timedelta

import pytest

from arcstack.assembly.counts import counts_of
from arcstack.assembly.doing import MAKERS, done, maker_words, prelube, reopened, skipped
from arcstack.assembly.progress import after, counted, next_step, standings
from arcstack.assembly.second import KEYS, drawn, read_again, table, wanting
from arcstack.assembly.steps import every_step, has, steps_of, tool_words, tools_of
from arcstack.demo import demo_builds
from arcstack.document import Build, Sitting, change
from arcstack.document.entry import amount
from arcstack.errors import FieldError
from arcstack.readings import Sheet
from arcstack.readings.assembling import Held, State, Tooled, Where, set_up
from arcstack.readings.mock_up import Closed, Stood
from arcstack.readings.sent_on import SentOn
from tests import builds
from tests.assembly.hands import BY, WEN, Builder

SOUND, FAILING = demo_builds()


def ids(build: Build) -> list[str]:
    return [s.id for s in steps_of(Sheet(build))]


# -- the list is this build's


def test_every_step_of_a_dual_bucket_head_stands_in_the_order_of_the_work() -> None:
    assert ids(SOUND) == [
        "tools", "wash", "threads", "second", "seats", "valves", "locators", "seals", "outer", "inner", "retainers",
        "locks", "left_over", "heights", "buckets", "cams", "turned", "closed", "on_block", "packed",
    ]  # fmt: skip


def test_a_lever_head_takes_followers_and_one_with_plungers_has_them_primed() -> None:
    found = ids(builds.bramble())
    assert "buckets" not in found
    assert found.index("levers") < found.index("cams")
    hydraulic = change(builds.bramble(), "intake.follower.rocker.adjuster", "hydraulic")
    if hydraulic.engine.follower.value == "finger":
        hydraulic = change(builds.bramble(), "intake.follower.finger.adjuster", "hydraulic")
    assert "primed" in ids(hydraulic)
    assert "primed" not in found


def test_a_single_spring_has_no_step_for_an_inner_and_counts_none() -> None:
    single = SOUND
    for side in ("intake", "exhaust"):
        single = change(single, f"{side}.stack.pack", "single")
    assert "inner" not in ids(single)
    mixed = change(SOUND, "exhaust.stack.pack", "single")
    inner = next(s for s in steps_of(Sheet(mixed)) if s.id == "inner")
    assert [(c.key, c.wanted) for c in counts_of(inner, Sheet(mixed))] == [("inner.intake", 8)]


def test_a_seal_that_is_part_of_the_locator_has_no_step_of_its_own() -> None:
    own = SOUND
    for side in ("intake", "exhaust"):
        own = change(own, f"{side}.stack.seal.held", "part of the locator")
    assert "seals" not in ids(own)


def test_with_the_cams_in_two_valves_at_a_time_and_no_step_for_buckets_or_cams() -> None:
    hand = Builder(SOUND, Where.CAMS_IN)
    found = hand.standing()
    assert not {"buckets", "cams", "on_block"} & set(found)
    step = found["retainers"].step
    assert any("two valves at a time" in d for d in step.do)
    assert any("snap open" in c for c in step.cautions)
    assert [f.key for f in step.fields if f.required] == ["allowed"]
    assert found["turned"].waits == ("Heights of what was touched is to do",)
    assert "cord" in tools_of(hand.sheet)
    assert "block" not in tools_of(hand.sheet)


def test_what_is_named_by_a_step_is_there_and_no_torque_of_ours_is() -> None:
    known = {s.id for s in every_step()}
    for step in every_step():
        assert set(step.needs) <= known
        assert set(step.tools) <= set(tool_words())
        assert step.why
        assert step.undo
        assert not any("N·m" in text or "Nm" in text for text in (step.why, *step.do, step.undo))


# -- counts


def test_counts_follow_the_head_and_the_shims_that_were_laid() -> None:
    hand = Builder(SOUND)
    by_id = {s.step.id: s.step for s in hand.standing().values()}
    assert [c.wanted for c in counts_of(by_id["locks"], hand.sheet)] == [16, 16]
    assert [c.wanted for c in counts_of(by_id["locators"], hand.sheet)] == [8, 8, 16, 16]
    bare = [c for c in counts_of(by_id["locators"], Sheet(SOUND)) if c.key.startswith("shims")]
    assert (bare[0].wanted, bare[0].why) == (None, "no shims are laid down for 1I-a")


def test_a_locator_that_nobody_spoke_of_is_asked_for_and_one_that_is_none_is_not_counted() -> None:
    step = next(s for s in steps_of(Sheet(SOUND)) if s.id == "locators")
    none = change(SOUND, "intake.stack.locator.thickness", "none")
    assert "locators.intake" not in {c.key for c in counts_of(step, Sheet(none))}
    unsaid = SOUND
    for field in ("code", "thickness", "step", "bore", "outside", "spigot", "inner_spigot"):
        unsaid = change(unsaid, f"intake.stack.locator.{field}", "")
    count = next(c for c in counts_of(step, Sheet(unsaid)) if c.key == "locators.intake")
    assert count.wanted is None
    assert "say at the stack" in count.why


@pytest.mark.parametrize(
    ("text", "words"),
    [("31", "Locks, intake: 31 of 16, 15 too many"), ("14", "14 of 16, 2 short. Nothing goes on until it is found"),
     ("-1", "lies between 0 and 500"), ("1e3", "whole number"), ("", "count them, 16 are wanted")],
)  # fmt: skip
def test_a_count_that_does_not_close_stops_the_next_step(text: str, words: str) -> None:
    hand = Builder(SOUND)
    hand.all_until("retainers")
    with pytest.raises(FieldError, match=words):
        hand.do("locks", **{"count.locks.intake": text})
    assert hand.standing()["left_over"].waits == ("Locks home is to do",)


def test_checking_springs_come_out_by_count_before_any_working_spring_goes_in() -> None:
    hand = Builder(SOUND)
    stood = Stood(0, "intake", 0.2, 1.15, 1.15, 0.0, "", True, True, True, WEN)
    hand.bench.happened(stood)
    own = hand.standing()["checking_out"].step
    assert counts_of(own, hand.sheet)[0].why == "the mock-up of the intake side is not taken down yet"
    hand.bench.happened(Closed(0, "intake", 16, 16, True, True, "maker", WEN))
    assert [(c.key, c.wanted) for c in counts_of(own, hand.sheet)] == [("checking.intake", 16)]
    assert "Checking springs out is to do" in hand.standing()["outer"].waits
    assert "Checking springs out is to do" in hand.standing()["valves"].waits


def test_parts_left_on_the_bench_go_down_as_steps_are_done() -> None:
    hand = Builder(SOUND)
    into, total = counted(list(hand.standing().values()), hand.sheet)
    assert (into, total) == (0, 16 * (1 + 1 + 2 + 1 + 1 + 1 + 1 + 2 + 1 + 1))
    hand.all_until("valves")
    assert counted(list(hand.standing().values()), hand.sheet)[0] == 16


# -- fields


def test_a_torque_needs_its_lubricant_and_whose_figure_it_is() -> None:
    hand = Builder(SOUND)
    hand.all_until("wash")
    with pytest.raises(FieldError, match="The lubricant is part of the torque"):
        hand.do("threads", **{"plug_torque.lubricant": ""})
    with pytest.raises(FieldError, match="whose figure it is"):
        hand.do("threads", **{"plug_torque.source": ""})
    with pytest.raises(FieldError, match="torque"):
        hand.do("threads", plug_torque="12 mm")
    with pytest.raises(FieldError, match="above nought"):
        hand.do("threads", plug_torque="-3 Nm")
    hand.do("threads")
    assert (
        "12 Nm, engine oil, workshop book, page 40"
        in maker_words(hand.standing()["threads"].step, hand.standing()["threads"].fields)[0][1]
    )


def test_an_empty_torque_is_never_a_number_of_ours() -> None:
    for step in every_step():
        assert all(words == MAKERS for _, words in maker_words(step, {}))


def test_a_cam_that_takes_more_than_it_may_to_turn_has_a_cap_that_binds() -> None:
    hand = Builder(SOUND)
    hand.all_until("buckets")
    with pytest.raises(FieldError, match="find the cap that binds"):
        hand.do("cams", turning="6 Nm", turning_most="4 Nm")
    hand.do("cams", turning="4 Nm", turning_most="4 Nm")


def test_a_polished_bore_is_held_to_the_practice_unless_the_maker_says_otherwise() -> None:
    hand = Builder(SOUND)
    hand.all_until("heights")
    for clearance in ("0.070 mm", "0.015 mm"):
        with pytest.raises(FieldError, match="typical figure"):
            hand.do("buckets", clearance=clearance)
    hand.do("buckets", clearance="0.070 mm", **{"clearance.source": "maker's sheet 12"})
    assert hand.standing()["buckets"].state is State.DONE


def test_a_tick_a_name_and_an_open_step_before_are_asked_for() -> None:
    hand = Builder(SOUND)
    hand.own_all()
    hand.do("tools")
    with pytest.raises(FieldError, match="Say it by a tick: every oilway"):
        hand.do("wash", seen="")
    with pytest.raises(FieldError, match="It has a name"):
        done(hand.standing()["wash"], hand.sheet, {"seen": "yes"}, Sitting(hand="workshop"), hand.limits)
    with pytest.raises(FieldError, match="Not yet: Seats and shims under the springs is to do"):
        hand.do("seals")


def test_each_tool_is_spoken_of_and_one_that_is_not_there_stops_the_first_step() -> None:
    hand = Builder(SOUND)
    assert f"{len(tools_of(hand.sheet))} tools are not said yet" in hand.standing()["tools"].waits
    hand.own_all()
    hand.happened(Tooled(0, "compressor", Held.MISSING, WEN))
    assert hand.standing()["tools"].waits == ("Spring compressor whose foot sits on the retainer alone: not there",)
    hand.happened(Tooled(0, "compressor", Held.BORROWED, WEN))
    hand.do("tools")
    packed = next(s.step for s in hand.standing().values() if s.step.id == "packed")
    assert [c.wanted for c in counts_of(packed, hand.sheet)] == [1]


# -- skipped, reopened


def test_a_step_is_skipped_by_a_name_and_a_reason_and_a_count_never_is() -> None:
    hand = Builder(SOUND)
    found = hand.standing()
    with pytest.raises(FieldError, match="was not counted"):
        skipped(found["locks"], "in a hurry", WEN)
    with pytest.raises(FieldError, match="Say why"):
        skipped(found["second"], "no", WEN)
    with pytest.raises(FieldError, match="It has a name"):
        skipped(found["second"], "only one hand here", Sitting(hand="workshop"))
    hand.happened(skipped(found["second"], "only one hand here", WEN))
    assert hand.standing()["second"].closed
    assert hand.standing()["second"].why == "only one hand here"


def test_a_step_undone_reopens_what_stands_on_it_and_keeps_what_was_typed() -> None:
    hand = Builder(SOUND)
    hand.all_until("locks")
    rows = list(hand.standing().values())
    step = hand.standing()["outer"].step
    assert [s.step.id for s in after(step, rows)] == ["inner", "retainers", "locks"]
    hand.reopen("outer")
    found = hand.standing()
    assert {found[n].state for n in ("inner", "retainers", "locks")} == {State.REOPENED}
    assert found["seals"].state is State.DONE
    assert found["inner"].why == "Outer springs was reopened after it"
    assert found["locks"].fields["count.locks.intake"] == "16"
    hand.do("outer")
    assert hand.standing()["inner"].state is State.REOPENED
    for name in ("inner", "retainers", "locks"):
        hand.do(name)
    assert {s.state for s in hand.standing().values()} == {State.DONE, State.TO_DO}
    with pytest.raises(FieldError, match="nothing to reopen"):
        reopened(hand.standing()["packed"], "", WEN)


def test_another_part_a_moved_spring_or_a_cut_reopens_its_step_and_says_which() -> None:
    hand = Builder(SOUND)
    hand.all_until("left_over")
    other = change(SOUND, "exhaust.stack.retainer.code", "R-99")
    found = hand.standing(other)
    assert found["retainers"].state is State.REOPENED
    assert "Retainer, exhaust, was" in found["retainers"].why
    assert "is R-99" in found["retainers"].why
    assert found["locks"].state is State.REOPENED
    assert found["outer"].state is State.DONE
    hand.bench.put("O-1I-a", "outer", "1I-b")
    assert hand.standing()["outer"].why == "Outer O-1I-a was moved after it"


def test_one_tick_done_again_does_not_close_what_stood_on_other_parts() -> None:
    """Retainers exchanged after the locks went in: with the retainers done anew, the locks are not."""
    hand = Builder(SOUND)
    hand.all_until("left_over")
    hand.bench.build = change(SOUND, "exhaust.stack.retainer.code", "R-99")
    assert hand.standing()["locks"].state is State.REOPENED
    hand.do("retainers")
    found = hand.standing()
    assert found["retainers"].state is State.DONE
    assert found["locks"].state is State.REOPENED
    assert found["locks"].why == "Retainers, compressed was done again after it"
    hand.do("locks")
    assert hand.standing()["locks"].state is State.DONE


def test_a_count_that_was_right_is_no_longer_where_more_are_wanted() -> None:
    hand = Builder(SOUND)
    hand.all_until("left_over")
    for place in hand.bench.places[:1]:
        hand.bench.take(
            "shims", place.label, 0.8, typed="0.80 mm", replaces=hand.sheet.at(place.label, "shims")[-1].number
        )
    told = hand.standing()["locators"]
    assert told.state is State.REOPENED
    assert "16 were counted and 15 are wanted now" in told.why


def test_a_place_touched_after_its_height_was_read_is_named() -> None:
    hand = Builder(SOUND)
    hand.all_until("left_over")
    assert not hand.standing()["heights"].waits
    hand.bench.take("installed_height", "2E-b", 36.0)
    hand.bench.put("O-9", "outer", "2E-b")
    hand.bench.events[-1] = replace(hand.bench.events[-1], by=WEN)
    assert "read installed height again at 2E-b" in hand.standing()["heights"].waits


def test_the_whole_of_a_sound_head_goes_together_to_its_last_count() -> None:
    hand = Builder(SOUND)
    hand.all_until("packed")
    assert {s.state for s in hand.standing().values()} == {State.DONE}
    into, total = counted(list(hand.standing().values()), hand.sheet)
    assert into == total
    assert next_step(list(hand.standing().values())) is None


# -- the second reading


def test_three_places_are_drawn_once_and_for_everyone() -> None:
    hand = Builder(SOUND)
    assert len(drawn(hand.sheet)) == 3
    assert drawn(hand.sheet) == drawn(Builder(SOUND).sheet)
    assert len(table(hand.sheet, 0.03)) == 3 * len(KEYS)


def test_another_hand_reads_again_and_the_same_one_only_on_another_day() -> None:
    hand = Builder(SOUND)
    row = table(hand.sheet, 0.03)[0]
    assert row.first_mm == amount(SOUND.side(row.place.side).stack.open_height) or row.key == "tip_height"
    with pytest.raises(FieldError, match="another hand, or another day"):
        read_again(row, 1.0, "1 mm", BY)
    assert BY.at is not None
    later = BY.model_copy(update={"at": BY.at + timedelta(days=1)})
    assert read_again(row, 1.0, "1 mm", later).place == row.place.label


@pytest.mark.parametrize(("off", "agrees"), [(0.03, True), (-0.03, True), (0.031, False), (-0.031, False)])
def test_two_hands_agree_within_three_hundredths(off: float, agrees: bool) -> None:
    hand = Builder(SOUND)
    hand.second(off)
    assert bool(wanting(table(hand.sheet, 0.03))) is not agrees


def test_hands_that_disagree_have_every_place_read_again_and_other_places_drawn() -> None:
    hand = Builder(SOUND)
    before = drawn(hand.sheet)
    hand.second(0.05)
    assert "read all of them again" in wanting(table(hand.sheet, 0.03))[0]
    assert WEN.at is not None
    fresh = WEN.model_copy(update={"at": WEN.at + timedelta(hours=1)})
    for key in KEYS:
        for r in [r for r in hand.bench.readings if r.key == key]:
            hand.bench.take(key, r.place, r.value, by=fresh)
    assert drawn(hand.sheet) != before
    assert wanting(table(hand.sheet, 0.03)) == ("6 of 6 still to be read by another hand",)


def test_nothing_is_agreed_while_a_height_was_never_read() -> None:
    assert "is not read yet" in wanting(table(Sheet(SOUND), 0.03))[0]


# -- pre-lube


@pytest.mark.parametrize(
    ("days", "seats", "bores"),
    [(0, "dry", "oil"), (6.9, "dry", "oil"), (7, "dry", "quick-washing assembly lube"),
     (14, "dry", "quick-washing assembly lube"), (15, "thin grease", "quick-washing assembly lube"),
     (60, "thin grease", "quick-washing assembly lube"), (61, "thin grease", "grease")],
)  # fmt: skip
def test_what_goes_on_follows_from_how_long_it_stands(days: float, seats: str, bores: str) -> None:
    found = prelube(days)
    assert (found.seats, found.bores) == (seats, bores)
    assert ("smokes" in found.note) is (bores != "oil")


def test_steps_of_a_head_of_no_places_are_still_told() -> None:
    empty = Sheet(Build(name="Bare"))
    assert standings(empty)[0].step.id == "tools"
    assert drawn(empty) == ()


def test_a_graded_bucket_has_no_shim_to_count_and_a_screw_no_cap() -> None:
    step = next(s for s in every_step() if s.id == "buckets")
    graded = change(SOUND, "intake.follower.bucket.shimming", "graded bucket")
    assert [c.key for c in counts_of(step, Sheet(graded))] == [
        "buckets.intake",
        "buckets.exhaust",
        "lash_shims.exhaust",
    ]
    levers = next(s for s in every_step() if s.id == "levers")
    screwed = builds.bramble()
    for side in ("intake", "exhaust"):
        screwed = change(screwed, f"{side}.follower.rocker.adjuster", "screw")
    assert [(c.key, c.wanted) for c in counts_of(levers, Sheet(screwed))] == [
        ("followers.intake", 12), ("followers.exhaust", 6),
    ]  # fmt: skip


def test_a_tool_that_was_spoken_of_is_not_asked_for_again() -> None:
    hand = Builder(SOUND)
    hand.happened(Tooled(0, "block", Held.MADE, WEN))
    assert hand.standing()["tools"].waits == (f"{len(tools_of(hand.sheet)) - 1} tools are not said yet",)


def test_more_than_one_height_that_was_never_read_is_counted() -> None:
    rows = table(Sheet(SOUND), 0.03)
    assert wanting(rows)[1] == "and 5 more"
    assert len(wanting(rows[:1])) == 1


@pytest.mark.parametrize("where", list(Where))
@pytest.mark.parametrize("build", builds.OTHERS)
def test_every_other_head_goes_together_to_its_last_count_wherever_it_does(
    build: Callable[[], Build], where: Where
) -> None:
    hand = Builder(build(), where)
    hand.all_until("packed")
    found = list(hand.standing().values())
    assert {s.state for s in found} == {State.DONE}
    into, total = counted(found, hand.sheet)
    assert into == total > 0
    ids_of = [s.step.id for s in found]
    assert ids_of.count("retainers") == 1
    assert ("cams" in ids_of) is (where is not Where.CAMS_IN)


def test_a_locator_of_one_level_is_counted_though_it_has_no_step() -> None:
    step = next(s for s in steps_of(Sheet(SOUND)) if s.id == "locators")
    flat = change(SOUND, "intake.stack.locator.step", "none")
    assert next(c for c in counts_of(step, Sheet(flat)) if c.key == "locators.intake").wanted == 8
    assert has(flat, "intake", "locator")
    assert not has(change(SOUND, "intake.stack.cap.inside", "none"), "intake", "cap")


def test_a_head_in_its_next_life_asks_for_tools_place_and_another_hand_anew() -> None:
    hand = Builder(SOUND)
    hand.all_until("second")
    hand.bench.happened(SentOn(0, 2, "load lost", WEN))
    found = hand.standing()
    assert {s.state for s in found.values()} == {State.TO_DO}
    assert f"{len(tools_of(hand.sheet))} tools are not said yet" in found["tools"].waits
    assert set_up(hand.sheet.events) is None
    assert wanting(table(hand.sheet, 0.03)) == ("6 of 6 still to be read by another hand",)
