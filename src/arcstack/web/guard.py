"""Who sends a request and how much of it is read, told before its body is."""

from flask import Flask
from itsdangerous import BadSignature

from arcstack.application.pictures import LARGEST as LARGEST_PICTURE
from arcstack.formats import LARGEST
from arcstack.settings import setting
from arcstack.web.network import signed_in
from arcstack.web.server.front import Asked, Environ

OF_STRANGER = int(setting("serve.largest_of_stranger"))
BESIDE = 100_000
"""A form has so much round what it sends."""


def largest_at(path: str) -> int:
    """What a request to an address may bring at most: a photograph is larger than a build.

    >>> largest_at("/builds/1/intake/pictures") > largest_at("/builds/1/edit")
    True
    """
    return LARGEST_PICTURE if path.endswith("/pictures") else LARGEST


class Guard(Asked):
    """Knows who is signed in by the application's own sessions."""

    def __init__(self, app: Flask) -> None:
        self.app = app
        self._everybody = "network" not in app.extensions

    def client(self, environ: Environ) -> str:
        """The session, where its cookie was made here for somebody who signed in; else the address."""
        address = super().client(environ)
        if self._everybody or "HTTP_COOKIE" not in environ:
            return address
        try:
            session = self.app.session_interface.open_session(self.app, self.app.request_class(environ))
        except (BadSignature, ValueError):
            return address
        return str(session["_user_id"]) if session and "_user_id" in session else address

    def largest(self, environ: Environ) -> int:
        """As its address takes; of somebody who is not signed in, a name and a password."""
        if not self._everybody:
            with self.app.request_context(environ):
                if signed_in() is None:
                    return OF_STRANGER
        return largest_at(str(environ.get("PATH_INFO", ""))) + BESIDE
