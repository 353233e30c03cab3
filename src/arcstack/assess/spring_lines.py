"""A spring's load over height, from whichever figures there are, each form held against the others."""

import math
from collections.abc import Callable
from dataclasses import dataclass

from arcstack.assess import coil
from arcstack.assess.context import Context, length
from arcstack.checks import Evidence, Figure, Missing
from arcstack.document.load_table import read_load_table
from arcstack.document.parts import Pack, Shape, Spring
from arcstack.errors import MissingInput
from arcstack.mech.spring.pack import LoadCurve
from arcstack.mech.spring.rate import LinearSpring, from_rate_and_load, from_two_loads
from arcstack.mech.spring.table import TableSpring as TableSpring
from arcstack.settings import setting
from arcstack.units import COUNT, FORCE, LENGTH, RATE, show

NEAR_MM = setting("spring.near")
"""So near the heights at which loads were taken a load still stands on them."""


@dataclass(frozen=True)
class SpringLine:
    """A spring's load over height, with the figures it came from; ``form`` names them."""

    form: str
    curve: LoadCurve
    rate: Figure
    free: Figure
    table: Figure | None = None
    covers: tuple[float, float] = (0.0, math.inf)
    """Heights between which the loads that it stands on were taken, mm."""

    def load(self, symbol: str, label: str, height: Figure) -> Figure:
        """The spring's load at a height; a slack spring carries none."""
        value = float(self.curve.load_N(height.value))
        note = "The spring is slack at this height and carries nothing." if value < 0 else ""
        if self.table is not None:
            assert isinstance(self.curve, TableSpring)
            if not self.curve.covers(height.value):
                note = f"Beyond the table: carried on at the rate of its end. {note}".strip()
            read = self.read(value, f"{symbol}_t", f"{label}, off the table", height, at_mm=height.value)
            return Figure.calculated(
                symbol, label, max(value, 0.0), FORCE, f"{symbol} = max({read.symbol}, 0)", read, note=note
            )
        formula = f"{symbol} = max({self.rate.symbol}·({self.free.symbol} − {height.symbol}), 0)"
        inputs = (self.rate, self.free, height, *self.beyond(height.value))
        return Figure.calculated(symbol, label, max(value, 0.0), FORCE, formula, *inputs, note=note)

    def read(self, value: float, symbol: str, label: str, *places: Figure, at_mm: float) -> Figure:
        """A load that the table itself gives at a height."""
        assert self.table is not None
        inputs = (self.table, *places, *self.beyond(at_mm))
        return Figure.calculated(symbol, label, value, FORCE, "read off the table", *inputs)

    def beyond(self, height_mm: float) -> tuple[Figure, ...]:
        """What is assumed of a load at a height that none was taken near: a reading tells of the range it covers."""
        low, high = self.covers
        if low - NEAR_MM <= height_mm <= high + NEAR_MM:
            return ()
        words = f"taken from {show(low, LENGTH)} to {show(high, LENGTH)} only: carried on beyond"
        path = (self.table or self.rate).leaves[0].path
        name = "table" if self.table is not None else "loads"
        return (
            Figure(
                "h_e", f"Load beyond its {name}", height_mm, LENGTH, Evidence.ASSUMED, path, note=words, unsaid=True
            ),
        )


class _Given:
    """The figures of one spring as they are typed, with their symbols."""

    def __init__(self, ctx: Context, name: str) -> None:
        self.ctx, self.name = ctx, name
        self.base, self.tail = f"stack.{name}.", "" if name == "outer" else "_i"
        self.k, self.f = f"k{self.tail}", f"f{self.tail}"

    def has(self, *fields: str) -> bool:
        return all(self.ctx.given(self.base + f) for f in fields)

    def take(self, field: str, symbol: str) -> Figure:
        return self.ctx.entry(self.base + field, symbol + self.tail)

    def rate(self, value: float, formula: str, *inputs: Figure) -> Figure:
        return Figure.calculated(self.k, f"Rate, {self.name}", value, RATE, f"{self.k} = {formula}", *inputs)

    def free(self, value: float, formula: str, *inputs: Figure) -> Figure:
        return length(self.f, f"Free length, {self.name}", value, f"{self.f} = {formula}", *inputs)


