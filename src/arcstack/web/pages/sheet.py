"""The whole build on a few printed pages: what was entered, worked out and judged."""

from dataclasses import dataclass
from typing import Any

from flask import Blueprint, render_template

from arcstack.assess import Assessment
from arcstack.document import FIELDS, SIDES, Absent, Build, Entry, get, said, spoken
from arcstack.practice.matters import matters
from arcstack.services.reasons import about
from arcstack.units import System
from arcstack.web.drawings.section import section
from arcstack.web.frame.margins import Gauge, margins
from arcstack.web.kit.guard import drawn
from arcstack.web.kit.rows import FigureRow, figure_row
from arcstack.web.kit.session import assessed, current_system, workshop
from arcstack.web.kit.stage import STAGES

blueprint = Blueprint("sheet", __name__, url_prefix="/builds/<int:build_id>/sheet")


@dataclass(frozen=True)
class Line:
    """One figure that was entered: what it is, as typed, and what it is worth."""

    label: str
    text: str
    evidence: str
    note: str


@dataclass(frozen=True)
class SideSheet:
    """One side: its drawing, what was entered, what was worked out, and the verdicts by stage."""

    name: str
    drawing: Any
    entered: list[Line]
    figures: list[FigureRow]
    verdicts: list[tuple[str, list[Gauge]]]


def _entered(build: Build, prefix: tuple[str, ...]) -> list[Line]:
    found = []
    for field in FIELDS.of(build):
        if not field.path.startswith(prefix) or ".candidates." in field.path:
            continue
        value = get(build, field.path)
        text = said(value) if isinstance(value, Entry | Absent) or value is None else str(value)
        kind = build.engine.follower.value
        other = ".follower." in field.path and field.path.split(".")[2] in ("bucket", "finger", "rocker")
        if not text or (other and field.path.split(".")[2] != kind):
            continue
        label = spoken(field.path)
        if field.path.split(".")[0] in SIDES:
            label = label.partition(" ")[2]
        worth = "said" if isinstance(value, Absent) else value.stands.value if isinstance(value, Entry) else ""
        found.append(Line(label[:1].upper() + label[1:], text, worth, build.notes.get(field.path, "")))
    return found


def _side(assessment: Assessment, side: str, system: System) -> SideSheet:
    made = drawn(lambda: section(assessment, side, system))
    gauges = margins(assessment, side, system)
    names = dict.fromkeys(name for stage in STAGES for name, _ in stage.figures)
    rows = [r for n in names if (r := figure_row(assessment.sides[side], n, system)) is not None and r.shown]
    by_stage = [(s.title, [g for g in gauges if g.verdict.stage == s.name]) for s in STAGES if s.judged]
    return SideSheet(
        side, made[0] if made else None, _entered(assessment.build, (f"{side}.",)), rows,
        [(title, found) for title, found in by_stage if found],
    )  # fmt: skip


@blueprint.get("")
def index(build_id: int) -> str:
    current = workshop().open(build_id)
    assessment, system, build = assessed(current), current_system(), current.build
    return render_template(
        "sheet/index.html",
        build=build,
        build_id=build_id,
        revision=current.revision,
        changed=workshop().row(build_id).changed,
        practice=assessment.practice,
        head=_entered(build, ("head.", "job.")),
        brief=_entered(build, ("brief.", "engine.")),
        sides=[_side(assessment, side, system) for side in SIDES],
        notes=[(about(path), text) for path, text in build.notes.items()],
        decisions=[(matters()[k], d) for k, d in build.decisions.items() if k in matters()],
        waits=assessment.waiting,
        title="Sheet",
    )
