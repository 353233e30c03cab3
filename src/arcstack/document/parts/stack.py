"""The parts on one valve's axis."""

from enum import StrEnum
from typing import Annotated

from arcstack.checks import Evidence
from arcstack.document.entry import Entry, Quantity, Stated
from arcstack.document.parts.base import Listed, Part
from arcstack.document.parts.spring import SpringPack
from arcstack.document.words import Choice, Words
from arcstack.units import FORCE, LENGTH, MASS, RATIO, STIFFNESS

ASSUMED = Evidence.ASSUMED


class HeightBasis(StrEnum):
    AS_FITTED = "as fitted"
    BARE = "bare"


class Valve(Part):
    at_every_valve = True

    code: Annotated[str, Words("Valve")] = ""
    head: Annotated[Entry | None, Quantity("Head diameter", LENGTH, 15, 70)] = None
    stem: Annotated[Entry | None, Quantity("Stem diameter", LENGTH, 3, 15)] = None
    mass: Annotated[Entry | None, Quantity("Valve mass", MASS, 0.005, 0.4, usual=(0.015, 0.25))] = None
    groove_offset: Annotated[
        Stated | None,
        Quantity("Groove offset", LENGTH, -3, 3, "+ raises the retainer.", none="standard groove", usual=(0.2, 3)),
    ] = None


class Retainer(Part):
    at_every_valve = True

    code: Annotated[str, Words("Retainer")] = ""
    step: Annotated[
        Entry | None, Quantity("Step to inner spring", LENGTH, -2, 6, "Inner's seat below the outer's.", usual=(0.3, 6))
    ] = None
    offset: Annotated[
        Stated | None,
        Quantity("Retainer offset", LENGTH, -4, 4, "+ raises the retainer.", none="standard", usual=(0.2, 4)),
    ] = None
    depth: Annotated[
        Entry | None,
        Quantity("Underside below outer seat", LENGTH, 0, 12, "What comes down on the seal.", usual=(0.8, 12)),
    ] = None
    mass: Annotated[Entry | None, Quantity("Retainer mass", MASS, 0.001, 0.1, usual=(0.003, 0.06))] = None


class Locks(Part):
    at_every_valve = True

    code: Annotated[str, Words("Locks")] = ""
    offset: Annotated[
        Stated | None, Quantity("Lock offset", LENGTH, -3, 3, "+ raises the retainer.", none="standard", usual=(0.2, 3))
    ] = None
    mass: Annotated[Entry | None, Quantity("Locks mass, pair", MASS, 0.0002, 0.03, usual=(0.0008, 0.015))] = None


class Locator(Part):
    at_every_valve = True

    code: Annotated[str, Words("Locator")] = ""
    thickness: Annotated[
        Stated | None,
        Quantity("Locator thickness", LENGTH, 0, 8, "Under the outer spring.", none="no locator", usual=(0.4, 8)),
    ] = None
    step: Annotated[
        Stated | None,
        Quantity(
            "Step up to inner spring",
            LENGTH,
            -3,
            6,
            "Inner's seat above the outer's.",
            none="one level",
            usual=(0.3, 6),
        ),
    ] = None


MOST_SHIMS = 6


class Stack(SpringPack):
    at_every_valve = True

    valve: Valve = Valve()
    retainer: Retainer = Retainer()
    locks: Locks = Locks()
    locator: Locator = Locator()
    open_height: Annotated[
        Entry | None,
        Quantity("Open height", LENGTH, 15, 80, "Spring seat to outer step, locks pulled up hard.", ASSUMED),
    ] = None
    height_basis: Annotated[
        HeightBasis,
        Choice(
            "Taken",
            "As fitted: these very parts. Bare: standard retainer and locks, no locator; offsets are then added.",
        ),
    ] = HeightBasis.AS_FITTED
    shims: Annotated[
        tuple[Stated | None, ...],
        Quantity("Shim", LENGTH, 0, 4, none="no shim", usual=(0.2, 4)),
        Listed(MOST_SHIMS, None),
    ] = ()
    target_height: Annotated[
        Entry | None, Quantity("Target height", LENGTH, 15, 80, "The outer spring's advised height.")
    ] = None
    seal_height: Annotated[
        Entry | None,
        Quantity("Seal top above pocket", LENGTH, 2, 60, "From the bare spring pocket.", ASSUMED, usual=(4, 40)),
    ] = None
    usual_load: Annotated[
        Entry | None,
        Quantity(
            "Usual seat load, no boost",
            FORCE,
            20,
            2000,
            "Left empty, the practice's figure.",
            ASSUMED,
            usual=(120, 1200),
        ),
    ] = None
    seat_stiffness: Annotated[
        Entry | None,
        Quantity("Seat stiffness", STIFFNESS, 5000, 1000000, "Valve on its seat. Empty, it is assumed.", ASSUMED),
    ] = None
    seat_damping: Annotated[
        Entry | None, Quantity("Seat damping, share of critical", RATIO, 0.005, 0.9, "Empty, it is assumed.", ASSUMED)
    ] = None
    coil_damping: Annotated[
        Entry | None,
        Quantity("Coil damping, share of critical", RATIO, 0.0005, 0.2, "Empty, it is assumed.", ASSUMED),
    ] = None
