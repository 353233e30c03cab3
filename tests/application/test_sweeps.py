"""Sweeps in the background: known once worked, stopped, failed, forgotten when old."""

import time
from dataclasses import replace

import numpy as np
import pytest

from arcstack.application import State, Sweeps
from arcstack.application import sweeps as module
from arcstack.dynamics import warm
from arcstack.dynamics.model import Chain, Train
from arcstack.dynamics.question import Question, Run
from arcstack.dynamics.sweep import speeds_rpm
from arcstack.mech.cam.law import Array, SymmetricLobe

LOBE = SymmetricLobe.polynomial(10.0, 1.25, (2.0, 8.0, 14.0, 20.0))
TRAIN = Train(LOBE, 0.1, (Chain(350.0, 40.0, 12.0, 0.03),), 0.2, 28_000.0, 0.06)


@pytest.fixture(autouse=True)
def _warm() -> None:
    warm.load()


def asked(count: int, mass_kg: float = 0.1) -> Question:
    return Question((Run("a", replace(TRAIN, mass_kg=mass_kg), tuple(speeds_rpm(2000.0, 8000.0, count))),))


def ended(sweeps: Sweeps, question: Question) -> State:
    for _ in range(1000):
        state = sweeps.start(question).state
        if state not in (State.WAITING, State.RUNNING, State.PREPARING):
            return state
        time.sleep(0.01)
    raise AssertionError("it never ends")


def test_what_was_worked_is_known_to_whoever_asks_the_same() -> None:
    sweeps = Sweeps()
    assert sweeps.known(asked(4)) is None
    assert ended(sweeps, asked(4)) is State.DONE
    found = sweeps.known(asked(4))
    assert found is not None
    assert [r.rpm for r in found.rows["a"]] == [2000.0, 4000.0, 6000.0, 8000.0]
    assert sweeps.known(asked(5)) is None
    assert sweeps.answer(asked(4)) is found


def test_one_is_stopped_and_the_next_goes_on() -> None:
    sweeps = Sweeps()
    long, short = asked(2000), asked(3)
    sweeps.start(long)
    sweeps.start(short)
    sweeps.stop(long)
    assert ended(sweeps, short) is State.DONE
    assert sweeps.start(long).state is State.STOPPED
    assert sweeps.known(long) is None
    assert sweeps.start(long, again=True).state in (State.WAITING, State.RUNNING)
    sweeps.stop(long)


def test_progress_grows() -> None:
    sweeps = Sweeps()
    question = asked(900)
    sweeps.start(question)
    seen = []
    while not seen or seen[-1] < 40:
        seen.append(sweeps.start(question).behind)
        time.sleep(0.005)
    assert seen == sorted(seen)
    assert sweeps.start(question).size == 900
    sweeps.stop(question)


class Broken(SymmetricLobe):
    """A law that gives no number."""

    def evaluate(self, cam_rad: Array, order: int = 0) -> Array:
        return np.full_like(np.asarray(cam_rad, dtype=float), np.nan)


def test_a_train_that_cannot_be_followed_says_so() -> None:
    sweeps = Sweeps()
    broken = replace(TRAIN, valve_law=Broken(LOBE.flank, LOBE.ramp))
    question = Question((Run("a", broken, (6000.0,)),))
    assert ended(sweeps, question) is State.FAILED
    assert "cannot be followed at 6000 rpm" in sweeps.start(question).told


def test_old_answers_are_forgotten(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(module, "KEPT_SPEEDS", 2)
    sweeps = Sweeps()
    questions = [asked(1, mass_kg=0.1 + i / 1000) for i in range(3)]
    for question in questions:
        sweeps.answer(question)
    assert [sweeps.known(q) is not None for q in questions] == [False, True, True]


def test_the_loop_is_made_ready_once() -> None:
    assert warm.ready()
    assert warm.in_background() is None
    warm.wait()


def test_what_nobody_asks_for_any_more_is_dropped(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(module, "PATIENCE_S", 0.05)
    sweeps = Sweeps()
    forsaken, wanted = asked(3000), asked(3)
    sweeps.start(forsaken)
    assert ended(sweeps, wanted) is State.DONE
    assert sweeps.known(forsaken) is None
    # and may be asked for anew
    assert sweeps.start(forsaken).state in (State.WAITING, State.RUNNING)
    sweeps.stop(forsaken)


def test_what_nobody_asks_for_any_more_is_ended_where_no_other_waits(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(module, "PATIENCE_S", -1.0)
    sweeps = Sweeps()
    sweeps.start(question := asked(60))
    for _ in range(1000):
        if sweeps.known(question) is not None:
            return
        time.sleep(0.01)
    pytest.fail("it was dropped")
