"""Heights and masses of the rows of a space: every kind but packs and shims, each part's figures along its axis."""

from dataclasses import dataclass, fields
from typing import Any

import numpy as np
from numpy.typing import NDArray

from arcstack.assess import gas, stack
from arcstack.assess.context import Context, known
from arcstack.cached import cached_property
from arcstack.checks import Figure
from arcstack.document import amount
from arcstack.document.heights import MOVERS
from arcstack.document.parts import HeightBasis
from arcstack.errors import MissingInput
from arcstack.mech import fit
from arcstack.mech import stack as model
from arcstack.mech.cam.law import Array
from arcstack.shelf import PartKind
from arcstack.specify.space import Space
from arcstack.specify.tables import Table, Tables

Index = dict[PartKind, NDArray[np.intp]]
NAN = float("nan")


@dataclass(frozen=True)
class Rows:
    """Figures of some rows, one each: open height, step to the inner spring, mass of what moves but springs, mm and kg.

    ``untold`` marks rows whose height is not known any more; ``seal_closed_mm`` is retainer to seal with the valve
    shut, ``against_N`` the gas against an opening one.
    """

    index: Index
    open_mm: Array
    untold: NDArray[np.bool_]
    step_mm: Array
    mass_kg: Array
    seal_closed_mm: Array
    boost_N: Array
    lifting_N: Array
    against_N: Array

    @property
    def whole(self) -> bool:
        """Whether every figure of every row is known."""
        return not any(np.isnan(getattr(self, f.name)).any() for f in fields(self)[1:] if f.name != "untold")

    def of(self, some: slice | NDArray[np.intp]) -> "Rows":
        """Some of the rows, or all in another order."""
        columns = (getattr(self, f.name)[some] for f in fields(self)[1:])
        return Rows({kind: at[some] for kind, at in self.index.items()}, *columns)


@dataclass(frozen=True)
class Alike:
    """Rows sorted by what they agree in: ``first`` is one row of each sort, ``of`` the sort of each row."""

    first: NDArray[np.intp]
    of: NDArray[np.intp]

    def within(self, part: slice) -> "Alike":
        """The same of some of the rows."""
        return self if len(self.of[part]) == len(self.of) else alike(self.of[part])


def alike(*columns: NDArray[Any]) -> Alike:
    """Rows that agree in every one of some columns, one entry a row; what is not known agrees with itself.

    >>> found = alike(np.array([1.0, 2.0, 1.0, np.nan]), np.array([5, 5, 5, 5]))
    >>> found.of.tolist(), found.first.tolist()
    ([0, 1, 0, 2], [0, 1, 3])
    """
    sort = np.zeros(len(columns[0]), dtype=np.intp)
    for column in columns:
        _, own = np.unique(column, return_inverse=True)
        _, sort = np.unique(sort * (int(own.max(initial=0)) + 1) + own, return_inverse=True)
    _, first, of = np.unique(sort, return_index=True, return_inverse=True)
    return Alike(first, of)


