"""The application, put together."""

import gzip
import os
import re
import secrets
from contextlib import suppress
from datetime import UTC, timedelta
from functools import cache
from pathlib import Path

from flask import Flask, Response, current_app, g, has_request_context, render_template, request
from flask_wtf.csrf import CSRFError, CSRFProtect
from jinja2 import Undefined
from markupsafe import Markup, escape
from werkzeug.exceptions import HTTPException, SecurityError

from arcstack.application import Shop, Sweeps
from arcstack.application.reasons import words
from arcstack.assess.assessment import level
from arcstack.assess.catalogue import limit_title
from arcstack.checks import Level
from arcstack.drawings import marks
from arcstack.errors import Frozen, NotFound, PracticeError, StaleRevision, StoreError
from arcstack.formats import LARGEST
from arcstack.settings import setting
from arcstack.store import own_folder
from arcstack.store.trouble import system_words, worded
from arcstack.units import FINE_LENGTH, LENGTH, SPEED, System, in_system, show
from arcstack.views.rows import needed
from arcstack.web.frame import editing, pages, waiting
from arcstack.web.frame.same_head import head_identity, hold_to_head
from arcstack.web.frame.stale import stale
from arcstack.web.guard import largest_at
from arcstack.web.kit import links
from arcstack.web.kit.asked import Number, Side
from arcstack.web.kit.device import device
from arcstack.web.kit.session import current_sitting, current_system, current_who, measures_now
from arcstack.web.kit.stage import STAGES
from arcstack.web.network import LOOPBACK, Network, serve_to, signed_in
from arcstack.web.pages import (
    backups,
    cams,
    choosing,
    copying,
    gauges_list,
    guide,
    people,
    practice,
    practices,
    reaching,
    revisions,
    sheet,
    shelf,
    specify,
    trail,
    trusting,
    watching,
    window,
    workshop,
)
from arcstack.web.pages.bench import (
    as_built,
    assembly,
    came_back,
    cutting,
    diagnosed,
    dispositions,
    gauges,
    items,
    lash,
    lesson,
    matching,
    mock_up_curve,
    pictures,
    shop,
    table,
    tester,
    to_do,
    trays,
    turning,
)
from arcstack.web.pages.record import all_orders, costs, orders, power, provenance, sheets, sign_off
from arcstack.web.stages import every_stage
from arcstack.web.turns import take_turns

POLICY = (
    "default-src 'self'; script-src 'self'; style-src 'self'; style-src-attr 'unsafe-inline'; img-src 'self' data:; "
    "object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
)
"""No inline script and no foreign source; style attributes are let through for the chart library."""


BENCH_PAGES = (
    ("bench.index", "Readings"), ("springs_bench.index", "Tester"), ("matching.index", "Matching"),
    ("items.index", "Items"), ("cutting.index", "Cuts"),
    ("mock_up.index", "Mock-up"), ("lash.index", "Lash"), ("assembly.index", "Assembly"),
    ("as_built.index", "As built"), ("left.index", "To do"),
)  # fmt: skip
"""Pages of the bench in the order of its work, as the rail lists them."""

BACK_PAGES = (
    ("came_back.index", "Came back"), ("diagnosis.index", "Diagnosis"), ("dispositions.index", "Dispositions"),
    ("pictures.index", "Photographs"),
)  # fmt: skip
"""Pages of a head that comes back, in the order of their work."""


RECORD_PAGES = (
    ("provenance.index", "Provenance"), ("orders.index", "Orders"), ("power.index", "Power"), ("costs.index", "Costs"),
    ("sign_off.index", "Sign-off"), ("sheets.index", "Sheets"),
)  # fmt: skip
"""Pages of a head's record."""


