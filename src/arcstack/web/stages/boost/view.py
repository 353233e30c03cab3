"""Pressures over the cycle, and where the sliders stand."""

from typing import Any

from arcstack.trials.pressures import pulse_now, ratio_now
from arcstack.views.drawn import drawn
from arcstack.web.kit.stage import On
from arcstack.web.stages.boost.charts import gas_chart


def content(on: On) -> dict[str, Any]:
    return {
        "chart": drawn(lambda: gas_chart(on.ctx, on.system)),
        "ratio_now": drawn(lambda: ratio_now(on.ctx)) or 1.3,
        "pulse_now": drawn(lambda: pulse_now(on.ctx)) or 1.75,
    }
