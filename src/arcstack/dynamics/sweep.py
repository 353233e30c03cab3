"""An elastic train over a range of speeds: two at a time, countable and stoppable."""

import math
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor

import numpy as np

from arcstack.dynamics.model import Train
from arcstack.dynamics.motion import AtSpeed, at_speed
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


def sweep(
    train: Train,
    speeds: Sequence[float],
    done: Callable[[int], None] | None = None,
    stopped: Callable[[], bool] | None = None,
    turns: int | None = None,
) -> list[AtSpeed]:
    """The train at each speed, in the order given: until it repeats, or after ``turns`` turns from rest.

    ``done`` is told after each speed how many are; ``stopped`` is asked before each. Raises ``Stopped``.
    """
    # the table of the lobe is made once, before the threads would each make it
    _ = train.lobe, train.constants, train.chains

    def one(rpm: float) -> AtSpeed:
        if stopped is not None and stopped():
            raise Stopped
        return at_speed(train, rpm, turns)

    with ThreadPoolExecutor(WORKERS) as pool:
        return list(_counted(pool.map(one, speeds), done))


def _counted(rows: Iterator[AtSpeed], done: Callable[[int], None] | None) -> Iterator[AtSpeed]:
    for number, row in enumerate(rows, 1):
        if done is not None:
            done(number)
        yield row


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
