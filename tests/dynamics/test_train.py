"""The elastic train where its answer is known without it."""

import math
from dataclasses import dataclass, replace

import numpy as np
import pytest

from arcstack.dynamics.model import Chain, Train
from arcstack.dynamics.motion import at_speed, energy, trace
from arcstack.mech.cam.law import Array, SymmetricLobe
from arcstack.mech.control import LinearPack, RigidTrain, cam_rad_per_s

LOBE = SymmetricLobe.polynomial(10.0, math.radians(72.0), (2.0, 8.0, 14.0, 20.0))
OUTER = Chain(236.0, 30.0, 13.4, 0.0266)
INNER = Chain(115.0, 13.5, 12.0, 0.0145)
TRAIN = Train(LOBE, 0.103, (OUTER, INNER), 0.2, 28_000.0, 0.06)


@dataclass(frozen=True)
class Swaying:
    """A follower that holds the valve open and sways it: no lobe, but an answer on paper."""

    middle_mm: float = 5.0
    sway_mm: float = 0.0
    times: int = 8

    @property
    def support_rad(self) -> tuple[float, float]:
        return -3.0, 3.0

    def evaluate(self, cam_rad: Array, order: int = 0) -> Array:
        angle = np.asarray(cam_rad)
        if order == 0:
            return self.middle_mm + self.sway_mm * np.cos(self.times * angle)
        return -self.sway_mm * self.times * np.sin(self.times * angle)


def single(law: Swaying) -> Train:
    return Train(law, 0.112, (Chain(300.0, 40.0, 50.0),), 0.0, 28_000.0, 0.06)


def test_a_nudged_valve_rings_down_as_a_damped_mass_does() -> None:
    train = single(Swaying())
    k, r, m = 28e6, 40e3, 0.112
    c = 2 * 0.06 * math.sqrt(k * m)
    rest = (k * 5e-3 - 300.0) / (k + r)
    start = rest + 4e-6
    found = trace(train, 6000.0, rows=4000, turns=1, given=np.array([start]), first_rad=-3.0)
    t = found.seconds[:300]
    decay, ring = c / (2 * m), math.sqrt((k + r) / m - (c / (2 * m)) ** 2)
    exact = rest + 4e-6 * np.exp(-decay * t) * (np.cos(ring * t) + decay / ring * np.sin(ring * t))
    assert found.valve_mm[:300] / 1e3 == pytest.approx(exact, abs=4e-6 * 0.01)


def test_a_swayed_valve_follows_with_the_gain_of_its_transfer_function() -> None:
    train = single(Swaying(sway_mm=0.02))
    omega = cam_rad_per_s(9000.0)
    drive, k, r, m = 8 * omega, 28e6, 40e3, 0.112
    c = 2 * 0.06 * math.sqrt(k * m)
    gain = (k + 1j * c * drive) / (k + r - m * drive**2 + 1j * c * drive)
    found = trace(train, 9000.0, rows=4000, turns=1, given=np.array([5e-3]), first_rad=-3.0)
    settled = (found.angle_rad > 0.0) & (found.angle_rad < 2.9)
    angle = found.angle_rad[settled]
    exact = (gain * 0.02 * np.exp(1j * 8 * angle)).real
    swing = found.valve_mm[settled] - np.mean(found.valve_mm[settled] - exact)
    assert swing == pytest.approx(exact, abs=0.02 * 0.01)


@pytest.mark.parametrize("mode", [1, 2, 3])
def test_a_chain_rings_at_half_the_root_of_rate_over_mass_and_its_multiples(mode: int) -> None:
    spring = Chain(300.0, 32.0, 15.0, 0.036)
    held = Train(LOBE, 100.0, (spring,), 0.2, 28_000.0, 0.06, seat_stiffness_N_per_mm=1e9, coil_damping=0.0)
    shape = 1e-4 * np.sin(mode * math.pi * np.arange(1, 13) / 13)
    found = trace(held, 1200.0, rows=16000, turns=1, given=np.array([-3e-10, *shape]), first_rad=-1.4 - math.pi)
    away = found.angle_rad < -1.3
    coil, t = found.coils_mm[0][away, 2 if mode == 2 else 5], found.seconds[away]
    ups = np.nonzero((coil[:-1] < 0) & (coil[1:] >= 0))[0]
    crossings = t[ups] - coil[ups] * (t[ups + 1] - t[ups]) / (coil[ups + 1] - coil[ups])
    rings = (len(crossings) - 1) / (crossings[-1] - crossings[0])
    assert rings == pytest.approx(spring.frequencies_Hz()[mode - 1], rel=2e-3)
    assert rings == pytest.approx(mode * 0.5 * math.sqrt(32e3 / 0.036), rel=0.025)


