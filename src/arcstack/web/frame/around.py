"""What stands round a stage: the list of stages, margins, top line; and the page they make together."""

from typing import Any

from flask import abort, render_template, request

from arcstack.application import Current
from arcstack.assess import Assessment
from arcstack.document import SIDES, Build
from arcstack.units import System
from arcstack.views.margins import WIDTH, margins, share
from arcstack.views.rows import FieldGroup, field_row, figure_row
from arcstack.web.kit.session import assessed, current_system
from arcstack.web.kit.stage import STAGES, On, Stage, full_paths


def stage_called(name: str) -> Stage:
    """404 for a stage that does not exist."""
    found = STAGES.find(name)
    if found is None:
        abort(404)
    return found


def groups(build: Build, side: str, stage: Stage, system: System) -> list[FieldGroup]:
    """The stage's fields as this build has them."""
    return [
        FieldGroup(g.title, g.part, g.help, [field_row(build, p, system) for p in full_paths(build, side, g.paths)])
        for g in stage.groups
    ]


def around(current: Current, side: str, assessment: Assessment, system: System, stage: str = "") -> dict[str, Any]:
    """What the frame shows: stages with their marks, margins, top line."""
    gauges, here = margins(assessment, side, system), STAGES.find(stage)
    return {
        "build": current.build,
        "build_id": current.id,
        "revision": current.revision,
        "side": side,
        "sides": SIDES,
        "stage": stage,
        "stages": [(s, assessment.stage_level(s.name, side), assessment.stage_proven(s.name)) for s in STAGES],
        "assessment": assessment,
        "practice": assessment.practice,
        "gauges": gauges,
        "share": share(gauges, stage, here.title) if here else None,
        "gauge_width": WIDTH,
        "wanted": frozenset(m.path for v in assessment.verdicts if v.judges for m in v.missing),
        "waits": assessment.waiting,
        "steps": current.steps,
    }


def shown(current: Current, side: str, assessment: Assessment, system: System, stage: Stage) -> dict[str, Any]:
    """What an edit on a stage changes beside the frame: its figures, and what is its own."""
    on = On(current.build, current.id, side, assessment, system, request.args)
    rows = [(heading, row) for name, heading in stage.figures if (row := figure_row(on.ctx, name, system)) is not None]
    headings = list(dict.fromkeys(heading for heading, _ in rows))
    return {"figures": rows, "headings": headings, "swaps": stage.swaps} | stage.show(on)


def stage_page(current: Current, side: str, stage: Stage) -> str:
    system, assessment = current_system(), assessed(current)
    return render_template(
        f"{stage.name}/page.html",
        **around(current, side, assessment, system, stage.name),
        **shown(current, side, assessment, system, stage),
        groups=groups(current.build, side, stage, system),
        title=stage.title,
    )
