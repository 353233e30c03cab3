"""Springs, surge, cost, the elastic train and the stated speed, on the demo builds and by hand."""

import math
from dataclasses import replace

import pytest

from arcstack.assess import assess, coil, control, cost, elastic, gas_cycle, spring, spring_lines, surge
from arcstack.assess.catalogue import find
from arcstack.assess.context import Context
from arcstack.assess.speed_limit import rigid, speed_limit
from arcstack.checks import Evidence, Figure, Level
from arcstack.demo import demo_builds
from arcstack.document import Build, Entry, Override, change
from arcstack.dynamics.question import Answer, Question, work_out
from arcstack.errors import MissingInput
from arcstack.trials import pressures
from arcstack.trials.heights import height_sweep
from arcstack.trials.packs import as_candidate, at_height, exchanged, filled, fitted, tried
from arcstack.trials.raising import raising, raising_question
from tests.builds import SWEEPS

SOUND, FAILING = demo_builds()


def side(build: Build, name: str = "intake") -> Context:
    return assess(build).sides[name]


def turned(build: Build, name: str = "intake") -> Context:
    """A side whose elastic train is worked out too."""
    return assess(build, SWEEPS.answer).sides[name]


def edited(build: Build, base: str, **rows: str) -> Build:
    for name, text in rows.items():
        build = change(build, f"{base}.{name}", text)
    return build


def value(build: Build, name: str, on: str = "intake") -> float:
    found = find((turned if name.startswith("elastic.") else side)(build, on), name)
    assert isinstance(found, Figure), found
    return found.value


OUTER = "intake.stack.outer"


def test_each_form_of_one_spring_gives_the_same_load() -> None:
    seat = value(SOUND, "spring.seat_load")
    bare = edited(SOUND, OUTER, height_2="", load_2="")
    for rows in (
        {"rate": "30", "free_length": "43.8667"},
        {"rate": "30"},
        {"free_length": "43.8667"},
        {"table": "37 206; 36 236; 31 386; 26 536; 25 566"},
    ):
        assert value(edited(bare, OUTER, **rows), "spring.seat_load") == pytest.approx(seat, abs=0.1), rows
    # the wire alone gives a rate; one load says where it starts
    wire = spring_lines.spring_lines(side(bare), "outer")[0]
    assert wire.form == "wire and coils"
    assert wire.rate.value == pytest.approx(77200 * 3.7**4 / (8 * 24.5**3 * 4.1))


def test_the_table_governs_and_the_others_are_held_against_it() -> None:
    build = edited(SOUND, OUTER, table="37 200; 36 230; 31 380; 26 540; 25 575", rate="34", free_length="43.8667")
    ctx = side(build)
    assert spring.line(ctx, "outer").form == "tester table"
    rows = spring.disagreements(ctx)
    assert next(r.form for r in rows if r.spring == "outer") == "rate and free length"
    # 34·(43.8667 − 36) = 267.5 against 230, and 34·(43.8667 − 26.2) = 600.7 against about 533
    assert rows[0].share == pytest.approx(267.47 / 230 - 1, abs=1e-3)
    verdict = assess(build).verdict("spring.rate_consistency", "intake")
    assert verdict.level is Level.FAIL
    assert "rate and free length gives 267 N, tester table 230 N" in verdict.note


def test_a_beehive_without_a_table_is_warned_of_and_stiffens_with_one() -> None:
    build = edited(SOUND, OUTER, shape="beehive", outside_top="23")
    assert "two loads do not" in " ".join(spring_lines.remarks(side(build), "outer"))
    build = edited(build, OUTER, table="38 180; 36 236; 33 326; 30 424; 27 532; 25 610")
    chain = elastic.chains(side(build))[0]
    assert chain.stiffening_N_per_mm2 > 0.0
    lift = 10.0
    exact = float(spring.line(side(build), "outer").curve.load_N(26.0))
    assert chain.load_N + lift * (chain.rate_N_per_mm + chain.stiffening_N_per_mm2 * lift) == pytest.approx(exact)


def test_coils_that_do_not_stack_to_the_solid_height_are_told() -> None:
    said = spring_lines.remarks(side(edited(SOUND, OUTER, solid="21.0")), "outer")
    assert "stack to 22.57 mm" in said[0]


