"""The parts on one valve's axis."""

from enum import StrEnum
from typing import Annotated

from pydantic import StringConstraints

from arcstack.build.entry import Entry, Quantity, Sitting
from arcstack.build.parts.base import Part
from arcstack.build.parts.spring import SpringPack, TableFrom
from arcstack.build.ratio_table import read_ratio_table
from arcstack.build.words import Choice, Words
from arcstack.checks import Evidence
from arcstack.units import FORCE, LENGTH, MASS, RATIO, STIFFNESS

ASSUMED = Evidence.ASSUMED


class HeightBasis(StrEnum):
    AS_FITTED = "as fitted"
    BARE = "bare"


class RatioFrom(StrEnum):
    CONSTANT = "constant"
    TABLE = "table"
    PIVOT = "pivot geometry"


class Meets(StrEnum):
    """What a finger or rocker meets its lobe with."""

    PAD = "pad"
    ROLLER = "roller"


class Shimming(StrEnum):
    UNDER = "shim under"
    OVER = "shim over"
    GRADED = "graded bucket"


class Materials(StrEnum):
    STEEL_ON_IRON = "steel on chilled iron"
    STEEL_ON_STEEL = "steel on hardened steel"
    COATED_ON_STEEL = "coated on hardened steel"


class Valve(Part):
    at_every_valve = True

    code: Annotated[str, Words("Valve")] = ""
    head: Annotated[Entry | None, Quantity("Head diameter", LENGTH, 15, 70)] = None
    stem: Annotated[Entry | None, Quantity("Stem diameter", LENGTH, 3, 15)] = None
    mass: Annotated[Entry | None, Quantity("Valve mass", MASS, 0.005, 0.4)] = None
    groove_offset: Annotated[
        Entry | None, Quantity("Groove offset", LENGTH, -3, 3, "+ raises the retainer.", none="standard groove")
    ] = None


class Retainer(Part):
    at_every_valve = True

    code: Annotated[str, Words("Retainer")] = ""
    step: Annotated[
        Entry | None, Quantity("Step to inner spring", LENGTH, -2, 6, "Inner's seat below the outer's.")
    ] = None
    offset: Annotated[
        Entry | None, Quantity("Retainer offset", LENGTH, -4, 4, "+ raises the retainer.", none="standard")
    ] = None
    depth: Annotated[
        Entry | None, Quantity("Lower face below outer step", LENGTH, 0, 12, "What comes down on the seal.")
    ] = None
    mass: Annotated[Entry | None, Quantity("Retainer mass", MASS, 0.001, 0.1)] = None


class Locks(Part):
    at_every_valve = True

    code: Annotated[str, Words("Locks")] = ""
    offset: Annotated[
        Entry | None, Quantity("Lock offset", LENGTH, -3, 3, "+ raises the retainer.", none="standard")
    ] = None
    mass: Annotated[Entry | None, Quantity("Locks mass, pair", MASS, 0.0002, 0.03)] = None


class Locator(Part):
    at_every_valve = True

    code: Annotated[str, Words("Locator")] = ""
    thickness: Annotated[
        Entry | None, Quantity("Locator thickness", LENGTH, 0, 8, "Under the outer spring.", none="no locator")
    ] = None
    step: Annotated[
        Entry | None,
        Quantity("Step up to inner spring", LENGTH, -3, 6, "Inner's seat above the outer's.", none="one level"),
    ] = None


