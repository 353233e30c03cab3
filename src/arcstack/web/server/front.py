"""One request: who sends it is known before its body is read, and all of it is here before it takes a thread."""

import asyncio
import errno
from collections.abc import AsyncIterator, Awaitable, Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass, field
from tempfile import SpooledTemporaryFile
from typing import IO, Any, cast

from a2wsgi.wsgi import build_environ
from werkzeug.test import run_wsgi_app

from arcstack.settings import setting

THREADS = int(setting("serve.threads"))
SILENCE_S, BODY_S, SLOWEST = setting("serve.silence"), setting("serve.body"), setting("serve.slowest")
HELD_OF_ONE, HELD_IN_ALL = int(setting("serve.held_of_one")), int(setting("serve.held_in_all"))
AT_ONCE, OPEN_OF_ONE = int(setting("serve.at_once_of_one")), int(setting("serve.open_of_one"))
IN_MEMORY, PIECE = 256_000, 65_536
SENT_WHOLE = 1_000_000
"""An answer up to here is worked to its end at once; what is longer is fetched as it is taken."""

CLIENT = "arcstack.client"
"""Where in a request's environment its client stands: a session, or an address."""

Receive = Callable[[], Awaitable[Any]]
Send = Callable[[Any], Awaitable[None]]
Environ = dict[str, Any]


class Asked:
    """Tells by the head of a request who sends it, and how long its body may be.

    This one is for a machine of one's own, where everybody is known.
    """

    def client(self, environ: Environ) -> str:
        """Whose share of the machine it takes: asked at every request, so without a look at the disk."""
        return str(environ.get("REMOTE_ADDR", ""))

    def largest(self, environ: Environ) -> int:
        """Bytes that its body may have; asked in a thread, and only where there is one."""
        return HELD_OF_ONE


class Refused(Exception):
    """A request that is not read to its end, with the answer it gets."""

    def __init__(self, code: int, words: str) -> None:
        super().__init__(words)
        self.code, self.words = code, words


@dataclass
class _Client:
    """What one client has under way."""

    open: int = 0
    held: int = 0
    turns: asyncio.Semaphore = field(default_factory=lambda: asyncio.Semaphore(AT_ONCE))


