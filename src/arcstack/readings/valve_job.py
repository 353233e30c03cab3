"""A valve job as it was received and as it came back: heights and seats at every place, phase beside phase."""

from collections.abc import Mapping
from dataclasses import dataclass

from arcstack.document.places import Place
from arcstack.readings.asked import ASKED
from arcstack.readings.reading import Phase
from arcstack.readings.sheet import Sheet

KEYS = ("tip_height", "open_height", "seat_width", "margin", "runout")
"""What a valve job moves."""

PHASES = (Phase.INCOMING, Phase.MACHINED, Phase.FINAL)


@dataclass(frozen=True)
class Column:
    """One figure in one phase over the places of a side, canonical, by the place's label; unread ones are not in it."""

    key: str
    phase: Phase
    values: Mapping[str, float]

    @property
    def spread(self) -> float | None:
        """Highest less lowest; None of fewer than two."""
        found = self.values.values()
        return max(found) - min(found) if len(found) > 1 else None

    @property
    def mean(self) -> float:
        return sum(self.values.values()) / len(self.values)

    def furthest(self) -> tuple[str, float]:
        """The place that stands furthest from the mean, and by how much: positive is tall.

        >>> Column("tip_height", Phase.MACHINED, {"1I-a": 47.0, "1I-b": 47.02, "2I-a": 47.19}).furthest()[0]
        '2I-a'
        """
        label = max(self.values, key=lambda at: abs(self.values[at] - self.mean))
        return label, self.values[label] - self.mean


@dataclass(frozen=True)
class ValveJob:
    """One side: its places, every column that anything was read for, and metal taken there, mm: face, seat, tip."""

    places: tuple[Place, ...]
    columns: tuple[Column, ...]
    cuts: Mapping[str, tuple[float, float, float]]


def valve_job(sheet: Sheet, side: str) -> ValveJob:
    """What was read of a side before and after machining, and at the end."""
    own = tuple(p for p in sheet.places if p.side == side)
    columns = []
    for key in KEYS:
        if not ASKED[key].applies(sheet.build, side):
            continue
        for phase in PHASES:
            values = {p.label: s.value for p in own if (s := sheet.settled(p, key, phase)) is not None}
            if values:
                columns.append(Column(key, phase, values))
    cuts = {p.label: found for p in own if any(found := _cut(sheet, p))}
    return ValveJob(own, tuple(columns), cuts)


def _cut(sheet: Sheet, place: Place) -> tuple[float, float, float]:
    cuts = sheet.cut_at(place.label)
    return sum(c.face_mm for c in cuts), sum(c.seat_mm for c in cuts), sum(c.tip_mm for c in cuts)
