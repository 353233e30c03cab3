"""Readings of a mock-up against the model: each corrected by how the engine stood when it was taken."""

import math
from dataclasses import replace
from datetime import UTC, datetime

import numpy as np
import pytest

from arcstack.assess import assess, piston, running, timing
from arcstack.assess.context import Context
from arcstack.checks import Evidence, Level
from arcstack.demo import demo_builds
from arcstack.document import Build, Sitting, change
from arcstack.mech.scatter import Known
from arcstack.readings.mock_up import (  # fmt: skip
    Bearing,
    Between,
    Clay,
    Closed,
    Kept,
    LobeRoom,
    MockUp,
    Moved,
    Pass,
    Pushed,
    Slack,
    Stood,
    StopMet,
    StopOut,
    Withdrawn,
    mock_up,
)
from arcstack.trials.clearances import Gaps, against, cams_in_head, gaps, least_of_side, met
from arcstack.trials.timed import Timed, card_flanks, timed, told_apart
from tests.builds import SWEEPS

SOUND, FAILING = demo_builds()
BY = Sitting(hand="Wen", instrument="dial 1", at=datetime(2026, 1, 1, tzinfo=UTC))
STOOD = Stood(0, "intake", 0.20, 1.15, 1.15, 0.0, "", True, True, True, BY)


def numbered(*events: object) -> list[object]:
    return [replace(e, number=n) for n, e in enumerate(events, 1)]  # type: ignore[type-var]


def ctx(build: Build = SOUND, side: str = "intake") -> Context:
    return assess(build, SWEEPS.answer).sides[side]


def pushes(
    context: Context, *, stood: Stood = STOOD, error: float = 0.0, tight: float = 0.0, early: float = 0.0,
    lifts: bool = True, angles: tuple[float, ...] = (-10.0, -5.0, 0.0, 5.0, 10.0),
) -> list[Pushed]:  # fmt: skip
    """What a dial shows on an engine that is so much tighter and whose cam is so many degrees early."""
    model, found = piston.pair(context), []
    off = (stood.gasket_used_mm - stood.gasket_crushed_mm) * math.cos(model.valve_angle_rad) - tight
    for angle in angles:
        at = np.radians([angle])
        lift = float(model.net_lift_mm(at, math.radians(early) + stood.phaser_rad, stood.lash_mm)[0])
        travel = float(model.room_mm(at)[0]) + off - lift
        crank = math.radians(angle + error)
        found.append(Pushed(0, context.side_name, "1I-a", crank, travel, lift if lifts else None, BY))
    return found


def stop(error: float = 0.0) -> tuple[StopMet, StopOut]:
    return StopMet(0, math.radians(33.0 - error), math.radians(33.0 + error), BY), StopOut(0, BY)


def read(context: Context, *events: object) -> Gaps:
    found = gaps(context, mock_up(numbered(*events), context.side_name), "1I-a")
    assert found is not None
    return found


# -- each reading by how the engine stood


def test_every_push_is_put_right_by_the_stand_and_the_stop_before_it() -> None:
    """A wheel reading 1.5° late, a gasket 0.15 thicker, lash 0.30: another stop and stand later changes none of it."""
    here = ctx()
    stood = replace(STOOD, lash_mm=0.30, gasket_used_mm=1.30)
    taken = pushes(here, stood=stood, error=1.5, tight=0.25)
    first = read(here, stood, *stop(1.5), *taken)
    assert first.fit is not None
    assert first.fit.drop_mm == pytest.approx(-0.25, abs=0.002)
    assert math.degrees(first.fit.timing_rad) == pytest.approx(0.0, abs=0.05)
    later = read(here, stood, *stop(1.5), *taken, *stop(0.0), STOOD)
    assert later.fit == first.fit
    # what was pushed as the engine stood otherwise is left out, and counted
    mixed = read(here, STOOD, *stop(0.0), *pushes(here, angles=(-15.0,)), stood, *stop(1.5), *taken)
    assert mixed.aside == 1
    assert mixed.fit == first.fit


