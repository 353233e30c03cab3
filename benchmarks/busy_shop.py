"""A busy shop over TLS: twelve hands, two tablets that lose the air in the middle of a photograph, strangers who say
nothing, one who looks at long pages without end, a gauge that hangs, large pictures, and a backup meanwhile.

    python benchmarks/busy_shop.py --minutes 60

Says how long pages took the hands that behave, and how much memory the server held. Ends with 1 where a page of theirs
took over a second at the 95th percentile, or memory did not stay level.
"""

import argparse
import contextlib
import http.client
import io
import random
import re
import socket
import ssl
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from collections import defaultdict
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from urllib.parse import urlencode

from PIL import Image

from arcstack.application import Who
from arcstack.application.certificates import make
from arcstack.application.instruments import Instruments
from arcstack.application.people import People, Role
from arcstack.demo.workshop import make_demo
from arcstack.store import Database

WORDS = "four old seats ring"
LONG = (
    "/builds/3/intake/sheets/report.pdf", "/builds/1/intake/sheets/bench.pdf", "/builds/1/intake/height",
    "/builds/2/exhaust/window", "/builds/1/sheet", "/compare?first=1&second=2",
)  # fmt: skip
QUICK = (
    "/sign-in", "/", "/builds/1/intake/bench", "/builds/3/intake/bench", "/builds/2/intake/stack",
    "/builds/1/intake/bench/to-do",
)  # fmt: skip


class Browser:
    """One browser of the shop, signed in, over a connection that it keeps."""

    def __init__(self, port: int, name: str) -> None:
        self.port, self.cookie, self.token = port, "", ""
        self.line: http.client.HTTPSConnection | None = None
        page = self.ask("GET", "/sign-in")[1].decode()
        self.token = _token(page)
        self.ask("POST", "/sign-in", {"name": name, "password": WORDS})
        self.token = _token(self.ask("GET", "/")[1].decode())

    def ask(self, method: str, path: str, form: dict[str, str] | None = None) -> tuple[int, bytes]:
        """One answer; the connection is opened anew where it was closed."""
        body = urlencode(form | {"csrf_token": self.token}) if form is not None else None
        headers = {"Cookie": self.cookie, "Referer": f"https://localhost:{self.port}/"}
        if body is not None:
            headers |= {"Content-Type": "application/x-www-form-urlencoded", "X-CSRFToken": self.token}
        for again in (True, False):
            if self.line is None:
                self.line = http.client.HTTPSConnection("localhost", self.port, timeout=60, context=context())
            try:
                self.line.request(method, path, body, headers)
                told = self.line.getresponse()
                read = told.read()
            except (OSError, http.client.HTTPException):
                self.line = None
                if not again:
                    raise
                continue
            for name, value in told.getheaders():
                if name.lower() == "set-cookie":
                    self.cookie = value.split(";")[0]
            return told.status, read
        raise AssertionError


def _token(page: str) -> str:
    found = re.search(r'name="csrf-token" content="([^"]+)"', page)
    return found[1] if found else ""


def context() -> ssl.SSLContext:
    made = ssl.create_default_context()
    made.check_hostname, made.verify_mode = False, ssl.CERT_NONE
    return made