def create_app(
    data: Path, testing: bool = False, sweeps: Sweeps | None = None, network: Network | None = None
) -> Flask:
    """The application over the workshop kept in folder ``data``; with a ``network`` people sign in."""
    app = Flask(__name__)
    app.url_map.converters |= {"int": Number, "side": Side}
    app.config.update(
        TESTING=testing,
        MAX_CONTENT_LENGTH=LARGEST + 100_000,
        MAX_FORM_MEMORY_SIZE=1_500_000,
        SESSION_COOKIE_SAMESITE="Strict",
        SESSION_COOKIE_NAME="arc_stack",
        PERMANENT_SESSION_LIFETIME=timedelta(days=365),
        SEND_FILE_MAX_AGE_DEFAULT=3600,
        TRUSTED_HOSTS=list(LOOPBACK),
        WTF_CSRF_TIME_LIMIT=None,
    )
    lay_in(app, Shop(data, sweeps, saved))
    take_turns(app)
    if network is not None:
        # before anything else of a request is looked at
        serve_to(app, network)
        app.before_request(_marked)
    # told before the form is read, which the protection against forged ones does first
    app.before_request(_room_for_pictures)
    CSRFProtect(app)
    hold_to_head(app)
    trail.keep_trail(app)
    STAGES.install(every_stage())
    own = (
        workshop, revisions, practice, practices, cams, copying, sheet, guide, shelf, choosing, reaching, window,
        specify, pages, editing, waiting, watching, people, backups, trail, trusting,
    )  # fmt: skip
    at_bench = (
        gauges,
        lesson,
        tester,
        matching,
        items,
        cutting,
        as_built,
        to_do,
        table,
        shop,
        mock_up_curve,
        turning,
        lash,
        assembly,
        came_back,
        diagnosed,
        dispositions,
        gauges_list,
        pictures,
        trays,
    )
    of_record = (all_orders, provenance, orders, power, costs, sign_off, sheets)
    beside = [page.blueprint for page in (*own, *at_bench, *of_record)]
    for blueprint in (*beside, *(s.blueprint for s in STAGES if s.blueprint is not None)):
        app.register_blueprint(blueprint)
    app.jinja_env.undefined = _Nothing
    app.jinja_env.trim_blocks = app.jinja_env.lstrip_blocks = True
    app.jinja_env.globals.update(
        link=links,
        head_identity=head_identity,
        stages_in_order=STAGES,
        bench_pages=BENCH_PAGES,
        back_pages=BACK_PAGES,
        record_pages=RECORD_PAGES,
        mark=marks.mark,
        mark_shape=cache(lambda level: Markup(marks.shape(level))),
        fail_level=Level.FAIL,
    )
    app.jinja_env.filters["symbols"] = _symbols
    app.jinja_env.filters["words"] = words
    app.jinja_env.filters["needed"] = needed
    app.jinja_env.filters["limit_title"] = limit_title
    app.jinja_env.filters["local"] = lambda at: at.replace(tzinfo=UTC).astimezone()
    app.jinja_env.filters["device"] = device
    app.jinja_env.filters["rpm"] = lambda value: str(show(value, SPEED))
    app.jinja_env.filters["as_length"] = lambda value, system: str(show(value, LENGTH, system, system is System.MM))
    app.jinja_env.filters["as_fine"] = lambda value, system: str(show(value, FINE_LENGTH, system))
    app.jinja_env.filters["in_unit"] = lambda value, dimension, system: str(show(value, dimension, system, 1))
    app.jinja_env.filters["gain"] = _gain
    app.jinja_env.filters["level"] = Level
    app.jinja_env.filters["here"] = lambda text: in_system(str(text), current_system())
    app.jinja_env.filters["judged"] = lambda limit, figure: level(figure, limit)
    app.context_processor(
        lambda: {
            "system": current_system(),
            "sitting": current_sitting(),
            "measures": measures_now(),
            "hand": current_who().name,
            "person": signed_in(),
            "head_mark": watching.noted(),
        }
    )
    app.after_request(_guard)
    app.register_error_handler(NotFound, _not_found)
    app.register_error_handler(StoreError, _no_store)
    app.register_error_handler(OSError, _no_disk)
    app.register_error_handler(PracticeError, _no_practice)
    app.register_error_handler(StaleRevision, stale)
    app.register_error_handler(Frozen, _frozen)
    app.register_error_handler(CSRFError, _expired)
    app.register_error_handler(HTTPException, _refused)
    return app


def lay_in(app: Flask, shop: Shop) -> None:
    """Let the application serve a workshop, in the place of the one that it served before."""
    app.extensions["shop"] = shop
    app.config.update(DATA=shop.data, SECRET_KEY=_secret(shop.data))


class _Nothing(Undefined):
    """What an *if* without an *else* prints: said to be empty at once, where it would else be asked in vain."""

    def __html__(self) -> str:
        return ""


def _marked() -> None:
    """Remember how a head stood before its page is drawn."""
    build_id = (request.view_args or {}).get("build_id")
    if isinstance(build_id, int) and request.method == "GET" and request.blueprint != "watching":
        with suppress(NotFound):
            g.head_mark = watching.mark_of(build_id)


def _symbols(formula: str) -> Markup:
    """A formula with what follows an underscore set low."""
    return Markup(re.sub(r"_(\w+)", r"<sub>\1</sub>", str(escape(formula))))


