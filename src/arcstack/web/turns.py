"""Pages are worked a few at a time: one processor gains nothing by working at many, and each of them would be late."""

from collections import deque
from collections.abc import Iterator
from contextlib import contextmanager
from threading import Lock

from flask import Flask, g, request

from arcstack.settings import setting

AT_ONCE = int(setting("serve.at_once"))

WAITS = frozenset({"bench.ask", "bench.heard", "gauges_list.put", "watching.index", "static"})
"""What waits for an instrument, or is told at once, and is no work."""


class Turns:
    """So many at once; who came first is next, which a semaphore does not promise."""

    def __init__(self, at_once: int) -> None:
        self._free = at_once
        self._lock = Lock()
        self._waiting: deque[Lock] = deque()

    def take(self) -> None:
        """Return once it is one's turn."""
        with self._lock:
            if self._free:
                self._free -= 1
                return
            gate = Lock()
            gate.acquire()
            self._waiting.append(gate)
        gate.acquire()

    def give(self) -> None:
        """Hand a turn on."""
        with self._lock:
            if self._waiting:
                self._waiting.popleft().release()
            else:
                self._free += 1


@contextmanager
def set_aside() -> Iterator[None]:
    """While a page waits for work elsewhere, others have its turn; then it takes one again, after who came first."""
    held: Turns | None = g.get("turns")
    if held is not None:
        held.give()
    try:
        yield
    finally:
        if held is not None:
            held.take()


def take_turns(app: Flask, at_once: int = AT_ONCE) -> None:
    """Let so many requests work at once; the others wait in the order they came."""
    turns = Turns(at_once)

    def take() -> None:
        if request.endpoint not in WAITS:
            turns.take()
            g.turns = turns

    def give(_error: BaseException | None) -> None:
        held = g.pop("turns", None)
        if held is not None:
            held.give()

    app.before_request(take)
    app.teardown_request(give)
