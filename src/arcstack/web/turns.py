"""Pages are worked a few at a time: one processor gains nothing by working at many, and each of them would be late."""

import time
from collections import deque
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from threading import Lock

from flask import Flask, g, request

from arcstack.settings import setting

AT_ONCE = int(setting("serve.at_once"))
BY_HAND, LONG = int(setting("serve.at_once_by_hand")), int(setting("serve.at_once_long"))
LONG_S, PATIENCE_S = setting("serve.long"), setting("serve.patience")
HALF_S, MOST_CLIENTS, FORGOTTEN_S = setting("serve.half"), 500, 0.01
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
    """So many at once. Of those who wait, the client is next that took least of the processor lately: who asks for
    many pages, or for long ones, waits for their own, and nobody else does.

    Those that stand behind other turns begin only while nobody has one of those or waits for one, or once they have
    waited as long as their patience lasts. Turns that stand behind others share their lock."""

    def __init__(
        self,
        at_once: int,
        clock: Callable[[], float] = time.monotonic,
        *,
        behind: Sequence["Turns"] = (),
        patience: float = PATIENCE_S,
        lock: "Lock | None" = None,
    ) -> None:
        self._at_once, self._clock = at_once, clock
        self._taken = 0
        self._lock = lock or Lock()
        self._waiting: dict[str, deque[tuple[Lock, float]]] = {}
        self._used: dict[str, tuple[float, float]] = {}
        self._behind, self._patience = behind, patience
        self._before: list[Turns] = []
        for other in behind:
            other._before.append(self)

    def take(self, client: str = "") -> None:
        """Return once it is one's turn."""
        with self._lock:
            gate = Lock()
            gate.acquire()
            self._waiting.setdefault(client, deque()).append((gate, self._clock()))
            self._let_in()
        gate.acquire()

    def give(self, client: str = "", seconds: float = 0.0) -> None:
        """Hand a turn on, having used so much of the processor: to the client that used least lately, and among equals
        to the one that has waited longest for its turn."""
        with self._lock:
            now = self._clock()
            self._taken -= 1
            self._used[client] = self._lately(client, now) + seconds, now
            if len(self._used) > MOST_CLIENTS:
                self._used = {c: u for c, u in self._used.items() if self._lately(c, now) > FORGOTTEN_S}
            for turns in (self, *self._before):
                turns._let_in()

    def _let_in(self) -> None:
        now = self._clock()
        while self._waiting and self._taken < self._at_once:
            following = min(self._waiting, key=lambda c: round(self._lately(c, now), 1))
            if any(t._taken or t._waiting for t in self._behind):
                following = min(self._waiting, key=lambda c: self._waiting[c][0][1])
                if now - self._waiting[following][0][1] < self._patience:
                    return
            gates = self._waiting.pop(following)
            gates.popleft()[0].release()
            self._taken += 1
            if gates:
                # behind the others, who wait for their first
                self._waiting[following] = gates

    def _lately(self, client: str, now: float) -> float:
        """Seconds of the processor that a client used, of which half is forgotten in so long."""
        used, at = self._used.get(client, (0.0, now))
        return float(used * 0.5 ** ((now - at) / HALF_S))

    def waiting(self) -> int:
        """How many wait."""
        with self._lock:
            return sum(map(len, self._waiting.values()))


class Lanes:
    """Three queues: hands and pages do not wait for each other; pages that took long when last worked have what the
    others leave of the processor."""

    def __init__(self, at_once: int = AT_ONCE) -> None:
        lock = Lock()
        self.hands, self.pages = Turns(BY_HAND, lock=lock), Turns(at_once, lock=lock)
        self.long = Turns(LONG, behind=(self.hands, self.pages), lock=lock)
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

    def give(self, seconds: float = 0.0) -> None:
        self._turns.give(self._client, seconds)


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
    app.extensions["turns"] = lanes = Lanes(at_once)

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
            took = time.thread_time() - g.began
            lanes.took(request.endpoint or "", took)
            held.give(took)

    app.before_request(take)
    app.teardown_request(give)
