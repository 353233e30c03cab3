"""The parts on one valve's axis."""

import math
from enum import StrEnum
from typing import Annotated

from arcstack.checks import Evidence
from arcstack.document.entry import Entry, Quantity, Stated
from arcstack.document.parts.base import Listed, Part
from arcstack.document.parts.spring import SpringPack
from arcstack.document.words import Choice, Words
from arcstack.units import ANGLE, COUNT, FORCE, LENGTH, MASS, RATIO, STIFFNESS

ASSUMED = Evidence.ASSUMED
DEG = math.pi / 180.0


class HeightBasis(StrEnum):
    AS_FITTED = "as fitted"
    BARE = "bare"


class Groove(StrEnum):
    """What the locks hold the stem by."""

    UNSTATED = "not stated"
    SQUARE = "one square"
    ROUND = "one round"
    BEADS = "several beads"


class ValveMetal(StrEnum):
    UNSTATED = "not stated"
    STEEL = "steel"
    NICKEL = "nickel alloy"
    TITANIUM = "titanium"


class Filling(StrEnum):
    """What is inside a valve's stem."""

    UNSTATED = "not stated"
    SOLID = "solid"
    HOLLOW = "hollow"
    SODIUM = "sodium-filled"


class RetainerMetal(StrEnum):
    UNSTATED = "not stated"
    STEEL = "steel"
    TITANIUM = "titanium"
    ALUMINIUM = "aluminium"


class SeatMetal(StrEnum):
    UNSTATED = "not stated"
    HARDENED = "hardened steel"
    SOFT = "soft steel"
    BARE = "no steel seat"


class HeadMetal(StrEnum):
    UNSTATED = "not stated"
    ALUMINIUM = "aluminium"
    IRON = "iron"


class Located(StrEnum):
    """What keeps the lower end of a spring in its place."""

    UNSTATED = "not stated"
    SPIGOT = "spigot"
    CUP = "cup"
    NOTHING = "nothing"


class Grips(StrEnum):
    UNSTATED = "not stated"
    STEM = "grip the stem"
    FREE = "let the valve turn"


class SealHeld(StrEnum):
    """What a seal's height is counted from."""

    UNSTATED = "not stated"
    GROOVE = "groove in the guide"
    END = "end of the guide"
    LOCATOR = "part of the locator"


class Hardened(StrEnum):
    UNSTATED = "not stated"
    YES = "hardened"
    NO = "not hardened"


_BEADS = Quantity("Beads", COUNT, 1, 6)
_TAPER = "Both sides together; a taper named by one side is half of it."


class Valve(Part):
    at_every_valve = True

    code: Annotated[str, Words("Valve")] = ""
    head: Annotated[Entry | None, Quantity("Head diameter", LENGTH, 15, 70)] = None
    stem: Annotated[Entry | None, Quantity("Stem diameter", LENGTH, 3, 15)] = None
    mass: Annotated[Entry | None, Quantity("Valve mass", MASS, 0.005, 0.4, usual=(0.015, 0.25))] = None
    groove_offset: Annotated[
        Stated | None,
        Quantity(
            "Groove offset",
            LENGTH,
            -3,
            3,
            "+ raises the retainer.",
            none="standard groove",
            usual=(0.2, 3),
            raises=1.0,
            symbol="o_g",
        ),
    ] = None
    lock_end: Annotated[
        Entry | None,
        Quantity("Lock-end diameter", LENGTH, 3, 15, "Of the stem where the locks hold it, which may be stepped."),
    ] = None
    length: Annotated[Entry | None, Quantity("Valve length", LENGTH, 60, 200)] = None
    groove_below_tip: Annotated[Entry | None, Quantity("Groove below tip, centre", LENGTH, 1, 25, usual=(2.5, 14))] = (
        None
    )
    groove: Annotated[Groove, Choice("Groove of the stem")] = Groove.UNSTATED
    beads: Annotated[Entry | None, _BEADS] = None
    material: Annotated[ValveMetal, Choice("Valve metal")] = ValveMetal.UNSTATED
    filling: Annotated[Filling, Choice("Stem is")] = Filling.UNSTATED
    face_angle: Annotated[Entry | None, Quantity("Face angle", ANGLE, 15 * DEG, 60 * DEG)] = None
    margin: Annotated[Entry | None, Quantity("Margin", LENGTH, 0.2, 5, usual=(0.5, 5))] = None
    coating: Annotated[str, Words("Coating")] = ""