class Bucket(Part):
    at_every_valve = True

    code: Annotated[str, Words("Follower")] = ""
    diameter: Annotated[Entry | None, Quantity("Bucket diameter", LENGTH, 15, 60)] = None
    mass: Annotated[
        Entry | None,
        Quantity("Follower mass at the valve", MASS, 0.002, 0.3, "Bucket, or J/r² of a finger or rocker."),
    ] = None
    offset: Annotated[
        Entry | None,
        Quantity("Lobe offset", LENGTH, 0, 6, "Along the shaft; it turns the bucket.", none="lobe on its middle"),
    ] = None
    shimming: Annotated[Shimming, Choice("Lash by", "How the lash is set.")] = Shimming.UNDER
    materials: Annotated[Materials, Choice("Follower on lobe")] = Materials.STEEL_ON_STEEL
    ratio_from: Annotated[RatioFrom, Choice("Ratio from", "Of a finger or rocker.")] = RatioFrom.CONSTANT
    ratio_table: Annotated[
        str,
        StringConstraints(max_length=80),
        Words(
            "Lobe lift mm, ratio; …",
            "Overall ratio at several lobe lifts: 3 1.56; 6.5 1.54",
            read_ratio_table,
            origin="ratio_table_from",
        ),
    ] = ""
    ratio_table_from: Annotated[TableFrom, Choice("Ratio table is")] = TableFrom.PRINTED
    ratio_table_by: Sitting | None = None
    meets: Annotated[Meets, Choice("Meets the lobe with", "Of a finger or rocker.")] = Meets.PAD
    pad_radius: Annotated[
        Entry | None,
        Quantity("Pad or roller radius", LENGTH, 3, 120, "Where a finger or rocker meets the lobe."),
    ] = None
    pad_arm: Annotated[Entry | None, Quantity("Finger, pivot to lobe's pad", LENGTH, 8, 80)] = None
    pad_height: Annotated[
        Entry | None, Quantity("Pad above pivot, valve closed", LENGTH, -15, 25, "Along the valve.")
    ] = None
    arm: Annotated[Entry | None, Quantity("Finger, pivot to tip", LENGTH, 12, 80)] = None
    arm_height: Annotated[
        Entry | None, Quantity("Tip above pivot, valve closed", LENGTH, -15, 25, "Along the valve.")
    ] = None
    stiffness: Annotated[
        Entry | None,
        Quantity("Train stiffness at the valve", STIFFNESS, 500, 200000, "Lobe to valve. Empty, by its kind.", ASSUMED),
    ] = None
    damping: Annotated[
        Entry | None, Quantity("Train damping, of critical", RATIO, 0.005, 0.6, "Empty, it is assumed.", ASSUMED)
    ] = None
    seat_stiffness: Annotated[
        Entry | None,
        Quantity("Seat stiffness", STIFFNESS, 5000, 1000000, "Valve on its seat. Empty, it is assumed.", ASSUMED),
    ] = None
    seat_damping: Annotated[
        Entry | None, Quantity("Seat damping, of critical", RATIO, 0.005, 0.9, "Empty, it is assumed.", ASSUMED)
    ] = None
    coil_damping: Annotated[
        Entry | None,
        Quantity("Damping in the coils, of critical", RATIO, 0.0005, 0.2, "Empty, it is assumed.", ASSUMED),
    ] = None
    shim_mass: Annotated[Entry | None, Quantity("Lash shim or cap mass", MASS, 0, 0.05, none="no lash shim or cap")] = (
        None
    )


class Stack(SpringPack):
    at_every_valve = True

    valve: Valve = Valve()
    retainer: Retainer = Retainer()
    locks: Locks = Locks()
    locator: Locator = Locator()
    bucket: Bucket = Bucket()
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
    shim_1: Annotated[Entry | None, Quantity("Shim 1", LENGTH, 0, 4, none="no shim")] = None
    shim_2: Annotated[Entry | None, Quantity("Shim 2", LENGTH, 0, 4, none="no shim")] = None
    shim_3: Annotated[Entry | None, Quantity("Shim 3", LENGTH, 0, 4, none="no shim")] = None
    target_height: Annotated[
        Entry | None, Quantity("Target height", LENGTH, 15, 80, "The outer spring's advised height.")
    ] = None
    seal_height: Annotated[
        Entry | None, Quantity("Seal top above pocket", LENGTH, 2, 60, "From the bare spring pocket.", ASSUMED)
    ] = None
    usual_load: Annotated[
        Entry | None,
        Quantity("Usual seat load, no boost", FORCE, 20, 2000, "Left empty, the practice's figure.", ASSUMED),
    ] = None
