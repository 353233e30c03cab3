"""Two valves exchanged and read again: whether what was wrong follows the valve or stays with the place."""

from dataclasses import dataclass
from enum import StrEnum
from itertools import product

from arcstack.document.places import Place
from arcstack.readings.reading import Reading
from arcstack.readings.sheet import Sheet
from arcstack.settings import setting

NEAR = setting("bench.exchange_near")


class Follows(StrEnum):
    """What explains a difference between two places."""

    VALVE = "follows the valve"
    PLACE = "stays with the place"
    BOTH = "is partly the valve’s, partly the place’s"


@dataclass(frozen=True)
class Exchange:
    """One figure at two places before and after their valves were exchanged: how far apart, one less the other."""

    places: tuple[str, str]
    valves: tuple[str, str]
    before: float
    after: float

    @property
    def follows(self) -> Follows:
        """By which of the two the difference after is nearest to: turned round with the valves, or as it was.

        >>> Exchange(("1I-a", "1I-b"), ("V-1", "V-2"), -0.22, 0.21).follows.value
        'follows the valve'
        >>> Exchange(("1I-a", "1I-b"), ("V-1", "V-2"), -0.22, -0.20).follows.value
        'stays with the place'
        """
        near = NEAR * abs(self.before)
        if abs(self.after + self.before) <= near:
            return Follows.VALVE
        return Follows.PLACE if abs(self.after - self.before) <= near else Follows.BOTH


def exchanged(sheet: Sheet, place: Place, key: str) -> Exchange | None:
    """The last exchange of this place's valve with another's that a figure was read before and after; None without.

    Two that read alike before it, within twice the instrument's resolution, leave nothing to explain.
    """
    rows = _by_valve(sheet, key)
    here = {valve: r for (at, valve), r in rows.items() if at == place.label}
    found: list[tuple[int, Exchange]] = []
    for there in (p.label for p in sheet.places if p.side == place.side and p != place):
        for a, b in product(here, here):
            four = here[a], rows.get((there, b)), here[b], rows.get((there, a))
            if a == b or any(r is None for r in four):
                continue
            first, first_there, again, again_there = (r for r in four if r is not None)
            if max(first.number, first_there.number) > min(again.number, again_there.number):
                continue
            before, after = first.value - first_there.value, again.value - again_there.value
            if abs(before) > 2.0 * (first.resolution or 0.0):
                found.append((again.number, Exchange((place.label, there), (a, b), before, after)))
    return max(found, key=lambda row: row[0])[1] if found else None


def _by_valve(sheet: Sheet, key: str) -> dict[tuple[str, str], Reading]:
    """The last reading at each place with each valve that stood there, replaced or not, unless it was taken back."""
    voided = {r.replaces for r in sheet.readings if r.void}
    found: dict[tuple[str, str], Reading] = {}
    for r in sheet.readings:
        if r.key == key and r.place and not r.void and r.number not in voided:
            valve = sheet.stood_there(r, "valve")
            if valve and not r.condition.get("with_spring"):
                found[r.place, valve] = r
    return found
