"""The clearance chart, and where the sliders stand."""

from typing import Any

from arcstack.trials.timing import centreline_deg
from arcstack.web.kit.guard import drawn
from arcstack.web.kit.stage import On
from arcstack.web.stages.clearance.charts import clearance_chart


def content(on: On) -> dict[str, Any]:
    return {
        "chart": drawn(lambda: clearance_chart(on.ctx, on.system)),
        "centrelines": {side: centreline_deg(ctx) for side, ctx in on.assessment.sides.items()},
    }
