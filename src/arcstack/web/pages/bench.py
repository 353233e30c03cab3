"""What every page of a build shows around its stage, and the parts that an edit swaps."""

from dataclasses import dataclass
from typing import Any

from flask import abort, render_template

from arcstack.assess import Assessment, assess, cam, card, follower
from arcstack.assess.context import Context
from arcstack.build import SIDES, Build
from arcstack.mech.cam.smoothing import Smoothed
from arcstack.services import Current
from arcstack.units import System
from arcstack.web.drawings.crown import crown, lobe_picture
from arcstack.web.drawings.curves import cam_chart, clearance_chart, contact_chart
from arcstack.web.drawings.scrubber import scrubber
from arcstack.web.drawings.section import section
from arcstack.web.session import current_system, workshop
from arcstack.web.view.events import centreline_deg, tables
from arcstack.web.view.layout import BY_NAME, STAGES, Stage
from arcstack.web.view.margins import WIDTH, margins
from arcstack.web.view.motion import motion_rows
from arcstack.web.view.rows import FIGURE_LABELS, FieldRow, field_row, figure_row


@dataclass(frozen=True)
class FieldGroup:
    title: str
    part: str
    help: str
    rows: list[FieldRow]


@dataclass(frozen=True)
class Bench:
    """One build at one revision, on one stage and side."""

    current: Current
    stage: Stage
    side: str

    @property
    def build(self) -> Build:
        return self.current.build


def open_bench(build_id: int, stage: str, side: str, build: Current | None = None) -> Bench:
    """Raises 404 for a stage or a side that does not exist."""
    if stage not in BY_NAME or side not in SIDES:
        abort(404)
    return Bench(build or workshop().open(build_id), BY_NAME[stage], side)


def groups(bench: Bench, system: System) -> list[FieldGroup]:
    found = []
    for group in bench.stage.groups:
        rows = [
            field_row(bench.build, path if path.startswith(("brief.", "engine.")) else f"{bench.side}.{path}", system)
            for path in group.paths
        ]
        found.append(FieldGroup(group.title, group.part, group.help, rows))
    return found


def around(current: Current, side: str, assessment: Assessment, system: System, stage: str = "") -> dict[str, Any]:
    """What the frame shows: stages with their marks, margins, top line."""
    return {
        "build": current.build,
        "build_id": current.id,
        "revision": current.revision,
        "side": side,
        "sides": SIDES,
        "stage": stage,
        "stages": [
            (s.name, s.title, assessment.stage_level(s.name, side), assessment.stage_proven(s.name)) for s in STAGES
        ],
        "assessment": assessment,
        "practice": assessment.practice,
        "gauges": margins(assessment, side, system),
        "gauge_width": WIDTH,
        "undo_to": workshop().undo_target(current.id),
    }


def swapped(bench: Bench, assessment: Assessment, system: System) -> dict[str, Any]:
    """What an edit on this stage changes beside the frame."""
    ctx = assessment.sides[bench.side]
    shown: dict[str, Any] = {
        "figures": [
            (heading, figure_row(ctx, name, FIGURE_LABELS[name], system)) for name, heading in bench.stage.figures
        ]
    }
    if bench.stage.name == "stack":
        drawing, moving, geometry = section(assessment, bench.side, system)
        index = moving.nose
        shown.update(drawing=drawing, frames=moving, geometry=geometry, curve=scrubber(moving, index), index=index)
    if bench.stage.name == "cam":
        shown.update(
            chart=cam_chart(ctx, system),
            audits=card.audits(ctx),
            conflict=card.conflict(ctx),
            compared=card.against_curve(ctx),
            cautions=follower.cautions(ctx),
            crown=crown(ctx),
            lobe_picture=lobe_picture(ctx),
            event_tables=tables(ctx, 0.0, system),
            bucket=ctx.bucket,
            ratio_now=ctx.side.cam.ratio.value if ctx.side.cam.ratio else None,
            motion_rpm=_speed(bench.build),
            motion_rows=motion_rows(ctx, _speed(bench.build)),
            curve=ctx.side.cam.curve,
            smoothed=_smoothed(ctx),
        )
    if bench.stage.name == "control":
        shown.update(chart=contact_chart(ctx, system))
    if bench.stage.name == "clearance":
        shown.update(chart=clearance_chart(ctx, system), centrelines=_centrelines(bench.build))
    return shown


def _speed(build: Build) -> int:
    """Speed that the motion starts at: the limiter, else 6,000."""
    limiter = build.brief.limiter
    return round(limiter.value) if limiter else 6000


def _smoothed(ctx: Context) -> Smoothed | None:
    table = ctx.side.cam.curve
    return cam.smoothed(table, ctx.side.cam.hand) if table else None


def _centrelines(build: Build) -> dict[str, float | None]:
    return {side: centreline_deg(build, side) for side in SIDES}


def stage_page(bench: Bench) -> str:
    system = current_system()
    assessment = assess(bench.build)
    return render_template(
        f"stages/{bench.stage.name}.html",
        **around(bench.current, bench.side, assessment, system, bench.stage.name),
        **swapped(bench, assessment, system),
        groups=groups(bench, system),
        title=bench.stage.title,
    )
