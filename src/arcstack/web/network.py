"""What changes when a workshop is served to a shop's network: hosts, people, roles, sessions that end."""

import socket
from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from flask import Flask, Response, abort, current_app, has_request_context, redirect, request, session, url_for
from flask_login import LoginManager, UserMixin, current_user

from arcstack.application import Shop
from arcstack.application.people import Person, Role
from arcstack.settings import setting

LOOPBACK = ("127.0.0.1", "localhost")

SESSION = timedelta(hours=setting("people.session_hours"))

FREE = frozenset({"people.sign_in", "people.signing_in", "static", "trusting.index", "trusting.file"})
"""Addresses that answer before anybody has signed in."""

LOOKS = frozenset({
    "people.sign_out", "people.own_password", "people.end_own", "people.second", "workshop.units", "editing.preview",
})  # fmt: skip
"""Changes of nothing but what a browser shows: whoever may look may make them."""

MEASURES = frozenset(
    {
        "bench", "springs_bench", "matching", "items", "cutting", "mock_up", "lash", "assembly", "left", "bench_table",
        "came_back", "diagnosis", "pictures", "lesson", "trays", "turning", "gauges_list", "provenance", "orders",
        "power", "costs",
    }
)  # fmt: skip
"""Pages where things are measured and noted down."""

MEASURE_ALSO = frozenset(
    {
        "workshop.who", "workshop.sitting", "dispositions.decide", "dispositions.remedy", "waiting.stop",
        "specify.stop",
        "specify.stop_cams",
    }
)  # fmt: skip
NOT_MEASURE = frozenset({"orders.take_other", "left.waive", "left.sign", "lash.let_pass"})
"""What changes the build, lets a check pass or signs."""

OWNS_ALSO = frozenset({"workshop.remove", "pictures.original", "gauges_list.allow", "gauges_list.refuse"})

OWN = frozenset({"people.own", "people.own_password", "people.end_own", "people.second"})
"""Of one's own sign-in: whoever is signed in looks at it and changes it."""

OWNS = frozenset({"people", "backups", "trail"})
"""Pages of the owner, to look at as well as to change."""


@dataclass(frozen=True)
class Network:
    """How a workshop is served: under which names, and whether its connections are private."""

    hosts: tuple[str, ...] = LOOPBACK
    tls: bool = False


class User(UserMixin):  # type: ignore[misc]
    """A person as the sign-in library knows one."""

    def __init__(self, person: Person, token: str) -> None:
        self.person, self.token = person, token

    def get_id(self) -> str:
        return self.token


def least_role(endpoint: str, method: str) -> Role:
    """The least that a person must be to do something.

    >>> least_role("stage.show", "GET").value, least_role("bench.take", "POST").value
    ('look', 'measure')
    >>> least_role("editing.edit", "POST").value, least_role("people.index", "GET").value
    ('build', 'owner')
    """
    page = endpoint.partition(".")[0]
    if endpoint in FREE or endpoint in LOOKS:
        return Role.LOOK
    if endpoint in OWN:
        return Role.LOOK
    if page in OWNS or endpoint in OWNS_ALSO:
        return Role.OWNER
    if method in ("GET", "HEAD", "OPTIONS"):
        return Role.LOOK
    measured = page in MEASURES and endpoint not in NOT_MEASURE
    return Role.MEASURE if measured or endpoint in MEASURE_ALSO else Role.BUILD


def signed_in() -> Person | None:
    """Who is signed in; None on a machine of one's own, where nobody has to."""
    if not has_request_context() or "network" not in current_app.extensions:
        return None
    user = current_user
    return user.person if isinstance(getattr(user, "person", None), Person) else None


def own_token() -> str:
    """What this browser's session is known by; empty where nobody is signed in."""
    token: object = getattr(current_user, "token", "")
    return token if isinstance(token, str) else ""


def may_own() -> bool:
    """Whether who is here is an owner: on a machine of one's own, everybody is."""
    person = signed_in()
    return "network" not in current_app.extensions or (person is not None and person.role is Role.OWNER)


def serve_to(app: Flask, network: Network) -> None:
    """Let nobody in who has not signed in, and nobody do what their role does not."""
    app.config.update(
        TRUSTED_HOSTS=list(network.hosts),
        SESSION_COOKIE_SECURE=network.tls,
        SESSION_COOKIE_HTTPONLY=True,
        PERMANENT_SESSION_LIFETIME=SESSION,
        SESSION_REFRESH_EACH_REQUEST=False,
    )
    manager = LoginManager(app)
    manager.session_protection = "basic"
    app.extensions["network"] = network

    @manager.user_loader  # type: ignore[untyped-decorator]
    def load(token: str) -> User | None:
        shop: Shop = app.extensions["shop"]
        person = shop.sessions.person(token, datetime.now(UTC).replace(tzinfo=None))
        return User(person, token) if person is not None else None

    app.before_request(_let_in)
    if network.tls:
        app.after_request(_private)


def _let_in() -> Response | None:
    endpoint = request.endpoint or ""
    if endpoint in FREE or not endpoint:
        return None
    person = signed_in()
    if person is None:
        session.pop("_user_id", None)
        if request.headers.get("HX-Request") or request.method not in ("GET", "HEAD"):
            abort(401)
        here = request.full_path.rstrip("?")
        return redirect(url_for("people.sign_in", next=here))  # type: ignore[return-value]
    if person.role < least_role(endpoint, request.method):
        abort(403)
    return None


def _private(response: Response) -> Response:
    response.headers["Strict-Transport-Security"] = "max-age=31536000"
    return response


def own_names(host: str, names: Sequence[str]) -> tuple[str, ...]:
    """The names that a served workshop answers to: those it was told, where it listens, what this machine is called."""
    found = [*LOOPBACK, *names]
    if host not in ("0.0.0.0", "::", ""):
        found.append(host)
    else:
        found += _addresses()
    return tuple(dict.fromkeys(n.strip().lower() for n in found if n.strip()))


def _addresses() -> list[str]:
    name = socket.gethostname()
    found = [name, f"{name}.local"]
    with suppress(OSError):
        found += socket.gethostbyname_ex(name)[2]
    return found
