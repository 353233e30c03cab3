"""What a search found as the page shows it: rows, the frontier, the nearest, and what would let something through."""

import math
from dataclasses import dataclass

import numpy as np

from arcstack.assess import Assessment
from arcstack.checks import Level, worst
from arcstack.drawings.frontier import Dot, frontier_drawing
from arcstack.settings import setting
from arcstack.shelf import KINDS, PartKind
from arcstack.specify import Found, Row, Want
from arcstack.specify.rank import cost, frontier
from arcstack.specify.whynot import Answer
from arcstack.units import FORCE, LENGTH, POWER, SPEED, Dimension, System, show
from arcstack.web.kit import links
from arcstack.web.pages.specify_asked import AXES, Asked, Head

DRAWN = int(setting("specify.drawn"))

COLUMNS: tuple[tuple[str, str, Dimension], ...] = (
    ("Seat", "spring.seat_load", FORCE),
    ("Open", "spring.open_load", FORCE), ("Outer", "spring.reserve.outer", LENGTH),
    ("Inner", "spring.reserve.inner", LENGTH), ("To seal", "stack.retainer_seal", LENGTH),
    ("Friction", "control.friction", POWER), ("Parts at", "control.separation", SPEED),
)  # fmt: skip


def each(it: Found) -> list[tuple[int, int]]:
    """The best by their parts, each with its best shims, and how many other shims of the best would do with them."""
    first: dict[int, int] = {}
    others: dict[int, int] = {}
    for number in it.best:
        parts = number // len(it.space.shims)
        first.setdefault(parts, number)
        others[parts] = others.get(parts, -1) + 1
    return [(number, others[parts]) for parts, number in first.items()]


@dataclass(frozen=True)
class Shown:
    """A row of the table."""

    number: int
    parts: list[tuple[str, str]]
    shims: str
    price: str
    missing: int
    cells: list[tuple[str, Level | None]]
    tight: int
    query: str


def row_of(it: Found, row: Row, asked: Asked, system: System) -> Shown:
    cells: list[tuple[str, Level | None]] = []
    for _, check, dimension in COLUMNS:
        value = row.values.get(check, math.nan)
        level = row.levels.get(check)
        text = "–" if math.isnan(value) else show(value, dimension, system).number
        cells.append((text, None if level is Level.CLEAR else level))
    return Shown(
        row.number, names_of(it, row), row.shims.name, priced(row.price), row.missing, cells,
        sum(level is Level.TIGHT for level in row.levels.values()), asked.query(number=row.number),
    )  # fmt: skip


def names_of(it: Found, row: Row) -> list[tuple[str, str]]:
    return [
        (KINDS[kind].title.lower(), row.parts[kind].name or "as fitted")
        for kind in it.ask.vary
        if kind is not PartKind.SHIM and kind in row.parts
    ]


def priced(price: float) -> str:
    return "–" if math.isnan(price) else f"{price:,.2f}"


def picture(build_id: int, it: Found, asked: Asked, system: System) -> tuple[str, int]:
    """The frontier of price, friction, speed and reserve, on two of them."""
    columns = it.feasible.columns
    told = [w for w in AXES if np.isfinite(columns[w]).any()]
    if asked.across not in told or asked.up not in told or asked.across is asked.up:
        return "", 0
    there = np.isfinite(columns[asked.across]) & np.isfinite(columns[asked.up])
    some = np.nonzero(there)[0]
    unbeaten = frontier([cost(w, columns[w])[some] for w in told])
    standing = some[unbeaten]
    cloud = some[:: max(len(some) // DRAWN, 1)]
    dots = []
    # of many the ones that lie along the edge of this drawing are the ones to take
    edge = standing[
        frontier([cost(asked.across, columns[asked.across])[standing], cost(asked.up, columns[asked.up])[standing]])
    ]
    keep = np.unique(np.concatenate([edge, standing[:: max(len(standing) // 60, 1)]]))
    for at in keep:
        number = int(it.feasible.numbers[at])
        options, shims = it.space.options(number)
        names = [o.name for o in options.values() if o.part is not None]
        words = ", ".join([*names, shims.name])
        figures = ", ".join(
            f"{AXES[w].title.lower()} {_figure(w, float(columns[w][at]), system)}" for w in told
        )  # fmt: skip
        dots.append(
            Dot(
                float(columns[asked.across][at]), float(columns[asked.up][at]), f"{words}: {figures}",
                links.at("specify.look", build_id, it.space.side) + asked.query(number=number),
            )
        )  # fmt: skip
    points = [(float(columns[asked.across][i]), float(columns[asked.up][i])) for i in cloud]
    return frontier_drawing(points, dots, AXES[asked.across], AXES[asked.up], system), len(standing)


def _figure(want: Want, value: float, system: System) -> str:
    if math.isnan(value):
        return "not known"
    if want is Want.PRICE:
        return priced(value)
    return str(show(value, AXES[want].dimension, system))


def nearest(it: Found, system: System) -> dict[str, object]:
    """The combination that the fewest checks turn away, and what they say of it."""
    row = it.row(it.nearest)
    anyway = it.measured.open_anyway
    stopped = []
    for counted in it.counts:
        level = row.levels.get(counted.check)
        if level is Level.FAIL or (level is Level.OPEN and counted.check not in anyway):
            value = row.values.get(counted.check, math.nan)
            text = "not known" if math.isnan(value) else str(show(value, row.dimensions[counted.check], system))
            stopped.append((counted.title, text, level))
    return {"names": names_of(it, row), "shims": row.shims.name, "stopped": stopped}


def standing(it: Found, after: Assessment, side: str, system: System) -> dict[str, object]:
    """How one stands by every check that a choice moves."""
    anyway = {a.check for a in it.whatever}
    rows = [v for v in after.of_side(side) if v.judges and not v.waiting and v.id not in anyway]
    parts = after.verdict("control.elastic_separation", side)
    return {
        "worst": worst(rows),
        "failing": [v.title for v in rows if v.level is Level.FAIL],
        "tight": [v.title for v in rows if v.level is Level.TIGHT],
        "elastic": str(show(parts.figure.value, SPEED, system)) if parts.figure is not None else "",
        "elastic_level": parts.level,
    }


def answered(head: Head, it: Found, answer: Answer, system: System) -> tuple[str, str, str, int, str]:
    """A change in words, the parts that would do then, how many more would, and where it is made."""
    change = answer.change
    names = ", ".join([n for _, n in names_of(it, answer.row)] + [answer.row.shims.name])
    if change.dimension.name == "ratio":
        words = f"{answer.by:.0%} {'more' if change.sign > 0 else 'less'}".replace("%", " %")
    else:
        more = "more" if change.sign > 0 else "less"
        if change.dimension in (SPEED, LENGTH):
            more = "higher" if change.sign > 0 else "lower"
        words = f"{show(answer.by, change.dimension, system)} {more}"
    field = {
        "limiter": "brief.limiter", "overspeed": "brief.overspeed", "boost": "brief.boost",
        "lift": f"{head.side}.cam.lobe_lift", "target_low": f"{head.side}.stack.target_height",
        "target_high": f"{head.side}.stack.target_height", "seal": f"{head.side}.stack.seal_height",
    }.get(change.key, "")  # fmt: skip
    return change.title, words, names, answer.others, field
