"""What is read of one valve on the bench and nowhere printed: its guide, its seat, its seal, its tip."""

import math
from typing import Annotated

from pydantic import StringConstraints

from arcstack.checks import Evidence
from arcstack.document.entry import Entry, Quantity
from arcstack.document.parts.base import Part
from arcstack.units import ANGLE, FORCE, GAUGE_PRESSURE, LENGTH

ASSUMED = Evidence.ASSUMED
DEG = math.pi / 180.0

_BORE = "Of the guide, two directions square to each other."
_BAND = "Width of the dull ring, cylinder’s middle at 12; 0 where it is broken."
_LOAD = "On the tester at one height, before and after service."


def _length(label: str, low: float, high: float, help: str = "", usual: tuple[float, float] | None = None) -> Quantity:
    return Quantity(label, LENGTH, low, high, help, ASSUMED, usual=usual)


def _angle(label: str, help: str) -> Quantity:
    return Quantity(label, ANGLE, 10 * DEG, 80 * DEG, help, ASSUMED)


def _vacuum(label: str, help: str) -> Quantity:
    return Quantity(label, GAUGE_PRESSURE, 0, 1.1, help, ASSUMED)


class Bench(Part):
    """Readings of one valve. ``place`` says which, and is empty in a design: only as built are they judged."""

    at_every_valve = True

    place: Annotated[str, StringConstraints(max_length=12)] = ""
    bore_top_1: Annotated[Entry | None, _length("Guide bore, top", 3, 16, _BORE)] = None
    bore_top_2: Annotated[Entry | None, _length("Guide bore, top, across", 3, 16, _BORE)] = None
    bore_middle_1: Annotated[Entry | None, _length("Guide bore, middle", 3, 16, _BORE)] = None
    bore_middle_2: Annotated[Entry | None, _length("Guide bore, middle, across", 3, 16, _BORE)] = None
    bore_bottom_1: Annotated[Entry | None, _length("Guide bore, bottom", 3, 16, _BORE)] = None
    bore_bottom_2: Annotated[Entry | None, _length("Guide bore, bottom, across", 3, 16, _BORE)] = None
    stem_top: Annotated[Entry | None, _length("Stem at guide’s top", 3, 15)] = None
    stem_middle: Annotated[Entry | None, _length("Stem at guide’s middle", 3, 15)] = None
    stem_bottom: Annotated[Entry | None, _length("Stem at guide’s bottom", 3, 15)] = None
    rock: Annotated[Entry | None, _length("Rock, dial to dial", 0, 3, "With no bore gauge: the weaker way.")] = None
    rock_beyond: Annotated[Entry | None, _length("Dial beyond the guide’s end", 0, 120)] = None
    guide_length: Annotated[Entry | None, _length("Guide length", 15, 90)] = None
    seat_width: Annotated[Entry | None, _length("Seat width", 0.3, 5, usual=(0.6, 3.5))] = None
    angle_top: Annotated[Entry | None, _angle("Seat, top cut", "Wider than the seat: commonly 30°.")] = None
    angle_seat: Annotated[Entry | None, _angle("Seat angle", "Of the cut that seals: commonly 45°.")] = None
    angle_throat: Annotated[Entry | None, _angle("Seat, throat cut", "Below the seat: commonly 60°.")] = None
    insert_below: Annotated[
        Entry | None, _length("Insert left below the seat", 0, 12, "What can still be cut away.")
    ] = None
    band_edge: Annotated[
        Entry | None,
        _length("Contact band from the margin", 0, 5, "Its middle from the edge; central or a little outward."),
    ] = None
    band_12: Annotated[Entry | None, _length("Lap band, at 12", 0, 5, _BAND)] = None
    band_3: Annotated[Entry | None, _length("Lap band, at 3", 0, 5, _BAND)] = None
    band_6: Annotated[Entry | None, _length("Lap band, at 6", 0, 5, _BAND)] = None
    band_9: Annotated[Entry | None, _length("Lap band, at 9", 0, 5, _BAND)] = None
    runout: Annotated[Entry | None, _length("Face runout", 0, 2, "Dial on the face, valve turned once.")] = None
    vacuum: Annotated[Entry | None, _vacuum("Vacuum, pump shut", "Below ambient; no spring, no grease.")] = None
    vacuum_later: Annotated[Entry | None, _vacuum("Vacuum, 10 s later", "Below ambient, the pump still shut.")] = None
    ambient: Annotated[
        Entry | None,
        Quantity("Ambient pressure", GAUGE_PRESSURE, 0.6, 1.1, "Absolute, of the day; empty it is 1.00 bar.", ASSUMED),
    ] = None
    tip_height: Annotated[Entry | None, _length("Tip height", 10, 120, "From spring seat or head face.")] = None
    lash: Annotated[
        Entry | None, _length("Lash as read", 0, 1.5, "Cold, its lobe turned away; the design’s lash stays its target.")
    ] = None
    plunger: Annotated[
        Entry | None, _length("Plunger travel left", 0, 10, "Of a hydraulic adjuster, primed and bled, lobe away.")
    ] = None
    side_play_closed: Annotated[
        Entry | None, _length("Side play, valve closed", 0, 3, "Of a finger or rocker along its axis.")
    ] = None
    side_play_open: Annotated[Entry | None, _length("Side play, at lift", 0, 3)] = None
    outer_before: Annotated[Entry | None, Quantity("Outer’s load before service", FORCE, 1, 5000, _LOAD)] = None
    outer_after: Annotated[Entry | None, Quantity("Outer’s load after service", FORCE, 1, 5000, _LOAD)] = None
    inner_before: Annotated[Entry | None, Quantity("Inner’s load before service", FORCE, 1, 5000, _LOAD)] = None
    inner_after: Annotated[Entry | None, Quantity("Inner’s load after service", FORCE, 1, 5000, _LOAD)] = None
