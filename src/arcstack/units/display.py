"""Canonical floats to what a builder reads."""

import math
from dataclasses import dataclass

from arcstack.units.convert import factor
from arcstack.units.dimension import Dimension, System


@dataclass(frozen=True)
class Shown:
    """A figure as shown: digits and the unit small beside them."""

    number: str
    unit: str

    def __str__(self) -> str:
        return f"{self.number} {self.unit}".strip().replace(" °", "°")


def show(value: float, dimension: Dimension, system: System = System.MM, extra: int = 0) -> Shown:
    """``value`` (canonical) in the unit of ``system``, rounded for reading only.

    ``extra`` adds decimals where a working needs them. A figure that is not finite shows as a dash.

    >>> from arcstack.units.dimension import LENGTH, FORCE
    >>> str(show(36.4998, LENGTH, System.INCH))
    '1.4370 in'
    >>> str(show(422.58, FORCE, System.INCH))
    '95.0 lbf'
    >>> str(show(-0.0001, LENGTH))
    '0.00 mm'
    """
    if not math.isfinite(value):
        return Shown("–", dimension.unit(system))
    unit = dimension.unit(system)
    decimals = dimension.decimals(system) + extra
    number = value / factor(dimension, unit)
    text = f"{number:,.{decimals}f}" if dimension.name == "speed" else f"{number:.{decimals}f}"
    if float(text.replace(",", "")) == 0.0:
        text = text.lstrip("-")
    return Shown(text.replace("-", "−"), unit)


def plain(value: float, dimension: Dimension, system: System = System.MM) -> str:
    """``value`` as text that ``parse`` reads back, without trailing noise.

    >>> from arcstack.units.dimension import ANGLE
    >>> import math
    >>> plain(math.radians(106), ANGLE)
    '106°'
    """
    unit = dimension.unit(system)
    number = f"{value / factor(dimension, unit):.10g}"
    return number + unit if unit == "°" else f"{number} {unit}".strip()
