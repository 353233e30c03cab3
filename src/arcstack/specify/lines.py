"""The greatest of many straight functions over a box, with those left out that are nowhere the greatest."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import product

import numpy as np
from numpy.typing import NDArray

from arcstack.mech.cam.law import Array

Number = float | Array


@dataclass(frozen=True)
class Planes:
    """Functions c + Σ s·x of a few variables: ``constant`` (n), ``slopes`` (n × variables)."""

    constant: Array
    slopes: Array

    def within(self, box: Sequence[tuple[float, float]]) -> "Planes":
        """Those that can be the greatest somewhere in a box.

        One that another is above at every corner of the box is above it nowhere inside; only those that win at a corner
        or in the middle are tried as that other.

        >>> planes = Planes(np.array([0.0, 1.0, 0.5]), np.array([[1.0], [0.0], [0.2]]))
        >>> planes.within([(0.0, 2.0)]).constant.tolist()
        [0.0, 1.0]
        """
        corners = np.array([*product(*box), [(a + b) / 2.0 for a, b in box]])
        at = self.constant[:, None] + self.slopes @ corners.T
        kept: NDArray[np.bool_] = np.ones(len(self.constant), dtype=bool)
        winners = np.unique(at.argmax(axis=0))
        for best in winners:
            beaten = (at <= at[best]).all(axis=1)
            beaten[winners] = False
            kept &= ~beaten
        return Planes(self.constant[kept], self.slopes[kept])

    def greatest(self, *variables: Number) -> Array:
        """The greatest at each point; the variables are broadcast against each other.

        >>> planes = Planes(np.array([0.0, 1.0]), np.array([[1.0], [0.0]]))
        >>> planes.greatest(np.array([0.5, 1.5])).tolist()
        [1.0, 1.5]
        """
        found: Array | None = None
        for constant, slopes in zip(self.constant.tolist(), self.slopes.tolist(), strict=True):
            value: Number = constant
            for slope, variable in zip(slopes, variables, strict=True):
                if slope:
                    value = value + slope * variable
            found = np.asarray(value) if found is None else np.maximum(found, value)
        assert found is not None
        return found
