"""The whole build on a few printed pages: what was entered, worked out and judged."""

from dataclasses import dataclass, replace
from typing import Any

from flask import Blueprint, render_template

from arcstack.assess import Assessment, checks
from arcstack.checks import Evidence, Level
from arcstack.document import FIELDS, SIDES, Absent, Build, Entry, get, said, spoken, unsaid
from arcstack.drawings.section import section
from arcstack.practice.matters import matters
from arcstack.record.owed import titled
from arcstack.services.reasons import about
from arcstack.trials.clearing import condition
from arcstack.units import System
from arcstack.web.frame.margins import Gauge, margins
from arcstack.web.kit.guard import drawn
from arcstack.web.kit.rest import Rest
from arcstack.web.kit.rows import FigureRow, figure_row
from arcstack.web.kit.session import assessed, current_system, workshop
from arcstack.web.kit.stage import STAGES
from arcstack.web.pages.bench.shown import Head, head, strips
from arcstack.web.pages.bench.to_do import GATES

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


def of_side(assessment: Assessment, side: str, system: System) -> SideSheet:
    """One side of the sheet."""
    made = drawn(lambda: section(assessment, side, system))
    gauges = margins(assessment, side, system)
    gauges = [g for g in gauges if not checks()[g.verdict.id].head]
    rows = [r for r in _figures(assessment, side, system) if not _of_engine(r.name)]
    by_stage = [(s.title, [g for g in gauges if g.verdict.stage == s.name]) for s in STAGES if s.judged]
    return SideSheet(
        side, made[0] if made else None, entered(assessment.build, (f"{side}.",)), rows,
        [(title, found) for title, found in by_stage if found],
    )  # fmt: skip


def _figures(assessment: Assessment, side: str, system: System) -> list[FigureRow]:
    names = dict.fromkeys(name for stage in STAGES for name, _ in stage.figures)
    return [r for n in names if (r := figure_row(assessment.sides[side], n, system)) is not None and r.shown]


def _of_engine(name: str) -> bool:
    """Whether a figure is the whole engine's: it stands once, before the sides."""
    return name.startswith(("turbo.", "engine."))


def engine(assessment: Assessment, system: System) -> tuple[list[Gauge], list[FigureRow]]:
    """Verdicts and figures that are alike for both sides."""
    gauges = [g for g in margins(assessment, SIDES[0], system) if checks()[g.verdict.id].head]
    return gauges, [r for r in _figures(assessment, SIDES[0], system) if _of_engine(r.name)]


@dataclass(frozen=True)
class BuiltLine:
    """One check of a side as built: worst, where, how many measured, and the spread over its places."""

    level: Any
    proven: bool
    title: str
    shown: str
    where: str
    measured: str
    spread: str


@dataclass(frozen=True)
class Passed:
    """A check that a hand let pass, as the sheet tells it."""

    title: str
    where: str
    words: str


def _built(here: Head, system: System) -> list[BuiltLine]:
    return [
        BuiltLine(
            s.level, s.proven, s.title, str(s.shown) if s.shown is not None else "–", s.where,
            f"{s.measured} of {s.of}", s.spread,
        )
        for s in strips(here, system)
        if s.judges and (s.measured or s.level is Level.WAIVED)
    ]  # fmt: skip


def _passed(here: Head) -> list[Passed]:
    found = []
    for w in here.sheet.waivers:
        when = w.by.at.date().isoformat() if w.by.at is not None else ""
        settles = f"; settled by {w.settles}" if w.settles else ""
        words = f"{w.by.hand}, {when}, until {w.until}: {w.reason}{settles}"
        found.append(Passed(titled(w.check), w.place or w.side, words))
    return found


@blueprint.get("")
def index(build_id: int) -> str:
    current = workshop().open(build_id)
    assessment, system, build = assessed(current), current_system(), current.build
    here = head(current, SIDES[0])
    later = bool(here.sheet.readings) and here.later(*SIDES)
    told = SIDES if here.sheet.readings and not later else ()
    return render_template(
        "sheet/index.html",
        build=build,
        build_id=build_id,
        revision=current.revision,
        changed=workshop().row(build_id).changed,
        practice=assessment.practice,
        head=entered(build, ("head.", "job.")),
        brief=entered(build, ("brief.", "engine.", "turbo.")),
        engine=engine(assessment, system),
        sides=[of_side(assessment, side, system) for side in SIDES],
        notes=[(about(path), text) for path, text in build.notes.items()],
        decisions=[(matters()[k], d) for k, d in build.decisions.items() if k in matters()],
        built=[(side, _built(replace(here, side=side), system)) for side in told],
        rest=Rest("built") if later else None,
        passed=_passed(here),
        conditions=[c for ctx in assessment.sides.values() if (c := condition(ctx, system))],
        signed=[(title, s) for gate, title in GATES.items() if (s := here.sheet.signed(gate)) is not None],
        waits=assessment.waiting,
        title="Sheet",
    )
