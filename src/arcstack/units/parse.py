"""Text as a builder types it, to a canonical float. Never evaluates the text, only matches it."""

import math
import re
from dataclasses import dataclass

from arcstack.errors import QuantityError
from arcstack.units.convert import factor
from arcstack.units.dimension import COUNT, DIMENSIONS, MONEY, SPEED, Dimension, System

LONGEST = 40
"""Characters a quantity may have; longer text is refused before it is looked at."""

_NUMBER = re.compile(r"^([+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][+-]?\d{1,2})?)\s*(.*)$", re.ASCII)
_GROUPED = re.compile(r"^([+-]?)([1-9]\d{0,2}(?:([ ,.'])\d{3})(?:\3\d{3})*)(?:([.,])(\d+))?(?![\d.,/'])", re.ASCII)
_FRACTION = re.compile(r"^(([+-]?)(?:(\d+)[\s-]+)?(\d+)/(\d+))\s*(.*)$", re.ASCII)
_THOUSANDS = re.compile(r"^[+-]?[1-9]\d{0,2},\d{3}$")
_SPACES = dict.fromkeys(map(ord, "\u00a0\u2007\u2009\u202f"), " ")
_MINUS = dict.fromkeys(map(ord, "−–‐‑﹣－"), "-")
_SAME = _SPACES | _MINUS | {ord("’"): "'", ord("º"): "°", ord("˚"): "°"}
"""Characters that typesetters and other keyboards put for plain ones."""
_MONEY = re.compile(r"^([$£€¥¤]|[A-Z]{3}\b)?\s*(.*?)\s*([$£€¥¤]|[A-Z]{3})?$")
_ABSOLUTE = re.compile(r"^(bara|psia|kpaa|(bar|psi|kpa)\s*\(?abs(olute)?\)?)$")


@dataclass(frozen=True)
class Parsed:
    """A quantity read from text: canonical ``value`` and the text with its unit written out."""

    value: float
    typed: str


def parse(text: str, dimension: Dimension, bare: str | None = None) -> Parsed:
    """Read ``text`` as a quantity of ``dimension``; a bare number means the unit ``bare``.

    Accepts point or comma decimals, fractions, every unit word of the dimension, and whatever a page prints: thousands
    set off by a thin space, the minus sign of typesetters. Whatever is accepted reads back, as ``typed``, to the same
    value.

    Raises ``QuantityError`` with a message for the field when the text is no quantity, when its unit
    belongs to another dimension, or when it is not finite.

    >>> from arcstack.units.dimension import LENGTH, FORCE
    >>> parse("1.437 in", LENGTH).value
    36.4998
    >>> parse("50 thou", LENGTH)
    Parsed(value=1.27, typed='50 thou')
    >>> parse("36,5", LENGTH, "mm")
    Parsed(value=36.5, typed='36.5 mm')
    >>> parse("22 1/2", LENGTH, "mm")
    Parsed(value=22.5, typed='22 1/2 mm')
    >>> parse("7 400", LENGTH, "µm")
    Parsed(value=7.4, typed='7400 µm')
    >>> round(parse("95 lbf", FORCE).value, 2)
    422.58
    """
    text = text.translate(_SAME).strip()
    if not text:
        raise QuantityError(f"Nothing typed; {_example(dimension)}.")
    if not text.isprintable():
        raise QuantityError(f"Holds characters that cannot be printed; {_example(dimension)}.")
    bare = dimension.unit(System.MM) if bare is None else bare
    # the unit that a bare number is given is kept with it, and must fit beside it
    if len(text) + len(bare) + 1 > LONGEST:
        raise QuantityError(f"Too long for a figure ({len(text)} characters); {_example(dimension)}.")
    if dimension is MONEY:
        text = _without_sign(text)
    text = _ungrouped(text, dimension)
    number, digits, word = _split(text, dimension)
    word = word.rstrip(".") if word.lower() not in dimension.words else word
    unit = word or bare
    if unit.lower() not in dimension.words:
        raise QuantityError(_wrong_unit(unit, number, dimension))
    value = number * factor(dimension, unit)
    if not math.isfinite(value):
        raise QuantityError(f"“{text}” is not a finite figure; {_example(dimension)}.")
    if dimension is COUNT and value != round(value):
        raise QuantityError(f"“{text}” must be a whole number.")
    # rounding at the twelfth figure removes the noise of the conversion, never a digit that was typed
    return Parsed(float(f"{value:.12g}"), _typed(text, digits, word, unit))


