import json
from collections.abc import Callable
from dataclasses import dataclass, replace

from flask import Blueprint, abort, make_response, render_template, request
from werkzeug.wrappers import Response

from arcstack.checks import Evidence
from arcstack.document import FIELDS, SIDES, Build, Entry, change, get, set_evidence
from arcstack.document.edit import BELONGS
from arcstack.errors import FieldError, StaleRevision
from arcstack.services import Current, Who, differences
from arcstack.store import Kind, Reason
from arcstack.units import System
from arcstack.web import asked
from arcstack.web.pages.bench import around, open_bench, swapped
from arcstack.web.session import assessed, current_hand, current_system, current_who, workshop
from arcstack.web.view.layout import BY_NAME
from arcstack.web.view.rows import FieldRow, field_row

blueprint = Blueprint("editing", __name__, url_prefix="/builds/<int:build_id>")


@dataclass(frozen=True)
class Typed:
    """One field as it came in: where it stands, what was typed, and the revision it was typed on."""

    path: str
    text: str
    evidence: Evidence | None
    base: int
    stage: str
    side: str


def _typed() -> Typed:
    form = request.form
    path, stage, side = form.get("path", ""), form.get("stage", ""), form.get("side", "")
    if stage not in BY_NAME or side not in SIDES or path not in (*FIELDS, "name"):
        abort(400)
    origin = form.get("evidence", "")
    evidence = Evidence(origin) if origin in tuple(Evidence) else None
    return Typed(path, form.get("text", ""), evidence, asked.base(form), stage, side)


def _changed(build: Build, typed: Typed) -> Build:
    """The build with the field set; a figure whose text is unchanged keeps its exact value."""
    if typed.path == "name":
        name = " ".join(typed.text.split())
        if not name or len(name) > 80 or not name.isprintable():
            raise FieldError("name", "A build needs a name of at most 80 characters.")
        return build.model_copy(update={"name": name})
    system = current_system()
    held = get(build, typed.path)
    if isinstance(held, Entry) and typed.text.strip() == field_row(build, typed.path, system).text:
        origin = typed.evidence or held.evidence
        if origin is held.evidence and not held.outdated:
            return build
        return set_evidence(build, typed.path, origin, current_hand())
    return change(build, typed.path, typed.text, typed.evidence, system, current_hand())


def _parts(current: Current, typed: Typed, accepted: bool) -> str:
    system = current_system()
    bench = open_bench(current.id, typed.stage, typed.side, current)
    assessment = assessed(current.build)
    row = None if typed.path == "name" else field_row(current.build, typed.path, system)
    return render_template(
        "parts/swap.html",
        **around(current, typed.side, assessment, system, typed.stage),
        **swapped(bench, assessment, system),
        path=typed.path,
        row=row,
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
    typed = _typed()
    current = workshop().open(build_id)
    try:
        changed = _changed(current.build, typed)
    except FieldError as error:
        return _refused(typed, error)
    return _parts(replace(current, build=changed), typed, accepted=False)


@blueprint.post("/edit")
def edit(build_id: int) -> str | Response:
    """Accept the field as typed: a new revision, unless another window was faster."""
    typed = _typed()
    base = workshop().open(build_id, typed.base)
    try:
        changed = _changed(base.build, typed)
        current = workshop().save(build_id, typed.base, changed, current_who(), _why(base.build, typed))
    except FieldError as error:
        return _refused(typed, error)
    except StaleRevision as stale:
        return _stale(build_id, stale, typed)
    response = make_response(_parts(current, typed, accepted=True))
    response.headers["X-Accepted"] = json.dumps(_accepted(current.build, typed.path))
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


def _stale(build_id: int, stale: StaleRevision, typed: Typed | None = None) -> Response:
    """Tell the slower window what was saved meanwhile, and let it choose."""
    newest = workshop().open(build_id)
    rows = differences(workshop().open(build_id, stale.base).build, newest.build)
    page = render_template(
        "parts/stale.html", typed=typed, stale=stale, rows=rows, build_id=build_id, newest=newest.revision
    )
    return make_response(page, 409)


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
    except StaleRevision as stale:
        return _stale(build_id, stale)
    except FieldError as error:
        told = render_template("parts/told.html", title="Nothing to do", message=error.message)
        return make_response(told, 422)
    response = make_response("", 204)
    response.headers["HX-Refresh"] = "true"
    return response