def _table(g: _Given) -> SpringLine | None:
    spring = getattr(g.ctx.side.stack, g.name)
    if not spring.table:
        return None
    curve = read_load_table(spring.table)
    low, high = curve.heights_mm[0], curve.heights_mm[-1]
    table = g.ctx.read_off(
        g.base + "table", f"F{g.tail}", f"Tester table, {g.name}: readings", len(curve.heights_mm), COUNT,
        spring.table_from, spring.table_by, spring.table_with,
        f"{len(curve.heights_mm)} readings, {low:.2f} to {high:.2f} mm",
    )  # fmt: skip
    middle = (low + high) / 2.0
    slope = f"slope of the table at {middle:.2f} mm"
    rate = Figure.calculated(g.k, f"Rate, {g.name}", curve.rate_at(middle), RATE, slope, table)
    end = "where the table's long end runs out of load"
    free = length(g.f, f"Free length, {g.name}", curve.free_length_mm, end, table)
    return SpringLine("tester table", curve, rate, free, table, (low, high))


def _two_loads(g: _Given) -> SpringLine | None:
    if not g.has("height_1", "load_1", "height_2", "load_2"):
        return None
    points = [g.take(f, s) for f, s in (("height_1", "h₁"), ("load_1", "F₁"), ("height_2", "h₂"), ("load_2", "F₂"))]
    line = from_two_loads(*(p.value for p in points))
    h1, f1, h2, f2 = (p.symbol for p in points)
    rate = g.rate(line.rate_N_per_mm, f"({f2} − {f1})/({h1} − {h2})", *points)
    free, taken = (
        g.free(line.free_length_mm, f"{h1} + {f1}/{g.k}", *points[:2], rate),
        (points[0].value, points[2].value),
    )
    return SpringLine("two loads", line, rate, free, None, (min(taken), max(taken)))


def _rate_and_free(g: _Given) -> SpringLine | None:
    if not g.has("rate", "free_length"):
        return None
    rate, free = g.take("rate", "k"), g.take("free_length", "f")
    return SpringLine("rate and free length", LinearSpring(rate.value, free.value), rate, free)


def _rate_and_load(g: _Given) -> SpringLine | None:
    if not g.has("rate", "height_1", "load_1"):
        return None
    rate, h, f = g.take("rate", "k"), g.take("height_1", "h₁"), g.take("load_1", "F₁")
    line = from_rate_and_load(rate.value, h.value, f.value)
    return SpringLine(
        "rate and load 1", line, rate, g.free(line.free_length_mm, f"{h.symbol} + {f.symbol}/{g.k}", h, f, rate)
    )


def _free_and_load(g: _Given) -> SpringLine | None:
    if not g.has("free_length", "height_1", "load_1"):
        return None
    free, h, f = g.take("free_length", "f"), g.take("height_1", "h₁"), g.take("load_1", "F₁")
    if free.value <= h.value:
        return None
    line = LinearSpring(f.value / (free.value - h.value), free.value)
    return SpringLine(
        "free length and load 1",
        line,
        g.rate(line.rate_N_per_mm, f"{f.symbol}/({free.symbol} − {h.symbol})", h, f, free),
        free,
    )


def _wire(g: _Given) -> SpringLine | None:
    """Rate from the wire; where the load starts still needs a free length or one load.

    One load for a pair is not the outer wire's alone, and is no form of it.
    """
    if g.ctx.side.stack.pack is Pack.ASSEMBLED:
        return None
    if not g.has("wire", "outside") or not (g.has("coils") or g.has("active")):
        return None
    rate = coil.wire_rate(g.ctx, g.name)
    if g.has("free_length"):
        free = g.take("free_length", "f")
    elif g.has("height_1", "load_1"):
        h, f = g.take("height_1", "h₁"), g.take("load_1", "F₁")
        free = g.free(h.value + f.value / rate.value, f"{h.symbol} + {f.symbol}/{rate.symbol}", h, f, rate)
    else:
        return None
    return SpringLine("wire and coils", LinearSpring(rate.value, free.value), rate, free)