@pytest.mark.parametrize("rpm", [3000.0, 6000.0, 8500.0])
def test_energy_is_kept_without_damping(rpm: float) -> None:
    clear = tuple(replace(s, to_solid_mm=50.0) for s in TRAIN.springs)
    free = replace(TRAIN, springs=clear, damping_ratio=0.0, seat_damping_ratio=0.0, coil_damping=0.0)
    found = energy(free, rpm)
    stored = sum(s.load_N * 0.0098 + s.rate_N_per_mm * 1e3 * 0.0098**2 / 2 for s in free.springs)
    assert found.end_J - found.start_J == pytest.approx(found.cam_work_J, abs=stored * 1e-3)
    damped = energy(TRAIN, rpm)
    assert damped.end_J - damped.start_J < damped.cam_work_J


def test_it_tends_to_the_rigid_train_as_it_stiffens() -> None:
    pack = (Chain(351.0, 43.5, 50.0),)
    rigid = RigidTrain(LOBE, LinearPack(351.0, 43.5), 0.12, 0.2)
    force = rigid.sampled_force_N(7500.0)
    off = []
    for stiffness in (10_000.0, 100_000.0, 1_000_000.0):
        found = at_speed(Train(LOBE, 0.12, pack, 0.2, stiffness, 0.8), 7500.0, step_s=3e-7)
        off.append(abs(found.min_contact_N - float(np.nanmin(force))))
        lag = 0.2 + found.max_lift_mm
    assert off[0] > off[1] > off[2]
    assert off[2] < 0.01 * float(np.nanmin(force))
    assert lag == pytest.approx(10.0, abs=0.001)


def test_it_follows_a_slow_cam_as_the_springs_stand() -> None:
    found = trace(TRAIN, 600.0)
    top = int(np.argmax(found.valve_mm))
    assert found.springs_N[0][top] == pytest.approx(236.0 + 30.0 * found.valve_mm[top], rel=0.01)
    assert found.springs_N[1][top] == pytest.approx(115.0 + 13.5 * found.valve_mm[top], rel=0.01)
    assert found.cam_N[top] == pytest.approx(sum(f[top] for f in found.springs_N), rel=0.01)
    assert found.coils_mm[0][top] == pytest.approx(found.valve_mm[top] * (1 - np.arange(1, 13) / 13), abs=0.05)


def test_coils_touch_only_where_travel_runs_out() -> None:
    assert at_speed(TRAIN, 6000.0).clash_N == 0.0
    short = replace(TRAIN, springs=(OUTER, replace(INNER, to_solid_mm=9.4)))
    found = at_speed(short, 6000.0)
    assert found.clash_N > 50.0
    assert found.load_lost_N > at_speed(TRAIN, 6000.0).load_lost_N


def test_rub_and_damping_quieten_surge_and_add_no_load() -> None:
    loud = at_speed(TRAIN, 7075.0)
    rubbed = at_speed(replace(TRAIN, friction_N=40.0), 7075.0)
    alone = at_speed(replace(TRAIN, springs=(OUTER,), friction_N=20.0), 7075.0)
    assert rubbed.swing_mm < 0.9 * loud.swing_mm
    assert alone.swing_mm < at_speed(replace(TRAIN, springs=(OUTER,)), 7075.0).swing_mm
    assert at_speed(replace(TRAIN, coil_damping=0.05), 7075.0).swing_mm < 0.8 * loud.swing_mm
    assert rubbed.max_lift_mm == pytest.approx(loud.max_lift_mm, abs=0.02)


def test_heavier_parts_sooner_and_stronger_springs_later() -> None:
    def gap(train: Train) -> float:
        return at_speed(train, 9600.0).separation_mm

    assert gap(replace(TRAIN, mass_kg=0.113)) > gap(TRAIN) > gap(replace(TRAIN, mass_kg=0.093))
    firm = replace(TRAIN, springs=(replace(OUTER, load_N=280.0), INNER))
    assert gap(firm) < gap(TRAIN) < gap(replace(TRAIN, opening_force_N=80.0))


def test_what_cannot_turn_is_refused() -> None:
    with pytest.raises(ValueError, match="mass"):
        replace(TRAIN, mass_kg=0.0)
    with pytest.raises(ValueError, match="stiffness"):
        replace(TRAIN, stiffness_N_per_mm=0.0)
    for rpm in (0.0, -100.0, 50_000.0, math.nan):
        with pytest.raises(ValueError, match="rpm"):
            at_speed(TRAIN, rpm)


def test_a_slack_spring_is_the_same_in_either_place() -> None:
    slack = Chain(2.0, 0.5, 20.0, 0.0145)
    first, second = (at_speed(replace(TRAIN, springs=s), 7000.0) for s in ((slack, OUTER), (OUTER, slack)))
    assert first.swing_mm == pytest.approx(second.swing_mm, rel=1e-6)
    assert first.seating_m_per_s == pytest.approx(second.seating_m_per_s, rel=1e-6)
    assert first.peak_contact_N == pytest.approx(second.peak_contact_N, rel=1e-6)
