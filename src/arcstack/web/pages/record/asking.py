"""What every page of the record reads from its forms."""

from datetime import UTC, date, datetime

from flask import request

from arcstack.document.words import a_day, one_line
from arcstack.errors import FieldError
from arcstack.settings import setting
from arcstack.web.kit import asked

LONGEST = int(setting("assembly.longest_text"))
MOST_MONEY = setting("costs.most_money")


def words(name: str, longest: int = LONGEST) -> str:
    """A line of text from the form."""
    return one_line(request.form.get(name, ""), longest)


def day(name: str, label: str) -> str:
    """A day from the form, ISO, or an empty text. Raises ``FieldError``."""
    text = request.form.get(name, "").strip()
    try:
        return a_day(text).isoformat() if text else ""
    except ValueError as error:
        raise FieldError(name, f"{label}: {error}") from error


def money(name: str, label: str) -> float | None:
    """A sum from the form, in the shop's money; None where the field is empty. Raises ``FieldError``."""
    return asked.bare_number(request.form, name, label, MOST_MONEY, -MOST_MONEY)


def pieces(name: str, most: int) -> int:
    """How many, from the form. Raises ``FieldError``."""
    found = asked.bare_number(request.form, name, "How many", most)
    if found is None or found != int(found):
        raise FieldError(name, "How many? A whole number.")
    return int(found)


def today() -> date:
    return datetime.now(UTC).date()
