"""What the Cam page shows beside its fields."""

from dataclasses import dataclass
from typing import Any

from arcstack.assess import airflow, cam, card, follower
from arcstack.assess.cam import Smoothed
from arcstack.assess.context import Context
from arcstack.drawings.crown import crown, lobe_picture
from arcstack.trials.longer import Held
from arcstack.units import LENGTH, System, show
from arcstack.views.drawn import drawn
from arcstack.views.rows import said_by
from arcstack.web.kit.stage import On
from arcstack.web.stages.cam.charts import cam_chart
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
        "advice": drawn(lambda: airflow.advice(ctx)) or [],
        "flows": drawn(lambda: _flows(ctx, system)),
        "crown": drawn(lambda: crown(ctx)),
        "lobe_picture": drawn(lambda: lobe_picture(ctx)),
        # what an edit does not swap is worked where the page is drawn whole
        "all_events": lambda: drawn(lambda: tables(ctx, 0.0, system)) or [],
        "bucket": ctx.bucket,
        "ratio_now": ctx.lever.ratio.value if ctx.lever.ratio else None,
        "held": list(Held),
        "motion_rpm": speed,
        "all_motion": lambda: drawn(lambda: motion_rows(ctx, speed)) or [],
        "curve": ctx.side.cam.curve,
        "curve_by": _curve_by(ctx),
        "smoothed": drawn(lambda: _smoothed(ctx)),
    }


@dataclass(frozen=True)
class Flows:
    """Flow over lift, after work and as it came, at one depression; ``note`` says where they were brought to it."""

    names: tuple[str, ...]
    rows: tuple[tuple[str, tuple[str, ...]], ...]
    note: str


def _flows(ctx: Context, system: System) -> Flows | None:
    after, before = airflow.table(ctx), airflow.table(ctx, before=True)
    if after is None:
        return None
    rows = []
    for lift, flow in zip(after.lift_mm, after.flow, strict=True):
        came = () if before is None else (f"{float(before.at(lift)):.0f}",)
        gained = () if before is None else (_gain(flow, float(before.at(lift))),)
        rows.append((str(show(lift, LENGTH, system)), (f"{flow:.0f}", *came, *gained)))
    names = ("after work",) if before is None else ("after work", "as it came", "gain")
    port, note = ctx.side.port, ""
    if before is not None and port.flow_at and port.flow_before_at and port.flow_at.value != port.flow_before_at.value:
        taken, wanted = port.flow_before_at.value, port.flow_at.value
        note = f"As it came was taken at {taken:g}: brought to {wanted:g} by the square root of their ratio."
    elif before is not None and not (port.flow_at and port.flow_before_at):
        note = "A depression is not given: both are taken as of one, and the gain is no more than that."
    return Flows(names, tuple(rows), note)


def _gain(after: float, before: float) -> str:
    percent = round(100.0 * (after / before - 1.0)) if before > 0 else 0
    return f"{percent:+d} %".replace("-", "−") if percent else "none"


def _curve_by(ctx: Context) -> str:
    """Who took the measured curve and with what; empty where that makes it no measurement."""
    by = ctx.side.cam.curve.by if ctx.side.cam.curve else None
    return said_by(by) if by and by.measures else ""


def _smoothed(ctx: Context) -> Smoothed | None:
    table = ctx.side.cam.curve
    return cam.smoothed(table, ctx.side.cam.hand) if table else None
