"""Sweeps of elastic trains: worked out one after another in the background, kept, counted, stopped."""

import logging
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from enum import StrEnum
from threading import Event, Lock
from time import monotonic

from arcstack.application.kept import Kept
from arcstack.dynamics.apart import Here, Worker
from arcstack.dynamics.question import Answer, Question, work_out
from arcstack.errors import BrokeOff, Stopped
from arcstack.settings import setting

_log = logging.getLogger("arcstack.sweeps")

KEPT_SPEEDS = int(setting("sweeps.kept_speeds"))

PATIENCE_S = setting("sweeps.patience")


class State(StrEnum):
    PREPARING = "preparing"
    WAITING = "waiting"
    RUNNING = "running"
    DONE = "done"
    STOPPED = "stopped"
    FAILED = "failed"


@dataclass
class _Job:
    question: Question
    stop: Event
    first: Answer | None = None
    state: State = State.WAITING
    behind: int = 0
    told: str = ""
    asked: float = 0.0

    def forsaken(self) -> bool:
        return monotonic() - self.asked > PATIENCE_S


@dataclass(frozen=True)
class Progress:
    """How far a question is: speeds behind, of how many.

    ``told`` is why it failed, ``first`` what a first look gave.
    """

    state: State
    behind: int
    size: int
    told: str = ""
    first: Answer | None = None


class Sweeps:
    """Answers to questions, by key. One question is worked at a time; it takes both cores itself."""

    def __init__(self, worker: Worker | None = None) -> None:
        """``worker`` works them out; this process does where none is named."""
        self.worker = worker or Here()
        self._lock = Lock()
        self._answers: Kept[str, Answer] = Kept(KEPT_SPEEDS, size=lambda answer: answer.size)
        self._jobs: dict[str, _Job] = {}
        self._pool = ThreadPoolExecutor(1, thread_name_prefix="sweep")

    def known(self, question: Question) -> Answer | None:
        """The answer, where it was worked out already."""
        return self._answers.get(question.key)

    def answer(self, question: Question) -> Answer:
        """The answer, worked out here and now where it is not known."""
        found = self.known(question)
        if found is None:
            found = work_out(question)
            self._keep(question, found)
        return found

    def start(self, question: Question, again: bool = False) -> Progress:
        """Have a question worked out. One that was stopped, or failed, stays so unless asked ``again``."""
        with self._lock:
            if question.key in self._answers:
                return Progress(State.DONE, question.size, question.size)
            job = self._jobs.get(question.key)
            if job is None or (again and job.state in (State.STOPPED, State.FAILED)):
                job = self._jobs[question.key] = _Job(question, Event(), asked=monotonic())
                self._pool.submit(self._work, job)
            job.asked = monotonic()
            state = job.state
            if state in (State.WAITING, State.RUNNING) and not self.worker.ready():
                state = State.PREPARING
            return Progress(state, job.behind, question.size, job.told, job.first)

    def stop(self, question: Question) -> None:
        """Stop working on a question; what others wait for goes on."""
        with self._lock:
            job = self._jobs.get(question.key)
            if job is not None:
                job.stop.set()
                job.state = State.STOPPED

    def _work(self, job: _Job) -> None:
        try:
            self.worker.prepare()
        except OSError as error:
            job.state, job.told = State.FAILED, str(error)
            return
        if job.stop.is_set() or self._in_the_way(job):
            self._drop(job)
            return
        job.state = State.RUNNING

        def look(first: Answer) -> None:
            job.first = first

        def count(behind: int) -> None:
            job.behind = behind

        def dropped() -> bool:
            return job.stop.is_set() or self._in_the_way(job)

        try:
            found = self.worker.work_out(job.question, look, count, dropped)
        except Stopped:
            self._drop(job)
            return
        except (ArithmeticError, ValueError, OSError) as error:
            job.state, job.told = State.FAILED, str(error)
            return
        except Exception as error:
            _log.exception("a sweep broke off")
            job.state, job.told = State.FAILED, str(BrokeOff(error))
            return
        self._keep(job.question, found)

    def _in_the_way(self, job: _Job) -> bool:
        """Whether nobody asks for a job any more while others wait; alone it is ended, for whoever comes back."""
        if not job.forsaken():
            return False
        with self._lock:
            return any(j is not job and j.state is State.WAITING for j in self._jobs.values())

    def _drop(self, job: _Job) -> None:
        """Forget a job that nobody waited for, to be asked for anew; one that was told to stop stays known."""
        with self._lock:
            if not job.stop.is_set():
                self._jobs.pop(job.question.key, None)

    def _keep(self, question: Question, found: Answer) -> None:
        with self._lock:
            self._answers.put(question.key, found)
            self._jobs.pop(question.key, None)
