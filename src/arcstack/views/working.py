"""The working of a figure, line by line, with the numbers put in."""

from dataclasses import dataclass

from arcstack.checks import Evidence, Figure, steps
from arcstack.checks.formula import number, numbers_put_in, sum_decimals, units_put_in
from arcstack.document import FIELDS, Kind
from arcstack.units import System
from arcstack.views.rows import sample_words


@dataclass(frozen=True)
class Line:
    """One step: formula in symbols, the same with numbers and the units these are in, result in both units."""

    symbol: str
    label: str
    formula: str
    numbers: str
    units: str
    result: str
    other: str
    note: str


@dataclass(frozen=True)
class Input:
    """One figure that was put in from outside."""

    symbol: str
    label: str
    shown: str
    other: str
    evidence: str
    path: str | None
    note: str


def _text(f: Figure, system: System, decimals: int | None = None) -> str:
    return f"{'≥ ' if f.at_least else ''}{number(f, system, decimals)}"


def _other(f: Figure, system: System) -> str:
    if f.dimension.unit(System.MM) == f.dimension.unit(System.INCH):
        return ""
    return str(number(f, system.other))


def lines(figure: Figure, system: System) -> list[Line]:
    """The calculated steps below a figure, in the order they were worked."""
    return [
        Line(
            f.symbol,
            f.label,
            f.formula or "",
            numbers_put_in(f, system),
            units_put_in(f, system),
            _text(f, system, None if units_put_in(f, system) else sum_decimals(f, system)),
            _other(f, system),
            f.note,
        )
        for f in steps(figure)
    ]


def _origin(f: Figure) -> str:
    """An input's evidence, with how few of its places were measured."""
    if f.evidence is not Evidence.MEASURED or f.sample is None:
        return f.evidence.value
    return f"{f.evidence.value}, {sample_words(f.sample).replace(' measured', '')}"


def inputs(figure: Figure, system: System) -> list[Input]:
    """Every input below a figure, weakest evidence first, each once."""
    found: dict[tuple[str, str | None], Figure] = {}
    for leaf in figure.leaves:
        found.setdefault((leaf.label, leaf.path), leaf)
    rows = sorted(found.values(), key=lambda f: -f.evidence.weakness)
    return [_choice(f) if _chosen(f) else _amount(f, system) for f in rows]


def _chosen(f: Figure) -> bool:
    return f.path is not None and f.path in FIELDS and FIELDS[f.path].kind is Kind.CHOICE


def _choice(f: Figure) -> Input:
    """A choice has no amount: it is told in its words."""
    return Input(f.symbol, f.label, f.note, "", _origin(f), f.path, "")


def _amount(f: Figure, system: System) -> Input:
    return Input(f.symbol, f.label, _text(f, system), _other(f, system), _origin(f), f.path, f.note)
