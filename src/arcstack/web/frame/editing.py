"""A field typed, previewed, accepted; steps back and forward."""

import json
from collections.abc import Callable
from dataclasses import dataclass, replace

from flask import Blueprint, abort, make_response, render_template, request
from werkzeug.wrappers import Response

from arcstack.application import Current, Who, differences
from arcstack.checks import Evidence
from arcstack.document import FIELDS, SIDES, Absent, Build, Entry, change, get, named, said, set_evidence
from arcstack.document.belongs import resting_on
from arcstack.document.edit import with_note
from arcstack.document.model import LONGEST_NOTE
from arcstack.document.words import noted
from arcstack.errors import FieldError
from arcstack.store import Kind, Reason
from arcstack.units import System
from arcstack.views.rows import FieldRow, field_row, measure_of
from arcstack.web.frame.around import around, shown
from arcstack.web.frame.turned import turned
from arcstack.web.kit import asked
from arcstack.web.kit.change import accept
from arcstack.web.kit.session import assessed, current_hand, current_system, current_who, workshop
from arcstack.web.kit.stage import STAGES

blueprint = Blueprint("editing", __name__, url_prefix="/builds/<int:build_id>")


ON = "note:"
"""Begins the path of a note on a field, before the field's own."""


@dataclass(frozen=True)
class Typed:
    """One field as it came in: where it stands, what was typed, and on which page.

    Besides the document's fields there are the build's name, its note, and a note on any field.
    """

    path: str
    text: str
    evidence: Evidence | None
    stage: str
    side: str

    @property
    def about(self) -> str:
        """The field that is shown anew; an empty text for what is no field of the document."""
        own = self.path.removeprefix(ON)
        return own if own in FIELDS else ""


def typed() -> Typed:
    """400 for what no page sends."""
    form = request.form
    path, stage, side = form.get("path", ""), form.get("stage", ""), form.get("side", "")
    own = path.removeprefix(ON)
    if STAGES.find(stage) is None or side not in SIDES or (path not in ("name", "note") and own not in FIELDS):
        abort(400)
    origin = form.get("evidence", "")
    return Typed(path, form.get("text", ""), Evidence(origin) if origin in tuple(Evidence) else None, stage, side)


def _changed(build: Build, typed: Typed) -> Build:
    """The build with the field set; a figure whose text is unchanged keeps its exact value."""
    if typed.path == "name":
        return build.model_copy(update={"name": named(typed.text, "name", "A build")})
    if typed.path == "note":
        return build.model_copy(update={"note": noted(typed.text, "note", LONGEST_NOTE)})
    if typed.path.startswith(ON):
        return with_note(build, typed.about, typed.text)
    system = current_system()
    held = get(build, typed.path)
    if isinstance(held, Entry | Absent) and typed.text.strip() == field_row(build, typed.path, system).text:
        if isinstance(held, Absent):
            return build
        origin = typed.evidence or held.evidence
        if origin is held.evidence and not held.outdated:
            return build
        return set_evidence(build, typed.path, origin, current_hand(measure_of(typed.path)))
    return change(build, typed.path, typed.text, typed.evidence, system, current_hand(measure_of(typed.path)))


def parts_of(
    current: Current, typed: Typed, accepted: bool, before: Current | None = None, others: "Others | None" = None
) -> str:
    """What an edit changes of the page it stands on; ``before`` is the build that it was made on, ``others`` what other
    hands changed beside it."""
    system, assessment, stage = current_system(), assessed(current), STAGES.find(typed.stage)
    assert stage is not None
    stood = assessed(before) if before is not None else None
    return render_template(
        "frame/swap.html",
        **around(current, typed.side, assessment, system, typed.stage),
        **shown(current, typed.side, assessment, system, stage),
        path=typed.about,
        row=field_row(current.build, typed.about, system) if typed.about else None,
        moved=_moved(current.build, typed.about, system) if accepted and typed.about else [],
        accepted=accepted,
        others=others,
        pending=before is not None and before.build != current.build,
        turned=turned(stood, assessment) if stood is not None and accepted else [],
    )


