"""What the formulae must give where the answer is known without them."""

import math

import numpy as np
import pytest

from arcstack.mech import contact, gas, stack
from arcstack.mech.cam.law import SymmetricLobe
from arcstack.mech.control import LinearPack, RigidTrain, cam_rad_per_s
from arcstack.mech.piston import ValveToPiston, estimated_drop_at_tdc_mm, piston_drop_mm
from arcstack.mech.spring.rate import from_two_loads
from arcstack.mech.spring.stress import wahl_factor

LOBE = SymmetricLobe.polynomial(10.0, math.radians(70.0), (2.0, 8.0, 14.0, 20.0))


def test_separation_grows_with_the_root_of_spring_over_mass() -> None:
    light = RigidTrain(LOBE, LinearPack(300.0, 40.0), 0.100).separation()
    heavy = RigidTrain(LOBE, LinearPack(300.0, 40.0), 0.400).separation()
    doubled = RigidTrain(LOBE, LinearPack(600.0, 80.0), 0.100).separation()
    assert light is not None
    assert heavy is not None
    assert doubled is not None
    assert light.rpm == pytest.approx(2.0 * heavy.rpm, rel=1e-4)
    assert doubled.rpm == pytest.approx(math.sqrt(2.0) * light.rpm, rel=1e-4)


def test_contact_is_the_spring_alone_at_no_speed_and_nothing_at_separation() -> None:
    train = RigidTrain(LOBE, LinearPack(300.0, 40.0), 0.1, lash_mm=0.2)
    nose = np.array([0.0])
    assert train.contact_force_N(nose, 0.0)[0] == pytest.approx(300.0 + 40.0 * 9.8)
    found = train.separation()
    assert found is not None
    angles = np.linspace(-1.2, 1.2, 4001)
    assert np.nanmin(train.contact_force_N(angles, found.rpm)) == pytest.approx(0.0, abs=0.5)
    assert train.force_reserve(found.rpm) == pytest.approx(1.0)
    assert train.force_reserve(found.rpm / 2) == pytest.approx(4.0)


def test_gas_that_beats_the_spring_leaves_no_speed_at_all() -> None:
    found = RigidTrain(LOBE, LinearPack(100.0, 1.0), 0.1, opening_force_N=150.0).separation()
    assert found is not None
    assert found.rpm == 0.0


def test_no_mass_is_refused() -> None:
    with pytest.raises(ValueError, match="above zero"):
        RigidTrain(LOBE, LinearPack(300.0, 40.0), 0.0)


def test_a_four_stroke_cam_turns_at_half_speed() -> None:
    assert cam_rad_per_s(6000.0) == pytest.approx(2 * math.pi * 50.0)


def test_piston_travels_its_stroke_and_is_level_both_ways_without_offset() -> None:
    drop = piston_drop_mm(np.radians([0.0, 180.0, -30.0, 30.0]), 86.0, 140.0)
    assert drop[0] == pytest.approx(0.0, abs=1e-12)
    assert drop[1] == pytest.approx(86.0)
    assert drop[2] == pytest.approx(drop[3])
    with pytest.raises(ValueError, match="longer than half the stroke"):
        piston_drop_mm(np.array([0.0]), 100.0, 45.0)


def pair(**changes: float) -> ValveToPiston:
    given = {
        "centreline_rad": math.radians(108.0),
        "drop_at_tdc_mm": 7.0,
        "valve_angle_rad": math.radians(15.0),
        "stroke_mm": 86.0,
        "rod_mm": 140.0,
    } | changes
    return ValveToPiston(LOBE, **given)


def test_advance_takes_intake_clearance_away_and_lash_gives_it_back() -> None:
    parked = pair().least_gap()
    advanced = pair().least_gap(math.radians(20.0), math.radians(20.0))
    swept = pair().least_gap(0.0, math.radians(20.0))
    assert advanced.gap_mm < parked.gap_mm
    assert swept.gap_mm == pytest.approx(advanced.gap_mm)
    assert swept.phaser_rad == pytest.approx(math.radians(20.0))
    assert pair().least_gap(lash_mm=0.25).gap_mm == pytest.approx(parked.gap_mm + 0.25, abs=0.02)
    assert parked.crank_rad > 0