def test_a_solid_height_above_a_stated_load_is_told() -> None:
    said = " ".join(spring_lines.remarks(side(edited(SOUND, OUTER, solid="28.0")), "outer"))
    assert "A load of the outer spring is given at 26.00 mm, where its solid height of 28.00 mm" in said
    by_table = edited(SOUND, OUTER, solid="23.5", height_2="", load_2="", table="36 236; 31 386; 23 626")
    assert "given at 23.00 mm" in " ".join(spring_lines.remarks(side(by_table), "outer"))
    assert not any("no travel" in r for r in spring_lines.remarks(side(SOUND), "outer"))


def test_a_spring_that_goes_solid_is_named_before_any_speed() -> None:
    assert spring.gone_solid(side(SOUND)) == []
    said = "The intake inner spring goes solid 0.29 mm before full lift."
    assert spring.gone_solid(side(FAILING)) == [said]
    assert said in assess(FAILING, SWEEPS.answer).verdict("control.elastic_separation", "intake").note
    # 36 − 10 − 27 mm; of an assembled pair the inner is told as well
    short = edited(SOUND, OUTER, solid="27")
    assert spring.gone_solid(side(short)) == ["The intake outer spring goes solid 1.00 mm before full lift."]
    pair = change(FAILING, "intake.stack.pack", "assembled")
    assert spring.gone_solid(side(pair)) == [said]


def test_surge_by_hand() -> None:
    # k 30.0 N/mm, m_a = 7.85e-6·π²·3.7²·24.5·4.1/4 = 26.63 g → ½·√(30000/0.02663) = 530.7 Hz
    assert value(SOUND, "spring.surge.outer") == pytest.approx(530.7, abs=0.3)
    inner = value(SOUND, "spring.surge.inner")
    assert value(SOUND, "spring.surge_order") == pytest.approx(inner / (8100 / 120))
    rows = surge.ringing(side(SOUND))
    seventh = next(r for r in rows if r.spring == "outer" and r.found.harmonic == 7)
    assert seventh.found.rpm == pytest.approx(120 * 530.7 / 7, abs=6)
    assert seventh.avoid
    damped = edited(SOUND, "intake.stack", damping="interference fit", friction="60 N")
    assert not any(r.avoid and r.found.harmonic >= 9 for r in surge.ringing(side(damped)))


def test_stress_by_hand() -> None:
    # F 530.0, C = 24.5/3.7 = 6.622, K = 25.486/22.486 + 0.0929 = 1.2263; τ = K·8·F·D/(π·d³)
    tau = 1.2263 * 8 * 530.0 * 24.5 / (math.pi * 3.7**3)
    assert value(SOUND, "spring.stress.outer") == pytest.approx(tau, rel=2e-3)
    assert value(SOUND, "spring.seat_settled") == pytest.approx(0.95 * value(SOUND, "spring.seat_load"))


def test_an_assembled_figure_tells_no_spring_its_own_stress_but_still_turns() -> None:
    build = edited(SOUND, "intake.stack", pack="assembled")
    build = edited(build, OUTER, load_1="352", load_2="787")
    ids = {v.id for v in assess(build).of_side("intake")}
    assert not ids & {"spring.stress.outer", "spring.stress.inner", "spring.fatigue"}
    outer, inner = elastic.chains(side(build))
    assert outer.load_N + inner.load_N == pytest.approx(352.0, abs=0.5)
    assert outer.rate_N_per_mm / inner.rate_N_per_mm == pytest.approx(30.0 / 13.6, rel=0.01)


def test_cost_by_hand() -> None:
    # mean force near 560 N over 150 of 360 cam degrees, arm near 22.5 mm, μ 0.08, 345.6 rad/s
    rough = 560 * 150 / 360 * 0.0225 * 0.08 * 345.6
    assert value(SOUND, "cost.friction") == pytest.approx(rough, rel=0.15)
    assert value(SOUND, "cost.friction_head") == pytest.approx(8 * value(SOUND, "cost.friction"))
    heavier = edited(SOUND, OUTER, load_1="296", load_2="596")
    for name in ("cost.friction", "cost.torque", "cost.nose_pressure"):
        assert value(heavier, name) > value(SOUND, name)
    assert cost.power_at(side(SOUND), 3000.0) < cost.power_at(side(SOUND), 6000.0)


