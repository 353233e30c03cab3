"""Series for the charts: worked on the server, drawn in the browser."""

import math
from typing import Any

import numpy as np

from arcstack.assess import cam, control, piston
from arcstack.assess.context import Context, MissingInput
from arcstack.errors import CurveConflict
from arcstack.mech.cam.law import Array
from arcstack.units import FORCE, LENGTH, Dimension, System, show
from arcstack.units.convert import factor

Chart = dict[str, Any]


def _scaled(values: Array, dimension: Dimension, system: System) -> list[float | None]:
    unit = factor(dimension, dimension.unit(system))
    return [None if math.isnan(v) else round(float(v) / unit, 4) for v in values]


def clearance_chart(ctx: Context, system: System) -> Chart | None:
    """Valve lift, room above the piston and their gap over the crank, parked and at the worst phaser position."""
    try:
        model, _ = piston.pair(ctx)
        _, parked = piston.parked(ctx)
        _, swept = piston.swept(ctx)
    except (MissingInput, CurveConflict):
        return None
    degrees = np.arange(-60.0, 60.5, 1.0)
    crank = np.radians(degrees)
    room = model.room_mm(crank)
    at_rest = model.net_lift_mm(crank, 0.0, 0.0)
    moved = model.net_lift_mm(crank, swept.phaser_rad, 0.0)
    phased = abs(swept.phaser_rad) > 1e-9
    worst = swept if phased else parked
    series = [
        {"name": "Room to the piston", "style": "piston", "y": _scaled(room, LENGTH, system)},
        {"name": "Valve, parked", "style": "valve", "y": _scaled(at_rest, LENGTH, system)},
    ]
    if phased:
        series.append({"name": "Valve, phased", "style": "phased", "y": _scaled(moved, LENGTH, system)})
    series.append(
        {
            "name": "Gap, phased" if phased else "Gap",
            "style": "gap",
            "y": _scaled(room - (moved if phased else at_rest), LENGTH, system),
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


def contact_chart(ctx: Context, system: System) -> Chart | None:
    """Contact force of the rigid train over the cam at limiter, overspeed and the separation speed."""
    try:
        found = control.separation(ctx)
        curve = cam.curve(ctx)
    except (MissingInput, CurveConflict):
        return None
    start, end = curve.valve.support_rad
    degrees = np.arange(math.ceil(math.degrees(start)), math.floor(math.degrees(end)) + 1.0, 1.0)
    angles = np.radians(degrees)
    series = []
    for style, name, speed in _speeds(ctx, found.speed.value):
        force = found.train.contact_force_N(angles, speed)
        series.append({"name": f"{name} {speed:,.0f} rpm", "style": style, "y": _scaled(force, FORCE, system)})
    where = math.degrees(found.angle.value)
    return {
        "x": [float(d) for d in degrees],
        "x_name": "cam degrees from the nose",
        "y_name": FORCE.unit(system),
        "decimals": FORCE.decimals(system),
        "series": series,
        "point": {"x": round(where, 2), "y": 0.0, "text": f"parts at {where:.1f}° from the nose"},
        "zero": True,
    }


def _speeds(ctx: Context, separation: float) -> list[tuple[str, str, float]]:
    rows = []
    for style, name, entry in (
        ("valve", "limiter", ctx.build.brief.limiter),
        ("phased", "overspeed", ctx.build.brief.overspeed),
    ):
        if entry is not None:
            rows.append((style, name, entry.value))
    return [*rows, ("gap", "separation", separation)]


def lift_chart(ctx: Context, system: System) -> Chart | None:
    """Lift at the valve, before and after lash, over the cam, with the card's check lifts."""
    try:
        curve = cam.curve(ctx)
        lash = cam.lash(ctx).value
    except (MissingInput, CurveConflict):
        return None
    start, end = (math.degrees(a) for a in curve.valve.support_rad)
    degrees = np.arange(math.floor(start) - 4.0, math.ceil(end) + 5.0, 1.0)
    gross = curve.valve.evaluate(np.radians(degrees))
    net = np.maximum(gross - lash, 0.0)
    at = int(np.argmax(net))
    unit = factor(LENGTH, LENGTH.unit(system))
    return {
        "x": [float(d) for d in degrees],
        "x_name": "cam degrees from the nose",
        "y_name": LENGTH.unit(system),
        "decimals": LENGTH.decimals(system),
        "series": [
            {"name": "Before lash", "style": "piston", "y": _scaled(gross, LENGTH, system)},
            {"name": "Net, at the valve", "style": "valve", "y": _scaled(net, LENGTH, system)},
        ],
        "point": {
            "x": 0.0,
            "y": round(float(net[at]) / unit, 4),
            "text": f"net {show(float(net[at]), LENGTH, system)}",
        },
    }
