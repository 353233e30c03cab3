"""Why a revision was made, in words."""

from collections.abc import Callable

from arcstack.document import field
from arcstack.document.answers import question
from arcstack.errors import FieldError, PracticeError
from arcstack.practice import practice
from arcstack.store import Kind, Reason


def words(why: Reason) -> str:
    """The reason as a page says it.

    >>> words(Reason(Kind.FIELD, "engine.stroke", "84 mm", "86 mm"))
    'Stroke: 84 mm → 86 mm'
    >>> words(Reason(Kind.RESTORED, other=4))
    'restored revision 4'
    """
    return _WORDS[why.kind](why)


def _side(why: Reason) -> str:
    return why.path.partition(".")[0]


def _slot(why: Reason) -> str:
    return why.path.rpartition(".")[2]


def _field(why: Reason) -> str:
    try:
        label = field(why.path).label
    except FieldError:
        label = why.path
    return f"{label}: {why.before or '–'} → {why.after or '–'}"


def _answer(why: Reason) -> str:
    try:
        return f"{question(why.path).asks} {why.after}"
    except FieldError:
        return f"Answered: {why.after}"


def _practice(why: Reason) -> str:
    try:
        return f"Practice: {practice(why.after).name}"
    except PracticeError:
        return f"Practice: {why.after}"


_WORDS: dict[Kind, Callable[[Reason], str]] = {
    Kind.NEW: lambda why: "new build",
    Kind.DEMO: lambda why: "demo build",
    Kind.IMPORTED: lambda why: f"imported from {why.after}",
    Kind.FIELD: _field,
    Kind.NAME: lambda why: f"Name: {why.before} → {why.after}",
    Kind.ANSWER: _answer,
    Kind.CURVE_TAKEN: lambda why: f"Measured curve taken, {_side(why)}",
    Kind.CURVE_SIGNED: lambda why: f"Curve signed, {_side(why)}",
    Kind.CURVE_DROPPED: lambda why: f"Measured curve dropped, {_side(why)}",
    Kind.CAM_USED: lambda why: f"Cam {why.after}, {_side(why)}",
    Kind.CAM_KEPT: lambda why: f"Cam kept, {_side(why)}",
    Kind.CAM_CHANGED: lambda why: f"Kept cam {why.after} changed, {_side(why)}",
    Kind.PACK_COPIED: lambda why: f"Pack copied to slot {_slot(why)}, {_side(why)}",
    Kind.PACK_FITTED: lambda why: f"Pack of slot {_slot(why)} fitted, {_side(why)}",
    Kind.PACK_CLEARED: lambda why: f"Pack of slot {_slot(why)} cleared, {_side(why)}",
    Kind.PRACTICE: _practice,
    Kind.LIMIT: lambda why: f"Limit {why.path}: {why.after}",
    Kind.LIMIT_BACK: lambda why: f"Limit {why.path}: back to the practice",
    Kind.RESTORED: lambda why: f"restored revision {why.other}",
    Kind.BACK: lambda why: f"step back to revision {why.other}",
    Kind.FORWARD: lambda why: f"step forward to revision {why.other}",
    Kind.TOLD: lambda why: why.after,
}
