"""What is still to be read, in the order of the bench, and where a hand goes next."""

from collections.abc import Iterator
from dataclasses import dataclass

from arcstack.document.places import Place, in_order_of_work
from arcstack.readings.asked import ASKED, Asked, Step, of_step
from arcstack.readings.reading import Phase
from arcstack.readings.sheet import Settled, Sheet

BY_PLACE = frozenset({Step.GUIDES, Step.SEATS})
"""Steps in which everything is read at one place before the next."""


@dataclass(frozen=True)
class Spot:
    """One figure at one place."""

    asked: Asked
    place: Place


@dataclass(frozen=True)
class Left:
    """Something still to be read: why it is not done, and how long it usually takes."""

    spot: Spot
    item: str
    why: str

    @property
    def seconds(self) -> int:
        return self.spot.asked.seconds


def settled_at(sheet: Sheet, spot: Spot) -> Settled | None:
    """What stands for a figure at a place: read there, or of the spring that stands there."""
    if not spot.asked.item:
        return sheet.settled(spot.place, spot.asked.key)
    item = sheet.item_at(spot.place.label, spot.asked.item)
    return sheet.of_item(item, spot.asked.key) if item else None


def spots(sheet: Sheet, step: Step, *, optional: bool = False) -> Iterator[Spot]:
    """Every figure of a step at every place, as a hand goes along: what may be left out only where it is wanted."""
    places = in_order_of_work(sheet.places)

    wanted = {
        side: [a for a in of_step(step, sheet.build, side) if optional or not a.optional]
        for side in {p.side for p in places}
    }
    if step in BY_PLACE:
        for place in places:
            yield from (Spot(asked, place) for asked in wanted[place.side])
        return
    for asked in (a for a in ASKED.values() if a.step is step):
        yield from (Spot(asked, place) for place in places if asked in wanted[place.side])


def left(sheet: Sheet) -> tuple[Left, ...]:
    """What is unread or no longer holds, in the order of the bench; found once for a sheet."""
    found: tuple[Left, ...] | None = sheet.aside.get("left")
    if found is None:
        found = sheet.aside["left"] = tuple(_left(sheet))
    return found


def _left(sheet: Sheet) -> list[Left]:
    found = []
    for step in Step:
        for spot in spots(sheet, step):
            item = sheet.item_at(spot.place.label, spot.asked.item) if spot.asked.item else ""
            why = _why(sheet, spot, item)
            if why:
                found.append(Left(spot, item, why))
    return found


def _why(sheet: Sheet, spot: Spot, item: str) -> str:
    if spot.asked.item and not item:
        return f"no {spot.asked.item} spring put there"
    settled = settled_at(sheet, spot)
    if settled is None:
        stands_for = spot.asked.step is Step.GUIDES and spot.asked.key != "rock" and by_rock(sheet, spot.place)
        return "" if stands_for else "not read"
    if settled.stale:
        return f"stale: {settled.stale}"
    if not settled.measured:
        return "taken without an instrument: counts as assumed"
    if settled.again:
        return "its readings do not agree" if len(settled.readings) >= spot.asked.times else "read once more"
    return ""


def by_rock(sheet: Sheet, place: Place) -> bool:
    """Whether a guide was read by the rock test, which then stands for its bores."""
    keys = ("rock", "rock_beyond", "guide_length")
    return all(sheet.settled(place, key) is not None for key in keys)


def following(sheet: Sheet, spot: Spot, phase: Phase, service: int = 0) -> Spot | None:
    """Where a hand goes after a spot: here again while its readings ask for it, else the next that is not done in this
    phase, round the step once; None where the step is done."""
    settled = sheet.settled(spot.place, spot.asked.key, phase, service)
    if settled is not None and settled.again:
        return spot
    row = [s for s in spots(sheet, spot.asked.step) if not s.asked.item]
    at = row.index(spot) if spot in row else -1
    for other in (*row[at + 1 :], *row[: max(at, 0)]):
        done = sheet.settled(other.place, other.asked.key, phase, service)
        if done is None or done.again or done.stale or not done.measured:
            return other
    return None
