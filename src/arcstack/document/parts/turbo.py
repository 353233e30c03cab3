"""The turbo side, and what else of the engine sets a limit: oil, crankcase, head clamping, compression, events."""

from enum import StrEnum
from typing import Annotated

from arcstack.checks import Evidence
from arcstack.document.entry import Entry, Quantity, Stated
from arcstack.document.parts.base import Part
from arcstack.document.words import Choice, Words
from arcstack.units import AREA, COUNT, FORCE, GAUGE_PRESSURE, LENGTH, RATIO, SPEED, STRESS, TORQUE, VOLUME

ASSUMED = Evidence.ASSUMED


class Lubricant(StrEnum):
    """What lies on a fastener's thread and face when it is tightened."""

    NOT_SAID = "not said"
    DRY = "dry"
    OIL = "engine oil"
    MOLY = "moly paste"


class Bearing(StrEnum):
    """What a turbine's shaft runs in: how much oil it wants."""

    NOT_SAID = "not said"
    ROLLING = "rolling bearings"
    PLAIN = "plain bearings"


class Gasket(StrEnum):
    """What a head gasket is made of: whether it settles after the first heat."""

    NOT_SAID = "not said"
    COMPOSITE = "composite"
    STEEL = "layers of steel"
    RING = "rings or copper"


class Standpipes(StrEnum):
    """Which school a head's oil return follows."""

    NOT_SAID = "not said"
    KEPT = "standpipes kept"
    REMOVED = "standpipes removed"


def _hole(label: str, low: float, high: float, words: str = "") -> Quantity:
    return Quantity(label, LENGTH, low, high, words)