def _gain(value: float) -> str:
    """A difference in rpm with its sign."""
    return f"{round(value):+,d}".replace("-", "−") if round(value) else "no change"


KEY_BYTES = 32


def _secret(data: Path) -> bytes:
    """The key that signs cookies: made once, put in place whole, readable by its owner only.

    One that was cut off or emptied is made anew; the browsers' units and names are then asked for again.
    """
    path = data / "secret.key"
    with worded(path):
        own_folder(data)
        if path.exists() and len(key := path.read_bytes()) >= KEY_BYTES:
            return key
        half = data / f"secret.key.{os.getpid()}"
        half.touch(mode=0o600)
        half.write_bytes(secrets.token_bytes(KEY_BYTES))
        half.replace(path)
        return path.read_bytes()


def saved(number: int) -> None:
    """A revision is on the disk: whatever fails from now on must not say that nothing was stored."""
    if has_request_context():
        g.saved = number


def _stored() -> int | None:
    number: int | None = g.get("saved")
    return number


def _guard(response: Response) -> Response:
    response.headers["Content-Security-Policy"] = POLICY
    response.headers["X-Content-Type-Options"] = "nosniff"
    response.headers["Referrer-Policy"] = "same-origin"
    if not request.path.startswith("/static/"):
        response.headers["Cache-Control"] = "no-store"
    return _compressed(response)


LEAST_COMPRESSED = int(setting("pages.least_compressed"))


def _largest() -> int:
    return largest_at(request.path)


def _room_for_pictures() -> None:
    """A photograph may be larger than a build."""
    if request.method == "POST" and request.path.endswith("/pictures"):
        request.max_content_length = _largest() + 100_000


def _compressed(response: Response) -> Response:
    """The response as gzip where it is text of some length and the browser takes that."""
    response.vary.add("Accept-Encoding")
    takes = request.accept_encodings.quality("gzip") > 0 and response.status_code == 200 and not response.is_streamed
    kind = response.mimetype or ""
    if not takes or response.direct_passthrough or not kind.startswith(("text/", "application/j")):
        return response
    if (response.content_length or 0) >= LEAST_COMPRESSED and "Content-Encoding" not in response.headers:
        response.set_data(gzip.compress(response.get_data(), 1))
        response.headers["Content-Encoding"] = "gzip"
    return response


def _told(title: str, message: str, code: int) -> tuple[str, int, dict[str, str]]:
    template = "parts/told.html" if request.headers.get("HX-Request") else "layout/error.html"
    headers = {"X-Stored": str(_stored())} if _stored() is not None else {}
    return render_template(template, title=title, message=message), code, headers


Told = tuple[str, int, dict[str, str]]


def _no_store(error: StoreError) -> Told:
    return _told("The workshop's file", str(error), 503)


def _no_disk(error: OSError) -> Told:
    """A disk that is full, read-only or gone, wherever in an act it was met."""
    words = system_words(error, current_app.config["DATA"] / "workshop.sqlite")
    return _told("The disk of the workshop", words, 503)


def _no_practice(error: PracticeError) -> Told:
    return _told("The practice of this build", f"{str(error)[:1].upper()}{str(error)[1:]}. Nothing was changed.", 409)


def _not_found(error: NotFound) -> Told:
    return _told("Not here", str(error), 404)


def _frozen(error: Frozen) -> Told:
    return _told("Signed off", error.message, 409)


def _expired(_error: CSRFError) -> Told:
    return _told("This page is too old", "Reload the page and do it again; nothing was stored.", 400)


def _refused(error: HTTPException) -> Told:
    if isinstance(error, SecurityError):
        # no address can be built for a host that is not ours, so no page either
        return "Arc Stack does not answer to that name. Call it as it was told it is called.", 400, {}
    words = {
        404: ("Not here", "There is no such page."),
        405: ("Not this way", "That address takes no such request."),
        401: ("Not signed in", "Your session is over, or was ended. Sign in again; nothing was stored."),
        403: (
            "Not yours to do",
            "Your role does not let you do that. Ask whoever owns this workshop. Nothing was stored.",
        ),
        413: ("Too long", f"That is more than {_largest() / 1e6:.0f} MB. Nothing was stored."),
        500: ("Something broke", "Nothing of this change was stored; what was saved before is safe."),
    }
    code = error.code or 500
    if (number := _stored()) is not None:
        # the change is on the disk; only what was to be shown of it failed
        return _told("Saved", f"Saved as revision {number}; this page could not be drawn. Reload it.", code)
    title, message = words.get(code, ("Refused", "That request could not be read. Nothing was stored."))
    return _told(title, message, code)
