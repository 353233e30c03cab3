"""Springs laid out over valves, held to the worked example and to every way there is."""

from itertools import permutations, product

import numpy as np
import pytest

from arcstack.document.places import Place
from arcstack.errors import MissingInput
from arcstack.mech.shims import ShimStack
from arcstack.trials.matching import Laid, Prefer, School, Seat, Shelf, SpringOf, matched, shims_for, tray

LOADS = (346.0, 349.0, 352.0, 355.0, 351.0, 348.0, 353.0, 350.0)
HEIGHTS = (36.00, 36.04, 35.97, 36.06, 36.02, 35.99, 36.05, 35.98)


def seats(heights: tuple[float, ...] = HEIGHTS) -> tuple[Seat, ...]:
    return tuple(Seat(Place(n // 2 + 1, "intake", n % 2 + 1), h, 0.0, 0.0) for n, h in enumerate(heights))


def springs(loads: tuple[float, ...] = LOADS, rate: float = 43.5) -> tuple[SpringOf, ...]:
    return tuple(SpringOf(f"S-{n:02d}", load, 36.0, rate) for n, load in enumerate(loads, 1))


def as_laid(of: tuple[Seat, ...], given: tuple[SpringOf, ...]) -> tuple[Laid, ...]:
    return tuple(Laid(s, g, ShimStack(()), s.open_mm, g.load_at(s.open_mm)) for s, g in zip(of, given, strict=False))


def spread(laid: tuple[Laid, ...]) -> float:
    return max(x.load_N for x in laid) - min(x.load_N for x in laid)


@pytest.mark.parametrize("school", [School.LEAST, School.STRONGEST])
def test_the_worked_example(school: School) -> None:
    """At 36.00, k 43.5: as laid out 346.0 to 353.3, spread 7.3 N; matched 347.3 to 352.4, 5.1 N."""
    before = as_laid(seats(), springs())
    assert (min(x.load_N for x in before), round(max(x.load_N for x in before), 1)) == (346.0, 353.3)
    after = matched(seats(), springs(), before, school)
    assert round(spread(before), 1) == 7.3
    assert round(spread(after), 1) == 5.1
    assert (round(min(x.load_N for x in after), 1), round(max(x.load_N for x in after), 1)) == (347.3, 352.4)
    assert sorted(tray(after).values()) == [s.item for s in springs()]


def test_least_is_the_least_of_every_way_and_the_strongest_on_the_tallest_is_not_always() -> None:
    of = seats((36.36, 36.14, 36.61, 36.16, 36.21))
    uneven = tuple(
        SpringOf(f"S-{n}", load, 36.0, rate)
        for n, (load, rate) in enumerate(((340.0, 43.0), (351.4, 47.8), (344.5, 39.3), (350.2, 47.0), (350.2, 39.6)))
    )
    before = as_laid(of, uneven)
    best = min(
        max(loads) - min(loads)
        for order in permutations(uneven)
        if (loads := [s.load_at(seat.open_mm) for s, seat in zip(order, of, strict=True)])
    )
    assert spread(matched(of, uneven, before, School.LEAST)) == pytest.approx(best)
    assert spread(matched(of, uneven, before, School.STRONGEST)) >= best


def test_equal_heights_takes_the_nearest_shims_or_the_fewest_within_tolerance() -> None:
    shelf = Shelf((0.25, 0.38, 0.51, 0.76, 1.02), 36.80, 0.13)
    seat = Seat(Place(1, "intake", 1), 38.42, 0.0, 0.0)
    nearest = shims_for(seat, shelf, Prefer.NEAREST)
    assert round(seat.open_mm - nearest.total_mm, 2) == 36.77
    loose = Shelf((0.25, 0.51, 1.02, 1.5), 36.80, 0.15)
    fewest = shims_for(seat, loose, Prefer.FEWEST)
    assert (len(fewest.shims_mm), fewest.total_mm) == (2, 1.75) or abs(38.42 - fewest.total_mm - 36.80) <= 0.15
    assert len(fewest.shims_mm) <= len(shims_for(seat, loose, Prefer.NEAREST).shims_mm)


def test_an_inner_spring_is_matched_at_its_own_height() -> None:
    low = Seat(Place(1, "intake", 1), 36.0, 2.5, 0.0)
    assert low.height(0.5) == 33.0


@pytest.mark.parametrize("school", [School.HEIGHTS, School.LOADS, School.BOTH])
def test_shims_and_springs_together_are_no_worse_than_either(school: School) -> None:
    of = tuple(Seat(s.place, s.open_mm + 0.9, 0.0, 0.9) for s in seats())
    shelf = Shelf((0.25, 0.38, 0.51, 0.60, 0.76, 0.90, 1.02), 36.0, 0.13)
    before = tuple(
        Laid(s, g, ShimStack((0.9,)), s.height(0.9), g.load_at(s.height(0.9)))
        for s, g in zip(of, springs(), strict=True)
    )
    after = matched(of, springs(), before, school, shelf)
    assert all(abs(x.height_mm - 36.0) <= 0.13 + 1e-9 for x in after)
    assert sorted(x.spring.item for x in after) == [s.item for s in springs()]
    both = matched(of, springs(), before, School.BOTH, shelf)
    assert spread(both) <= spread(after) + 1e-9


def test_too_few_springs_or_no_shims_are_asked_for() -> None:
    before = as_laid(seats(), springs())
    with pytest.raises(MissingInput) as told:
        matched(seats(), springs()[:6], before, School.LEAST)
    assert "2 more springs" in told.value.why
    with pytest.raises(MissingInput) as told:
        matched(seats(), springs(), before, School.HEIGHTS)
    assert "shims on the shelf" in told.value.why


def test_equal_loads_is_the_least_spread_that_shims_can_leave() -> None:
    """Held to every choice of shims for four valves."""
    of = tuple(Seat(s.place, h, 0.0, 0.9) for s, h in zip(seats(), (36.93, 36.78, 37.06, 36.88), strict=False))
    given = springs((346.0, 355.0, 352.0, 349.0))
    shelf = Shelf((0.25, 0.38, 0.51, 0.76), 36.0, 0.13, most=2)
    before = tuple(
        Laid(s, g, ShimStack((0.9,)), s.height(0.9), g.load_at(s.height(0.9))) for s, g in zip(of, given, strict=True)
    )
    allowed = [
        [g.load_at(s.height(x.total_mm)) for x in shelf.stacks if abs(s.height(x.total_mm) - 36.0) <= 0.13 + 1e-9]
        for s, g in zip(of, given, strict=True)
    ]
    best = min(max(loads) - min(loads) for loads in product(*allowed))
    assert spread(matched(of, given, before, School.LOADS, shelf)) == pytest.approx(best)


@pytest.mark.parametrize("seed", range(12))
def test_springs_and_shims_together_are_the_best_of_every_way(seed: int) -> None:
    """Held to every order of four springs with every choice of shims."""
    rng = np.random.default_rng(seed)
    of = tuple(Seat(s.place, h, 0.0, 0.9) for s, h in zip(seats(), rng.uniform(36.7, 37.2, 4), strict=False))
    given = tuple(
        SpringOf(f"S-{n}", load, 36.0, rate)
        for n, (load, rate) in enumerate(zip(rng.normal(350.0, 6.0, 4), rng.normal(43.5, 2.0, 4), strict=True))
    )
    shelf = Shelf((0.25, 0.38, 0.51, 0.76), 36.0, 0.13, most=2)
    before = as_laid(of, given)

    def ways(seat: Seat, spring: SpringOf) -> list[float]:
        heights = [seat.height(x.total_mm) for x in shelf.stacks]
        near = [h for h in heights if abs(h - 36.0) <= 0.13 + 1e-9]
        return [spring.load_at(h) for h in near or [min(heights, key=lambda h: abs(h - 36.0))]]

    best = min(
        max(loads) - min(loads)
        for order in permutations(given)
        for loads in product(*(ways(seat, spring) for seat, spring in zip(of, order, strict=True)))
    )
    assert spread(matched(of, given, before, School.BOTH, shelf)) == pytest.approx(best, abs=1e-6)
