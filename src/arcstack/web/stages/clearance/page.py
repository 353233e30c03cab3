"""Both centrelines slid, a tooth out, a cut head: what it would do, with nothing stored."""

import math

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.checks import Verdict
from arcstack.document import SIDES, Build, Entry, change, get
from arcstack.drawings.chamber import Poise, drawing
from arcstack.errors import FieldError, NotKnown
from arcstack.store import Kind, Reason
from arcstack.trials import timing
from arcstack.units import ANGLE, show
from arcstack.views.rows import shown
from arcstack.web.kit import asked, links
from arcstack.web.kit.change import accept
from arcstack.web.kit.session import assessed, current_hand, current_system, workshop
from arcstack.web.stages.clearance.view import spans_deg

blueprint = Blueprint(
    "clearance", __name__, url_prefix="/builds/<int:build_id>/<side:side>/what-if", template_folder="templates"
)

MOST_RAD = math.radians(80.0)
_TEETH, _CUT_MM = (-5.0, 5.0), (-5.0, 5.0)
"""What the sliders can ask."""


@blueprint.get("")
def what_if(build_id: int, side: str) -> str:
    """Every verdict that timing moves, as it is and as it would be."""
    now = assessed(workshop().open(build_id))
    held = {s: timing.centreline_deg(ctx) for s, ctx in now.sides.items()}
    slid = {s: asked.figure(request.args, s, h, 0.0, 360.0) for s, h in held.items() if h is not None}
    teeth = round(asked.figure(request.args, "tooth", 0.0, *_TEETH))
    found = timing.tried(now, timing.Moved(slid, teeth, asked.figure(request.args, "cut", 0.0, *_CUT_MM)))
    closes = timing.closing_after_bdc_rad(found.assessment.sides[SIDES[0]])
    return render_template(
        "clearance/_whatif.html",
        rows=[(was, then, _text(was), _text(then)) for was, then in found.verdicts(now)],
        told=found.told,
        closing="" if closes is None else f"{show(closes, ANGLE)} after BDC",
    )


@blueprint.get("/look")
def look(build_id: int, side: str) -> str:
    """Valves and piston at a crank angle and phaser positions."""
    now, sent = assessed(workshop().open(build_id)), {}
    for s, ctx in now.sides.items():
        low, high = spans_deg(ctx)
        sent[s] = math.radians(asked.figure(request.args, s, 0.0, low - 0.5, high + 0.5))
    crank = math.radians(asked.figure(request.args, "crank", 0.0, -60.0, 60.0))
    try:
        made, of = drawing(now, side, Poise(crank, sent), current_system())
    except NotKnown as told:
        # a figure was cleared since the page was opened
        needs = ", ".join(m.label.lower() for m in told.missing) or told.why
        return render_template("clearance/_undrawn.html", needs=needs)
    return render_template("clearance/_chamber.html", drawing=made, assumed=of.assumed)


@blueprint.post("/limit")
def limit(build_id: int, side: str) -> Response | tuple[str, int]:
    """Limit the phaser, kept by a stop or by software, as a condition of release."""
    path = f"{side}.cam.phaser_limit"

    def limited(build: Build) -> tuple[Build, Reason]:
        degrees = math.degrees(asked.figure(request.form, "limit", 0.0, 0.0, MOST_RAD))
        was = get(build, path)
        made = change(build, path, f"{degrees:.1f} deg", by=current_hand())
        made = change(made, f"{side}.cam.phaser_held", request.form.get("held", ""))
        before = was.typed if isinstance(was, Entry) else ""
        return made, Reason(Kind.FIELD, path, before, f"{degrees:.1f} deg, by {request.form.get('held', '')}")

    try:
        accept(build_id, limited)
    except FieldError as error:
        return render_template("layout/error.html", title="Not taken", message=error.message), 422
    return redirect(links.stage(build_id, "clearance", side) + "#tight")


def _text(verdict: Verdict) -> str:
    return str(shown(verdict.figure, current_system())) if verdict.figure is not None else "–"
