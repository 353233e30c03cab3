"""Both centrelines slid, a tooth out, a cut head: what it would do, with nothing stored."""

from flask import Blueprint, render_template, request

from arcstack.checks import Verdict
from arcstack.document import SIDES
from arcstack.trials import timing
from arcstack.units import ANGLE, show
from arcstack.web.kit import asked
from arcstack.web.kit.rows import shown
from arcstack.web.kit.session import assessed, current_system, workshop

blueprint = Blueprint(
    "clearance", __name__, url_prefix="/builds/<int:build_id>/<side:side>/what-if", template_folder="templates"
)

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


def _text(verdict: Verdict) -> str:
    return str(shown(verdict.figure, current_system())) if verdict.figure is not None else "–"
