"""One pack in many rows: what rests on heights or gas alone is worked once for all rows that agree in it."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from arcstack.cached import cached_property
from arcstack.checks import Limit
from arcstack.checks.verdict import fails_beyond
from arcstack.mech.cam.law import Array
from arcstack.shelf import PartKind
from arcstack.specify.blocks import Bad, Block, Shared, SomeRows, lined, merged, outside, reserve
from arcstack.specify.columns import NEVER, PackColumns, Trains
from arcstack.specify.head import TRAIN, HeadFacts
from arcstack.specify.heights import Alike, Rows
from arcstack.specify.lines import Planes
from arcstack.specify.space import Space


def trains(rows: Rows, totals: Array) -> Trains:
    """Rows over shims of these heights."""
    return Trains(
        rows.open_mm[:, None] - totals, rows.step_mm[:, None], rows.mass_kg[:, None], rows.seal_closed_mm[:, None],
        rows.boost_N[:, None], rows.lifting_N[:, None], rows.against_N[:, None],
    )  # fmt: skip


@dataclass(frozen=True)
class Judging:
    """What is judged: columns by their place and their limit, tables that a pack or shims move, and how many in all."""

    columns: Mapping[str, int]
    limits: Mapping[str, Limit]
    tables: Sequence[Callable[[dict[PartKind, Any]], Bad]]
    count: int


@dataclass(frozen=True)
class Holding:
    """One pack in a part of some rows. ``beside`` tells the figures that no pack moves."""

    over: Space
    judging: Judging
    columns: PackColumns
    head: HeadFacts
    pack: int
    some: SomeRows
    part: slice
    beside: Callable[[Rows, Trains], dict[str, Array]]
    rows: Rows

    @cached_property
    def _totals(self) -> Array:
        return np.array([s.total_mm for s in self.over.shims])[None, :]

    @cached_property
    def _whole(self) -> bool:
        return self.columns.whole and self.rows.whole

    def _outside(self, values: Mapping[str, Array]) -> list[Bad]:
        columns, limits = self.judging.columns, self.judging.limits
        return [outside(columns[c], values[c], limit, self._whole) for c, limit in limits.items() if c in values]

    # -- rows that stand alike

    @cached_property
    def _stands(self) -> Alike:
        return self.some.stands.within(self.part)

    @cached_property
    def _standing(self) -> tuple[dict[str, Array], Shared]:
        rows = self.rows.of(self._stands.first)
        t = trains(rows, self._totals)
        values = self.columns.standing(t, sparing=True)
        beside = {c: v for c, v in self.beside(rows, t).items() if c not in TRAIN}
        return values, Shared(self._outside(values | beside))

    @property
    def _seat(self) -> Array:
        return self._standing[0]["spring.seat_load"]

    @cached_property
    def _reserve(self) -> Array:
        return reserve(self._standing[0])

    @cached_property
    def _taut(self) -> bool:
        return self.columns.taut(trains(self.rows.of(self._stands.first), self._totals))

    # -- and of these, rows that meet the same gas

    @cached_property
    def _pulls(self) -> Alike:
        return self.some.pulls.within(self.part)

    @cached_property
    def _pulled(self) -> Shared:
        rows = self.rows.of(self._pulls.first)
        seat = self._seat[self._stands.of[self._pulls.first]]
        return Shared(self._outside(self.columns.gas_rules(seat, rows.boost_N[:, None], rows.lifting_N[:, None])))

    @cached_property
    def _closing(self) -> tuple[Array, Array]:
        """What closes a valve, and the least of ω²·m with it."""
        lifting = self.rows.lifting_N[self._pulls.first][:, None]
        closing = self.columns.closing(self._seat[self._stands.of[self._pulls.first]], lifting)
        return closing, self.columns.omega2(closing)

    # -- every row by itself, over all shims at once

    @cached_property
    def _fitted(self) -> Shared:
        """What rules and figures that rest on few kinds of parts turn away; a line a row."""
        index: dict[PartKind, Any] = {k: v[:, None] for k, v in self.rows.index.items()}
        index |= {PartKind.PACK: self.pack, PartKind.SHIM: np.arange(len(self.over.shims))[None, :]}
        return Shared(table(index) for table in self.judging.tables)

    @cached_property
    def _moving(self) -> Array:
        return self.columns.moving_mass(self.rows.mass_kg[:, None])

    @cached_property
    def _pressing(self) -> dict[float, Array]:
        return self.columns.pressing(self._moving)

    @cached_property
    def _presses(self) -> dict[str, tuple[float, Planes]]:
        """Of each pressure with a limit: that limit, MPa, and what can press past it."""
        limits = self.judging.limits
        most = {check: fails_beyond(limits[check])[1] for check in self.head.pressures if check in limits}
        against = self.rows.against_N
        return {c: (p, self.columns.pressing_past(c, self._seat, self._moving, against, p)) for c, p in most.items()}

    # -- some rows by themselves

    def block(self, of: slice) -> Block:
        """Some of the rows over all shims."""
        held = self.rows.of(of)
        stand, pull = self._stands.of[of], self._pulls.of[of]
        values, pressed = self._running(of, held, stand, pull)
        t = trains(held, self._totals)
        values |= {c: v for c, v in self.beside(held, t).items() if c in TRAIN}
        everywhere = np.arange(len(self.some.numbers))[self.part][of]
        numbers = self.some.numbers[everywhere]
        shared = [
            (self.some.refused, everywhere), (self._fitted, np.arange(len(self.rows.open_mm))[of]),
            (self._standing[1], stand), (self._pulled, pull),
        ]  # fmt: skip
        return Block(
            self.over, self.judging.count, numbers, self.pack, (len(numbers), len(self.over.shims)), shared,
            merged(pressed + self._outside(values)), values, (self._reserve, stand), held,
        )  # fmt: skip

    def _running(
        self, of: slice, rows: Rows, stand: NDArray[np.intp], pull: NDArray[np.intp]
    ) -> tuple[dict[str, Array], list[Bad]]:
        """Figures of the motion, and of pressures only where they are past their limit if that can be told."""
        if not self._taut:
            return self.columns.running(trains(rows, self._totals)), []
        closing, omega2 = (lined(of_pulls, pull) for of_pulls in self._closing)
        seat = lined(self._seat, stand)
        mass, pressing = self._moving[of], {rpm: least[of] for rpm, least in self._pressing.items()}
        values, parted = self.columns.running_taut(seat, closing, omega2, mass, pressing)
        if parted is not None:
            return self.columns.running(trains(rows, self._totals)), []
        pressed = []
        against = rows.against_N[:, None]
        unknown = NEVER if self._whole else np.isnan(seat + mass + against)
        for check, (limit_MPa, planes) in self._presses.items():
            past = NEVER
            if len(planes.constant):
                past = planes.greatest(seat, mass, against) > limit_MPa**2
            pressed.append(Bad(self.judging.columns[check], past | unknown, unknown))
        return values, pressed
