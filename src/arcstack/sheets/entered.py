"""What was entered of a build and worked out of it, side by side and stage by stage."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from arcstack.assess import Assessment, checks
from arcstack.checks import Evidence
from arcstack.document import FIELDS, SIDES, Absent, Build, Entry, get, said, spoken, unsaid
from arcstack.drawings.section import section
from arcstack.sheets.saying import StageShown
from arcstack.units import System
from arcstack.views.drawn import drawn
from arcstack.views.margins import Gauge, margins
from arcstack.views.rows import FigureRow, figure_row


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


def entered(build: Build, prefix: tuple[str, ...]) -> list[Line]:
    """What was entered under some paths, as it was typed."""
    found = []
    for field in FIELDS.of(build):
        if not field.path.startswith(prefix) or ".candidates." in field.path:
            continue
        value, assumed = get(build, field.path), unsaid(build, field.path)
        text = said(value) if isinstance(value, Entry | Absent) or value is None else str(value)
        text = f"not said: {assumed}" if assumed else text
        kind = build.engine.follower.value
        other = ".follower." in field.path and field.path.split(".")[2] in ("bucket", "finger", "rocker")
        if not text or (other and field.path.split(".")[2] != kind):
            continue
        label = spoken(field.path)
        if field.path.split(".")[0] in SIDES:
            label = label.partition(" ")[2]
        worth = "said" if isinstance(value, Absent) else value.stands.value if isinstance(value, Entry) else ""
        worth = Evidence.ASSUMED.value if assumed else worth
        found.append(Line(label[:1].upper() + label[1:], text, worth, build.notes.get(field.path, "")))
    return found


def of_side(assessment: Assessment, side: str, system: System, stages: Sequence[StageShown]) -> SideSheet:
    """One side of the sheet."""
    made = drawn(lambda: section(assessment, side, system))
    gauges = margins(assessment, side, system)
    gauges = [g for g in gauges if not checks()[g.verdict.id].head]
    rows = [r for r in _figures(assessment, side, system, stages) if not _of_engine(r.name)]
    by_stage = [(s.title, [g for g in gauges if g.verdict.stage == s.name]) for s in stages if s.judged]
    return SideSheet(
        side, made[0] if made else None, entered(assessment.build, (f"{side}.",)), rows,
        [(title, found) for title, found in by_stage if found],
    )  # fmt: skip


def _figures(assessment: Assessment, side: str, system: System, stages: Sequence[StageShown]) -> list[FigureRow]:
    names = dict.fromkeys(name for stage in stages for name, _ in stage.figures)
    return [r for n in names if (r := figure_row(assessment.sides[side], n, system)) is not None and r.shown]


def _of_engine(name: str) -> bool:
    """Whether a figure is the whole engine's: it stands once, before the sides."""
    return name.startswith(("turbo.", "engine."))


def engine(assessment: Assessment, system: System, stages: Sequence[StageShown]) -> tuple[list[Gauge], list[FigureRow]]:
    """Verdicts and figures that are alike for both sides."""
    gauges = [g for g in margins(assessment, SIDES[0], system) if checks()[g.verdict.id].head]
    return gauges, [r for r in _figures(assessment, SIDES[0], system, stages) if _of_engine(r.name)]
