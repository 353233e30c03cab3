"""Series of the springs: load over height, the height sweep, surge over speed."""

from typing import Any

import numpy as np

from arcstack.assess import cam, spring, surge
from arcstack.assess.context import Context, known
from arcstack.assess.spring_lines import SpringLine, TableSpring
from arcstack.trials.heights import HeightSweep
from arcstack.units import FINE_LENGTH, FORCE, LENGTH, STRESS, Dimension, System
from arcstack.units.convert import factor
from arcstack.views.series import Chart, scaled, speed_marks


def load_chart(ctx: Context, system: System) -> Chart | None:
    """Load of each spring and of the pack, all over the outer spring's height; readings as dots."""
    names = spring.springs(ctx)
    lines, closed = known(lambda: _lines(ctx)), known(lambda: {n: spring.height(ctx, n).value for n in names})
    if lines is None or closed is None:
        return None
    solids = {n: e.value for n in names if (e := getattr(ctx.side.stack, n).solid) is not None}
    # the inner's heights moved to where the outer stands at the same moment
    moved = {n: closed["outer"] - closed[n] for n in names}
    first_solid = max((solids[n] + moved[n] for n in solids), default=0.0)
    lowest = min((solids[n] + moved[n] for n in solids), default=0.6 * closed["outer"])
    longest = max(lines[n].free.value + moved[n] for n in names)
    heights = np.linspace(lowest - 1.0, longest, 90)
    loads = {n: np.maximum(np.asarray(lines[n].curve.load_N(heights - moved[n])), 0.0) for n in names}
    series: list[dict[str, Any]] = []
    if len(names) > 1:
        pack = np.where(heights >= first_solid - 1e-9, np.sum(list(loads.values()), axis=0), np.nan)
        series.append({"name": "Pack", "style": "gap", "y": scaled(pack, FORCE, system)})
    for name, style in zip(names, ("valve", "other"), strict=False):
        solid = solids.get(name)
        held = loads[name] if solid is None else np.where(heights - moved[name] >= solid - 1e-9, loads[name], np.nan)
        series.append({"name": name.capitalize(), "style": style, "y": scaled(held, FORCE, system)})
    marks: list[dict[str, Any]] = [{"x": closed["outer"], "text": "installed", "strong": True}]
    net = known(lambda: cam.net_lift(ctx))
    if net is not None:
        marks.append({"x": closed["outer"] - net.value, "text": "open", "strong": True})
    marks += [{"x": solids[n] + moved[n], "text": f"{n} solid", "along": True} for n in solids]
    unit = factor(LENGTH, LENGTH.unit(system))
    x = [float(h) for h in heights]
    for name, style in zip(names, ("valve", "other"), strict=False):
        points = _points(ctx, name, lines[name].curve)
        if points:
            before: list[float | None] = [None] * len(x)
            taken = before + scaled([load for _, load in points], FORCE, system)
            series.append({"name": f"{name.capitalize()}, as taken", "style": style, "dots": True, "y": taken})
            x += [height + moved[name] for height, _ in points]
    for row in series:
        row["y"] += [None] * (len(x) - len(row["y"]))
    return {
        "x": [round(h / unit, 4) for h in x],
        "x_name": f"height of the outer spring, {LENGTH.unit(system)}",
        "x_unit": LENGTH.unit(system),
        "x_decimals": LENGTH.decimals(system),
        "x_interval": 0,
        "y_name": FORCE.unit(system),
        "decimals": FORCE.decimals(system),
        "series": series,
        "marks": [m | {"x": round(m["x"] / unit, 4)} for m in marks],
        "first": round(float(heights[0]) / unit, 3),
        "last": round(float(heights[-1]) / unit, 3),
    }


def _lines(ctx: Context) -> dict[str, SpringLine]:
    return {n: spring.line(ctx, n) for n in spring.springs(ctx)}


def _points(ctx: Context, name: str, curve: object) -> list[tuple[float, float]]:
    """Heights and loads as they were taken."""
    part = getattr(ctx.side.stack, name)
    points = list(zip(curve.heights_mm, curve.loads_N, strict=True)) if isinstance(curve, TableSpring) else []
    for height, load in ((part.height_1, part.load_1), (part.height_2, part.load_2)):
        if height is not None and load is not None:
            points.append((height.value, load.value))
    return points


SPEEDS = 240

_KINDS: tuple[tuple[str, str, Dimension], ...] = (
    ("load", "load", FORCE),
    ("reserve", "reserve", LENGTH),
    ("stress", "shear at full lift", STRESS),
)
_STYLES = {
    "Seat load": "valve",
    "Open load": "gap",
    "Reserve, outer": "valve",
    "Reserve, inner": "other",
    "Stress, outer": "valve",
    "Stress, inner": "other",
}


def height_chart(swept: HeightSweep, system: System) -> Chart:
    """Loads, reserves and stress over installed height, with the window marked."""
    unit = factor(LENGTH, LENGTH.unit(system))
    panels = []
    for kind, words, dimension in _KINDS:
        series = [
            {"name": label, "style": _STYLES[label], "y": scaled(values, dimension, system)}
            for k, label, values in swept.curves
            if k == kind
        ]
        if series:
            panel: dict[str, Any] = {
                "name": f"{words}, {dimension.unit(system)}",
                "decimals": dimension.decimals(system),
                "height": 84,
                "series": series,
            }
            if kind == "reserve":
                panel["limits"] = [{"y": 0, "text": "solid"}]
            panels.append(panel)
    marks = [{"x": round(swept.now_mm / unit, 4), "text": "now", "strong": True}]
    if swept.window is not None:
        low, high = swept.window
        marks += [
            {"x": round(v / unit, 4), "text": word}
            for v, word in ((low, "from"), (high, "to"))
            if swept.heights_mm[0] <= v <= swept.heights_mm[-1]
        ]
    return {
        "x": [round(h / unit, 4) for h in swept.heights_mm],
        "x_name": f"installed height of the outer spring, {LENGTH.unit(system)}",
        "x_unit": LENGTH.unit(system),
        "x_decimals": LENGTH.decimals(system),
        "x_interval": 0,
        "panels": panels,
        "marks": marks,
    }


def surge_chart(ctx: Context, system: System) -> Chart | None:
    """Order of each spring over speed, and the lift harmonic that stands at that order."""
    found = known(lambda: surge.over_speed(ctx, SPEEDS))
    if found is None:
        return None
    speeds, springs = found
    orders, driven = [], []
    for s, style in zip(springs, ("valve", "other"), strict=False):
        name = s.spring.capitalize()
        orders.append({"name": name, "style": style, "y": [round(float(v), 3) for v in s.order]})
        driven.append({"name": name, "style": style, "y": scaled(s.rings_mm, FINE_LENGTH, system)})
    return {
        "x": [round(float(n)) for n in speeds],
        "x_name": "crank speed, rpm",
        "x_unit": "rpm",
        "x_interval": 1000,
        "panels": [
            {"name": "surge order", "decimals": 2, "height": 70, "series": orders, "scale": True},
            {
                "name": f"harmonic of the lift that rings it, {FINE_LENGTH.unit(system)}",
                "decimals": 2,
                "height": 84,
                "series": driven,
            },
        ],
        "marks": speed_marks(ctx, float(speeds[0]), float(speeds[-1])),
    }