class Shop:
    """What everybody does, until it is over."""

    def __init__(self, port: int, until: float) -> None:
        self.port, self.until = port, until
        self.took: dict[str, list[float]] = defaultdict(list)
        self.wrong: list[str] = []

    def going(self) -> bool:
        return time.monotonic() < self.until

    def hand(self, n: int) -> None:
        """Looks, edits and reads, as a hand does all day."""
        rng, own = random.Random(n), Browser(self.port, f"Hand {n}")
        while self.going():
            path = rng.choice(QUICK)
            self._timed(own, "page", "GET", path)
            if n % 3 == 0:
                form = {
                    "path": "brief.limiter",
                    "text": f"{rng.randint(7900, 8200)}",
                    "base": "1",
                    "stage": "brief",
                    "side": "intake",
                }
                self._timed(own, "edit", "POST", "/builds/1/edit", form)
            else:
                form = {
                    "key": "open_height",
                    "place": f"{rng.randint(1, 3)}I-{rng.choice('ab')}",
                    "text": f"36.{rng.randint(70, 89)}",
                    "sure": "1",
                }
                self._timed(own, "reading", "POST", "/builds/1/intake/bench", form)
            # a hand reads a gauge, or thinks
            time.sleep(rng.uniform(1.5, 5.0))

    def _timed(self, own: Browser, kind: str, method: str, path: str, form: dict[str, str] | None = None) -> None:
        began = time.monotonic()
        try:
            code, _ = own.ask(method, path, form)
        except (OSError, http.client.HTTPException) as error:
            if self.going():
                self.wrong.append(f"{kind} {path}: {error!r}")
            return
        self.took["sign-in" if path == "/sign-in" else kind].append(time.monotonic() - began)
        if code >= 500:
            self.wrong.append(f"{kind} {path}: {code}")

    def greedy(self, n: int) -> None:
        """Looks at long pages, one after the other and several at once."""
        own = Browser(self.port, f"Guest {n}")
        while self.going():
            for path in LONG:
                with contextlib.suppress(OSError, http.client.HTTPException):
                    began = time.monotonic()
                    own.ask("GET", path)
                    self.took["long page"].append(time.monotonic() - began)

    def lost_tablet(self, _n: int) -> None:
        """Begins a body, sends a byte now and then, and never ends it."""
        while self.going():
            with contextlib.suppress(OSError):
                line = context().wrap_socket(socket.create_connection(("127.0.0.1", self.port), 10))
                line.sendall(
                    b"POST /builds/1/intake/pictures HTTP/1.1\r\nHost: localhost\r\nContent-Length: 9000000\r\n\r\n"
                    + b"x" * 9000
                )
                for _ in range(20):
                    time.sleep(2)
                    line.sendall(b"x")

    def silent(self, _n: int) -> None:
        """Opens connections and says nothing."""
        held: list[socket.socket] = []
        while self.going():
            with contextlib.suppress(OSError):
                held.append(socket.create_connection(("127.0.0.1", self.port), 10))
            if len(held) > 400:
                held.pop(0).close()
            time.sleep(0.05)

    def pictures(self, n: int) -> None:
        """Sends photographs of 79 megapixels."""
        out = io.BytesIO()
        Image.new("1", (8900, 8900)).save(out, "PNG")
        own = Browser(self.port, f"Hand {n}")
        while self.going():
            parts = (
                ('name="csrf_token"', own.token.encode()),
                ('name="picture"; filename="a.png"', out.getvalue()),
            )  # fmt: skip
            body = b"".join(
                f"--x\r\nContent-Disposition: form-data; {name}\r\n\r\n".encode() + data + b"\r\n"
                for name, data in parts
            )
            body += b"--x--\r\n"
            with contextlib.suppress(OSError, http.client.HTTPException):
                line = http.client.HTTPSConnection("localhost", self.port, timeout=120, context=context())
                headers = {
                    "Cookie": own.cookie, "Referer": f"https://localhost:{self.port}/",
                    "Content-Type": "multipart/form-data; boundary=x",
                }  # fmt: skip
                line.request("POST", "/builds/2/intake/pictures", body, headers)
                line.getresponse().read()
            time.sleep(3)

    def hung_gauge(self, n: int) -> None:
        """Asks a gauge that takes the question and says nothing."""
        own = Browser(self.port, f"Hand {n}")
        while self.going():
            with contextlib.suppress(OSError, http.client.HTTPException):
                own.ask("POST", "/builds/1/intake/bench/ask", {"name": "Hung", "place": "1I-a", "key": "open_height"})
                own.ask("GET", "/builds/1/intake/bench/heard?name=Hung&after=0")
            time.sleep(1)


def memory_mb(pid: int) -> float:
    """What the server and what it started hold of memory that is theirs alone."""
    found = 0
    for process in (pid, *_children(pid)):
        with contextlib.suppress(OSError):
            text = Path(f"/proc/{process}/smaps_rollup").read_text()
            found += sum(int(n) for n in re.findall(r"Private_\w+:\s+(\d+) kB", text))
    return found / 1024


