"""Pressures over the cycle, and where the sliders stand."""

from typing import Any

from arcstack.assess import gas
from arcstack.assess.context import Context
from arcstack.trials.pressures import PULSE_RANGE, RATIO_RANGE
from arcstack.views.drawn import drawn
from arcstack.web.kit.stage import On
from arcstack.web.stages.boost.charts import gas_chart


def content(on: On) -> dict[str, Any]:
    return {
        "chart": drawn(lambda: gas_chart(on.ctx, on.system)),
        "ratio_now": drawn(lambda: _ratio(on.ctx)) or 1.3,
        "pulse_now": drawn(lambda: _pulse(on.ctx)) or 1.75,
    }


def _ratio(ctx: Context) -> float:
    """Back pressure over boost, as it stands."""
    return min(max(gas.back_pressure(ctx).value / gas.boost(ctx).value, RATIO_RANGE[0]), RATIO_RANGE[1])


def _pulse(ctx: Context) -> float:
    """Pulse peak over mean back pressure, as it stands."""
    return min(max(gas.pulse_peak(ctx).value / gas.back_pressure(ctx).value, PULSE_RANGE[0]), PULSE_RANGE[1])
