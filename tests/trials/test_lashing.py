"""Lash brought to its target: blades, sizes on hand, screws, hydraulics; what closing does to springs as built."""

import math
from dataclasses import replace
from datetime import UTC, datetime

import pytest

from arcstack.assess import assess, spring, stack
from arcstack.assess.built import built
from arcstack.assess.context import Context
from arcstack.checks import Level
from arcstack.demo import demo_builds
from arcstack.document import Build, Sitting, change
from arcstack.document.firing import read_firing_order
from arcstack.errors import FieldError, MissingInput
from arcstack.readings import ASKED, Cut, Phase, Sheet
from arcstack.readings.asked import Step, of_step
from arcstack.readings.lash_history import Caused
from arcstack.readings.taking import How, read_at
from arcstack.trials.lashing import Plan, aim_of, is_cold, judged, plan, sequence
from arcstack.units import System
from tests import builds
from tests.readings.bench import BY, Hand

SOUND, _ = demo_builds()
SIZES = {2.55 + 0.05 * n: 9 for n in range(10)}
FOUR = {"1I-a": ("2.70", "0.12"), "1I-b": ("2.80", "0.26"), "2I-a": ("2.75", "0.18"), "2I-b": ("2.85", "0.24")}


def ctx(build: Build, side: str = "intake") -> Context:
    return assess(build).sides[side]


def sheet(build: Build, *rows: tuple[str, str, str], phase: Phase = Phase.FINAL, service: int = 0) -> Sheet:
    hand = Hand(build)
    for key, place, text in rows:
        hand.take(key, place, float(text), phase=phase, service=service)
    return hand.sheet()


def four(build: Build = SOUND) -> Sheet:
    rows = [(key, p, t) for p, texts in FOUR.items() for key, t in zip(("lash_shim", "lash"), texts, strict=True)]
    return sheet(build, *rows)


def planned(on_hand: dict[float, int]) -> Plan:
    return plan(ctx(SOUND), four(), aim_of(ctx(SOUND), on_hand))


# -- shelf before shop


def test_what_is_on_hand_comes_before_what_is_bought_and_each_piece_goes_in_once() -> None:
    first, _, _, last = planned(SIZES).lines[:4]
    assert (first.source, first.put_mm) == ("from the shelf", pytest.approx(2.60))
    assert (last.source, last.put_mm) == ("from the shelf", pytest.approx(2.90))
    assert planned(SIZES).bought == 0
    none = planned(dict.fromkeys(SIZES, 0))
    assert none.bought == 2
    assert none.lines[0].put_mm == pytest.approx(2.60)
    # in its band though not the nearest: a 2.65 on hand leaves 0.17 before a 2.60 is bought for 0.22
    other = planned(dict.fromkeys(SIZES, 0) | {2.65: 1})
    assert (other.lines[0].source, other.lines[0].put_mm) == ("from the shelf", 2.65)
    assert other.lines[0].after_mm == pytest.approx(0.17)
    # the same shim cannot lie under two valves
    two = sheet(SOUND, *((k, p, t) for p in ("1I-a", "1I-b") for k, t in (("lash_shim", "2.70"), ("lash", "0.30"))))
    once = plan(ctx(SOUND), two, aim_of(ctx(SOUND), {2.80: 1, 2.85: 0}))
    assert sorted(line.source for line in once.lines[:2]) == ["from the shelf", "new"]


def test_a_size_that_nobody_makes_fails_and_one_just_beyond_is_told() -> None:
    found = planned({2.75: 5, 2.80: 5})
    beyond = {line.place.label: line.beyond_mm for line in found.lines if line.beyond_mm is not None}
    assert beyond["1I-a"] == pytest.approx(0.13)
    assert found.lines[0].level is Level.FAIL
    (verdict,) = [v for v in found.verdicts if v.id == "lash.size_range"]
    assert verdict.figure is not None
    assert verdict.figure.value == pytest.approx(0.13)
    assert verdict.level is Level.FAIL
    assert [v.level for v in planned(SIZES).verdicts if v.id == "lash.size_range"] == [Level.CLEAR]


# -- blades


