"""Hostile requests by the thousand, and kills in the middle of writing: what must hold afterwards, and whether it did.

    python benchmarks/soak.py --requests 10000 --kills 1000 --minutes 30 --tls

Not a part of the tests: it takes as long as it is given. Ends with 0 when all held.
"""

import argparse
import json
import multiprocessing
import random
import re
import signal
import socket
import sqlite3
import ssl
import subprocess
import sys
import tempfile
import time
from collections import Counter
from contextlib import closing, suppress
from datetime import UTC, datetime
from http.client import HTTPConnection, HTTPException, HTTPSConnection
from multiprocessing.connection import Connection
from pathlib import Path
from pickle import UnpicklingError
from urllib.parse import quote, urlencode

from arcstack.application import Who, Workshop
from arcstack.application.bench import Bench
from arcstack.application.certificates import make
from arcstack.application.people import People, Role
from arcstack.demo.workshop import make_demo
from arcstack.document import Sitting
from arcstack.readings.recorded import Booked, Sort
from arcstack.store import Database, Kind, Reason
from arcstack.web import create_app

FORK = multiprocessing.get_context("fork")

EVIL = (
    "' OR 1=1 --", '"; DROP TABLE build; --', "{{7*7777}}",
    "{% for x in ().__class__.__base__.__subclasses__() %}", "${7*7777}",
    "<script>alert(1)</script>", "\"><img src=x onerror=alert(1)>", "../../../../etc/passwd", "..%2f..%2fetc%2fpasswd",
    "\x00", "\r\nSet-Cookie: a=b", "%0d%0aX: y", "=cmd|'/c calc'!A1", "@SUM(1+1)", "nan", "inf", "-inf",
    "1e999", "9" * 400,
    "-1", "0", "", " ", "A" * 20_000, "\u202e", "𝟛𝟜", "36,5", "1.437 in", "none", "null", "true", "[]", "{}",
    "\ufeff36",
)  # fmt: skip
HEADERS = (
    {}, {"HX-Request": "true"}, {"Host": "evil.test"}, {"Host": ""}, {"X-Forwarded-For": "1.2.3.4"},
    {"X-Forwarded-Host": "evil.test"}, {"Referer": "http://evil.test/"}, {"Content-Type": "application/json"},
    {"Content-Type": "multipart/form-data; boundary=x"}, {"Cookie": "arc_stack=" + "A" * 3000},
    {"Range": "bytes=0-9999999"},
    {"Accept-Encoding": "gzip;q=0"}, {"Transfer-Encoding": "chunked"}, {"If-None-Match": "*" * 900},
)  # fmt: skip


ANY = ssl.create_default_context()
ANY.check_hostname, ANY.verify_mode = False, ssl.CERT_NONE


def free() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


NAME, WORDS = "Soak", "four old seats ring"


def served(data: Path, tls: bool) -> tuple[subprocess.Popen[bytes], int]:
    """The workshop in a process of its own, once it answers; over TLS, where people sign in."""
    port = free()
    command = [sys.executable, "-m", "arcstack.cli", "serve", "--data", str(data), "--port", str(port)]
    if tls:
        make(data, ("localhost", "127.0.0.1"), datetime.now(UTC))
        command.append("--private")
    # into a file: what nobody reads from a pipe would stop the server at its end
    with (data / "log").open("wb") as log:
        process = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=log)
    for _ in range(600):
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                return process, port
        time.sleep(0.1)
    raise SystemExit("the workshop did not start")


def whole(file: Path) -> str:
    """What is wrong with a database; empty for nothing."""
    with closing(sqlite3.connect(file)) as db:
        said = db.execute("PRAGMA integrity_check").fetchone()[0]
        return "" if said == "ok" and db.execute("PRAGMA foreign_key_check").fetchone() is None else str(said)


def addresses(data: Path) -> list[tuple[str, set[str]]]:
    """Every rule of the application, and what it may be asked with."""
    return [(r.rule, set(r.methods or ()) - {"HEAD", "OPTIONS"}) for r in create_app(data).url_map.iter_rules()]


def signed_in(port: int, tls: bool) -> tuple[str, str]:
    """The cookie and the token of a page, of somebody who signed in where people do."""

    def page(path: str, cookie: str) -> tuple[str, str]:
        _, text, made = _asked(port, "GET", path, b"", {"Cookie": cookie}, tls)
        token = re.search(r'name="csrf-token" content="([^"]+)"', text.decode("utf-8", "replace"))
        return made or cookie, token[1] if token else ""

    if not tls:
        return page("/", "")
    cookie, token = page("/sign-in", "")
    headers = {"Cookie": cookie, "Content-Type": "application/x-www-form-urlencoded"}
    headers["Referer"] = f"https://127.0.0.1:{port}/"
    form = urlencode({"name": NAME, "password": WORDS, "csrf_token": token}).encode()
    _, _, cookie = _asked(port, "POST", "/sign-in", form, headers, tls)
    return page("/", cookie)


