"""Valve to piston by dial: geometry and timing told apart, or said not to be."""

import math
from dataclasses import replace

import pytest

from arcstack.mech.cam.law import SymmetricLobe
from arcstack.mech.piston import ValveToPiston
from arcstack.mech.pushed import Push, compared, corrected, drop_that_fits_mm, fit_both, fit_pushes, sensitivity

LOBE = SymmetricLobe.polynomial(10.4, math.radians(72.0), (2.0, 8.0, 14.0, 20.0))
MODEL = ValveToPiston(LOBE, math.radians(106.0), 6.20, math.radians(15.0), 86.0, 138.0)
ANGLES = [math.radians(a) for a in (-15, -10, -5, 0, 5, 10, 15)]


def pushes(engine: ValveToPiston, lash: float = 0.0, phaser: float = 0.0, with_lift: bool = True) -> list[Push]:
    import numpy as np

    found = []
    for angle in ANGLES:
        at = np.array([angle])
        lift = float(engine.net_lift_mm(at, phaser, lash)[0])
        found.append(Push(angle, float(engine.room_mm(at)[0]) - lift, lift if with_lift else None))
    return found


def test_lift_and_travel_together_tell_the_drop_at_five_degrees() -> None:
    """Stroke 86, rod 138, 15°: lift 2.10 and travel 4.35 are 6.45, the model 6.20 + 0.21 = 6.41: 0.04 apart."""
    found = compared(MODEL, [Push(math.radians(5.0), 4.35, 2.10)])[0]
    assert found.geometry_off_mm == pytest.approx(0.04, abs=0.005)


def test_an_engine_as_its_model_is_off_by_nothing_whatever_lash_and_phaser_were_set() -> None:
    for lash, phaser in ((0.0, 0.0), (0.20, 0.0), (0.20, math.radians(12.0))):
        for c in compared(MODEL, pushes(MODEL, lash, phaser), lash, phaser):
            assert (c.lift_off_mm, c.geometry_off_mm, c.gap_off_mm) == pytest.approx((0.0, 0.0, 0.0), abs=1e-12)


def test_a_tight_chamber_shows_in_geometry_and_an_early_cam_in_lift() -> None:
    tight = replace(MODEL, drop_at_tdc_mm=5.80)
    for c in compared(MODEL, pushes(tight)):
        assert (c.lift_off_mm, c.geometry_off_mm) == pytest.approx((0.0, -0.40))
    assert drop_that_fits_mm(MODEL, pushes(tight)) == pytest.approx(5.80)
    early = replace(MODEL, centreline_rad=math.radians(103.0))
    rows = compared(MODEL, pushes(early))
    assert all(c.geometry_off_mm == pytest.approx(0.0, abs=1e-12) for c in rows)
    assert all(c.lift_off_mm is not None and c.lift_off_mm > 0.05 for c in rows)


def test_what_was_only_pushed_is_fitted_for_both_with_what_that_leaves_open() -> None:
    engine = replace(MODEL, drop_at_tdc_mm=6.05, centreline_rad=math.radians(105.5))
    fit = fit_pushes(MODEL, pushes(engine, with_lift=False), 0.01)
    assert fit.drop_mm == pytest.approx(-0.15, abs=0.02)
    assert math.degrees(fit.timing_rad) == pytest.approx(0.5, abs=0.1)
    least, right = corrected(MODEL, fit).least_gap(), engine.least_gap()
    assert least.gap_mm == pytest.approx(right.gap_mm, abs=0.02)
    # five times as coarse a reading leaves five times as much open
    coarse = fit_pushes(MODEL, pushes(engine, with_lift=False), 0.05)
    assert coarse.timing_half_rad == pytest.approx(5.0 * fit.timing_half_rad)
    assert coarse.drop_half_mm == pytest.approx(5.0 * fit.drop_half_mm)


def test_a_cam_made_earlier_takes_gap_from_an_intake_after_tdc() -> None:
    assert math.radians(sensitivity(MODEL, math.radians(10.0))) < -0.05


@pytest.mark.parametrize("slopes", [(-5.0, -5.0, -5.0), (-5.0,), (0.0, 0.0)])
def test_angles_that_all_move_alike_cannot_tell_drop_from_timing(slopes: tuple[float, ...]) -> None:
    with pytest.raises(ValueError, match=r"told apart|two residuals"):
        fit_both([0.1] * len(slopes), slopes, 0.05)


def test_nothing_pushed_fits_nothing() -> None:
    with pytest.raises(ValueError, match="at least one"):
        drop_that_fits_mm(MODEL, [])