def test_passes_stand_on_the_stop_that_was_met_before_them() -> None:
    here = ctx()
    own = card_flanks(here, 1.0, 0.20, 0.0)
    late = math.radians(1.5)
    taken = Pass(0, "intake", "1I-a", 1.0, own.by_tdc - late, own.by_bdc + late, None, 0.0, BY)
    events = [STOOD, *stop(1.5), taken, *stop(0.0)]
    found = timed(here, mock_up(numbered(*events), "intake"))
    assert found.advance_rad == pytest.approx(0.0, abs=1e-6)
    # one taken before any stop or stand is no row at all
    assert timed(here, mock_up(numbered(taken, *stop(0.0)), "intake")).passes == ()


def test_a_push_with_a_phaser_held_away_from_parked_is_compared_there() -> None:
    here = ctx()
    held = replace(STOOD, phaser_rad=math.radians(20.0), held_by="a pin")
    found = read(here, held, *stop(), *pushes(here, stood=held))
    assert found.fit is not None
    assert found.fit.drop_mm == pytest.approx(0.0, abs=0.002)
    assert found.least is not None
    assert found.least.gap_mm == pytest.approx(piston.pair(here).least_gap().gap_mm, abs=0.005)


# -- the model put right, and what is judged


def test_the_least_gap_measured_goes_through_the_range_and_a_tooth_either_way() -> None:
    here = ctx(change(SOUND, "engine.sprocket_teeth", "40"))
    found = read(here, STOOD, *stop(), *pushes(here, tight=0.30))
    model = piston.pair(here)
    assert found.swept is not None
    span = (0.0, math.radians(25.0))
    assert found.swept.gap_mm == pytest.approx(model.least_gap(*span).gap_mm - 0.30, abs=0.005)
    assert found.teeth is not None
    turned = [replace(model, centreline_rad=model.centreline_rad + s * math.radians(18.0)) for s in (-1, 1)]
    assert found.teeth == pytest.approx([m.least_gap(*span).gap_mm - 0.30 for m in turned], abs=0.01)
    assert found.teeth[0] < found.swept.gap_mm < found.teeth[1]
    measured = next(v for v in found.verdicts if v.id == "piston.clearance_measured")
    assert measured.figure is not None
    assert measured.limit is not None
    assert measured.limit.low == 1.5
    # the dial was read, and the curve that it is carried on by is only printed
    assert not measured.proven
    assert measured.figure.weakest is Evidence.PRINTED or measured.figure.weakest is Evidence.ASSUMED
    assert measured.figure.band == pytest.approx(
        (found.swept.gap_mm - found.half_mm, found.swept.gap_mm + found.half_mm)
    )
    hot = next(v for v in found.verdicts if v.id == "piston.clearance_running")
    assert hot.figure is not None
    lean = math.cos(model.valve_angle_rad)
    takes = running.taken(here).value * lean + running.floats(here).value
    assert hot.figure.value == pytest.approx(found.swept.gap_mm - takes)


def test_a_tight_chamber_fails_what_the_paper_let_pass_and_aluminium_is_held_to_more() -> None:
    here = ctx()
    levels = {}
    for name, context in (("steel", here), ("aluminium", ctx(change(SOUND, "engine.rod_material", "aluminium")))):
        found = read(context, STOOD, *stop(), *pushes(context, tight=0.5))
        measured = next(v for v in found.verdicts if v.id == "piston.clearance_measured")
        assert measured.limit is not None
        levels[name] = measured.level, measured.limit.low
    assert levels == {"steel": (Level.CLEAR, 1.5), "aluminium": (Level.FAIL, 2.0)}
    worse = read(here, STOOD, *stop(), *pushes(here, tight=1.2))
    assert next(v for v in worse.verdicts if v.id == "piston.clearance_measured").level is Level.FAIL


def test_travel_alone_tells_the_gap_and_not_what_makes_it() -> None:
    here = ctx()
    both, alone = (read(here, STOOD, *stop(), *pushes(here, lifts=lifts)) for lifts in (True, False))
    assert both.fit is not None
    assert alone.fit is not None
    assert alone.fit.drop_half_mm > 2.0 * both.fit.drop_half_mm
    assert alone.half_mm < 1.5 * both.half_mm
    assert "read the lift too" in alone.tells
    assert both.tells == "geometry good"


