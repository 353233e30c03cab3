"""Who comes in: connections counted where they are accepted, before a byte of them is read or a secret agreed."""

import asyncio
import socket
import ssl
from collections import Counter
from collections.abc import Callable
from contextlib import suppress

import uvicorn

from arcstack.settings import setting
from arcstack.web.server.line import WORK, WRITING, Line

MOST, MOST_OF_ONE = int(setting("serve.connections")), int(setting("serve.connections_of_one"))
HANDSHAKE_S, CLOSING_S = setting("serve.handshake"), setting("serve.closing")
LOOK_S = 1.0
SPARE_FILES = 256
"""Files that the program needs beside its connections: the database, pictures, what is sent."""


class Door(uvicorn.Server):
    """A server whose connections are bounded in all and by address.

    Where there is no room a new one is let in, and the one goes that has waited longest without a request at work:
    silent connections, however many, shut out nobody. ``private`` makes every connection TLS; the limits are the same.
    """

    def __init__(
        self,
        config: uvicorn.Config,
        listening: socket.socket,
        private: ssl.SSLContext | None = None,
        ended: Callable[[], None] = lambda: None,
        most: int = MOST,
        most_of_one: int = MOST_OF_ONE,
    ) -> None:
        super().__init__(config)
        self.listening, self.private, self.ended = listening, private, ended
        self.most, self.most_of_one = min(most, _files() - SPARE_FILES), most_of_one
        self.port = int(listening.getsockname()[1])
        self._here: dict[socket.socket, str] = {}
        self._by_address: Counter[str] = Counter()
        self._line_of: dict[socket.socket, Line] = {}
        self._tasks: set[asyncio.Task[None]] = set()

    def stop(self) -> None:
        """End soon: what is at work is let end first."""
        self.should_exit = True

    async def startup(self, sockets: list[socket.socket] | None = None) -> None:
        """Begin to accept, and to look for connections that are overdue."""
        await self.lifespan.startup()
        self.servers = []
        self._begin(self._accept())
        self._begin(self._look())
        self.started = True

    async def shutdown(self, sockets: list[socket.socket] | None = None) -> None:
        """Take nobody in any more, let what is at work end, but not for long."""
        for task in list(self._tasks):
            task.cancel()
        self.listening.close()
        await super().shutdown()
        for line in list(self._line_of.values()):
            line.transport.abort()
        self.ended()

    def _begin(self, work: "asyncio._CoroutineLike[None]") -> None:
        task = asyncio.get_running_loop().create_task(work)
        self._tasks.add(task)
        task.add_done_callback(self._tasks.discard)

    async def _accept(self) -> None:
        loop = asyncio.get_running_loop()
        while True:
            try:
                came, address = await loop.sock_accept(self.listening)
            except OSError:
                # out of files for a moment, or gone before it was taken
                await asyncio.sleep(0.05)
                continue
            self._make_room(str(address[0]))
            self._here[came] = str(address[0])
            self._by_address[str(address[0])] += 1
            self._begin(self._let_in(came))

    async def _let_in(self, came: socket.socket) -> None:
        """Agree on a secret where the workshop is served so, then hand the connection to the HTTP library."""
        loop = asyncio.get_running_loop()
        line: Line | None = None

        def protocol() -> Line:
            nonlocal line
            line = _Counted(lambda: self._gone(came), self.config, self.server_state, self.lifespan.state, loop)
            return line

        waits = (
            {"ssl_handshake_timeout": HANDSHAKE_S, "ssl_shutdown_timeout": CLOSING_S}
            if self.private is not None
            else {}
        )
        try:
            await loop.connect_accepted_socket(protocol, came, ssl=self.private, **waits)
        except (OSError, TimeoutError, asyncio.CancelledError, ValueError):
            self._gone(came)
            with suppress(OSError):
                came.close()
            return
        if line is not None and came in self._here:
            self._line_of[came] = line

    def _gone(self, came: socket.socket) -> None:
        address = self._here.pop(came, None)
        self._line_of.pop(came, None)
        if address is not None:
            self._by_address[address] -= 1
            if not self._by_address[address]:
                del self._by_address[address]

    def _make_room(self, address: str) -> None:
        """Close the connection that has waited longest, where there are too many: of this address, or of all."""
        if self._by_address[address] >= self.most_of_one:
            self._close_one([s for s, a in self._here.items() if a == address])
        elif len(self._here) >= self.most:
            # those of the address that holds most of them go first
            (largest, _), *_ = self._by_address.most_common(1)
            self._close_one([s for s, a in self._here.items() if a == largest])

    def _close_one(self, among: list[socket.socket]) -> None:
        """The first in order that is neither at work nor being written to; the oldest where all are."""
        lines = [(s, self._line_of.get(s)) for s in among]
        idle = [s for s, line in lines if line is None or line.state() not in (WORK, WRITING)]
        chosen = (idle or among)[0]
        line = self._line_of.get(chosen)
        self._gone(chosen)
        if line is not None:
            line.transport.abort()
        else:
            # its handshake is under way, and ends with the socket
            with suppress(OSError):
                chosen.shutdown(socket.SHUT_RDWR)

    async def _look(self) -> None:
        """End what is overdue, about once a second."""
        loop = asyncio.get_running_loop()
        while True:
            await asyncio.sleep(LOOK_S)
            for line in list(self._line_of.values()):
                if line.overdue(loop.time()):
                    line.transport.abort()


class _Counted(Line):
    """A connection that says when it is lost."""

    def __init__(self, gone: Callable[[], None], *args: object) -> None:
        super().__init__(*args)
        self._gone = gone

    def connection_lost(self, exc: Exception | None) -> None:
        super().connection_lost(exc)
        self._gone()


def _files() -> int:
    """How many files this program may have open: as many as its system lets it."""
    try:
        import resource
    except ImportError:  # a system that has no such limit
        return 8_192
    soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    most = hard if hard != resource.RLIM_INFINITY else 65_536
    if soft < min(most, 8_192):
        with suppress(OSError, ValueError):
            resource.setrlimit(resource.RLIMIT_NOFILE, (min(most, 8_192), hard))
    return resource.getrlimit(resource.RLIMIT_NOFILE)[0]
