"""The server that answers: plain on this machine or the shop's network, private where a certificate is named."""

import errno
import socket
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from arcstack.errors import StoreError
from arcstack.services.pictures import LARGEST
from arcstack.settings import setting

LOOPBACK = "127.0.0.1"
THREADS, CONNECTIONS = int(setting("serve.threads")), int(setting("serve.connections"))
IDLE_S, BACKLOG = int(setting("serve.idle")), int(setting("serve.backlog"))


@dataclass(frozen=True)
class Certificate:
    """Files of a certificate and of its key, both PEM."""

    chain: Path
    key: Path


def server(app: Any, host: str, port: int, certificate: Certificate | None = None) -> Callable[[], None]:
    """What runs until it is stopped. Raises ``StoreError`` where the port or the certificate cannot be used."""
    try:
        if _answers(host, port):
            raise OSError(errno.EADDRINUSE, "taken")
        return _private(app, host, port, certificate) if certificate is not None else _plain(app, host, port)
    except OSError as error:
        taken = error.errno == errno.EADDRINUSE
        why = "is taken by another program, or by Arc Stack itself" if taken else f"cannot be used ({error.strerror})"
        raise StoreError(f"Port {port} {why}. Name another with --port.") from error


def _answers(host: str, port: int) -> bool:
    """Whether somebody listens on the port already: some systems let two do so, and the second is never heard."""
    with socket.socket() as probe:
        probe.settimeout(1.0)
        return probe.connect_ex((LOOPBACK if host in ("0.0.0.0", "::") else host, port)) == 0


def _plain(app: Any, host: str, port: int) -> Callable[[], None]:
    """Idle and slow connections wait outside the threads that work: many of them hold up nobody."""
    from waitress.server import create_server

    made = create_server(
        app, host=host, port=port, threads=THREADS, ident=None, connection_limit=CONNECTIONS, channel_timeout=IDLE_S,
        cleanup_interval=max(IDLE_S // 3, 1), backlog=BACKLOG, max_request_body_size=LARGEST + 1_000_000,
    )  # fmt: skip
    return lambda: made.run()


def _private(app: Any, host: str, port: int, certificate: Certificate) -> Callable[[], None]:
    import ssl

    import uvicorn
    from a2wsgi import WSGIMiddleware

    try:
        ssl.create_default_context(ssl.Purpose.CLIENT_AUTH).load_cert_chain(certificate.chain, certificate.key)
    except (OSError, ssl.SSLError) as error:
        raise StoreError(f"The certificate cannot be used: {error}.") from error
    config = uvicorn.Config(
        WSGIMiddleware(app, workers=THREADS), host=host, port=port, ssl_certfile=str(certificate.chain),
        ssl_keyfile=str(certificate.key), log_level="warning", timeout_keep_alive=IDLE_S, backlog=BACKLOG,
        server_header=False, lifespan="off", ws="none",
    )  # fmt: skip
    return uvicorn.Server(config).run
