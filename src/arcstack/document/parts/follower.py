"""What stands between lobe and valve: a bucket, a finger or a rocker, each with its own figures."""

from enum import StrEnum
from typing import Annotated

from pydantic import StringConstraints

from arcstack.checks import Evidence
from arcstack.document.entry import Entry, Quantity, Sitting, Stated, TakenWith
from arcstack.document.parts.base import Part, StatedChoices
from arcstack.document.parts.brief import FollowerKind
from arcstack.document.parts.spring import TableFrom
from arcstack.document.ratio_table import read_ratio_table
from arcstack.document.words import Choice, Words
from arcstack.units import LENGTH, MASS, RATIO, STIFFNESS

ASSUMED = Evidence.ASSUMED


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


class Adjuster(StrEnum):
    """What sets the lash of a finger or rocker."""

    SHIM = "shim or cap"
    SCREW = "screw"
    HYDRAULIC = "hydraulic"


class Materials(StrEnum):
    STEEL_ON_IRON = "steel on chilled iron"
    STEEL_ON_STEEL = "steel on hardened steel"
    COATED_ON_STEEL = "coated on hardened steel"


class AnyFollower(Part):
    """What every kind of follower has."""

    at_every_valve = True

    code: Annotated[str, Words("Follower")] = ""
    stated: StatedChoices = None
    mass: Annotated[
        Entry | None,
        Quantity(
            "Follower mass at the valve", MASS, 0.002, 0.3, "Bucket, or J/r² of a finger or rocker.", usual=(0.01, 0.25)
        ),
    ] = None
    materials: Annotated[Materials, Choice("Follower on lobe", assumed=True)] = Materials.STEEL_ON_STEEL
    stiffness: Annotated[
        Entry | None,
        Quantity("Train stiffness at the valve", STIFFNESS, 500, 200000, "Lobe to valve. Empty, by its kind.", ASSUMED),
    ] = None
    damping: Annotated[
        Entry | None, Quantity("Train damping, share of critical", RATIO, 0.005, 0.6, "Empty, it is assumed.", ASSUMED)
    ] = None


class Bucket(AnyFollower):
    diameter: Annotated[Entry | None, Quantity("Bucket diameter", LENGTH, 15, 60)] = None
    offset: Annotated[
        Stated | None,
        Quantity(
            "Lobe offset",
            LENGTH,
            0,
            6,
            "Along the shaft; it turns the bucket.",
            none="lobe on its middle",
            usual=(0.2, 5),
        ),
    ] = None
    inside: Annotated[Entry | None, Quantity("Bucket inside diameter", LENGTH, 12, 58)] = None
    crown: Annotated[Entry | None, Quantity("Crown thickness", LENGTH, 1, 8)] = None
    coating: Annotated[str, Words("Bucket coating")] = ""
    shimming: Annotated[Shimming, Choice("Lash by", "How the lash is set.")] = Shimming.UNDER


class Lever(AnyFollower):
    """A finger or a rocker: it turns about a pivot, and its ratio is its own."""

    ratio: Annotated[
        Entry | None,
        Quantity("Ratio fitted", RATIO, 0.8, 2.5, "Valve lift ÷ lobe lift.", ASSUMED, each=True),
    ] = None
    ratio_from: Annotated[RatioFrom, Choice("Ratio from")] = RatioFrom.CONSTANT
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
    ratio_table_with: TakenWith = ()
    """What stood in the fields the table rests on when it was taken, where something else stands now."""
    meets: Annotated[Meets, Choice("Meets the lobe with", assumed=True)] = Meets.PAD
    pad_radius: Annotated[
        Entry | None,
        Quantity("Pad or roller radius", LENGTH, 3, 120, "Where it meets the lobe."),
    ] = None
    pad_arm: Annotated[Entry | None, Quantity("Pivot to lobe's pad", LENGTH, 8, 80)] = None
    pad_height: Annotated[
        Entry | None, Quantity("Pad above pivot, valve closed", LENGTH, -15, 25, "Along the valve.", usual=(0.5, 25))
    ] = None
    arm: Annotated[Entry | None, Quantity("Pivot to tip", LENGTH, 12, 80)] = None
    arm_height: Annotated[
        Entry | None, Quantity("Tip above pivot, valve closed", LENGTH, -15, 25, "Along the valve.", usual=(0.5, 25))
    ] = None

    adjuster: Annotated[Adjuster, Choice("Lash by", "How the lash is set.")] = Adjuster.SHIM
    screw_pitch: Annotated[Entry | None, Quantity("Screw pitch", LENGTH, 0.2, 2.5, "Of the adjusting screw.")] = None
    screw_moves: Annotated[
        Entry | None,
        Quantity(
            "Lash for each mm of screw", RATIO, 0.2, 4, "Where the blade goes. Empty, as much as the screw.", ASSUMED
        ),
    ] = None
    plunger_travel: Annotated[
        Entry | None, Quantity("Plunger travel, whole", LENGTH, 0.5, 10, "Of a hydraulic adjuster, stop to stop.")
    ] = None


class Finger(Lever):
    pass


class Rocker(Lever):
    pass


class Follower(Part):
    """The follower of each kind with its own figures; the engine says which kind is fitted."""

    at_every_valve = True

    bucket: Bucket = Bucket()
    finger: Finger = Finger()
    rocker: Rocker = Rocker()
    shim_mass: Annotated[
        Stated | None,
        Quantity("Lash shim or cap mass", MASS, 0, 0.05, none="no lash shim or cap", usual=(0.0005, 0.03)),
    ] = None

    def of(self, kind: FollowerKind) -> Bucket | Lever:
        """The one of a kind."""
        found: Bucket | Lever = getattr(self, kind.value)
        return found
