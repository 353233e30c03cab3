"""The build document: one definition of each part, frozen and versioned."""

from arcstack.document.contradictions import problems
from arcstack.document.decided import decided
from arcstack.document.edit import (
    change,
    clear,
    entered,
    field,
    get,
    outdated,
    put,
    said,
    set_cam,
    set_curve,
    set_evidence,
    silence,
    stated,
    stating,
    unsaid,
)
from arcstack.document.entry import NONE, Absent, Entry, Sitting, Stated, amount, enter, standing
from arcstack.document.fields import FIELDS, Field, Kind
from arcstack.document.heights import height_with
from arcstack.document.judged import judged_by
from arcstack.document.model import FORMAT, SIDES, SLOTS, VERSION, Build, Decision, FromShelf, Override, Side
from arcstack.document.spoken import spoken
from arcstack.document.words import named

__all__ = [
    "FIELDS",
    "FORMAT",
    "NONE",
    "SIDES",
    "SLOTS",
    "VERSION",
    "Absent",
    "Build",
    "Decision",
    "Entry",
    "Field",
    "FromShelf",
    "Kind",
    "Override",
    "Side",
    "Sitting",
    "Stated",
    "amount",
    "change",
    "clear",
    "decided",
    "enter",
    "entered",
    "field",
    "get",
    "height_with",
    "judged_by",
    "named",
    "outdated",
    "problems",
    "put",
    "said",
    "set_cam",
    "set_curve",
    "set_evidence",
    "silence",
    "spoken",
    "standing",
    "stated",
    "stating",
    "unsaid",
]