class Retainer(Part):
    at_every_valve = True

    code: Annotated[str, Words("Retainer")] = ""
    step: Annotated[
        Entry | None, Quantity("Step to inner spring", LENGTH, -2, 6, "Inner's seat below the outer's.", usual=(0.3, 6))
    ] = None
    offset: Annotated[
        Stated | None,
        Quantity(
            "Retainer offset",
            LENGTH,
            -4,
            4,
            "+ raises the retainer.",
            none="standard",
            usual=(0.2, 4),
            raises=1.0,
            symbol="o_r",
        ),
    ] = None
    depth: Annotated[
        Entry | None,
        Quantity("Underside below outer seat", LENGTH, 0, 12, "What comes down on the seal.", usual=(0.8, 12)),
    ] = None
    mass: Annotated[Entry | None, Quantity("Retainer mass", MASS, 0.001, 0.1, usual=(0.003, 0.06))] = None
    material: Annotated[RetainerMetal, Choice("Retainer metal")] = RetainerMetal.UNSTATED
    taper: Annotated[Entry | None, Quantity("Retainer’s taper, included", ANGLE, 3 * DEG, 40 * DEG, _TAPER)] = None
    locks_outside: Annotated[
        Entry | None,
        Quantity("Made for locks, outside at top", LENGTH, 5, 30, "What the maker's own locks measure."),
    ] = None
    bore: Annotated[Entry | None, Quantity("Bore at lower face", LENGTH, 4, 25)] = None
    outer_step: Annotated[
        Entry | None, Quantity("Step inside outer spring", LENGTH, 5, 50, "Diameter that centres it.")
    ] = None
    inner_step: Annotated[
        Entry | None, Quantity("Step inside inner spring", LENGTH, 5, 40, "Diameter that centres it.")
    ] = None
    outside: Annotated[Entry | None, Quantity("Retainer outside diameter", LENGTH, 10, 60)] = None


class Locks(Part):
    at_every_valve = True

    code: Annotated[str, Words("Locks")] = ""
    offset: Annotated[
        Stated | None,
        Quantity(
            "Lock offset",
            LENGTH,
            -3,
            3,
            "+ raises the retainer.",
            none="standard",
            usual=(0.2, 3),
            raises=1.0,
            symbol="o_l",
        ),
    ] = None
    mass: Annotated[Entry | None, Quantity("Locks mass, pair", MASS, 0.0002, 0.03, usual=(0.0008, 0.015))] = None
    stem: Annotated[Entry | None, Quantity("Stem that the locks fit", LENGTH, 3, 15)] = None
    groove: Annotated[Groove, Choice("Groove the locks fill")] = Groove.UNSTATED
    beads: Annotated[Entry | None, _BEADS] = None
    taper: Annotated[Entry | None, Quantity("Locks’ taper, included", ANGLE, 3 * DEG, 40 * DEG, _TAPER)] = None
    outside: Annotated[Entry | None, Quantity("Locks, outside at top", LENGTH, 5, 30)] = None
    above_groove: Annotated[
        Entry | None, Quantity("Locks’ top above groove’s centre", LENGTH, 0.3, 15, usual=(1.2, 10))
    ] = None
    grips: Annotated[Grips, Choice("Grip", "Whether they hold the stem fast or let the valve turn.")] = Grips.UNSTATED


