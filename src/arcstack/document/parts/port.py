"""What the air goes through: throat, port, and what a bench said of it."""

from typing import Annotated

from pydantic import StringConstraints

from arcstack.document.entry import Entry, Quantity, Stated
from arcstack.document.flow_table import LONGEST_FLOW_TABLE, read_flow_table
from arcstack.document.parts.base import Part
from arcstack.document.words import Words
from arcstack.units import LENGTH, RATIO, VOLUME

_TABLE = "Lift and flow, as 2 62; 4 118; 6 151. Bare lifts are mm; “in;” first changes that."
_DEPRESSION = "In whatever unit, the same for every table of the head."

FlowText = Annotated[str, StringConstraints(max_length=LONGEST_FLOW_TABLE)]


def _mouth(label: str) -> Quantity:
    return Quantity(label, LENGTH, 8, 120)


def _shift(label: str) -> Quantity:
    return Quantity(label, LENGTH, -10, 10, "Against the port of the head; minus the other way.")


class Port(Part):
    throat: Annotated[
        Entry | None, Quantity("Throat diameter", LENGTH, 8, 65, "The narrowest round under the seat.")
    ] = None
    volume: Annotated[Entry | None, Quantity("Port volume", VOLUME, 1, 3000)] = None
    filler: Annotated[
        Stated | None, Quantity("Filler in the port", VOLUME, 0, 500, "Taken off its volume.", none="no filler")
    ] = None
    flow: Annotated[FlowText, Words("Flow, after work", _TABLE, read_flow_table, LONGEST_FLOW_TABLE)] = ""
    flow_at: Annotated[Entry | None, Quantity("Depression, after work", RATIO, 0.1, 2000, _DEPRESSION)] = None
    flow_before: Annotated[FlowText, Words("Flow, as it came", _TABLE, read_flow_table, LONGEST_FLOW_TABLE)] = ""
    flow_before_at: Annotated[Entry | None, Quantity("Depression, as it came", RATIO, 0.1, 2000, _DEPRESSION)] = None
    lift_cap: Annotated[
        Stated | None,
        Quantity(
            "Most lift the mechanism gives", LENGTH, 2, 25, "Before lash: arm out of geometry, tip off the pad.",
            none="no cap on lift", usual=(5, 20),
        ),
    ] = None  # fmt: skip
    cap_reason: Annotated[str, Words("What sets it")] = ""
    mouth_width: Annotated[Entry | None, _mouth("Port mouth, width")] = None
    mouth_height: Annotated[Entry | None, _mouth("Port mouth, height")] = None
    gasket_width: Annotated[Entry | None, _mouth("Port gasket, width")] = None
    gasket_height: Annotated[Entry | None, _mouth("Port gasket, height")] = None
    gasket_across: Annotated[Entry | None, _shift("Gasket sits across by")] = None
    gasket_up: Annotated[Entry | None, _shift("Gasket sits up by")] = None
    manifold_width: Annotated[Entry | None, _mouth("Manifold mouth, width")] = None
    manifold_height: Annotated[Entry | None, _mouth("Manifold mouth, height")] = None
    manifold_across: Annotated[Entry | None, _shift("Manifold sits across by")] = None
    manifold_up: Annotated[Entry | None, _shift("Manifold sits up by")] = None
