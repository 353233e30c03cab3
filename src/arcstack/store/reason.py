"""Why a revision was made, as data; pages put it into words."""

from dataclasses import dataclass
from enum import StrEnum


class Kind(StrEnum):
    """What made a revision."""

    NEW = "new"
    DEMO = "demo"
    IMPORTED = "imported"
    FIELD = "field"
    NAME = "name"
    ANSWER = "answer"
    CURVE_TAKEN = "curve taken"
    CURVE_SIGNED = "curve signed"
    CURVE_DROPPED = "curve dropped"
    CAM_USED = "cam used"
    CAM_KEPT = "cam kept"
    CAM_CHANGED = "cam changed"
    PACK_COPIED = "pack copied"
    PACK_FITTED = "pack fitted"
    PACK_CLEARED = "pack cleared"
    PART_FITTED = "part fitted"
    PART_NEWER = "part newer"
    PART_KEPT = "part kept"
    SPECIFIED = "specified"
    PRACTICE = "practice"
    PRACTICE_NEWER = "practice newer"
    LIMIT = "limit"
    LIMIT_BACK = "limit back"
    NOTE = "note"
    DECISION = "decision"
    SIDE_COPIED = "side copied"
    PACKS_BROUGHT = "packs brought"
    DUPLICATED = "duplicated"
    CAME_BACK = "came back"
    REOPENED = "reopened"
    TEMPLATE = "template"
    IMPORTED_NEXT = "imported next"
    RESTORED = "restored"
    BACK = "back"
    FORWARD = "forward"
    TOLD = "told"
    """In the words of an earlier version of the program, in ``after``."""


@dataclass(frozen=True)
class Reason:
    """``path`` is the field, part, question or limit it is about, ``before`` and ``after`` what stood there as typed.

    ``other`` is the revision that a restore or a step led to.
    """

    kind: Kind
    path: str = ""
    before: str = ""
    after: str = ""
    other: int | None = None