class Locator(Part):
    at_every_valve = True

    code: Annotated[str, Words("Locator")] = ""
    thickness: Annotated[
        Stated | None,
        Quantity(
            "Locator thickness",
            LENGTH,
            0,
            8,
            "Under the outer spring.",
            none="no locator",
            usual=(0.4, 8),
            raises=-1.0,
            symbol="t",
        ),
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
    material: Annotated[SeatMetal, Choice("Seat under the springs")] = SeatMetal.UNSTATED
    base: Annotated[Located, Choice("Springs located below by")] = Located.UNSTATED
    bore: Annotated[Entry | None, Quantity("Bore, over the guide", LENGTH, 5, 40)] = None
    outside: Annotated[Entry | None, Quantity("Locator outside diameter", LENGTH, 10, 60)] = None
    spigot: Annotated[Entry | None, Quantity("Spigot inside outer spring", LENGTH, 6, 50)] = None
    inner_spigot: Annotated[Entry | None, Quantity("Spigot inside inner spring", LENGTH, 5, 40)] = None


class Pocket(Part):
    """The spring pocket of the head."""

    at_every_valve = True

    metal: Annotated[HeadMetal, Choice("Head metal")] = HeadMetal.UNSTATED
    diameter: Annotated[Entry | None, Quantity("Spring pocket diameter", LENGTH, 12, 70)] = None


class Guide(Part):
    at_every_valve = True

    code: Annotated[str, Words("Guide")] = ""
    outside: Annotated[Entry | None, Quantity("Guide outside, above pocket", LENGTH, 5, 25)] = None
    height: Annotated[Entry | None, Quantity("Guide above pocket", LENGTH, 0, 50, usual=(2, 40))] = None
    seal_groove: Annotated[Entry | None, Quantity("Seal groove above pocket", LENGTH, 0, 50, usual=(2, 40))] = None
    material: Annotated[str, Words("Guide metal")] = ""


class Seal(Part):
    at_every_valve = True

    code: Annotated[str, Words("Seal")] = ""
    stem: Annotated[Entry | None, Quantity("Stem that the seal fits", LENGTH, 3, 15)] = None
    guide: Annotated[Entry | None, Quantity("Guide that the seal fits", LENGTH, 5, 25)] = None
    held: Annotated[SealHeld, Choice("Seal held by")] = SealHeld.UNSTATED
    height: Annotated[Entry | None, Quantity("Seal above what holds it", LENGTH, 0.5, 30, usual=(2, 20))] = None
    outside: Annotated[Entry | None, Quantity("Seal outside diameter", LENGTH, 5, 35)] = None
    material: Annotated[str, Words("Seal material")] = ""


class Rings(Part):
    """What the shims under a spring are, whatever their thickness."""

    at_every_valve = True

    inside: Annotated[Entry | None, Quantity("Shims, inside diameter", LENGTH, 5, 50)] = None
    outside: Annotated[Entry | None, Quantity("Shims, outside diameter", LENGTH, 10, 60)] = None
    hardened: Annotated[Hardened, Choice("Shims are")] = Hardened.UNSTATED


class Cap(Part):
    """A cap over the stem's tip."""

    at_every_valve = True

    code: Annotated[str, Words("Cap")] = ""
    inside: Annotated[Stated | None, Quantity("Cap inside diameter", LENGTH, 3, 16, none="no cap on the tip")] = None
    depth: Annotated[Entry | None, Quantity("Cap depth inside", LENGTH, 0.3, 12, usual=(1, 8))] = None
    top: Annotated[Entry | None, Quantity("Cap top thickness", LENGTH, 0.5, 6, usual=(0.9, 6))] = None


MOST_SHIMS = 6


class Stack(SpringPack):
    at_every_valve = True

    valve: Valve = Valve()
    retainer: Retainer = Retainer()
    locks: Locks = Locks()
    locator: Locator = Locator()
    pocket: Pocket = Pocket()
    guide: Guide = Guide()
    seal: Seal = Seal()
    rings: Rings = Rings()
    cap: Cap = Cap()
    tip_proud: Annotated[
        Entry | None,
        Quantity("Tip proud of retainer and locks", LENGTH, -5, 15, "Measured with these parts.", usual=(0.5, 15)),
    ] = None
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
