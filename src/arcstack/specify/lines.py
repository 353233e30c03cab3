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

    def reaching(self, level: float, box: Sequence[tuple[float, float]]) -> "Planes":
        """Those that come above a level somewhere in a box: each is greatest in one of its corners.

        >>> planes = Planes(np.array([0.0, 1.0]), np.array([[1.0], [0.0]]))
        >>> planes.reaching(1.5, [(0.0, 2.0)]).constant.tolist()
        [0.0]
        """
        low, high = (np.array(ends) for ends in zip(*box, strict=True))
        most = self.constant + np.maximum(self.slopes * low, self.slopes * high).sum(axis=1)
        kept = ~(most <= level)
        return Planes(self.constant[kept], self.slopes[kept])

    def greatest(self, *variables: Array) -> Array:
        """The greatest at each point; the variables are broadcast against each other, the largest of them first.

        >>> planes = Planes(np.array([0.0, 1.0]), np.array([[1.0], [0.0]]))
        >>> planes.greatest(np.array([0.5, 1.5])).tolist()
        [1.0, 1.5]
        """
        first, *others = variables
        shape = np.broadcast_shapes(*(np.shape(v) for v in variables))
        found, held = np.full(shape, -np.inf), np.empty(shape)
        for constant, (slope, *slopes) in zip(self.constant.tolist(), self.slopes.tolist(), strict=True):
            # what is small is added up before it meets what is large
            rest: Number = constant
            for other, variable in zip(slopes, others, strict=True):
                rest = rest + other * variable
            np.add(np.multiply(first, slope, out=held), rest, out=held)
            np.maximum(found, held, out=found)
        return found
