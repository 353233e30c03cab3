"""Signing in and out, one's own sign-in, and the people who may."""

import logging

from flask import Blueprint, abort, current_app, redirect, render_template, request, session, url_for
from flask_login import login_user, logout_user
from markupsafe import Markup
from werkzeug.user_agent import UserAgent
from werkzeug.wrappers import Response

from arcstack.application import Shop, second_factor
from arcstack.application.people import People, Person, Role
from arcstack.application.sessions import IDLE, WHOLE, Sessions, key_of
from arcstack.errors import FieldError, NotFound, TooOften
from arcstack.web.kit import asked
from arcstack.web.kit.session import current_who, shop
from arcstack.web.network import User, own_token, signed_in

blueprint = Blueprint("people", __name__)

_log = logging.getLogger("arcstack.web")


def _signed_in_to() -> Shop:
    """The workshop, where it is served to people who sign in. 404 on a machine of one's own."""
    if "network" not in current_app.extensions:
        abort(404)
    return shop()


def people() -> People:
    return _signed_in_to().people


def sessions() -> Sessions:
    return _signed_in_to().sessions


# -- in and out


@blueprint.get("/sign-in")
def sign_in() -> str | Response:
    """Name, password, and the code of a second factor."""
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
        person = people().sign_in(
            form.get("name", ""), form.get("password", ""), request.remote_addr or "", form.get("code", "")
        )
    except FieldError as error:
        _not_let_in()
        return _sign_in(error.message), 401
    except TooOften as error:
        _not_let_in()
        return _sign_in(str(error)), 429
    _begin(person)
    return redirect(asked.own_path(form.get("next", "/")))


def _begin(person: Person) -> None:
    """A session of its own: nothing of one that was there before is carried into it."""
    kept = {k: session[k] for k in ("system",) if k in session}
    session.clear()
    session.update(kept)
    session.permanent = True
    token = sessions().begin(person, _device(), request.remote_addr or "", current_who().now())
    login_user(User(person, token))


def _device() -> str:
    """What a browser says it is, short."""
    agent: UserAgent = request.user_agent
    return " ".join(c for c in agent.string.split() if c.isprintable())[:120] or "not said"


def _not_let_in() -> None:
    """For the log: whoever keeps the machine sees where guesses come from."""
    _log.warning("not let in: %r from %s", request.form.get("name", "")[:80], request.remote_addr)


@blueprint.post("/sign-out")
def sign_out() -> Response:
    """End this session, here and wherever its cookie was copied to."""
    people()
    sessions().end(key_of(own_token()), current_who())
    logout_user()
    session.clear()
    return redirect(url_for("people.sign_in"))


def confirmed() -> None:
    """Ask once more for the password, and the code, of whoever is signed in; on a machine of one's own, nobody's.

    Raises ``FieldError``, also where it was tried too often.
    """
    person = signed_in()
    if person is not None:
        form = request.form
        people().confirm(person, form.get("password", ""), request.remote_addr or "", form.get("code", ""))


# -- one's own


@blueprint.get("/own-password")
def own(wrong: str = "") -> str:
    """Password, second factor and sessions of one's own."""
    person = signed_in() or abort(404)
    given = request.form.get("secret", "")
    # what a telephone has read in already is still the one to confirm
    secret = given if wrong and second_factor.sound(given) else second_factor.new_secret()
    return render_template(
        "people/own.html", wrong=wrong, person=person, secret=secret,
        picture=Markup(second_factor.picture(secret, person.name)),
        sessions=sessions().all(current_who().now(), person), here=key_of(own_token()),
        whole=WHOLE.total_seconds() / 3600.0, idle=IDLE.total_seconds() / 3600.0,
    )  # fmt: skip


@blueprint.post("/own-password")
def own_password() -> Response | tuple[str, int]:
    """A new password of one's own, with the old one; every other session ends."""
    person, form = signed_in() or abort(401), request.form
    try:
        people().sign_in(person.name, form.get("old", ""), request.remote_addr or "", form.get("code", ""))
        made = people().put(person.name, person.role, form.get("password", ""), current_who())
    except (FieldError, TooOften) as error:
        return own(str(error)), 422
    _begin(made)
    return redirect("/")


@blueprint.post("/own-password/sessions")
def end_own() -> Response:
    """End one session of one's own, or every other one."""
    person, key = signed_in() or abort(401), request.form.get("key", "")
    if key:
        sessions().end(key, current_who(), person)
    else:
        sessions().end_of(person, current_who(), own_token())
    return redirect(url_for("people.own"))


@blueprint.post("/own-password/second")
def second() -> Response | tuple[str, int]:
    """Ask for a code too from now on, or no more; with the password."""
    person, form = signed_in() or abort(401), request.form
    try:
        if form.get("off") == "1":
            people().sign_in(person.name, form.get("password", ""), request.remote_addr or "", form.get("code", ""))
            people().set_second(person.id, "", "", current_who())
        else:
            people().sign_in(person.name, form.get("password", ""), request.remote_addr or "")
            people().set_second(person.id, form.get("secret", "")[:64], form.get("code", ""), current_who())
    except (FieldError, TooOften) as error:
        return own(str(error)), 422
    return redirect(url_for("people.own"))


# -- the owner's


@blueprint.get("/people")
def index(wrong: str = "") -> str:
    """Everybody, and who is signed in where, for the owner."""
    return render_template(
        "people/index.html",
        people=people().all(),
        roles=Role,
        wrong=wrong,
        typed=request.form if wrong else {},
        me=signed_in(),
        sessions=sessions().all(current_who().now()),
        here=key_of(own_token()),
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
    """Another role, shut out, or asked for no code any more."""
    try:
        if request.form.get("second") == "off":
            people().set_second(number, "", "", current_who())
        else:
            people().change(number, _role() or abort(400), request.form.get("active") == "1", current_who())
    except FieldError as error:
        return index(error.message), 422
    except NotFound:
        abort(404)
    return redirect(url_for("people.index"))


@blueprint.post("/people/sessions")
def end_session() -> Response:
    """End somebody's session, on a tablet that was lost."""
    sessions().end(request.form.get("key", ""), current_who())
    return redirect(url_for("people.index"))