def test_exhaust_mirrors_intake_and_loses_by_retard() -> None:
    intake, exhaust = pair().least_gap(), pair(centreline_rad=-math.radians(108.0)).least_gap()
    assert exhaust.gap_mm == pytest.approx(intake.gap_mm)
    assert exhaust.crank_rad == pytest.approx(-intake.crank_rad)
    assert pair(centreline_rad=-math.radians(108.0)).least_gap(-0.2, -0.2).gap_mm < exhaust.gap_mm


def test_a_valve_that_never_opens_keeps_the_whole_drop() -> None:
    closed = pair().least_gap(lash_mm=11.0)
    assert closed.gap_mm == pytest.approx(7.0, abs=1e-6)
    assert closed.crank_rad == pytest.approx(0.0, abs=1e-3)


def test_upright_valve_drops_by_the_sum_of_the_block() -> None:
    assert estimated_drop_at_tdc_mm(0.3, 1.1, 1.9, 4.3, 0.0) == pytest.approx(7.6)


def test_gas_force_is_nothing_in_balance_and_closes_under_cylinder_pressure() -> None:
    assert gas.opening_force_N(34.0, 6.0, 1.01325, 1.01325) == pytest.approx(0.0, abs=1e-9)
    assert gas.opening_force_N(34.0, 6.0, 1.0, 3.0) < 0
    # one bar over a 34 mm head is some 91 N
    assert gas.boost_rule_force_N(34.0, 1.0) == pytest.approx(90.8, abs=0.1)


def test_part_offsets_raise_and_locators_lower() -> None:
    bare = stack.open_height_as_fitted_mm(37.0, [], [])
    assert stack.open_height_as_fitted_mm(37.0, [0.5, 0.0], []) == bare + 0.5
    assert stack.open_height_as_fitted_mm(37.0, [0.0, -0.3], []) == pytest.approx(bare - 0.3)
    assert stack.open_height_as_fitted_mm(37.0, [], [0.8]) == bare - 0.8


def test_springs_that_cannot_be_are_refused() -> None:
    with pytest.raises(ValueError, match="one height"):
        from_two_loads(36.0, 300.0, 36.0, 600.0)
    with pytest.raises(ValueError, match="must rise"):
        from_two_loads(36.0, 600.0, 26.0, 300.0)
    with pytest.raises(ValueError, match="larger than its wire"):
        wahl_factor(4.0, 4.0)


def test_a_round_follower_without_end_is_a_flat_one() -> None:
    angle = np.linspace(-1.1, 1.1, 41)
    lift, slope, bend = (LOBE.evaluate(angle, order) for order in range(3))
    pitch = contact.pitch_radius_mm(lift, slope, bend, 17.0, 1e7)
    assert contact.relative_radius_mm(pitch, 1e7) == pytest.approx(17.0 + lift + bend, abs=1e-3)


def test_a_round_follower_that_stands_off_centre_sees_a_circle_as_it_is() -> None:
    # a circle of 15 mm turned about a point 4 mm off its middle drives a roller of 10 mm: r is then known in closed form
    theta = np.linspace(-2.5, 2.5, 2001)
    pitch, off = 25.0, 4.0
    r = off * np.cos(theta) + np.sqrt(pitch**2 - (off * np.sin(theta)) ** 2)
    slope = np.gradient(r, theta, edge_order=2)
    bend = np.gradient(slope, theta, edge_order=2)
    inner = slice(5, -5)
    path = contact.pitch_radius_mm(r[inner] - 25.0, slope[inner], bend[inner], 15.0, 10.0)
    assert path == pytest.approx(np.full(path.shape, 25.0), abs=1e-3)
    relative = contact.relative_radius_mm(path, 10.0)
    assert relative == pytest.approx(np.full(path.shape, 1.0 / (1.0 / 15.0 + 1.0 / 10.0)), abs=1e-3)


def test_a_roller_too_large_for_its_lobe_is_told_by_its_radius() -> None:
    tip = (np.array([10.0]), np.zeros(1), np.array([-60.0]))
    path = contact.pitch_radius_mm(*tip, 15.0, 20.0)
    # 45²/(45 + 60) = 19.29: the path bends tighter than the roller itself
    assert path[0] == pytest.approx(45.0**2 / 105.0)
    relative = contact.relative_radius_mm(path, 20.0)
    assert relative[0] < 0.0
    assert np.isnan(contact.hertz_line_MPa(1000.0, 12.0, relative)[0])
