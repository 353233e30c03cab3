"""What an address or a form asks, read strictly: a figure that no page sends is refused, never worked with."""

import math
import re
from typing import Protocol

from flask import abort, current_app
from werkzeug.exceptions import HTTPException
from werkzeug.routing import BaseConverter, IntegerConverter, RequestRedirect

from arcstack.document import SIDES, named
from arcstack.errors import FieldError

_WHOLE = re.compile(r"[0-9]{1,9}")


class Number(IntegerConverter):
    """A number in an address: so many digits as anything here is counted with; longer is no such page."""

    regex = r"[0-9]{1,9}"


class Side(BaseConverter):
    """A side of the head in an address."""

    regex = "|".join(SIDES)


class Values(Protocol):
    """A form's or an address's values."""

    def get(self, key: str) -> str | None: ...


def whole(values: Values, name: str) -> int | None:
    """A whole number, None where nothing is sent; 404 for anything else."""
    text = values.get(name)
    if text is None:
        return None
    if not _WHOLE.fullmatch(text):
        abort(404)
    return int(text)


def name(values: Values, key: str) -> str | None:
    """A name from a form, or None for one that is too long or holds what cannot be printed."""
    text = values.get(key) or ""
    try:
        return named(text, key, "It") if text.strip() else ""
    except FieldError:
        return None


def base(values: Values) -> int:
    """The revision that a change was made on; 400 for none, or one that no page sends."""
    text = values.get("base") or ""
    if not _WHOLE.fullmatch(text) or int(text) < 1:
        abort(400)
    return int(text)


def figure(values: Values, name: str, default: float, low: float, high: float) -> float:
    """A slider's figure, ``default`` where nothing is sent; 400 for one that the slider cannot give."""
    text = values.get(name)
    if text is None:
        return default
    try:
        value = float(text)
    except ValueError:
        abort(400)
    if not math.isfinite(value) or not low <= value <= high:
        abort(400)
    return value


def some_figure(values: Values, name: str, most: float = 1e9) -> float | None:
    """A figure that was typed, None where it is none, not finite, or ``most`` or further from nought."""
    try:
        value = float(values.get(name) or "")
    except ValueError:
        return None
    return value if math.isfinite(value) and abs(value) < most else None


_PATH = re.compile(r"/[A-Za-z0-9/_.-]*(\?[A-Za-z0-9_.&=%+-]*)?")


def own_path(text: str) -> str:
    """A path of this site that a form names to go back to; the workshop for any other."""
    if not _PATH.fullmatch(text) or "//" in text or ".." in text:
        return "/"
    try:
        current_app.url_map.bind("localhost").match(text.partition("?")[0], method="GET")
    except (HTTPException, RequestRedirect):
        return "/"
    return text


def bare_number(values: Values, name: str, label: str, most: float, least: float = 0.0) -> float | None:
    """A number without a unit, None where the field is empty. Raises ``FieldError`` for what is none."""
    text = (values.get(name) or "").replace(",", "").strip()
    if not text:
        return None
    try:
        value = float(text)
    except ValueError as error:
        raise FieldError(name, f"{label} is a number.") from error
    if not least <= value <= most:
        raise FieldError(name, f"{label} lies between {least:,.0f} and {most:,.0f}.")
    return value
