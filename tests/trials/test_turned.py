"""An engine that does not exist, turned by hand: it reads as a real one does, slack and stop and all."""

import math
from types import MappingProxyType

import numpy as np
import pytest

from arcstack.assess import assess, piston
from arcstack.demo import demo_builds
from arcstack.readings.learning import Mocked
from arcstack.trials.timed import card_flanks
from arcstack.trials.turned import Turned, shown, spoken

SOUND, _ = demo_builds()
RAD = math.radians


def engine(pointer: float = 0.0, early: float = 0.0, slack: float = 2.0, tight: float = 0.0) -> Mocked:
    sides = ("intake", "exhaust")
    return Mocked(
        RAD(pointer), MappingProxyType(dict.fromkeys(sides, RAD(early))), RAD(slack), RAD(33.0),
        MappingProxyType(dict.fromkeys(sides, tight)),
    )  # fmt: skip


def turned(stands: Turned, hidden: Mocked, *steps: float) -> Turned:
    for step in steps:
        stands = stands.by(RAD(step), hidden)
    return stands


def test_the_stop_is_met_both_ways_and_halves_to_the_pointers_error() -> None:
    hidden = engine(pointer=1.5)
    ctx = assess(SOUND).sides["intake"]
    stands = Turned(RAD(-80.0)).with_stop(True, hidden)
    first = turned(stands, hidden, 90.0)
    assert first.met
    assert math.degrees(first.crank_rad) == pytest.approx(-33.0)
    before = shown(ctx, hidden, first, 0.0, 0.2).wheel_rad
    second = turned(first, hidden, -90.0, -90.0, -90.0, -90.0)
    assert second.met
    assert math.degrees(second.crank_rad) % 360.0 == pytest.approx(33.0)
    after = shown(ctx, hidden, second, 0.0, 0.2).wheel_rad
    assert math.degrees(-before), math.degrees(after) == pytest.approx((31.5, 34.5))
    assert math.degrees(after + before) / 2.0 == pytest.approx(1.5)
    # taken out it turns on, and is put in again only beside the piston
    free = turned(second.with_stop(False, hidden), hidden, -40.0)
    assert not free.met
    at_tdc = Turned(0.0).with_stop(True, hidden)
    assert abs(math.degrees(at_tdc.crank_rad)) > 33.0


@pytest.mark.parametrize("side", ["intake", "exhaust"])
@pytest.mark.parametrize("early", [0.0, 4.0])
def test_both_flanks_come_at_the_check_lift_where_the_curve_has_them(side: str, early: float) -> None:
    hidden, ctx = engine(early=early), assess(SOUND).sides[side]
    own = card_flanks(ctx, 1.0, 0.2, 0.0)
    near = -own.by_tdc if side == "intake" else own.by_tdc
    far = math.pi + own.by_bdc if side == "intake" else -math.pi - own.by_bdc
    for angle in (near, far):
        at = shown(ctx, hidden, Turned(angle - RAD(early)), 0.0, 0.2)
        assert at.lift_mm == pytest.approx(1.0, abs=0.01)
    # moved half of it in cam degrees the other way, it stands as the card
    right = shown(ctx, hidden, Turned(near), RAD(-early / 2.0), 0.2)
    assert right.lift_mm == pytest.approx(1.0, abs=0.01)


def test_turned_back_the_same_lift_comes_later_by_the_slack_and_goes_again_forward() -> None:
    hidden, ctx = engine(slack=2.5), assess(SOUND).sides["intake"]
    forward = turned(Turned(RAD(-30.0)), hidden, 40.0)
    lift = shown(ctx, hidden, forward, 0.0, 0.2).lift_mm
    back = turned(forward, hidden, 5.0, -5.0)
    assert math.degrees(back.crank_rad) == pytest.approx(math.degrees(forward.crank_rad))
    assert shown(ctx, hidden, back, 0.0, 0.2).lift_mm > lift + 0.05
    # the same lift stands 2.5° sooner on the wheel than going forward
    late = turned(back, hidden, -2.5)
    assert shown(ctx, hidden, late, 0.0, 0.2).lift_mm == pytest.approx(lift, abs=1e-6)
    # once round it is forward again
    round_ = turned(late, hidden, 722.5)
    assert shown(ctx, hidden, round_, 0.0, 0.2).lift_mm == pytest.approx(lift, abs=1e-6)
    # less than the slack is taken back by less
    little = turned(forward, hidden, -1.0)
    assert math.degrees(little.ahead_rad) == pytest.approx(1.0)
    assert math.degrees(turned(little, hidden, -9.0).ahead_rad) == pytest.approx(2.5)


def test_a_push_reaches_the_piston_of_the_tight_chamber_and_lash_is_taken_off_the_lift() -> None:
    ctx = assess(SOUND).sides["intake"]
    model, at = piston.pair(ctx), np.array([RAD(5.0)])
    for tight in (0.0, 0.6):
        found = shown(ctx, engine(tight=tight), Turned(RAD(5.0)), 0.0, 0.2)
        assert found.lift_mm + found.travel_mm == pytest.approx(float(model.room_mm(at)[0]) - tight)
    less = shown(ctx, engine(), Turned(RAD(5.0)), 0.0, 0.3).lift_mm
    assert shown(ctx, engine(), Turned(RAD(5.0)), 0.0, 0.2).lift_mm - less == pytest.approx(0.1, abs=1e-6)


def test_from_the_side_the_pointer_reads_otherwise_and_the_valve_does_not() -> None:
    ctx, hidden = assess(SOUND).sides["intake"], engine()
    square, left, right = (
        shown(ctx, hidden, Turned(RAD(10.0), eye=eye), 0.0, 0.2)
        for eye in ("square", "from the left", "from the right")
    )
    assert math.degrees(left.wheel_rad - square.wheel_rad) == pytest.approx(1.0)
    assert math.degrees(right.wheel_rad - square.wheel_rad) == pytest.approx(-1.0)
    assert square.lift_mm == left.lift_mm == right.lift_mm


@pytest.mark.parametrize(
    ("degrees", "words"),
    [(0.0, "at TDC"), (-31.5, "31.5° before TDC"), (90.0, "90.0° after TDC"), (91.0, "89.0° before BDC"),
     (-140.0, "40.0° after BDC"), (180.0, "at BDC"), (-180.0, "at BDC")],
)  # fmt: skip
def test_an_angle_is_said_from_the_dead_centre_near_it(degrees: float, words: str) -> None:
    assert spoken(RAD(degrees)) == words