def _children(pid: int) -> list[int]:
    with contextlib.suppress(OSError):
        return [int(p) for p in Path(f"/proc/{pid}/task/{pid}/children").read_text().split()]
    return []


def prepared(data: Path) -> None:
    """The demo's workshop with its people, its certificate, and a gauge that hangs."""
    make_demo(data)
    database, who = (
        Database.open(data / "workshop.sqlite"),
        Who("owner", lambda: datetime.now(UTC).replace(tzinfo=None)),
    )
    people = People(database)
    people.put("Owner", Role.OWNER, WORDS, who)
    for n in range(15):
        people.put(f"Hand {n}", Role.BUILD, WORDS, who)
    for n in range(4):
        people.put(f"Guest {n}", Role.LOOK, WORDS, who)
    make(data, ("localhost", "127.0.0.1"), datetime.now(UTC))
    hung = socket.create_server(("127.0.0.1", 0))
    address = f"socket://127.0.0.1:{hung.getsockname()[1]}"
    _KEPT.append(hung)
    instruments = Instruments(database)
    instruments.allow(address, who)
    instruments.put(
        {"name": "Hung", "kind": "height", "resolution": 0.01, "standard": 35.0, "address": address, "asks": "R"}
    )
    database.engine.dispose()


_KEPT: list[socket.socket] = []


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--minutes", type=float, default=60.0)
    asked = parser.parse_args()
    data = Path(tempfile.mkdtemp(prefix="arc-stack-busy-"))
    prepared(data)
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = int(probe.getsockname()[1])
    command = [sys.executable, "-m", "arcstack.cli", "serve", "--private", "--data", str(data), "--port", str(port)]
    process = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    for _ in range(300):
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                break
        time.sleep(0.1)
    else:
        raise SystemExit("the workshop did not start")
    time.sleep(8)
    shop = Shop(port, time.monotonic() + 60 * asked.minutes)
    doing: list[tuple[Callable[[int], None], int]] = [
        *((shop.hand, n) for n in range(12)), *((shop.greedy, n) for n in range(4)), (shop.lost_tablet, 0),
        (shop.lost_tablet, 1), (shop.silent, 0), (shop.pictures, 12), (shop.pictures, 13), (shop.hung_gauge, 14),
    ]  # fmt: skip
    threads = [threading.Thread(target=f, args=(n,), daemon=True) for f, n in doing]
    for thread in threads:
        thread.start()
    held: list[float] = []
    while shop.going():
        time.sleep(min(10.0, 6 * asked.minutes))
        held.append(memory_mb(process.pid))
        if len(held) == 2:
            subprocess.Popen(
                [sys.executable, "-m", "arcstack.cli", "backup", "--data", str(data)], stdout=subprocess.DEVNULL
            )
    began = time.monotonic()
    process.terminate()
    process.wait(30)
    ended = time.monotonic() - began
    late = False
    for kind, own in sorted(shop.took.items()):
        own.sort()
        p95 = own[int(0.95 * (len(own) - 1))]
        late |= kind != "long page" and p95 > 1.0
        told = f"middle {1000 * statistics.median(own):5.0f} ms  95th {1000 * p95:6.0f} ms  longest {own[-1]:5.1f} s"
        print(f"{kind:10} {len(own):6,}  {told}")
    third = max(len(held) // 3, 1)
    first, last = statistics.median(held[third : 2 * third] or held), statistics.median(held[-third:])
    level = last < 1.15 * first + 50
    print(f"memory {first:.0f} MB in the middle third, {last:.0f} MB in the last, most {max(held):.0f}")
    print(f"ended {ended:.1f} s after it was told to")
    print(f"{len(shop.wrong)} answers were wrong", *shop.wrong[:10], sep="\n")
    return 1 if late or not level or shop.wrong else 0


if __name__ == "__main__":
    sys.exit(main())