def test_one_push_alone_is_as_wide_as_what_nobody_knows_of_the_cam_and_of_its_dial() -> None:
    here = ctx()
    one = read(here, STOOD, *stop(), *pushes(here, lifts=False, tight=0.2, angles=(5.0,)))
    assert one.fit is not None
    assert one.fit.drop_half_mm > 0.3
    assert math.degrees(one.fit.timing_half_rad) == pytest.approx(5.0, abs=0.1)
    # three degrees early besides: 5° after TDC it is the same gap, 10° off it is not
    late = read(here, STOOD, *stop(), *pushes(here, lifts=False, early=3.0, angles=(-10.0,)))
    model = piston.pair(here)
    true = replace(model, centreline_rad=model.centreline_rad - math.radians(3.0)).least_gap().gap_mm
    assert late.least is not None
    assert abs(late.least.gap_mm - true) < late.half_mm
    # a cam that was timed leaves less
    known = gaps(here, mock_up(numbered(STOOD, *stop(), *pushes(here, lifts=False, early=3.0, angles=(-10.0,))), "intake"),
                 "1I-a", Known(math.radians(3.0), math.radians(0.5)))  # fmt: skip
    assert known is not None
    assert known.half_mm < 0.7 * late.half_mm
    assert known.least is not None
    assert known.least.gap_mm == pytest.approx(true, abs=0.02)


@pytest.mark.parametrize("lifts", [True, False])
@pytest.mark.parametrize(
    ("noise", "angles"),
    [
        (0.02, (-10.0, 0.0, 10.0)),
        (0.05, (-10.0, 0.0, 10.0)),
        (0.02, (-15.0, -10.0, -5.0, 0.0, 5.0, 10.0, 15.0)),
        (0.15, (-15.0, -10.0, -5.0, 0.0, 5.0, 10.0, 15.0)),
    ],
)
def test_what_pushes_leave_open_holds_the_engine(noise: float, angles: tuple[float, ...], lifts: bool) -> None:
    """Forty engines whose chamber and cam are off, each pushed by a hand that scatters so much."""
    here = ctx()
    model, rng, held, counted = piston.pair(here), np.random.default_rng(5), 0, 0
    for _ in range(40):
        tight, early = rng.normal(0.0, 0.3), rng.normal(0.0, 2.5)
        made = [
            replace(p, travel_mm=p.travel_mm + rng.normal(0.0, noise), lift_mm=p.lift_mm and p.lift_mm + rng.normal(0.0, noise))
            for p in pushes(here, tight=tight, early=early, lifts=lifts, angles=angles)
        ]  # fmt: skip
        found = read(here, STOOD, *stop(), *made)
        if found.least is None:
            assert noise == 0.15
            continue
        centre = model.centreline_rad - math.radians(early)
        true = replace(model, drop_at_tdc_mm=model.drop_at_tdc_mm - tight, centreline_rad=centre).least_gap().gap_mm
        held += abs(found.least.gap_mm - true) <= found.half_mm
        counted += 1
    assert counted >= 30
    # what chance alone takes from 93 of 100
    assert held >= 0.93 * counted - 2.0 * math.sqrt(0.93 * 0.07 * counted)


@pytest.mark.parametrize("lifts", [True, False])
@pytest.mark.parametrize("turn", [1.0, -1.0])
def test_a_dial_read_a_turn_wrong_is_named_and_nothing_rests_on_any_push(turn: float, lifts: bool) -> None:
    here = ctx()
    made = pushes(here, lifts=lifts)
    made[3] = replace(made[3], travel_mm=made[3].travel_mm + turn)
    found = read(here, STOOD, *stop(), *made)
    assert found.apart is not None
    assert math.degrees(found.apart.crank_rad) == pytest.approx(5.0)
    assert found.fit is None
    assert "5.0° lies off all others" in found.tells
    verdict = next(v for v in found.verdicts if v.id == "piston.clearance_measured")
    assert verdict.level is Level.OPEN
    assert any(
        "Piston, measured" in g.words
        for g in against(mock_up(numbered(STOOD), "intake"), [("1I-a", v) for v in found.verdicts])
    )
    # taken back, and the others count again
    events = numbered(STOOD, *stop(), *made)
    slip = next(e for e in events if isinstance(e, Pushed) and e.crank_rad == made[3].crank_rad)
    back = gaps(here, mock_up([*events, Withdrawn(99, "intake", slip.number, BY)], "intake"), "1I-a")
    assert back is not None
    assert back.tells != found.tells
    assert back.fit is not None
    # of two that do not go together neither is right by itself
    two = read(here, STOOD, *stop(), *(made[1], made[3]))
    assert "read both again" in two.tells


