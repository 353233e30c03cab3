"""What the engine is for, and the engine itself."""

from enum import StrEnum
from typing import Annotated

from arcstack.checks import Evidence
from arcstack.document.entry import Entry, Quantity, Stated
from arcstack.document.firing import read_firing_order
from arcstack.document.parts.base import Part, StatedChoices
from arcstack.document.words import Choice, Words
from arcstack.units import AREA, COUNT, GAUGE_PRESSURE, LENGTH, MASS, RATIO, SPEED

ASSUMED = Evidence.ASSUMED


class Use(StrEnum):
    ROAD = "road"
    TRACK = "track"
    SPRINT = "sprint"


class Fuel(StrEnum):
    PETROL = "petrol"
    ETHANOL = "ethanol"
    METHANOL = "methanol"
    GAS = "gas"


class FollowerKind(StrEnum):
    BUCKET = "bucket"
    FINGER = "finger"
    ROCKER = "rocker"


class RodMaterial(StrEnum):
    STEEL = "steel"
    TITANIUM = "titanium"
    ALUMINIUM = "aluminium"


class Brief(Part):
    use: Annotated[Use, Choice("Use", "What the engine is for.")] = Use.TRACK
    usual_speed: Annotated[
        Entry | None, Quantity("Usual speed", SPEED, 500, 20000, "Where it spends its life.", ASSUMED)
    ] = None
    peak_speed: Annotated[Entry | None, Quantity("Peak power speed", SPEED, 1000, 20000, "", ASSUMED)] = None
    limiter: Annotated[Entry | None, Quantity("Limiter", SPEED, 1000, 20000, "", ASSUMED)] = None
    overspeed: Annotated[
        Entry | None, Quantity("Overspeed", SPEED, 1000, 22000, "Reached on a missed shift.", ASSUMED)
    ] = None
    boost: Annotated[Entry | None, Quantity("Boost, gauge", GAUGE_PRESSURE, 0, 6, "", ASSUMED, usual=(0.2, 4))] = None
    back_pressure: Annotated[
        Entry | None,
        Quantity("Back pressure, mean gauge", GAUGE_PRESSURE, 0, 10, "Before the turbine.", ASSUMED, usual=(0.3, 6)),
    ] = None
    pulse_peak: Annotated[
        Entry | None,
        Quantity(
            "Exhaust pulse peak, gauge", GAUGE_PRESSURE, 0, 20, "Left empty, it is assumed.", ASSUMED, usual=(0.4, 10)
        ),
    ] = None
    opening_pressure: Annotated[
        Entry | None,
        Quantity(
            "Cylinder as exhaust opens, gauge",
            GAUGE_PRESSURE,
            0,
            30,
            "Left empty, it is assumed.",
            ASSUMED,
            usual=(1, 20),
        ),
    ] = None
    back_pressure_ratio: Annotated[
        Entry | None,
        Quantity("Back pressure ÷ boost", RATIO, 0.3, 4, "Used while back pressure is not measured.", ASSUMED),
    ] = None
    fuel: Annotated[Fuel, Choice("Fuel")] = Fuel.PETROL


class Engine(Part):
    code: Annotated[str, Words("Engine")] = ""
    bore: Annotated[Entry | None, Quantity("Bore", LENGTH, 30, 200)] = None
    stroke: Annotated[Entry | None, Quantity("Stroke", LENGTH, 20, 200)] = None
    rod: Annotated[Entry | None, Quantity("Rod, centre to centre", LENGTH, 40, 350)] = None
    pin_offset: Annotated[
        Stated | None,
        Quantity(
            "Pin offset",
            LENGTH,
            -5,
            5,
            "+ toward the side the crank turns to after TDC.",
            none="pin in the middle",
            usual=(0.2, 5),
        ),
    ] = None
    stated: StatedChoices = None
    rod_material: Annotated[RodMaterial, Choice("Rods", assumed=True)] = RodMaterial.STEEL
    cylinders: Annotated[Entry | None, Quantity("Cylinders", COUNT, 1, 16)] = None
    banks: Annotated[Entry | None, Quantity("Banks", COUNT, 1, 4, "Heads on the engine. Empty is one.")] = None
    firing_order: Annotated[str, Words("Firing order", "As 1-3-4-2.", read_firing_order, longest=60)] = ""
    valves_per_cylinder: Annotated[Entry | None, Quantity("Valves per cylinder", COUNT, 2, 6)] = None
    follower: Annotated[FollowerKind, Choice("Follower", assumed=True)] = FollowerKind.BUCKET
    deck: Annotated[
        Entry | None,
        Quantity(
            "Deck clearance",
            LENGTH,
            -3,
            10,
            "Crown below the deck at TDC; − when it stands proud.",
            ASSUMED,
            usual=(0.06, 10),
        ),
    ] = None
    gasket: Annotated[Entry | None, Quantity("Gasket, crushed", LENGTH, 0, 5, usual=(0.2, 4))] = None
    valve_spacing: Annotated[
        Entry | None,
        Quantity(
            "Intake to exhaust head, centres",
            LENGTH,
            15,
            90,
            "Valves closed, across the cylinder, a facing pair.",
            ASSUMED,
        ),
    ] = None
    sprocket_teeth: Annotated[Entry | None, Quantity("Cam sprocket teeth", COUNT, 10, 120)] = None
    drive_pitch: Annotated[Entry | None, Quantity("Belt or chain pitch", LENGTH, 4, 15)] = None
    cranking_speed: Annotated[
        Entry | None, Quantity("Cranking speed", SPEED, 50, 600, "Left empty, 250 rpm.", ASSUMED)
    ] = None
    milling: Annotated[
        Stated | None,
        Quantity(
            "Cut since those were taken",
            LENGTH,
            0,
            5,
            "Head and block together, after the drop, deck or recess was taken.",
            ASSUMED,
            none="nothing cut since",
            usual=(0.04, 5),
        ),
    ] = None
    reciprocating: Annotated[
        Entry | None,
        Quantity("Reciprocating mass", MASS, 0.05, 5, "Piston, pin, rings and a third of the rod.", ASSUMED),
    ] = None
    rod_section: Annotated[Entry | None, Quantity("Rod, least section", AREA, 30, 1500, "One rod.", ASSUMED)] = None
    rod_stretch: Annotated[
        Entry | None,
        Quantity("Rod stretch, stated", LENGTH, 0, 2, "At overspeed; comes before mass and section.", ASSUMED),
    ] = None
    pin_clearance: Annotated[Entry | None, Quantity("Pin clearance", LENGTH, 0, 0.5, "", ASSUMED)] = None
    bearing_clearance: Annotated[Entry | None, Quantity("Big-end clearance", LENGTH, 0, 0.5, "", ASSUMED)] = None
    growth: Annotated[
        Stated | None,
        Quantity(
            "Block growth less rod growth", LENGTH, -1, 2, "Hot, up to the crown; counted as none while empty.",
            ASSUMED, none="counted as nought", usual=(0.02, 1)),
    ] = None  # fmt: skip
    slot_radius: Annotated[
        Entry | None, Quantity("Slot radius of the cam gear", LENGTH, 5, 150, "For what to move at the slots.", ASSUMED)
    ] = None
