"""Why a revision was made, in words."""

from collections.abc import Callable

from arcstack.assess.catalogue import limit_title
from arcstack.document import spoken
from arcstack.document.answers import question
from arcstack.errors import FieldError, PracticeError
from arcstack.practice import practice
from arcstack.practice.matters import matters
from arcstack.store import Kind, Reason


def words(why: Reason) -> str:
    """The reason as a page says it.

    >>> words(Reason(Kind.FIELD, "intake.stack.inner.coils", "", "7.4"))
    'Intake inner spring, coils, total: – → 7.4'
    >>> words(Reason(Kind.RESTORED, other=4))
    'Restored revision 4'
    """
    said = _WORDS[why.kind](why)
    return said[:1].upper() + said[1:]


def _side(why: Reason) -> str:
    return why.path.partition(".")[0]


def _slot(why: Reason) -> str:
    return why.path.rpartition(".")[2]


def about(path: str) -> str:
    """What a path is about, in the page's words: never the path itself.

    >>> about("engine.stroke"), about("overrides.control.separation@intake"), about("intake.cam.curve")
    ('Stroke', 'Limit, Separation ÷ limiter, intake', 'Intake cam, measured curve')
    >>> about("an.earlier.field")
    'A field of an earlier version'
    """
    if path.startswith("overrides."):
        return f"Limit, {_limit(path.removeprefix('overrides.'))}"
    if path.endswith(".cam.curve"):
        return f"{path.split('.')[0].capitalize()} cam, measured curve"
    try:
        said = spoken(path)
    except FieldError:
        return _NAMED.get(path, "A field of an earlier version")
    return said[:1].upper() + said[1:]


_NAMED = {"name": "Name", "note": "Note", "practice": "Practice"}


def _limit(key: str) -> str:
    try:
        title = limit_title(key)
    except KeyError:
        return "of an earlier version"
    side = key.partition("@")[2]
    return f"{title}, {side}" if side else title


def _field(why: Reason) -> str:
    return f"{about(why.path)}: {why.before or '–'} → {why.after or '–'}"


def _answer(why: Reason) -> str:
    try:
        return f"{question(why.path).asks} {why.after}"
    except FieldError:
        return f"Answered: {why.after}"


def _practice(why: Reason) -> str:
    try:
        return f"Practice: {practice(why.after).name}"
    except PracticeError:
        return f"Practice: {why.before or 'one of another workshop'}"


def _matter(key: str) -> str:
    found = matters().get(key)
    return found.title if found else "Decision"


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
    Kind.PACK_COPIED: lambda why: f"Fitted pack kept as {_side(why)} candidate {_slot(why)}",
    Kind.PACK_FITTED: lambda why: (
        f"{_side(why)} candidate {_slot(why)} fitted" + (f": {why.after}" if why.after else "")
    ),
    Kind.PACK_CLEARED: lambda why: f"{_side(why)} candidate {_slot(why)} cleared",
    Kind.SPECIFIED: lambda why: f"{_side(why)}: {why.after} specified{f' for {why.before}' if why.before else ''}",
    Kind.PART_FITTED: lambda why: f"{why.path.replace('.', ' ')}: {why.after} fitted from the shelf",
    Kind.PART_NEWER: lambda why: f"{why.path.replace('.', ' ')}: {why.after} as the shelf has it now",
    Kind.PART_KEPT: lambda why: f"{why.path.replace('.', ' ')}: {why.after} kept as fitted",
    Kind.PRACTICE: _practice,
    Kind.LIMIT: lambda why: f"Limit, {_limit(why.path)}: {why.after}",
    Kind.LIMIT_BACK: lambda why: f"Limit, {_limit(why.path)}: back to the practice",
    Kind.PRACTICE_NEWER: lambda why: f"Practice {why.before}: version {why.after} taken",
    Kind.CAME_BACK: lambda why: f"Came back: {why.after}",
    Kind.REOPENED: lambda why: f"Opened again: {why.after}",
    Kind.NOTE: lambda why: f"Note on {about(why.path)}: {why.after or 'taken away'}",
    Kind.DECISION: lambda why: f"{_matter(why.path)}: {why.after or 'left open again'}",
    Kind.SIDE_COPIED: lambda why: f"{_side(why)} {why.after} copied from {why.before}",
    Kind.PACKS_BROUGHT: lambda why: f"{_side(why)} candidates brought from {why.before}: {why.after}",
    Kind.DUPLICATED: lambda why: f"duplicate of {why.after}",
    Kind.TEMPLATE: lambda why: f"started from template: {why.after}",
    Kind.IMPORTED_NEXT: lambda why: f"imported from {why.after}, as the next revision",
    Kind.RESTORED: lambda why: f"restored revision {why.other}",
    Kind.BACK: lambda why: f"step back to revision {why.other}",
    Kind.FORWARD: lambda why: f"step forward to revision {why.other}",
    Kind.TOLD: lambda why: why.after,
}
