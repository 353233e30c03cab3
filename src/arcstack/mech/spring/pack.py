"""What holds a valve: springs at their heights, as one load over lift."""

from dataclasses import dataclass
from typing import Protocol

import numpy as np

from arcstack.mech.cam.law import Array


class LoadCurve(Protocol):
    """A spring's load (N) over its height (mm)."""

    @property
    def free_length_mm(self) -> float: ...

    def load_N(self, height_mm: Array | float) -> Array | float: ...

    def rate_at(self, height_mm: float) -> float: ...


@dataclass(frozen=True)
class Fitted:
    """One spring at its height with the valve closed."""

    curve: LoadCurve
    closed_height_mm: float
    settled: float = 1.0

    def load_N(self, lift_mm: Array | float) -> Array:
        """Load at a lift; a loose spring gives none. ``settled`` scales it for load lost in service."""
        load = self.curve.load_N(self.closed_height_mm - np.asarray(lift_mm, dtype=np.float64))
        held: Array = np.maximum(np.asarray(load), 0.0) * self.settled
        return held


@dataclass(frozen=True)
class FittedPack:
    """All springs of one valve.

    >>> from arcstack.mech.spring.rate import LinearSpring
    >>> pack = FittedPack((Fitted(LinearSpring(31.5, 46.8), 36.2), Fitted(LinearSpring(15.2, 42.1), 33.7)))
    >>> round(float(pack.load_N(0.0)), 2), round(float(pack.load_N(10.4)), 2)
    (461.58, 947.26)
    """

    springs: tuple[Fitted, ...]

    def load_N(self, lift_mm: Array | float) -> Array:
        """Load of the pack at a net lift (mm), which may be an array."""
        held: Array = np.sum([s.load_N(lift_mm) for s in self.springs], axis=0)
        return held

    @property
    def seat_load_N(self) -> float:
        return float(self.load_N(0.0))
