"""A figure that carries its own arithmetic."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

from arcstack.cached import cached_property
from arcstack.checks.evidence import Evidence
from arcstack.checks.expression import Expression
from arcstack.checks.limit import Waiver
from arcstack.units import FINE_LENGTH, Dimension, System
from arcstack.units.convert import factor


@dataclass(frozen=True)
class Figure:
    """A value with its origin.

    A leaf comes from an input (``path`` names the field) or from an assumption; a calculated figure has
    ``formula`` and the ``inputs`` that were put in. ``value`` is canonical for ``dimension``;
    ``band`` is what an estimate leaves open, from lowest to highest. ``sample`` says of how many places that it
    stands at (0: not known) how many were measured. ``at_least`` marks the most that was tried, not an end found;
    ``waiver`` an assumption of the practice that was loosened for one build. ``outdated`` says of an input which change
    it no longer stands for; ``unsaid`` is true of one that nobody gave, and that a default stands for. ``beside`` is
    what the figure rests on though no formula puts it in: the others that it is the worst of, what its band spans, a
    choice that nobody stated. ``decided`` is true of what a builder sets or a card states, more than assumed: no
    instrument reads it.

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
    sample: tuple[int, int] | None = None
    at_least: bool = False
    waiver: Waiver | None = None
    outdated: str = ""
    unsaid: bool = False
    beside: tuple["Figure", ...] = ()
    decided: bool = False

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
        at_least: bool = False,
        beside: tuple["Figure", ...] = (),
    ) -> "Figure":
        """A figure worked out from ``inputs`` by ``formula``."""
        return cls(
            symbol, label, float(value), dimension, Evidence.CALCULATED, None, formula, inputs, note, band,
            at_least=at_least, beside=beside,
        )  # fmt: skip

    @classmethod
    def by(
        cls,
        label: str,
        dimension: Dimension,
        formula: str,
        *inputs: "Figure",
        note: str = "",
        band: tuple[float, float] | None = None,
        at_least: bool = False,
    ) -> "Figure":
        """A figure whose value its own closed ``formula`` gives; its symbol is what stands left of the equals sign.

        Raises NotClosed where the formula is words or does not use each input under a symbol of its own, and
        ArithmeticError where the inputs leave it undefined.

        >>> from arcstack.units import LENGTH
        >>> h = Figure("H", "Height", 36.2, LENGTH, Evidence.MEASURED)
        >>> lift = Figure("L", "Lift", 10.4, LENGTH, Evidence.PRINTED)
        >>> gap = Figure.by("Gap", LENGTH, "g = H − L", h, lift)
        >>> gap.symbol, round(gap.value, 2)
        ('g', 25.8)
        """
        own = Expression.read(formula, tuple(f.symbol for f in inputs))
        value = float(own.at({f.symbol: f.value / f.metric for f in inputs}))
        if not math.isfinite(value):
            raise ArithmeticError(f"{label.lower()} comes to no finite figure")
        return cls.calculated(
            formula.partition(" = ")[0],
            label,
            value * _metric(dimension),
            dimension,
            formula,
            *inputs,
            note=note,
            band=band,
            at_least=at_least,
        )

    @property
    def metric(self) -> float:
        """Canonical value of one of the metric units that its formula counts the figure in."""
        return _metric(self.dimension)

    def among(self, *others: "Figure") -> "Figure":
        """The figure as the worst of several: it rests on those that it was chosen from too."""
        rest = tuple(f for f in others if f is not self)
        return replace(self, beside=self.beside + rest) if rest else self

    @property
    def below(self) -> tuple["Figure", ...]:
        """Everything the figure rests on: what was put in, and what stands beside."""
        return self.inputs + self.beside if self.beside else self.inputs

    @cached_property
    def weakest(self) -> Evidence:
        """The weakest origin among everything below this figure that could be read."""
        read = [f.evidence for f in self.leaves if not f.decided]
        return max(read or [f.evidence for f in self.leaves], key=lambda e: e.weakness)

    @cached_property
    def leaves(self) -> tuple["Figure", ...]:
        """The figures at the bottom of this one, each once."""
        if not self.below:
            return (self,)
        found: dict[int, Figure] = {} if self.inputs else {id(self): self}
        for f in self.below:
            found.update({id(leaf): leaf for leaf in f.leaves})
        return tuple(found.values())

    @cached_property
    def covered(self) -> tuple[int, int] | None:
        """The least covered sample among the measured inputs below this figure; None where each is all there is."""
        if not self.below:
            return self.sample if self.evidence is Evidence.MEASURED else None
        found = [s for f in self.below if (s := f.covered) is not None]
        found += [self.sample] if self.sample is not None else []
        return min(found, key=lambda s: s[0] / s[1] if s[1] else 0.0, default=None)

    @cached_property
    def waivers(self) -> tuple[Waiver, ...]:
        """The practice's assumptions that were loosened for this build, among the inputs below this figure."""
        own = (self.waiver,) if self.waiver is not None else ()
        return own + tuple(w for f in self.below for w in f.waivers)

    @property
    def proven(self) -> bool:
        """True when everything that drives the figure was measured, at every place it stands at."""
        if self.weakest is not Evidence.MEASURED:
            return False
        return self.covered is None or self.covered[0] >= self.covered[1] > 0


def _metric(dimension: Dimension) -> float:
    """A fine length is shown in µm, and a formula joins it to lengths in mm."""
    return 1.0 if dimension is FINE_LENGTH else factor(dimension, dimension.unit(System.MM))


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
