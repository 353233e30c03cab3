"""A block of combinations as it is searched: what turns each away, what would do, and what is wanted of that."""

import math
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from arcstack.cached import cached_property
from arcstack.checks import Limit
from arcstack.checks.verdict import fails_beyond
from arcstack.mech.cam.law import Array
from arcstack.specify.ask import Want
from arcstack.specify.columns import NEVER
from arcstack.specify.heights import Alike, Rows, alike
from arcstack.specify.space import Space

Mask = NDArray[np.bool_]


@dataclass(frozen=True)
class Bad:
    """Where a check turns away, and where of that only because it is not known; shapes that can be broadcast."""

    at: int
    bad: Mask
    unknown: Mask


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


def merged(bad: Iterable[Bad]) -> dict[int, Bad]:
    """Of each check: what it turns away, and what of that is not known to it and fails it nowhere."""
    found: dict[int, Bad] = {}
    for one in bad:
        had = found.get(one.at)
        if had is None:
            found[one.at] = one
            continue
        failing = (had.bad & ~had.unknown) | (one.bad & ~one.unknown)
        found[one.at] = Bad(one.at, had.bad | one.bad, (had.unknown | one.unknown) & ~failing)
    return found


Codes = NDArray[np.uint8]


def stopped(bad: Iterable[Bad]) -> tuple[Codes, Codes]:
    """How many checks turn each combination away, and which one it is, plus one, where it is one alone.

    Both are as wide as the widest of them asks for; what is narrow is added up before it meets what is wide.
    """
    narrow: dict[tuple[int, ...], tuple[Codes, Codes]] = {}
    for one in bad:
        if not one.bad.any():
            continue
        shape = one.bad.shape
        if shape not in narrow:
            narrow[shape] = np.zeros(shape, dtype=np.uint8), np.zeros(shape, dtype=np.uint8)
        many, which = narrow[shape]
        many += one.bad
        which += one.bad * np.uint8(one.at + 1)
    all_many, all_which = np.zeros((1, 1), dtype=np.uint8), np.zeros((1, 1), dtype=np.uint8)
    for shape in sorted(narrow, key=math.prod):
        many, which = narrow[shape]
        all_many, all_which = all_many + many, all_which + which
    return all_many, all_which


class Shared:
    """What turns away whole sorts of rows: a line for each sort, over all shims or the same for all of them."""

    def __init__(self, bad: Iterable[Bad]) -> None:
        self._bad = merged(bad)
        self.many, self.which = stopped(self._bad.values())

    @cached_property
    def _by_line(self) -> list[tuple[int, int, NDArray[np.intp], NDArray[np.intp]]]:
        """Of each check that turns any away: its place, how wide it is, and a line's refused and untold."""
        return [
            (at, one.bad.shape[1], np.count_nonzero(one.bad, axis=1), np.count_nonzero(one.unknown, axis=1))
            for at, one in self._bad.items()
            if one.bad.any()
        ]

    def counts(self, of: NDArray[np.intp], shims: int) -> Iterator[tuple[int, int, int]]:
        """Of each check: its place, and how many of some rows, each of the sort ``of``, fail it or are untold."""
        for at, width, bad, unknown in self._by_line:
            away, untold = (_over(lines, of) * (shims // width) for lines in (bad, unknown))
            if away:
                yield at, away - untold, untold

    def others(self, aim: frozenset[int]) -> Mask:
        """Where a check but those of an aim turns away."""
        found = NEVER
        for at, one in self._bad.items():
            if at not in aim:
                found = found | one.bad
        return found


def lined(array: NDArray[Any], of: NDArray[np.intp]) -> NDArray[Any]:
    """A line for each row, or one for all where there is but one."""
    return array if len(array) == 1 else array[of]


def _over(lines: NDArray[np.intp], of: NDArray[np.intp]) -> int:
    return int(lines[0]) * len(of) if len(lines) == 1 else int(lines[of].sum())


@dataclass(frozen=True)
class SomeRows:
    """Rows that run in one head, and what turns each away whatever pack and shims it has: a line a row."""

    head: int
    numbers: NDArray[np.intp]
    rows: Rows
    refused: Shared

    @cached_property
    def stands(self) -> Alike:
        """Rows by the heights at which they stand."""
        return alike(self.rows.open_mm, self.rows.step_mm, self.rows.seal_closed_mm)

    @cached_property
    def pulls(self) -> Alike:
        """Rows by those heights and the gas on the valve."""
        return alike(self.stands.of, self.rows.boost_N, self.rows.lifting_N)


@dataclass(frozen=True)
class Block:
    """Some rows with one pack over all shims: what turns each combination away, and the figures of the rest.

    ``checks`` is how many are judged. ``shared`` are sorts of rows with the sort of each; ``bad`` is what is told of
    these rows alone. ``values`` are by row, or one for all; ``reserve`` by sort, with the sort of each row.
    """

    over: Space
    checks: int
    numbers: NDArray[np.intp]
    pack: int
    shape: tuple[int, int]
    shared: Sequence[tuple[Shared, NDArray[np.intp]]]
    bad: Mapping[int, Bad]
    values: dict[str, Array]
    reserve: tuple[Array, NDArray[np.intp]]
    rows: Rows

    @cached_property
    def _stopped(self) -> tuple[Codes, Codes]:
        many, which = stopped(self.bad.values())
        for shared, of in self.shared:
            many, which = many + lined(shared.many, of), which + lined(shared.which, of)
        return np.broadcast_to(many, self.shape), np.broadcast_to(which, self.shape)

    def counts(self) -> Iterator[tuple[int, int, int, int]]:
        """Of each check: its place among those judged, how many fail it, are unknown to it, are stopped by it alone."""
        many, which = self._stopped
        alone = np.bincount(which[many == 1], minlength=self.checks + 1)
        size, shims = self.shape[0] * self.shape[1], self.shape[1]
        for at, one in self.bad.items():
            away, untold = _count(one.bad, size), _count(one.unknown, size)
            if away:
                yield at, away - untold, untold, int(alone[at + 1])
        for shared, of in self.shared:
            for at, failed, untold in shared.counts(of, shims):
                yield at, failed, untold, int(alone[at + 1])

    def nearest(self) -> tuple[int, int]:
        """The fewest checks that turn one combination away, and its number."""
        many, _ = self._stopped
        at = int(np.argmin(many))
        row, shims = divmod(at, self.shape[1])
        space = self.over
        number = (int(self.numbers[row]) * len(space.packs) + self.pack) * len(space.shims) + shims
        return int(many[row, shims]), number

    def only_stopped_by(self, aim: frozenset[int]) -> Mask:
        """Where no check but those of an aim turns away."""
        others = NEVER
        for at, one in self.bad.items():
            if at not in aim:
                others = others | one.bad
        for shared, of in self.shared:
            others = others | lined(shared.others(aim), of)
        return np.broadcast_to(~others, self.shape)

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
            Want.RESERVE: np.broadcast_to(self.reserve[0], (len(self.reserve[0]), self.shape[1]))[
                self.reserve[1][row], shims
            ],
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