@pytest.mark.parametrize(("floor", "times"), [("square to the valve", 1.0), ("flat crown", -1.0)])
def test_a_gasket_counts_along_the_valve_by_the_floor_that_it_meets(floor: str, times: float) -> None:
    here = ctx(change(SOUND, "intake.clearance.floor", floor))
    thick = replace(STOOD, gasket_used_mm=1.35)
    found = read(here, thick, *stop(), Clay(0, "intake", "1I-a", 3.0, False, BY))
    lean = math.cos(found.pair.valve_angle_rad)
    assert found.gasket_mm == pytest.approx(0.20 * lean**times)
    assert found.clay_mm == pytest.approx(3.0 - found.gasket_mm - 0.20)


def test_clay_is_held_to_the_limit_of_where_the_phaser_was_held() -> None:
    here = ctx()
    model = piston.pair(here)
    parked = Clay(0, "intake", "1I-a", model.least_gap().gap_mm + 0.20, False, BY)
    advanced = replace(STOOD, phaser_rad=math.radians(20.0), held_by="a pin")
    least = model.least_gap(advanced.phaser_rad, advanced.phaser_rad).gap_mm
    found = read(here, STOOD, *stop(), *pushes(here), parked, advanced, replace(parked, imprint_mm=least + 0.20))
    # right clay at full advance beside right pushes parked: nothing is apart
    apart = next(v for v in found.verdicts if v.id == "piston.agreement")
    assert apart.figure is not None
    assert apart.figure.value == pytest.approx(0.0, abs=0.02)
    first, second = (v for v in found.verdicts if v.id.startswith("piston.clearance_clay"))
    assert (first.figure.value, second.figure.value) == pytest.approx((model.least_gap().gap_mm, least))  # type: ignore[union-attr]
    assert first.limit == piston.clearance_limit(here, "piston.clearance")
    assert second.limit == piston.clearance_limit(here, "piston.clearance_swept")
    assert "held 20.0° earlier" in second.note
    # lash and gasket are what a hand said of the stand: with them it is on paper
    assert not first.proven
    assert {leaf.symbol for leaf in first.figure.leaves if leaf.note.startswith("said by")} == {"s"}  # type: ignore[union-attr]
    low = read(here, STOOD, *stop(), replace(parked, imprint_mm=1.2))
    assert next(v for v in low.verdicts if v.id == "piston.clearance_clay").level is Level.FAIL
    # what reaches the limit within what clay is good to is tight
    limit = piston.clearance_limit(here, "piston.clearance").low
    assert limit is not None
    near = read(here, STOOD, *stop(), replace(parked, imprint_mm=limit + 0.20 + 0.05))
    assert next(v for v in near.verdicts if v.id == "piston.clearance_clay").level is Level.TIGHT