@pytest.mark.parametrize(
    ("text", "system", "value", "half"),
    [
        ("0.20/0.22", System.MM, 0.21, 0.01),
        ("0,20 / 0,22 mm", System.MM, 0.21, 0.01),
        ("0.008/0.009", System.INCH, 0.2159, 0.0127),
        ("8/9 thou", System.MM, 0.2159, 0.0127),
    ],
)
def test_two_blades_are_their_middle_and_half_of_what_lies_between(
    text: str, system: System, value: float, half: float
) -> None:
    by = Sitting(hand="Wen", instrument="blades", at=datetime(2026, 1, 1, tzinfo=UTC))
    found = read_at(Sheet(SOUND), "lash", "1I-a", text, How(by, system=system, resolution=0.05))
    assert found.value == pytest.approx(value)
    assert found.resolution == pytest.approx(half)
    assert "/" in found.typed


@pytest.mark.parametrize("text", ["0.22/0.20", "0.20/0.20"])
def test_the_blade_that_goes_is_the_thinner(text: str) -> None:
    by = Sitting(hand="Wen", instrument="blades", at=datetime(2026, 1, 1, tzinfo=UTC))
    with pytest.raises(FieldError, match="the first is the thinner"):
        read_at(Sheet(SOUND), "lash", "1I-a", text, How(by))
    with pytest.raises(FieldError):
        read_at(Sheet(SOUND), "tip_height", "1I-a", "40/41", How(by))


# -- the sequence


def test_the_firing_order_turns_the_crank_evenly() -> None:
    assert [(c, round(math.degrees(t))) for c, t in sequence(read_firing_order("1-5-3-6-2-4"))] == [
        (1, 0), (5, 120), (3, 120), (6, 120), (2, 120), (4, 120),
    ]  # fmt: skip
    assert sequence(()) == []


@pytest.mark.parametrize("text", ["1-3-4", "1-2-2-4", "a-b", "0-1-2", "1.5 2"])
def test_an_order_that_no_engine_fires_in_is_refused(text: str) -> None:
    with pytest.raises(FieldError):
        change(SOUND, "engine.firing_order", text)
    assert change(SOUND, "engine.firing_order", "1 3 4 2").engine.firing_order == "1 3 4 2"


def test_an_engine_is_cold_about_twenty_degrees() -> None:
    assert [is_cold(t) for t in (14.9, 15.0, 20.0, 25.0, 25.1, 80.0)] == [False, True, True, True, False, False]


# -- screws and hydraulics


def screwed(**more: str) -> Build:
    build = change(builds.bramble(), "intake.follower.rocker.adjuster", "screw")
    for path, text in more.items():
        build = change(build, f"intake.follower.rocker.{path}", text)
    return build


def test_a_screw_is_turned_by_its_pitch_and_what_its_arm_carries() -> None:
    build = screwed(screw_pitch="0.75", screw_moves="1.5")
    read = sheet(build, ("lash", "1I-a", "0.27"), ("lash", "2I-a", "0.16"), ("lash", "3I-a", "0.03"))
    found = plan(ctx(build), read, aim_of(ctx(build), {}))
    assert found.screws
    by_place = {line.place.label: line for line in found.lines}
    wide, right, narrow = (by_place[p] for p in ("1I-a", "2I-a", "3I-a"))
    # 0.12 too wide: in by 0.12 / (0.75 · 1.5)
    assert wide.turns == pytest.approx(-0.12 / 1.125)
    assert right.turns is None
    assert right.in_band
    assert narrow.turns == pytest.approx(0.12 / 1.125)
    alike = plan(ctx(screwed(screw_pitch="0.75")), read, aim_of(ctx(build), {}))
    assert alike.lines[0].turns == pytest.approx(-0.12 / 0.75)
    with pytest.raises(MissingInput):
        plan(ctx(screwed()), read, aim_of(ctx(build), {}))
    # no shim is asked for where a screw sets it
    assert "lash_shim" not in {a.key for a in of_step(Step.LASH, build, "intake")}


def test_a_hydraulic_adjuster_has_no_lash_and_keeps_to_its_middle_third() -> None:
    build = change(builds.bramble(), "intake.follower.rocker.adjuster", "hydraulic")
    build = change(build, "intake.follower.rocker.plunger_travel", "3.0")
    keys = {a.key for a in of_step(Step.LASH, build, "intake")}
    assert "plunger" in keys
    assert not keys & {"lash", "lash_shim"}
    assert "plunger" not in {a.key for a in of_step(Step.LASH, SOUND, "intake")}
    rows = [("plunger", "1I-a", "1.5"), ("plunger", "2I-a", "0.6"), ("plunger", "3I-a", "2.7")]
    across = built(assess(build), sheet(build, *rows)).across("lash.plunger", "intake")
    levels = {p.label: v.level for p, v in across.at}
    assert (levels["1I-a"], levels["2I-a"], levels["3I-a"]) == (Level.CLEAR, Level.FAIL, Level.FAIL)
    assert levels["4I-a"] is Level.OPEN


