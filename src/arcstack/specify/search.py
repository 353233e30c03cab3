"""All combinations of a space checked: how many would do, what turned the others away, and the best of them."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from threading import Lock

import numpy as np
from numpy.typing import NDArray

from arcstack.assess.context import Context
from arcstack.checks import Level
from arcstack.errors import NothingThere, Stopped, TooMany
from arcstack.mech.cam.law import Array
from arcstack.settings import setting
from arcstack.shelf import KINDS, PartKind, ShelfPart
from arcstack.specify.ask import Ask, Want
from arcstack.specify.blocks import Block, SomeRows
from arcstack.specify.measured import Alone, Measured
from arcstack.specify.rank import ranked
from arcstack.specify.space import VARIED, LaidShims, Option, Space, space
from arcstack.units import Dimension

BLOCK = int(setting("specify.block"))
ROWS_AT_ONCE = int(setting("specify.rows"))
CELLS = int(setting("specify.cells"))
BEST = int(setting("specify.best"))
MOST = int(setting("specify.most"))
WORKERS = 2


@dataclass
class Counted:
    """How many combinations one check turned away: ``failed`` it, could not be told by it, were stopped by it alone."""

    check: str
    title: str
    failed: int = 0
    unknown: int = 0
    alone: int = 0

    @property
    def turned_away(self) -> int:
        return self.failed + self.unknown


@dataclass(frozen=True)
class Row:
    """One combination. ``values`` are the closed figures by check, ``levels`` how they stand."""

    number: int
    parts: Mapping[PartKind, Option]
    shims: LaidShims
    values: Mapping[str, float]
    levels: Mapping[str, Level]
    dimensions: Mapping[str, Dimension]
    reserve_mm: float
    mass_kg: float

    @property
    def price(self) -> float:
        """What its parts cost together for one valve; nan where one has no price."""
        return sum(o.price for o in self.parts.values()) + self.shims.price

    @property
    def chosen(self) -> tuple[ShelfPart, ...]:
        """The parts from the shelf, shims last."""
        held = tuple(o.part for o in self.parts.values() if o.part is not None)
        return held + (self.shims.parts or ())

    @property
    def missing(self) -> int:
        """Parts that are not on hand for every valve."""
        return sum(o.missing for o in self.parts.values()) + self.shims.missing


@dataclass(frozen=True)
class Feasible:
    """Everything that would do, a column a want; ``numbers`` name the combinations."""

    numbers: NDArray[np.int64]
    columns: Mapping[Want, Array]

    def __len__(self) -> int:
        return len(self.numbers)


@dataclass(frozen=True)
class Found:
    """What came of a search. ``best`` are numbers of combinations, best first; ``stopped`` that it did not end.

    ``whatever`` are checks that no choice moves, ``nearest`` is a combination that the fewest checks turn away.
    """

    space: Space
    ask: Ask
    tried: int
    feasible: Feasible
    counts: tuple[Counted, ...]
    whatever: tuple[Alone, ...]
    best: tuple[int, ...]
    nearest: int
    stopped: bool
    measured: Measured = field(repr=False, compare=False)

    def row(self, number: int) -> Row:
        """Any combination by its number, whether it would do or not."""
        if not 0 <= number < self.space.size:
            raise IndexError(f"there are {self.space.size} combinations")
        parts, shims = self.space.options(number)
        one = self.measured.one(number)
        return Row(number, parts, shims, one.values, one.levels, one.dimensions, one.reserve_mm, one.mass_kg)


def search(
    ctx: Context,
    parts: Iterable[ShelfPart],
    ask: Ask,
    count: Callable[[int, int], None] | None = None,
    stop: Callable[[], bool] | None = None,
    leaves: frozenset[str] = frozenset(),
) -> Found:
    """Check every combination of a shelf on one side of a build.

    ``count`` is told how many of how many are behind; ``stop`` ends the search, which then gives what it has.
    ``leaves`` are checks that turn nothing away. Raises
    ``MissingInput`` while there is no lift curve or no limiter, ``TooMany`` where it would take too long,
    ``NothingThere`` where a kind has no part that can stand in this head.
    """
    over = space(ctx.build, ctx.side_name, parts, ask, ctx.places or 1)
    if not over.size:
        raise NothingThere(*(KINDS[kind].title.lower() for kind in VARIED if not over.along(kind)))
    if over.size > MOST:
        raise TooMany(over.size, MOST)
    measured = Measured(over, ctx, leaves)
    tally = Tally(measured, over, count, stop)
    tally.run()
    feasible = tally.feasible()
    best = tuple(int(feasible.numbers[i]) for i in ranked(feasible.columns, ask, BEST))
    return Found(
        over, ask, tally.behind, feasible, tuple(tally.counts), tuple(measured.whatever), best, tally.nearest[1],
        tally.behind < over.size, measured,
    )  # fmt: skip


class Used:
    """Which parts of each axis stand in combinations that only checks of an ``aim`` turn away."""

    def __init__(self, over: Space, aim: frozenset[int]) -> None:
        self.aim = aim
        self.parts = {kind: np.zeros(over.along(kind), dtype=bool) for kind in VARIED}

    def add(self, rows: SomeRows, part: slice, pack: int, there: NDArray[np.bool_]) -> None:
        """Take note of a block of rows over shims."""
        if not there.any():
            return
        held = there.any(axis=1)
        for kind, at in rows.rows.index.items():
            self.parts[kind][at[part][held]] = True
        self.parts[PartKind.PACK][pack] = True
        self.parts[PartKind.SHIM] |= there.any(axis=0)


class Tally:
    """The search as it runs: tasks of some rows with one pack each, on both cores.

    ``nearest`` is the fewest checks that turn one combination away, and its number.
    """

    def __init__(
        self, measured: Measured, over: Space, count: Callable[[int, int], None] | None = None,
        stop: Callable[[], bool] | None = None, used: Sequence[Used] = (),
    ) -> None:  # fmt: skip
        self._used = used
        self.nearest = (255, 0)
        self._measured, self._over, self._count = measured, over, count
        self._stop = stop or (lambda: False)
        self._lock = Lock()
        self.behind = 0
        self.counts = [Counted(j.check, j.title) for j in measured.judged]
        self._kept: list[tuple[NDArray[np.int64], dict[Want, Array]]] = []

    def run(self) -> None:
        try:
            for start in range(0, self._over.rows, ROWS_AT_ONCE):
                numbers = np.arange(start, min(start + ROWS_AT_ONCE, self._over.rows))
                for rows in self._measured.rows(numbers):
                    self._some_rows(rows)
        except Stopped:
            return

    def _some_rows(self, rows: SomeRows) -> None:
        packs = range(len(self._over.packs))
        for pack in packs:
            # made before the threads start, which then only read what it is made of
            self._measured.pack(rows.head, pack)
        assert len(rows.pulls.of) == len(rows.numbers)
        parts = max(WORKERS // len(packs), 1)
        most = max(min(-(-len(rows.numbers) // parts), CELLS // len(self._over.shims)), 1)
        tasks = [(pack, slice(start, start + most)) for pack in packs for start in range(0, len(rows.numbers), most)]
        with ThreadPoolExecutor(WORKERS) as pool:
            for _ in pool.map(lambda task: self._holding(rows, *task), tasks):
                pass

    def _holding(self, rows: SomeRows, pack: int, part: slice) -> None:
        if self._stop():
            raise Stopped
        holding = self._measured.holding(rows, pack, part)
        height = max(BLOCK // len(self._over.shims), 1)
        for start in range(0, len(holding.rows.open_mm), height):
            if self._stop():
                raise Stopped
            block = holding.block(slice(start, start + height))
            begin = part.start + start
            self._add(rows, slice(begin, begin + block.shape[0]), pack, block)

    def _add(self, rows: SomeRows, part: slice, pack: int, block: Block) -> None:
        counts, kept, nearest = list(block.counts()), block.kept(), block.nearest()
        there = [block.only_stopped_by(used.aim) for used in self._used]
        with self._lock:
            for used, where in zip(self._used, there, strict=True):
                used.add(rows, part, pack, where)
            self.nearest = min(self.nearest, nearest)
            for at, failed, unknown, alone in counts:
                self.counts[at].failed += failed
                self.counts[at].unknown += unknown
                self.counts[at].alone += alone
            if len(kept[0]):
                self._kept.append(kept)
            self.behind += block.shape[0] * block.shape[1]
            if self._count is not None:
                self._count(self.behind, self._over.size)

    def feasible(self) -> Feasible:
        if not self._kept:
            return Feasible(np.zeros(0, dtype=np.int64), {w: np.zeros(0) for w in Want})
        numbers = np.concatenate([k[0] for k in self._kept])
        order = np.argsort(numbers, kind="stable")
        return Feasible(numbers[order], {w: np.concatenate([k[1][w] for k in self._kept])[order] for w in Want})
