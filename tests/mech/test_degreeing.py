"""A cam timed on the wheel: what is moved, which way, and what a difference points to; figures worked by hand."""

import math

import pytest

from arcstack.mech import degreeing
from arcstack.mech.cam.facts import duration_crank_rad
from arcstack.mech.cam.law import SymmetricLobe
from arcstack.mech.degreeing import Flanks, Points, Within, flanks_read, points_to

LOBE = SymmetricLobe.polynomial(10.4, math.radians(72.0), (2.0, 8.0, 14.0, 20.0))
CHECK = 1.0
WITHIN = Within(math.radians(2.0), math.radians(1.0), math.radians(1.5), 0.05)


def deg(*angles: float) -> tuple[float, ...]:
    return tuple(math.radians(a) for a in angles)


def at(lobe_check: float, centreline: float, exhaust: bool = False) -> Flanks:
    """Flanks of the lobe at a check lift about a centreline, degrees from TDC."""
    half = duration_crank_rad(LOBE, lobe_check) / 2.0
    middle = math.radians(abs(centreline))
    return Flanks(half - middle, half + middle - math.pi, exhaust)


def test_the_engine_of_the_card_that_is_two_and_a_half_degrees_early() -> None:
    """Card 8 and 40; the engine 10.5 and 37.5: 228° and 103.5°, advanced by 2.5, turned back 1.25 of cam, 0.87 mm."""
    card, read = Flanks(*deg(8.0, 40.0)), Flanks(*deg(10.5, 37.5))
    assert math.degrees(card.duration) == pytest.approx(228.0)
    assert math.degrees(card.centreline) == pytest.approx(106.0)
    assert math.degrees(read.duration) == pytest.approx(228.0)
    advance = degreeing.advance_rad(card.centreline, read.centreline)
    assert math.degrees(advance) == pytest.approx(2.5)
    turn = degreeing.turn_in_gear_rad(advance)
    assert math.degrees(turn) == pytest.approx(-1.25)
    assert degreeing.at_slot_mm(turn, 40.0) == pytest.approx(-0.873, abs=5e-4)


def test_an_exhaust_that_is_early_is_advanced_as_well() -> None:
    """Opens 46 before BDC, closes 12 after TDC: 238°, 107 before TDC; opens 3 sooner and closes 3 sooner: 3 advanced."""
    card, read = Flanks(*deg(12.0, 46.0), True), Flanks(*deg(9.0, 49.0), True)
    assert math.degrees(card.centreline) == pytest.approx(-107.0)
    assert math.degrees(degreeing.advance_rad(card.centreline, read.centreline)) == pytest.approx(3.0)
    assert [math.degrees(s) for s in degreeing.shifts_rad(card, read)] == pytest.approx([3.0, 3.0])


@pytest.mark.parametrize("exhaust", [False, True])
@pytest.mark.parametrize("error", [-1.75, 0.0, 2.0])
def test_a_pointers_error_moves_the_centre_and_never_the_duration(exhaust: bool, error: float) -> None:
    """A wheel that reads late by e shows an event e less before a dead centre and e more after it."""
    true = (14.0, 42.0)
    shown = (true[0] + error, true[1] - error) if exhaust else (true[0] - error, true[1] + error)
    made = flanks_read(*deg(*shown), math.radians(error), exhaust=exhaust)
    assert (math.degrees(made.by_tdc), math.degrees(made.by_bdc)) == pytest.approx(true)
    raw = flanks_read(*deg(*shown), exhaust=exhaust)
    assert raw.duration == pytest.approx(made.duration)
    # read late, it seems retarded by as much
    assert math.degrees(degreeing.advance_rad(made.centreline, raw.centreline)) == pytest.approx(-error)


@pytest.mark.parametrize("exhaust", [False, True])
@pytest.mark.parametrize(
    ("read", "lift", "says"),
    [
        (at(CHECK, 106.5), 10.4, Points.AS_CARD),
        (at(CHECK, 102.0), 10.4, Points.GEAR),
        (at(CHECK, 110.0), 10.4, Points.GEAR),
        # 0.3 more lash: off as the curve is at 1.30, and 10.1 high
        (at(CHECK + 0.3, 106.0), 10.1, Points.LASH),
        (at(CHECK - 0.3, 106.0), 10.7, Points.LASH),
        # a dial that checks at 1.30 and meets the whole lift
        (at(CHECK + 0.3, 106.0), 10.4, Points.CHECK_LIFT),
        # half the ratio again less: the curve at 1.5 of what it was
        (at(CHECK * 10.4 / 7.0, 106.0), 7.0, Points.RATIO),
        (at(CHECK + 3.0, 106.0), 8.0, Points.WRONG_CAM),
        # wrong lash does not hide a turned cam, nor a turned cam the lash
        (at(CHECK + 0.4, 96.0), 10.0, Points.LASH),
        (at(CHECK - 0.1, 114.0), 10.5, Points.LASH),
        (at(CHECK * 10.4 / 7.0, 112.0), 7.0, Points.RATIO),
        (at(CHECK + 0.3, 112.0), None, Points.UNKNOWN),
        # as far off as another lobe stands, it is another lobe
        (at(CHECK + 0.4, 180.0), 10.0, Points.WRONG_CAM),
        (at(CHECK + 0.3, 106.0), None, Points.UNKNOWN),
    ],
)  # fmt: skip
def test_each_line_of_the_table(read: Flanks, lift: float | None, says: Points, exhaust: bool) -> None:
    card = at(CHECK, 106.0, exhaust)
    read = Flanks(read.by_tdc, read.by_bdc, exhaust)
    pair = None if lift is None else (10.4, lift)
    assert points_to(card, read, WITHIN, pair, lambda h: at(h, 106.0, exhaust), CHECK).points is says


def test_one_flank_alone_is_an_asymmetric_lobe_or_a_dial_askew() -> None:
    card = at(CHECK, 106.0)
    read = Flanks(card.by_tdc, card.by_bdc - math.radians(3.0))
    assert points_to(card, read, WITHIN, (10.4, 10.4), lambda h: at(h, 106.0), CHECK).points is Points.ONE_FLANK


def test_a_cam_that_is_late_is_late_by_as_much_whatever_the_lash() -> None:
    """An asymmetric curve: each tenth of lash moves its centre by itself, which is no turn of the cam."""

    def own(check: float) -> Flanks:
        half = duration_crank_rad(LOBE, check) / 2.0
        return Flanks(half - math.radians(106.0 - 3.0 * check), half + math.radians(106.0 - 3.0 * check) - math.pi)

    late = math.radians(8.0)
    met = own(CHECK + 0.4)
    read = Flanks(met.by_tdc - late, met.by_bdc + late)
    found = points_to(own(CHECK), read, WITHIN, (10.4, 10.0), own, CHECK)
    assert found.points is Points.LASH
    assert math.degrees(found.advance) == pytest.approx(-8.0)
