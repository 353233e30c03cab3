"""What bench readings come to, at their ends and against every way of laying them out."""

import math
from itertools import permutations

import numpy as np
import pytest

from arcstack.mech.bench import (
    half_life_s,
    least_spread,
    loads_N,
    rock_clearance_mm,
    solid_by_slope,
    vacuum_time_constant_s,
    worst_and_likely,
)


def test_a_rock_at_the_guides_end_is_more_than_the_clearance_and_none_is_none() -> None:
    assert rock_clearance_mm(0.0, 38.0, 30.0) == 0.0
    assert rock_clearance_mm(0.05, 38.0, 0.0) == 0.05
    assert rock_clearance_mm(0.19, 38.0, 30.0) == pytest.approx(0.0737, abs=5e-5)
    assert rock_clearance_mm(0.19, 38.0, 30.0) < rock_clearance_mm(0.19, 38.0, 20.0)


def test_a_seat_that_loses_nothing_holds_for_ever() -> None:
    assert vacuum_time_constant_s(0.8, 0.8, 10.0) == math.inf
    constant = vacuum_time_constant_s(0.8, 0.4, 10.0)
    assert half_life_s(constant) == pytest.approx(10.0)
    for first, second, seconds in ((0.7, 0.8, 10.0), (0.8, 0.0, 10.0), (0.8, 0.7, 0.0), (-0.8, -0.9, 5.0)):
        with pytest.raises(ValueError, match="second reading"):
            vacuum_time_constant_s(first, second, seconds)


def test_half_widths_add_by_squares_and_at_worst() -> None:
    assert worst_and_likely([]) == (0.0, 0.0)
    assert worst_and_likely([0.3]) == pytest.approx((0.3, 0.3))
    assert worst_and_likely([0.3, -0.4]) == pytest.approx((0.7, 0.5))


def test_the_worked_set_of_eight_springs() -> None:
    loads = loads_N(
        [346, 349, 352, 355, 351, 348, 353, 350], [43.5] * 8, 36.0,
        [36.00, 36.04, 35.97, 36.06, 36.02, 35.99, 36.05, 35.98],
    )  # fmt: skip
    laid = np.diag(loads)
    assert (laid.min(), laid.max()) == pytest.approx((346.0, 353.3), abs=0.05)
    found = least_spread(loads)
    held = loads[list(found.springs), range(8)]
    assert sorted(found.springs) == list(range(8))
    assert np.ptp(held) == pytest.approx(found.spread_N)
    assert found.spread_N <= 352.4 - 347.3 + 0.05


@pytest.mark.parametrize("seed", range(12))
def test_no_way_of_laying_springs_out_beats_the_one_found(seed: int) -> None:
    dice = np.random.default_rng(seed)
    springs, valves = (6, 6) if seed % 2 else (7, 5)
    loads = loads_N(
        dice.uniform(330, 360, springs).tolist(), dice.uniform(38, 48, springs).tolist(), 36.0,
        dice.uniform(35.7, 36.5, valves).tolist(),
    )  # fmt: skip
    best = min(np.ptp(loads[list(way), range(valves)]) for way in permutations(range(springs), valves))
    found = least_spread(loads)
    assert len(set(found.springs)) == valves
    assert found.spread_N == pytest.approx(best)


def test_more_valves_than_springs_are_refused() -> None:
    with pytest.raises(ValueError, match="more valves"):
        least_spread(loads_N([350.0], [43.0], 36.0, [36.0, 36.1]))


@pytest.mark.parametrize("times", [8.0, 15.0, 40.0])
@pytest.mark.parametrize("noise_N", [0.2, 1.0])
def test_a_solid_height_by_slope_is_not_told_below_the_truth(times: float, noise_N: float) -> None:
    """Two hundred springs pressed every 0.2 mm from wherever: coil on coil so many times as stiff as their rate."""
    rng, below = np.random.default_rng(3), 0
    for _ in range(200):
        rate, true = rng.uniform(25.0, 60.0), rng.uniform(21.5, 22.5)
        presses, solid, height = [], None, true + 0.9 + rng.uniform(0.0, 0.2)
        while solid is None or height > solid.below_mm - 0.25:
            load = 600.0 + rate * (22.6 - height) + times * rate * max(true - height, 0.0) + rng.normal(0.0, noise_N)
            presses.append((round(height, 4), load))
            height -= 0.2
            solid = solid_by_slope(presses, rate, 5.0, 2.0 * noise_N) if len(presses) > 1 else None
        below += solid.height_mm < true - 1e-4
        assert solid.height_mm < true + 2.0 * solid.half_mm + 0.2
    assert below <= 0.05 * 200