class Front:
    """Every request on its way to the application: read whole within limits, worked in a thread, sent piece by piece.

    A client that is slow, silent or greedy keeps its own connection busy, and nothing else.
    """

    def __init__(self, app: Any, asked: Asked) -> None:
        self.app, self.asked = app, asked
        self._pool = ThreadPoolExecutor(THREADS, "page")
        self._heads = ThreadPoolExecutor(2, "head")
        self._clients: dict[str, _Client] = {}
        self._held = 0

    async def __call__(self, scope: Any, receive: Receive, send: Send) -> None:
        with SpooledTemporaryFile(IN_MEMORY) as body:
            environ = cast(Environ, build_environ(scope, body))  # type: ignore[arg-type]
            environ[CLIENT] = self.asked.client(environ)
            try:
                with self._one_more(environ[CLIENT]) as client, self._counted(client) as count:
                    await self._read(count, environ, receive, body)
                    await self._answer(client, environ, send)
            except Refused as refused:
                await _refuse(send, refused)
            except OSError as error:
                if error.errno != errno.ENOSPC:
                    raise
                await _refuse(
                    send, Refused(507, "The disk is full. Nothing was stored. Make room, then send it again.")
                )

    @contextmanager
    def _one_more(self, name: str) -> Iterator[_Client]:
        client = self._clients.setdefault(name, _Client())
        if client.open >= OPEN_OF_ONE:
            raise Refused(429, "Too many pages are asked for at once. Wait a moment, then ask again.")
        client.open += 1
        try:
            yield client
        finally:
            client.open -= 1
            if not client.open:
                self._clients.pop(name, None)

    @contextmanager
    def _counted(self, client: _Client) -> Iterator[Callable[[int], None]]:
        """Counts the bytes of one body, for as long as its request is under way. Raises ``Refused`` past the quota."""
        held = 0

        def count(more: int) -> None:
            nonlocal held
            held, client.held, self._held = held + more, client.held + more, self._held + more
            if client.held > HELD_OF_ONE or self._held > HELD_IN_ALL:
                raise Refused(503, "Too much is being sent at once. Wait a moment, then send it again.")

        try:
            yield count
        finally:
            client.held, self._held = client.held - held, self._held - held

    async def _read(self, count: Callable[[int], None], environ: Environ, receive: Receive, body: IO[bytes]) -> None:
        """All of the body, on the disk where it is long."""
        if not _has_body(environ):
            return
        loop = asyncio.get_running_loop()
        largest = await loop.run_in_executor(self._heads, self.asked.largest, environ)
        held = 0
        async for piece in _pieces(environ, receive, largest):
            count(len(piece))
            held += len(piece)
            body.write(piece)
        body.seek(0)
        # it came in chunks, perhaps; it is whole now
        environ.pop("HTTP_TRANSFER_ENCODING", None)
        environ["CONTENT_LENGTH"] = str(held)

    async def _answer(self, client: _Client, environ: Environ, send: Send) -> None:
        loop = asyncio.get_running_loop()
        async with client.turns:
            status, headers, first, rest = await loop.run_in_executor(self._pool, self._work, environ)
        try:
            await send({"type": "http.response.start", "status": status, "headers": headers})
            for at in range(0, len(first), PIECE):
                await send({"type": "http.response.body", "body": first[at : at + PIECE], "more_body": True})
            while rest is not None and (piece := await loop.run_in_executor(None, next, rest, None)) is not None:
                await send({"type": "http.response.body", "body": piece, "more_body": True})
            await send({"type": "http.response.body", "body": b""})
        finally:
            if rest is not None:
                await loop.run_in_executor(None, _close, rest)

    def _work(self, environ: Environ) -> tuple[int, list[tuple[bytes, bytes]], bytes, Iterator[bytes] | None]:
        """Status, headers, the beginning of an answer, and what gives the rest where it is long."""
        pieces, status, headers = run_wsgi_app(self.app, environ)
        told = [(n.lower().encode("latin1"), v.encode("latin1")) for n, v in headers]
        code, first, iterator = int(status.split(" ", 1)[0]), bytearray(), iter(pieces)
        for piece in iterator:
            first += piece
            if len(first) >= SENT_WHOLE:
                return code, told, bytes(first), iterator
        _close(pieces)
        return code, told, bytes(first), None

    def end(self) -> None:
        """Take no more work."""
        for pool in (self._heads, self._pool):
            pool.shutdown(wait=False, cancel_futures=True)


def _close(pieces: Any) -> None:
    close = getattr(pieces, "close", None)
    if close is not None:
        close()


def _has_body(environ: Environ) -> bool:
    return environ.get("CONTENT_LENGTH", "0") not in ("", "0") or "HTTP_TRANSFER_ENCODING" in environ


async def _pieces(environ: Environ, receive: Receive, largest: int) -> AsyncIterator[bytes]:
    """A body piece by piece. Raises ``Refused`` for one that is too long, silent for too long, or too slow in all."""
    told = environ.get("CONTENT_LENGTH", "")
    too_long = Refused(413, f"That is more than {max(largest / 1e6, 0.01):.3g} MB. Nothing was stored.")
    if told.isdigit() and int(told) > largest:
        raise too_long
    loop = asyncio.get_running_loop()
    ends, held, more = loop.time() + BODY_S, 0, True
    while more:
        try:
            # every so many bytes that came give it a second more
            async with asyncio.timeout_at(min(ends + held / SLOWEST, loop.time() + SILENCE_S)):
                message = await receive()
        except TimeoutError:
            raise Refused(408, "It was not sent to its end in time. Nothing was stored; send it again.") from None
        if message["type"] == "http.disconnect":
            raise Refused(400, "It was cut off. Nothing was stored.")
        piece, more = message.get("body", b""), message.get("more_body", False)
        held += len(piece)
        if held > largest:
            raise too_long
        if piece:
            yield piece


async def _refuse(send: Send, refused: Refused) -> None:
    words = refused.words.encode()
    headers = [
        (b"content-type", b"text/plain; charset=utf-8"), (b"content-length", str(len(words)).encode()),
        (b"connection", b"close"), (b"cache-control", b"no-store"),
    ]  # fmt: skip
    await send({"type": "http.response.start", "status": refused.code, "headers": headers})
    await send({"type": "http.response.body", "body": words})
