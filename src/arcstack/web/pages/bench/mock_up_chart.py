"""The gap of one valve over the crank as the model has it, with dial and clay as marks on it."""

import math
from typing import Any

import numpy as np

from arcstack.trials.clearances import Gaps
from arcstack.units import LENGTH, System, show
from arcstack.units.convert import factor
from arcstack.views.series import Chart, scaled

REACH_DEG = 40


def gap_chart(g: Gaps, system: System) -> Chart:
    """The model’s gap and the one put right, the phaser as it stood, no lash; each push with its lash taken off."""
    degrees = np.arange(-REACH_DEG, REACH_DEG + 1.0, 1.0)
    crank = np.radians(degrees)
    x = [float(d) for d in degrees]
    curves = [("By the model", "piston", g.pair)] + ([("Put right by the dial", "gap", g.right)] if g.right else [])
    series: list[dict[str, Any]] = []
    for name, style, pair in curves:
        gap = g.gap_mm(pair, crank)
        series.append({"name": name, "style": style, "y": scaled(gap, LENGTH, system)})
    for name, style, points in (("By dial", "valve", g.by_dial), ("By clay", "other", g.by_clay)):
        if points:
            y = [*[None] * len(x), *scaled([p for _, p in points], LENGTH, system)]
            series.append({"name": name, "style": style, "dots": True, "y": y})
            x += [math.degrees(c) for c, _ in points]
    for row in series:
        row["y"] += [None] * (len(x) - len(row["y"]))
    unit = factor(LENGTH, LENGTH.unit(system))
    chart: Chart = {
        "x": x, "x_name": "crank degrees, 0 at gas-exchange TDC", "y_name": LENGTH.unit(system),
        "decimals": LENGTH.decimals(system), "series": series, "first": float(-REACH_DEG), "last": float(REACH_DEG),
    }  # fmt: skip
    if g.least is not None:
        told = f"least {show(g.least.gap_mm, LENGTH, system)}, parked"
        chart["point"] = {
            "x": round(math.degrees(g.least.crank_rad), 2), "y": round(g.least.gap_mm / unit, 4), "text": told,
        }  # fmt: skip
    return chart
