"""Heights read a second time by another hand: which places, whether they agree, and what is read again."""

import random
from collections.abc import Sequence
from dataclasses import dataclass

from arcstack.document import Sitting
from arcstack.document.entry import same_hand
from arcstack.document.places import Place
from arcstack.errors import FieldError
from arcstack.readings import Sheet
from arcstack.readings.asked import ASKED
from arcstack.readings.assembling import ReadAgain
from arcstack.readings.event import of_kind
from arcstack.readings.sent_on import this_life
from arcstack.settings import setting
from arcstack.units import LENGTH, show

KEYS = ("tip_height", "open_height")
PLACES = int(setting("second.places"))


@dataclass(frozen=True)
class Again:
    """One height at one place: as it was read, as another hand read it, and how far they lie apart, mm."""

    place: Place
    key: str
    label: str
    first_mm: float | None
    first_by: Sitting | None
    again: ReadAgain | None
    limit_mm: float

    @property
    def apart_mm(self) -> float | None:
        if self.again is None or self.first_mm is None:
            return None
        return abs(self.again.value_mm - self.first_mm)

    @property
    def agrees(self) -> bool:
        return self.apart_mm is not None and self.apart_mm <= self.limit_mm + 1e-9


def drawn(sheet: Sheet) -> tuple[Place, ...]:
    """The places that are read again: a few at random, the same ones for everyone who looks, others after a round that
    did not agree."""
    rounds, first = len(_refused(sheet)), sheet.readings[0].by.at if sheet.readings else None
    rng = random.Random(f"{first} {len(sheet.places)} {rounds}")
    found = rng.sample(sheet.places, min(PLACES, len(sheet.places)))
    return tuple(sorted(found, key=sheet.places.index))


def _again(sheet: Sheet) -> tuple[ReadAgain, ...]:
    return of_kind(this_life(sheet.events), ReadAgain)


def _refused(sheet: Sheet) -> list[ReadAgain]:
    """Second readings after which every place was read anew: their round is over."""
    return [e for e in _again(sheet) if sheet.places and all(_newer(sheet, p, e) for p in sheet.places)]


def _newer(sheet: Sheet, place: Place, event: ReadAgain) -> bool:
    settled = sheet.settled(place, event.key)
    at, was = (settled.last.by.at if settled else None), event.by.at
    return at is not None and was is not None and at > was


def table(sheet: Sheet, limit_mm: float) -> tuple[Again, ...]:
    """What is read again, and how it stands: a second reading counts until that place is read anew."""
    found = []
    for place in drawn(sheet):
        for key in KEYS:
            settled = sheet.settled(place, key)
            last = next((e for e in reversed(_again(sheet)) if (e.place, e.key) == (place.label, key)), None)
            if last is not None and _newer(sheet, place, last):
                last = None
            label = ASKED[key].quantity(sheet.build, place.side).label
            value, by = (settled.value, settled.last.by) if settled is not None and not settled.stale else (None, None)
            found.append(Again(place, key, label, value, by, last, limit_mm))
    return tuple(found)


def wanting(rows: Sequence[Again]) -> tuple[str, ...]:
    """What still stands against the second reading, in words."""
    unread = [f"{r.label} of {r.place.label} is not read yet" for r in rows if r.first_mm is None]
    if unread:
        return (unread[0], *([f"and {len(unread) - 1} more"] if len(unread) > 1 else []))
    off = [r for r in rows if r.again is not None and not r.agrees]
    if off:
        far = max(off, key=lambda r: r.apart_mm or 0.0)
        apart, most = show(far.apart_mm or 0.0, LENGTH), show(far.limit_mm, LENGTH)
        return (f"{far.label} of {far.place.label} lies {apart} from the first, past {most}: read all of them again",)
    left = sum(r.again is None for r in rows)
    return (f"{left} of {len(rows)} still to be read by another hand",) if left else ()


def read_again(row: Again, value_mm: float, typed: str, by: Sitting) -> ReadAgain:
    """A second reading. Raises ``FieldError`` where the first is missing, or the same hand read it on the same day."""
    if row.first_mm is None or row.first_by is None:
        raise FieldError("second", f"{row.label} of {row.place.label} has no first reading to hold it to.")
    same_day = by.at is not None and row.first_by.at is not None and by.at.date() == row.first_by.at.date()
    if same_hand(by.hand, row.first_by.hand) and same_day:
        raise FieldError("hand", f"{by.hand} read it first today: another hand, or another day.")
    return ReadAgain(0, row.place.label, row.key, value_mm, typed, by)
