"""One connection: how long it may say nothing, take nothing, or leave a request half said."""

from typing import Any

from uvicorn.protocols.http.h11_impl import H11Protocol

from arcstack.settings import setting

HEAD, IDLE, WRITING, CLOSING, WORK = "head", "idle", "writing", "closing", "work"

MOST_S: dict[str, float] = {
    HEAD: setting("serve.head"), IDLE: setting("serve.idle"), WRITING: setting("serve.silence"),
    CLOSING: setting("serve.closing"),
}  # fmt: skip
"""How long a connection may stay in a state. One at work is held by the limits of its request."""


class Line(H11Protocol):
    """A connection of the HTTP library that knows in which state it is, and since when."""

    def __init__(self, *args: Any, **more: Any) -> None:
        super().__init__(*args, **more)
        self.since = self.loop.time()
        self._state = HEAD
        self._begun = True

    @property
    def at_work(self) -> bool:
        """Whether a request of it was read and is not answered yet."""
        return self.cycle is not None and not self.cycle.response_complete

    def state(self) -> str:
        """What it waits for now.

        A connection begins with the head of a request, which it must send in time; between requests it is idle until
        the first byte of the next one.
        """
        if self.transport is not None and self.transport.is_closing():
            return CLOSING
        if self.flow is not None and self.flow.write_paused:
            return WRITING
        if self.at_work:
            return WORK
        return HEAD if self._begun else IDLE

    def overdue(self, now: float) -> bool:
        """Whether it has been in its state for longer than that may last; looked at about once a second."""
        state = self.state()
        if state != self._state:
            self._state, self.since = state, now
        return now - self.since > MOST_S.get(state, float("inf"))

    def data_received(self, data: bytes) -> None:
        if not self.at_work:
            self._begun = True
        super().data_received(data)
        if self.at_work:
            self._begun = False

    def on_response_complete(self) -> None:
        self._state, self.since = IDLE, self.loop.time()
        super().on_response_complete()

    def resume_writing(self) -> None:
        # a slow reader that goes on reading is not a silent one
        self.since = self.loop.time()
        super().resume_writing()
