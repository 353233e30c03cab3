"""Springs where the answer is known: tables, tapered coils, fatigue, surge, cost."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from arcstack.mech import cost
from arcstack.mech.cam.law import SymmetricLobe, WidenedLaw
from arcstack.mech.gas_cycle import Cycle
from arcstack.mech.spring import geometry, surge
from arcstack.mech.spring.fatigue import CHROME_SILICON, goodman_factor
from arcstack.mech.spring.geometry import Coil, cylindrical
from arcstack.mech.spring.pack import Fitted, FittedPack
from arcstack.mech.spring.rate import LinearSpring
from arcstack.mech.spring.stress import shear_MPa
from arcstack.mech.spring.table import TableSpring

LOBE = SymmetricLobe.polynomial(10.0, math.radians(72.0), (2.0, 8.0, 14.0, 20.0))


@settings(deadline=None)
@given(
    st.lists(st.integers(2000, 4500), min_size=3, max_size=9, unique=True),
    st.lists(st.floats(1.0, 90.0), min_size=9, max_size=9),
)
def test_a_table_never_falls_as_it_shortens_and_meets_its_readings(heights: list[int], steps: list[float]) -> None:
    taller_first = sorted((h / 100.0 for h in heights), reverse=True)
    loads = np.cumsum([100.0, *steps[: len(taller_first) - 1]])
    spring = TableSpring.of(zip(taller_first, (float(f) for f in loads), strict=True))
    for height, load in zip(taller_first, loads, strict=True):
        assert spring.load_N(height) == pytest.approx(load, rel=1e-9)
    fine = np.linspace(taller_first[-1] - 2.0, taller_first[0] + 2.0, 300)
    assert np.all(np.diff(np.asarray(spring.load_N(fine))) <= 1e-7)


def test_a_straight_table_is_a_straight_spring() -> None:
    line = LinearSpring(30.0, 45.0)
    spring = TableSpring.of([(h, float(line.load_N(h))) for h in (40.0, 36.0, 31.0, 26.0)])
    for height in (43.0, 38.5, 28.0, 22.0):
        assert spring.load_N(height) == pytest.approx(float(line.load_N(height)))
        assert spring.rate_at(height) == pytest.approx(30.0)
    assert spring.free_length_mm == pytest.approx(45.0)
    assert spring.covers(30.0)
    assert not spring.covers(25.0)


@pytest.mark.parametrize(
    ("points", "words"),
    [
        ([(36.0, 300.0), (30.0, 500.0)], "three readings"),
        ([(36.0, 300.0), (36.0, 310.0), (30.0, 500.0)], "at one height, 36.00 mm"),
        ([(36.0, 300.0), (33.0, 280.0), (30.0, 500.0)], "280 N at 33.00 mm, but 300 N at 36.00 mm"),
    ],
)
def test_a_table_that_cannot_be_says_which_reading(points: list[tuple[float, float]], words: str) -> None:
    with pytest.raises(ValueError, match=words):
        TableSpring.of(points)


def test_a_loose_spring_holds_nothing_in_the_pack() -> None:
    pack = FittedPack((Fitted(LinearSpring(30.0, 45.0), 36.0), Fitted(LinearSpring(15.0, 33.0), 34.0)))
    assert pack.seat_load_N == pytest.approx(270.0)
    assert float(pack.load_N(5.0)) == pytest.approx(420.0 + 60.0)
    settled = FittedPack(tuple(Fitted(s.curve, s.closed_height_mm, 0.95) for s in pack.springs))
    assert float(settled.load_N(5.0)) == pytest.approx(0.95 * 480.0)


def test_a_cone_lies_between_its_two_cylinders() -> None:
    cone, base, top = Coil(4.0, 26.0, 4.5, 20.0, 1.0), cylindrical(4.0, 26.0, 4.5), cylindrical(4.0, 20.0, 4.5)
    half = Coil(4.0, 26.0, 4.5, 20.0, 0.5)
    k = [geometry.rate_N_per_mm(c, 77200.0) for c in (base, half, cone, top)]
    assert k == sorted(k)
    m = [geometry.active_mass_kg(c, 7850.0) for c in (base, half, cone, top)]
    assert m == sorted(m, reverse=True)
    # the mean cube of a straight taper, summed coil by coil
    across = np.linspace(26.0, 20.0, 20001)
    assert cone.mean_cube_mm3 == pytest.approx(float((across**3).mean()), rel=1e-5)
    f = [geometry.surge_Hz(a, b) for a, b in zip(k, m, strict=True)]
    assert f == sorted(f)


def test_fatigue_by_hand_and_at_its_ends() -> None:
    # d 3.7: strength 0.67·2220·3.7^−0.108 = 1291.4; S_e = 398/(1 − 534/1291.4) = 678.6
    assert CHROME_SILICON.shear_strength_MPa(3.7) == pytest.approx(1291.4, abs=0.2)
    # τ 356 and 801: amplitude 222.5, mean 578.5 → 1/(0.3279 + 0.4480)
    assert goodman_factor(356.0, 801.0, 3.7) == pytest.approx(1.289, abs=0.002)
    point = goodman_factor(534.0 - 398.0, 534.0 + 398.0, 3.7)
    assert point == pytest.approx(1.0)
    assert goodman_factor(400.0, 900.0, 3.7) < goodman_factor(400.0, 800.0, 3.7)


def test_stress_grows_with_load_and_falls_with_the_cube_of_the_wire() -> None:
    assert shear_MPa(0.0, 3.7, 24.5) == 0.0
    assert shear_MPa(600.0, 3.7, 24.5) == pytest.approx(2.0 * shear_MPa(300.0, 3.7, 24.5))
    assert shear_MPa(600.0, 4.0, 24.5) < shear_MPa(600.0, 3.7, 24.5) * (3.7 / 4.0) ** 2.5


def test_harmonics_add_up_to_the_lift() -> None:
    amplitude = surge.lift_harmonics_mm(LOBE, highest=200)
    # an even lobe: its nose is the mean and every cosine on top of one another
    signed = np.cos(np.zeros(201)) * amplitude
    assert amplitude[0] / 2.0 + float(np.abs(signed[1:]).sum()) >= 10.0 - 1e-3
    angle = np.linspace(-math.pi, math.pi, 4096, endpoint=False)
    net = LOBE.evaluate(angle)
    power = (net**2).mean()
    assert (amplitude[0] / 2.0) ** 2 + float((amplitude[1:] ** 2).sum()) / 2.0 == pytest.approx(power, rel=1e-6)


def test_resonance_falls_to_its_rub_and_grows_with_less_damping() -> None:
    free = surge.resonance(8, 0.02, 500.0, 30.0, 0.01)
    assert free.rpm == pytest.approx(7500.0)
    assert surge.order(500.0, free.rpm) == pytest.approx(8.0)
    assert surge.resonance(8, 0.02, 500.0, 30.0, 0.005).swing_mm == pytest.approx(2.0 * free.swing_mm)
    assert 0.0 < surge.resonance(8, 0.02, 500.0, 30.0, 0.01, 1.0).swing_mm < free.swing_mm
    assert surge.resonance(8, 0.02, 500.0, 30.0, 0.01, 10.0).load_lost_N == 0.0


def test_a_wider_lobe_is_gentler_by_the_square() -> None:
    wide = WidenedLaw(LOBE, 1.1)
    angle = np.linspace(-1.2, 1.2, 101)
    assert wide.evaluate(1.1 * angle) == pytest.approx(LOBE.evaluate(angle))
    assert wide.evaluate(1.1 * angle, 2) == pytest.approx(LOBE.evaluate(angle, 2) / 1.21)
    assert wide.support_rad[1] == pytest.approx(1.1 * LOBE.support_rad[1])


def test_without_rub_the_spring_gives_back_what_the_cam_put_in() -> None:
    angle = np.linspace(-1.3, 1.3, 2601)
    force, slope = 350.0 + 40.0 * LOBE.evaluate(angle), LOBE.evaluate(angle, 1)
    torque = cost.drive_torque_Nm(force, slope, force, 18.0, LOBE.evaluate(angle), 0.0)
    assert float(np.trapezoid(torque, angle)) == pytest.approx(0.0, abs=1e-6)
    rubbed = cost.drive_torque_Nm(force, slope, force, 18.0, LOBE.evaluate(angle), 0.08)
    omega = 400.0
    power = cost.friction_power_W(angle, force, 18.0, LOBE.evaluate(angle), 0.08, omega)
    assert power == pytest.approx(float(np.trapezoid(rubbed, angle)) * omega / (2 * math.pi), rel=1e-9)
    assert cost.friction_power_W(angle, np.full(2601, np.nan), 18.0, np.zeros(2601), 0.08, omega) == 0.0


def test_the_cycle_keeps_its_levels_and_events() -> None:
    cycle = Cycle(1.5, 1.9, 3.325, 5.0, math.radians(-237), math.radians(15), math.radians(-19), math.radians(237))
    crank = np.radians(np.arange(-360.0, 360.0, 0.5))
    port = cycle.exhaust_port(crank)
    assert port.mean() == pytest.approx(1.9, abs=0.01)
    assert port.max() == pytest.approx(3.325, abs=0.005)
    inside = cycle.cylinder(crank)
    assert np.isnan(inside[0])
    assert np.nanmax(inside) == pytest.approx(5.0, abs=0.05)
    assert cycle.cylinder(np.radians([150.0]))[0] == pytest.approx(1.5, abs=0.01)
    lifting = cycle.lifting_N(crank, False, 29.5, 5.96)
    # the difference rule's own figure is the top of it
    assert np.nanmax(lifting) == pytest.approx(115.5, abs=1.0)
    assert np.isnan(lifting[(crank > math.radians(-230)) & (crank < 0.0)]).all()


@pytest.mark.parametrize("cylinders", [1, 2, 3, 4, 6, 8, 12, 16])
@pytest.mark.parametrize("ratio", [1.0, 1.2, 1.75, 2.0, 3.0])
def test_pulses_meet_mean_and_peak_whatever_shares_the_turbine(cylinders: int, ratio: float) -> None:
    cycle = Cycle(1.5, 1.9, 1.9 * ratio, 5.0, -4.1, 0.25, -0.3, 4.1, cylinders)
    port = cycle.exhaust_port(np.linspace(-2 * math.pi, 2 * math.pi, 5761)[:-1])
    assert port.mean() == pytest.approx(1.9, abs=0.03)
    assert port.max() == pytest.approx(1.9 * ratio, abs=0.1)
    assert port.min() > 0.0


def test_no_boost_and_no_back_pressure_lift_nothing() -> None:
    still = Cycle(0.0, 0.0, 0.0, 0.0, -4.1, 0.25, -0.3, 4.1)
    crank = np.linspace(-4.0, 4.0, 201)
    for intake in (True, False):
        force = still.lifting_N(crank, intake, 30.0, 6.0)
        assert np.nanmax(np.abs(force)) < 1e-9
