from flask import Blueprint, abort, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.build import SIDES, Build
from arcstack.checks import Verdict
from arcstack.errors import FieldError, StaleRevision
from arcstack.web import links
from arcstack.web.pages.bench import around
from arcstack.web.session import assessed, current_system, current_who, workshop

blueprint = Blueprint("revisions", __name__, url_prefix="/builds/<int:build_id>/<side>/revisions")


@blueprint.get("")
def index(build_id: int, side: str) -> str:
    return _page(build_id, side)


def _page(build_id: int, side: str, told: str = "") -> str:
    if side not in SIDES:
        abort(404)
    current = workshop().open(build_id)
    second = request.args.get("second", current.revision, type=int)
    first = request.args.get("first", max(second - 1, 1), type=int)
    first, second = min(first, second), max(first, second)
    before, after = workshop().open(build_id, first), workshop().open(build_id, second)
    verdicts = _verdict_changes(before.build, after.build)
    return render_template(
        "revisions/index.html",
        **around(current, side, assessed(current.build), current_system()),
        rows=workshop().revisions(build_id),
        first=first,
        second=second,
        changes=workshop().compare(build_id, first, second),
        verdict_changes=verdicts,
        told=told,
        title="Revisions",
    )


def _verdict_changes(before: Build, after: Build) -> list[tuple[Verdict, Verdict]]:
    """Verdicts whose level differs between two builds."""
    old = {v.key: v for v in assessed(before).verdicts}
    new = {v.key: v for v in assessed(after).verdicts}
    return [(old[k], new[k]) for k in new if k in old and new[k].judges and old[k].level is not new[k].level]


@blueprint.post("/restore")
def restore(build_id: int, side: str) -> Response | tuple[str, int]:
    """Make an earlier revision the newest again."""
    base, to = request.form.get("base", type=int), request.form.get("to", type=int)
    if base is None or to is None:
        abort(400)
    try:
        workshop().step_back(build_id, base, to, current_who())
    except StaleRevision:
        return _page(build_id, side, "The build was changed in another window; look again before stepping back."), 409
    except FieldError as error:
        return _page(build_id, side, error.message), 422
    return redirect(links.revisions(build_id, side))
