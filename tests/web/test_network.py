"""A workshop that is served to a shop's network: who is let in, what each may do, and what is refused."""

import re
from datetime import datetime
from pathlib import Path

import pytest
from flask import Flask
from flask.testing import FlaskClient

from arcstack.application import Who
from arcstack.application.people import Role
from arcstack.demo import demo_builds
from arcstack.store import Guesses
from arcstack.web import create_app
from arcstack.web.network import (
    FREE,
    LOOKS,
    MEASURE_ALSO,
    MEASURES,
    NOT_MEASURE,
    OWN,
    OWNS,
    Network,
    least_role,
    own_names,
)

WHO = Who("ann", lambda: datetime(2026, 3, 1, 8, 30))
WORDS = "four old seats ring"


class Tablet:
    """One browser of the shop."""

    def __init__(self, app: Flask) -> None:
        self.client: FlaskClient = app.test_client()
        self.app = app

    def token(self, path: str = "/sign-in") -> str:
        found = re.search(r'name="csrf-token" content="([^"]+)"', self.client.get(path).get_data(as_text=True))
        assert found
        return found[1]

    def sign_in(self, name: str, password: str = WORDS, code: int = 302, **more: str) -> str:
        form = {"name": name, "password": password, "csrf_token": self.token()} | more
        told = self.client.post("/sign-in", data=form, headers={"Referer": "http://localhost/"})
        assert told.status_code == code, told.get_data(as_text=True)[:300]
        return told.headers.get("Location", "") or told.get_data(as_text=True)

    def get(self, path: str, code: int = 200) -> str:
        told = self.client.get(path)
        assert told.status_code == code, (path, told.status_code)
        return told.get_data(as_text=True)

    def post(self, path: str, code: int, /, **form: object) -> str:
        told = self.client.post(
            path, data=form | {"csrf_token": self.token("/")}, headers={"Referer": "http://localhost/"}
        )
        assert told.status_code == code, (path, told.status_code, told.get_data(as_text=True)[:300])
        return told.get_data(as_text=True)


@pytest.fixture(scope="module")
def app(tmp_path_factory: pytest.TempPathFactory) -> Flask:
    made = create_app(tmp_path_factory.mktemp("net"), network=Network(("localhost", "bench.test"), tls=True))
    people = made.extensions["shop"].people
    for name, role in (("Ilse", Role.OWNER), ("Ada", Role.BUILD), ("Wen", Role.MEASURE), ("Guest", Role.LOOK)):
        people.put(name, role, WORDS, WHO)
    made.extensions["shop"].workshop.create(demo_builds()[0], WHO)
    # pages of this test are asked without a certificate
    made.config["SESSION_COOKIE_SECURE"] = False
    return made


@pytest.fixture
def tablet(app: Flask) -> Tablet:
    with app.extensions["shop"].people.database.session(writes=True) as session:
        Guesses(session).clear()
    return Tablet(app)


def test_nobody_sees_anything_before_signing_in(app: Flask, tablet: Tablet) -> None:
    for rule in app.url_map.iter_rules():
        if rule.endpoint in FREE or "GET" not in (rule.methods or ()):
            continue
        path = re.sub(r"<int:\w+>", "1", rule.rule)
        path = re.sub(r"<side:\w+>", "intake", path)
        path = re.sub(r"<[^>]+>", "x", path)
        told = tablet.client.get(path)
        assert told.status_code == 302, path
        assert told.headers["Location"].startswith("/sign-in?next="), path
    assert tablet.client.get("/static/app.css").status_code == 200


def test_what_is_sent_before_signing_in_is_refused_and_nothing_stored(tablet: Tablet) -> None:
    token = tablet.token()
    for headers in ({}, {"HX-Request": "true"}):
        told = tablet.client.post(
            "/builds/1/edit", data={"csrf_token": token, "path": "engine.bore", "text": "90 mm", "base": "1"},
            headers={"Referer": "http://localhost/"} | headers,
        )  # fmt: skip
        assert told.status_code == 401
        assert "Sign in again; nothing was stored" in told.get_data(as_text=True)


