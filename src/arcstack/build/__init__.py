"""The build document: one definition of each part, frozen and versioned."""

from arcstack.build.contradictions import problems
from arcstack.build.edit import change, clear, get, outdated, set_cam, set_curve, set_evidence
from arcstack.build.entry import NONE, Entry, Sitting, enter, standing
from arcstack.build.fields import FIELDS, Field, Kind
from arcstack.build.model import FORMAT, SIDES, SLOTS, VERSION, Build, Override, Side

__all__ = [
    "FIELDS",
    "FORMAT",
    "NONE",
    "SIDES",
    "SLOTS",
    "VERSION",
    "Build",
    "Entry",
    "Field",
    "Kind",
    "Override",
    "Side",
    "Sitting",
    "change",
    "clear",
    "enter",
    "get",
    "outdated",
    "problems",
    "set_cam",
    "set_curve",
    "set_evidence",
    "standing",
]
