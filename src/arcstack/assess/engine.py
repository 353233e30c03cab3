"""What the engine's figures come to."""

from arcstack.assess.check import Named
from arcstack.assess.context import Context
from arcstack.checks import Figure
from arcstack.mech.engine import displacement_cm3
from arcstack.units import VOLUME


def displacement(ctx: Context) -> Figure:
    """What all pistons sweep. Raises ``MissingInput``."""
    bore, stroke = ctx.entry("engine.bore", "B"), ctx.entry("engine.stroke", "S")
    count = ctx.entry("engine.cylinders", "n")
    value = displacement_cm3(bore.value, stroke.value, count.value)
    return Figure.calculated("V", "Displacement", value, VOLUME, "V = π/4·B²·S·n/1000", bore, stroke, count)


FIGURES = (Named("engine.displacement", "Displacement", displacement),)
