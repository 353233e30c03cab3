"""What an instrument is, and how the lines that it sends are read."""

import math
import re
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from types import MappingProxyType
from typing import Annotated, Any, Literal

import re2
from pydantic import BaseModel, ConfigDict, Field, StringConstraints, field_validator

from arcstack.errors import LinkLost, QuantityError
from arcstack.units import ANGLE, FORCE, GAUGE_PRESSURE, LENGTH, MASS, Dimension, parse

LONGEST_LINE = 200
MOST_PATTERN_BYTES = 1 << 20
"""A pattern that needs more than this is no pattern of a line."""


@dataclass(frozen=True)
class InstrumentKind:
    """A kind of instrument: what it reads, its usual resolution (canonical), and on what its zero is tried."""

    title: str
    dimension: Dimension
    resolution: float
    standard: float
    standard_words: str


KINDS: Mapping[str, InstrumentKind] = MappingProxyType(
    {
        "height": InstrumentKind("Height micrometer", LENGTH, 0.01, 35.0, "on its standard"),
        "tester": InstrumentKind("Spring tester", FORCE, 1.0, 250.0, "a known weight or block on it"),
        "vacuum": InstrumentKind("Vacuum gauge", GAUGE_PRESSURE, 0.01, 0.85, "the cup blanked off"),
        "dial": InstrumentKind("Dial indicator", LENGTH, 0.01, 0.0, "at rest on a flat"),
        "scale": InstrumentKind("Scale", MASS, 0.0001, 0.1, "a known weight on it"),
        "bore": InstrumentKind("Bore gauge", LENGTH, 0.001, 6.0, "in its ring"),
        "micrometer": InstrumentKind("Micrometer", LENGTH, 0.001, 0.0, "closed"),
        "depth": InstrumentKind("Depth micrometer", LENGTH, 0.01, 0.0, "on a flat"),
        "protractor": InstrumentKind(
            "Seat protractor", ANGLE, math.radians(0.5), math.radians(45.0), "on its block of 45°"
        ),
        "feeler": InstrumentKind("Feeler gauges", LENGTH, 0.01, 0.25, "its leaf under a micrometer"),
        "barometer": InstrumentKind("Barometer", GAUGE_PRESSURE, 0.001, 1.0, "beside another"),
        "wheel": InstrumentKind("Degree wheel", ANGLE, math.radians(0.5), 0.0, "at TDC"),
        "ruler": InstrumentKind("Seat scale", LENGTH, 0.05, 0.0, "closed"),
    }
)
"""Kinds of instrument by the word that the figures of the bench name them by."""

_PATTERN = r"[-+−]?\d+(?:[.,]\d+)?"
_ADDRESS = r"socket://[A-Za-z0-9.-]+:[0-9]{1,5}|/dev/(?:tty|cu)[A-Za-z0-9._-]+|COM[0-9]{1,3}"
USUAL_PATTERN = rf"(?P<value>{_PATTERN})\s*(?P<unit>[^\s\d]\S*)?"


_TROUBLE = re.compile(r"\b(err|error|fault|fail\w*|low|batt?\w*|over|under|ol|nan|inf|e-?\d+)\b|[?!]", re.IGNORECASE)
"""What a gauge says in a line that is no reading, such as ``ERR 17``."""


def an_address(text: str) -> str:
    """The text where it is a serial port or a socket: no file is opened by an address. Raises ``ValueError``.

    >>> an_address("socket://127.0.0.1:5101")
    'socket://127.0.0.1:5101'
    """
    if not re.fullmatch(_ADDRESS, text) or len(text) > 120:
        raise ValueError("a serial port such as /dev/ttyUSB0 or COM3, or socket://127.0.0.1:5101")
    return text


