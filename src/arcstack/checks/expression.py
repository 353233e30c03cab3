"""A formula's text as an expression: its value, its values over many rows, and its slopes."""

import ast
import math
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np

Number = Any
"""A float, or an array of as many rows as the others."""

Slopes = dict[str, Number]

WORD = r"(?:(?![²³⁴⁶])[\w₀₁₂₊₋′″])"
"""A character that goes on a symbol; a power does not, and one before a bracket is a function."""

_SIGNS = {
    "−": "-",
    "·": "*",
    "²": "**2",
    "³": "**3",
    "⁴": "**4",
    "⁶": "**6",
    "^": "**",
    "√": "sqrt",
    "½": "0.5",
    "°": "",
}
_FUNCTIONS = ("sqrt", "max", "min", "abs", "sin", "cos", "tan")
_CONSTANTS = {"π": math.pi}
_DEG = math.pi / 180.0


class NotClosed(Exception):
    """The text is no closed formula of the symbols that are put in.

    No error of arithmetic: a figure with a wrong formula must not pass for one whose inputs are out of reason.
    """


def symbol_pattern(symbols: tuple[str, ...]) -> re.Pattern[str]:
    """Each symbol as a whole word of a formula; the longer first, so that none is taken for a part of another."""
    longest_first = sorted(symbols, key=len, reverse=True)
    return re.compile("|".join(rf"(?<!{WORD}){re.escape(s)}(?!{WORD}|\()" for s in longest_first))


@dataclass(frozen=True)
class Expression:
    """The right-hand side of a formula over its symbols.

    Numbers are in the metric units that a working shows, angles in degrees. Where a row makes it undefined, a root of
    less than nothing or a division by it, the result is nan or infinite there.

    >>> force = Expression.read("F = m·V″·(π·n/60)²/10⁶", ("m", "V″", "n"))
    >>> round(force.at({"m": 120.0, "V″": -14.0, "n": 7000.0}), 1)
    -225.7
    >>> force.at({"m": np.array([100.0, 120.0]), "V″": -14.0, "n": 7000.0}).round(1).tolist()
    [-188.1, -225.7]
    >>> {s: round(v, 4) for s, v in force.slopes({"m": 120.0, "V″": -14.0, "n": 7000.0}).items()}
    {'m': -1.8807, 'V″': 16.1204, 'n': -0.0645}
    """

    symbols: tuple[str, ...]
    body: ast.expr

    @classmethod
    def read(cls, formula: str, symbols: tuple[str, ...]) -> "Expression":
        """The formula as an expression of ``symbols``.

        Raises NotClosed where it is words, where a symbol of it is not among those put in, where one that is put in
        does not stand in it, or where two figures go by one symbol.
        """
        return _read(formula, symbols)

    def at(self, values: Mapping[str, Number]) -> Number:
        """What it comes to, a float for floats, an array where any value is one."""
        return self._worked(values)[0]

    def slopes(self, values: Mapping[str, Number]) -> Slopes:
        """How much the result moves for one unit of each symbol; where two sides of a *max* meet, its first side's."""
        moves = self._worked(values)[1]
        return {s: moves.get(s, 0.0) for s in self.symbols}

    def _worked(self, values: Mapping[str, Number]) -> tuple[Number, Slopes]:
        with np.errstate(all="ignore"):
            return _worked(self.body, self.symbols, values)


@lru_cache(maxsize=2048)
def _read(formula: str, symbols: tuple[str, ...]) -> Expression:
    _, equals, right = formula.partition("=")
    if not equals or "=" in right:
        raise NotClosed(f"{formula!r} is no equation")
    if len(set(symbols)) != len(symbols):
        raise NotClosed(f"two figures go by one symbol in {formula!r}")
    used: set[str] = set()

    def named(match: re.Match[str]) -> str:
        used.add(match[0])
        return f" _{symbols.index(match[0])} "

    text = symbol_pattern(symbols).sub(named, right) if symbols else right
    text = re.sub(r"\|([^|]+)\|", r"abs(\1)", text)
    for sign, code in _SIGNS.items():
        text = text.replace(sign, code)
    try:
        body = ast.parse(text.strip(), mode="eval").body
    except SyntaxError:
        raise NotClosed(f"{formula!r} is words") from None
    if used != set(symbols):
        raise NotClosed(f"{formula!r} does not use {set(symbols) - used}")
    for node in ast.walk(body):
        _allowed(node, formula)
    return Expression(symbols, body)


