"""How far a figure may be off: by its instrument, by what is usual of print, or of an assumption."""

from arcstack.checks import Evidence, Figure
from arcstack.document import FIELDS
from arcstack.settings import setting
from arcstack.units import FORCE, LENGTH, MASS, RATE, VOLUME

PRINTED_SOLID, PRINTED_LENGTH = setting("half_width.printed_solid"), setting("half_width.printed_length")
PRINTED_LOAD, PRINTED_MASS = setting("half_width.printed_load"), setting("half_width.printed_mass")
PRINTED_VOLUME = setting("half_width.printed_volume")
ASSUMED_TIMES = setting("half_width.assumed_times")
MEASURED_LENGTH, MEASURED_LOAD = setting("half_width.measured_length"), setting("half_width.measured_load")
MEASURED_MASS = setting("half_width.measured_mass")


def half_width(path: str, evidence: Evidence, value: float | None, resolution: float | None) -> float:
    """How far a figure may be off, canonical; ``resolution`` is that of the instrument it was read with, where known.

    >>> half_width("intake.stack.inner.solid", Evidence.PRINTED, 21.3, None)
    0.3
    >>> half_width("intake.stack.outer.load_1", Evidence.PRINTED, 300.0, None)
    15.0
    >>> half_width("turbo.chamber", Evidence.ASSUMED, 48.0, None)
    2.0
    """
    spec = FIELDS[path].quantity
    assert spec is not None
    dimension = spec.dimension
    if evidence is Evidence.MEASURED:
        usual = {LENGTH.name: MEASURED_LENGTH, FORCE.name: MEASURED_LOAD, MASS.name: MEASURED_MASS}
        return resolution if resolution is not None else usual.get(dimension.name, 0.0)
    if path.endswith(".solid"):
        printed = PRINTED_SOLID
    elif dimension in (FORCE, RATE):
        printed = PRINTED_LOAD * abs(value or 0.0)
    elif dimension is MASS:
        printed = PRINTED_MASS * abs(value or 0.0)
    elif dimension is LENGTH:
        printed = PRINTED_LENGTH
    elif dimension is VOLUME:
        printed = PRINTED_VOLUME
    else:
        printed = 0.0
    return printed * (ASSUMED_TIMES if evidence is Evidence.ASSUMED else 1.0)


def unread(figure: Figure) -> float:
    """How far an input may be off for not having been measured; nought for one that was, and for what is not there.

    >>> from arcstack.units import LENGTH
    >>> solid = Figure("b", "Solid height", 22.6, LENGTH, Evidence.PRINTED, "intake.stack.outer.solid")
    >>> unread(solid)
    0.3
    """
    if figure.path is None or figure.evidence is Evidence.MEASURED or figure.value == 0.0:
        return 0.0
    return half_width(figure.path, figure.evidence, figure.value, None)
