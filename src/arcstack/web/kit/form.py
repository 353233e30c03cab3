"""What a form says, read as the figures, words and choices that an act takes."""

from collections.abc import Mapping
from enum import Enum
from typing import TypeVar

from flask import request

from arcstack.document.words import a_day, one_line
from arcstack.errors import FieldError, QuantityError
from arcstack.settings import setting
from arcstack.units import Dimension, System, parse
from arcstack.web.kit.session import current_system

LONGEST = int(setting("assembly.longest_text"))
MOST_MONEY = setting("costs.most_money")

Choice = TypeVar("Choice", bound=Enum)


class Form:
    """The values of a form, each read by its name; the label is what an error calls it."""

    def __init__(self, values: Mapping[str, str], system: System) -> None:
        self.values, self.system = values, system

    def text(self, name: str) -> str:
        """As it was typed, without the spaces around it."""
        return self.values.get(name, "").strip()

    def line(self, name: str, longest: int = LONGEST) -> str:
        """One line of words: cut to length, what cannot be printed left out."""
        return one_line(self.values.get(name, ""), longest)

    def ticked(self, name: str) -> bool:
        return self.values.get(name) == "1"

    def choice(self, name: str, of: type[Choice]) -> Choice | None:
        """One of a list, by its value; None for nothing, or for what is not on it."""
        return next((c for c in of if c.value == self.values.get(name)), None)

    def figure(self, name: str, label: str, dimension: Dimension, otherwise: str = "") -> float:
        """A figure with its unit, canonical; a bare number is in the unit shown. Raises ``FieldError``."""
        text = self.text(name) or otherwise
        if not text:
            raise FieldError(name, f"{label} is empty.")
        try:
            return parse(text, dimension, dimension.unit(self.system)).value
        except QuantityError as error:
            raise FieldError(name, f"{label}: {error}") from error

    def figure_or_none(self, name: str, label: str, dimension: Dimension) -> float | None:
        """The same, None where the field is empty."""
        return self.figure(name, label, dimension) if self.text(name) else None

    def number(self, name: str, label: str, most: float, least: float = 0.0, otherwise: str = "") -> float | None:
        """A number without a unit, None where the field is empty. Raises ``FieldError``, with ``otherwise`` for what is
        none."""
        text = self.text(name).replace(",", "")
        if not text:
            return None
        try:
            value = float(text)
        except ValueError as error:
            raise FieldError(name, otherwise or f"{label} is a number.") from error
        if not least <= value <= most:
            raise FieldError(name, f"{label} lies between {least:,.0f} and {most:,.0f}.")
        return value

    def count(self, name: str, label: str, most: float, otherwise: str = "", least: float = 0.0) -> int | None:
        """A whole number, None where the field is empty. Raises ``FieldError``, for a broken one with ``otherwise``."""
        found = self.number(name, label, most, least, otherwise)
        if found is not None and found != int(found):
            raise FieldError(name, otherwise or f"{label}: a whole number.")
        return None if found is None else int(found)

    def counted(self, name: str, label: str, most: float) -> int:
        """A whole number that must be there. Raises ``FieldError``."""
        found = self.count(name, label, most, f"{label}? A whole number.")
        if found is None:
            raise FieldError(name, f"{label}? A whole number.")
        return found

    def day(self, name: str, label: str) -> str:
        """A day, ISO, or an empty text. Raises ``FieldError``."""
        text = self.text(name)
        try:
            return a_day(text).isoformat() if text else ""
        except ValueError as error:
            raise FieldError(name, f"{label}: {error}") from error

    def money(self, name: str, label: str) -> float | None:
        """A sum in the shop's money, None where the field is empty. Raises ``FieldError``."""
        return self.number(name, label, MOST_MONEY, -MOST_MONEY)


def sent() -> Form:
    """The form that was sent."""
    return Form(request.form, current_system())


def asked_for() -> Form:
    """What the address and the form say together: a page that is asked with what it will be sent."""
    return Form(request.values, current_system())