def test_one_comes_back_to_where_one_was_and_never_to_another_site(tablet: Tablet) -> None:
    for given, to in (
        ("/builds/1/intake/bench", "/builds/1/intake/bench"), ("https://evil.test/", "/"), ("//evil.test", "/"),
        ("/\\evil.test", "/"), ("javascript:alert(1)", "/"),
    ):  # fmt: skip
        fresh = Tablet(tablet.app)
        assert fresh.sign_in("Wen", next=given) == to, given


def test_a_session_that_was_there_before_is_not_the_one_that_is_signed_in(tablet: Tablet) -> None:
    tablet.get("/sign-in")
    before = tablet.client.get_cookie("arc_stack")
    assert before
    with tablet.client.session_transaction() as session:
        session["who"] = "somebody planted"
        session["phase"] = "planted"
    tablet.sign_in("Wen")
    after = tablet.client.get_cookie("arc_stack")
    assert after
    assert after.value != before.value
    with tablet.client.session_transaction() as session:
        assert "who" not in session
        assert "phase" not in session


def test_every_change_carries_the_hand_that_is_signed_in_whatever_is_typed(app: Flask, tablet: Tablet) -> None:
    tablet.sign_in("Ada")
    tablet.post("/who", 302, who="Somebody else", back="/")
    tablet.post("/sitting", 204, hand="Somebody else", instrument="micrometer 2")
    tablet.post("/builds/1/edit", 200, path="brief.limiter", text="8050", base=1, stage="brief", side="intake")
    assert app.extensions["shop"].workshop.revisions(1).rows[0].author == "Ada"
    tablet.post("/builds/1/intake/costs", 302, sort="parts", what="shims", money="1")
    page = tablet.get("/builds/1/intake/costs")
    assert "Ada" in page
    assert "Somebody else" not in page
    assert "Signed in" in tablet.get("/")


READ = {
    "LOOK": {
        "workshop.units", "editing.preview", "people.sign_out", "people.own_password", "people.end_own",
        "people.second",
    }
}  # fmt: skip


def test_each_role_may_do_what_it_may_and_nothing_else(app: Flask, tablet: Tablet) -> None:
    """Every address that changes anything, tried by every role: 403 exactly where its role does not reach."""
    posts = [r for r in app.url_map.iter_rules() if "POST" in (r.methods or ()) and r.endpoint != "people.signing_in"]
    assert len(posts) > 80
    for name, role in (("Guest", Role.LOOK), ("Wen", Role.MEASURE), ("Ada", Role.BUILD)):
        hand = Tablet(app)
        hand.sign_in(name)
        token = hand.token("/")
        for rule in posts:
            if rule.endpoint in ("people.sign_out", "people.own_password"):
                continue
            path = re.sub(r"<int:\w+>", "9999", re.sub(r"<side:\w+>", "intake", rule.rule))
            path = re.sub(r"<any\((\w+),[^>]+>", r"\1", path)
            path = re.sub(r"<[^>]+>", "x", path)
            told = hand.client.post(path, data={"csrf_token": token}, headers={"Referer": "http://localhost/"})
            refused = role < least_role(rule.endpoint, "POST")
            assert (told.status_code == 403) is refused, (name, rule.endpoint, told.status_code)


def test_every_role_at_every_address_by_every_verb(app: Flask, tablet: Tablet) -> None:
    """Made from the map of addresses: nothing is shown or done below its role, and no verb goes round it."""
    for name, role in (("Guest", Role.LOOK), ("Wen", Role.MEASURE), ("Ada", Role.BUILD)):
        hand = Tablet(app)
        hand.sign_in(name)
        token = hand.token("/")
        for rule in app.url_map.iter_rules():
            if rule.endpoint in FREE or rule.endpoint in LOOKS or rule.endpoint in OWN:
                continue
            path = re.sub(r"<int:\w+>", "9999", re.sub(r"<side:\w+>", "intake", rule.rule))
            path = re.sub(r"<any\((\w+),[^>]+>", r"\1", path)
            path = re.sub(r"<[^>]+>", "x", path)
            methods = rule.methods or set()
            for verb in ("GET", "HEAD", "PUT", "DELETE", "PATCH"):
                told = hand.client.open(
                    path, method=verb, headers={"X-CSRFToken": token, "Referer": "http://localhost/"}
                )
                below = verb in methods and role < least_role(rule.endpoint, verb)
                if verb in methods:
                    assert (told.status_code == 403) is below, (name, verb, rule.endpoint, told.status_code)
                elif verb not in ("GET", "HEAD"):
                    assert told.status_code in (400, 403, 404, 405), (name, verb, rule.endpoint, told.status_code)


