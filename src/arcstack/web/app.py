"""The application, put together."""

import re
import secrets
from datetime import UTC, timedelta
from pathlib import Path

from flask import Flask, Response, render_template, request
from flask_wtf.csrf import CSRFError, CSRFProtect
from markupsafe import Markup, escape
from werkzeug.exceptions import HTTPException, SecurityError

from arcstack.checks import Level, judge
from arcstack.errors import NotFound
from arcstack.formats import LARGEST
from arcstack.services import Sweeps, Workshop
from arcstack.store import Database
from arcstack.units import FINE_LENGTH, LENGTH, SPEED, System, show
from arcstack.web import links, marks
from arcstack.web.pages import (
    boost,
    cams,
    control,
    curve,
    editing,
    practice,
    revisions,
    springs,
    stages,
    whatif,
    workshop,
)
from arcstack.web.session import current_system

POLICY = (
    "default-src 'self'; script-src 'self'; style-src 'self'; style-src-attr 'unsafe-inline'; img-src 'self' data:; "
    "object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
)
"""No inline script and no foreign source; style attributes are let through for the chart library."""


def create_app(data: Path, testing: bool = False, sweeps: Sweeps | None = None) -> Flask:
    """The application over the workshop kept in folder ``data``."""
    app = Flask(__name__)
    app.config.update(
        SECRET_KEY=_secret(data),
        TESTING=testing,
        MAX_CONTENT_LENGTH=LARGEST + 100_000,
        MAX_FORM_MEMORY_SIZE=1_500_000,
        SESSION_COOKIE_SAMESITE="Strict",
        SESSION_COOKIE_NAME="arc_stack",
        PERMANENT_SESSION_LIFETIME=timedelta(days=365),
        SEND_FILE_MAX_AGE_DEFAULT=3600,
        TRUSTED_HOSTS=["127.0.0.1", "localhost"],
        WTF_CSRF_TIME_LIMIT=None,
    )
    CSRFProtect(app)
    app.extensions["sweeps"] = sweeps or Sweeps()
    app.extensions["workshop"] = Workshop(Database.open(data / "workshop.sqlite"))
    for page in (workshop, stages, editing, revisions, practice, curve, whatif, cams, springs, control, boost):
        app.register_blueprint(page.blueprint)
    app.jinja_env.trim_blocks = app.jinja_env.lstrip_blocks = True
    app.jinja_env.globals.update(
        link=links, mark=marks.mark, mark_shape=lambda level: Markup(marks.shape(level)), fail_level=Level.FAIL
    )
    app.jinja_env.filters["symbols"] = _symbols
    app.jinja_env.filters["local"] = lambda at: at.replace(tzinfo=UTC).astimezone()
    app.jinja_env.filters["rpm"] = lambda value: str(show(value, SPEED))
    app.jinja_env.filters["as_length"] = lambda value, system: str(show(value, LENGTH, system, system is System.MM))
    app.jinja_env.filters["as_fine"] = lambda value, system: str(show(value, FINE_LENGTH, system))
    app.jinja_env.filters["gain"] = _gain
    app.jinja_env.filters["judged"] = lambda limit, figure: judge(figure.value, limit)
    app.context_processor(lambda: {"system": current_system()})
    app.after_request(_guard)
    app.register_error_handler(NotFound, _not_found)
    app.register_error_handler(CSRFError, _expired)
    app.register_error_handler(HTTPException, _refused)
    return app


def _symbols(formula: str) -> Markup:
    """A formula with what follows an underscore set low."""
    return Markup(re.sub(r"_(\w+)", r"<sub>\1</sub>", str(escape(formula))))


def _gain(value: float) -> str:
    """A difference in rpm with its sign."""
    return f"{round(value):+,d}".replace("-", "−") if round(value) else "no change"


def _secret(data: Path) -> bytes:
    """The key that signs cookies: made once, kept beside the database, readable by its owner only."""
    data.mkdir(parents=True, exist_ok=True)
    path = data / "secret.key"
    if not path.exists():
        path.touch(mode=0o600)
        path.write_bytes(secrets.token_bytes(32))
    return path.read_bytes()


def _guard(response: Response) -> Response:
    response.headers["Content-Security-Policy"] = POLICY
    response.headers["X-Content-Type-Options"] = "nosniff"
    response.headers["Referrer-Policy"] = "same-origin"
    if not request.path.startswith("/static/"):
        response.headers["Cache-Control"] = "no-store"
    return response


def _told(title: str, message: str, code: int) -> tuple[str, int]:
    if request.headers.get("HX-Request"):
        return render_template("parts/notice.html", title=title, message=message), code
    return render_template("layout/error.html", title=title, message=message), code


def _not_found(error: NotFound) -> tuple[str, int]:
    return _told("Not here", str(error), 404)


def _expired(_error: CSRFError) -> tuple[str, int]:
    return _told("This page is too old", "Reload the page and do it again; nothing was stored.", 400)


def _refused(error: HTTPException) -> tuple[str, int]:
    if isinstance(error, SecurityError):
        # no address can be built for a host that is not ours, so no page either
        return "Arc Stack answers on this machine only, as 127.0.0.1 or localhost.", 400
    words = {
        404: ("Not here", "There is no such page."),
        405: ("Not this way", "That address takes no such request."),
        413: ("Too long", f"That is more than {LARGEST / 1e6:.0f} MB; a build has less. Nothing was stored."),
        500: ("Something broke", "Nothing of this change was stored; what was saved before is safe."),
    }
    code = error.code or 500
    title, message = words.get(code, ("Refused", "That request could not be read. Nothing was stored."))
    return _told(title, message, code)
