"""The build document: one definition of each part, frozen and versioned."""

from arcstack.build.edit import change, clear, get, problems, set_cam, set_curve, set_evidence
from arcstack.build.entry import Entry, enter
from arcstack.build.fields import FIELDS, Field, Kind
from arcstack.build.model import FORMAT, SIDES, SLOTS, VERSION, Build, Override, Side

__all__ = [
    "FIELDS",
    "FORMAT",
    "SIDES",
    "SLOTS",
    "VERSION",
    "Build",
    "Entry",
    "Field",
    "Kind",
    "Override",
    "Side",
    "change",
    "clear",
    "enter",
    "get",
    "problems",
    "set_cam",
    "set_curve",
    "set_evidence",
]
