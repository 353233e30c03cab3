"""Valve and piston over the crank."""

import math

import numpy as np

from arcstack.assess import piston
from arcstack.assess.context import Context, known
from arcstack.units import LENGTH, System, show
from arcstack.units.convert import factor
from arcstack.views.series import Chart, scaled


def clearance_chart(ctx: Context, system: System) -> Chart | None:
    """Valve lift, room above the piston and their gap over the crank, parked and at the worst phaser position."""
    found = known(lambda: (piston.pair(ctx), piston.parked(ctx)[1], piston.swept(ctx)[1]))
    if found is None:
        return None
    model, parked, swept = found
    degrees = np.arange(-60.0, 60.5, 1.0)
    crank = np.radians(degrees)
    room = model.room_mm(crank)
    at_rest = model.net_lift_mm(crank, 0.0, 0.0)
    moved = model.net_lift_mm(crank, swept.phaser_rad, 0.0)
    phased = swept.is_phased
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
