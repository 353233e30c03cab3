"""Photographs of a head: which place, item, finding and phase each belongs to, and marks drawn on a copy."""

from collections.abc import Sequence
from dataclasses import dataclass

from arcstack.document import Sitting
from arcstack.readings.event import Event, of_kind

SHOTS = {
    "crowns": "Bucket crowns, in order", "tips": "Stem tips", "seats": "Each seat, straight light",
    "seats_raking": "Each seat, raking light", "lobes": "Lobes, opening flank", "lobes_closing": "Lobes, closing flank",
    "journals": "Journals", "ports": "Ports", "chambers": "Chambers", "numbers": "Numbers and marks",
}  # fmt: skip
"""The guided list of shots, in the order a hand goes."""


@dataclass(frozen=True)
class Pictured(Event, kind="pictured", names="finding", after_release=True):
    """A photograph, kept whole by the hash of its bytes. ``place`` and ``item`` may be empty, ``finding`` is 0 for
    none; ``look`` is when in the work it was taken."""

    number: int
    sha256: str
    format: str
    width: int
    height: int
    size: int
    name: str
    shot: str
    place: str
    item: str
    finding: int
    look: str
    by: Sitting
    note: str = ""


@dataclass(frozen=True)
class Marked(Event, kind="marked", names="picture", after_release=True):
    """Rings drawn on a copy of a photograph: each x, y and radius as shares of its width, and a word."""

    number: int
    picture: int
    rings: tuple[tuple[float, float, float], ...]
    words: tuple[str, ...]
    by: Sitting


@dataclass(frozen=True)
class PictureOff(Event, kind="picture_off", names="picture", after_release=True):
    """A photograph that no longer counts as one of this head; its file stays."""

    number: int
    picture: int
    by: Sitting


def pictures(events: Sequence[Event]) -> tuple[Pictured, ...]:
    """Photographs that stand, in the order they were taken in."""
    off = {e.picture for e in of_kind(events, PictureOff)}
    return tuple(e for e in of_kind(events, Pictured) if e.number not in off)


def marks(events: Sequence[Event], picture: int) -> Marked | None:
    """What was last drawn on a copy of a photograph."""
    found = [e for e in of_kind(events, Marked) if e.picture == picture]
    return found[-1] if found else None
