from collections.abc import Mapping
from dataclasses import dataclass

from arcstack.checks import Sense
from arcstack.units import Dimension


@dataclass(frozen=True)
class LimitSpec:
    """One limit of a practice; ``low``, ``high`` and ``tight`` are canonical."""

    key: str
    sense: Sense
    low: float | None
    high: float | None
    tight: float
    dimension: Dimension
    reason: str
    soft_high: bool
    soft_low: bool
    tight_high: float | None = None


SIDES_TAKEN: Mapping[str, tuple[str | bool, ...]] = {
    "boost": ("boost", "difference"),
    "gas_in_separation": (True, False),
    "lift_basis": ("lobe", "measured"),
    "load": ("light", "band", "heavy"),
    "reserve": ("floor", "band"),
}
"""What a practice may choose on each matter that builders argue about."""


@dataclass(frozen=True)
class Schools:
    """Which side a practice takes where builders disagree.

    ``boost``: the rule that judges, ``boost`` or ``difference``. ``gas_in_separation``: whether the gas force of
    the difference rule is taken off the spring when the separation speed is judged. ``lift_basis``: ``lobe``
    (lobe × ratio) or ``measured`` (a lift measured at the valve governs where there is one). ``load``: which end of
    spring load is judged, ``light`` (too much), ``heavy`` (too little) or ``band`` (both). ``reserve``: ``floor`` only,
    or ``band`` with a ceiling.
    """

    boost: str
    gas_in_separation: bool
    lift_basis: str
    load: str
    reserve: str


@dataclass(frozen=True)
class Practice:
    """A named set of limits and schools; ``version`` rises with each change of either.

    ``place`` orders them where they are offered.
    """

    id: str
    version: int
    place: int
    name: str
    about: str
    schools: Schools
    school_reasons: Mapping[str, str]
    limits: Mapping[str, LimitSpec]

    def limit(self, key: str, side: str | None) -> LimitSpec:
        """The limit for ``key``, the one for this side where sides differ."""
        return self.limits.get(f"{key}@{side}") or self.limits[key]
