"""A figure that carries its own arithmetic."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

from arcstack.checks.evidence import Evidence
from arcstack.units import Dimension


@dataclass(frozen=True)
class Figure:
    """A value with its origin.

    A leaf comes from an input (``path`` names the field) or from an assumption; a calculated figure has
    ``formula`` and the ``inputs`` that were put in. ``value`` is canonical for ``dimension``;
    ``band`` is what an estimate leaves open, from lowest to highest.

    >>> from arcstack.units import LENGTH
    >>> open_height = Figure("H₀", "Open height", 36.95, LENGTH, Evidence.MEASURED)
    >>> shims = Figure("Σs", "Shims", 0.75, LENGTH, Evidence.PRINTED)
    >>> h = Figure.calculated("H", "Installed height", 36.20, LENGTH, "H = H₀ − Σs", open_height, shims)
    >>> h.weakest, h.proven
    (<Evidence.PRINTED: 'printed'>, False)
    """

    symbol: str
    label: str
    value: float
    dimension: Dimension
    evidence: Evidence
    path: str | None = None
    formula: str | None = None
    inputs: tuple["Figure", ...] = ()
    note: str = ""
    band: tuple[float, float] | None = None

    @classmethod
    def calculated(
        cls,
        symbol: str,
        label: str,
        value: float,
        dimension: Dimension,
        formula: str,
        *inputs: "Figure",
        note: str = "",
        band: tuple[float, float] | None = None,
    ) -> "Figure":
        """A figure worked out from ``inputs`` by ``formula``."""
        return cls(symbol, label, float(value), dimension, Evidence.CALCULATED, None, formula, inputs, note, band)

    @cached_property
    def weakest(self) -> Evidence:
        """The weakest origin among all the inputs below this figure."""
        if not self.inputs:
            return self.evidence
        return max((f.weakest for f in self.inputs), key=lambda e: e.weakness)

    @property
    def proven(self) -> bool:
        """True when everything that drives the figure was measured."""
        return self.weakest is Evidence.MEASURED


def steps(figure: Figure) -> Iterator[Figure]:
    """The calculated figures below ``figure``, each after those it needs, each once."""
    seen: set[int] = set()

    def walk(f: Figure) -> Iterator[Figure]:
        if id(f) in seen or f.formula is None:
            return
        seen.add(id(f))
        for child in f.inputs:
            yield from walk(child)
        yield f

    yield from walk(figure)
