"""Lift, velocity and acceleration over the crank."""

import math
from typing import Any

import numpy as np

from arcstack.assess import airflow, cam, piston, placed, timing
from arcstack.assess.context import Context, known
from arcstack.assess.placed import has_curve
from arcstack.units import LENGTH, System
from arcstack.units.convert import factor
from arcstack.views.series import Chart


def cam_chart(ctx: Context, system: System) -> Chart | None:
    """Lift, velocity and acceleration at the valve over the crank, both sides, the piston's room faint behind."""
    drawn = [(side, style) for side, style in ((ctx, "valve"), (ctx.other, "other")) if has_curve(side)]
    if not drawn:
        return None
    degrees = np.arange(-300.0, 301.0, 2.0)
    crank = np.radians(degrees)
    length = factor(LENGTH, LENGTH.unit(system))
    panels: list[dict[str, Any]] = [
        {"name": f"lift, {LENGTH.unit(system)}", "decimals": LENGTH.decimals(system), "series": []},
        {"name": f"velocity, {LENGTH.unit(system)}/rad", "decimals": LENGTH.decimals(system), "series": []},
        {"name": f"acceleration, {LENGTH.unit(system)}/rad²", "decimals": 1, "series": []},
    ]
    for side, style in drawn:
        for order, panel in enumerate(panels):
            y = np.round(placed.over_crank(side, crank, order) / length, 5).tolist()
            panel["series"].append({"name": side.side_name.capitalize(), "style": style, "y": y})
    stroke = ctx.build.engine.stroke
    drop = known(lambda: piston.drop_over_crank_mm(ctx, crank))
    if drop is not None and stroke:
        tallest = max(cam.gross_lift(side).value for side, _ in drawn)
        faint = [round(float(v) / stroke.value * tallest / length, 4) for v in drop]
        panels[0]["series"].append({"name": "Piston, not to scale", "style": "faint", "y": faint})
    useful = known(lambda: airflow.useful_gross_lift_mm(ctx))
    if useful is not None and has_curve(ctx):
        lift = placed.over_crank(ctx, crank)
        past = [round(useful / length, 4) if v >= useful else None for v in lift]
        panels[0]["series"].append({"name": "Past useful lift", "style": "muted", "y": past})
    marks = _marks(ctx) if has_curve(ctx) else []
    name = "crank degrees, 0 at gas-exchange TDC"
    return {"x": [float(d) for d in degrees], "x_name": name, "panels": panels, "marks": marks}


def _marks(ctx: Context) -> list[dict[str, Any]]:
    """Opening, nose and closing of the side in hand, at its own check lift."""
    at, nose = placed.centre_lift_mm(ctx), placed.nose_crank_rad(ctx)
    try:
        events = timing.events(ctx, at)
    except ValueError:
        return []
    rows = (("opens", events.opens_rad), ("nose", nose), ("closes", events.closes_rad))
    return [{"x": round(math.degrees(angle), 2), "text": word} for word, angle in rows]
