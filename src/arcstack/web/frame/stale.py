"""The slower window is told what was saved meanwhile, and may choose."""

from typing import Any

from flask import render_template, request

from arcstack.errors import StaleRevision
from arcstack.services import differences
from arcstack.web.kit.session import workshop

Told = tuple[str, int]


def stale(error: StaleRevision) -> Told:
    """A field keeps what was typed; any other change is told to be asked for again."""
    if request.blueprint != "editing":
        message = "The build was changed in another window; nothing of this was stored. Go back and look again."
        return render_template("layout/error.html", title="Another window was faster", message=message), 409
    build_id = int((request.view_args or {})["build_id"])
    newest = workshop().open(build_id)
    rows = differences(workshop().open(build_id, error.base).build, newest.build)
    typed: Any = (
        {"path": request.form["path"], "text": request.form.get("text", "")} if "path" in request.form else None
    )
    page = render_template(
        "parts/stale.html", typed=typed, stale=error, rows=rows, build_id=build_id, newest=newest.revision
    )
    return page, 409
