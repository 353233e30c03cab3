"""Series for the charts: worked on the server, drawn in the browser."""

import math
from typing import Any

import numpy as np

from arcstack.assess import cam, piston
from arcstack.assess.context import Context
from arcstack.document import amount
from arcstack.errors import NotKnown
from arcstack.mech import timing
from arcstack.mech.cam.law import Array
from arcstack.mech.piston import piston_drop_mm
from arcstack.units import LENGTH, System, show
from arcstack.units.convert import factor
from arcstack.web.charts.series import STYLES, Chart, scaled


def clearance_chart(ctx: Context, system: System) -> Chart | None:
    """Valve lift, room above the piston and their gap over the crank, parked and at the worst phaser position."""
    try:
        model = piston.pair(ctx)
        _, parked = piston.parked(ctx)
        _, swept = piston.swept(ctx)
    except NotKnown:
        return None
    degrees = np.arange(-60.0, 60.5, 1.0)
    crank = np.radians(degrees)
    room = model.room_mm(crank)
    at_rest = model.net_lift_mm(crank, 0.0, 0.0)
    moved = model.net_lift_mm(crank, swept.phaser_rad, 0.0)
    phased = abs(swept.phaser_rad) > 1e-9
    worst = swept if phased else parked
    series = [
        {"name": "Room to the piston", "style": "piston", "y": scaled(room, LENGTH, system)},
        {"name": "Valve, parked", "style": "valve", "y": scaled(at_rest, LENGTH, system)},
    ]
    if phased:
        series.append({"name": "Valve, phased", "style": "phased", "y": scaled(moved, LENGTH, system)})
    series.append(
        {
            "name": "Gap, phased" if phased else "Gap",
            "style": "gap",
            "y": scaled(room - (moved if phased else at_rest), LENGTH, system),
        }
    )
    where = math.degrees(worst.crank_rad)
    unit = factor(LENGTH, LENGTH.unit(system))
    told = f"least {show(worst.gap_mm, LENGTH, system)} at {where:.1f}°".replace("-", "−")
    return {
        "x": [float(d) for d in degrees],
        "x_name": "crank degrees, 0 at gas-exchange TDC",
        "y_name": LENGTH.unit(system),
        "decimals": LENGTH.decimals(system),
        "series": series,
        "point": {"x": round(where, 2), "y": round(worst.gap_mm / unit, 4), "text": told},
    }


def cam_chart(ctx: Context, system: System) -> Chart | None:
    """Lift, velocity and acceleration at the valve over the crank, both sides, the piston's room faint behind."""
    drawn = [(side, style) for side, style in ((ctx, "valve"), (ctx.other, "other")) if _has_curve(side)]
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
        law, angle = cam.curve(side).valve, (crank - cam.nose_crank_rad(side)) / 2.0
        for order, panel in enumerate(panels):
            y = [round(float(v) / length, 5) for v in law.evaluate(angle, order)]
            panel["series"].append({"name": side.side_name.capitalize(), "style": style, "y": y})
    stroke = ctx.build.engine.stroke
    rod = ctx.build.engine.rod
    if stroke and rod:
        offset = ctx.build.engine.pin_offset
        drop = piston_drop_mm(crank, stroke.value, rod.value, amount(offset) or 0.0)
        tallest = max(cam.gross_lift(side).value for side, _ in drawn)
        faint = [round(float(v) / stroke.value * tallest / length, 4) for v in drop]
        panels[0]["series"].append({"name": "Piston, not to scale", "style": "faint", "y": faint})
    marks = _marks(ctx) if _has_curve(ctx) else []
    name = "crank degrees, 0 at gas-exchange TDC"
    return {"x": [float(d) for d in degrees], "x_name": name, "panels": panels, "marks": marks}


def _marks(ctx: Context) -> list[dict[str, Any]]:
    """Opening, nose and closing of the side in hand, at its own check lift."""
    at, nose = cam.centre_lift_mm(ctx), cam.nose_crank_rad(ctx)
    try:
        events = timing.events(cam.curve(ctx).valve, at, nose)
    except ValueError:
        return []
    rows = (("opens", events.opens_rad), ("nose", nose), ("closes", events.closes_rad))
    return [{"x": round(math.degrees(angle), 2), "text": word} for word, angle in rows]


def _has_curve(ctx: Context) -> bool:
    try:
        cam.nose_crank_rad(ctx)
    except NotKnown:
        return False
    return True


def compare_chart(cams: list[tuple[str, Context]], system: System) -> Chart | None:
    """Lift, velocity and acceleration of several cams over the crank, each where its own centreline puts it."""
    drawn = [(name, ctx, style) for (name, ctx), style in zip(cams, STYLES, strict=False) if _has_curve(ctx)]
    if not drawn:
        return None
    degrees = np.arange(-300.0, 301.0, 2.0) if len({c.intake for _, c, _ in drawn}) > 1 else _span(drawn[0][1])
    crank = np.radians(degrees)
    length = factor(LENGTH, LENGTH.unit(system))
    names = ("lift", "velocity", "acceleration")
    units = ("", "/rad", "/rad²")
    panels = []
    for order, (name, per) in enumerate(zip(names, units, strict=True)):
        series = []
        for label, ctx, style in drawn:
            y = cam.curve(ctx).valve.evaluate((crank - cam.nose_crank_rad(ctx)) / 2.0, order)
            series.append({"name": label, "style": style, "y": [round(float(v) / length, 5) for v in y]})
        panels.append({"name": f"{name}, {LENGTH.unit(system)}{per}", "decimals": 3, "series": series})
    return {"x": [float(d) for d in degrees], "x_name": "crank degrees, 0 at gas-exchange TDC", "panels": panels}


def _span(ctx: Context) -> Array:
    return np.arange(-60.0, 301.0, 2.0) if ctx.intake else np.arange(-300.0, 61.0, 2.0)
