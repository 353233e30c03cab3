"""Elastic trains over ranges of speeds: in the lanes of two threads, countable and stoppable."""

import math
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor

import numpy as np

from arcstack.dynamics.model import Train
from arcstack.dynamics.motion import AtSpeed, at_speeds
from arcstack.errors import Stopped

WORKERS = 2
"""Threads; the compiled loop lets go of the interpreter, so that two run at once."""


def speeds_rpm(lowest: float, highest: float, count: int = 60) -> list[float]:
    """Even speeds, to the whole revolution.

    >>> speeds_rpm(3000.0, 9000.0, 4)
    [3000.0, 5000.0, 7000.0, 9000.0]
    """
    return [float(n) for n in np.round(np.linspace(lowest, highest, count))]


def grid_rpm(lowest: float, highest: float, step: float) -> list[float]:
    """Even speeds ``step`` apart, multiples of it, from ``lowest`` to the first at or past ``highest``.

    >>> grid_rpm(2990.0, 3060.0, 25.0)
    [3000.0, 3025.0, 3050.0, 3075.0]
    """
    first, last = math.ceil(lowest / step - 1e-9), math.ceil(highest / step - 1e-9)
    return [step * n for n in range(first, last + 1)]


AT_ONCE = 48
"""Speeds handed to a thread at a time: a few to each lane, so that few lanes idle while the last ones end."""


def sweep(
    train: Train,
    speeds: Sequence[float],
    done: Callable[[int], None] | None = None,
    stopped: Callable[[], bool] | None = None,
    turns: int | None = None,
) -> list[AtSpeed]:
    """The train at each speed, in the order given: until it repeats, or after ``turns`` turns from rest.

    ``done`` is told as it goes how many are; ``stopped`` is asked before each piece. Raises ``Stopped``.
    """
    return sweeps([(train, speeds, turns)], done, stopped)[0]


def sweeps(
    runs: Sequence[tuple[Train, Sequence[float], int | None]],
    done: Callable[[int], None] | None = None,
    stopped: Callable[[], bool] | None = None,
) -> list[list[AtSpeed]]:
    """Several trains, each over its speeds, as ``sweep`` does one; no thread waits for a train to end."""
    pieces: list[tuple[int, Sequence[float]]] = []
    for number, (train, speeds, _turns) in enumerate(runs):
        # what a train is made of is worked once, before the threads would each do it
        train.make_ready()
        pieces += [(number, speeds[at : at + AT_ONCE]) for at in range(0, len(speeds), AT_ONCE)]

    def one(piece: tuple[int, Sequence[float]]) -> tuple[int, list[AtSpeed]]:
        if stopped is not None and stopped():
            raise Stopped
        number, speeds = piece
        return number, at_speeds(runs[number][0], speeds, runs[number][2])

    found: list[list[AtSpeed]] = [[] for _ in runs]
    behind = 0
    with ThreadPoolExecutor(WORKERS) as pool:
        for number, rows in pool.map(one, pieces):
            found[number] += rows
            behind += len(rows)
            if done is not None:
                done(behind)
    return found


def parting_rpm(rows: Sequence[AtSpeed], gap_mm: float) -> float | None:
    """The speed at which valve and cam first part by more than ``gap_mm``, between the speeds swept; None if never.

    Speeds below one that already parts do not count as held. ``rows`` go upward in speed.
    """
    before: AtSpeed | None = None
    for row in rows:
        if row.separation_mm > gap_mm:
            if before is None:
                return row.rpm
            share = (gap_mm - before.separation_mm) / (row.separation_mm - before.separation_mm)
            return before.rpm + share * (row.rpm - before.rpm)
        before = row
    return None