def test_the_table_of_roles_is_what_was_meant(app: Flask) -> None:
    posts = {r.endpoint for r in app.url_map.iter_rules() if "POST" in (r.methods or ())}
    by_role: dict[Role, set[str]] = {role: {e for e in posts if least_role(e, "POST") is role} for role in Role}
    assert by_role[Role.LOOK] == READ["LOOK"] | {"people.signing_in"}
    assert {
        "bench.take",
        "came_back.find",
        "pictures.take",
        "orders.order",
        "costs.book",
        "workshop.sitting",
    } <= by_role[Role.MEASURE]
    assert {
        "editing.edit", "editing.undo", "shelf.save", "practices.save", "sign_off.sign", "sign_off.waive", "left.sign",
        "left.waive", "orders.take_other", "dispositions.next_revision", "workshop.create", "workshop.shelve",
        "revisions.restore", "lash.let_pass",
    } <= by_role[Role.BUILD]  # fmt: skip
    assert {"people.add", "people.change", "workshop.remove"} <= by_role[Role.OWNER]
    pages = {e.partition(".")[0] for e in posts}
    assert pages >= MEASURES
    assert OWNS & pages
    assert posts >= (LOOKS | MEASURE_ALSO | NOT_MEASURE)
    assert least_role("people.index", "GET") is Role.OWNER


def test_only_an_owner_sees_people_and_lets_them_in(app: Flask, tablet: Tablet) -> None:
    tablet.sign_in("Ada")
    tablet.get("/people", 403)
    owner = Tablet(app)
    owner.sign_in("Ilse")
    assert "Guest" in owner.get("/people")
    assert "characters at least" in owner.post("/people", 422, name="New", role="look", password="short")
    owner.post("/people", 302, name="New Hand", role="look", password="another four words")
    number = next(p.id for p in app.extensions["shop"].people.all() if p.name == "New Hand")
    new = Tablet(app)
    new.sign_in("New Hand", "another four words")
    new.get("/")
    owner.post(f"/people/{number}", 302, role="look", active="0")
    assert new.client.get("/").status_code == 302
    new.sign_in("New Hand", "another four words", 401)
    owner.post("/people/9999", 404, role="look", active="1")
    mine = next(p.id for p in app.extensions["shop"].people.all() if p.name == "Ilse")
    assert "last owner" in owner.post(f"/people/{mine}", 422, role="look", active="1")


def test_a_new_password_ends_every_other_session(app: Flask, tablet: Tablet) -> None:
    app.extensions["shop"].people.put("Mover", Role.MEASURE, WORDS, WHO)
    tablet.sign_in("Mover")
    other = Tablet(app)
    other.sign_in("Mover")
    assert "do not go together" in tablet.post("/own-password", 422, old="wrong", password="five new words here")
    tablet.post("/own-password", 302, old=WORDS, password="five new words here")
    tablet.get("/")
    assert other.client.get("/").status_code == 302


def test_signing_out_ends_it(tablet: Tablet) -> None:
    tablet.sign_in("Wen")
    cookie = tablet.client.get_cookie("arc_stack")
    tablet.post("/sign-out", 302)
    assert tablet.client.get("/").status_code == 302
    assert cookie


def test_a_session_is_over_after_its_hours(app: Flask) -> None:
    assert app.config["PERMANENT_SESSION_LIFETIME"].total_seconds() == 12 * 3600
    assert app.config["SESSION_REFRESH_EACH_REQUEST"] is False
    hand = Tablet(app)
    hand.sign_in("Wen")
    app.config["PERMANENT_SESSION_LIFETIME"] = -app.config["PERMANENT_SESSION_LIFETIME"]
    try:
        assert hand.client.get("/").status_code == 302
    finally:
        app.config["PERMANENT_SESSION_LIFETIME"] = -app.config["PERMANENT_SESSION_LIFETIME"]


