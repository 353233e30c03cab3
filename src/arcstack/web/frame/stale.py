"""The slower window is told what was saved meanwhile, and may choose."""

from contextlib import suppress
from typing import Any

from flask import render_template, request
from werkzeug.exceptions import BadRequest

from arcstack.application import differences
from arcstack.application.reasons import about
from arcstack.errors import StaleRevision
from arcstack.web.frame.editing import as_it_stands, parts_of, typed
from arcstack.web.kit.session import workshop

Told = tuple[str, int]


def stale(error: StaleRevision) -> Told:
    """A field keeps what was typed; any other change is told to be asked for again."""
    if request.blueprint != "editing":
        message = "The build was changed in another window; nothing of this was stored. Go back and look again."
        return render_template("layout/error.html", title="Another window was faster", message=message), 409
    build_id = int((request.view_args or {})["build_id"])
    newest = workshop().open(build_id)
    base = min(error.base, newest.revision)
    rows = differences(workshop().open(build_id, base).build, newest.build)
    mine: Any = None
    parts = ""
    # a step back sends no field; what no page sends is no field either
    with suppress(BadRequest):
        field = typed()
        mine = {"path": field.path, "label": _label(field.path), "text": field.text}
        parts = parts_of(newest, field, accepted=True)
    page = render_template(
        "parts/stale.html", typed=mine, base=base, rows=rows, build_id=build_id, newest=newest.revision,
        who=_who(build_id, base, newest.revision),
        theirs=[as_it_stands(newest, row.path) for row in rows],
    )  # fmt: skip
    return parts + page, 409


def _label(path: str) -> str:
    return "the note" if path.startswith("note") else about(path)


def _who(build_id: int, base: int, newest: int) -> str:
    """Whose hands were faster."""
    rows = [r.author for r in workshop().revisions(build_id).rows if base < r.number <= newest]
    return " and ".join(dict.fromkeys(reversed(rows))) or "Another window"