def test_schools_judge_their_own_side_of_load() -> None:
    heavy = edited(SOUND, OUTER, load_1="436", load_2="836")
    levels = {}
    for school in ("long-life", "balanced", "sprint"):
        found = assess(heavy.model_copy(update={"practice": school}))
        load, friction = found.verdict("spring.seat_load", "intake"), found.verdict("control.friction", "intake")
        levels[school] = (load.level, load.limit.sense.value, friction.judges)  # type: ignore[union-attr]
    assert levels["long-life"] == (Level.FAIL, "at most", True)
    assert levels["balanced"] == (Level.FAIL, "band", True)
    assert levels["sprint"] == (Level.CLEAR, "at least", False)
    ceiling = assess(SOUND.model_copy(update={"practice": "long-life"})).verdict("spring.reserve_ceiling", "intake")
    assert not ceiling.judges


def test_elastic_verdicts_wait_for_their_sweep_and_carry_a_band() -> None:
    waiting = assess(SOUND).verdict("control.elastic_separation", "intake")
    assert waiting.level is Level.OPEN
    assert not waiting.missing
    known = assess(SOUND, SWEEPS.answer).verdict("control.elastic_separation", "intake").figure
    assert known is not None
    assert known.band is not None
    assert known.band[0] < known.value <= known.band[1]
    assert known.value < value(SOUND, "control.separation_gas")
    # what is known of the train is not tried otherwise; the card's other lobes still are
    train = {"follower.bucket.stiffness": "28 kN/mm", "follower.bucket.damping": "0.06"}
    seat = {"stack.seat_stiffness": "90 kN/mm", "stack.seat_damping": "0.15", "stack.coil_damping": "0.01"}
    sure = SOUND
    for name, text in (train | seat).items():
        sure = change(sure, f"intake.{name}", text, Evidence.PRINTED)
    sure = change(sure, "intake.stack.friction", "0 N", Evidence.PRINTED)
    assert {name.split()[0] for name, _ in elastic.tried_otherwise(side(sure))} == {"curve"}
    assert len(elastic.tried_otherwise(side(SOUND))) == 6 + len(elastic.tried_otherwise(side(sure)))
    assert elastic.train(side(sure)) == elastic.train(side(SOUND))


def test_a_softer_follower_is_assumed_by_its_kind() -> None:
    finger = change(SOUND, "engine.follower", "finger")
    assert elastic.stiffness(side(finger)).value < elastic.stiffness(side(SOUND)).value
    assert "usual for a finger" in elastic.stiffness(side(finger)).note


def test_the_stated_speed_is_where_its_verdict_turns() -> None:
    ctx = turned(SOUND)
    limit = speed_limit(ctx)
    assert limit.elastic
    governs = limit.governs
    assert governs.check == "control.force_reserve"
    for off, level in ((-5.0, (Level.TIGHT, Level.CLEAR)), (5.0, (Level.FAIL,))):
        moved = change(SOUND, "brief.overspeed", "")
        moved = change(moved, "brief.limiter", f"{governs.rpm + off:.0f} rpm")
        assert assess(moved).verdict(governs.check, "intake").level in level
    over = limit.governs_overspeed
    assert over.check == "control.elastic_separation"
    assert over.rpm == pytest.approx(value(SOUND, "elastic.separation"))
    alone = speed_limit(assess(SOUND).sides["intake"])
    assert not alone.elastic
    assert {h.check for h in alone.limiter} == {"control.force_reserve", "control.separation"}


def test_the_least_stated_speed_is_the_low_end_of_what_governs() -> None:
    ctx = turned(SOUND)
    limit = speed_limit(ctx)
    low, most = elastic.separation(ctx).band or (0.0, 0.0)
    assert low < limit.governs_overspeed.rpm < most
    rigid_low, _ = control.separation(ctx).speed.band or (0.0, 0.0)
    assert limit.least[1] == pytest.approx(min(low, rigid_low))
    reserve = ctx.limit("control.force_reserve").low
    assert reserve is not None
    assert limit.least[0] <= rigid_low / math.sqrt(reserve) + 1e-9 < limit.governs.rpm
    alone = speed_limit(assess(SOUND).sides["intake"])
    assert alone.least[1] == pytest.approx(rigid_low)


