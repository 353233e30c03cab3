"""Questions worked out in a process of its own: the same answers, stopped, failed, killed, and never left behind."""

import os
import signal
import subprocess
import sys
import time
from collections.abc import Iterator
from dataclasses import replace

import pytest

from arcstack.application import State, Sweeps
from arcstack.assess import assess, elastic
from arcstack.demo import demo_builds
from arcstack.dynamics import warm
from arcstack.dynamics.apart import RANK, Apart, Here
from arcstack.dynamics.model import Chain, Train
from arcstack.dynamics.question import Answer, Question, Run
from arcstack.dynamics.sweep import speeds_rpm
from arcstack.errors import Stopped
from arcstack.mech.cam.law import SymmetricLobe

LOBE = SymmetricLobe.polynomial(10.0, 1.25, (2.0, 8.0, 14.0, 20.0))
TRAIN = Train(LOBE, 0.1, (Chain(350.0, 40.0, 12.0, 0.03),), 0.2, 28_000.0, 0.06)
FALLS_APART = replace(TRAIN, mass_kg=float("nan"))


def until(sweeps: Sweeps, question: Question, state: State) -> None:
    for _ in range(3000):
        if sweeps.start(question).state is state:
            return
        time.sleep(0.01)
    pytest.fail(f"it never is {state.value}")


@pytest.fixture(scope="module")
def apart() -> Iterator[Apart]:
    warm.load()  # the compiled loop is on the disk then
    made = Apart()
    made.prepare()
    yield made
    made.end()


def asked(count: int, train: Train = TRAIN) -> Question:
    return Question((Run("a", train, tuple(speeds_rpm(2000.0, 8000.0, count))),))


def worked(apart: Apart, question: Question) -> Answer:
    return apart.work_out(question, lambda _: None, lambda _: None, lambda: False)


def pid_of(apart: Apart) -> int:
    assert apart._process is not None
    return apart._process.pid


def test_it_answers_as_this_process_does(apart: Apart) -> None:
    question = asked(150)
    looks: tuple[list[Answer], list[Answer]] = ([], [])
    behind: tuple[list[int], list[int]] = ([], [])
    found = [
        worker.work_out(question, looks[n].append, behind[n].append, lambda: False)
        for n, worker in enumerate((Here(), apart))
    ]
    assert found[0] == found[1]
    assert looks[0] == looks[1]
    assert len(looks[1]) == 1
    assert behind[0] == behind[1]
    assert behind[1][-1] == 150


def test_every_train_of_the_demo_passes_between_the_two(apart: Apart) -> None:
    for build in demo_builds():
        for ctx in assess(build).sides.values():
            question = elastic.question(ctx).first_look()
            assert worked(apart, question) == Here().work_out(question, print, print, lambda: False)


def test_it_stops_soon_and_goes_on_with_the_next(apart: Apart) -> None:
    began = time.monotonic()
    with pytest.raises(Stopped):
        apart.work_out(asked(40_000), lambda _: None, lambda _: None, lambda: time.monotonic() - began > 0.1)
    assert [r.rpm for r in worked(apart, asked(4)).rows["a"]] == [2000.0, 4000.0, 6000.0, 8000.0]


def test_what_cannot_be_followed_is_raised_here(apart: Apart) -> None:
    with pytest.raises(ArithmeticError, match="cannot be followed at 2000 rpm"):
        worked(apart, asked(1, FALLS_APART))
    assert worked(apart, asked(1)).size == 1


def test_it_ranks_below_the_pages(apart: Apart) -> None:
    assert os.getpriority(os.PRIO_PROCESS, pid_of(apart)) == os.getpriority(os.PRIO_PROCESS, 0) + RANK


def test_one_that_was_killed_is_told_and_the_next_question_starts_another() -> None:
    sweeps = Sweeps(worker := Apart())
    question = asked(60_000)
    assert sweeps.start(question).state is State.PREPARING
    until(sweeps, question, State.RUNNING)
    first = pid_of(worker)
    os.kill(first, signal.SIGKILL)
    until(sweeps, question, State.FAILED)
    assert "was ended" in sweeps.start(question).told
    assert sweeps.start(question).state is State.FAILED
    again = sweeps.start(question, again=True).state
    assert again in (State.PREPARING, State.WAITING, State.RUNNING)
    sweeps.stop(question)
    short = asked(3)
    until(sweeps, short, State.DONE)
    assert pid_of(worker) != first
    worker.end()


def test_it_ends_with_the_one_that_started_it() -> None:
    code = (
        "from arcstack.dynamics.apart import Apart; import time; a = Apart(); a.prepare(); "
        "print(a._process.pid, flush=True); time.sleep(60)"
    )
    parent = subprocess.Popen([sys.executable, "-c", code], stdout=subprocess.PIPE, text=True)
    assert parent.stdout is not None
    child = int(parent.stdout.readline())
    parent.kill()
    parent.wait()
    parent.stdout.close()
    for _ in range(500):
        try:
            os.kill(child, 0)
        except ProcessLookupError:
            return
        time.sleep(0.01)
    pytest.fail("it is still there")
