"""One input figure: its canonical value, the text it was typed as, and where it comes from."""

import math
import re
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, StringConstraints

from arcstack.checks import Evidence
from arcstack.errors import QuantityError, UnitDoubt
from arcstack.units import LENGTH, Dimension, Parsed, System, parse, show

NONE = "none"
"""What is typed where there is no such part or range: an answer, where an empty field is none."""

LONGEST_NAME = 80


def _printable(text: str) -> str:
    if not text.isprintable():
        raise ValueError("holds characters that cannot be printed")
    return text


Printable = AfterValidator(_printable)
"""What every text of the document is held to, as its field on the page is."""


def same_hand(one: str, other: str) -> bool:
    """Whether two names are one person's, however they were typed.

    >>> same_hand("Bo", "bo "), same_hand("Bo", "Ada")
    (True, False)
    """
    return " ".join(one.split()).casefold() == " ".join(other.split()).casefold()


_NO_INSTRUMENT = frozenset({"", "eye", "guess", "guessed", "estimate", "estimated", "memory", "feel", "none", "-", "?"})


def is_instrument(name: str) -> bool:
    """Whether a name can be an instrument's: what was judged by eye, felt or guessed was not measured.

    >>> is_instrument("micrometer 2"), is_instrument("by Eye"), is_instrument(" ")
    (True, False, False)
    """
    return name.strip().casefold().removeprefix("by ").strip() not in _NO_INSTRUMENT


class Sitting(BaseModel):
    """Who said or took a figure, with which instrument (empty where none was needed), and when (UTC)."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    hand: Annotated[str, StringConstraints(min_length=1, max_length=LONGEST_NAME), Printable]
    instrument: Annotated[str, StringConstraints(max_length=LONGEST_NAME), Printable] = ""
    at: datetime | None = None

    @property
    def measures(self) -> bool:
        """True with an instrument in that hand: what *measured* asks for. An eye is none.

        >>> Sitting(hand="ada", instrument="H-2").measures, Sitting(hand="ada", instrument="by eye").measures
        (True, False)
        """
        return bool(self.hand.strip()) and is_instrument(self.instrument)


def standing(evidence: Evidence, by: Sitting | None) -> Evidence:
    """What an origin is worth: *measured* has an instrument and a hand, without them it is assumed.

    >>> standing(Evidence.MEASURED, None).value, standing(Evidence.PRINTED, None).value
    ('assumed', 'printed')
    """
    if evidence is Evidence.MEASURED and not (by and by.measures):
        return Evidence.ASSUMED
    return evidence


_ShortText = Annotated[str, StringConstraints(max_length=80), Printable]

TakenWith = Annotated[tuple[tuple[_ShortText, _ShortText], ...], Field(max_length=30)]
"""What a figure was taken with: paths of fields within its side, each with what stood there, as typed."""


class Entry(BaseModel):
    """``value`` is canonical for the field's dimension; ``typed`` is the text with its unit, kept as typed.

    ``by`` is who took it and with what. ``taken_with`` is what stood in the fields it rests on when it was taken, of
    those where something else stands now, and ``outdated`` says so in words. ``of_place`` is the valve's place where it
    was read there, and empty in a design, in which one figure stands for all.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    value: float = Field(description="canonical: mm, N, N/mm, kg, rad, bar gauge, rpm", allow_inf_nan=False)
    typed: Annotated[str, StringConstraints(max_length=40), Printable] = Field(
        description="the text as typed, with its unit"
    )
    evidence: Evidence
    by: Sitting | None = None
    outdated: Annotated[str, StringConstraints(max_length=200), Printable] = ""
    taken_with: TakenWith = ()
    of_place: Annotated[str, StringConstraints(max_length=12), Printable] = ""

    @property
    def stands(self) -> Evidence:
        """What it is worth as evidence: its origin, unless it is outdated or nobody is known to have taken it."""
        return Evidence.ASSUMED if self.outdated else standing(self.evidence, self.by)

    @property
    def doubt(self) -> str:
        """Why it is worth less than it says, or an empty text."""
        if self.outdated:
            return f"{self.outdated}: read it again, or take it bare and let the offsets work it."
        if self.stands is not self.evidence:
            return "Said to be measured, but no instrument and hand are known: it counts as assumed."
        return ""


