"""The whole build on a few printed pages: what was entered, worked out and judged."""

from dataclasses import dataclass, replace
from typing import Any

from flask import Blueprint, render_template

from arcstack.application.acts.signing import GATES
from arcstack.application.reasons import about
from arcstack.checks import Level
from arcstack.document import SIDES
from arcstack.practice.matters import matters
from arcstack.record.owed import titled
from arcstack.sheets.entered import engine, entered, of_side
from arcstack.trials.clearing import condition
from arcstack.units import System
from arcstack.views.strips import strips
from arcstack.web.kit.rest import Rest
from arcstack.web.kit.session import assessed, current_system, workshop
from arcstack.web.kit.stage import STAGES
from arcstack.web.pages.bench.shown import Head, head

blueprint = Blueprint("sheet", __name__, url_prefix="/builds/<int:build_id>/sheet")


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
        engine=engine(assessment, system, list(STAGES)),
        sides=[of_side(assessment, side, system, list(STAGES)) for side in SIDES],
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