_LINES: tuple[Callable[[_Given], SpringLine | None], ...] = (
    _table, _two_loads, _rate_and_free, _rate_and_load, _free_and_load, _wire,
)  # fmt: skip


def spring_lines(ctx: Context, name: str) -> list[SpringLine]:
    """Every form the figures of a spring make, the one that governs first.

    A tester's table comes before two loads, those before a rate with a free length or a load, and the wire last.
    Raises ``MissingInput`` while there is none.
    """
    given = _Given(ctx, name)
    found = [line for make in _LINES if (line := make(given)) is not None]
    if not found:
        wanted = [f for f in ("height_1", "load_1", "height_2", "load_2") if not given.has(f)]
        raise MissingInput(
            *(Missing(ctx.path(given.base + f), f"{name} {f.replace('_', ' ')}") for f in wanted),
            why="two loads at two heights, a rate with a free length, a tester table, or wire and coils with one load",
        )
    return found


@dataclass(frozen=True)
class Disagreement:
    """One form against the one that governs, at a height: loads (N), and the share they differ by."""

    spring: str
    form: str
    governs: str
    height_mm: float
    load_N: float
    governing_N: float

    @property
    def share(self) -> float:
        return abs(self.load_N - self.governing_N) / max(abs(self.governing_N), 1.0)

    @property
    def words(self) -> str:
        says, holds = show(self.load_N, FORCE), show(self.governing_N, FORCE)
        sign = (self.load_N / self.governing_N - 1.0) * 100 if self.governing_N else 0.0
        off = f"{sign:+.1f}".replace("-", "−")
        where = f"{self.spring.capitalize()}, at {show(self.height_mm, LENGTH)}"
        return f"{where}: {self.form} gives {says}, {self.governs} {holds} ({off} %)"


def disagreements(lines: list[SpringLine], name: str, heights_mm: tuple[float, ...]) -> list[Disagreement]:
    """Each further form against the governing one, at the height where they differ most; widest first."""
    first, *others = lines
    rows = []
    for line in others:
        at = [
            Disagreement(name, line.form, first.form, h, float(line.curve.load_N(h)), float(first.curve.load_N(h)))
            for h in heights_mm
        ]
        rows.append(max(at, key=lambda d: d.share))
    return sorted(rows, key=lambda d: -d.share)


def remarks(ctx: Context, name: str) -> list[str]:
    """What else the figures of a spring say against each other, in words."""
    spring, said = getattr(ctx.side.stack, name), []
    if spring.shape is not Shape.CYLINDRICAL and not spring.table:
        said.append(
            f"A {spring.shape.value} {name} spring stiffens as it closes: a tester table shows it, two loads do not."
        )
    if spring.solid and spring.wire and spring.coils and spring.shape is Shape.CYLINDRICAL:
        stacked = spring.wire.value * spring.coils.value
        if abs(stacked - spring.solid.value) > 0.5:
            said.append(
                f"The {name} spring's coils of wire stack to {show(stacked, LENGTH)}, but its solid height is given as "
                f"{show(spring.solid.value, LENGTH)}: measure it."
            )
    lowest = _lowest_taken(spring)
    if spring.solid and lowest is not None and lowest < spring.solid.value:
        said.append(
            f"A load of the {name} spring is given at {show(lowest, LENGTH)}, where its solid height of "
            f"{show(spring.solid.value, LENGTH)} leaves it no travel: one of the two is wrong."
        )
    return said


def _lowest_taken(spring: Spring) -> float | None:
    """Lowest height at which a load is stated, in a table or as one of two loads."""
    heights = [h.value for h in (spring.height_1, spring.height_2) if h is not None]
    if spring.table:
        heights.extend(read_load_table(spring.table).heights_mm)
    return min(heights, default=None)
