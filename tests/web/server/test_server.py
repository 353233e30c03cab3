"""The server, attacked: each limit holds plain and private alike, and whoever behaves is answered meanwhile."""

import asyncio
import contextlib
import http.client
import logging
import socket
import ssl
import subprocess
import time
from collections.abc import Iterator
from pathlib import Path
from threading import Thread
from typing import Any

import pytest
import uvicorn
from flask import Flask, request

from arcstack.web.server import Asked, Certificate, Door, server
from arcstack.web.server import door as door_room
from arcstack.web.server import front as front_room
from arcstack.web.server import line as line_room
from arcstack.web.server.front import Environ, Front
from arcstack.web.server.log import write_sparingly

STRANGER = 1_000


class Shop:
    """The server with a small application behind it, and hands that reach it."""

    def __init__(self, door: Door, tls: bool, seen: list[int]) -> None:
        self.door, self.tls, self.seen = door, tls, seen

    def open(self) -> socket.socket:
        """A connection, its secret agreed where there is one."""
        made = socket.create_connection(("127.0.0.1", self.door.port), 10)
        if not self.tls:
            return made
        context = ssl.create_default_context()
        context.check_hostname, context.verify_mode = False, ssl.CERT_NONE
        return context.wrap_socket(made)

    def get(self, path: str = "/", timeout: float = 5.0) -> tuple[int, bytes]:
        """One answer; raises where none comes in time."""
        with contextlib.closing(self.open()) as line:
            line.settimeout(timeout)
            line.sendall(f"GET {path} HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n".encode())
            answer = http.client.HTTPResponse(line)
            answer.begin()
            return answer.status, answer.read()

    def send(self, body: bytes, known: bool = True, said: int | None = None) -> socket.socket:
        """The beginning of a body that is said to be longer."""
        line = self.open()
        head = f"POST /take HTTP/1.1\r\nHost: x\r\nContent-Length: {len(body) if said is None else said}\r\n"
        line.sendall((head + ("X-Known: yes\r\n" if known else "") + "\r\n").encode() + body)
        return line


def answer(line: socket.socket, timeout: float = 8.0) -> int:
    """The code of what comes; 0 where the connection is closed without a word."""
    line.settimeout(timeout)
    with contextlib.suppress(ConnectionError, ssl.SSLError):
        told = line.recv(200)
        if told:
            return int(told.split(b" ", 2)[1])
    return 0


class Known(Asked):
    def client(self, environ: Environ) -> str:
        return environ.get("HTTP_X_CLIENT", "") or super().client(environ)

    def largest(self, environ: Environ) -> int:
        return 3_000_000 if "HTTP_X_KNOWN" in environ else STRANGER


@pytest.fixture(scope="module")
def certificate(tmp_path_factory: pytest.TempPathFactory) -> Certificate:
    folder = tmp_path_factory.mktemp("tls")
    made = Certificate(folder / "cert.pem", folder / "key.pem")
    subprocess.run(
        ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj", "/CN=bench.test",
         "-keyout", str(made.key), "-out", str(made.chain)], capture_output=True, check=True,
    )  # fmt: skip
    return made


@pytest.fixture(params=["plain", "private"])
def shop(request: pytest.FixtureRequest, monkeypatch: pytest.MonkeyPatch, certificate: Certificate) -> Iterator[Shop]:
    """Limits of a second where a shop's are of ten, so that each is met."""
    for state in line_room.MOST_S:
        monkeypatch.setitem(line_room.MOST_S, state, 1.0)
    monkeypatch.setattr(front_room, "SILENCE_S", 1.0)
    monkeypatch.setattr(front_room, "BODY_S", 2.0)
    monkeypatch.setattr(front_room, "HELD_OF_ONE", 4_000_000)
    monkeypatch.setattr(door_room, "LOOK_S", 0.2)
    monkeypatch.setattr(door_room, "HANDSHAKE_S", 1.0)
    tls = request.param == "private"
    seen: list[int] = []
    door = server(_application(seen), "127.0.0.1", 0, certificate if tls else None, Known())
    door.most, door.most_of_one = 60, 30
    thread = Thread(target=door.run, daemon=True)
    thread.start()
    yield Shop(door, tls, seen)
    began = time.monotonic()
    door.stop()
    thread.join(20)
    assert not thread.is_alive()
    assert time.monotonic() - began < 10


