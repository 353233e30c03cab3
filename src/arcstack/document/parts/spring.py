"""Springs and packs of them."""

from enum import StrEnum
from typing import Annotated

from pydantic import StringConstraints

from arcstack.checks import Evidence
from arcstack.document.entry import Entry, Quantity, Sitting, Stated, TakenWith
from arcstack.document.load_table import LONGEST_TABLE, read_load_table
from arcstack.document.parts.base import Part, StatedChoices
from arcstack.document.words import Choice, Words
from arcstack.units import FORCE, LENGTH, MASS, MONEY, RATE, RATIO


class Pack(StrEnum):
    DUAL = "dual"
    SINGLE = "single"
    ASSEMBLED = "assembled"


class Shape(StrEnum):
    CYLINDRICAL = "cylindrical"
    CONICAL = "conical"
    BEEHIVE = "beehive"


class Wound(StrEnum):
    UNSTATED = "not stated"
    LEFT = "left"
    RIGHT = "right"


class Finish(StrEnum):
    UNSTATED = "not stated"
    CLEAN = "clean"
    PEENED = "peened"
    COATED = "coated"


class Damping(StrEnum):
    NONE = "none"
    FLAT = "flat damper"
    INTERFERENCE = "interference fit"


class TableFrom(StrEnum):
    """Where a table of figures comes from."""

    MEASURED = "measured"
    PRINTED = "printed"
    ASSUMED = "assumed"

    @property
    def evidence(self) -> Evidence:
        return Evidence(self.value)


class Spring(Part):
    at_every_valve = True

    code: Annotated[str, Words("Part")] = ""
    shape: Annotated[Shape, Choice("Shape", "Conical and beehive springs stiffen: two loads mislead.")] = (
        Shape.CYLINDRICAL
    )
    height_1: Annotated[Entry | None, Quantity("Height 1", LENGTH, 8, 90)] = None
    load_1: Annotated[Entry | None, Quantity("Load at height 1", FORCE, 1, 5000, usual=(60, 900))] = None
    height_2: Annotated[Entry | None, Quantity("Height 2", LENGTH, 8, 90)] = None
    load_2: Annotated[Entry | None, Quantity("Load at height 2", FORCE, 1, 5000, usual=(120, 2500))] = None
    rate: Annotated[Entry | None, Quantity("Rate", RATE, 1, 300, usual=(8, 90))] = None
    free_length: Annotated[Entry | None, Quantity("Free length", LENGTH, 10, 120)] = None
    table: Annotated[
        str,
        StringConstraints(max_length=LONGEST_TABLE),
        Words(
            "Tester table",
            "Height and load, as 36 334; 31 490; 26 662. Bare numbers are mm and N; “in lbf;” first changes that.",
            read_load_table,
            LONGEST_TABLE,
            origin="table_from",
        ),
    ] = ""
    table_from: Annotated[TableFrom, Choice("Table is")] = TableFrom.PRINTED
    table_by: Sitting | None = None
    table_with: TakenWith = ()
    """What stood in the fields the table rests on when it was taken, where something else stands now."""
    solid: Annotated[
        Entry | None, Quantity("Solid height", LENGTH, 5, 70, "Measure it: printed ones are often wrong.")
    ] = None
    mass: Annotated[
        Stated | None,
        Quantity("Spring mass", MASS, 0.002, 0.3, none="weighed with the other spring", usual=(0.004, 0.15)),
    ] = None
    outside: Annotated[Entry | None, Quantity("Outside diameter", LENGTH, 8, 60)] = None
    outside_top: Annotated[
        Entry | None, Quantity("Outside diameter, top", LENGTH, 8, 60, "Of a conical or beehive spring.")
    ] = None
    inside_top: Annotated[
        Entry | None, Quantity("Inside diameter, top", LENGTH, 5, 50, "Empty is outside less two wires.")
    ] = None
    inside_bottom: Annotated[
        Entry | None, Quantity("Inside diameter, bottom", LENGTH, 5, 50, "Empty is outside less two wires.")
    ] = None
    wire: Annotated[Entry | None, Quantity("Wire", LENGTH, 1, 8)] = None
    coils: Annotated[Entry | None, Quantity("Coils, total", RATIO, 2, 15)] = None
    active: Annotated[Entry | None, Quantity("Coils, active", RATIO, 1, 14, "Empty is total less the two ends.")] = None
    wound: Annotated[Wound, Choice("Wound", "Outer and inner go opposite ways.")] = Wound.UNSTATED
    material: Annotated[str, Words("Spring metal")] = ""
    finish: Annotated[Finish, Choice("Spring finish")] = Finish.UNSTATED


class SpringPack(Part):
    """What holds one valve: one spring, two, or one figure for the pair; and what damps them."""

    at_every_valve = True

    name: Annotated[str, Words("Pack")] = ""
    stated: StatedChoices = None
    pack: Annotated[
        Pack, Choice("Springs", "Assembled: one load figure for the pair, at the outer's height.", assumed=True)
    ] = Pack.DUAL
    outer: Spring = Spring()
    inner: Spring = Spring()
    damping: Annotated[
        Damping, Choice("Damping", "A flat damper or an interference fit adds friction, not load.", assumed=True)
    ] = Damping.NONE
    friction: Annotated[
        Entry | None,
        Quantity("Friction in the pack", FORCE, 0, 300, "Rub that damps surge. Empty, it is assumed.", usual=(5, 150)),
    ] = None
    damper_thickness: Annotated[
        Entry | None, Quantity("Damper thickness", LENGTH, 0.2, 4, "Radially, between the springs.", usual=(0.3, 3))
    ] = None
    price: Annotated[Entry | None, Quantity("Price, the set", MONEY, 0, 100000, "In your own money.")] = None


class Candidate(SpringPack):
    """A pack that could be fitted instead, with what comes with it."""

    advised: Annotated[Entry | None, Quantity("Advised height, outer", LENGTH, 15, 80)] = None
    retainer_step: Annotated[
        Entry | None,
        Quantity(
            "Its retainer's step", LENGTH, -2, 6, "Where it needs its own. Empty keeps the fitted.", usual=(0.3, 6)
        ),
    ] = None
    retainer_offset: Annotated[
        Stated | None,
        Quantity(
            "Its retainer's offset", LENGTH, -4, 4, "+ raises it. Empty keeps the fitted.", none="standard",
            usual=(0.2, 4),
        ),
    ] = None  # fmt: skip
    retainer_mass: Annotated[Entry | None, Quantity("Its retainer's mass", MASS, 0.001, 0.1, usual=(0.003, 0.06))] = (
        None
    )
