"""Valve to piston."""

import math
from enum import StrEnum
from typing import Annotated

from arcstack.checks import Evidence
from arcstack.document.entry import Entry, Quantity, Stated
from arcstack.document.parts.base import Part
from arcstack.document.words import Choice
from arcstack.units import ANGLE, LENGTH

DEG = math.pi / 180.0
ASSUMED = Evidence.ASSUMED


class PocketFloor(StrEnum):
    """How the floor lies that a valve would meet: it decides what a millimetre along the cylinder counts."""

    UNSTATED = "not stated"
    SQUARE = "square to the valve"
    FLAT = "flat crown"


class Clearance(Part):
    valve_angle: Annotated[
        Entry | None, Quantity("Valve angle", ANGLE, 0, 50 * DEG, "Valve to cylinder axis.", ASSUMED)
    ] = None
    drop_at_tdc: Annotated[
        Entry | None,
        Quantity(
            "Drop at TDC",
            LENGTH,
            0.2,
            30,
            "How far the valve can be pushed by hand at TDC.",
            ASSUMED,
            each=True,
            usual=(0.5, 20),
        ),
    ] = None
    recess: Annotated[
        Entry | None,
        Quantity(
            "Valve above head face", LENGTH, -5, 25, "Lowest edge of the closed valve, along the cylinder.", ASSUMED,
            each=True, usual=(0.2, 20)),
    ] = None  # fmt: skip
    floor: Annotated[
        PocketFloor,
        Choice("Pocket’s floor", "Not stated, the harder of the two counts: square in the sweep, flat for a cut."),
    ] = PocketFloor.UNSTATED
    crown: Annotated[
        Entry | None,
        Quantity("Crown under the pocket", LENGTH, 1, 40, "What is left there, before any more is cut.", ASSUMED),
    ] = None
    pocket: Annotated[
        Stated | None,
        Quantity(
            "Pocket depth",
            LENGTH,
            0,
            20,
            "In the crown, along the cylinder.",
            ASSUMED,
            none="flat crown",
            each=True,
            usual=(0.4, 15),
        ),
    ] = None