class Absent(BaseModel):
    """A hand said that there is none: an answer, where an empty field is none. ``by`` is whose."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    none: Literal[True]
    by: Sitting | None = None

    @property
    def stands(self) -> Evidence:
        """As good as measured once a hand is known that said it."""
        return Evidence.MEASURED if self.by else Evidence.ASSUMED


Stated = Entry | Absent
"""What was said of a thing that may not be there: its figure, or that there is none."""


def amount(said: object) -> float | None:
    """The figure that was said, nought where there is none; None where nothing was said."""
    if isinstance(said, Entry):
        return said.value
    return 0.0 if isinstance(said, Absent) else None


@dataclass(frozen=True)
class Quantity:
    """What a field of figures takes: its words, dimension and plausible range (canonical, ends included).

    ``none`` says in words what it means that there is none, where that can be: such a field takes *none* for an
    answer. ``each`` is True for what stands at every valve, so that one measured figure is one of many; None leaves
    that to the part it belongs to. ``usual`` is what is usual without its sign (canonical): a bare number outside it
    that would be usual in the other unit is asked about. ``exhaust`` is its label there, where that is another.
    ``raises`` is 1 for what holds a spring's retainer higher over the pocket by as much, −1 for what takes that height
    away, ``symbol`` how the working calls it then.
    """

    label: str
    dimension: Dimension
    low: float
    high: float
    help: str = ""
    evidence: Evidence = Evidence.PRINTED
    none: str = ""
    each: bool | None = None
    usual: tuple[float, float] | None = None
    exhaust: str = ""
    raises: float = 0.0
    symbol: str = ""

    def is_usual(self, value: float) -> bool:
        """Whether a figure is within what is usual; nought always is where it can be."""
        if not self.low <= value <= self.high:
            return False
        low, high = self.usual or (0.0, math.inf)
        return value == 0.0 or low <= abs(value) <= high

    def check(self, value: float) -> None:
        """Raise ``QuantityError`` where ``value`` is outside what such a part can be."""
        if not math.isfinite(value) or not self.low <= value <= self.high:
            low, high = show(self.low, self.dimension), show(self.high, self.dimension)
            got = show(value, self.dimension)
            hint = " Check the unit." if self.dimension is LENGTH else ""
            raise QuantityError(f"{self.label} of {got} is not between {low} and {high}.{hint}")

    def check_entry(self, entry: Entry) -> None:
        """Raise ``QuantityError`` where an entry's text and value disagree, or its value is out of range."""
        parsed = parse(entry.typed, self.dimension)
        if not math.isclose(parsed.value, entry.value, rel_tol=1e-9, abs_tol=1e-12):
            raise QuantityError(f"{self.label}: the text “{entry.typed}” and the value {entry.value:g} do not agree.")
        self.check(entry.value)


def _doubted(text: str, parsed: Parsed, spec: Quantity, bare: str | None) -> None:
    """Raise ``UnitDoubt`` where a bare number is not usual in its own unit and usual in the other.

    >>> from arcstack.units import LENGTH
    >>> shim = Quantity("Shim", LENGTH, 0, 4, usual=(0.2, 4))
    >>> _doubted(".030", parse(".030", LENGTH, "mm"), shim, "mm")
    Traceback (most recent call last):
    arcstack.errors.UnitDoubt: Shim of 0.030 mm is not usual, 0.030 in is: say which it is.
    """
    d = spec.dimension
    if bare is None or spec.is_usual(parsed.value):
        return
    other = next((u for u in (d.unit(System.MM), d.unit(System.INCH)) if u != bare), None)
    if other is None or parse(text, d, other).typed == parsed.typed:
        return
    read = parse(text, d, other)
    if spec.is_usual(read.value):
        readings = (_led(parsed.typed), _led(read.typed))
        try:
            spec.check(parsed.value)
        except QuantityError:
            raise UnitDoubt(
                f"{spec.label} of {readings[0]} is out of range; {readings[1]} would do.", readings
            ) from None
        raise UnitDoubt(f"{spec.label} of {readings[0]} is not usual, {readings[1]} is: say which it is.", readings)


def _led(typed: str) -> str:
    """A figure with the nought before its point.

    >>> _led(".030 mm"), _led("-.5 in"), _led("12 mm")
    ('0.030 mm', '-0.5 in', '12 mm')
    """
    return re.sub(r"^([+-]?)([.])", r"\g<1>0.", typed)


def enter(
    text: str, spec: Quantity, evidence: Evidence | None = None, bare: str | None = None, by: Sitting | None = None
) -> Stated:
    """What typed text says; a bare number means the unit ``bare``, *none* that there is none.

    ``by`` is kept with what is measured and with *none*. Raises ``QuantityError``, worded for the field, and
    ``UnitDoubt`` for a bare number that would be usual only in the other unit.
    """
    if text.strip().lower() == NONE:
        if not spec.none:
            raise QuantityError(f"{spec.label}: there is always one; leave it empty while it is not known.")
        return Absent(none=True, by=by)
    parsed = parse(text, spec.dimension, bare)
    _doubted(text, parsed, spec, bare)
    spec.check(parsed.value)
    origin = evidence or spec.evidence
    kept = by if origin is Evidence.MEASURED else None
    entry = Entry(value=parsed.value, typed=parsed.typed, evidence=standing(origin, kept), by=kept)
    # what is taken in must be readable again
    spec.check_entry(entry)
    return entry
