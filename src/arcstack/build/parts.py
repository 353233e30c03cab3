"""Each part and reading of a head, defined once: what it holds, in which dimension, within which range."""

import math
from enum import StrEnum
from itertools import pairwise
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, model_validator
from pydantic import FiniteFloat as Finite

from arcstack.build.entry import Entry, Quantity
from arcstack.build.ratio_table import read_ratio_table
from arcstack.build.words import Choice, Words
from arcstack.checks import Evidence
from arcstack.errors import QuantityError
from arcstack.units import ANGLE, COUNT, FORCE, GAUGE_PRESSURE, LENGTH, MASS, RATE, RATIO, SPEED

DEG = math.pi / 180.0
ASSUMED = Evidence.ASSUMED
MEASURED = Evidence.MEASURED


class Part(BaseModel):
    """Base of every part: frozen, with no field it does not know, every figure within its range."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    @model_validator(mode="after")
    def _within_range(self) -> "Part":
        for name, info in type(self).model_fields.items():
            value = getattr(self, name)
            words = next((m for m in info.metadata if isinstance(m, Words)), None)
            if words is not None and words.check is not None and value:
                words.check(value)
            spec = next((m for m in info.metadata if isinstance(m, Quantity)), None)
            if spec is not None and isinstance(value, Entry):
                try:
                    spec.check_entry(value)
                except QuantityError as error:
                    raise ValueError(str(error)) from error
        return self


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


class Place(StrEnum):
    LOBE = "lobe"
    VALVE = "valve"


class Pack(StrEnum):
    DUAL = "dual"
    SINGLE = "single"
    ASSEMBLED = "assembled"


class HeightBasis(StrEnum):
    AS_FITTED = "as fitted"
    BARE = "bare"


class Brief(Part):
    use: Annotated[Use, Choice("Use", "What the engine is for.")] = Use.TRACK
    usual_speed: Annotated[
        Entry | None, Quantity("Usual speed", SPEED, 500, 20000, "Where it spends its life.", ASSUMED)
    ] = None
    peak_speed: Annotated[Entry | None, Quantity("Peak power speed", SPEED, 1000, 20000, "", ASSUMED)] = None
    limiter: Annotated[Entry | None, Quantity("Limiter", SPEED, 1000, 20000)] = None
    overspeed: Annotated[
        Entry | None, Quantity("Overspeed", SPEED, 1000, 22000, "Reached on a missed shift.", ASSUMED)
    ] = None
    boost: Annotated[Entry | None, Quantity("Boost, gauge", GAUGE_PRESSURE, 0, 6)] = None
    back_pressure: Annotated[
        Entry | None, Quantity("Back pressure, mean gauge", GAUGE_PRESSURE, 0, 10, "Before the turbine.", MEASURED)
    ] = None
    pulse_peak: Annotated[
        Entry | None,
        Quantity("Exhaust pulse peak, gauge", GAUGE_PRESSURE, 0, 20, "Left empty, it is assumed.", MEASURED),
    ] = None
    opening_pressure: Annotated[
        Entry | None,
        Quantity("Cylinder as exhaust opens, gauge", GAUGE_PRESSURE, 0, 30, "Left empty, it is assumed.", MEASURED),
    ] = None
    back_pressure_ratio: Annotated[
        Entry | None,
        Quantity("Back pressure ÷ boost", RATIO, 0.3, 4, "Used while back pressure is not measured.", ASSUMED),
    ] = None
    fuel: Annotated[Fuel, Choice("Fuel")] = Fuel.PETROL


class Engine(Part):
    code: Annotated[str, Words("Engine")] = ""
    stroke: Annotated[Entry | None, Quantity("Stroke", LENGTH, 20, 200)] = None
    rod: Annotated[Entry | None, Quantity("Rod, centre to centre", LENGTH, 40, 350)] = None
    pin_offset: Annotated[
        Entry | None,
        Quantity("Pin offset", LENGTH, -5, 5, "+ toward the side the crank turns to after TDC. Empty is none."),
    ] = None
    rod_material: Annotated[RodMaterial, Choice("Rods")] = RodMaterial.STEEL
    cylinders: Annotated[Entry | None, Quantity("Cylinders", COUNT, 1, 16)] = None
    valves_per_cylinder: Annotated[Entry | None, Quantity("Valves per cylinder", COUNT, 2, 6)] = None
    follower: Annotated[FollowerKind, Choice("Follower")] = FollowerKind.BUCKET
    deck: Annotated[
        Entry | None,
        Quantity("Deck clearance", LENGTH, -3, 10, "Crown below the deck at TDC; − when it stands proud.", MEASURED),
    ] = None
    gasket: Annotated[Entry | None, Quantity("Gasket, crushed", LENGTH, 0, 5)] = None
    valve_spacing: Annotated[
        Entry | None,
        Quantity(
            "Intake to exhaust head, centres",
            LENGTH,
            15,
            90,
            "Valves closed, across the cylinder, a facing pair.",
            MEASURED,
        ),
    ] = None
    sprocket_teeth: Annotated[Entry | None, Quantity("Cam sprocket teeth", COUNT, 10, 120)] = None
    drive_pitch: Annotated[Entry | None, Quantity("Belt or chain pitch", LENGTH, 4, 15)] = None
    cranking_speed: Annotated[
        Entry | None, Quantity("Cranking speed", SPEED, 50, 600, "Left empty, 250 rpm.", ASSUMED)
    ] = None
    milling: Annotated[
        Entry | None,
        Quantity(
            "Cut since those were taken",
            LENGTH,
            0,
            5,
            "Head and block together, after the drop, deck or recess was taken.",
            MEASURED,
        ),
    ] = None


class CentrelineMeans(StrEnum):
    MIDDLE = "middle of duration"
    NOSE = "maximum lift"


class Hand(StrEnum):
    LIGHT = "light"
    USUAL = "usual"
    STRONG = "strong"


class RatioFrom(StrEnum):
    CONSTANT = "constant"
    TABLE = "table"
    PIVOT = "pivot geometry"


class Shimming(StrEnum):
    UNDER = "shim under"
    OVER = "shim over"
    GRADED = "graded bucket"


class Materials(StrEnum):
    STEEL_ON_IRON = "steel on chilled iron"
    STEEL_ON_STEEL = "steel on hardened steel"
    COATED_ON_STEEL = "coated on hardened steel"


Angles = Annotated[tuple[Finite, ...], Field(min_length=12, max_length=5000)]


class MeasuredCurve(Part):
    """A lift table as it was taken: cam angles (rad) on its own axis, lift from the base circle (mm)."""

    origin: Annotated[str, StringConstraints(max_length=80)] = ""
    place: Place = Place.LOBE
    cam_rad: Angles
    lift_mm: Angles
    resolution_mm: Annotated[Finite, Field(ge=0, le=1)] = 0.0
    noise_mm: Annotated[Finite, Field(ge=0, le=5)] = 0.0

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
    check_lift: Annotated[Entry | None, Quantity("Check lift", LENGTH, 0.02, 10)] = None
    duration: Annotated[Entry | None, Quantity("Duration", ANGLE, 60 * DEG, 420 * DEG, "Crank degrees.")] = None
    place: Annotated[Place, Choice("At")] = Place.LOBE


class Cam(Part):
    kept: Annotated[str, StringConstraints(max_length=40, pattern=r"^[a-z0-9-]*$")] = ""
    code: Annotated[str, Words("Cam")] = ""
    lobe_lift: Annotated[Entry | None, Quantity("Lobe lift", LENGTH, 1, 20, "Lobe height less base circle.")] = None
    valve_lift: Annotated[
        Entry | None,
        Quantity("Valve lift, before lash", LENGTH, 1, 25, "As printed: lobe × the ratio the card assumed."),
    ] = None
    duration_1: Duration = Duration()
    duration_2: Duration = Duration()
    duration_3: Duration = Duration()
    centreline: Annotated[
        Entry | None, Quantity("Centreline", ANGLE, 60 * DEG, 160 * DEG, "Intake after TDC, exhaust before TDC.")
    ] = None
    centreline_means: Annotated[
        CentrelineMeans,
        Choice("Centreline is the", "On an asymmetric lobe the two differ."),
    ] = CentrelineMeans.MIDDLE
    peak_offset: Annotated[
        Entry | None,
        Quantity("Maximum lift after centreline", ANGLE, -30 * DEG, 30 * DEG, "Crank degrees; empty is symmetric."),
    ] = None
    tdc_event: Annotated[
        Entry | None, Quantity("Event by TDC", ANGLE, -60 * DEG, 120 * DEG, "Intake opens BTDC · exhaust closes ATDC.")
    ] = None
    bdc_event: Annotated[
        Entry | None, Quantity("Event by BDC", ANGLE, -60 * DEG, 140 * DEG, "Intake closes ABDC · exhaust opens BBDC.")
    ] = None
    event_lift: Annotated[Entry | None, Quantity("Events taken at lift", LENGTH, 0.02, 10)] = None
    event_place: Annotated[Place, Choice("At")] = Place.LOBE
    lash: Annotated[Entry | None, Quantity("Lash, at the valve", LENGTH, 0, 1.5)] = None
    lash_hot: Annotated[Entry | None, Quantity("Lash, hot", LENGTH, 0, 1.5, "For the events when hot.")] = None
    lobe_width: Annotated[Entry | None, Quantity("Lobe width", LENGTH, 4, 40, "Along the shaft.", MEASURED)] = None
    curve: MeasuredCurve | None = None
    hand: Annotated[Hand, Choice("Smoothing", "How strong a hand the smoothing has on a measured curve.")] = Hand.USUAL
    base_circle: Annotated[Entry | None, Quantity("Base circle diameter", LENGTH, 15, 80)] = None
    ratio: Annotated[
        Entry | None, Quantity("Ratio fitted", RATIO, 0.8, 2.5, "Valve lift ÷ lobe lift. A bucket is 1.", MEASURED)
    ] = None
    phaser_advance: Annotated[
        Entry | None, Quantity("Phaser, advance", ANGLE, 0, 80 * DEG, "From parked, crank degrees.")
    ] = None
    phaser_retard: Annotated[
        Entry | None, Quantity("Phaser, retard", ANGLE, 0, 80 * DEG, "From parked, crank degrees.")
    ] = None


class Valve(Part):
    code: Annotated[str, Words("Valve")] = ""
    head: Annotated[Entry | None, Quantity("Head diameter", LENGTH, 15, 70)] = None
    stem: Annotated[Entry | None, Quantity("Stem diameter", LENGTH, 3, 15)] = None
    mass: Annotated[Entry | None, Quantity("Valve mass", MASS, 0.005, 0.4, "", MEASURED)] = None
    groove_offset: Annotated[Entry | None, Quantity("Groove offset", LENGTH, -3, 3, "+ raises the retainer.")] = None


class Spring(Part):
    code: Annotated[str, Words("Part")] = ""
    height_1: Annotated[Entry | None, Quantity("Height 1", LENGTH, 8, 90)] = None
    load_1: Annotated[Entry | None, Quantity("Load at height 1", FORCE, 1, 5000)] = None
    height_2: Annotated[Entry | None, Quantity("Height 2", LENGTH, 8, 90)] = None
    load_2: Annotated[Entry | None, Quantity("Load at height 2", FORCE, 1, 5000)] = None
    rate: Annotated[Entry | None, Quantity("Rate", RATE, 1, 300)] = None
    free_length: Annotated[Entry | None, Quantity("Free length", LENGTH, 10, 120)] = None
    solid: Annotated[
        Entry | None, Quantity("Solid height", LENGTH, 5, 70, "Measure it: printed ones are often wrong.")
    ] = None
    mass: Annotated[Entry | None, Quantity("Spring mass", MASS, 0.002, 0.3)] = None
    outside: Annotated[Entry | None, Quantity("Outside diameter", LENGTH, 8, 60)] = None
    wire: Annotated[Entry | None, Quantity("Wire", LENGTH, 1, 8)] = None
    coils: Annotated[Entry | None, Quantity("Coils, total", RATIO, 2, 15)] = None


class Retainer(Part):
    code: Annotated[str, Words("Retainer")] = ""
    step: Annotated[
        Entry | None, Quantity("Step to inner spring", LENGTH, -2, 6, "Inner's seat below the outer's.")
    ] = None
    offset: Annotated[Entry | None, Quantity("Retainer offset", LENGTH, -4, 4, "+ raises the retainer.")] = None
    depth: Annotated[
        Entry | None, Quantity("Lower face below outer step", LENGTH, 0, 12, "What comes down on the seal.")
    ] = None
    mass: Annotated[Entry | None, Quantity("Retainer mass", MASS, 0.001, 0.1, "", MEASURED)] = None


class Locks(Part):
    code: Annotated[str, Words("Locks")] = ""
    offset: Annotated[Entry | None, Quantity("Lock offset", LENGTH, -3, 3, "+ raises the retainer.")] = None
    mass: Annotated[Entry | None, Quantity("Locks mass, pair", MASS, 0.0002, 0.03, "", MEASURED)] = None


class Locator(Part):
    code: Annotated[str, Words("Locator")] = ""
    thickness: Annotated[Entry | None, Quantity("Locator thickness", LENGTH, 0, 8, "Under the outer spring.")] = None
    step: Annotated[
        Entry | None, Quantity("Step up to inner spring", LENGTH, -3, 6, "Inner's seat above the outer's.")
    ] = None


class Bucket(Part):
    code: Annotated[str, Words("Follower")] = ""
    diameter: Annotated[Entry | None, Quantity("Bucket diameter", LENGTH, 15, 60)] = None
    mass: Annotated[
        Entry | None,
        Quantity("Follower mass at the valve", MASS, 0.002, 0.3, "Bucket, or J/r² of a finger or rocker.", MEASURED),
    ] = None
    offset: Annotated[
        Entry | None,
        Quantity("Lobe offset", LENGTH, 0, 6, "Along the shaft; it turns the bucket."),
    ] = None
    shimming: Annotated[Shimming, Choice("Lash by", "How the lash is set.")] = Shimming.UNDER
    materials: Annotated[Materials, Choice("Follower on lobe")] = Materials.STEEL_ON_STEEL
    ratio_from: Annotated[RatioFrom, Choice("Ratio from", "Of a finger or rocker.")] = RatioFrom.CONSTANT
    ratio_table: Annotated[
        str,
        StringConstraints(max_length=80),
        Words("Lobe lift mm, ratio; …", "Overall ratio at several lobe lifts: 3 1.56; 6.5 1.54", read_ratio_table),
    ] = ""
    pad_arm: Annotated[Entry | None, Quantity("Finger, pivot to lobe's pad", LENGTH, 8, 80, "", MEASURED)] = None
    pad_height: Annotated[
        Entry | None, Quantity("Pad above pivot, valve closed", LENGTH, -15, 25, "Along the valve.", MEASURED)
    ] = None
    arm: Annotated[Entry | None, Quantity("Finger, pivot to tip", LENGTH, 12, 80, "", MEASURED)] = None
    arm_height: Annotated[
        Entry | None, Quantity("Tip above pivot, valve closed", LENGTH, -15, 25, "Along the valve.", MEASURED)
    ] = None
    shim_mass: Annotated[Entry | None, Quantity("Lash shim or cap mass", MASS, 0, 0.05, "", MEASURED)] = None


class Stack(Part):
    valve: Valve = Valve()
    pack: Annotated[Pack, Choice("Springs", "Assembled: one load figure for the pair, at the outer's height.")] = (
        Pack.DUAL
    )
    outer: Spring = Spring()
    inner: Spring = Spring()
    retainer: Retainer = Retainer()
    locks: Locks = Locks()
    locator: Locator = Locator()
    bucket: Bucket = Bucket()
    open_height: Annotated[
        Entry | None,
        Quantity("Open height", LENGTH, 15, 80, "Spring seat to outer step, locks pulled up hard.", MEASURED),
    ] = None
    height_basis: Annotated[
        HeightBasis,
        Choice(
            "Taken",
            "As fitted: these very parts. Bare: standard retainer and locks, no locator; offsets are then added.",
        ),
    ] = HeightBasis.AS_FITTED
    shim_1: Annotated[Entry | None, Quantity("Shim 1", LENGTH, 0, 4)] = None
    shim_2: Annotated[Entry | None, Quantity("Shim 2", LENGTH, 0, 4)] = None
    shim_3: Annotated[Entry | None, Quantity("Shim 3", LENGTH, 0, 4)] = None
    target_height: Annotated[
        Entry | None, Quantity("Target height", LENGTH, 15, 80, "The outer spring's advised height.")
    ] = None
    seal_height: Annotated[
        Entry | None, Quantity("Seal top above pocket", LENGTH, 2, 60, "From the bare spring pocket.", MEASURED)
    ] = None
    usual_load: Annotated[
        Entry | None,
        Quantity("Usual seat load, no boost", FORCE, 20, 2000, "Left empty, the practice's figure.", ASSUMED),
    ] = None


class Clearance(Part):
    valve_angle: Annotated[Entry | None, Quantity("Valve angle", ANGLE, 0, 50 * DEG, "Valve to cylinder axis.")] = None
    drop_at_tdc: Annotated[
        Entry | None,
        Quantity("Drop at TDC", LENGTH, 0.2, 30, "How far the valve can be pushed by hand at TDC.", MEASURED),
    ] = None
    recess: Annotated[
        Entry | None,
        Quantity(
            "Valve above head face", LENGTH, -5, 25, "Lowest edge of the closed valve, along the cylinder.", MEASURED
        ),
    ] = None
    pocket: Annotated[
        Entry | None, Quantity("Pocket depth", LENGTH, 0, 20, "In the crown, along the cylinder.", MEASURED)
    ] = None
