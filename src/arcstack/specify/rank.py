"""Which of those that would do come first, and which of them nothing else beats in every way."""

from collections.abc import Mapping, Sequence
from types import MappingProxyType

import numpy as np
from numpy.typing import NDArray

from arcstack.mech.cam.law import Array
from arcstack.specify.ask import Ask, Want

_SIGN = MappingProxyType({Want.SPEED: -1.0, Want.RESERVE: -1.0, Want.FRICTION: 1.0, Want.PRICE: 1.0, Want.ON_HAND: 1.0})
_ALIKE = MappingProxyType(
    {Want.SPEED: 1.0, Want.RESERVE: 0.01, Want.FRICTION: 0.1, Want.PRICE: 0.01, Want.ON_HAND: 1.0}
)
"""What differs by less than this, as pages show it, counts as equal."""


def cost(want: Want, column: Array) -> Array:
    """A column so that less is better; what is not known comes last."""
    found: Array = np.where(np.isnan(column), np.inf, _SIGN[want] * column)
    return found


def ranked(columns: Mapping[Want, Array], ask: Ask, most: int) -> NDArray[np.intp]:
    """The first ``most`` by what is asked, best first.

    >>> columns = {w: np.array([1.0, 2.0, 3.0]) for w in Want} | {Want.SPEED: np.array([9000.0, 9500.0, 9500.2])}
    >>> ranked(columns, Ask((), (Want.SPEED, Want.PRICE)), 2).tolist()
    [1, 2]
    """
    costs = [cost(w, columns[w]) for w in ask.want]
    if ask.weights:
        keys = [_weighed(costs, ask.weights)]
    else:
        keys = [np.round(c / _ALIKE[w]) for c, w in zip(costs, ask.want, strict=True)]
    chosen = _first(keys, most)
    return chosen[np.lexsort([chosen, *(k[chosen] for k in reversed(keys))])]


def _weighed(costs: Sequence[Array], weights: Sequence[float]) -> Array:
    """Each cost over its own range, weighed."""
    total = np.zeros(len(costs[0]))
    for column, weight in zip(costs, weights, strict=True):
        if not weight:
            continue
        told = column[np.isfinite(column)]
        low, high = (float(told.min()), float(told.max())) if told.size else (0.0, 0.0)
        total += weight * (column - low) / ((high - low) or 1.0)
    return total


def _first(keys: Sequence[Array], most: int) -> NDArray[np.intp]:
    """The first so many by keys in turn, in no order: a whole sort of millions is spared."""
    pool: NDArray[np.intp] = np.arange(len(keys[0]))
    chosen: list[NDArray[np.intp]] = []
    left = most
    for key in keys:
        if len(pool) <= left:
            break
        held = key[pool]
        bound = np.partition(held, left - 1)[left - 1]
        chosen.append(pool[held < bound])
        left -= len(chosen[-1])
        pool = pool[held == bound]
    return np.concatenate([*chosen, pool[:left]])


def frontier(columns: Sequence[Array]) -> NDArray[np.intp]:
    """Those that none other is at least as good as in every column and better in one; less is better.

    >>> frontier([np.array([1.0, 2.0, 2.0]), np.array([2.0, 1.0, 3.0])]).tolist()
    [0, 1]
    """
    points = np.stack(columns, axis=1)
    standing = _not_plainly_beaten(points)
    points, first = np.unique(points[standing], axis=0, return_index=True)
    first = standing[first]
    left = np.arange(len(points))
    kept: list[int] = []
    while len(left):
        rest = points[left]
        scale = np.ptp(rest, axis=0)
        at = int(np.argmin((rest / np.where(scale > 0.0, scale, 1.0)).sum(axis=1)))
        kept.append(int(left[at]))
        left = left[(rest < rest[at]).any(axis=1)]
    return np.sort(first[kept])


def _not_plainly_beaten(points: Array) -> NDArray[np.intp]:
    """Those that neither the best of any one column nor the best of all together beats: of millions, few."""
    left: NDArray[np.intp] = np.arange(len(points))
    ranges = np.ptp(np.where(np.isfinite(points), points, np.nan), axis=0) if len(points) else np.zeros(0)
    scaled = points / np.where(np.nan_to_num(ranges) > 0.0, ranges, 1.0)
    for weights in (*np.eye(points.shape[1]) + 0.05, np.ones(points.shape[1])):
        if not len(left):
            break
        best = points[left[int(np.argmin(scaled[left] @ weights))]]
        there = points[left]
        left = left[~((best <= there).all(axis=1) & (best < there).any(axis=1))]
    return left