def test_dial_clay_and_model_are_held_together_at_the_phaser_they_were_taken_at() -> None:
    here = ctx()
    model = piston.pair(here)
    held = replace(STOOD, phaser_rad=math.radians(20.0), gasket_used_mm=1.30, held_by="a pin")
    true = model.least_gap(held.phaser_rad, held.phaser_rad).gap_mm
    lean = math.cos(model.valve_angle_rad)
    imprint = true + 0.15 * lean + 0.20
    clay = Clay(0, "intake", "1I-a", imprint, False, BY, 1.2, "overhanging")
    found = read(here, held, *stop(), *pushes(here, stood=held), clay)
    assert found.clay_mm == pytest.approx(true)
    apart = next(v for v in found.verdicts if v.id == "piston.agreement")
    assert apart.figure is not None
    assert apart.figure.value == pytest.approx(0.0, abs=0.01)
    along = read(here, held, *stop(), replace(clay, imprint_mm=imprint / lean, along_cylinder=True))
    assert along.clay_mm == pytest.approx(true)
    far = read(here, held, *stop(), replace(clay, imprint_mm=imprint + 0.4))
    assert next(v for v in far.verdicts if v.id == "piston.agreement").level is Level.FAIL
    radial = next(v for v in found.verdicts if v.id == "piston.radial")
    assert radial.level is Level.FAIL
    assert found.edges == ("overhanging",)


# -- valve to valve


@pytest.mark.parametrize("lashes", [(0.0, 0.0), (0.30, 0.25)])
@pytest.mark.parametrize("phasers", [(0.0, 0.0), (15.0, -10.0)])
def test_a_gap_between_heads_is_put_right_for_lash_and_phaser(
    lashes: tuple[float, float], phasers: tuple[float, float]
) -> None:
    here = ctx()
    turned = (math.radians(phasers[0]), math.radians(phasers[1]))
    model = timing.valve_gap_at(here, turned, lashes).gap_mm
    taken = Between(0, "1I-a", "1E-a", model - 0.4, *turned, *lashes, BY)
    (found,) = met(here, mock_up(numbered(STOOD, taken), "intake"))
    assert found.off_mm == pytest.approx(-0.4)
    assert found.least_mm == pytest.approx(timing.valve_gap(here).value - 0.4)
    assert found.verdict.id == "valve.to_valve_measured"
    # lash keeps the heads apart
    assert model >= timing.valve_gap_at(here, turned, (0.0, 0.0)).gap_mm


def test_the_phasers_at_their_most_and_no_lash_are_the_designs_own_figure() -> None:
    here = ctx()
    turned = (math.radians(25.0), -math.radians(12.0))
    assert timing.valve_gap_at(here, turned, (0.0, 0.0)).gap_mm == pytest.approx(timing.valve_gap(here).value)


def test_moving_either_cam_voids_what_was_met_between() -> None:
    taken = Between(0, "1I-a", "1E-a", 5.0, 0.0, 0.0, 0.2, 0.2, BY)
    for side in ("intake", "exhaust"):
        moved = numbered(STOOD, taken, Moved(0, side, 0.02, BY))
        assert mock_up(moved, "intake").betweens == ()
        assert mock_up(moved, "exhaust").betweens == ()


# -- cams in the head, and what stands against it


def test_the_worst_bearing_and_the_least_room_are_judged_and_part_read_is_no_proof() -> None:
    bearings = [Bearing(0, "intake", n, r, True, BY) for n, r in ((1, 0.01), (2, 0.035), (3, 0.02))]
    rooms = [LobeRoom(0, "intake", p, r, BY) for p, r in (("1I-a", 2.0), ("1I-b", 1.1))]
    runout, room = cams_in_head(ctx(), mock_up(numbered(*bearings, *rooms), "intake"), 8)
    assert runout.level is Level.FAIL
    assert "bearing 2" in runout.note
    assert room.level is Level.TIGHT
    assert not room.proven
    again = Bearing(0, "intake", 2, 0.01, True, BY)
    assert cams_in_head(ctx(), mock_up(numbered(*bearings, again), "intake"), 8)[0].level is Level.CLEAR
    assert cams_in_head(ctx(), mock_up(numbered(*rooms), "intake"), 2)[0].proven
    assert cams_in_head(ctx(), mock_up(numbered(*bearings), "exhaust"), 8) == ()


