"""Pages are worked a few at a time: one processor gains nothing by working at many, and each of them would be late."""

import time
from collections import deque
from collections.abc import Iterator
from contextlib import contextmanager
from threading import Lock

from flask import Flask, g, request

from arcstack.settings import setting

AT_ONCE = int(setting("serve.at_once"))
BY_HAND, LONG = int(setting("serve.at_once_by_hand")), int(setting("serve.at_once_long"))
LONG_S = setting("serve.long")
FORGETS = 0.5
"""How much of a page's time of before is kept when it is worked again."""

WAITS = frozenset({"bench.ask", "bench.heard", "gauges_list.put", "watching.index", "static"})
"""What waits for an instrument, or is told at once, and is no work."""

HANDS = frozenset({
    "people.sign_in", "people.signing_in", "people.sign_out", "bench.index", "bench.take", "bench.back",
    "springs_bench.index", "springs_bench.press", "workshop.sitting",
})  # fmt: skip
"""What a hand at the bench or at the door waits for: it never stands behind a page."""


class Turns:
    """So many at once, each client in its turn: who asks for many pages waits for their own, and nobody else does."""

    def __init__(self, at_once: int) -> None:
        self._free = at_once
        self._lock = Lock()
        self._waiting: dict[str, deque[Lock]] = {}

    def take(self, client: str = "") -> None:
        """Return once it is one's turn."""
        with self._lock:
            if self._free:
                self._free -= 1
                return
            gate = Lock()
            gate.acquire()
            self._waiting.setdefault(client, deque()).append(gate)
        gate.acquire()

    def give(self) -> None:
        """Hand a turn on: to the client that has not had one for longest, and of its requests to the first."""
        with self._lock:
            client = next(iter(self._waiting), None)
            if client is None:
                self._free += 1
                return
            gates = self._waiting.pop(client)
            gates.popleft().release()
            if gates:
                # behind the others, who wait for their first
                self._waiting[client] = gates

    def waiting(self) -> int:
        """How many wait."""
        with self._lock:
            return sum(map(len, self._waiting.values()))


class Lanes:
    """Three queues that do not wait for each other: hands, pages, and pages that took long when last worked."""

    def __init__(self, at_once: int = AT_ONCE) -> None:
        self.hands, self.pages, self.long = Turns(BY_HAND), Turns(at_once), Turns(LONG)
        self._took: dict[str, float] = {}

    def of(self, endpoint: str) -> Turns:
        """The queue of an address, by what it is for and by how long it took of the processor."""
        if endpoint in HANDS:
            return self.hands
        return self.long if self._took.get(endpoint, 0.0) > LONG_S else self.pages

    def took(self, endpoint: str, seconds: float) -> None:
        """Remember how long one took: at once where it was longer than before, by and by where it was shorter."""
        before = self._took.get(endpoint, 0.0)
        self._took[endpoint] = max(seconds, FORGETS * before + (1.0 - FORGETS) * seconds)


class _Held:
    """The turn of one request."""

    def __init__(self, turns: Turns, client: str) -> None:
        self._turns, self._client = turns, client

    def take(self) -> None:
        self._turns.take(self._client)

    def give(self) -> None:
        self._turns.give()


@contextmanager
def set_aside() -> Iterator[None]:
    """While a page waits for work elsewhere, others have its turn; then it takes one again, after who came first."""
    held: _Held | None = g.get("turns")
    if held is not None:
        held.give()
    try:
        yield
    finally:
        if held is not None:
            held.take()


def take_turns(app: Flask, at_once: int = AT_ONCE) -> None:
    """Let so many requests work at once; the others wait, each client's in the order they came."""
    lanes = Lanes(at_once)

    def take() -> None:
        endpoint = request.endpoint
        if endpoint in WAITS:
            return
        client = str(request.environ.get("arcstack.client") or request.remote_addr or "")
        held = _Held(lanes.of(endpoint or ""), client)
        held.take()
        g.turns, g.began = held, time.thread_time()

    def give(_error: BaseException | None) -> None:
        held = g.pop("turns", None)
        if held is not None:
            lanes.took(request.endpoint or "", time.thread_time() - g.began)
            held.give()

    app.before_request(take)
    app.teardown_request(give)
