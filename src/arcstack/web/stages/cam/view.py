"""What the Cam page shows beside its fields."""

from typing import Any

from arcstack.assess import cam, card, follower
from arcstack.assess.cam import Smoothed
from arcstack.assess.context import Context
from arcstack.web.kit.guard import drawn
from arcstack.web.kit.rows import said_by
from arcstack.web.kit.stage import On
from arcstack.web.stages.cam.charts import cam_chart
from arcstack.web.stages.cam.crown import crown, lobe_picture
from arcstack.web.stages.cam.events import tables
from arcstack.web.stages.cam.motion import motion_rows


def content(on: On) -> dict[str, Any]:
    ctx, system = on.ctx, on.system
    limiter = on.build.brief.limiter
    speed = round(limiter.value) if limiter else 6000
    return {
        "chart": drawn(lambda: cam_chart(ctx, system)),
        "audits": drawn(lambda: card.audits(ctx)) or [],
        "conflict": drawn(lambda: card.conflict(ctx)) or "",
        "compared": drawn(lambda: card.against_curve(ctx)) or [],
        "cautions": follower.cautions(ctx),
        "crown": drawn(lambda: crown(ctx)),
        "lobe_picture": drawn(lambda: lobe_picture(ctx)),
        # what an edit does not swap is worked where the page is drawn whole
        "all_events": lambda: drawn(lambda: tables(ctx, 0.0, system)) or [],
        "bucket": ctx.bucket,
        "ratio_now": ctx.lever.ratio.value if ctx.lever.ratio else None,
        "motion_rpm": speed,
        "all_motion": lambda: drawn(lambda: motion_rows(ctx, speed)) or [],
        "curve": ctx.side.cam.curve,
        "curve_by": _curve_by(ctx),
        "smoothed": drawn(lambda: _smoothed(ctx)),
    }


def _curve_by(ctx: Context) -> str:
    """Who took the measured curve and with what; empty where that makes it no measurement."""
    by = ctx.side.cam.curve.by if ctx.side.cam.curve else None
    return said_by(by) if by and by.measures else ""


def _smoothed(ctx: Context) -> Smoothed | None:
    table = ctx.side.cam.curve
    return cam.smoothed(table, ctx.side.cam.hand) if table else None
