"""Text to canonical floats and back; the only room that knows units as words."""

from arcstack.units.dimension import (
    ANGLE,
    COUNT,
    DIMENSIONS,
    FORCE,
    GAUGE_PRESSURE,
    LENGTH,
    MASS,
    RATE,
    RATIO,
    SPEED,
    STRESS,
    VELOCITY,
    Dimension,
    System,
)
from arcstack.units.display import Shown, plain, show
from arcstack.units.parse import Parsed, digits_in, parse

__all__ = [
    "ANGLE",
    "COUNT",
    "DIMENSIONS",
    "FORCE",
    "GAUGE_PRESSURE",
    "LENGTH",
    "MASS",
    "RATE",
    "RATIO",
    "SPEED",
    "STRESS",
    "VELOCITY",
    "Dimension",
    "Parsed",
    "Shown",
    "System",
    "digits_in",
    "parse",
    "plain",
    "show",
]
