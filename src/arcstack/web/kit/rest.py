"""A page that is shown before all of it is worked: the rest it asks for itself."""

from dataclasses import dataclass
from urllib.parse import urlencode

from flask import request

WHOLE = "whole"
"""Asked for by a browser without scripts: the page in one piece."""


@dataclass(frozen=True)
class Rest:
    """What of a page comes after it: the element that it replaces, others beside it, and the address of all of it."""

    target: str
    also: str = ""

    @property
    def address(self) -> str:
        return request.full_path

    @property
    def whole(self) -> str:
        return f"{request.path}?{urlencode([*request.args.items(multi=True), (WHOLE, '1')])}"


def shown_first() -> bool:
    """Whether who asks shows a page and then asks for its rest: a browser on its way to it.

    A program, a part of a page and a form that was sent get all of it at once.
    """
    browser = "text/html" in request.headers.get("Accept", "") and "HX-Request" not in request.headers
    return request.method == "GET" and browser and WHOLE not in request.args