def digits_in(typed: str, dimension: Dimension, unit: str) -> str | None:
    """The digits of ``typed`` where it was typed in ``unit``, whatever word was used for it; else None.

    >>> from arcstack.units.dimension import ANGLE, LENGTH
    >>> digits_in("106 deg", ANGLE, "°"), digits_in("1.437 in", LENGTH, "mm")
    ('106', None)
    """
    match = _NUMBER.match(typed)
    if match is None or _FRACTION.match(typed):
        return None
    digits, word = match.group(1), match.group(2).strip().lower() or unit.lower()
    same = dimension.words.get(word) == dimension.words[unit.lower()]
    if not same:
        return None
    return digits.replace(",", "" if _THOUSANDS.match(digits) else ".")


def _without_sign(text: str) -> str:
    """A price without its currency, which is the builder's own.

    >>> _without_sign("€ 248,50"), _without_sign("1200 USD")
    ('248,50', '1200')
    """
    match = _MONEY.match(text)
    return match.group(2) if match else text


def _ungrouped(text: str, dimension: Dimension) -> str:
    """The text with its thousands drawn together; ``QuantityError`` where a sign of them can be read two ways.

    >>> from arcstack.units.dimension import LENGTH
    >>> _ungrouped("7 400", LENGTH), _ungrouped("1,234,567 µm", LENGTH), _ungrouped("22 1/2", LENGTH)
    ('7400', '1234567 µm', '22 1/2')
    """
    match = _GROUPED.match(text)
    if match is None or _FRACTION.match(text):
        return text
    sign, whole, mark, point, part = match.groups()
    drawn, groups = whole.replace(mark, ""), whole.count(mark)
    rest = text[match.end() :]
    if point is None and mark in ",." and groups == 1:
        # a single comma or point is a decimal's as well: the plain reading, or the refusal, is ``_split``'s
        return text
    if point == mark and mark in ",.":
        return text
    if point is not None and mark in ",." and groups == 1 and dimension is not SPEED:
        small = whole.replace(mark, ".") + part
        raise QuantityError(f"“{match.group(0)}” can be read two ways: write {sign}{drawn}.{part} or {sign}{small}.")
    return f"{sign}{drawn}{'.' + part if part else ''}{rest}"


def _split(text: str, dimension: Dimension) -> tuple[float, str, str]:
    """The number, its digits as typed, and the unit's word."""
    fraction = _FRACTION.match(text)
    if fraction:
        digits, sign, whole, top, bottom, word = fraction.groups()
        if int(bottom) == 0:
            raise QuantityError(f"“{text}” divides by nothing.")
        number = int(whole or 0) + int(top) / int(bottom)
        return (-number if sign == "-" else number), digits, word.strip()
    match = _NUMBER.match(text)
    if not match:
        raise QuantityError(f"“{text}” is no figure; {_example(dimension)}.")
    digits, word = match.group(1), match.group(2).strip()
    if _THOUSANDS.match(digits):
        whole, part = digits.split(",")
        if dimension is SPEED:
            # speeds are printed so, and none is given to a thousandth of a turn
            return float(whole + part), whole + part, word
        raise QuantityError(f"“{digits}” can be read two ways: write {whole}{part} or {whole}.{part}.")
    return float(digits.replace(",", ".")), digits, word


def _typed(text: str, digits: str, word: str, unit: str) -> str:
    return text if word else f"{digits.replace(',', '.')} {unit}".strip()


def _example(dimension: Dimension) -> str:
    metric, inch = dimension.unit(System.MM), dimension.unit(System.INCH)
    if not metric:
        return "type a plain number"
    return f"type a number in {metric}" + (f" or {inch}" if inch != metric else "")


def _wrong_unit(unit: str, number: float, dimension: Dimension) -> str:
    low = unit.lower()
    if dimension.name == "gauge pressure" and _ABSOLUTE.match(low):
        return f"“{unit}” is absolute; this field is gauge pressure. Take one atmosphere (1.013 bar, 14.7 psi) off."
    for other in DIMENSIONS.values():
        if other is not dimension and low in other.words and low:
            return f"“{unit}” is a unit of {other.name}; this field is a {dimension.name}: {_example(dimension)}."
    return f"“{unit}” is not a unit known here; {_example(dimension)}."
