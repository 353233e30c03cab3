"""By what a head is known again: ten key sizes of it, and what of them two heads have alike."""

import statistics
from collections.abc import Sequence
from dataclasses import dataclass

from arcstack.document import SIDES
from arcstack.readings import Sheet
from arcstack.readings.asked import ASKED
from arcstack.settings import setting

KEYS = (("tip_height", True), ("open_height", True), ("bore_middle_1", False))
"""Figures of the casting and its seats that stay with a head when its springs are changed: mean, and for some the
spread over its places too."""

ALIKE_MM, ALIKE_OF = setting("identity.alike"), int(setting("identity.alike_of"))


@dataclass(frozen=True)
class Size:
    """One number of a fingerprint, mm: from how many places it was read; ``value`` None where fewer than two were."""

    label: str
    value: float | None
    read: int
    of: int


def fingerprint(sheet: Sheet) -> tuple[Size, ...]:
    """Ten numbers: for each side the mean and the spread of tip and open heights, and the mean guide bore."""
    found = []
    for side in SIDES:
        own = [p for p in sheet.places if p.side == side]
        for key, spread in KEYS:
            values = [s.value for p in own if (s := sheet.settled(p, key)) is not None and s.measured and not s.stale]
            label = f"{side.capitalize()}, {ASKED[key].quantity(sheet.build, side).label.lower()}"
            known = len(values) > 1
            found.append(Size(f"{label}, mean", statistics.fmean(values) if known else None, len(values), len(own)))
            if spread:
                wide = max(values) - min(values) if known else None
                found.append(Size(f"{label}, spread", wide, len(values), len(own)))
    return tuple(found)


@dataclass(frozen=True)
class Likeness:
    """How two fingerprints agree: how many numbers both have, and how many of them are alike."""

    shared: int
    alike: int

    @property
    def words(self) -> str:
        """What may be said of it: that two are one head is never proven by sizes alone.

        >>> Likeness(10, 9).words, Likeness(10, 3).words, Likeness(2, 2).words
        ('very like', 'another head, or worked on since', 'too few numbers to say')
        """
        if self.shared < ALIKE_OF:
            return "too few numbers to say"
        if self.alike >= self.shared - 1:
            return "very like"
        return "partly like" if 2 * self.alike >= self.shared else "another head, or worked on since"


def likeness(one: Sequence[Size], other: Sequence[Size]) -> Likeness:
    """Two fingerprints held against each other, number by number."""
    pairs = [(a.value, b.value) for a, b in zip(one, other, strict=True) if a.value is not None and b.value is not None]
    return Likeness(len(pairs), sum(abs(a - b) <= ALIKE_MM for a, b in pairs))
