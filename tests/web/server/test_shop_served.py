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

from arcstack.demo import demo_builds
from arcstack.services.people import Role
from arcstack.web import create_app
from arcstack.web.guard import Guard
from arcstack.web.network import Network
from arcstack.web.server import server
from tests.web.test_network import WHO, WORDS

HEADERS = {"Content-Type": "application/x-www-form-urlencoded", "Host": "localhost"}


@pytest.fixture
def shop(tmp_path: Path) -> Iterator[tuple[Flask, int]]:
    app = create_app(tmp_path, network=Network(("localhost",)))
    app.extensions["people"].put("Ilse", Role.OWNER, WORDS, WHO)
    app.extensions["people"].put("Ada", Role.BUILD, WORDS, WHO)
    app.extensions["workshop"].create(demo_builds()[0], WHO)
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
    ada = next(p for p in app.extensions["people"].all() if p.name == "Ada")
    app.extensions["people"].change(ada.id, Role.LOOK, True, WHO)
    line.sendall(last)
    assert b" 401 " in line.recv(100)
    assert app.extensions["workshop"].open(1).revision == 1
    # and one that is kept stores it
    app.extensions["people"].change(ada.id, Role.BUILD, True, WHO)
    line, last = begun(port, *signed_in(port, "Ada"))
    line.sendall(last)
    assert b" 200 " in line.recv(100)
    assert app.extensions["workshop"].open(1).revision == 2


def test_a_stranger_sends_no_photograph_to_the_disk(shop: tuple[Flask, int]) -> None:
    _, port = shop
    line = socket.create_connection(("127.0.0.1", port), 30)
    line.sendall(
        b"POST /builds/1/intake/pictures HTTP/1.1\r\nHost: localhost\r\nContent-Length: 9000000\r\n\r\n" + b"x" * 20_000
    )
    assert b" 413 " in line.recv(100)
