from flask import Blueprint, abort, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.assess import Assessment
from arcstack.checks import Verdict
from arcstack.errors import FieldError
from arcstack.web.frame.around import around
from arcstack.web.frame.waiting import questions
from arcstack.web.kit import asked, links
from arcstack.web.kit.session import assessed, current_system, current_who, sweeps, workshop

blueprint = Blueprint("revisions", __name__, url_prefix="/builds/<int:build_id>/<side:side>/revisions")


@blueprint.get("")
def index(build_id: int, side: str) -> str:
    return _page(build_id, side)


def _page(build_id: int, side: str, told: str = "") -> str:
    current = workshop().open(build_id)
    second = asked.whole(request.args, "second") or current.revision
    first = asked.whole(request.args, "first") or max(second - 1, 1)
    first, second = min(first, second), max(first, second)
    before, after = workshop().open(build_id, first), workshop().open(build_id, second)
    old, new = assessed(before), assessed(after)
    for assessment in (old, new):
        for ask in questions(assessment.sides[side]):
            sweeps().start(ask.question)
    return render_template(
        "revisions/index.html",
        **around(current, side, assessed(current), current_system()),
        rows=workshop().revisions(build_id, asked.whole(request.args, "page") or 1),
        first=first,
        second=second,
        changes=workshop().compare(build_id, first, second),
        verdict_changes=_verdict_changes(old, new),
        turning=old.waiting or new.waiting,
        told=told,
        title="Revisions",
    )


def _verdict_changes(before: Assessment, after: Assessment) -> list[tuple[Verdict, Verdict]]:
    """Verdicts that judge and whose level differs; one that still waits on either side is left out."""
    old = {v.key: v for v in before.verdicts if not v.waiting}
    new = {v.key: v for v in after.verdicts if v.judges and not v.waiting}
    return [(old[k], new[k]) for k in new if k in old and old[k].level is not new[k].level]


@blueprint.post("/restore")
def restore(build_id: int, side: str) -> Response | tuple[str, int]:
    """Make an earlier revision the newest again."""
    base, to = asked.base(request.form), asked.whole(request.form, "to")
    if to is None:
        abort(400)
    try:
        workshop().restore(build_id, base, to, current_who())
    except FieldError as error:
        return _page(build_id, side, error.message), 422
    return redirect(links.revisions(build_id, side))
