import math

import numpy as np
import pytest

from arcstack.mech.cam.law import SymmetricLobe
from arcstack.web.stages.cam.motion import motion
from tests.web.conftest import Browser

LOBE = SymmetricLobe.polynomial(10.4, math.radians(72.0), (2.0, 8.0, 14.0, 20.0))


def test_motion_by_hand_at_a_speed() -> None:
    # 6000 rpm: the cam turns 314.16 rad/s. 14.891 mm/rad is 4.68 m/s; 54.487 mm/rad² is 5378 m/s²
    rows = {r.label: r for r in motion(LOBE, 6000.0)}
    assert rows["Velocity, opening"].on_cam == "14.89 mm/rad"
    assert rows["Velocity, opening"].at_speed == "4.68 m/s"
    assert rows["Velocity, closing"].at_speed == "-4.68 m/s"
    assert rows["Acceleration, opening flank"].at_speed == "5,378 m/s² · 548 g"
    assert rows["Deceleration, most"].on_cam == "-22.8 mm/rad²"
    assert rows["Deceleration, nose"].where == "+0.0°"


def test_nothing_moves_at_no_speed() -> None:
    assert all(r.at_speed.startswith(("0", "-0")) for r in motion(LOBE, 0.0))


def test_jerk_is_the_slope_of_acceleration() -> None:
    angle = np.linspace(-1.1, 1.1, 4001)
    slope = np.gradient(LOBE.evaluate(angle, 2), angle)
    jerk = LOBE.evaluate(angle, 3)
    assert np.all(np.isfinite(jerk))
    assert np.abs(slope - jerk)[2:-2].max() < 0.01 * np.abs(jerk).max()


def test_motion_and_another_ratio_on_the_page(browser: Browser) -> None:
    at = f"/builds/{browser.sound}/intake"
    page = browser.get(f"{at}/curve/motion?rpm=7000")
    for words in ("m/s²", "Radius of curvature, least", "Contact pressure, most"):
        assert words in page
    browser.type("engine.follower", "rocker", 200, "edit", stage="brief")
    browser.type("intake.follower.rocker.ratio", "1.5", 200, "edit", stage="cam")
    page = browser.get(f"/builds/{browser.failing}/intake/curve/ratio?ratio=1.6")
    assert "15.74 mm" in page
    assert "16.78 mm" in page
    assert "Retainer to seal" in page
    assert "is not between" in browser.get(f"/builds/{browser.failing}/intake/curve/ratio?ratio=9")


@pytest.mark.parametrize("basis", ["at the lobe", "at the valve, lash 0.20 mm"])
def test_overlap_stands_in_the_table_of_events(browser: Browser, basis: str) -> None:
    page = browser.get(f"/builds/{browser.sound}/intake/curve/events?advance=0")
    assert basis in page
    # at 1.0 mm at the lobe: intake opens 4° before, exhaust closes at TDC
    assert "4.0°" in page
