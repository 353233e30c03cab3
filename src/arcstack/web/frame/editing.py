"""A field typed, previewed, accepted; steps back and forward."""

import json
from collections.abc import Callable
from dataclasses import dataclass, replace

from flask import Blueprint, abort, make_response, render_template, request
from werkzeug.wrappers import Response

from arcstack.checks import Evidence
from arcstack.document import FIELDS, SIDES, Absent, Build, Entry, change, get, named, set_evidence
from arcstack.document.edit import BELONGS
from arcstack.errors import FieldError
from arcstack.services import Current, Who
from arcstack.store import Kind, Reason
from arcstack.units import System
from arcstack.web.frame.around import around, shown
from arcstack.web.kit import asked
from arcstack.web.kit.change import accept
from arcstack.web.kit.rows import FieldRow, field_row
from arcstack.web.kit.session import assessed, current_hand, current_system, current_who, workshop
from arcstack.web.kit.stage import STAGES

blueprint = Blueprint("editing", __name__, url_prefix="/builds/<int:build_id>")


@dataclass(frozen=True)
class Typed:
    """One field as it came in: where it stands, what was typed, and on which page."""

    path: str
    text: str
    evidence: Evidence | None
    stage: str
    side: str


def typed() -> Typed:
    """400 for what no page sends."""
    form = request.form
    path, stage, side = form.get("path", ""), form.get("stage", ""), form.get("side", "")
    if STAGES.find(stage) is None or side not in SIDES or (path != "name" and path not in FIELDS):
        abort(400)
    origin = form.get("evidence", "")
    return Typed(path, form.get("text", ""), Evidence(origin) if origin in tuple(Evidence) else None, stage, side)


def _changed(build: Build, typed: Typed) -> Build:
    """The build with the field set; a figure whose text is unchanged keeps its exact value."""
    if typed.path == "name":
        return build.model_copy(update={"name": named(typed.text, "name", "A build")})
    system = current_system()
    held = get(build, typed.path)
    if isinstance(held, Entry | Absent) and typed.text.strip() == field_row(build, typed.path, system).text:
        if isinstance(held, Absent):
            return build
        origin = typed.evidence or held.evidence
        if origin is held.evidence and not held.outdated:
            return build
        return set_evidence(build, typed.path, origin, current_hand())
    return change(build, typed.path, typed.text, typed.evidence, system, current_hand())


def _parts(current: Current, typed: Typed, accepted: bool) -> str:
    system, assessment, stage = current_system(), assessed(current), STAGES.find(typed.stage)
    assert stage is not None
    return render_template(
        "frame/swap.html",
        **around(current, typed.side, assessment, system, typed.stage),
        **shown(current, typed.side, assessment, system, stage),
        path=typed.path,
        row=None if typed.path == "name" else field_row(current.build, typed.path, system),
        moved=_moved(current.build, typed.path, system) if accepted else [],
        accepted=accepted,
    )


def _moved(build: Build, path: str, system: System) -> list[FieldRow]:
    """Fields that an edit of another may leave outdated, as they read now."""
    side = path.split(".")[0]
    return [field_row(build, f"{side}.{p}", system) for p in BELONGS if side in SIDES and f"{side}.{p}" != path]


def _refused(typed: Typed, error: FieldError) -> Response:
    return make_response(render_template("parts/refused.html", path=typed.path, message=error.message), 422)


@blueprint.post("/preview")
def preview(build_id: int) -> str | Response:
    """What the build would be with the field as typed so far; nothing is stored."""
    field, current = typed(), workshop().open(build_id)
    try:
        changed = _changed(current.build, field)
    except FieldError as error:
        return _refused(field, error)
    return _parts(replace(current, build=changed), field, accepted=False)


@blueprint.post("/edit")
def edit(build_id: int) -> str | Response:
    """Accept the field as typed: a new revision, unless another window was faster."""
    field = typed()
    try:
        current = accept(build_id, lambda build: (_changed(build, field), _why(build, field)))
    except FieldError as error:
        return _refused(field, error)
    response = make_response(_parts(current, field, accepted=True))
    response.headers["X-Accepted"] = json.dumps(_accepted(current.build, field.path))
    return response


def _why(build: Build, typed: Typed) -> Reason:
    if typed.path == "name":
        return Reason(Kind.NAME, before=build.name, after=typed.text.strip())
    before = field_row(build, typed.path, current_system()).text
    return Reason(Kind.FIELD, typed.path, before, typed.text.strip())


def _accepted(build: Build, path: str) -> dict[str, str]:
    """How the field reads now that it is accepted."""
    if path == "name":
        return {"text": build.name, "evidence": ""}
    row = field_row(build, path, current_system())
    return {"text": row.text, "evidence": row.evidence}


@blueprint.post("/undo")
def undo(build_id: int) -> Response:
    """Take the last change back, as a revision of its own; the page is then read anew."""
    return _stepped(build_id, workshop().step_back)


@blueprint.post("/redo")
def redo(build_id: int) -> Response:
    """Make again what the last step back took back."""
    return _stepped(build_id, workshop().step_forward)


def _stepped(build_id: int, step: Callable[[int, int, Who], Current]) -> Response:
    try:
        step(build_id, asked.base(request.form), current_who())
    except FieldError as error:
        told = render_template("parts/told.html", title="Nothing to do", message=error.message)
        return make_response(told, 422)
    response = make_response("", 204)
    response.headers["HX-Refresh"] = "true"
    return response