def closed(**more: object) -> Closed:
    return replace(Closed(0, "intake", 16, 16, True, True, "the engine maker’s sheet", BY), **more)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("events", "words"),
    [
        ((), ()),
        ((STOOD,), ("not said yet",)),
        ((STOOD, stop()[0], closed()), ("stop is in",)),
        ((STOOD, closed(springs_out=15)), ("1 checking springs short",)),
        ((STOOD, closed(springs_out=17)), ("1 checking springs too many",)),
        ((STOOD, closed(phaser_free=False, bolts_marked=False)), ("phaser unlocked", "gear bolts")),
        ((STOOD, Bearing(0, "intake", 1, 0.01, False, BY), closed()), ("does not spin",)),
        ((STOOD, Moved(0, "intake", 0.02, BY), closed()), ("the cam was moved",)),
        ((STOOD, closed()), ()),
    ],
)
def test_what_stands_against_a_mock_up(events: tuple[object, ...], words: tuple[str, ...]) -> None:
    told = against(mock_up(numbered(*events), "intake"), ())
    assert len(told) == len(words)
    assert all(w in t.words for w, t in zip(words, told, strict=True))


def test_a_verdict_that_fails_stands_against_it_and_reading_on_opens_it_again() -> None:
    here = ctx()
    events = numbered(STOOD, *stop(), closed())
    mock: MockUp = mock_up(events, "intake")
    failing = timed(here, mock_up(numbered(STOOD, StopMet(0, 0.5, 0.6, BY), StopOut(0, BY), closed()), "intake"))
    assert [g.words for g in against(mock, [("", v) for v in failing.verdicts])] == ["True TDC, both ways: fail"]
    # what is read after it was taken down asks for its taking down again
    assert mock_up([*events, *numbered(*pushes(here))[:1]], "intake").closed is None


def test_soft_adjusters_are_made_solid_before_anything_is_read() -> None:
    assert STOOD.wanting == ()
    assert "made solid" in replace(STOOD, adjusters="soft").wanting[0]
    assert replace(STOOD, adjusters="solid").wanting == ()


# -- what tells causes apart, and the other places of the side


def test_one_place_that_was_pushed_puts_the_others_right_by_their_own_heights() -> None:
    here = ctx()
    found = read(here, STOOD, *stop(), *pushes(here, tight=0.30))
    deep = ctx(change(SOUND, "intake.clearance.drop_at_tdc", "6.70"))
    worst = least_of_side({"1I-a": here, "3I-b": deep}, found)
    assert worst is not None
    assert found.swept is not None
    assert worst[0] == "3I-b"
    assert worst[1] == pytest.approx(found.swept.gap_mm - 0.25, abs=0.001)
    clay = Clay(0, "intake", "1I-a", 4.0, False, BY)
    assert least_of_side({"1I-a": here}, read(here, STOOD, *stop(), clay)) is None


@pytest.mark.parametrize(
    ("own", "other", "words"),
    [
        (2.5, None, "Time the other cam too"), (2.5, 0.2, "this one’s gear"), (-3.0, -2.6, "Both cams are late alike: a stretched chain"),
        (3.0, 2.6, "Both cams are early alike: true TDC again"),
        (-3.0, 3.0, "not alike"), (0.5, 3.0, ""),
    ],
)  # fmt: skip
def test_both_cams_tell_a_gear_from_its_drive(own: float, other: float | None, words: str) -> None:
    def of(side: str, early: float | None) -> Timed | None:
        if early is None:
            return None
        at, card = ctx(side=side), card_flanks(ctx(side=side), 1.0, 0.20, 0.0)
        shift = math.radians(early) * (1.0 if side == "intake" else -1.0)
        taken = Pass(0, side, "1", 1.0, card.by_tdc + shift, card.by_bdc - shift, None, 0.0, BY)
        stood = replace(STOOD, side=side)
        return timed(at, mock_up(numbered(stood, *stop(), taken), side))

    first = of("intake", own)
    assert first is not None
    told = told_apart(ctx(), first, of("exhaust", other))
    assert words in told
    assert bool(told) is bool(words)


def test_a_second_valve_proves_that_the_cam_is_not_twisted() -> None:
    here, card = ctx(), card_flanks(ctx(), 1.0, 0.20, 0.0)

    def passed(place: str, early: float) -> Pass:
        shift = math.radians(early)
        return Pass(0, "intake", place, 1.0, card.by_tdc + shift, card.by_bdc - shift, None, 0.0, BY)

    one = timed(here, mock_up(numbered(STOOD, *stop(), passed("1I-a", 0.5), passed("1I-a", 0.7)), "intake"))
    assert one.twist_rad is None
    two = timed(here, mock_up(numbered(STOOD, *stop(), passed("1I-a", 0.5), passed("4I-a", 2.1)), "intake"))
    assert math.degrees(two.twist_rad or 0.0) == pytest.approx(1.6)


