"""Each way out of a gap that is too small, done, brings it to its limit and not past it."""

import math
import re
from collections.abc import Callable

import pytest

from arcstack.assess import Assessment, assess, piston
from arcstack.demo import demo_builds
from arcstack.document import Build, amount, change
from arcstack.trials.clearing import Tight, Way, tight
from arcstack.units import System

SOUND, FAILING = demo_builds()


def ways(build: Build, side: str = "intake") -> tuple[Tight, dict[str, Way]]:
    found = tight(assess(build), side, [("lesser", build.side("exhaust").cam)], System.MM)
    assert found is not None
    return found, {w.key: w for w in found.ways}


def number(text: str) -> float:
    found = re.search(r"[0-9.]+", text)
    assert found is not None, text
    return float(found[0])


def swept(now: Assessment, side: str = "intake") -> float:
    return piston.swept_gap(now.sides[side]).value


def deeper(build: Build, by: float) -> Build:
    angle = build.intake.clearance.valve_angle
    assert angle is not None
    drop = amount(build.intake.clearance.drop_at_tdc)
    assert drop is not None
    return change(build, "intake.clearance.drop_at_tdc", f"{drop + by * math.cos(angle.value):.4f}")


def later(build: Build, by: float) -> Build:
    centre = amount(build.intake.cam.centreline)
    assert centre is not None
    return change(build, "intake.cam.centreline", f"{math.degrees(centre) + by:.4f} deg")


def limited(build: Build, by: float) -> Build:
    held = change(build, "intake.cam.phaser_limit", f"{by} deg")
    return change(held, "intake.cam.phaser_held", "software")


@pytest.mark.parametrize(
    ("key", "done", "within"), [("pocket", deeper, 0.01), ("cam", later, 0.02), ("phaser", limited, 0.08)]
)
def test_each_way_done_holds_and_a_little_less_does_not(
    key: str, done: Callable[[Build, float], Build], within: float
) -> None:
    found, each = ways(FAILING)
    assert found.missing_mm == pytest.approx(1.5 - swept(assess(FAILING)))
    by = number(each[key].by)
    assert swept(assess(done(FAILING, by))) == pytest.approx(found.least_mm, abs=within)
    less = by + 1.0 if key == "phaser" else 0.9 * by
    assert swept(assess(done(FAILING, less))) < found.least_mm - 0.02


def test_a_kept_cam_is_offered_by_what_it_leaves_and_a_thin_crown_is_no_way() -> None:
    _, each = ways(FAILING)
    assert each["cam:lesser"].reaches
    assert each["pocket"].reaches
    assert "Give the crown’s thickness" in each["pocket"].note
    thin = ways(change(FAILING, "intake.clearance.crown", "6.5"))[1]["pocket"]
    assert not thin.reaches
    assert "less than the 5.00 mm" in thin.note
    assert ways(change(FAILING, "intake.clearance.crown", "7.5"))[1]["pocket"].reaches


def test_what_cannot_reach_says_so() -> None:
    close = ways(change(FAILING, "intake.clearance.drop_at_tdc", "1.5"))[1]
    assert not close["phaser"].reaches
    assert close["phaser"].limit_rad is None
    assert not close["cam"].reaches
    parked = change(change(FAILING, "intake.cam.phaser_advance", "none"), "intake.clearance.drop_at_tdc", "3.0")
    assert not ways(parked)[1]["phaser"].reaches


def test_a_gap_that_holds_or_cannot_be_told_asks_nothing() -> None:
    assert tight(assess(SOUND), "intake", [], System.MM) is None
    assert tight(assess(change(FAILING, "engine.rod", "")), "intake", [], System.MM) is None


def test_an_exhaust_cam_is_turned_earlier() -> None:
    close = change(SOUND, "exhaust.clearance.drop_at_tdc", "4.0")
    found = tight(assess(close), "exhaust", [], System.MM)
    assert found is not None
    way = next(w for w in found.ways if w.key == "cam")
    assert way.title == "The cam earlier"
    centre = amount(close.exhaust.cam.centreline)
    assert centre is not None
    by = number(way.by)
    turned = change(close, "exhaust.cam.centreline", f"{math.degrees(centre) + by:.4f} deg")
    assert swept(assess(turned), "exhaust") == pytest.approx(found.least_mm, abs=0.02)