def test_who_guesses_is_told_to_wait(tablet: Tablet) -> None:
    for _ in range(5):
        tablet.sign_in("Wen", "wrong", 401)
    assert "Too many tries" in tablet.sign_in("Wen", WORDS, 429)


def test_the_log_says_who_was_not_let_in_and_never_a_password(tablet: Tablet, caplog: pytest.LogCaptureFixture) -> None:
    tablet.sign_in("Wen\nlet in: Ada", "a wrong secret", 401)
    (line,) = [r.getMessage() for r in caplog.records if r.name == "arcstack.web"]
    assert line == "not let in: 'Wen\\nlet in: Ada' from 127.0.0.1"
    assert "secret" not in caplog.text
    caplog.clear()
    tablet.sign_in("Wen")
    assert "not let in" not in caplog.text


def test_another_name_for_this_machine_is_not_answered(app: Flask) -> None:
    client = app.test_client()
    for host in ("evil.test", "localhost.evil.test", "bench.test.evil.test", "127.0.0.1.evil.test", "", "[::1]"):
        assert client.get("/sign-in", headers={"Host": host}).status_code == 400, host
    for host in ("bench.test", "bench.test:8443", "localhost"):
        assert client.get("/sign-in", headers={"Host": host}).status_code == 200, host


def test_headers_are_strict(app: Flask) -> None:
    told = app.test_client().get("/sign-in").headers
    assert told["Strict-Transport-Security"] == "max-age=31536000"
    assert "frame-ancestors 'none'" in told["Content-Security-Policy"]
    assert "'unsafe-inline'" not in told["Content-Security-Policy"].split("style-src-attr")[0]
    assert told["X-Content-Type-Options"] == "nosniff"
    assert told["Cache-Control"] == "no-store"
    app.config["SESSION_COOKIE_SECURE"] = True
    try:
        cookie = app.test_client().get("/sign-in").headers["Set-Cookie"]
    finally:
        app.config["SESSION_COOKIE_SECURE"] = False
    for word in ("Secure", "HttpOnly", "SameSite=Strict"):
        assert word in cookie


def test_a_form_from_another_site_is_refused(tablet: Tablet) -> None:
    tablet.sign_in("Ada")
    for data, headers in (
        ({}, {"Referer": "http://localhost/"}), ({"csrf_token": "forged"}, {"Referer": "http://localhost/"}),
    ):  # fmt: skip
        told = tablet.client.post("/builds", data=data, headers=headers)
        assert told.status_code == 400


def test_the_mark_of_a_head_changes_with_whatever_another_hand_does(app: Flask, tablet: Tablet) -> None:
    tablet.sign_in("Wen")
    before = tablet.get("/builds/1/mark")
    page = tablet.get("/builds/1/intake/bench")
    shown = re.search(r'data-watch="/builds/1/mark" data-mark="([^"]+)"', page)
    assert shown
    assert shown[1] in before
    other = Tablet(app)
    other.sign_in("Ada")
    other.post("/builds/1/intake/costs", 302, sort="parts", what="x", money="1")
    assert tablet.get("/builds/1/mark") != before
    tablet.get("/builds/99/mark", 404)


def test_names_that_a_machine_is_called_by() -> None:
    assert own_names("192.168.4.2", ("Bench.Local ",)) == ("127.0.0.1", "localhost", "bench.local", "192.168.4.2")
    everywhere = own_names("0.0.0.0", ())
    assert "0.0.0.0" not in everywhere
    assert len(everywhere) > 2


def test_on_a_machine_of_ones_own_nobody_signs_in(tmp_path: Path) -> None:
    client = create_app(tmp_path).test_client()
    assert client.get("/").status_code == 200
    assert client.get("/sign-in").status_code == 404
    assert client.get("/people").status_code == 404
    assert "data-watch" not in client.get("/").get_data(as_text=True)