@dataclass(frozen=True)
class Others:
    """What other hands changed while a field was being typed: who, the fields in words, and as they read now."""

    who: str
    words: str
    fields: list[dict[str, str]]


def others(before: Current, current: Current, own: str) -> Others | None:
    """None where nobody was faster."""
    if current.revision <= before.revision + 1:
        return None
    theirs = workshop().open(current.id, current.revision - 1)
    rows = [c for c in differences(before.build, theirs.build) if c.path != own]
    between = range(before.revision + 1, current.revision)
    hands = [r.author for r in workshop().revisions(current.id).rows if r.number in between]
    return Others(
        " and ".join(dict.fromkeys(reversed(hands))) or "Another hand",
        ", ".join(c.label for c in rows[:MOST_SAID]) + (" and more" if len(rows) > MOST_SAID else ""),
        [as_it_stands(current, c.path) for c in rows],
    )


MOST_SAID = 4


def as_it_stands(newest: Current, path: str) -> dict[str, str]:
    """A field as it reads in the newest revision; empty of what is no field."""
    try:
        row = field_row(newest.build, path, current_system())
    except KeyError:
        return {"path": path}
    return {"path": path, "text": row.text, "evidence": row.evidence}


def _moved(build: Build, path: str, system: System) -> list[FieldRow]:
    """Fields that an edit of another may leave outdated, as they read now."""
    side, _, source = path.partition(".")
    sides, source = ((side,), source) if side in SIDES else (SIDES, path)
    reached = [f"{s}.{p}" for s in sides for p in resting_on(source)]
    return [
        field_row(build, p, system) for p in reached if p in FIELDS and p != path and isinstance(get(build, p), Entry)
    ]


def _refused(typed: Typed, error: FieldError) -> Response:
    told = {"path": typed.path, "message": error.message, "readings": error.readings}
    return make_response(render_template("parts/refused.html", **told), 422)


@blueprint.post("/preview")
def preview(build_id: int) -> str | Response:
    """What the build would be with the field as typed so far; nothing is stored."""
    field, current = typed(), workshop().open(build_id)
    try:
        changed = _changed(current.build, field)
    except FieldError as error:
        return _refused(field, error)
    return parts_of(replace(current, build=changed), field, accepted=False, before=current)


@blueprint.post("/edit")
def edit(build_id: int) -> str | Response:
    """Accept the field as typed: a new revision, unless another window was faster."""
    field = typed()
    try:
        current = accept(build_id, lambda build: _made(build, field), beside=True)
    except FieldError as error:
        return _refused(field, error)
    before = workshop().open(build_id, asked.base(request.form))
    response = make_response(
        parts_of(current, field, accepted=True, before=before, others=others(before, current, field.path))
    )
    response.headers["X-Accepted"] = json.dumps(_accepted(current.build, field.path))
    return response


def _made(build: Build, typed: Typed) -> tuple[Build, Reason]:
    """The build with the field set, and why: what stood there and what does, each with its unit."""
    changed = _changed(build, typed)
    if typed.path == "name":
        return changed, Reason(Kind.NAME, before=build.name, after=changed.name)
    if typed.path == "note" or typed.path.startswith(ON):
        return changed, Reason(Kind.NOTE, typed.about or "note", after=" ".join(typed.text.split())[:200])
    before, after = get(build, typed.path), get(changed, typed.path)
    was, now = said(before), said(after)
    if was == now and isinstance(before, Entry) and isinstance(after, Entry):
        was, now = f"{was}, {before.stands.value}", f"{now}, {after.stands.value}"
    return changed, Reason(Kind.FIELD, typed.path, was, now)


def _accepted(build: Build, path: str) -> dict[str, str]:
    """How the field reads now that it is accepted."""
    if path in ("name", "note"):
        return {"text": str(getattr(build, path)), "evidence": ""}
    if path.startswith(ON):
        return {"text": build.notes.get(path.removeprefix(ON), ""), "evidence": ""}
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
