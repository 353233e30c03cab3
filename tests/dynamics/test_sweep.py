"""Sweeps: counted, stopped, converged, and known by what they ask."""

import math
from dataclasses import fields, replace

import numpy as np
import pytest

from arcstack.assess import assess, elastic
from arcstack.demo import demo_builds
from arcstack.dynamics.motion import STEP_S, AtSpeed, at_speed
from arcstack.dynamics.question import Question, Run, work_out
from arcstack.dynamics.sweep import Stopped, parting_rpm, speeds_rpm, sweep

BUILDS = demo_builds()
TRAIN = elastic.train(assess(BUILDS[0]).sides["intake"])


def row(rpm: float, gap: float) -> AtSpeed:
    return AtSpeed(rpm, 10.0, 1000.0, 0.0, gap, 0.0, 0.4, 0.0, 0.0, 0.0, 0.0)


def test_a_sweep_keeps_its_order_and_counts() -> None:
    told: list[int] = []
    speeds = speeds_rpm(3000.0, 9000.0, 7)
    rows = sweep(TRAIN, speeds, told.append)
    assert [r.rpm for r in rows] == speeds
    assert told == [7]
    alone = at_speed(TRAIN, 6000.0)
    for f in fields(AtSpeed):
        assert getattr(rows[3], f.name) == pytest.approx(getattr(alone, f.name), rel=1e-6, abs=1e-9), f.name


def test_a_sweep_stops_when_told() -> None:
    told: list[int] = []
    with pytest.raises(Stopped):
        sweep(TRAIN, speeds_rpm(3000.0, 9000.0, 900), told.append, lambda: bool(told))
    assert len(told) < 6


def test_parting_lies_between_the_speeds_swept() -> None:
    rows = [row(6000.0, 0.0), row(7000.0, 0.02), row(8000.0, 0.10), row(9000.0, 0.03)]
    assert parting_rpm(rows, 0.05) == pytest.approx(7375.0)
    assert parting_rpm(rows[:2], 0.05) is None
    assert parting_rpm(rows[2:], 0.05) == 8000.0


# half the finest step a page shows of each figure, below which a relative change says nothing
FLOORS = {"separation_mm": 5e-4, "bounce_mm": 5e-4, "seating_m_per_s": 5e-3, "swing_mm": 5e-3, "clash_N": 1.0}


@pytest.mark.parametrize("side", ["intake", "exhaust"])
@pytest.mark.parametrize("build", BUILDS, ids=lambda b: b.name.split(",")[0])
def test_half_the_step_moves_no_figure_by_one_percent(build: object, side: str) -> None:
    ctx = assess(build).sides[side]  # type: ignore[arg-type]
    train, top = elastic.train(ctx), ctx.build.brief.overspeed
    assert top is not None
    for rpm in np.linspace(0.4 * top.value, top.value, 12):
        whole, half = (at_speed(train, float(rpm), 2, step) for step in (STEP_S, STEP_S / 2))
        for f in fields(AtSpeed):
            if f.name in ("separation_rad", "turns", "repeats"):
                continue
            # the least force is what two of the size of the peak leave over
            floor = 0.002 * whole.peak_contact_N if f.name == "min_contact_N" else FLOORS.get(f.name, 0.5)
            assert getattr(whole, f.name) == pytest.approx(getattr(half, f.name), rel=0.01, abs=floor), (f.name, rpm)


def test_equal_work_has_one_key_and_a_gram_makes_another() -> None:
    speeds = (4000.0, 6000.0)
    asked = Question((Run("a", TRAIN, speeds),))
    again = Question((Run("a", elastic.train(assess(BUILDS[0]).sides["intake"]), speeds),))
    heavier = Question((Run("a", replace(TRAIN, mass_kg=TRAIN.mass_kg + 0.001), speeds),))
    assert asked.key == again.key
    assert len({asked.key, heavier.key, Question((Run("a", TRAIN, (4000.0,)),)).key}) == 3


def test_work_is_counted_over_all_runs() -> None:
    told: list[int] = []
    asked = Question((Run("a", TRAIN, (4000.0, 6000.0)), Run("b", TRAIN, (5000.0,))))
    found = work_out(asked, told.append)
    assert told == [2, 3]
    assert asked.size == 3
    assert [r.rpm for r in found.rows["a"]] == [4000.0, 6000.0]
    assert all(math.isfinite(getattr(r, f.name)) for rows in found.rows.values() for r in rows for f in fields(AtSpeed))
