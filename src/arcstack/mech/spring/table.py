"""A spring known by its tester's table: load at any height, never falling as it shortens."""

from collections.abc import Iterable
from dataclasses import dataclass
from itertools import pairwise
from typing import TYPE_CHECKING

import numpy as np

from arcstack.cached import cached_property
from arcstack.mech.cam.law import Array

if TYPE_CHECKING:
    from scipy.interpolate import PchipInterpolator


@dataclass(frozen=True)
class TableSpring:
    """Load over height from readings, by a monotone cubic (Fritsch and Carlson): mm, N, heights rising.

    Past either end of the table the load goes on at that end's rate; ``covers`` tells where that is.
    """

    heights_mm: tuple[float, ...]
    loads_N: tuple[float, ...]

    @classmethod
    def of(cls, points: Iterable[tuple[float, float]]) -> "TableSpring":
        """From (height, load) in any order. Raises ``ValueError`` naming the reading that cannot be.

        >>> spring = TableSpring.of([(36.0, 330.0), (26.0, 700.0), (31.0, 500.0)])
        >>> spring.load_N(36.0), spring.load_N(31.0)
        (330.0, 500.0)
        """
        rows = sorted(points)
        if len(rows) < 3:
            raise ValueError("a table needs three readings or more; two are Height 1 and Height 2")
        for (h1, f1), (h2, f2) in pairwise(rows):
            if h2 - h1 < 1e-6:
                raise ValueError(f"two readings stand at one height, {h1:.2f} mm")
            if f2 >= f1:
                raise ValueError(
                    f"the load must rise as the spring is shortened: {f1:.0f} N at {h1:.2f} mm, "
                    f"but {f2:.0f} N at {h2:.2f} mm"
                )
        return cls(tuple(h for h, _ in rows), tuple(f for _, f in rows))

    @cached_property
    def _curve(self) -> "PchipInterpolator":
        # taken only where a table is worked: the library is slow to load, and most springs have none
        from scipy.interpolate import PchipInterpolator

        return PchipInterpolator(np.array(self.heights_mm), np.array(self.loads_N))

    @cached_property
    def _end_rates(self) -> tuple[float, float]:
        slope = self._curve.derivative()
        return -float(slope(self.heights_mm[0])), -float(slope(self.heights_mm[-1]))

    def load_N(self, height_mm: Array | float) -> Array | float:
        """Load at a height, a number or an array of them."""
        height = np.asarray(height_mm, dtype=np.float64)
        low, high = self.heights_mm[0], self.heights_mm[-1]
        inside = self._curve(np.clip(height, low, high))
        short, long = self._end_rates
        load = inside + short * np.maximum(low - height, 0.0) - long * np.maximum(height - high, 0.0)
        return float(load) if load.ndim == 0 else load

    def rate_at(self, height_mm: float) -> float:
        """Rate at a height (N/mm), the table's slope there.

        >>> round(TableSpring.of([(36.0, 330.0), (31.0, 500.0), (26.0, 700.0)]).rate_at(31.0), 1)
        36.8
        """
        if height_mm <= self.heights_mm[0]:
            return self._end_rates[0]
        if height_mm >= self.heights_mm[-1]:
            return self._end_rates[1]
        return -float(self._curve.derivative()(height_mm))

    def covers(self, height_mm: float) -> bool:
        """True where the table has readings on both sides of the height."""
        return self.heights_mm[0] - 1e-9 <= height_mm <= self.heights_mm[-1] + 1e-9

    @property
    def free_length_mm(self) -> float:
        """Height at which the load is used up, by the long end's rate."""
        rate = self._end_rates[1]
        return self.heights_mm[-1] + (self.loads_N[-1] / rate if rate > 0 else 0.0)
