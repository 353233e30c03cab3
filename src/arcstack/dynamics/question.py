"""Several trains at several speeds, asked as one piece of work and known by what it asks."""

from collections.abc import Callable
from dataclasses import dataclass
from hashlib import sha256

import numpy as np

from arcstack.cached import cached_property
from arcstack.dynamics.model import Train
from arcstack.dynamics.motion import AtSpeed
from arcstack.dynamics.sweep import sweeps

FIRST_SPEEDS, FIRST_TURNS = 60, 2
"""Speeds and turns of a first look."""


@dataclass(frozen=True)
class Run:
    """One train over its speeds, upward, under a name of the asker's; ``turns`` where it is not turned until steady."""

    name: str
    train: Train
    speeds: tuple[float, ...]
    turns: int | None = None


@dataclass(frozen=True)
class Question:
    """Runs to be made; equal work has an equal ``key``, whatever build it came from."""

    runs: tuple[Run, ...]

    @property
    def size(self) -> int:
        """Speeds to be worked out, in all."""
        return sum(len(r.speeds) for r in self.runs)

    def first_look(self) -> "Question":
        """The first run alone, at few speeds and after two turns from rest: what can be said at once."""
        run = self.runs[0]
        every = max(len(run.speeds) // FIRST_SPEEDS, 1)
        return Question((Run(run.name, run.train, run.speeds[::every], FIRST_TURNS),))

    @cached_property
    def key(self) -> str:
        digest = sha256()
        for run in self.runs:
            start, step, lift, _ = run.train.lobe
            digest.update(f"{run.name}|{run.turns}|".encode())
            for part in (np.array([start, step]), lift, run.train.constants, run.train.chains, np.array(run.speeds)):
                digest.update(np.ascontiguousarray(part).tobytes())
        return digest.hexdigest()[:32]


@dataclass(frozen=True)
class Answer:
    """The rows of each run, by its name."""

    rows: dict[str, list[AtSpeed]]

    @property
    def size(self) -> int:
        """Speeds that it holds."""
        return sum(len(rows) for rows in self.rows.values())


def work_out(
    question: Question, done: Callable[[int], None] | None = None, stopped: Callable[[], bool] | None = None
) -> Answer:
    """Make every run. ``done`` is told how many speeds are behind, ``stopped`` is asked. Raises ``Stopped``."""
    found = sweeps([(run.train, run.speeds, run.turns) for run in question.runs], done, stopped)
    return Answer({run.name: rows for run, rows in zip(question.runs, found, strict=True)})
