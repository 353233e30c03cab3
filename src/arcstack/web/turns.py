"""Pages are worked a few at a time: one processor gains nothing by working at many, and each of them would be late."""

from threading import Semaphore

from flask import Flask, g, request

from arcstack.settings import setting

AT_ONCE = int(setting("serve.at_once"))

WAITS = frozenset({"bench.ask", "bench.heard", "watching.index", "static"})
"""What waits for an instrument, or is told at once, and is no work."""


def take_turns(app: Flask, at_once: int = AT_ONCE) -> None:
    """Let so many requests work at once; the others wait in the order they came."""
    turns = Semaphore(at_once)

    def take() -> None:
        if request.endpoint not in WAITS:
            turns.acquire()
            g.has_turn = True

    def give(_error: BaseException | None) -> None:
        if g.pop("has_turn", False):
            turns.release()

    app.before_request(take)
    app.teardown_request(give)