def hostile(count: int, until: float, rng: random.Random, tls: bool) -> list[str]:
    """So many requests, each wrong in some way; what broke, in words."""
    data = Path(tempfile.mkdtemp(prefix="arc-stack-soak-"))
    make_demo(data)
    rules = addresses(data)
    if tls:
        database = Database.open(data / "workshop.sqlite")
        for name in (NAME, "Another"):
            who = Who("owner", lambda: datetime.now(UTC).replace(tzinfo=None))
            People(database).put(name, Role.OWNER, WORDS, who)
        database.engine.dispose()
    process, port = served(data, tls)
    found: list[str] = []
    codes: Counter[int] = Counter()
    idle = [socket.create_connection(("127.0.0.1", port)) for _ in range(60)]
    started, done = time.monotonic(), 0
    slowest, again = (0.0, ""), 0
    try:
        cookie, token = signed_in(port, tls)
        while done < count and time.monotonic() < until:
            rule, methods = rng.choice(rules)
            path = re.sub(r"<[^>]+>", lambda m: _filled(m[0], rng), rule)
            method = (
                rng.choice(sorted(methods)) if rng.random() < 0.9 else rng.choice(("POST", "PUT", "DELETE", "TRACE"))
            )
            form = {n: rng.choice(EVIL) for n in rng.sample(_NAMES, 5)} | {"base": rng.choice(("1", "2", "x", "-1"))}
            headers = {
                "Cookie": cookie,
                "X-CSRFToken": token,
                "Referer": f"{'https' if tls else 'http'}://127.0.0.1:{port}/",
            }
            headers |= rng.choice(HEADERS) if rng.random() < 0.3 else {}
            body = urlencode(form).encode() if method != "GET" else b""
            if method == "GET" and rng.random() < 0.5:
                path += "?" + urlencode(form)
            headers.setdefault("Content-Type", "application/x-www-form-urlencoded")
            began = time.monotonic()
            try:
                code, text, _ = _asked(port, method, path, body, headers, tls)
            except (OSError, HTTPException, ValueError) as error:
                code, text = 0, b""
                print(f"no answer to {method} {path[:120]}: {error!r}", flush=True)
            took = time.monotonic() - began
            slowest = max(slowest, (took, f"{method} {path[:80]}"))
            codes[code] += 1
            done += 1
            if code == 401 and tls:
                # what it sent ended its own session
                again += 1
                cookie, token = signed_in(port, tls)
            if code >= 500:
                found.append(f"{code} {method} {path[:120]}")
            # a table of words runs nowhere; a page does
            runs = text.lstrip()[:1] == b"<" and b"<script>alert(1)" in text
            if b"Traceback" in text or b"root:x:0" in text or b"54439" in text or runs:
                found.append(f"leaks or runs what was sent: {method} {path[:120]}")
            if process.poll() is not None:
                found.append(f"it died at {method} {path[:120]}")
                break
        if _asked(port, "GET", "/sign-in" if tls else "/", b"", {}, tls)[0] != 200:
            found.append("it no longer answers")
    finally:
        for one in idle:
            one.close()
        process.send_signal(signal.SIGINT)
        began = time.monotonic()
        try:
            process.wait(30)
        except subprocess.TimeoutExpired:
            found.append("it did not end within 30 s of being told to")
            process.kill()
        ended = time.monotonic() - began
    log = (data / "log").stat().st_size
    if wrong := whole(data / "workshop.sqlite"):
        found.append(f"the database: {wrong}")
    took = time.monotonic() - started
    told = dict(sorted(codes.items()))
    how = f"over TLS, signed in again {again:,} times" if tls else "plain"
    line = f"{done:,} hostile requests {how}, in {took:.0f} s, slowest {slowest[0]:.2f} s ({slowest[1]}): {told}, "
    line += f"{len(found)} broke"
    line += f"; ended {ended:.1f} s after it was told to; {log / 1000:,.0f} kB of log"
    print(line, flush=True)
    return found


_NAMES = [
    "path", "text", "stage", "side", "place", "key", "value", "name", "who", "hand", "instrument", "q",
    "search", "page", "file",
    "sign", "places", "finding", "part", "what", "cost", "note", "reason", "until", "check", "group", "pasted",
    "revision",
    "power_unit", "sort", "hours", "rate", "money", "day", "due", "count", "next", "back", "kind", "first",
    "second", "other",
    "units", "system", "answers", "next_look", "marks", "at", "limit", "choice", "rings", "shot", "passes", "found",
]  # fmt: skip


def _filled(part: str, rng: random.Random) -> str:
    usual = {"int": ("1", "2", "3", "1", "2", "3", "0", "999999999"), "side": ("intake", "exhaust", "intake", "middle")}
    kind = part.strip("<>").partition(":")[0]
    pool = usual.get(kind, ("stack", "report", "x"))
    return quote(rng.choice(EVIL), safe="") if rng.random() < 0.06 else rng.choice(pool)


