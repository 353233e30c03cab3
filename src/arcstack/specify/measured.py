"""One space measured against every closed check: which combinations fail which, block by block."""

import math
from dataclasses import dataclass
from functools import partial
from typing import Any

import numpy as np
from numpy.typing import NDArray

from arcstack.assess import fit
from arcstack.assess.assessment import verdict
from arcstack.assess.catalogue import checks
from arcstack.assess.context import Context, ask
from arcstack.assess.reads import Noting
from arcstack.cached import cached_property
from arcstack.checks import Level, Limit, Verdict, judge
from arcstack.errors import NotKnown
from arcstack.mech.cam.law import Array
from arcstack.shelf import PartKind
from arcstack.specify.blocks import Bad, Mask, Shared, SomeRows, reserve
from arcstack.specify.columns import MASS_STEP_KG, PackColumns, Trains
from arcstack.specify.head import COLUMNS, FITS, RUNNING, TRAIN, HeadFacts
from arcstack.specify.heights import Heights, Rows
from arcstack.specify.holding import Holding, Judging, trains
from arcstack.specify.space import LEVERS, Space
from arcstack.specify.tables import Table, Tables, whose
from arcstack.units import Dimension

HEIGHT = "specify.height"
"""Stands for a height that was read with other parts and cannot be worked for these."""

_BESIDE = frozenset({PartKind.PACK, PartKind.SHIM})
"""Kinds that are no part of a row."""


@dataclass(frozen=True)
class Judged:
    """A check that the choice moves."""

    check: str
    title: str


@dataclass(frozen=True)
class Alone:
    """A check that no choice moves, how it stands, and why it is open."""

    check: str
    title: str
    level: Level
    why: str = ""


@dataclass(frozen=True)
class _Part:
    """One table of a check: where it fails, where it is not known, and what it found."""

    at: int
    table: Table[Any]
    failing: Mask
    unknown: Mask

    @property
    def kinds(self) -> tuple[PartKind, ...]:
        return self.table.kinds


