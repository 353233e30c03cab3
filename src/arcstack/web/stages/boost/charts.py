"""Pressures over the cycle as assumed, and what they do to both closed valves."""

import numpy as np

from arcstack.assess.context import Context, known
from arcstack.assess.gas_cycle import cycle
from arcstack.mech.cam.law import Array
from arcstack.units import FORCE, GAUGE_PRESSURE, Dimension, System
from arcstack.views.series import Chart, scaled


def _valve(ctx: Context) -> tuple[float, float]:
    """Head and stem, mm."""
    return ctx.entry("stack.valve.head", "d_v").value, ctx.entry("stack.valve.stem", "d_s").value


def gas_chart(ctx: Context, system: System) -> Chart | None:
    """None while the pressures, valves or cams are not known."""
    found, sizes = known(lambda: cycle(ctx)), known(lambda: {c.intake: _valve(c) for c in (ctx, ctx.other)})
    if found is None or sizes is None:
        return None
    degrees = np.arange(-300.0, 301.0, 3.0)
    crank = np.radians(degrees)

    def series(name: str, style: str, values: Array, dimension: Dimension) -> dict[str, object]:
        return {"name": name, "style": style, "y": scaled(values, dimension, system, 3)}

    pressures = [
        series("Intake port", "valve", found.intake_port(crank), GAUGE_PRESSURE),
        series("Exhaust port", "red", found.exhaust_port(crank), GAUGE_PRESSURE),
        series("Cylinder", "gap", found.cylinder(crank), GAUGE_PRESSURE),
    ]
    forces = [
        series("On the intake valve", "green", found.lifting_N(crank, True, *sizes[True]), FORCE),
        series("On the exhaust valve", "violet", found.lifting_N(crank, False, *sizes[False]), FORCE),
    ]
    return {
        "x": [float(d) for d in degrees],
        "x_name": "crank degrees, 0 at gas-exchange TDC",
        "x_unit": "crank degrees",
        "panels": [
            {
                "name": f"gauge pressure, {GAUGE_PRESSURE.unit(system)}",
                "decimals": 2,
                "height": 140,
                "series": pressures,
            },
            {
                "name": f"force that lifts the closed valve, {FORCE.unit(system)}",
                "decimals": FORCE.decimals(system),
                "height": 120,
                "series": forces,
                "limits": [{"y": 0, "text": "", "style": "zero"}],
            },
        ],
    }
