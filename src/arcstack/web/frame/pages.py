"""A stage's page, and the working of a figure or verdict in a drawer."""

from flask import Blueprint, abort, redirect, render_template
from werkzeug.wrappers import Response

from arcstack.assess import checks, figures
from arcstack.assess.catalogue import find
from arcstack.checks import Figure, Limit, Verdict
from arcstack.document import SIDES
from arcstack.errors import CurveConflict, NotKnown
from arcstack.units import show
from arcstack.views.margins import limit_words, waiver_words
from arcstack.views.working import inputs, lines
from arcstack.web.frame.around import stage_called, stage_page
from arcstack.web.kit import links
from arcstack.web.kit.session import assessed, current_system, workshop

blueprint = Blueprint("stages", __name__, url_prefix="/builds/<int:build_id>")


@blueprint.get("/")
def start(build_id: int) -> Response:
    return redirect(links.stage(build_id, "stack", SIDES[0]))


@blueprint.get("/<side:side>/<stage>")
def stage(build_id: int, side: str, stage: str) -> str:
    found = stage_called(stage)
    return stage_page(workshop().open(build_id), side, found)


@blueprint.get("/<side:side>/working/<name>")
def working(build_id: int, side: str, name: str) -> str:
    """The working of a figure that a page shows."""
    if name not in figures():
        abort(404)
    found = find(assessed(workshop().open(build_id)).sides[side], name)
    if isinstance(found, CurveConflict):
        return render_template("parts/notice.html", title="No figure", message=found.why)
    if isinstance(found, NotKnown):
        needs = ", ".join(m.label for m in found.missing)
        return render_template("parts/notice.html", title="Nothing to work yet", message=f"Needs {needs}.")
    return _working(build_id, side, found, None, found.label)


@blueprint.get("/<side:side>/verdict/<check>")
def verdict(build_id: int, side: str, check: str) -> str:
    """The working of a verdict, with its limit and reason."""
    about, assessment = checks().get(check), assessed(workshop().open(build_id))
    found = next((v for v in assessment.of_side(side) if v.id == check), None)
    if found is None or about is None:
        abort(404)
    if found.figure is None:
        return render_template("parts/missing.html", verdict=found, build_id=build_id, side=side, check=about)
    return _working(build_id, side, found.figure, found.limit, found.title, found)


def _working(
    build_id: int, side: str, figure: Figure, limit: Limit | None, title: str, verdict: Verdict | None = None
) -> str:
    system = current_system()
    return render_template(
        "parts/working.html",
        title=title,
        side=side,
        build_id=build_id,
        figure=figure,
        verdict=verdict,
        limit=limit,
        limit_words=limit_words(limit, system) if limit else "",
        practice_words=[waiver_words(w, limit, system) for w in verdict.waivers] if verdict and limit else [],
        band=" to ".join(str(show(end, figure.dimension, system)) for end in figure.band) if figure.band else "",
        lines=lines(figure, system),
        inputs=inputs(figure, system),
    )
