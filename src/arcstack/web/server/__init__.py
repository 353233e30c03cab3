"""The server that answers: one for this machine and for the shop's network, plain or private, with the same limits."""

import errno
import logging
import socket
import ssl
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import uvicorn

from arcstack.errors import StoreError
from arcstack.settings import setting
from arcstack.web.server.door import Door
from arcstack.web.server.front import Asked, Front
from arcstack.web.server.line import Line
from arcstack.web.server.log import write_sparingly

__all__ = ["Asked", "Certificate", "Door", "server"]

LOOPBACK = "127.0.0.1"
BACKLOG, IDLE_S = int(setting("serve.backlog")), int(setting("serve.idle"))
LARGEST_HEAD, ENDS_S = int(setting("serve.largest_head")), int(setting("serve.ends"))


@dataclass(frozen=True)
class Certificate:
    """Files of a certificate and of its key, both PEM."""

    chain: Path
    key: Path

    def context(self) -> ssl.SSLContext:
        """TLS 1.2 and later with this certificate. Raises ``StoreError`` where the files are none."""
        try:
            made = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
            made.minimum_version = ssl.TLSVersion.TLSv1_2
            made.load_cert_chain(self.chain, self.key)
        except (OSError, ssl.SSLError) as error:
            raise StoreError(f"The certificate cannot be used: {error}.") from error
        return made


def server(app: Any, host: str, port: int, certificate: Certificate | None = None, asked: Asked | None = None) -> Door:
    """A server that listens already, and answers once it runs; port 0 is any that is free. ``asked`` tells who sends a
    request, by its head alone.

    Raises ``StoreError`` where the port or the certificate cannot be used.
    """
    private = certificate.context() if certificate is not None else None
    listening = _listening(host, port)
    write_sparingly(logging.getLogger())
    front = Front(app, asked or Asked())
    config = uvicorn.Config(
        front, http=Line, ws="none", lifespan="off", loop="asyncio", interface="asgi3", log_config=None,
        log_level="warning", access_log=False, server_header=False, proxy_headers=False, backlog=BACKLOG,
        timeout_keep_alive=IDLE_S, timeout_graceful_shutdown=ENDS_S, h11_max_incomplete_event_size=LARGEST_HEAD,
    )  # fmt: skip
    return Door(config, listening, private, front.end)


def _listening(host: str, port: int) -> socket.socket:
    """A socket that listens. Raises ``StoreError``."""
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    made = socket.socket(family)
    try:
        if port and _answers(host, port):
            raise OSError(errno.EADDRINUSE, "taken")
        made.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        made.bind((host, port))
        made.listen(BACKLOG)
        made.setblocking(False)
    except OSError as error:
        made.close()
        taken = error.errno == errno.EADDRINUSE
        why = "is taken by another program, or by Arc Stack itself" if taken else f"cannot be used ({error.strerror})"
        raise StoreError(f"Port {port} {why}. Name another with --port.") from error
    return made


def _answers(host: str, port: int) -> bool:
    """Whether somebody listens on the port already: some systems let two do so, and the second is never heard."""
    with socket.socket() as probe:
        probe.settimeout(1.0)
        return probe.connect_ex((LOOPBACK if host in ("0.0.0.0", "::") else host, port)) == 0
