"""The trail: what was done to the workshop itself, by whom, from where."""

import logging

from flask import Blueprint, Flask, Response, g, redirect, render_template, request, url_for
from werkzeug.wrappers import Response as Answer

from arcstack.application.trail import LEAST_DAYS, Trail
from arcstack.application.workshop import Who
from arcstack.errors import FieldError, StoreError
from arcstack.web.kit import asked
from arcstack.web.kit.session import current_who, shop

_log = logging.getLogger("arcstack.web")

blueprint = Blueprint("trail", __name__, url_prefix="/trail")

NOTED = {
    "people.signing_in": "signed in",
    "people.sign_out": "signed out",
    "people.own_password": "password",
    "people.second": "second factor",
    "people.end_own": "session ended",
    "people.end_session": "session ended",
    "people.add": "person",
    "people.change": "person",
    "workshop.remove": "head removed",
    "workshop.import_build": "import",
    "workshop.export": "head taken out",
    "backups.along": "workshop taken out",
    "backups.take": "backup",
    "sign_off.sign": "signature",
    "sign_off.reopen": "opened again",
    "gauges_list.allow": "address",
    "gauges_list.refuse": "address off",
    "pictures.original": "original photograph",
}
"""What is noted, by its address."""

TOLD = ("name", "role", "active", "second", "address", "reason", "answers", "off")
"""Fields of a form that stand in a line: none that is secret."""


def trail() -> Trail:
    return shop().trail


def keep_trail(app: Flask) -> None:
    """Note what is noted once it was done, and a sign-in also where it was refused."""

    def before() -> None:
        if request.endpoint in NOTED:
            g.hand_before = current_who()

    def note(response: Answer) -> Answer:
        act = NOTED.get(request.endpoint or "")
        # one that was tried too often is not noted again and again
        refused = request.endpoint == "people.signing_in" and response.status_code == 401
        who: Who | None = g.get("hand_before")
        if act is None or who is None or (response.status_code >= 400 and not refused):
            return response
        if request.endpoint == "people.signing_in":
            act = "not let in" if refused else act
            who = Who(request.form.get("name", "")[:80], who.now)
        told = ", ".join(f"{n} {request.form[n][:80]}" for n in TOLD if request.form.get(n))
        try:
            trail().note(who, act, f"{request.path}{f': {told}' if told else ''}", request.remote_addr or "")
        except StoreError as error:
            # the act is done; on a full disk the log of the machine is the place that is left
            _log.warning("not in the trail: %s, %s, %s: %s", who.name, act, request.path, error)
        return response

    app.before_request(before)
    app.after_request(note)


@blueprint.get("")
def index(wrong: str = "") -> str:
    """The newest first."""
    page = trail().page(asked.whole(request.args, "page") or 1)
    return render_template("people/trail.html", page=page, least=LEAST_DAYS, wrong=wrong)


@blueprint.get("/trail.csv")
def table() -> Response:
    """All of it as a table."""
    headers = {"Content-Disposition": "attachment; filename=trail.csv"}
    return Response(trail().csv(), mimetype="text/csv", headers=headers)


@blueprint.post("/prune")
def prune() -> Answer | tuple[str, int]:
    """Take away what is old."""
    try:
        trail().prune(asked.whole(request.form, "days") or 0, current_who())
    except FieldError as error:
        return index(error.message), 422
    return redirect(url_for("trail.index"))
