"""A block of combinations as it is searched: what turns each away, what would do, and what is wanted of that."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from arcstack.checks import Limit
from arcstack.checks.verdict import fails_beyond
from arcstack.mech.cam.law import Array
from arcstack.specify.ask import Want
from arcstack.specify.columns import NEVER
from arcstack.specify.heights import Rows
from arcstack.specify.space import Space

Mask = NDArray[np.bool_]


@dataclass(frozen=True)
class Bad:
    """Where a check turns away, and where of that only because it is not known; shapes that can be broadcast."""

    at: int
    bad: Mask
    unknown: Mask

    def of(self, part: slice) -> "Bad":
        """The same of some rows; what is the same for every row stays so."""
        return Bad(self.at, *(m[part] if len(m) > 1 else m for m in (self.bad, self.unknown)))


def outside(at: int, values: Array, limit: Limit, whole: bool) -> Bad:
    """Where a column lies past a limit, or is not known; of a ``whole`` one everything is."""
    below, above = fails_beyond(limit)
    values = np.atleast_2d(values)
    if math.isinf(above):
        good = values >= below
    elif math.isinf(below):
        good = values <= above
    else:
        good = (values >= below) & (values <= above)
    unknown = NEVER if whole or not np.isnan(values.min(initial=math.inf)) else np.isnan(values)
    return Bad(at, ~good, unknown)


@dataclass(frozen=True)
class SomeRows:
    """Rows that run in one head."""

    head: int
    numbers: NDArray[np.intp]
    rows: Rows
    bad: list[Bad]


@dataclass(frozen=True)
class Block:
    """Some rows with one pack over all shims: what turns each combination away, and the figures of the rest.

    ``checks`` is how many are judged.
    """

    over: Space
    checks: int
    numbers: NDArray[np.intp]
    pack: int
    shape: tuple[int, int]
    bad: Sequence[Bad]
    values: dict[str, Array]
    rows: Rows

    @cached_property
    def _by_check(self) -> dict[int, tuple[Mask, Mask]]:
        """Of each check: what it turns away, and what of that is not known to it and fails it nowhere."""
        found: dict[int, tuple[Mask, Mask]] = {}
        for one in self.bad:
            if one.at not in found:
                found[one.at] = one.bad, one.unknown
                continue
            bad, unknown = found[one.at]
            failing = (bad & ~unknown) | (one.bad & ~one.unknown)
            found[one.at] = bad | one.bad, (unknown | one.unknown) & ~failing
        return found

    @cached_property
    def _stopped(self) -> tuple[NDArray[np.uint8], NDArray[np.uint8]]:
        """How many checks turn each combination away, and which one it is where it is one alone."""
        many, which = np.zeros(self.shape, dtype=np.uint8), np.zeros(self.shape, dtype=np.uint8)
        for at, (bad, _) in self._by_check.items():
            if bad.any():
                many += bad
                which += bad * np.uint8(at + 1)
        return many, which

    def counts(self) -> Iterator[tuple[int, int, int, int]]:
        """Of each check: its place among those judged, how many fail it, are unknown to it, are stopped by it alone."""
        many, which = self._stopped
        alone = np.bincount(which[many == 1], minlength=self.checks + 1)
        size = self.shape[0] * self.shape[1]
        for at, (bad, unknown) in self._by_check.items():
            away, untold = _count(bad, size), _count(unknown, size)
            if away:
                yield at, away - untold, untold, int(alone[at + 1])

    def nearest(self) -> tuple[int, int]:
        """The fewest checks that turn one combination away, and its number."""
        many, _ = self._stopped
        at = int(np.argmin(many))
        row, shims = divmod(at, self.shape[1])
        space = self.over
        number = (int(self.numbers[row]) * len(space.packs) + self.pack) * len(space.shims) + shims
        return int(many.flat[at]), number

    def only_stopped_by(self, aim: frozenset[int]) -> Mask:
        """Where no check but those of an aim turns away."""
        others = np.zeros(self.shape, dtype=bool)
        for at, (bad, _) in self._by_check.items():
            if at not in aim:
                others |= bad
        return ~others

    def kept(self) -> tuple[NDArray[np.int64], dict[Want, Array]]:
        """The combinations that would do, by number, and what is wanted of them."""
        many, _ = self._stopped
        row, shims = np.nonzero(many == 0)
        space = self.over
        numbers = (self.numbers[row].astype(np.int64) * len(space.packs) + self.pack) * len(space.shims) + shims
        if not len(row):
            return numbers, {}
        nothing = np.full((1, 1), np.nan)

        def there(values: Array) -> Array:
            found: Array = np.broadcast_to(values, self.shape)[row, shims]
            return found

        price, missing = self._bought(row, shims)
        return numbers, {
            Want.SPEED: there(self.values.get("control.separation", nothing)),
            Want.RESERVE: there(reserve(self.values)),
            Want.FRICTION: there(self.values.get("control.friction", nothing)),
            Want.PRICE: price,
            Want.ON_HAND: missing,
        }

    def _bought(self, row: NDArray[np.intp], shims: NDArray[np.intp]) -> tuple[Array, Array]:
        space = self.over
        pack = space.packs[self.pack]
        price = np.full(len(row), pack.price)
        missing = np.full(len(row), float(pack.missing))
        for kind, options in space.axes.items():
            if len(options) == 1 and options[0].part is None:
                continue
            at = self.rows.index[kind][row]
            price += np.array([o.price for o in options])[at]
            missing += np.array([float(o.missing) for o in options])[at]
        price += np.array([s.price for s in space.shims])[shims]
        missing += np.array([float(s.missing) for s in space.shims])[shims]
        return price, missing


def reserve(values: dict[str, Array]) -> Array:
    """The least travel to solid of the pack."""
    outer = values["spring.reserve.outer"]
    return np.minimum(outer, values["spring.reserve.inner"]) if "spring.reserve.inner" in values else outer


def _count(mask: Mask, size: int) -> int:
    return int(np.count_nonzero(mask)) * (size // max(mask.size, 1))
