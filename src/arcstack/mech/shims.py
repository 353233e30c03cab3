"""Shims under a spring: which of them bring a height nearest to its target. mm."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import combinations_with_replacement


@dataclass(frozen=True)
class ShimStack:
    """Shims in the order of their thickness, thickest first, and what they come to."""

    shims_mm: tuple[float, ...]

    @property
    def total_mm(self) -> float:
        return round(sum(self.shims_mm), 9)


def stacks(sizes_mm: Iterable[float], most: int, total_mm: float = float("inf")) -> list[ShimStack]:
    """Every stack of at most ``most`` shims, each size as often as wanted, none allowed too, no taller than a total.

    Source: combinations with repetition.

    >>> [s.shims_mm for s in stacks([0.25, 0.5], 2, 0.8)]
    [(), (0.5,), (0.25,), (0.5, 0.25), (0.25, 0.25)]
    """
    sizes = sorted(set(sizes_mm), reverse=True)
    found = [ShimStack(shims) for count in range(most + 1) for shims in combinations_with_replacement(sizes, count)]
    return [s for s in found if s.total_mm <= total_mm + 1e-9]


def nearest(open_height_mm: float, target_mm: float, of: Sequence[ShimStack]) -> ShimStack:
    """The stack that leaves a spring nearest to its target height; among equals the one of fewest shims.

    Source: geometry along the valve, H = H₀ − Σ shims.

    >>> best = nearest(38.42, 36.8, stacks([0.25, 0.38, 0.51, 0.76, 1.02], 3))
    >>> round(38.42 - best.total_mm, 2), len(best.shims_mm)
    (36.77, 3)
    """
    return min(of, key=lambda s: (round(abs(open_height_mm - s.total_mm - target_mm), 9), len(s.shims_mm)))
