"""What every chart is made of."""

import math
from collections.abc import Sequence
from typing import Any

from arcstack.mech.cam.law import Array
from arcstack.units import Dimension, System
from arcstack.units.convert import factor

Chart = dict[str, Any]

STYLES = ("valve", "other", "gap", "green", "red", "violet")
"""Styles of like things laid side by side, in their order."""


def scaled(
    values: Sequence[float] | Array, dimension: Dimension, system: System, digits: int = 4
) -> list[float | None]:
    """Values in the unit shown; None where there is no number.

    >>> from arcstack.units import LENGTH
    >>> scaled([25.4, math.nan], LENGTH, System.INCH)
    [1.0, None]
    """
    unit = factor(dimension, dimension.unit(system))
    return [round(float(v) / unit, digits) if math.isfinite(v) else None for v in values]
