"""Moving mass at the valve (kg)."""

from collections.abc import Iterable

from arcstack.mech.number import Number


def moving_mass_kg(parts_kg: Iterable[Number], springs_kg: Iterable[Number]) -> Number:
    """The parts that move with the valve, plus one third of each spring.

    A spring fixed at one end carries a third of its own mass at the moving end (Rayleigh).

    Source: Rayleigh's third of a spring held at one end.

    >>> round(moving_mass_kg([0.048, 0.010, 0.026], [0.045, 0.018]), 4)
    0.105
    """
    found: Number = sum(parts_kg) + sum(springs_kg) / 3.0  # type: ignore[assignment]
    return found