def test_what_raises_it_is_worked_through_both_trains() -> None:
    ctx = turned(SOUND)
    rows = {r.words: r for r in raising(ctx)}
    lighter = rows["10 g off the valve"]
    train = elastic.train(ctx)
    # force reserve governs: n ∝ 1/√m while the rest stays
    before, after = rigid(train).separation(), rigid(replace(train, mass_kg=train.mass_kg - 0.010)).separation()
    assert before is not None
    assert after is not None
    assert before.rpm == pytest.approx(value(SOUND, "control.separation_gas"), rel=1e-3)
    assert after.rpm / before.rpm == pytest.approx(
        math.sqrt(train.moving_mass_kg / (train.moving_mass_kg - 0.010)), rel=1e-3
    )
    assert lighter.gains_rpm > 200.0
    assert raising(ctx)[0].gains_rpm == max(r.gains_rpm for r in rows.values())
    assert len(raising_question(ctx).runs) == len(rows) + 1


def test_the_window_of_heights_and_what_closes_it() -> None:
    found = height_sweep(side(FAILING))
    assert found.window is not None
    low, high = found.window
    # inner reserve −0.2902 at 36.00 must reach 1.5; seat load 370.6 N may fall to 260 N at 43.52 N/mm
    assert low == pytest.approx(36.0 + 1.7902, abs=0.002)
    assert high == pytest.approx(36.0 + (370.57 - 260.0) / 43.522, abs=0.005)
    assert [b.check for b in found.closed_by] == ["spring.reserve.inner", "spring.seat_load"]
    inside = assess(at_height(FAILING, "intake", (low + high) / 2))
    assert inside.verdict("spring.reserve.inner", "intake").level is not Level.FAIL
    tight = edited(FAILING, "intake.stack.inner", solid="22.9 mm")
    closed = height_sweep(side(tight))
    assert closed.window is None
    assert {b.check for b in closed.closed_by} == {"spring.reserve.inner", "spring.seat_load"}


def test_a_band_narrower_than_the_points_of_the_sweep_is_found() -> None:
    # 326 to 330 N at 43.52 N/mm from 351.6 N at 36.00: 36.50 to 36.59 mm, between two of the heights tried
    low, high = (Entry(value=v, typed=f"{v:g} N", evidence=Evidence.ASSUMED) for v in (326.0, 330.0))
    narrow = SOUND.model_copy(
        update={"overrides": {"spring.seat_load": Override(low=low, high=high, reason="a matched set")}}
    )
    bound = next(b for b in height_sweep(side(narrow)).bounds if b.check == "spring.seat_load")
    assert bound.low == pytest.approx(36.0 + 21.6 / 43.52, abs=0.01)
    assert bound.high == pytest.approx(36.0 + 25.6 / 43.52, abs=0.01)
    rows = [b for b in height_sweep(side(SOUND)).bounds if b.check == "control.separation"]
    exact = assess(at_height(SOUND, "intake", rows[0].high)).verdict("control.separation", "intake")
    assert exact.figure is not None
    assert exact.limit is not None
    assert exact.figure.value == pytest.approx(exact.limit.low, abs=4.0)


def test_candidates_are_tried_on_the_same_head() -> None:
    assert filled(SOUND, "intake") == (1, 2)
    packs = tried(side(SOUND))
    assert [p.slot for p in packs] == [0, 1, 2]
    assert {round(find_height(p.ctx), 3) for p in packs} == {36.0}
    own = tried(side(SOUND), own_height=True)
    assert [round(find_height(p.ctx), 2) for p in own] == [36.0, 35.8, 35.5]
    at_one = tried(side(SOUND), 35.0)
    assert {round(find_height(p.ctx), 2) for p in at_one} == {35.0}
    single = packs[1].ctx
    assert spring.springs(single) == ("outer",)
    assert spring.seat_load(single).value == pytest.approx(318.0)


def find_height(ctx: Context) -> float:
    found = find(ctx, "stack.installed_height")
    assert isinstance(found, Figure)
    return found.value