def _allowed(node: ast.AST, formula: str) -> None:
    """Raise NotClosed for what is no sum, product, power or known function of numbers and symbols."""
    if isinstance(node, ast.Name):
        known = node.id in (*_CONSTANTS, *_FUNCTIONS) or re.fullmatch(r"_\d+", node.id) is not None
    elif isinstance(node, ast.Constant):
        known = isinstance(node.value, int | float)
    elif isinstance(node, ast.BinOp):
        powers = isinstance(node.op, ast.Pow) and not any(isinstance(part, ast.Name) for part in ast.walk(node.right))
        known = powers or isinstance(node.op, ast.Add | ast.Sub | ast.Mult | ast.Div)
    elif isinstance(node, ast.Call):
        known = isinstance(node.func, ast.Name) and node.func.id in _FUNCTIONS and not node.keywords
    else:
        known = isinstance(node, ast.UnaryOp | ast.USub | ast.UAdd | ast.operator | ast.expr_context)
    if not known:
        raise NotClosed(f"{formula!r} holds more than a closed formula does")


def _worked(node: ast.expr, symbols: tuple[str, ...], values: Mapping[str, Number]) -> tuple[Number, Slopes]:
    """The value of a part of the expression, and its slope over each symbol in it."""
    match node:
        case ast.Constant(value):
            return float(value), {}  # type: ignore[arg-type]
        case ast.Name(name):
            if name in _CONSTANTS:
                return _CONSTANTS[name], {}
            symbol = symbols[int(name[1:])]
            return values[symbol], {symbol: 1.0}
        case ast.UnaryOp(op, operand):
            value, slopes = _worked(operand, symbols, values)
            return (-value, _scaled(slopes, -1.0)) if isinstance(op, ast.USub) else (value, slopes)
        case ast.BinOp(left, op, right):
            return _joined(op, _worked(left, symbols, values), _worked(right, symbols, values))
        case ast.Call(ast.Name(name), given):
            return _called(name, [_worked(part, symbols, values) for part in given])
    raise NotClosed(f"{ast.dump(node)} is no part of a closed formula")


def _joined(op: ast.operator, left: tuple[Number, Slopes], right: tuple[Number, Slopes]) -> tuple[Number, Slopes]:
    (a, da), (b, db) = left, right
    match op:
        case ast.Add():
            return a + b, _sum(da, db)
        case ast.Sub():
            return a - b, _sum(da, _scaled(db, -1.0))
        case ast.Mult():
            return a * b, _sum(_scaled(da, b), _scaled(db, a))
        case ast.Div():
            value = np.divide(a, b)
            return _plain(value), _sum(_scaled(da, np.divide(1.0, b)), _scaled(db, -np.divide(value, b)))
        case _:
            return _plain(np.power(a, b)), _scaled(da, b * np.power(a, b - 1.0)) if da else {}


def _called(name: str, given: list[tuple[Number, Slopes]]) -> tuple[Number, Slopes]:
    if name in ("max", "min"):
        value, slopes = given[0]
        for other, its in given[1:]:
            first = value >= other if name == "max" else value <= other
            slopes = _sum(_scaled(slopes, np.where(first, 1.0, 0.0)), _scaled(its, np.where(first, 0.0, 1.0)))
            value = np.where(first, value, other)
        return _plain(value), {s: _plain(v) for s, v in slopes.items()}
    x, dx = given[0]
    work, slope = _OF_ONE[name]
    value = work(x)
    return _plain(value), _scaled(dx, slope(x, value))


_OF_ONE: dict[str, tuple[Callable[[Number], Number], Callable[[Number, Number], Number]]] = {
    "sqrt": (np.sqrt, lambda _, root: np.divide(0.5, root)),
    "abs": (np.abs, lambda x, _: np.sign(x)),
    "sin": (lambda x: np.sin(x * _DEG), lambda x, _: _DEG * np.cos(x * _DEG)),
    "cos": (lambda x: np.cos(x * _DEG), lambda x, _: -_DEG * np.sin(x * _DEG)),
    "tan": (lambda x: np.tan(x * _DEG), lambda _, tangent: _DEG * (1.0 + tangent**2)),
}


def _scaled(slopes: Slopes, by: Number) -> Slopes:
    return {s: _plain(v * by) for s, v in slopes.items()}


def _sum(a: Slopes, b: Slopes) -> Slopes:
    return {s: a[s] + b[s] if s in a and s in b else a[s] if s in a else b[s] for s in {**a, **b}}


def _plain(value: Number) -> Number:
    """A float where it is one number."""
    return value if np.ndim(value) else float(value)
