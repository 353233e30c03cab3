"""The loop in lanes against the scalar one, which stays its reference."""

from dataclasses import fields, replace

import numpy as np
import pytest

from arcstack.assess import assess, elastic
from arcstack.demo import demo_builds
from arcstack.dynamics import cache, motion
from arcstack.dynamics.lanes.vector import LANES
from arcstack.dynamics.model import Chain, Train
from arcstack.dynamics.motion import AtSpeed, at_speed, at_speeds
from arcstack.mech.cam.law import SymmetricLobe
from tests.builds import OTHERS

TAMARACK = elastic.train(assess(demo_builds()[0]).sides["intake"])
LOBE = SymmetricLobe.polynomial(9.0, 1.2, (2.0, 8.0, 14.0, 20.0))
ODD = Train(
    LOBE, 0.1, (Chain(300.0, 30.0, 11.0, 0.02, 0.3, coils=9), Chain(120.0, 12.0, 8.0, 0.01)), 0.2, 20_000.0, 0.06
)
TRAINS = {
    "dual": TAMARACK,
    "two that rub": replace(TAMARACK, friction_N=14.0),
    "one that rubs": replace(TAMARACK, springs=TAMARACK.springs[:1], friction_N=6.0),
    "plain force": replace(TAMARACK, springs=(Chain(350.0, 40.0, 15.0),)),
    "of different coils": ODD,
    "of different coils that rub": replace(ODD, friction_N=9.0),
    **{make.__name__: elastic.train(assess(make()).sides["exhaust"]) for make in OTHERS[1:]},
}


@pytest.mark.parametrize("train", TRAINS.values(), ids=TRAINS)
@pytest.mark.parametrize("turns", [1, 2])
def test_both_loops_turn_alike(train: Train, turns: int) -> None:
    # more speeds than lanes, and no multiple of them: lanes end apart, and some idle at the end
    speeds = [float(n) for n in np.linspace(2000.0, 8000.0, 2 * LANES + 3)]
    for rpm, found in zip(speeds, at_speeds(train, speeds, turns), strict=True):
        alone = at_speed(train, rpm, turns)
        for f in fields(AtSpeed):
            wanted = getattr(alone, f.name)
            assert getattr(found, f.name) == pytest.approx(wanted, rel=1e-6, abs=1e-9), (rpm, f.name)


def test_both_loops_turn_until_steady_alike() -> None:
    speeds = [float(n) for n in range(3000, 8200, 400)]
    steady = 0
    for rpm, found in zip(speeds, at_speeds(TAMARACK, speeds), strict=True):
        alone = at_speed(TAMARACK, rpm)
        assert (found.turns, found.repeats) == (alone.turns, alone.repeats)
        steady += found.repeats
        assert found.peak_contact_N == pytest.approx(alone.peak_contact_N, rel=1e-6)
        assert found.separation_mm == pytest.approx(alone.separation_mm, rel=1e-5, abs=1e-9)
    assert steady > 8


def test_a_train_that_flies_apart_is_told_at_its_speed() -> None:
    # steps that its stiffness does not bear
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(motion, "steps_per_turn", lambda train, rpm: 400)
        with pytest.raises(ArithmeticError, match="cannot be followed at 7000 rpm"):
            at_speeds(TAMARACK, [7000.0, 8000.0], 2)


def test_compiled_loops_are_kept_by_the_state_of_every_source(
    tmp_path: object, monkeypatch: pytest.MonkeyPatch
) -> None:
    now = cache.sources()
    assert cache.place().name == f"loops-{now}"
    monkeypatch.setattr(cache, "user_cache_dir", lambda _: "/proc/nowhere")
    assert cache.place().is_dir()
    assert cache.place().name == f"loops-{now}"
