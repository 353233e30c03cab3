"""What readings are good to, by how they scatter, and which of them lies off all others."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy  # its parts load when first used, which keeps the start quick


@dataclass(frozen=True)
class Known:
    """A figure known beside the readings: about where it lies, and half of the width that leaves it."""

    value: float
    half: float


AGREED = 1.5
"""As if so many readings had agreed already, to half of what the instrument is good to: one alone is not sure."""


def reading_half(left: Sequence[float], spent: float, good_to: float) -> float:
    """Half of the width that one reading is good to, by what a fit that spends so many figures leaves of them, and no
    less than the instrument is good to.

    Source: Student's t over the pooled scatter, 95 of 100.

    >>> good = reading_half([0.02, -0.01, -0.02, 0.01, 0.0], 1.0, 0.05)
    >>> alone, wild = reading_half([0.0], 1.0, 0.05), reading_half([0.15, -0.2, 0.05, 0.1, -0.1], 1.0, 0.05)
    >>> round(good, 3), round(alone, 3), round(wild, 2)
    (0.05, 0.15, 0.31)
    """
    over = AGREED + max(len(left) - spent, 0.0)
    scatter = math.sqrt((AGREED * (good_to / 2.0) ** 2 + math.fsum(x * x for x in left)) / over)
    return max(good_to, float(scipy.stats.t.ppf(0.975, over)) * scatter)


def off_the_rest(values: Sequence[float], good_to: float, at_least: float, free: Sequence[float] = ()) -> int | None:
    """Which of three readings or more of one thing lies off all others, by far more than those scatter: a dial read a
    turn wrong. The first, where of two neither can be told. None while none does.

    ``at_least`` is the least that counts; ``free`` how far each may lie off by what is not known of it.
    Source: the deleted residual over the scatter of the others.

    >>> off_the_rest([0.02, 1.01, -0.01, 0.0], 0.05, 0.3), off_the_rest([0.1, -0.15, 0.2], 0.05, 0.3)
    (1, None)
    >>> off_the_rest([0.0, 1.0], 0.05, 0.3), off_the_rest([0.0], 0.05, 0.3)
    (0, None)
    """
    found = np.asarray(values, dtype=np.float64)
    may = np.asarray(free, dtype=np.float64) if len(free) else np.zeros(len(found))
    if len(found) == 2:
        return 0 if abs(found[1] - found[0]) > at_least + abs(may[1] - may[0]) else None
    worst: tuple[float, int] | None = None
    for n in range(len(found) if len(found) > 2 else 0):
        rest, own = np.delete(found, n), np.delete(may, n)
        off = abs(found[n] - rest.mean()) - abs(may[n] - own.mean())
        scatter = max(float(rest.std(ddof=1)), good_to / 2.0) * math.sqrt(1.0 + 1.0 / len(rest))
        if off > max(at_least, _FAR * scatter) and (worst is None or off > worst[0]):
            worst = off, n
    return worst[1] if worst is not None else None


_FAR = 6.0
"""Times the scatter of the others that lies off all of them."""
