"""The application behind the server, as a shop has it: who sends something is asked when it is whole, too."""

import re
import socket
import time
from collections.abc import Iterator
from http.client import HTTPConnection
from pathlib import Path
from threading import Thread
from urllib.parse import urlencode

import pytest
from flask import Flask

from arcstack.application.people import Role
from arcstack.demo import demo_builds
from arcstack.document import get
from arcstack.web import create_app
from arcstack.web.guard import Guard
from arcstack.web.network import Network
from arcstack.web.server import server
from tests.web.test_network import WHO, WORDS

HEADERS = {"Content-Type": "application/x-www-form-urlencoded", "Host": "localhost"}


@pytest.fixture
def shop(tmp_path: Path) -> Iterator[tuple[Flask, int]]:
    app = create_app(tmp_path, network=Network(("localhost",)))
    app.extensions["shop"].people.put("Ilse", Role.OWNER, WORDS, WHO)
    app.extensions["shop"].people.put("Ada", Role.BUILD, WORDS, WHO)
    app.extensions["shop"].workshop.create(demo_builds()[0], WHO)
    door = server(app, "127.0.0.1", 0, None, Guard(app))
    thread = Thread(target=door.run, daemon=True)
    thread.start()
    yield app, door.port
    door.stop()
    thread.join(20)


def signed_in(port: int, name: str) -> tuple[str, str]:
    """Cookie and token of somebody who signed in."""
    line = HTTPConnection("127.0.0.1", port, timeout=30)
    line.request("GET", "/sign-in", headers={"Host": "localhost"})
    told = line.getresponse()
    cookie = (told.getheader("Set-Cookie") or "").split(";")[0]
    token = re.search(r'name="csrf-token" content="([^"]+)"', told.read().decode())
    assert token
    form = urlencode({"name": name, "password": WORDS, "csrf_token": token[1]})
    line.request("POST", "/sign-in", form, HEADERS | {"Cookie": cookie})
    told = line.getresponse()
    told.read()
    assert told.status == 302
    cookie = (told.getheader("Set-Cookie") or "").split(";")[0]
    line.request("GET", "/", headers={"Host": "localhost", "Cookie": cookie})
    told = line.getresponse()
    page = told.read().decode()
    cookie = (told.getheader("Set-Cookie") or cookie).split(";")[0]
    token = re.search(r'name="csrf-token" content="([^"]+)"', page)
    assert token
    return cookie, token[1]


def begun(port: int, cookie: str, token: str) -> tuple[socket.socket, bytes]:
    """An edit whose last byte is not sent yet, and that byte."""
    form = {
        "csrf_token": token,
        "path": "brief.limiter",
        "text": "8050",
        "base": "1",
        "stage": "brief",
        "side": "intake",
    }
    body = urlencode(form).encode()
    line = socket.create_connection(("127.0.0.1", port), 30)
    head = f"POST /builds/1/edit HTTP/1.1\r\nCookie: {cookie}\r\nContent-Length: {len(body)}\r\n"
    rest = "".join(f"{n}: {v}\r\n" for n, v in HEADERS.items())
    line.sendall(f"{head}{rest}\r\n".encode() + body[:-1])
    return line, body[-1:]


def test_a_role_that_is_lost_in_the_middle_of_an_act_stores_nothing(shop: tuple[Flask, int]) -> None:
    app, port = shop
    cookie, token = signed_in(port, "Ada")
    line, last = begun(port, cookie, token)
    time.sleep(0.3)
    ada = next(p for p in app.extensions["shop"].people.all() if p.name == "Ada")
    app.extensions["shop"].people.change(ada.id, Role.LOOK, True, WHO)
    line.sendall(last)
    assert b" 401 " in line.recv(100)
    assert app.extensions["shop"].workshop.open(1).revision == 1
    # and one that is kept stores it
    app.extensions["shop"].people.change(ada.id, Role.BUILD, True, WHO)
    line, last = begun(port, *signed_in(port, "Ada"))
    line.sendall(last)
    assert b" 200 " in line.recv(100)
    assert app.extensions["shop"].workshop.open(1).revision == 2


def test_a_stranger_sends_no_photograph_to_the_disk(shop: tuple[Flask, int]) -> None:
    _, port = shop
    line = socket.create_connection(("127.0.0.1", port), 30)
    line.sendall(
        b"POST /builds/1/intake/pictures HTTP/1.1\r\nHost: localhost\r\nContent-Length: 9000000\r\n\r\n" + b"x" * 20_000
    )
    assert b" 413 " in line.recv(100)


FIELDS_OF_TWELVE = (
    ("brief.usual_speed", 6600, "rpm"), ("brief.limiter", 8000, "rpm"), ("brief.overspeed", 8700, "rpm"),
    ("brief.boost", 1.5, "bar"), ("brief.back_pressure", 1.9, "bar"), ("engine.bore", 85.5, "mm"),
    ("engine.stroke", 86.2, "mm"), ("engine.rod", 141.5, "mm"), ("engine.deck", 0.25, "mm"),
    ("engine.gasket", 1.15, "mm"), ("engine.pin_offset", 0.6, "mm"), ("engine.valve_spacing", 38.5, "mm"),
)  # fmt: skip
"""Fields of one head, of which none rests on another."""

EDITS = 2


def test_twelve_hands_edit_twelve_fields_of_one_head_and_all_are_taken(shop: tuple[Flask, int]) -> None:
    """Each from its own page, which tells it no revision but its own."""
    app, port = shop
    hands = [signed_in(port, "Ada") for _ in FIELDS_OF_TWELVE]
    codes: list[int] = []

    def edits(n: int) -> None:
        (path, value, unit), (cookie, token) = FIELDS_OF_TWELVE[n], hands[n]
        line, base = HTTPConnection("127.0.0.1", port, timeout=60), "1"
        for turn in range(1, EDITS + 1):
            form = {"csrf_token": token, "path": path, "text": f"{value * (1 + turn / 1000):.4f} {unit}"}
            body = urlencode(form | {"base": base, "stage": "brief", "side": "intake"})
            line.request("POST", "/builds/1/edit", body, HEADERS | {"Cookie": cookie})
            told = line.getresponse()
            page = told.read().decode()
            codes.append(told.status)
            if found := re.search(r'id="base"[^>]*value="(\d+)"', page):
                base = found[1]

    threads = [Thread(target=edits, args=(n,)) for n in range(len(FIELDS_OF_TWELVE))]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(600)
    assert codes == [200] * (EDITS * len(FIELDS_OF_TWELVE))
    now = app.extensions["shop"].workshop.open(1)
    assert now.revision == 1 + EDITS * len(FIELDS_OF_TWELVE)
    for path, value, unit in FIELDS_OF_TWELVE:
        assert get(now.build, path).typed == f"{value * (1 + EDITS / 1000):.4f} {unit}", path
