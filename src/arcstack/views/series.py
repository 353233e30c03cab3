"""What every chart is made of."""

import math
from collections.abc import Sequence
from typing import Any

import numpy as np

from arcstack.assess.context import Context
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
    shown = np.round(np.asarray(values, dtype=np.float64) / factor(dimension, dimension.unit(system)), digits)
    found: list[float | None] = shown.tolist()
    return found if np.isfinite(shown).all() else [v if math.isfinite(v) else None for v in shown.tolist()]


def speed_marks(ctx: Context, low: float, high: float) -> list[dict[str, Any]]:
    """The speeds of the brief that lie within a chart."""
    brief = ctx.build.brief
    rows = (("usual", brief.usual_speed), ("limiter", brief.limiter), ("overspeed", brief.overspeed))
    sides = {"limiter": "right", "overspeed": "left"}
    return [
        {"x": e.value, "text": word} | ({"align": sides[word]} if word in sides else {})
        for word, e in rows
        if e is not None and low <= e.value <= high
    ]