def test_fitting_a_candidate_keeps_the_pack_that_came_off() -> None:
    changed = exchanged(SOUND, "intake", 2)
    assert changed.intake.stack.outer.code == "HV-38 outer"
    assert changed.intake.candidate(2).outer.code == "TS-30 outer"
    assert changed.intake.stack.retainer == SOUND.intake.stack.retainer
    back = exchanged(changed, "intake", 2)
    # a pack keeps its name wherever it goes; one without is called as its outer spring
    assert changed.intake.stack.name == "HV-38 heavy dual"
    assert back.intake.stack == SOUND.intake.stack.model_copy(update={"name": "TS-30 outer"})
    stepped = edited(SOUND, "intake.candidates.2", retainer_step="1.1 mm", retainer_offset="0.4 mm")
    there = exchanged(stepped, "intake", 2)
    stack = there.intake.stack
    assert (stack.retainer.step.value, stack.retainer.offset.value) == (1.1, 0.4)  # type: ignore[union-attr]
    # 36.75 + 0.4 − 0, worked from the offsets
    assert (stack.open_height.value, stack.open_height.stands) == (37.15, Evidence.CALCULATED)  # type: ignore[union-attr]
    again = exchanged(there, "intake", 2).intake.stack
    assert again.retainer == SOUND.intake.stack.retainer
    assert again.open_height.value == 36.75  # type: ignore[union-attr]
    # a retainer whose offset nobody knows leaves the height to be read again
    unknown = fitted(edited(SOUND, "intake.candidates.2", retainer_step="1.1 mm"), "intake", 2).intake.stack
    assert "Retainer of HV-38 heavy dual" in unknown.open_height.outdated  # type: ignore[union-attr]
    bare = edited(stepped, "intake.stack", height_basis="bare")
    assert value(fitted(bare, "intake", 2), "stack.installed_height") == pytest.approx(36.0 - 0.9 + 0.4)
    assert as_candidate(SOUND, "intake").advised == SOUND.intake.stack.target_height


def test_rules_turn_where_they_say() -> None:
    rows = {(r.side, r.check): r for r in pressures.suppose(assess(SOUND), 1.2667, 1.75)}
    exhaust = rows[("exhaust", "gas.difference_rule")]
    assert exhaust.margin_N == pytest.approx(
        value(SOUND, "gas.difference_force", "exhaust") * -1 + 427.16 - 240, abs=0.5
    )
    turns = exhaust.fails_from
    assert turns is not None
    for ratio, fails in ((turns - 0.01, False), (turns + 0.01, True)):
        found = assess(pressures.supposed(SOUND, ratio, 1.75)).verdict("gas.difference_rule", "exhaust")
        assert (found.level is Level.FAIL) is fails


def test_an_empty_build_needs_and_never_breaks() -> None:
    ctx = assess(Build(name="x"), work_out).sides["intake"]
    for work in (elastic.question, speed_limit, height_sweep, gas_cycle.cycle, surge.ringing):
        with pytest.raises(MissingInput) as told:
            work(ctx)
        assert told.value.missing


def test_nothing_asked_twice_is_worked_twice() -> None:
    asked: list[str] = []

    def count(question: Question) -> Answer:
        asked.append(question.key)
        return SWEEPS.answer(question)

    assess(SOUND, count)
    assert len(asked) == len(set(asked)) == 2


def test_springs_wound_the_same_way_are_warned_of() -> None:
    assert coil.same_hand(side(SOUND)) == ""
    build = edited(SOUND, OUTER, wound="left")
    build = edited(build, "intake.stack.inner", wound="left")
    assert "both wound left" in coil.same_hand(side(build))
    assert coil.same_hand(side(edited(build, "intake.stack.inner", wound="right"))) == ""


def test_the_gap_between_springs_by_what_damps_them() -> None:
    assert value(SOUND, "spring.nest_gap") == pytest.approx((28.2 - 2 * 3.7 - 20.1) / 2)
    flat = edited(SOUND, "intake.stack", damping="flat damper", damper_thickness="0.2 mm")
    assert value(flat, "spring.nest_gap") == pytest.approx(0.15)
    assert assess(flat).verdict("spring.nest_gap", "intake").level is Level.FAIL
    assert value(flat, "spring.friction") == pytest.approx(0.07 * value(SOUND, "spring.seat_load"))
    pressed = edited(SOUND, "intake.stack", damping="interference fit")
    assert assess(pressed).verdict("spring.nest_gap", "intake").level is Level.FAIL
    pressed = edited(pressed, "intake.stack.inner", outside="21.0 mm")
    assert assess(pressed).verdict("spring.nest_gap", "intake").level is not Level.FAIL


def test_a_solid_above_the_open_height_is_said_in_words() -> None:
    verdict = assess(edited(SOUND, OUTER, solid="27 mm")).verdict("spring.reserve.outer", "intake")
    assert verdict.level is Level.FAIL
    assert "Goes solid 1.00 mm before full lift" in verdict.note
