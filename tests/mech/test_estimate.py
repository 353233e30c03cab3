import math

import numpy as np
import pytest

from arcstack.errors import CurveConflict
from arcstack.mech.cam.estimate import CardDuration, estimated_lobe
from arcstack.mech.cam.facts import crossings_rad, duration_crank_rad, facts, lift_table


def card(*rows: tuple[float, float]) -> list[CardDuration]:
    return [CardDuration(lift, math.radians(deg), f"{deg:g}° at {lift:g} mm") for lift, deg in rows]


@pytest.mark.parametrize(
    ("lift", "rows", "tolerance"),
    [
        (10.4, [(1.0, 232)], 0.1),
        (10.4, [(1.0, 228), (0.15, 258)], 0.1),
        (10.4, [(1.0, 228), (0.15, 275)], 0.1),
        (11.2, [(1.27, 240)], 0.1),
        (6.8, [(0.15, 270), (1.27, 220)], 0.1),
        (10.4, [(1.0, 228), (0.15, 258), (1.27, 222)], 0.5),
        (10.4, [(1.0, 228), (0.15, 268), (1.27, 222)], 0.5),
    ],
)
def test_the_curve_meets_the_card(lift: float, rows: list[tuple[float, float]], tolerance: float) -> None:
    lobe = estimated_lobe(lift, card(*rows), 0.2)
    assert facts(lobe).max_lift_mm == pytest.approx(lift)
    for check, degrees in rows:
        assert math.degrees(duration_crank_rad(lobe, check)) == pytest.approx(degrees, abs=tolerance)


def test_the_curve_is_smooth_and_its_derivatives_are_its_own() -> None:
    lobe = estimated_lobe(10.4, card((1.0, 228), (0.15, 258)), 0.2)
    angles = np.linspace(*lobe.support_rad, 16001)
    step = angles[1] - angles[0]
    for order in (0, 1):
        numeric = np.gradient(lobe.evaluate(angles, order), step)
        exact = lobe.evaluate(angles, order + 1)
        assert np.abs(numeric - exact)[5:-5].max() < 0.02 * np.abs(exact).max()
    assert lobe.evaluate(np.array([-3.0, 3.0])).tolist() == [0.0, 0.0]


def test_the_lobe_is_alike_on_both_flanks() -> None:
    lobe = estimated_lobe(10.4, card((1.0, 228)), 0.2)
    opening, closing = crossings_rad(lobe, 3.0)
    assert opening == pytest.approx(-closing)
    assert lobe.evaluate(np.array([opening]), 1)[0] == pytest.approx(-lobe.evaluate(np.array([closing]), 1)[0])
    assert lobe.evaluate(np.array([opening]), 1)[0] > 0


@pytest.mark.parametrize(
    ("rows", "words"),
    [
        ([(1.0, 228), (1.27, 229)], "229° at 1.27 mm conflicts with 228° at 1 mm"),
        ([(1.0, 228), (0.15, 232)], "232° at 0.15 mm conflicts with 228° at 1 mm.*at least 2[45]"),
        ([(11.0, 228)], "228° at 11 mm: the check lift is not below"),
        ([(1.0, 228), (0.15, 268), (5.0, 140)], "meets all of 228° at 1 mm; 268° at 0.15 mm; 140° at 5 mm"),
    ],
)
def test_a_card_that_no_lobe_meets_is_named(rows: list[tuple[float, float]], words: str) -> None:
    with pytest.raises(CurveConflict, match=words):
        estimated_lobe(10.4, card(*rows), 0.2)


def test_the_lift_table_is_as_good_as_the_law() -> None:
    lobe = estimated_lobe(10.4, card((1.0, 228)), 0.2)
    angles, lift = lift_table(lobe)
    between = (angles[1:] + angles[:-1]) / 2
    assert np.abs(np.interp(between, angles, lift) - lobe.evaluate(between)).max() < 2e-5