class Heights:
    """What rows come to, from each part's own figures."""

    def __init__(self, space: Space, tables: Tables) -> None:
        self._space, self._tables = space, tables
        self._stacks: dict[PartKind, list[Any]] = {}
        self._base = space.build.side(space.side).stack

    def rows(self, numbers: NDArray[np.intp]) -> Rows:
        index = self._space.indices(numbers)
        open_mm, untold = self._open(index)
        thickness = self._under(index)
        step = self._own(PartKind.RETAINER, "retainer.step", index) + self._zero(
            PartKind.LOCATOR, "locator.step", index
        )
        depth, top = self._table(self._depths, index), self._table(self._tops, index)
        gap = model.retainer_to_seal_closed_mm(open_mm, thickness, depth, top)
        return Rows(
            index, open_mm, untold, step, self._mass(index), gap, self._table(self._boosts, index),
            self._table(self._lifts, index), self._table(self._against, index),
        )  # fmt: skip

    def _under(self, index: Index) -> Array:
        """What lies under the outer spring: see ``stack.under_spring``."""
        taken = (self._zero(PartKind(m.part), f"{m.part}.{m.field}", index) for m in MOVERS if m.sign < 0.0)
        found: Array = np.sum(list(taken), axis=0)
        return found

    # -- figures that rest on one part or two

    @cached_property
    def _depths(self) -> tuple[Table[float], Array]:
        def said(ctx: Context) -> Figure:
            found = stack.retainer_depth(ctx)
            # a part whose depth nobody said would do once it is known; what is fitted stands as the build has it
            if found.unsaid and self._space.chosen(PartKind.RETAINER):
                raise MissingInput(ctx.missing("stack.retainer.depth"))
            return found

        return self._worked(said)

    @cached_property
    def _tops(self) -> tuple[Table[float], Array]:
        return self._worked(stack.seal_top)

    @cached_property
    def _boosts(self) -> tuple[Table[float], Array]:
        return self._worked(gas.boost_rule_force)

    @cached_property
    def _lifts(self) -> tuple[Table[float], Array]:
        return self._worked(gas.difference_force)

    @cached_property
    def _against(self) -> tuple[Table[float], Array]:
        return self._worked(gas.opening_load)

    def _worked(self, work: Any) -> tuple[Table[float], Array]:
        def value(ctx: Context) -> float:
            found: Figure | None = known(lambda: work(ctx))
            return NAN if found is None else found.value

        table = self._tables.table(value)
        return table, np.array(table.found)

    def _table(self, worked: tuple[Table[float], Array], index: Index) -> Array:
        table, values = worked
        found: Array = np.broadcast_to(table.gathered(values, dict(index)), len(next(iter(index.values()))))
        return found

    # -- figures of one part

    def _told(self, kind: PartKind, path: str) -> list[Any]:
        """What each part along an axis says at a path within the stack or the follower."""
        held = self._stacks.get(kind)
        if held is None:
            held = self._stacks[kind] = [self._tables.side_with(kind, at) for at in range(self._space.along(kind))]
        found = []
        for side in held:
            found.append(_at(side.follower if path.startswith("follower.") else side.stack, path))
        return found

    def _own(self, kind: PartKind, path: str, index: Index) -> Array:
        """A figure of a part along its axis; nan where it is not known."""
        said = [amount(v) for v in self._told(kind, path)]
        return np.array([NAN if v is None else v for v in said])[index[kind]]

    def _zero(self, kind: PartKind, path: str, index: Index) -> Array:
        """The same, nought where nothing was said: of what may not be there."""
        return np.nan_to_num(self._own(kind, path, index), nan=0.0)

    def _mass(self, index: Index) -> Array:
        follower = PartKind(self._space.build.engine.follower.value)
        cap = PartKind.CAP
        return (
            self._own(PartKind.VALVE, "valve.mass", index)
            + self._own(PartKind.RETAINER, "retainer.mass", index)
            + self._own(PartKind.LOCKS, "locks.mass", index)
            + self._own(follower, f"follower.{follower.value}.mass", index)
            + self._zero(cap, "follower.shim_mass", index)
        )

    # -- the open height

    def _open(self, index: Index) -> tuple[Array, NDArray[np.bool_]]:
        """Open height as fitted, and where it is not known with these parts: see ``document.heights``."""
        count = len(next(iter(index.values())))
        if self._base.open_height is None:
            return np.full(count, NAN), np.zeros(count, dtype=bool)
        bare = self._base.height_basis is not HeightBasis.AS_FITTED
        raised, untold = np.zeros(count), np.zeros(count, dtype=bool)
        for sign, kind, path in ((m.sign, PartKind(m.part), f"{m.part}.{m.field}") for m in MOVERS):
            if bare:
                raised += sign * self._zero(kind, path, index)
                continue
            moved = self._own(kind, path, index) - _nan(amount(_at(self._base, path)))
            # two parts that do not say it are alike only where they are one
            one = self._as_now(kind, f"{path.partition('.')[0]}.code", index)
            same = self._as_now(kind, path, index) & (one | ~np.isnan(self._own(kind, path, index)))
            raised += np.where(same | np.isnan(moved), 0.0, sign * moved)
            untold |= ~same & np.isnan(moved)
        sunk, unsure = self._sunk(index, bare)
        untold |= unsure
        moved = np.where(untold, 0.0, raised + sunk)
        height: Array = self._base.open_height.value + moved
        if not bare:
            # as the document keeps a height that follows its parts
            height = np.round(self._base.open_height.value + np.round(moved, 9), 10)
        return height, untold | (not bare and bool(self._base.open_height.outdated))

    def _as_now(self, kind: PartKind, path: str, index: Index) -> NDArray[np.bool_]:
        """Where a part says the same as the one that is fitted now."""
        now = _at(self._base, path)
        found: NDArray[np.bool_] = np.array([v == now for v in self._told(kind, path)])[index[kind]]
        return found

    def _sunk(self, index: Index, bare: bool) -> tuple[Array, NDArray[np.bool_]]:
        """How much deeper the locks sit than now; of a height taken bare, than home."""
        expected = self._own(PartKind.RETAINER, "retainer.locks_outside", index)
        taper = self._own(PartKind.RETAINER, "retainer.taper", index)
        outside = self._own(PartKind.LOCKS, "locks.outside", index)
        sinks = fit.lock_sinks_mm(expected, outside, taper)
        if bare:
            return np.nan_to_num(sinks, nan=0.0), np.zeros(len(sinks), dtype=bool)
        now = self._base
        was = [_nan(amount(v)) for v in (now.retainer.locks_outside, now.retainer.taper, now.locks.outside)]
        same = np.ones(len(sinks), dtype=bool)
        for kind, path in (
            (PartKind.RETAINER, "retainer.locks_outside"),
            (PartKind.RETAINER, "retainer.taper"),
            (PartKind.LOCKS, "locks.outside"),
        ):
            same &= self._as_now(kind, path, index)
        before = fit.lock_sinks_mm(was[0], was[2], was[1]) if not any(np.isnan(was)) else NAN
        deeper = sinks - before
        return np.where(same | np.isnan(deeper), 0.0, deeper), ~same & np.isnan(deeper)


def _at(part: Any, path: str) -> Any:
    for name in path.removeprefix("follower.").split("."):
        part = getattr(part, name)
    return part


def _nan(value: float | None) -> float:
    return NAN if value is None else value
