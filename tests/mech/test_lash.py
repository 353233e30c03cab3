"""Shims that are needed, that change places, and what services tell: lash worked by hand."""

import itertools
import random

import numpy as np
import pytest

from arcstack.mech import lash
from arcstack.mech.lash import Serviced, swapped, trend_of

FITTED, READ = (2.70, 2.80, 2.75, 2.85), (0.12, 0.26, 0.18, 0.24)


def test_the_worked_four_need_two_new_shims() -> None:
    """Needs 2.62 2.86 2.73 2.89: 2.85 goes to the second (0.21), 2.75 stays (0.18), 2.60 and 2.90 are bought."""
    needed = [lash.needed_mm(f, r, 0.20) for f, r in zip(FITTED, READ, strict=True)]
    assert needed == pytest.approx([2.62, 2.86, 2.73, 2.89])
    made = swapped(FITTED, needed, 0.03)
    assert made.from_place == (None, 3, 2, None)
    assert lash.lash_with_mm(2.80, 0.26, 2.85) == pytest.approx(0.21)
    assert [lash.nearest(n, (2.55, 2.60, 2.65, 2.85, 2.90, 2.95)) for n in (2.62, 2.89)] == [2.60, 2.90]
    assert lash.lash_with_mm(2.70, 0.12, 2.60) == pytest.approx(0.22)
    assert lash.lash_with_mm(2.85, 0.24, 2.90) == pytest.approx(0.19)


def test_the_shim_that_is_needed_leaves_the_target_by_any_ratio() -> None:
    for ratio in (1.0, 1.45, 1.6):
        needed = lash.needed_mm(2.70, 0.31, 0.20, ratio)
        assert needed > 2.70
        assert lash.lash_with_mm(2.70, 0.31, needed, ratio) == pytest.approx(0.20)


@pytest.mark.parametrize("seed", range(12))
def test_no_other_order_of_the_fitted_shims_brings_more_into_band(seed: int) -> None:
    dice = random.Random(seed)
    fitted = [round(dice.uniform(2.5, 2.8) / 0.025) * 0.025 for _ in range(6)]
    needed = [f + dice.uniform(-0.12, 0.12) for f in fitted]
    made = swapped(fitted, needed, 0.03)

    def held(order: tuple[int, ...]) -> tuple[int, float]:
        off = [abs(fitted[j] - n) for j, n in zip(order, needed, strict=True)]
        inside = [o for o in off if o <= 0.03 + 1e-9]
        return -len(inside), sum(inside)

    best = min(held(order) for order in itertools.permutations(range(6)))
    own = [abs(fitted[j] - n) for j, n in zip(made.from_place, needed, strict=True) if j is not None]
    assert (-len(own), sum(own)) == pytest.approx(best, abs=1e-5)
    assert len(set(j for j in made.from_place if j is not None)) == len(own)


def test_shims_that_are_right_stay_where_they_are() -> None:
    assert swapped((2.70, 2.70, 2.70), (2.70, 2.70, 2.70), 0.02).from_place == (0, 1, 2)
    assert swapped((), (), 0.02).new == 0
    with pytest.raises(ValueError, match="every place"):
        swapped((2.7,), (), 0.02)


def test_of_two_sizes_alike_near_the_thinner_is_taken() -> None:
    assert lash.nearest(2.625, (2.60, 2.65)) == 2.60
    with pytest.raises(ValueError, match="no size"):
        lash.nearest(2.6, ())


def test_three_services_of_a_closing_valve_are_its_stems_rise() -> None:
    """0.20 to 0.14, to 0.15, to 0.12, set to 0.20 each time: 0.06 + 0.05 + 0.08 is 0.19 mm."""
    found = trend_of([Serviced(0.20, 0.20), Serviced(0.14, 0.20), Serviced(0.15, 0.20), Serviced(0.12, 0.20)])
    assert found.steps_mm == (0.06, 0.05, 0.08)
    assert (found.total_mm, found.running, found.grows) == (0.19, 3, False)
    growing = trend_of([Serviced(0.20, 0.20), Serviced(0.18, 0.20), Serviced(0.12, 0.20)])
    assert growing.grows


def test_a_step_within_what_two_readings_can_be_off_is_no_closing() -> None:
    assert trend_of([Serviced(0.20, 0.20), Serviced(0.18, 0.20)]).running == 0
    assert trend_of([Serviced(0.20, 0.20), Serviced(0.17, 0.20)]).running == 1
    assert trend_of([Serviced(0.20, 0.20), Serviced(0.25, 0.20)]).steps_mm == (-0.05,)
    assert trend_of([Serviced(0.20, 0.20)]).total_mm == 0.0


@pytest.mark.parametrize("seed", range(30))
def test_no_way_of_laying_shims_out_buys_fewer(seed: int) -> None:
    """Held to every way of giving five places their own shims and three off the shelf."""
    rng = np.random.default_rng(seed)
    fitted = np.round(rng.uniform(2.60, 2.80, 5), 2)
    needed = np.round(fitted + rng.normal(0.0, 0.06, 5), 3)
    shelf = np.round(rng.uniform(2.55, 2.85, 3), 2)
    made = swapped(tuple(fitted), tuple(needed), 0.03, tuple(shelf))
    sizes = [*fitted, *shelf]
    best = min(
        sum(abs(sizes[at] - want) > 0.03 + 1e-9 for at, want in zip(order, needed, strict=True))
        for order in itertools.permutations(range(8), 5)
    )
    assert made.new == best
    used = [("place", a) for a in made.from_place if a is not None] + [
        ("shelf", a) for a in made.from_shelf if a is not None
    ]
    assert len(used) == len(set(used)) == 5 - best
