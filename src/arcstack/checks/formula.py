"""A formula with the numbers put in, as a working shows it."""

import math
import re

from arcstack.checks.expression import symbol_pattern
from arcstack.checks.figure import Figure
from arcstack.units import ANGLE, COUNT, RATIO, SPEED, Shown, System, show
from arcstack.units.convert import factor

SIGNIFICANT = 3
"""Figures that a number in a working has at least, where its unit's usual decimals would leave it fewer."""


def number(f: Figure, system: System, decimals: int | None = None) -> Shown:
    """A figure as a working puts it in, to so many ``decimals`` where that is said.

    >>> from arcstack.checks import Evidence
    >>> from arcstack.units import LENGTH, RATIO
    >>> str(number(Figure("μ", "Friction", 0.008, RATIO, Evidence.ASSUMED), System.MM))
    '0.00800'
    >>> str(number(Figure("H", "Height", 36.2, LENGTH, Evidence.MEASURED), System.MM))
    '36.20 mm'
    """
    usual = f.dimension.decimals(system)
    if decimals is not None:
        return show(f.value, f.dimension, system, decimals - usual)
    unit = f.dimension.unit(system)
    size = abs(f.value / factor(f.dimension, unit))
    wanted = SIGNIFICANT - 1 - math.floor(math.log10(size)) if 0.0 < size < math.inf and f.dimension is not COUNT else 0
    return show(f.value, f.dimension, system, min(max(wanted - usual, 0), 6))


MOST_MORE = 3
"""Decimals that a sum's figures are given beyond the usual at most, so that it comes to its result as it is shown."""


def sum_decimals(f: Figure, system: System) -> int | None:
    """Decimals to which a bare sum or difference and its terms are shown, so that as shown it comes to its result.

    None for what is no bare sum.

    >>> from arcstack.checks import Evidence
    >>> from arcstack.units import LENGTH
    >>> h = Figure("H", "Height", 36.004, LENGTH, Evidence.MEASURED)
    >>> lift = Figure("L", "Lift", 10.2951, LENGTH, Evidence.PRINTED)
    >>> gap = Figure.calculated("g", "Gap", 36.004 - 10.2951, LENGTH, "g = H − L", h, lift)
    >>> sum_decimals(gap, System.MM), numbers_put_in(gap, System.MM), str(number(gap, System.MM, 3))
    (3, '36.004 − 10.295', '25.709 mm')
    """
    taken = System.MM if _mixed(f) else system
    if _terms(_put_in(f, taken, None)) is None:
        return None
    start = max(g.dimension.decimals(taken) for g in (f, *f.inputs))
    for decimals in range(start, start + MOST_MORE + 1):
        terms = _terms(_put_in(f, taken, decimals)) or []
        if abs(sum(terms) - _value(number(f, taken, decimals).number)) < 0.5 * 10.0**-decimals:
            return decimals
    # roundings that never fall together: all of them a digit finer than usual
    return start + 1


_TERM = re.compile(r"\s*([+−]?)\s*\(?(−?[\d,]+(?:\.\d+)?)\)?")


def _terms(text: str) -> list[float] | None:
    """The terms of a bare sum with their signs; None for anything else."""
    found: list[float] = []
    at = 0
    while at < len(text.rstrip()):
        match = _TERM.match(text, at)
        if match is None or (found and not match[1]):
            return None
        found.append(_value(match[2]) * (-1.0 if match[1] == "−" else 1.0))
        at = match.end()
    return found if len(found) > 1 else None


def _value(text: str) -> float:
    try:
        return float(text.replace("−", "-").replace(",", ""))
    except ValueError:
        return math.nan


_PLAIN = (RATIO, COUNT, ANGLE, SPEED)
"""Dimensions whose unit is the same in both systems."""


def _mixed(f: Figure) -> bool:
    """Whether a formula joins several dimensions, so that its factors hold for metric units only."""
    return len({g.dimension.name for g in (f, *f.inputs) if g.dimension not in _PLAIN}) > 1


def numbers_put_in(f: Figure, system: System) -> str:
    """The formula's right-hand side with each symbol replaced by its number; empty where none is an equation.

    A formula that joins several dimensions is put in metric units, whatever the page shows; a sum shows as many
    decimals as it takes to come to its result.

    >>> from arcstack.checks import Evidence
    >>> from arcstack.units import LENGTH
    >>> h = Figure("H", "Height", 36.2, LENGTH, Evidence.MEASURED)
    >>> lift = Figure("L", "Lift", 10.4, LENGTH, Evidence.PRINTED)
    >>> gap = Figure.calculated("g", "Gap", 25.8, LENGTH, "g = H − L", h, lift)
    >>> numbers_put_in(gap, System.MM)
    '36.20 − 10.40'
    """
    if f.formula is None or "=" not in f.formula:
        return ""
    return _put_in(f, System.MM if _mixed(f) else system, sum_decimals(f, system))


def _put_in(f: Figure, taken: System, decimals: int | None) -> str:
    if f.formula is None or "=" not in f.formula:
        return ""
    right = f.formula.split("=", 1)[1].strip()
    numbers = {i.symbol: number(i, taken, decimals).number for i in f.inputs}
    done = symbol_pattern(tuple(numbers)).sub(lambda m: _put(numbers[m[0]], m), right) if numbers else right
    return done if done != right else ""


def units_put_in(f: Figure, system: System) -> str:
    """The units that the numbers put in are in, where there are several."""
    if not _mixed(f):
        return ""
    words = [i.dimension.unit(System.MM) for i in f.inputs]
    return ", ".join(dict.fromkeys(w for w in words if w))


def _put(number: str, found: re.Match[str]) -> str:
    """A number in its place, in brackets where its sign would be taken for another operation."""
    before, after = found.string[: found.start()].rstrip()[-1:], found.string[found.end() :][:1]
    return f"({number})" if number.startswith("−") and (before in tuple("+−·/") or after in tuple("²³⁴⁶")) else number
