"""Questions worked out in this process, or in one of its own that pages never wait for."""

import os
import pickle
import signal
import subprocess
import sys
from collections.abc import Callable
from functools import partial
from queue import Empty, SimpleQueue
from threading import Event, Lock, Thread
from typing import Any, BinaryIO, NamedTuple, Protocol

from arcstack.dynamics import warm
from arcstack.dynamics.question import Answer, Question, work_out
from arcstack.errors import Stopped

LOOKS_EVERY_S = 0.05
"""How often it is asked whether work is still wanted."""

RANK = 10
"""How far the process stands below the pages, where the system ranks processes."""


class Worker(Protocol):
    """Where questions are worked out, one at a time."""

    def ready(self) -> bool:
        """Whether work would begin at once."""

    def prepare(self) -> None:
        """Return once it would."""

    def work_out(
        self,
        question: Question,
        first: Callable[[Answer], None],
        done: Callable[[int], None],
        stopped: Callable[[], bool],
    ) -> Answer:
        """The answer. ``first`` is given a first look, ``done`` how many speeds are behind, ``stopped`` is asked.

        Raises ``Stopped``, and what a train that cannot be followed raises.
        """


class Here:
    """In this process, in the threads of the loop."""

    def ready(self) -> bool:
        return warm.ready()

    def prepare(self) -> None:
        warm.wait()

    def work_out(
        self,
        question: Question,
        first: Callable[[Answer], None],
        done: Callable[[int], None],
        stopped: Callable[[], bool],
    ) -> Answer:
        first(work_out(question.first_look(), None, stopped))
        return work_out(question, done, stopped)


class _Told(NamedTuple):
    """What passes between the two processes: what it is, of which job, and its value."""

    what: str
    job: int = 0
    value: Any = None


class Apart:
    """In a process of its own, ranked below the pages: it takes what they leave of the machine, and no lock of theirs.

    It is started when it is first needed, again where it was ended, and ends with this one.
    """

    def __init__(self) -> None:
        self._lock = Lock()
        self._ready = Event()
        self._job = 0
        self._process: subprocess.Popen[bytes] | None = None
        self._told: SimpleQueue[_Told] = SimpleQueue()

    def ready(self) -> bool:
        return self._ready.is_set()

    def prepare(self) -> None:
        """Raises ``OSError`` where the process ends before it is ready."""
        with self._lock:
            self._begin()
            while not self._ready.is_set():
                self._next(self._told.get())

    def work_out(
        self,
        question: Question,
        first: Callable[[Answer], None],
        done: Callable[[int], None],
        stopped: Callable[[], bool],
    ) -> Answer:
        """As a ``Worker`` does. Raises ``OSError`` too, where the process was ended."""
        with self._lock:
            self._begin()
            self._job += 1
            self._send(_Told("work", self._job, question))
            stopping = False
            while True:
                if not stopping and stopped():
                    self._send(_Told("stop", self._job))
                    stopping = True
                try:
                    told = self._next(self._told.get(timeout=LOOKS_EVERY_S))
                except Empty:
                    continue
                if told.job != self._job:
                    continue
                if told.what == "found":
                    return told.value  # type: ignore[no-any-return]
                if told.what == "raised":
                    raise told.value
                (first if told.what == "first" else done)(told.value)

    def end(self) -> None:
        """End the process; the next question starts another."""
        if self._process is not None:
            self._process.kill()
            self._process.wait()

    def _next(self, told: _Told) -> _Told:
        if told.what == "ready":
            self._ready.set()
        elif told.what == "ended":
            raise self._gone()
        return told

    def _gone(self) -> ChildProcessError:
        self._ready.clear()
        self._process = None
        return ChildProcessError("the process that it turns in was ended")

    def _begin(self) -> None:
        if self._process is not None and self._process.poll() is None:
            return
        self._ready.clear()
        self._told = SimpleQueue()
        self._process = subprocess.Popen(
            [sys.executable, "-m", __name__], stdin=subprocess.PIPE, stdout=subprocess.PIPE
        )
        assert self._process.stdout is not None
        Thread(target=_listen, args=(self._process.stdout, self._told), name="apart", daemon=True).start()

    def _send(self, told: _Told) -> None:
        assert self._process is not None
        assert self._process.stdin is not None
        try:
            pickle.dump(tuple(told), self._process.stdin)
            self._process.stdin.flush()
        except OSError as error:
            raise self._gone() from error


def _listen(source: BinaryIO, heard: "SimpleQueue[_Told]") -> None:
    """Pass on everything that the other process says, until it ends."""
    while True:
        try:
            heard.put(_Told(*pickle.load(source)))
        except (EOFError, OSError, pickle.UnpicklingError):
            heard.put(_Told("ended"))
            return


def _serve(source: BinaryIO, target: BinaryIO) -> None:
    """What the process does: work out what it is given, one after another, until nobody is there to give it."""
    asked: SimpleQueue[_Told] = SimpleQueue()
    unwanted: set[int] = set()
    held = Lock()

    def hear() -> None:
        while True:
            try:
                told = _Told(*pickle.load(source))
            except (EOFError, OSError, pickle.UnpicklingError):
                # nobody is left to tell, and the threads of the loop need not be waited for
                os._exit(0)
            if told.what == "stop":
                unwanted.add(told.job)
            else:
                asked.put(told)

    def say(what: str, job: int = 0, value: Any = None) -> None:
        with held:
            pickle.dump((what, job, value), target)
            target.flush()

    Thread(target=hear, daemon=True).start()
    warm.load()
    say("ready")
    while True:
        _, job, question = asked.get()
        try:
            found = Here().work_out(
                question, partial(say, "first", job), partial(say, "done", job), partial(unwanted.__contains__, job)
            )
        except (Stopped, ArithmeticError, ValueError) as error:
            say("raised", job, error)
        else:
            say("found", job, found)
        unwanted.discard(job)


if __name__ == "__main__":
    if hasattr(os, "nice"):
        os.nice(RANK)
    # Ctrl-C in the shell is for the one that serves; this one ends with it
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    into, sys.stdout = sys.stdout.buffer, sys.stderr
    try:
        _serve(sys.stdin.buffer, into)
    except BrokenPipeError:
        os._exit(0)