def _application(seen: list[int]) -> Flask:
    app = Flask(__name__)

    @app.post("/take")
    def take() -> str:
        seen.append(len(request.get_data()))
        return "taken"

    app.add_url_rule("/", "index", lambda: "here")
    app.add_url_rule("/long", "long", lambda: b"x" * 30_000_000)
    return app


def test_a_body_is_given_whole_and_a_page_is_sent(shop: Shop) -> None:
    assert shop.get("/") == (200, b"here")
    assert shop.get("/long", 30)[1] == b"x" * 30_000_000
    assert shop.get("/nowhere")[0] == 404
    line = shop.send(b"y" * 900_000)
    told = http.client.HTTPResponse(line)
    told.begin()
    assert told.read() == b"taken"
    # a second request on the same connection, its body in chunks
    line.sendall(
        b"POST /take HTTP/1.1\r\nHost: x\r\nX-Known: y\r\nTransfer-Encoding: chunked\r\n\r\n3\r\nabc\r\n0\r\n\r\n"
    )
    assert answer(line) == 200
    assert shop.seen == [900_000, 3]


def test_two_bodies_that_never_end_hold_up_nobody_and_are_given_up(shop: Shop) -> None:
    slow = [shop.send(b"a", said=500_000) for _ in range(2)]
    for n in range(6):
        assert shop.get()[0] == 200
        for line in slow:
            with contextlib.suppress(OSError):
                line.sendall(b"b")
        time.sleep(0.4 if n else 0.0)
    assert [answer(line) for line in slow] == [408, 408]
    assert shop.seen == []


def test_a_body_that_falls_silent_is_given_up(shop: Shop) -> None:
    line = shop.send(b"a" * 200_000, said=500_000)
    began = time.monotonic()
    assert answer(line) == 408
    assert time.monotonic() - began < 2.0


def test_a_stranger_sends_no_more_than_a_name_and_a_password(shop: Shop) -> None:
    assert answer(shop.send(b"a", known=False, said=500_000)) == 413
    line = shop.open()
    line.sendall(b"POST /take HTTP/1.1\r\nHost: x\r\nTransfer-Encoding: chunked\r\n\r\n")
    with contextlib.suppress(OSError):
        for _ in range(4):
            line.sendall(b"200\r\n" + b"a" * 0x200 + b"\r\n")
    assert answer(line) == 413
    assert shop.seen == []
    assert answer(shop.send(b"a" * 100, known=False)) == 200


def test_a_client_has_so_much_under_way_and_no_more(shop: Shop) -> None:
    first = shop.send(b"a" * 2_500_000, said=2_600_000)
    time.sleep(0.4)
    second = shop.send(b"a" * 2_500_000, said=2_600_000)
    assert answer(second) == 503
    first.sendall(b"a" * 100_000)
    assert answer(first) == 200
    assert answer(shop.send(b"a" * 2_500_000)) == 200


def test_a_head_that_is_not_sent_to_its_end_is_closed(shop: Shop) -> None:
    halves = [shop.open() for _ in range(3)]
    for line in halves[:2]:
        line.sendall(b"GET / HTTP/1.1\r\nX-Slow: ")
    began = time.monotonic()
    while time.monotonic() - began < 4.0:
        with contextlib.suppress(OSError):
            halves[0].sendall(b"a")
        time.sleep(0.2)
    assert [answer(line) for line in halves] == [0, 0, 0]


