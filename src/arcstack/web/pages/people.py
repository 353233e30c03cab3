"""Signing in and out, and the people who may."""

import logging
from typing import cast

from flask import Blueprint, abort, current_app, redirect, render_template, request, session, url_for
from flask_login import login_user, logout_user
from werkzeug.wrappers import Response

from arcstack.errors import FieldError, NotFound, TooOften
from arcstack.services.people import People, Role
from arcstack.web.kit import asked
from arcstack.web.kit.session import current_who
from arcstack.web.network import User, signed_in

blueprint = Blueprint("people", __name__)

_log = logging.getLogger("arcstack.web")


def people() -> People:
    return cast(People, current_app.extensions.get("people") or abort(404))


@blueprint.get("/sign-in")
def sign_in() -> str | Response:
    """Name and password."""
    people()
    if signed_in() is not None:
        return redirect("/")
    return _sign_in()


def _sign_in(wrong: str = "") -> str:
    to = asked.own_path(request.values.get("next", "/"))
    return render_template("people/sign_in.html", wrong=wrong, to=to, name=request.form.get("name", "")[:80])


@blueprint.post("/sign-in")
def signing_in() -> Response | tuple[str, int]:
    """Let somebody in, in a session of its own."""
    form = request.form
    try:
        person = people().sign_in(form.get("name", ""), form.get("password", ""), request.remote_addr or "")
    except FieldError as error:
        _not_let_in()
        return _sign_in(error.message), 401
    except TooOften as error:
        _not_let_in()
        return _sign_in(str(error)), 429
    kept = {k: session[k] for k in ("system",) if k in session}
    # nothing of a session that was there before is carried into it
    session.clear()
    session.update(kept)
    session.permanent = True
    login_user(User(person))
    return redirect(asked.own_path(form.get("next", "/")))


def _not_let_in() -> None:
    """For the log: whoever keeps the machine sees where guesses come from."""
    _log.warning("not let in: %r from %s", request.form.get("name", "")[:80], request.remote_addr)


@blueprint.post("/sign-out")
def sign_out() -> Response:
    """End this session."""
    people()
    logout_user()
    session.clear()
    return redirect(url_for("people.sign_in"))


@blueprint.get("/people")
def index(wrong: str = "") -> str:
    """Everybody, for the owner."""
    return render_template(
        "people/index.html",
        people=people().all(),
        roles=Role,
        wrong=wrong,
        typed=request.form if wrong else {},
        me=signed_in(),
    )


def _role() -> Role | None:
    return next((r for r in Role if r.value == request.form.get("role")), None)


@blueprint.post("/people")
def add() -> Response | tuple[str, int]:
    """Add somebody, or give a new password to whoever has that name."""
    form = request.form
    try:
        people().put(form.get("name", ""), _role(), form.get("password", ""), current_who())
    except FieldError as error:
        return index(error.message), 422
    return redirect(url_for("people.index"))


@blueprint.post("/people/<int:number>")
def change(number: int) -> Response | tuple[str, int]:
    """Another role, or shut out."""
    role = _role() or abort(400)
    try:
        people().change(number, role, request.form.get("active") == "1", current_who())
    except FieldError as error:
        return index(error.message), 422
    except NotFound:
        abort(404)
    return redirect(url_for("people.index"))


@blueprint.post("/own-password")
def own_password() -> Response | tuple[str, int]:
    """A new password of one's own, with the old one; every other session ends."""
    person, form = signed_in() or abort(401), request.form
    try:
        people().sign_in(person.name, form.get("old", ""), request.remote_addr or "")
        made = people().put(person.name, person.role, form.get("password", ""), current_who())
    except (FieldError, TooOften) as error:
        return render_template("people/own.html", wrong=str(error), person=person), 422
    login_user(User(made))
    return redirect("/")


@blueprint.get("/own-password")
def own() -> str:
    """The form for it."""
    return render_template("people/own.html", wrong="", person=signed_in() or abort(404))
