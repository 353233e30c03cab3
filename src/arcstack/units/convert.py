"""Conversion factors, taken once each from pint."""

from functools import cache
from typing import Any

from arcstack.units.dimension import Dimension


@cache
def _registry() -> Any:
    from pint import UnitRegistry

    return UnitRegistry(cache_folder=":auto:")


@cache
def _factor(unit: str, canonical: str) -> float:
    if unit == canonical:
        return 1.0
    return float(_registry().Quantity(1.0, unit).to(canonical).magnitude)


def factor(dimension: Dimension, word: str) -> float:
    """Canonical value of one ``word`` of ``dimension``.

    >>> from arcstack.units.dimension import LENGTH, RATE
    >>> factor(LENGTH, "thou")
    0.0254
    >>> round(factor(RATE, "lbf/in"), 6)
    0.175127
    """
    return _factor(dimension.words[word.lower()], dimension.canonical)