class Instrument(BaseModel):
    """An instrument of the workshop. ``address`` is empty where a hand or the gauge itself types."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    name: Annotated[str, StringConstraints(min_length=1, max_length=40, strip_whitespace=True)]
    kind: Literal[
        "height",
        "tester",
        "vacuum",
        "dial",
        "scale",
        "bore",
        "micrometer",
        "depth",
        "feeler",
        "barometer",
        "protractor",
        "wheel",
        "ruler",
    ]
    resolution: Annotated[float, Field(gt=0, allow_inf_nan=False)]
    standard: Annotated[float, Field(allow_inf_nan=False)]
    unit: Annotated[str, StringConstraints(max_length=8)] = ""
    address: Annotated[str, StringConstraints(max_length=120)] = ""
    speed: Annotated[int, Field(ge=300, le=1_000_000)] = 9600
    pattern: Annotated[str, StringConstraints(max_length=120)] = USUAL_PATTERN
    """What finds the reading in a line; matched in time that grows with the line and no faster."""
    asks: Annotated[str, StringConstraints(max_length=40)] = ""
    """What asks for a reading, ``{place}`` and ``{figure}`` put in; empty where it sends by itself."""

    @field_validator("address")
    @classmethod
    def _an_address(cls, value: str) -> str:
        return an_address(value) if value else value

    @field_validator("pattern")
    @classmethod
    def _a_pattern(cls, value: str) -> str:
        try:
            found = _compiled(value)
        except re2.error as error:
            told = error.args[0] if error.args else error
            words = told.decode("utf-8", "replace") if isinstance(told, bytes) else str(told)
            raise ValueError(f"this is no pattern: {words}") from error
        if "value" not in found.groupindex:
            raise ValueError("the pattern needs a group called value, such as (?P<value>[0-9.]+)")
        return value

    @field_validator("asks")
    @classmethod
    def _a_question(cls, value: str) -> str:
        # a line break in it would be a second line, to whatever listens there
        if not (value.isascii() and value.isprintable()):
            raise ValueError("what an instrument is asked with is one line of plain letters")
        return value

    @property
    def about(self) -> InstrumentKind:
        return KINDS[self.kind]


@lru_cache(maxsize=64)
def _compiled(pattern: str) -> Any:
    """A pattern of the linear kind: no text makes it search for longer than its length allows."""
    options = re2.Options()
    options.max_mem = MOST_PATTERN_BYTES
    options.log_errors = False
    return re2.compile(pattern, options)


def read_line(instrument: Instrument, line: str) -> str:
    """The reading in one line of an instrument, as text with its unit. Raises ``LinkLost`` for what is none.

    >>> gauge = Instrument(name="H-2", kind="height", resolution=0.01, standard=35.0, unit="mm")
    >>> read_line(gauge, "36,81\\r"), read_line(gauge, "+1.4492 in")
    ('36.81 mm', '+1.4492 in')
    >>> read_line(gauge, "ERR 17")
    Traceback (most recent call last):
    arcstack.errors.LinkLost: H-2 sent “ERR 17”: that is a fault of it, and no reading.
    >>> read_line(gauge, "81.2 N")
    Traceback (most recent call last):
    arcstack.errors.LinkLost: H-2 sent “81.2 N”: that is no length.
    """
    text = line.strip("\r\n\x00 ")
    if not text or len(text) > LONGEST_LINE or not text.isprintable():
        raise LinkLost(f"{instrument.name} sent a line that is no reading.")
    found = _compiled(instrument.pattern).search(text)
    if found is not None and instrument.pattern == USUAL_PATTERN and _TROUBLE.search(text):
        raise LinkLost(f"{instrument.name} sent “{text[:40]}”: that is a fault of it, and no reading.")
    if found is None or found["value"] is None:
        raise LinkLost(f"{instrument.name} sent “{text[:40]}”: its pattern finds no reading in that.")
    number = found["value"].replace(",", ".").replace("−", "-")
    unit = (found.groupdict().get("unit") or "").strip() or instrument.unit
    dimension = instrument.about.dimension
    try:
        typed = f"{number} {unit}".strip()
        parse(typed, dimension, unit or dimension.canonical_word)
    except QuantityError as error:
        raise LinkLost(f"{instrument.name} sent “{text[:40]}”: that is no {dimension.name}.") from error
    return typed
