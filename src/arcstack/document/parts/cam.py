"""The cam: card and measured curve."""

import math
from enum import StrEnum
from itertools import pairwise
from typing import Annotated

from pydantic import Field, StringConstraints, model_validator
from pydantic import FiniteFloat as Finite

from arcstack.checks import Evidence
from arcstack.document.entry import Entry, Printable, Quantity, Sitting, Stated, TakenWith, standing
from arcstack.document.parts.base import Listed, Part
from arcstack.document.words import Choice, Words
from arcstack.units import ANGLE, LENGTH

DEG = math.pi / 180.0
ASSUMED = Evidence.ASSUMED


Angles = Annotated[tuple[Finite, ...], Field(min_length=12, max_length=5000)]


class Place(StrEnum):
    LOBE = "lobe"
    VALVE = "valve"


class CentrelineMeans(StrEnum):
    MIDDLE = "middle of duration"
    NOSE = "maximum lift"


class HeldBy(StrEnum):
    """How a phaser is kept from going further than it may."""

    NOT_SAID = "not said"
    STOP = "a stop"
    SOFTWARE = "software"


class Hand(StrEnum):
    LIGHT = "light"
    USUAL = "usual"
    STRONG = "strong"


class MeasuredCurve(Part):
    """A lift table as it was taken: cam angles (rad) on its own axis, lift from the base circle (mm), and by whom."""

    origin: Annotated[str, StringConstraints(max_length=80), Printable] = ""
    place: Place = Place.LOBE
    cam_rad: Angles
    lift_mm: Angles
    resolution_mm: Annotated[Finite, Field(ge=0, le=1)] = 0.0
    noise_mm: Annotated[Finite, Field(ge=0, le=5)] = 0.0
    by: Sitting | None = None
    taken_with: TakenWith = ()
    """What stood in the fields it rests on when it was taken, where something else stands now."""
    outdated: Annotated[str, StringConstraints(max_length=200), Printable] = ""

    @property
    def stands(self) -> Evidence:
        """What it is worth as evidence."""
        return ASSUMED if self.taken_with else standing(Evidence.MEASURED, self.by)

    @model_validator(mode="after")
    def _one_lobe(self) -> "MeasuredCurve":
        angles, lift = self.cam_rad, self.lift_mm
        if len(angles) != len(lift):
            raise ValueError("a curve needs one lift for each angle")
        if any(b <= a for a, b in pairwise(angles)) or angles[-1] - angles[0] > 4 * math.pi + 0.1:
            raise ValueError("the angles of a curve must rise, through one turn at most")
        if not 0.5 < max(lift) < 25.0 or min(lift) < -2.0:
            raise ValueError("that is no valve's lift")
        return self


class Duration(Part):
    check_lift: Annotated[Entry | None, Quantity("Check lift", LENGTH, 0.02, 10, usual=(0.1, 6))] = None
    duration: Annotated[Entry | None, Quantity("Duration", ANGLE, 60 * DEG, 420 * DEG, "Crank degrees.")] = None
    place: Annotated[Place, Choice("At")] = Place.LOBE


MOST_DURATIONS = 3


class Cam(Part):
    kept: Annotated[str, StringConstraints(max_length=40, pattern=r"^[a-z0-9-]*$")] = ""
    code: Annotated[str, Words("Cam")] = ""
    lobe_lift: Annotated[
        Entry | None, Quantity("Lobe lift", LENGTH, 1, 20, "Lobe height less base circle.", each=True, usual=(4, 16))
    ] = None
    valve_lift: Annotated[
        Entry | None,
        Quantity(
            "Valve lift, before lash",
            LENGTH,
            1,
            25,
            "As printed: lobe × the ratio the card assumed.",
            each=True,
            usual=(5, 18),
        ),
    ] = None
    durations: Annotated[tuple[Duration, ...], Listed(MOST_DURATIONS, Duration())] = ()
    centreline: Annotated[
        Entry | None, Quantity("Centreline", ANGLE, 60 * DEG, 160 * DEG, "Intake after TDC, exhaust before TDC.")
    ] = None
    centreline_means: Annotated[
        CentrelineMeans,
        Choice("Centreline is the", "On an asymmetric lobe the two differ."),
    ] = CentrelineMeans.MIDDLE
    peak_offset: Annotated[
        Stated | None,
        Quantity(
            "Maximum lift after centreline", ANGLE, -30 * DEG, 30 * DEG, "Crank degrees.", none="alike on both flanks"
        ),
    ] = None
    tdc_event: Annotated[
        Entry | None,
        Quantity(
            "Opens before TDC",
            ANGLE,
            -60 * DEG,
            120 * DEG,
            "At the lift below; − when it is after.",
            exhaust="Closes after TDC",
        ),
    ] = None
    bdc_event: Annotated[
        Entry | None,
        Quantity("Closes after BDC", ANGLE, -60 * DEG, 140 * DEG, "At the lift below.", exhaust="Opens before BDC"),
    ] = None
    event_lift: Annotated[Entry | None, Quantity("Events taken at lift", LENGTH, 0.02, 10, usual=(0.1, 6))] = None
    event_place: Annotated[Place, Choice("At")] = Place.LOBE
    lash: Annotated[Entry | None, Quantity("Lash, at the valve", LENGTH, 0, 1.5, each=True, usual=(0.04, 0.6))] = None
    lash_hot: Annotated[
        Entry | None, Quantity("Lash, hot", LENGTH, 0, 1.5, "For the events when hot.", usual=(0.04, 0.6))
    ] = None
    lobe_width: Annotated[Entry | None, Quantity("Lobe width", LENGTH, 4, 40, "Along the shaft.", each=True)] = None
    curve: MeasuredCurve | None = None
    curve_lash: Annotated[
        Stated | None,
        Quantity(
            "Lash the table was read with", LENGTH, 0, 1.5, "Of a table taken at the valve.", ASSUMED,
            none="read with the lash taken up", usual=(0.04, 0.6)),
    ] = None  # fmt: skip
    hand: Annotated[Hand, Choice("Smoothing", "How strong a hand the smoothing has on a measured curve.")] = Hand.USUAL
    base_circle: Annotated[Entry | None, Quantity("Base circle diameter", LENGTH, 15, 80, each=True)] = None
    phaser_advance: Annotated[
        Stated | None,
        Quantity("Phaser, advance", ANGLE, 0, 80 * DEG, "From parked, crank degrees.", none="it does not advance"),
    ] = None
    phaser_retard: Annotated[
        Stated | None,
        Quantity("Phaser, retard", ANGLE, 0, 80 * DEG, "From parked, crank degrees.", none="it does not retard"),
    ] = None
    phaser_limit: Annotated[
        Stated | None,
        Quantity(
            "Phaser limited to", ANGLE, 0, 80 * DEG, "From parked, toward the piston: a condition of release.", ASSUMED,
            none="it runs its whole range"),
    ] = None  # fmt: skip
    phaser_held: Annotated[HeldBy, Choice("Limited by", "A stop, or the controller’s software.")] = HeldBy.NOT_SAID