def test_two_valves_are_not_one_mean_and_a_pass_taken_back_counts_nowhere() -> None:
    here, card = ctx(), card_flanks(ctx(), 1.0, 0.20, 0.0)

    def passed(place: str, early: float) -> Pass:
        shift = math.radians(early)
        return Pass(0, "intake", place, 1.0, card.by_tdc + shift, card.by_bdc - shift, None, 0.0, BY)

    events = [STOOD, *stop(), passed("1I-a", 0.5), passed("4I-a", 2.1), passed("4I-a", 2.3), passed("4I-a", 23.0)]
    slip = len(numbered(*events))
    assert numbered(*events)[-1].number == slip

    def advance(*more: object) -> tuple[float, str]:
        found = timed(here, mock_up(numbered(*events, *more), "intake"))
        assert found.advance_rad is not None
        return math.degrees(found.advance_rad), found.place

    assert advance()[0] > 5.0
    off = Withdrawn(0, "intake", slip, BY)
    assert advance(off) == (pytest.approx(2.2), "4I-a")
    repeat = next(v for v in timed(here, mock_up(numbered(*events, off), "intake")).verdicts if v.id == "timing.repeat")
    assert repeat.figure is not None
    assert math.degrees(repeat.figure.value) == pytest.approx(0.2)
    # a third that repeats does not make it worse, as the widest of three would
    more = timed(here, mock_up(numbered(*events, off, passed("4I-a", 2.2)), "intake"))
    again = next(v for v in more.verdicts if v.id == "timing.repeat")
    assert again.figure is not None
    assert again.figure.value < repeat.figure.value
    two = timed(here, mock_up(numbered(*events, off), "intake"))
    assert 0.4 < math.degrees(more.advance_half_rad) < math.degrees(two.advance_half_rad) < 0.6
    one = timed(here, mock_up(numbered(STOOD, *stop(), passed("4I-a", 2.1)), "intake"))
    assert 1.0 < math.degrees(one.advance_half_rad) < 1.3
    centre = next(v for v in two.verdicts if v.id == "timing.centreline")
    assert centre.figure is not None
    assert centre.figure.band == pytest.approx(
        (centre.figure.value - two.advance_half_rad, centre.figure.value + two.advance_half_rad)
    )
    # what was kept with it in falls with it; what is kept after it is gone stands
    kept = Kept(0, "intake", math.radians(9.1), "ran like that", BY)
    assert mock_up(numbered(*events, kept), "intake").kept is not None
    assert mock_up(numbered(*events, kept, off), "intake").kept is None
    assert mock_up(numbered(*events, off, kept), "intake").kept is not None
    assert mock_up(numbered(*events, kept, off), "intake").withdrawn == (numbered(*events)[-1],)
    # another side's act takes nothing off this one
    assert advance(replace(off, side="exhaust"))[0] > 5.0


def test_backlash_is_forward_less_backward_and_a_cam_that_moves_keeps_it() -> None:
    slack = Slack(0, "intake", math.radians(10.0), math.radians(7.5), BY)
    mock = mock_up(numbered(STOOD, slack, Moved(0, "intake", 0.02, BY)), "intake")
    assert mock.slack is not None
    assert math.degrees(mock.slack.backlash_rad) == pytest.approx(2.5)
    assert mock_up(numbered(STOOD, slack), "exhaust").slack is None


def test_a_push_without_a_pointers_error_or_a_stand_is_no_reading_of_anything() -> None:
    here = ctx()
    bare = mock_up(numbered(STOOD, *pushes(here)), "intake")
    assert gaps(here, bare, "1I-a") is None
    assert gaps(here, mock_up(numbered(*stop(), *pushes(here)), "intake"), "1I-a") is None
