"""What holds a valve: springs at their heights, as one load over lift."""

from dataclasses import dataclass
from typing import Protocol

import numpy as np

from arcstack.mech.cam.law import Array
from arcstack.mech.spring.rate import LinearSpring


@dataclass(frozen=True)
class StraightLoad:
    """Load = seat + rate · net lift, from that lift on where every spring is taut: N, N/mm, mm."""

    seat_N: float
    rate_N_per_mm: float
    taut_from_mm: float = 0.0


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
        held = self.springs[0].load_N(lift_mm)
        for spring in self.springs[1:]:
            held = held + spring.load_N(lift_mm)
        return held

    def straight(self) -> StraightLoad | None:
        """The line that the load runs on once every spring is taut; None where a spring's own load curves.

        >>> from arcstack.mech.spring.rate import LinearSpring
        >>> FittedPack((Fitted(LinearSpring(30.0, 46.0), 36.0), Fitted(LinearSpring(15.0, 36.0), 36.5))).straight()
        StraightLoad(seat_N=292.5, rate_N_per_mm=45.0, taut_from_mm=0.5)
        """
        seat = rate = slack = 0.0
        for spring in self.springs:
            if not isinstance(spring.curve, LinearSpring):
                return None
            seat += float(spring.curve.load_N(spring.closed_height_mm)) * spring.settled
            rate += spring.curve.rate_N_per_mm * spring.settled
            slack = max(slack, spring.closed_height_mm - spring.curve.free_length_mm)
        return StraightLoad(seat, rate, slack)

    @property
    def seat_load_N(self) -> float:
        return float(self.load_N(0.0))
