"""A longer lobe on the same head, with the events held that are to stay."""

from enum import StrEnum

from arcstack.checks import Evidence
from arcstack.document import Build, Entry
from arcstack.document.parts import Cam
from arcstack.errors import MissingInput
from arcstack.units import ANGLE
from arcstack.units.display import plain


class Held(StrEnum):
    """What stays where it is while a lobe grows longer."""

    OVERLAP = "events at overlap"
    CENTRELINE = "centreline"
    FAR = "far events"


_NEAR_SHARE = {Held.OVERLAP: 0.0, Held.CENTRELINE: 0.5, Held.FAR: 1.0}
"""How much of the longer duration the event at overlap takes: intake opening, exhaust closing."""


def _more(entry: Entry | None, by_rad: float) -> Entry | None:
    if entry is None:
        return None
    value = entry.value + by_rad
    return Entry(value=value, typed=plain(value, ANGLE), evidence=Evidence.CALCULATED)


def longer(build: Build, side: str, by_rad: float, held: Held) -> Build:
    """The build with the card of one side longer by ``by_rad`` crank angle.

    With the event at overlap held only the far one moves, intake closing or exhaust opening: overlap stays, cylinder
    pressure moves. A centreline counts after TDC on the intake and before it on the exhaust, so that both move alike.
    Raises ``MissingInput`` where there is no duration or centreline, or a measured curve stands for the card.
    """
    cam = build.side(side).cam
    if cam.curve is not None:
        raise MissingInput(why="a measured curve stands for the card: drop it to try a longer one")
    if not any(d.duration for d in cam.durations) or cam.centreline is None:
        raise MissingInput(why="a duration and a centreline are needed")
    near = _NEAR_SHARE[held] * by_rad
    changes: dict[str, object] = {
        "durations": tuple(d.model_copy(update={"duration": _more(d.duration, by_rad)}) for d in cam.durations),
        "centreline": _more(cam.centreline, by_rad / 2.0 - near),
        "tdc_event": _more(cam.tdc_event, near),
        "bdc_event": _more(cam.bdc_event, by_rad - near),
    }
    made: Cam = cam.model_copy(update=changes)
    return build.model_copy(update={side: build.side(side).model_copy(update={"cam": made})})
