import math

import numpy as np
import pytest

from arcstack.assess import assess
from arcstack.assess.catalogue import find
from arcstack.checks import Figure
from arcstack.demo import demo_builds
from arcstack.document import Build, change
from arcstack.document.ratio_table import read_ratio_table
from arcstack.errors import FieldError
from arcstack.mech.cam.law import SymmetricLobe
from arcstack.mech.ratio import (
    BackLaw,
    ConstantRatio,
    FollowedLaw,
    Motion,
    PivotArm,
    RatioCurve,
    _dying,
    lobe_for_valve_mm,
)

LOBE = SymmetricLobe.polynomial(6.5, math.radians(68.0), (2.0, 8.0, 14.0, 20.0))
MOTIONS: list[Motion] = [
    ConstantRatio(1.55),
    RatioCurve((0.0, 3.0, 6.5), (1.50, 1.56, 1.54)),
    PivotArm(40.0, 5.0, 25.0, 3.0),
]


@pytest.mark.parametrize("motion", MOTIONS, ids=lambda m: type(m).__name__)
def test_derivatives_are_the_slope_of_the_lift(motion: Motion) -> None:
    lobe = np.linspace(0.05, 6.4, 2001)
    for order in (0, 1):
        slope = np.gradient(motion.valve_mm(lobe, order), lobe)
        assert np.abs(slope - motion.valve_mm(lobe, order + 1))[2:-2].max() < 1e-4


@pytest.mark.parametrize("motion", MOTIONS, ids=lambda m: type(m).__name__)
def test_the_lobe_lift_for_a_valve_lift_goes_there_and_back(motion: Motion) -> None:
    for lobe in (0.2, 3.0, 6.5):
        valve = float(motion.valve_mm(np.array([lobe]))[0])
        assert lobe_for_valve_mm(motion, valve) == pytest.approx(lobe, abs=2e-3)


@pytest.mark.parametrize("motion", MOTIONS, ids=lambda m: type(m).__name__)
def test_the_law_at_the_valve_differentiates_through_the_follower(motion: Motion) -> None:
    law = FollowedLaw(LOBE, motion)
    angle = np.linspace(-1.1, 1.1, 8001)
    for order in (0, 1, 2):
        slope = np.gradient(law.evaluate(angle, order), angle)
        exact = law.evaluate(angle, order + 1)
        assert np.abs(slope - exact)[3:-3].max() < 0.01 * np.abs(exact).max()


def test_level_arms_have_the_ratio_of_their_lengths() -> None:
    # both ends level with the pivot: at a small lift the ratio is 40/25, whatever the swing does later
    small = float(PivotArm(40.0, 0.0, 25.0, 0.0).valve_mm(np.array([1e-4]))[0]) / 1e-4
    assert small == pytest.approx(1.6, rel=1e-6)
    with pytest.raises(ValueError, match="longer than its end"):
        PivotArm(4.0, 5.0, 25.0, 3.0)
    with pytest.raises(ValueError, match="can swing"):
        PivotArm(40.0, 0.0, 5.0, 0.0).valve_mm(np.array([6.0]))


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("3 1.56", "at least two"),
        ("3 1.56; 3 1.6", "own lobe lift"),
        ("3; 4", "is no pair"),
        ("3 15; 4 1.5", "not between"),
    ],
)
def test_a_ratio_table_that_is_none_is_told_at_its_field(text: str, words: str) -> None:
    with pytest.raises(ValueError, match=words):
        read_ratio_table(text)
    with pytest.raises(FieldError, match=words):
        change(Build(name="x"), "intake.follower.finger.ratio_table", text)


def finger(**rows: str) -> Build:
    build = demo_builds()[0]
    given = {"engine__follower": "finger", "intake__cam__lobe_lift": "6.5", "intake__follower__finger__mass": "40 g"}
    for path, text in (given | rows).items():
        build = change(build, path.replace("__", "."), text)
    return build


def ratio(build: Build) -> Figure:
    found = find(assess(build).sides["intake"], "follower.ratio")
    assert isinstance(found, Figure), found
    return found


def test_ratio_from_a_table_and_from_the_finger_itself() -> None:
    table = finger(
        intake__follower__finger__ratio_from="table", intake__follower__finger__ratio_table="0 1.5; 3.25 1.56; 6.5 1.54"
    )
    assert ratio(table).value == pytest.approx(1.54)
    assert "1.560 at half" in ratio(table).note
    assert assess(table).verdict("lift.net", "intake").figure.value == pytest.approx(6.5 * 1.54 - 0.2)  # type: ignore[union-attr]
    pivot = finger(
        intake__follower__finger__ratio_from="pivot geometry", intake__follower__finger__arm="40",
        intake__follower__finger__arm_height="5", intake__follower__finger__pad_arm="25", intake__follower__finger__pad_height="3",
    )  # fmt: skip
    by_hand = 5 - 40 * math.sin(math.asin(5 / 40) - (math.asin(3 / 25) + math.asin(3.5 / 25)))
    assert ratio(pivot).value == pytest.approx(by_hand / 6.5)
    assert assess(pivot).verdict("control.separation", "intake").figure is not None


def test_arms_that_cannot_be_leave_the_checks_open_and_say_why() -> None:
    arms = {
        "intake__follower__finger__ratio_from": "pivot geometry", "intake__follower__finger__arm": "20",
        "intake__follower__finger__arm_height": "14", "intake__follower__finger__pad_arm": "8",
    }  # fmt: skip
    with pytest.raises(FieldError, match="off its pivot"):
        finger(**arms | {"intake__follower__finger__arm": "12"})
    wrong = finger(**arms, intake__follower__finger__pad_height="-3")
    verdict = assess(wrong).verdict("lift.net", "intake")
    assert verdict.level == "open"
    assert "more than the pad's arm can swing" in verdict.note


@pytest.mark.parametrize("width", [0.3, 0.7, 2.5])
def test_what_a_tables_end_still_adds_starts_with_its_slope_and_dies_smoothly(width: float) -> None:
    slope, bend = 0.04, -0.013
    at = np.array([0.0, width, 2.0 * width])
    added, first, second = _dying(at, slope, bend, width)
    assert added[0] == pytest.approx(0.0)
    assert (first[0], second[0]) == (pytest.approx(slope), pytest.approx(bend))
    assert [*first[1:], *second[1:]] == pytest.approx([0.0] * 4, abs=1e-12)
    assert added[1:] == pytest.approx([0.0, 0.0], abs=1e-12)
    inside, step = np.linspace(0.1, 0.9, 9) * width, 1e-5 * width
    (below, slope_below, _), (above, slope_above, _) = (_dying(inside + s, slope, bend, width) for s in (-step, step))
    _, found, bent = _dying(inside, slope, bend, width)
    assert found == pytest.approx((above - below) / (2.0 * step), abs=1e-7)
    assert bent == pytest.approx((slope_above - slope_below) / (2.0 * step), abs=1e-6)


def test_the_jerk_of_a_lobe_behind_a_valve_is_the_slope_of_its_acceleration() -> None:
    back = BackLaw(LOBE, RatioCurve((0.0, 3.0, 6.5), (1.50, 1.56, 1.54)))
    cam, step = np.radians([-40.0, -15.0, 12.0, 33.0]), math.radians(0.05)
    wanted = (back.evaluate(cam + step, 2) - back.evaluate(cam - step, 2)) / (2.0 * step)
    assert back.evaluate(cam, 3) == pytest.approx(wanted, rel=0.01, abs=0.05)
