"""A linear spring: its load at any height, from the figures a builder has."""

from dataclasses import dataclass

from arcstack.mech.cam.law import Array


@dataclass(frozen=True)
class LinearSpring:
    """Load = rate · (free length − height); N, N/mm, mm.

    >>> round(LinearSpring(31.5, 46.8).load_N(36.2), 6)
    333.9
    """

    rate_N_per_mm: float
    free_length_mm: float

    def load_N(self, height_mm: Array | float) -> Array | float:
        """Load at a height; negative would mean the spring is loose, and is for the caller to judge."""
        return self.rate_N_per_mm * (self.free_length_mm - height_mm)

    def rate_at(self, _height_mm: float) -> float:
        """The rate, which is the same at every height."""
        return self.rate_N_per_mm


def from_two_loads(height_1_mm: float, load_1_N: float, height_2_mm: float, load_2_N: float) -> LinearSpring:
    """The straight line through two printed loads.

    Raises ``ValueError`` when the heights are the same or the load does not rise as the spring shortens.

    Source: a straight line through two points.

    >>> spring = from_two_loads(36.2, 333.9, 25.8, 661.5)
    >>> round(spring.rate_N_per_mm, 6), round(spring.free_length_mm, 6)
    (31.5, 46.8)
    """
    if height_1_mm == height_2_mm:
        raise ValueError("both loads are given at one height")
    rate = (load_2_N - load_1_N) / (height_1_mm - height_2_mm)
    if rate <= 0:
        raise ValueError("the load must rise as the spring is shortened")
    return LinearSpring(rate, height_1_mm + load_1_N / rate)


def from_rate_and_load(rate_N_per_mm: float, height_mm: float, load_N: float) -> LinearSpring:
    """The line of a given rate through one load.

    Source: a straight line through a point.

    >>> round(from_rate_and_load(31.5, 36.2, 333.9).free_length_mm, 6)
    46.8
    """
    return LinearSpring(rate_N_per_mm, height_mm + load_N / rate_N_per_mm)