def _asked(
    port: int, method: str, path: str, body: bytes, headers: dict[str, str], tls: bool
) -> tuple[int, bytes, str]:
    # a body that is said to come and never does is given fifteen seconds
    link = (
        HTTPSConnection("127.0.0.1", port, timeout=20, context=ANY)
        if tls
        else HTTPConnection("127.0.0.1", port, timeout=20)
    )
    try:
        link.putrequest(method, path, skip_host="Host" in headers, skip_accept_encoding=True)
        for name, value in headers.items():
            link.putheader(name, value.encode("latin-1", "replace"))
        if body and "Transfer-Encoding" not in headers:
            link.putheader("Content-Length", str(len(body)))
        link.endheaders()
        if "Transfer-Encoding" in headers:
            body = (b"%x\r\n%s\r\n" % (len(body), body) if body else b"") + b"0\r\n\r\n"
        if body:
            link.send(body)
        told = link.getresponse()
        return told.status, told.read(4_000_000), (told.getheader("Set-Cookie") or "").partition(";")[0]
    finally:
        link.close()


AFRESH = 100
"""A workshop is killed so often before another is made: what is looked through after each kill stays short."""


def _writes(data: Path, first: int, said: Connection) -> None:
    """Two events at a time, and now and then a revision, until it is killed; each is said once it is stored."""
    database = Database.open(data / "workshop.sqlite")
    bench, workshop = Bench(database), Workshop(database)
    who = Who("soak", lambda: datetime.now(UTC).replace(tzinfo=None))
    for n in range(first, first + 100_000):
        with database.session(writes=True) as session:
            for half in ("a", "b"):
                by = Sitting(hand="soak", at=datetime.now(UTC))
                bench.add_within(session, 1, [Booked(0, Sort.PARTS, "", f"{n} {half}", 0.0, 0.0, 1.0, by)])
        if n % 5 == 0:
            now = workshop.open(1)
            changed = now.build.model_copy(update={"note": str(n)})
            workshop.save(1, now.revision, changed, who, Reason(Kind.NOTE, "brief.limiter", after=str(n)))
        said.send(n)


def _killed_at(data: Path, first: int, rng: random.Random) -> list[int]:
    """What a process said was stored before it was killed, at a moment of its own."""
    here, there = FORK.Pipe(duplex=False)
    process = FORK.Process(target=_writes, args=(data, first, there), daemon=True)
    process.start()
    there.close()
    told: list[int] = []
    if here.poll(30):
        time.sleep(rng.random() * 0.25)
    process.kill()
    process.join()
    # what it was about to say may be cut off
    with suppress(EOFError, OSError, UnpicklingError):
        while here.poll():
            told.append(here.recv())
    here.close()
    return told


def killed(count: int, until: float, rng: random.Random) -> list[str]:
    """So many kills in the middle of writing; what was lost, or half stored, in words."""
    found: list[str] = []
    kept, done, began = 0, 0, time.monotonic()
    data, said = Path(), -1
    while done < count and time.monotonic() < until:
        if done % AFRESH == 0:
            data, said = Path(tempfile.mkdtemp(prefix="arc-stack-kills-")), -1
            # in a process of its own: no connection of this one is carried into those that are killed
            made = FORK.Process(target=make_demo, args=(data,))
            made.start()
            made.join()
        told = _killed_at(data, said + 1, rng)
        done += 1
        if not told:
            found.append(f"it would not open after kill {done}")
            break
        with closing(sqlite3.connect(data / "workshop.sqlite")) as db:
            rows = [json.loads(b)["what"].split() for (b,) in db.execute("SELECT body FROM event WHERE hand='soak'")]
        halves = Counter(int(n) for n, _ in rows)
        if any(c != 2 for c in halves.values()):
            found.append(f"half a unit of work was stored at kill {done}")
        if lost := [n for n in told if halves.get(n) != 2]:
            found.append(f"{len(lost)} that were said to be stored were lost at kill {done}")
        kept += len(told)
        said = max([said, *told, *halves])
        if done % AFRESH == AFRESH - 1 and (wrong := whole(data / "workshop.sqlite")):
            found.append(f"the database at kill {done}: {wrong}")
    if done and (wrong := whole(data / "workshop.sqlite")):
        found.append(f"the database: {wrong}")
    took = time.monotonic() - began
    print(f"{done:,} kills in {took:.0f} s, {kept:,} units of work were said to be kept, {len(found)} lost", flush=True)
    return found


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--requests", type=int, default=10_000)
    parser.add_argument("--kills", type=int, default=1_000)
    parser.add_argument("--minutes", type=float, default=30.0, help="At most so long, for each of the two.")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--tls", action="store_true", help="Send the requests over TLS, signed in.")
    asked = parser.parse_args()
    rng = random.Random(asked.seed)
    found = hostile(asked.requests, time.monotonic() + 60 * asked.minutes, rng, asked.tls)
    found += killed(asked.kills, time.monotonic() + 60 * asked.minutes, rng)
    for words in found[:40]:
        print(words)
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