def test_a_head_that_is_too_long_is_refused(shop: Shop) -> None:
    line = shop.open()
    with contextlib.suppress(OSError):
        line.sendall(b"GET / HTTP/1.1\r\nX-Long: " + b"a" * 200_000)
    assert answer(line) in (400, 431, 0)
    assert shop.get()[0] == 200


def test_connections_without_end_shut_out_nobody(shop: Shop) -> None:
    held = []
    for _ in range(90):
        with contextlib.suppress(OSError):
            held.append(shop.open())
    assert shop.get()[0] == 200
    assert len(shop.door._here) <= 31
    for line in held:
        line.close()


def test_a_secret_that_is_never_agreed_shuts_out_nobody(shop: Shop) -> None:
    raw = [socket.create_connection(("127.0.0.1", shop.door.port), 5) for _ in range(80)]
    assert shop.get()[0] == 200
    time.sleep(2.5)
    for line in raw:
        line.settimeout(1.0)
        with contextlib.suppress(ConnectionError):
            assert line.recv(10) == b""
    assert len(shop.door._here) <= 1


def test_whoever_takes_no_answer_is_cut_off_and_whoever_is_slow_is_not(shop: Shop) -> None:
    line = shop.open()
    line.sendall(b"GET /long HTTP/1.1\r\nHost: x\r\n\r\n")
    slow = shop.open()
    slow.sendall(b"GET /long HTTP/1.1\r\nHost: x\r\n\r\n")
    got, began = 0, time.monotonic()
    while got < 30_000_000:
        step = got + 1_000_000
        while got < min(step, 30_000_000):
            piece = slow.recv(1_000_000)
            assert piece, got
            got += len(piece)
        time.sleep(0.1)
    assert time.monotonic() - began > 2.0
    got = 0
    line.settimeout(5)
    with contextlib.suppress(OSError):
        while piece := line.recv(1_000_000):
            got += len(piece)
    assert got < 30_000_000


def test_it_ends_in_seconds_whatever_is_under_way(shop: Shop) -> None:
    """The fixture holds the time; here are lines for it to end."""
    lines = [shop.send(b"a", said=500_000), shop.open(), shop.open()]
    lines[1].sendall(b"GET /long HTTP/1.1\r\nHost: x\r\n\r\n")
    lines[2].sendall(b"GET / HT")
    time.sleep(0.3)


def test_one_who_asks_for_many_pages_is_refused_at_last_and_others_are_not() -> None:
    held: list[Any] = []

    async def run() -> None:
        front = Front(lambda *_: None, Asked())
        with contextlib.ExitStack() as stack:
            for _ in range(front_room.OPEN_OF_ONE):
                stack.enter_context(front._one_more("greedy"))
            with pytest.raises(front_room.Refused, match="Too many pages"):
                stack.enter_context(front._one_more("greedy"))
            stack.enter_context(front._one_more("wen"))
        held.append(front._clients)
        front.end()

    # in a thread of its own: another test of this process may have left a loop running in this one
    apart = Thread(target=lambda: asyncio.run(run()))
    apart.start()
    apart.join(10)
    assert held == [{}]


def test_nonsense_fills_no_log(shop: Shop, tmp_path: Path) -> None:
    root = logging.getLogger("of a test")
    written = tmp_path / "log"
    write_sparingly(root)
    write_sparingly(root)
    assert len(root.handlers) == 1
    sparing = root.handlers[0].filters[0]
    file = logging.FileHandler(written)
    file.addFilter(sparing)
    logging.getLogger("uvicorn.error").addHandler(file)
    try:
        for _ in range(60):
            line = shop.open()
            line.sendall(b"\x16\x03\x01 nonsense\r\n\r\n")
            line.close()
    finally:
        logging.getLogger("uvicorn.error").removeHandler(file)
    assert len(written.read_text().splitlines()) <= 10


def test_it_is_the_librarys_server() -> None:
    assert issubclass(Door, uvicorn.Server)