# -- as built


def test_lash_is_judged_at_each_valve_against_its_target() -> None:
    across = built(assess(SOUND), four()).across("lash.band", "intake")
    off = {p.label: v for p, v in across.at}
    assert off["1I-a"].figure is not None
    assert off["1I-a"].figure.value == pytest.approx(-0.08)
    assert off["1I-a"].level is Level.FAIL
    assert off["2I-a"].level is Level.CLEAR
    assert off["3I-a"].level is Level.OPEN
    assert not any(v.id == "lash.band" for v in assess(SOUND).verdicts)


def closing(*found: str, cause: str = "", opened: bool = False) -> tuple[Sheet, Hand]:
    hand = Hand(SOUND)
    for value in (36.80, 36.80):
        hand.take("open_height", "1I-a", value)
    hand.take("lash", "1I-a", 0.20)
    for n, text in enumerate(found, 1):
        hand.take("lash", "1I-a", float(text), phase=Phase.SERVICE, service=n)
        hand.take("lash", "1I-a", 0.20, phase=Phase.SERVICE, service=n)
    events = [Caused(hand.next, "1I-a", cause, "read twice", BY)] if cause else []
    return Sheet(SOUND, hand.sheet().readings, events), hand


def test_a_stem_that_rises_takes_load_and_reserve_grows_at_once() -> None:
    """0.06 + 0.05 + 0.08 = 0.19 mm: the spring stands taller and carries less, in every check."""
    before, _ = closing()
    after, _ = closing("0.14", "0.15", "0.12")
    was, now = (built(assess(SOUND), s).contexts["1I-a"] for s in (before, after))
    taller = stack.installed_height(now).value - stack.installed_height(was).value
    assert taller == pytest.approx(0.19)
    lost = spring.seat_load(was).value - spring.seat_load(now).value
    assert lost == pytest.approx(0.19 * spring.pack_rate(was).value, rel=0.02)
    assert 5.0 < lost < 12.0
    told = now.entry("stack.open_height", "H").note
    assert "the stem has risen 0.19 mm" in told
    assert not spring.seat_load(now).proven
    reserve = [
        built(assess(SOUND), s).across("spring.reserve.outer", "intake").at[0][1].figure for s in (before, after)
    ]
    assert reserve[1].value - reserve[0].value == pytest.approx(0.19)  # type: ignore[union-attr]


def test_only_a_rising_stem_moves_it_and_only_since_it_was_read() -> None:
    opened = built(assess(SOUND), closing("0.27")[0]).contexts["1I-a"]
    base = built(assess(SOUND), closing()[0]).contexts["1I-a"]
    assert stack.installed_height(opened).value == stack.installed_height(base).value
    wrong = built(assess(SOUND), closing("0.10", cause="read wrong")[0]).contexts["1I-a"]
    assert stack.installed_height(wrong).value == stack.installed_height(base).value
    sheet_, hand = closing("0.10")
    for value in (36.95, 36.95):
        hand.take("open_height", "1I-a", value, phase=Phase.SERVICE, service=1)
    again = built(assess(SOUND), hand.sheet()).contexts["1I-a"]
    moved = built(assess(SOUND), sheet_).contexts["1I-a"]
    assert stack.installed_height(moved).value - stack.installed_height(base).value == pytest.approx(0.10)
    assert stack.installed_height(again).value - stack.installed_height(base).value == pytest.approx(0.15)
    assert ASKED["open_height"].times == 2


# -- services judged


def served(*found: tuple[str, tuple[float, ...]]) -> Plan:
    """Built at 0.20, found so at each service and set back to 0.20."""
    hand = Hand(SOUND)
    for place, values in found:
        hand.take("lash_shim", place, 2.70)
        hand.take("lash", place, 0.20)
        for service, value in enumerate(values, 1):
            hand.take("lash", place, value, phase=Phase.SERVICE, service=service)
            if service < len(values):
                hand.take("lash", place, 0.20, phase=Phase.SERVICE, service=service)
    return plan(ctx(SOUND), hand.sheet(), aim_of(ctx(SOUND), SIZES))


