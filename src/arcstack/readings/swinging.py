"""A finger or rocker weighed on two supports and swung about its pivot: its mass at the valve."""

from arcstack.errors import FieldError
from arcstack.mech.bench import mass_by_swing_kg

LONGEST_S = 5.0


def seconds(text: str) -> float:
    """A period as typed, in seconds. Raises ``FieldError``.

    >>> seconds("0,328 s"), seconds("0.33")
    (0.328, 0.33)
    """
    try:
        found = float(text.strip().lower().removesuffix("s").strip().replace(",", "."))
    except ValueError:
        found = 0.0
    if not 0.0 < found < LONGEST_S:
        raise FieldError("period", "One full swing, in seconds, such as 0.33: time ten and divide.")
    return found


def swung(at_tip_kg: float, arm_mm: float, period_s: float) -> float:
    """Mass at the valve, kg, held to what a lever can be. Raises ``FieldError``.

    What lies between pivot and tip weighs less at the valve than the scale shows under the tip.

    >>> round(swung(0.020, 40.0, 0.328), 5)
    0.01336
    """
    if not (at_tip_kg > 0.0 and arm_mm > 0.0):
        raise FieldError("at_tip", "Weigh it at its tip, pivot on a support, and say how far tip and pivot lie apart.")
    found = mass_by_swing_kg(at_tip_kg, arm_mm, period_s)
    if found > 1.5 * at_tip_kg:
        raise FieldError("period", "So slow a swing needs more beyond the tip than a lever has: time it again.")
    return found
