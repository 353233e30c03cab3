"""Dimensions as data: what each is called, its canonical unit, and the words accepted for its units."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType


class System(StrEnum):
    """The unit system a page is shown in."""

    MM = "mm"
    INCH = "in"

    @property
    def other(self) -> "System":
        return System.INCH if self is System.MM else System.MM


@dataclass(frozen=True)
class Dimension:
    """A physical dimension.

    ``canonical`` is the unit of every float inside the program, in pint's spelling. ``words`` maps what a
    builder may type (lower case) to pint's spelling. ``shown`` gives for each system the unit word and the
    number of decimals.
    """

    name: str
    canonical: str
    canonical_word: str
    words: Mapping[str, str]
    shown: Mapping[System, tuple[str, int]]

    def unit(self, system: System) -> str:
        """The unit word in which a bare number is read in ``system``."""
        return self.shown[system][0]

    def decimals(self, system: System) -> int:
        """Decimals shown in ``system``."""
        return self.shown[system][1]


def _dimension(
    name: str,
    canonical: tuple[str, str],
    words: dict[str, str],
    metric: tuple[str, int],
    inch: tuple[str, int],
) -> Dimension:
    shown = MappingProxyType({System.MM: metric, System.INCH: inch})
    return Dimension(name, canonical[0], canonical[1], MappingProxyType(words), shown)


LENGTH = _dimension(
    "length",
    ("millimeter", "mm"),
    {
        "mm": "millimeter",
        "cm": "centimeter",
        "m": "meter",
        "µm": "micrometer",
        "μm": "micrometer",
        "um": "micrometer",
        "in": "inch",
        "inch": "inch",
        "inches": "inch",
        '"': "inch",
        "″": "inch",
        "thou": "thou",
        "mil": "thou",
        "mils": "thou",
        "millimeter": "millimeter",
        "millimeters": "millimeter",
        "millimetre": "millimeter",
        "millimetres": "millimeter",
        "''": "inch",
        "”": "inch",
    },
    ("mm", 2),
    ("in", 4),
)
FINE_LENGTH = _dimension("fine length", ("millimeter", "mm"), dict(LENGTH.words), ("µm", 1), ("thou", 2))
FORCE = _dimension(
    "force",
    ("newton", "N"),
    {
        "n": "newton",
        "kn": "kilonewton",
        "lbf": "pound_force",
        "lb": "pound_force",
        "lbs": "pound_force",
        "#": "pound_force",
        "kgf": "kilogram_force",
        "kg": "kilogram_force",
    },
    ("N", 0),
    ("lbf", 1),
)
RATE = _dimension(
    "spring rate",
    ("newton/millimeter", "N/mm"),
    {
        "n/mm": "newton/millimeter",
        "kn/m": "kilonewton/meter",
        "lbf/in": "pound_force/inch",
        "lb/in": "pound_force/inch",
        "lbs/in": "pound_force/inch",
        "lb/inch": "pound_force/inch",
        "lbs/inch": "pound_force/inch",
        "lbf/inch": "pound_force/inch",
        "#/in": "pound_force/inch",
        "kgf/mm": "kilogram_force/millimeter",
        "kg/mm": "kilogram_force/millimeter",
    },
    ("N/mm", 1),
    ("lbf/in", 1),
)
MASS = _dimension(
    "mass",
    ("kilogram", "kg"),
    {"g": "gram", "kg": "kilogram", "mg": "milligram", "oz": "ounce", "lb": "pound"},
    ("g", 1),
    ("oz", 3),
)
ANGLE = _dimension(
    "angle",
    ("radian", "rad"),
    {"deg": "degree", "°": "degree", "degrees": "degree", "degs": "degree", "rad": "radian"},
    ("°", 1),
    ("°", 1),
)
SPEED = _dimension(
    "speed",
    ("rpm", "rpm"),
    {"rpm": "rpm", "1/min": "rpm", "rev/min": "rpm", "/min": "rpm"},
    ("rpm", 0),
    ("rpm", 0),
)
GAUGE_PRESSURE = _dimension(
    "gauge pressure",
    ("bar", "bar"),
    {
        "bar": "bar",
        "mbar": "millibar",
        "inhg": "inHg",
        "mmhg": "mmHg",
        "kpa": "kilopascal",
        "mpa": "megapascal",
        "psi": "psi",
        "psig": "psi",
        "barg": "bar",
        "lb/in2": "psi",
        "lb/in²": "psi",
        "lbs/in2": "psi",
        "lbs/in²": "psi",
        "lbf/in2": "psi",
        "lbf/in²": "psi",
    },
    ("bar", 2),
    ("psi", 1),
)
STRESS = _dimension(
    "stress",
    ("megapascal", "MPa"),
    {"mpa": "megapascal", "n/mm²": "megapascal", "n/mm2": "megapascal", "gpa": "gigapascal", "ksi": "ksi"},
    ("MPa", 0),
    ("ksi", 1),
)
VELOCITY = _dimension(
    "velocity",
    ("meter/second", "m/s"),
    {"m/s": "meter/second", "mm/s": "millimeter/second", "ft/s": "foot/second", "in/s": "inch/second"},
    ("m/s", 2),
    ("ft/s", 2),
)
POWER = _dimension("power", ("watt", "W"), {"w": "watt", "kw": "kilowatt", "hp": "horsepower"}, ("W", 0), ("hp", 2))
TORQUE = _dimension(
    "torque",
    ("newton*meter", "N·m"),
    {"n·m": "newton*meter", "nm": "newton*meter", "lbf·ft": "foot*pound_force", "lbf ft": "foot*pound_force"},
    ("N·m", 2),
    ("lbf·ft", 2),
)
FREQUENCY = _dimension("frequency", ("hertz", "Hz"), {"hz": "hertz"}, ("Hz", 0), ("Hz", 0))
STIFFNESS = _dimension(
    "stiffness",
    ("newton/millimeter", "N/mm"),
    {"n/mm": "newton/millimeter", "kn/mm": "kilonewton/millimeter", "lbf/in": "pound_force/inch"},
    ("N/mm", 0),
    ("lbf/in", 0),
)
RATIO = _dimension("ratio", ("dimensionless", ""), {"": "dimensionless", ":1": "dimensionless"}, ("", 2), ("", 2))
AREA = _dimension(
    "area",
    ("millimeter**2", "mm²"),
    {"mm²": "millimeter**2", "mm2": "millimeter**2", "cm²": "centimeter**2", "cm2": "centimeter**2", "in²": "inch**2"},
    ("mm²", 0),
    ("in²", 4),
)
VOLUME = _dimension(
    "volume",
    ("centimeter**3", "cm³"),
    {"cm³": "centimeter**3", "cm3": "centimeter**3", "cc": "centimeter**3", "l": "liter", "in³": "inch**3"},
    ("cm³", 0),
    ("in³", 3),
)
MONEY = _dimension("price", ("dimensionless", ""), {"": "dimensionless"}, ("", 2), ("", 2))
COUNT = _dimension("count", ("dimensionless", ""), {"": "dimensionless"}, ("", 0), ("", 0))

DIMENSIONS: Mapping[str, Dimension] = MappingProxyType(
    {
        d.name: d
        for d in (
            LENGTH,
            FINE_LENGTH,
            FORCE,
            RATE,
            MASS,
            ANGLE,
            SPEED,
            GAUGE_PRESSURE,
            STRESS,
            VELOCITY,
            POWER,
            TORQUE,
            FREQUENCY,
            STIFFNESS,
            RATIO,
            AREA,
            VOLUME,
            MONEY,
            COUNT,
        )
    }
)