def test_the_worst_trend_of_a_side_is_its_verdict_and_bedding_is_none() -> None:
    both = served(("1I-a", (0.20, 0.19, 0.18)), ("2I-b", (0.19, 0.14, 0.15, 0.12)), ("3I-a", (0.20, 0.20, 0.20)))
    (verdict,) = [v for v in both.verdicts if v.id == "lash.trend"]
    assert verdict.figure is not None
    assert verdict.figure.value == pytest.approx(0.19)
    assert verdict.level is Level.TIGHT
    assert verdict.note.startswith("2I-b. closed 0.19 mm")
    # what the first service beds is no trend, however much it is
    assert [v for v in served(("1I-a", (0.05,))).verdicts if v.id == "lash.trend"] == []
    assert [v for v in served(("1I-a", ())).verdicts if v.id == "lash.trend"] == []


@pytest.mark.parametrize(
    ("found", "level", "words"),
    [
        ((0.20, 0.249), Level.CLEAR, ""), ((0.20, 0.25), Level.TIGHT, "opened 0.05 mm"),
        ((0.20, 0.15, 0.15), Level.TIGHT, "find the cause before any shim"), ((0.20, 0.15, 0.151), Level.CLEAR, ""),
        ((0.20, 0.07, 0.08), Level.FAIL, "nothing is signed before"), ((0.20, 0.17, 0.12), Level.FAIL, "nothing is signed"),
    ],
)  # fmt: skip
def test_services_are_judged_at_the_very_edge(found: tuple[float, ...], level: Level, words: str) -> None:
    line = served(("1I-a", found)).lines[0]
    assert line.level is level
    assert words in line.why


def test_what_a_cut_closed_is_neither_a_trend_nor_a_stem_that_rose() -> None:
    """Set at 0.20; cut by 0.15 on the bench; found at 0.05 and set again: the cut alone moves the height."""
    hand = Hand(SOUND)
    for value in (36.80, 36.80):
        hand.take("open_height", "1I-a", value)
    for service, value in ((0, 0.20), (1, 0.20), (2, 0.19)):
        hand.take("lash", "1I-a", value, phase=Phase.SERVICE if service else Phase.FINAL, service=service)
        hand.take("lash", "1I-a", 0.20, phase=Phase.SERVICE if service else Phase.FINAL, service=service)
    before = stack.installed_height(built(assess(SOUND), hand.sheet()).contexts["1I-a"]).value
    hand.happened(Cut(1, "1I-a", 0.0, 0.15, 0.0, BY))
    hand.take("lash", "1I-a", 0.05, phase=Phase.SERVICE, service=3)
    found = hand.sheet().lash_of(hand.places[0])
    assert found.trend.steps_mm == pytest.approx((0.01, 0.0))
    assert found.rise_since((0, 0)) == pytest.approx(0.01)
    after = stack.installed_height(built(assess(SOUND), hand.sheet()).contexts["1I-a"]).value
    assert after - before == pytest.approx(0.15)
    # the same without a cut is a stem that rose
    hand.events.clear()
    hand.readings[-1] = replace(hand.readings[-1], cuts=0)
    assert hand.sheet().lash_of(hand.places[0]).trend.total_mm == pytest.approx(0.16)


def test_a_lash_that_was_set_stands_by_its_last_reading_and_not_by_the_mean_with_what_was_found() -> None:
    screwed = builds.bramble()
    for side in ("intake", "exhaust"):
        screwed = change(screwed, f"{side}.follower.rocker.adjuster", "screw")
    for build in (screwed, SOUND):
        hand = Hand(build)
        for value in (0.14, 0.20):
            hand.take("lash", "1I-a", value, phase=Phase.SERVICE, service=1)
        settled = hand.sheet().settled(hand.places[0], "lash")
        assert settled is not None
        assert settled.value == 0.20
        assert not settled.again
        assert [s.found_mm for s in hand.sheet().lash_of(hand.places[0]).stages] == [0.14]


def test_lash_that_closes_a_little_at_every_service_closes() -> None:
    """0.02 at six services running is 0.12 in all: more than six readings good to 0.02 leave open, 0.049."""
    ctx = assess(SOUND).sides["intake"]
    sheet, _ = closing(*["0.18"] * 7)
    level, words = judged(ctx, sheet.lash_of(sheet.places[0]))
    assert level is Level.TIGHT
    assert "find the cause before any shim" in words
    steady, _ = closing(*["0.20"] * 7)
    assert judged(ctx, steady.lash_of(steady.places[0]))[0] is Level.CLEAR