class Measured:
    """Everything that is worked once for a space: its head, its tables, its packs."""

    def __init__(self, over: Space, ctx: Context, leaves: frozenset[str] = frozenset()) -> None:
        self.space, self.ctx = over, ctx
        self._tables = Tables(over, ctx)
        self._heads, self._head_of = self._split()
        self._heights = Heights(over, self._tables)
        self._packs: dict[tuple[int, int], PackColumns] = {}
        self.judged: list[Judged] = []
        self.whatever: list[Alone] = []
        self._parts: list[_Part] = []
        self._columns: dict[str, int] = {}
        self._untold = self._add(Judged(HEIGHT, "Height with these parts"))
        first = ctx.of(over.put_in(0))
        for check in checks().values():
            if check.id in RUNNING or check.id in leaves or not check.judges(ctx):
                continue
            if check.id in COLUMNS:
                self._take_column(check.id, first)
            elif check.id in FITS:
                self._take_rule(check.id)
            else:
                self._take_whole(check.id)

    def _add(self, judged: Judged) -> int:
        self.judged.append(judged)
        return len(self.judged) - 1

    # -- heads: each follower that changes lift or contact has its own

    def _split(self) -> tuple[list[HeadFacts], NDArray[np.intp]]:
        kind = PartKind(self.space.build.engine.follower.value)
        count = self.space.along(kind)
        if count == 1 and self.space.axes[kind][0].part is None:
            return [HeadFacts(self.ctx)], np.zeros(1, dtype=np.intp)
        builds = [self._tables.with_one(kind, at) for at in range(count)]
        names: dict[object, int] = {}
        heads: list[HeadFacts] = []
        which = []
        for at, build in enumerate(builds):
            name: object = at if kind in LEVERS else build.side(self.space.side).follower.bucket.materials
            if name not in names:
                names[name] = len(heads)
                heads.append(HeadFacts(self.ctx.of(build)))
            which.append(names[name])
        return heads, np.array(which, dtype=np.intp)

    # -- checks

    def _take_column(self, check: str, first: Context) -> None:
        about = checks()[check]
        if check == "stack.installed_height" and not self.space.holds_target:
            return
        told = ask(partial(about.limit_for, first))
        if not isinstance(told, NotKnown) and about.applies(first):
            told = ask(partial(about.work, first))  # type: ignore[arg-type]
        if isinstance(told, NotKnown) and self._of_the_build(told):
            self.whatever.append(Alone(check, about.title, Level.OPEN, said(told)))
        else:
            self._columns[check] = self._add(Judged(check, about.title))

    def _of_the_build(self, told: NotKnown) -> bool:
        """Whether what is missing is no figure of a part that is chosen."""
        side = f"{self.space.side}."
        for missing in told.missing:
            owners = whose(missing.path.removeprefix(side)) if missing.path.startswith(side) else []
            if not any(self.space.chosen(kind) for kind, _ in owners):
                return True
        return False

    def _take_rule(self, rule: str) -> None:
        about = fit.BY_ID[rule]
        tables: list[Table[fit.Met | None]] = []
        open_: list[NotKnown] = []
        for gap in about.gaps:
            table = self._tables.table(partial(_gap, about, gap, self.ctx.limit(gap.limit)))
            told = [m for m in table.found if m is not None]
            if told and all(m.told is not None and self._of_the_build(m.told) for m in told):
                open_ += [m.told for m in told if m.told is not None]
            elif told:
                tables.append(table)
        moved = any(table.kinds for table in tables)
        if open_:
            self.whatever.append(Alone(rule, about.title, Level.OPEN, said(open_[0])))
        elif not moved:
            self._as_it_is(rule)
        if not moved:
            return
        judged = self._add(Judged(rule, about.title))
        for table in tables:
            failing = np.array([m is not None and m.level is Level.FAIL for m in table.found])
            unknown = np.array([m is not None and m.told is not None for m in table.found])
            self._parts.append(_Part(judged, table, failing, unknown))

    def _as_it_is(self, check: str) -> None:
        found = verdict(self.ctx, checks()[check])
        if found is not None:
            self.whatever.append(Alone(check, found.title, found.level, found.note))

    def _take_whole(self, check: str) -> None:
        about = checks()[check]
        with Noting() as noting:
            verdict(self.ctx, about)
        on_curve = bool(noting.read & self.ctx.curve_bit)
        table: Table[Verdict | None] = self._tables.table(lambda ctx: verdict(ctx, about), whole=on_curve)
        told = [v for v in table.found if v is not None]
        if not told:
            return
        level = told[0].level
        if not table.kinds or all(v.level is Level.OPEN and not self._by_part(v) for v in told):
            why = told[0].note or ", ".join(m.label for m in told[0].missing)
            self.whatever.append(Alone(check, about.title, level, why if level is Level.OPEN else ""))
            return
        at = self._add(Judged(check, about.title))
        failing = np.array([v is not None and v.level is Level.FAIL for v in table.found])
        unknown = np.array([v is not None and v.level is Level.OPEN for v in table.found])
        self._parts.append(_Part(at, table, failing, unknown))

    def _by_part(self, found: Verdict) -> bool:
        return bool(found.missing) and not self._of_the_build(NotKnown(*found.missing))

    @cached_property
    def open_anyway(self) -> frozenset[str]:
        """Checks that are open for what the build itself does not say, whatever is chosen: they turn nothing away."""
        return frozenset(alone.check for alone in self.whatever if alone.level is Level.OPEN)

    # -- rows, then blocks of them with a pack

    def rows(self, numbers: NDArray[np.intp]) -> list["SomeRows"]:
        """The rows by the head they run in, with what turns each away whatever pack and shims it has."""
        made = []
        kind = PartKind(self.space.build.engine.follower.value)
        whose_head = self._head_of[self.space.indices(numbers)[kind]]
        for head in range(len(self._heads)):
            some = numbers[whose_head == head] if len(self._heads) > 1 else numbers
            if len(some):
                rows = self._heights.rows(some)
                if len(some) > 1:
                    # alike stand together, so that few of a lobe's samples govern all of a block
                    order = np.lexsort((rows.open_mm, np.floor(rows.mass_kg / MASS_STEP_KG)))
                    some, rows = some[order], rows.of(order)
                made.append(SomeRows(head, some, rows, Shared(self._row_bad(rows))))
        return made

    def _row_bad(self, rows: Rows) -> list[Bad]:
        found = [Bad(self._untold, rows.untold[:, None], rows.untold[:, None])]
        for part in self._parts:
            if not _BESIDE & set(part.kinds):
                found.append(_gathered(part, {k: v[:, None] for k, v in rows.index.items()}))
        return found

    def holding(self, some: "SomeRows", pack: int, part: slice) -> Holding:
        """One pack in a part of some rows."""
        columns, facts, rows = self.pack(some.head, pack), self._heads[some.head], some.rows.of(part)
        tables = [partial(_gathered, table) for table in self._parts if _BESIDE & set(table.kinds)]
        limits = {c: limit for c in self._columns if isinstance(limit := facts.limits[c], Limit)}
        judged = Judging(self._columns, limits, tables, len(self.judged))
        return Holding(
            self.space, judged, columns, facts, pack, some, part, partial(self._beside, some.head), rows,
        )  # fmt: skip

    def values(self, head: int, pack: int, rows: Rows, totals: Array) -> dict[str, Array]:
        """Every figure in columns: a row a train, a column a stack of shims."""
        t = trains(rows, totals)
        return self.pack(head, pack).values(t) | self._beside(head, rows, t)

    def _beside(self, head: int, rows: Rows, t: Trains) -> dict[str, Array]:
        """Figures that no pack moves."""
        found: dict[str, Array] = {}
        for check in TRAIN:
            if check in self._columns and check not in self._heads[head].of_the_train:
                # this follower lacks what the check asks for
                found[check] = np.full((1, 1), np.nan)
        open_mm = rows.open_mm[:, None]
        if not self.space.holds_target:
            # what it stands at is its target
            found["stack.height_reachable"] = open_mm - t.height_mm
        elif self._target is not None:
            found["stack.height_reachable"] = open_mm - self._target
        return found

    @cached_property
    def _target(self) -> float | None:
        return self._heads[0].amount("stack.target_height")

    def pack(self, head: int, pack: int) -> PackColumns:
        """A pack's columns in one head, made once."""
        found = self._packs.get((head, pack))
        if found is None:
            # the same side with the pack that its own checks were worked on: what is known of it is worked once
            found = self._packs[head, pack] = PackColumns(self._heads[head], self._tables.of_pack(pack))
        return found

    # -- one combination

    def one(self, number: int) -> "One":
        """One combination in full, whether it would do or not."""
        row, pack, shims = self.space.taken_apart(number)
        rows = self.rows(np.array([row]))[0]
        totals = np.array([[self.space.shims[shims].total_mm]])
        found, held = self.values(rows.head, pack, rows.rows, totals), self.pack(rows.head, pack)
        values: dict[str, float] = {}
        levels: dict[str, Level] = {}
        dimensions: dict[str, Dimension] = {}
        limits = self._heads[rows.head].limits
        for check in self._columns:
            limit = limits[check]
            if check not in found or not isinstance(limit, Limit):
                continue
            value = float(np.ravel(found[check])[0])
            values[check], dimensions[check] = value, limit.dimension
            off = held.off(check, found)
            levels[check] = Level.OPEN if math.isnan(value) else judge(value, limit, (value - off, value + off))
        index = {k: int(v[0]) for k, v in rows.rows.index.items()} | {PartKind.PACK: pack, PartKind.SHIM: shims}
        rules: dict[int, list[fit.Met]] = {}
        for part in self._parts:
            answer = part.table.one(index)
            if isinstance(answer, fit.Met):
                rules.setdefault(part.at, []).append(answer)
            elif isinstance(answer, Verdict):
                levels[answer.id] = answer.level
                if answer.figure is not None:
                    values[answer.id], dimensions[answer.id] = answer.figure.value, answer.figure.dimension
        for at, met in rules.items():
            told = ask(partial(fit.governing, met))
            check = self.judged[at].check
            known_whole = not isinstance(told, NotKnown) and (told.level is Level.FAIL or check not in self.open_anyway)
            levels[check] = told.level if known_whole and isinstance(told, fit.Met) else Level.OPEN
            if not isinstance(told, NotKnown) and told.figure is not None:
                values[check], dimensions[check] = told.figure.value, told.figure.dimension
        if bool(rows.rows.untold[0]):
            levels[HEIGHT] = Level.OPEN
        least, mass = reserve(found), self.pack(rows.head, pack).moving_mass(rows.rows.mass_kg)
        return One(values, levels, dimensions, float(np.ravel(least)[0]), float(np.ravel(mass)[0]))


@dataclass(frozen=True)
class One:
    """Figures of one combination by check, how they stand, and what they are; its least reserve to solid, its mass."""

    values: dict[str, float]
    levels: dict[str, Level]
    dimensions: dict[str, Dimension]
    reserve_mm: float
    mass_kg: float


def _gap(rule: fit.Rule, gap: fit.Gap, limit: Limit, ctx: Context) -> fit.Met | None:
    if not rule.applies(ctx):
        return None
    return ctx.once(("gap of a part", gap), lambda: fit.met_gap(ctx, gap, gap.bare or gap.work, limit))


def said(told: NotKnown) -> str:
    return told.why or ", ".join(m.label for m in told.missing)


def _gathered(part: _Part, index: dict[PartKind, Any]) -> Bad:
    failing, unknown = (part.table.gathered(values, index) for values in (part.failing, part.unknown))
    return Bad(part.at, np.atleast_2d(failing | unknown), np.atleast_2d(unknown))
