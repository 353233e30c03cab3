"""The working of a figure, line by line, with the numbers put in."""

import re
from dataclasses import dataclass

from arcstack.checks import Figure, steps
from arcstack.units import System, show


@dataclass(frozen=True)
class Line:
    """One step: formula in symbols, the same with numbers, result in both units."""

    symbol: str
    label: str
    formula: str
    numbers: str
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


def _text(f: Figure, system: System, extra: int = 0) -> str:
    return str(show(f.value, f.dimension, system, extra))


def _other(f: Figure, system: System) -> str:
    if f.dimension.unit(System.MM) == f.dimension.unit(System.INCH):
        return ""
    return str(show(f.value, f.dimension, system.other))


def substitute(f: Figure, system: System) -> str:
    """The formula's right-hand side with each symbol replaced by its number; empty where none occurs.

    >>> from arcstack.checks import Evidence
    >>> from arcstack.units import LENGTH
    >>> h = Figure("H", "Height", 36.2, LENGTH, Evidence.MEASURED)
    >>> lift = Figure("L", "Lift", 10.4, LENGTH, Evidence.PRINTED)
    >>> gap = Figure.calculated("g", "Gap", 25.8, LENGTH, "g = H − L", h, lift)
    >>> substitute(gap, System.MM)
    '36.20 − 10.40'
    """
    if f.formula is None or "=" not in f.formula or "least over" in f.formula or "θ" in f.formula:
        return ""
    right = f.formula.split("=", 1)[1].strip().split(", once")[0]
    numbers = {i.symbol: show(i.value, i.dimension, system).number for i in f.inputs}
    if "Σ shims" in right:
        shims = [numbers[i.symbol] for i in f.inputs if re.fullmatch(r"s\d", i.symbol)]
        right = right.replace("Σ shims", "(" + " + ".join(shims) + ")" if shims else "0")
    if right == "Σ k":
        return " + ".join(numbers.values())
    symbols = sorted(numbers, key=len, reverse=True)
    pattern = "|".join(rf"(?<!{_WORD}){re.escape(s)}(?!{_WORD}|\()" for s in symbols)
    done = re.sub(pattern, lambda m: _put(numbers[m.group(0)], m), right) if pattern else right
    return done if done != right else ""


_WORD = r"(?:(?![²³⁴])[\w₀₁₂₊₋′″])"
"""A character that goes on a symbol; a power does not, and one before a bracket is a function."""


def _put(number: str, found: re.Match[str]) -> str:
    """A number in its place, in brackets where its sign would be taken for another operation."""
    before, after = found.string[: found.start()].rstrip()[-1:], found.string[found.end() :][:1]
    return f"({number})" if number.startswith("−") and (before in tuple("+−·/") or after in tuple("²³⁴")) else number


def lines(figure: Figure, system: System) -> list[Line]:
    """The calculated steps below a figure, in the order they were worked."""
    return [
        Line(f.symbol, f.label, f.formula or "", substitute(f, system), _text(f, system), _other(f, system), f.note)
        for f in steps(figure)
    ]


def inputs(figure: Figure, system: System) -> list[Input]:
    """Every input below a figure, weakest evidence first, each once."""
    found: dict[tuple[str, str | None], Figure] = {}

    def walk(f: Figure) -> None:
        if not f.inputs:
            found.setdefault((f.label, f.path), f)
        for child in f.inputs:
            walk(child)

    walk(figure)
    rows = sorted(found.values(), key=lambda f: -f.evidence.weakness)
    return [
        Input(f.symbol, f.label, _text(f, system), _other(f, system), f.evidence.value, f.path, f.note) for f in rows
    ]
