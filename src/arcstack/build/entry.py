"""One input figure: its canonical value, the text it was typed as, and where it comes from."""

import math
from dataclasses import dataclass

from pydantic import BaseModel, ConfigDict, Field, field_validator

from arcstack.checks import Evidence
from arcstack.errors import QuantityError
from arcstack.units import LENGTH, Dimension, parse, show


class Entry(BaseModel):
    """``value`` is canonical for the field's dimension; ``typed`` is the text with its unit, kept as typed."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    value: float = Field(description="canonical: mm, N, N/mm, kg, rad, bar gauge, rpm", allow_inf_nan=False)
    typed: str = Field(max_length=40, description="the text as typed, with its unit")
    evidence: Evidence

    @field_validator("typed")
    @classmethod
    def _printable(cls, text: str) -> str:
        if not text.isprintable():
            raise ValueError("holds characters that cannot be printed")
        return text


@dataclass(frozen=True)
class Quantity:
    """What a field of figures takes: its words, dimension and plausible range (canonical, ends included)."""

    label: str
    dimension: Dimension
    low: float
    high: float
    help: str = ""
    evidence: Evidence = Evidence.PRINTED

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


def enter(text: str, spec: Quantity, evidence: Evidence | None = None, bare: str | None = None) -> Entry:
    """An entry from typed text; a bare number means the unit ``bare``.

    Raises ``QuantityError``, worded for the field.
    """
    parsed = parse(text, spec.dimension, bare)
    spec.check(parsed.value)
    return Entry(value=parsed.value, typed=parsed.typed, evidence=evidence or spec.evidence)
