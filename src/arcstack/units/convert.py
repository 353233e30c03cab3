"""Conversion factors, taken once each from pint."""

import os
from functools import cache
from pathlib import Path
from pickle import UnpicklingError
from typing import Any

from platformdirs import user_cache_dir

from arcstack.units.dimension import Dimension


@cache
def _registry() -> Any:
    from pint import UnitRegistry

    try:
        return UnitRegistry(cache_folder=_cache())
    except (EOFError, UnpicklingError):
        # another program that starts at the same moment is still writing what this one reads
        return UnitRegistry()


def _cache() -> Path | None:
    """Where the registry keeps what it read; None where nothing can be written, which only costs the reading."""
    folder = Path(user_cache_dir("arc-stack")) / "units"
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError:
        return None
    return folder if os.access(folder, os.W_OK) else None


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