class Turbo(Part):
    crankcase: Annotated[
        Entry | None,
        Quantity("Crankcase pressure", GAUGE_PRESSURE, -0.5, 1, "Hot, full load, at the top of boost; by a logger."),
    ] = None
    crankcase_before: Annotated[
        Entry | None, Quantity("The run before", GAUGE_PRESSURE, -0.5, 1, "On the same boost.")
    ] = None
    breathers: Annotated[Entry | None, Quantity("Breathers", COUNT, 0, 12)] = None
    breather_hole: Annotated[Entry | None, _hole("Breather, inside", 2, 60)] = None
    separator: Annotated[str, Words("Oil separator")] = ""
    weeps: Annotated[str, Words("Oil weeps at", "Stiff covers and good gaskets hold it, they do not cure it.")] = ""
    oil_idle: Annotated[Entry | None, Quantity("Oil pressure, hot idle", GAUGE_PRESSURE, 0, 15)] = None
    oil_limit: Annotated[Entry | None, Quantity("Oil pressure, hot at the limiter", GAUGE_PRESSURE, 0, 20)] = None
    feed_hole: Annotated[Entry | None, _hole("Oil feed to the head", 0.5, 20, "Its narrowest hole.")] = None
    drains: Annotated[Entry | None, Quantity("Drains of the head", COUNT, 1, 30)] = None
    drain_hole: Annotated[Entry | None, _hole("Drain, inside", 2, 60)] = None
    spray_holes: Annotated[Stated | None, Quantity("Spray bar, holes", COUNT, 0, 64, none="no spray bar")] = None
    spray_hole: Annotated[Entry | None, _hole("Spray hole", 0.2, 5)] = None
    spray_mesh: Annotated[
        Stated | None, Quantity("Filter mesh before the spray bar", LENGTH, 0, 1, none="no filter")
    ] = None
    standpipes: Annotated[
        Standpipes, Choice("Head return", "Kept, oil lies under the springs; removed, it falls at once. By practice.")
    ] = Standpipes.NOT_SAID
    bearing: Annotated[Bearing, Choice("Turbine shaft in")] = Bearing.NOT_SAID
    restrictor: Annotated[Entry | None, _hole("Turbo feed restrictor", 0.3, 8)] = None
    turbo_drain: Annotated[Entry | None, _hole("Turbo drain, inside", 5, 40, "Always falling, above sump level.")] = (
        None
    )
    exhaust_drop: Annotated[
        Entry | None, Quantity("Exhaust after the turbine, drop", GAUGE_PRESSURE, 0, 3, "At full load.")
    ] = None
    narrowest: Annotated[Entry | None, _hole("Exhaust, smallest inside", 20, 150, "After the turbine.")] = None
    narrowest_at: Annotated[str, Words("Narrowest part of the exhaust")] = ""
    stud: Annotated[str, Words("Head studs")] = ""
    stud_diameter: Annotated[Entry | None, Quantity("Stud thread", LENGTH, 5, 20)] = None
    stud_area: Annotated[Entry | None, Quantity("Stud, stress area", AREA, 10, 400)] = None
    stud_proof: Annotated[Entry | None, Quantity("Stud, proof strength", STRESS, 300, 2500)] = None
    torque: Annotated[
        Entry | None, Quantity("Head torque", TORQUE, 5, 400, "By the maker’s data, with its lubricant.")
    ] = None
    lubricant: Annotated[Lubricant, Choice("Lubricant on the studs", "It is part of the torque.")] = Lubricant.NOT_SAID
    nut_factor: Annotated[
        Entry | None, Quantity("Nut factor", RATIO, 0.08, 0.35, "Empty, by its lubricant.", ASSUMED)
    ] = None
    preload: Annotated[
        Entry | None, Quantity("Preload of one stud", FORCE, 1000, 300000, "By stretch or angle; comes before torque.")
    ] = None
    stud_stretch: Annotated[
        Entry | None,
        Quantity("Stud longer by, tightened", LENGTH, 0.01, 3, "Comes before torque, whatever the lubricant."),
    ] = None
    stud_length: Annotated[Entry | None, Quantity("Stud, clamped length", LENGTH, 20, 400)] = None
    gasket_kind: Annotated[Gasket, Choice("Head gasket of")] = Gasket.NOT_SAID
    coolant: Annotated[
        str, Words("Coolant passages closed or filled", "Run time and heat soak are then limits of this head.")
    ] = ""
    studs_around: Annotated[
        Entry | None,
        Quantity("Studs around the least held cylinder", COUNT, 2, 12, "Each shared one counts by its share below."),
    ] = None
    studs_shared: Annotated[
        Entry | None, Quantity("Each shared by", COUNT, 1, 4, "Cylinders that one stands between.", ASSUMED)
    ] = None
    gasket_bore: Annotated[Entry | None, Quantity("Gasket bore", LENGTH, 30, 220)] = None
    peak_pressure: Annotated[
        Entry | None,
        Quantity(
            "Peak cylinder pressure", GAUGE_PRESSURE, 20, 400, "Absolute; assumed until it was indicated.", ASSUMED
        ),
    ] = None
    chamber: Annotated[Entry | None, Quantity("Chamber, by burette", VOLUME, 5, 400)] = None
    dish: Annotated[
        Stated | None,
        Quantity("Dish of the crown, pockets in it", VOLUME, -100, 200, "A dome is −.", none="flat crown"),
    ] = None
    compression_target: Annotated[Entry | None, Quantity("Compression wanted", RATIO, 5, 20, "", ASSUMED)] = None
    limiter_soft: Annotated[Entry | None, Quantity("Limiter, soft cut, seconds", COUNT, 0, 100000)] = None
    limiter_staged: Annotated[Entry | None, Quantity("Limiter, staged cut, seconds", COUNT, 0, 100000)] = None
    limiter_hard: Annotated[Entry | None, Quantity("Limiter, hard cut, seconds", COUNT, 0, 100000)] = None
    launch: Annotated[Entry | None, Quantity("Launch control, seconds", COUNT, 0, 100000)] = None
    missed_shifts: Annotated[Entry | None, Quantity("Missed shifts", COUNT, 0, 10000)] = None
    rods_to: Annotated[Entry | None, Quantity("Rods and bolts good to", SPEED, 2000, 20000)] = None
    crank_to: Annotated[Entry | None, Quantity("Crank and damper good to", SPEED, 2000, 20000)] = None
    pump_to: Annotated[Entry | None, Quantity("Oil pump good to", SPEED, 2000, 20000)] = None
