"""A figure through its closed formulas, down to what was put in or read off: over many rows, and by its slopes."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from arcstack.checks.expression import Expression, NotClosed
from arcstack.checks.figure import Figure


@dataclass(frozen=True)
class Slope:
    """How much a figure moves for one canonical unit of a figure that it rests on."""

    on: Figure
    value: float


def expression(figure: Figure) -> Expression | None:
    """The figure's own formula as an expression of its inputs' symbols; None where it has none that is closed.

    >>> from arcstack.checks import Evidence
    >>> from arcstack.units import LENGTH
    >>> h = Figure("H", "Height", 36.2, LENGTH, Evidence.MEASURED)
    >>> lift = Figure("L", "Lift", 10.4, LENGTH, Evidence.PRINTED)
    >>> expression(Figure.calculated("g", "Gap", 25.8, LENGTH, "g = H − L", h, lift)).symbols
    ('H', 'L')
    >>> expression(Figure.calculated("g", "Gap", 25.8, LENGTH, "least over the lift", h, lift)) is None
    True
    """
    if figure.formula is None:
        return None
    try:
        return Expression.read(figure.formula, tuple(f.symbol for f in figure.inputs))
    except NotClosed:
        return None


def ends(figure: Figure) -> tuple[Figure, ...]:
    """The figures at which the closed formulas end, each once: entries, assumptions, what is read off a curve."""
    return tuple({_key(f): f for f in _ends(figure)}.values())


def slopes(figure: Figure) -> tuple[Slope, ...]:
    """The figure's slope over each of its ``ends``, by the chain rule; canonical units over canonical units.

    >>> from arcstack.checks import Evidence
    >>> from arcstack.units import LENGTH
    >>> h = Figure("H", "Height", 36.2, LENGTH, Evidence.MEASURED)
    >>> lift = Figure("L", "Lift", 10.4, LENGTH, Evidence.PRINTED)
    >>> gap = Figure.calculated("g", "Gap", 25.8, LENGTH, "g = H − L", h, lift)
    >>> half = Figure.calculated("x", "Half of it", 12.9, LENGTH, "x = g/2", gap)
    >>> [(s.on.symbol, s.value) for s in slopes(half)]
    [('H', 0.5), ('L', -0.5)]
    """
    found: dict[object, Slope] = {}
    _descend(figure, 1.0, found)
    return tuple(found.values())


def over(figure: Figure, columns: Sequence[tuple[Figure, NDArray[np.float64]]]) -> NDArray[np.float64]:
    """The figure in each row, with ``columns`` in the place of some of its ``ends``; canonical units, shape (rows,).

    ``columns`` has arrays of one length, shape (rows,). Raises ValueError for a column of what is none of its ends.

    >>> from arcstack.checks import Evidence
    >>> from arcstack.units import LENGTH
    >>> h = Figure("H", "Height", 36.2, LENGTH, Evidence.MEASURED)
    >>> lift = Figure("L", "Lift", 10.4, LENGTH, Evidence.PRINTED)
    >>> gap = Figure.calculated("g", "Gap", 25.8, LENGTH, "g = H − L", h, lift)
    >>> over(gap, [(h, np.array([36.0, 37.0]))]).round(2).tolist()
    [25.6, 26.6]
    """
    rows = {_key(f): column for f, column in columns}
    unknown = set(rows) - {_key(f) for f in _ends(figure)}
    if unknown:
        raise ValueError(f"{figure.label} does not rest on {[f.label for f, _ in columns if _key(f) in unknown]}")
    done: dict[int, Any] = {}
    value = _over(figure, rows, done)
    return np.broadcast_to(np.asarray(value, float), np.broadcast_shapes(*(c.shape for _, c in columns))).copy()


def _key(f: Figure) -> object:
    """One key for a field however often it was read; a figure that is no field's is itself alone.

    What a field said at another time bears its path too, and another label.
    """
    return (f.path, f.label, f.value) if f.path is not None and f.formula is None else id(f)


def _ends(figure: Figure) -> Iterator[Figure]:
    if expression(figure) is None:
        yield figure
        return
    for f in figure.inputs:
        yield from _ends(f)


def _values(figure: Figure) -> dict[str, float]:
    return {f.symbol: f.value / f.metric for f in figure.inputs}


def _descend(figure: Figure, slope: float, found: dict[object, Slope]) -> None:
    own = expression(figure)
    if own is None:
        before = found.get(_key(figure))
        found[_key(figure)] = Slope(figure, slope + (before.value if before else 0.0))
        return
    moves, unit = own.slopes(_values(figure)), figure.metric
    for f in figure.inputs:
        _descend(f, slope * moves[f.symbol] * unit / f.metric, found)


def _over(figure: Figure, rows: dict[object, NDArray[np.float64]], done: dict[int, Any]) -> Any:
    if id(figure) not in done:
        own = expression(figure)
        if own is None:
            done[id(figure)] = rows.get(_key(figure), figure.value)
        else:
            values = {f.symbol: _over(f, rows, done) / f.metric for f in figure.inputs}
            done[id(figure)] = own.at(values) * figure.metric
    return done[id(figure)]
