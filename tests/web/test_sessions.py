"""Sessions over the pages: a copied cookie, a lost tablet, a second factor, and the trail of it all."""

import re
from pathlib import Path

import pyotp
import pytest
from flask import Flask

from arcstack.application.people import Role
from arcstack.demo import demo_builds
from arcstack.errors import StoreError
from arcstack.web import create_app
from arcstack.web.network import Network
from arcstack.web.pages.trail import NOTED
from tests.web.test_network import WHO, WORDS, Tablet


@pytest.fixture
def app(tmp_path: Path) -> Flask:
    made = create_app(tmp_path, network=Network(("localhost",)))
    for name, role in (("Ilse", Role.OWNER), ("Wen", Role.MEASURE), ("Guest", Role.LOOK)):
        made.extensions["shop"].people.put(name, role, WORDS, WHO)
    made.extensions["shop"].workshop.create(demo_builds()[0], WHO)
    return made


def copied(hand: Tablet) -> Tablet:
    """Another browser with the same cookie."""
    other, cookie = Tablet(hand.app), hand.client.get_cookie("arc_stack")
    assert cookie is not None
    other.client.set_cookie("arc_stack", cookie.value)
    return other


def test_a_copied_cookie_ends_with_the_session_it_was_copied_from(app: Flask) -> None:
    wen = Tablet(app)
    wen.sign_in("Wen")
    thief = copied(wen)
    thief.get("/")
    wen.post("/sign-out", 302)
    assert thief.client.get("/").status_code == 302
    told = thief.client.post("/units", data={"csrf_token": "x"})
    assert told.status_code in (400, 401)


def test_a_lost_tablet_is_ended_by_the_owner_and_by_whoever_lost_it(app: Flask) -> None:
    lost, desk, owner = Tablet(app), Tablet(app), Tablet(app)
    for hand, name in ((lost, "Wen"), (desk, "Wen"), (owner, "Ilse")):
        hand.client.environ_base["HTTP_USER_AGENT"] = "Mozilla/5.0 (Linux; Android 14) Chrome/120.0 Safari/537.36"
        hand.sign_in(name)
    page = desk.get("/own-password")
    assert page.count("Chrome on Android") >= 2
    keys = re.findall(r'name="key" value="([0-9a-f]{64})"', page)
    assert len(keys) == 1
    # nobody ends another's
    guest = Tablet(app)
    guest.sign_in("Guest")
    guest.post("/own-password/sessions", 302, key=keys[0])
    lost.get("/")
    guest.get("/people", 403)
    guest.post("/people/sessions", 403, key=keys[0])
    desk.post("/own-password/sessions", 302, key=keys[0])
    assert lost.client.get("/").status_code == 302
    desk.get("/")
    lost.sign_in("Wen")
    found = re.findall(r'value="([0-9a-f]{64})"', owner.get("/people"))
    for key in found:
        owner.post("/people/sessions", 302, key=key)
    assert lost.client.get("/").status_code == desk.client.get("/").status_code == 302
    owner.get("/")


def test_every_role_changes_its_own_password(app: Flask) -> None:
    guest, other = Tablet(app), Tablet(app)
    guest.sign_in("Guest")
    other.sign_in("Guest")
    assert "do not go together" in guest.post("/own-password", 422, old="wrong words", password="another four words")
    guest.post("/own-password", 302, old=WORDS, password="another four words")
    guest.get("/")
    assert other.client.get("/").status_code == 302
    other.sign_in("Guest", "another four words")


def test_a_code_is_chosen_asked_and_given_up(app: Flask) -> None:
    wen = Tablet(app)
    wen.sign_in("Wen")
    page = wen.get("/own-password")
    assert "<svg" in page
    found = re.search(r'name="secret" value="([A-Z2-7]+)"', page)
    assert found
    code = pyotp.TOTP(found[1]).now()
    assert "not the code" in wen.post("/own-password/second", 422, secret="A", code=code, password=WORDS)
    wrong = wen.post("/own-password/second", 422, secret=found[1], code=code, password="wrong words here")
    assert "do not go together" in wrong
    # what was read in by the telephone is still the one to confirm
    assert found[1] in wrong
    wen.post("/own-password/second", 302, secret=found[1], code=code, password=WORDS)
    assert "A code of six digits is asked of you" in wen.get("/own-password")
    other = Tablet(app)
    other.sign_in("Wen", WORDS, 401)
    told = other.client.post(
        "/sign-in", data={"name": "Wen", "password": WORDS, "code": code, "csrf_token": other.token()},
        headers={"Referer": "http://localhost/"},
    )  # fmt: skip
    assert told.status_code == 401
    owner = Tablet(app)
    owner.sign_in("Ilse")
    number = next(p.id for p in app.extensions["shop"].people.all() if p.name == "Wen")
    owner.post(f"/people/{number}", 302, second="off")
    other.sign_in("Wen")


def test_the_trail_tells_who_did_what_and_never_a_password(app: Flask) -> None:
    owner = Tablet(app)
    owner.sign_in("Ilse", "wrong words here", 401)
    owner.sign_in("Ilse")
    owner.post("/people", 302, name="New Hand", role="look", password="another four words")
    owner.get("/builds/1/export")
    owner.post("/builds/1/remove", 404)
    page = owner.get("/trail")
    for words in ("not let in", "signed in", "New Hand", "head taken out"):
        assert words in page, words
    assert "head removed" not in page
    table = owner.get("/trail/trail.csv")
    assert "another four words" not in table
    assert WORDS not in table
    assert "90 days at least" in owner.post("/trail/prune", 422, days="3")
    owner.post("/trail/prune", 302, days="90")
    owner.post("/sign-out", 302)
    with app.extensions["shop"].people.database.session() as session:
        from arcstack.store import Trail

        rows = Trail(session).page(10)
    assert [(r.who, r.act) for r in rows[:2]] == [("Ilse", "signed out"), ("Ilse", "trail pruned")]
    wen = Tablet(app)
    wen.sign_in("Wen")
    wen.get("/trail", 403)


def test_an_act_that_is_done_is_shown_where_the_trail_cannot_be_written(
    app: Flask, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    owner = Tablet(app)
    owner.sign_in("Ilse")

    def full(*_: object) -> None:
        raise StoreError("The disk is full.")

    monkeypatch.setattr(app.extensions["shop"].trail, "note", full)
    assert "limiter" in owner.get("/builds/1/export")
    assert "not in the trail: Ilse, head taken out" in caplog.text


def test_what_is_noted_is_there(app: Flask) -> None:
    assert {r.endpoint for r in app.url_map.iter_rules()} >= set(NOTED)
