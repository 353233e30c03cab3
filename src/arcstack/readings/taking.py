"""A reading taken: typed text or a gauge's line held to what such a figure can be, and to its neighbours."""

import re
import statistics
from collections.abc import Mapping
from dataclasses import dataclass, replace

from arcstack.document import SIDES, Sitting, enter
from arcstack.document.entry import Absent, Entry, same_hand
from arcstack.document.places import Place
from arcstack.errors import Doubtful, FieldError, QuantityError
from arcstack.readings.asked import ASKED, Asked
from arcstack.readings.built import shims_of, thicknesses
from arcstack.readings.reading import Phase, Reading
from arcstack.readings.sheet import SAME_HEIGHT_MM, Sheet, rests_at, rests_on
from arcstack.settings import setting
from arcstack.units import LENGTH, System, show
from arcstack.units.display import plain

WILD_MM, WILD_SPREADS = setting("bench.wild"), setting("bench.wild_spreads")
LEAST_NEIGHBOURS = int(setting("bench.least_neighbours"))


@dataclass(frozen=True)
class How:
    """With what and by whom a reading is taken, in which phase, and under which conditions.

    ``seen`` is the number of the last reading that the hand saw at that place, ``sure`` that it means what it says;
    ``side`` is the side for which an item that stands nowhere yet is meant. ``correction`` is what the instrument was
    found to show too much by and is taken off by name, canonical.
    """

    by: Sitting
    phase: Phase = Phase.FINAL
    service: int = 0
    resolution: float | None = None
    system: System = System.MM
    condition: Mapping[str, float] | None = None
    note: str = ""
    seen: int | None = None
    sure: bool = False
    side: str = SIDES[0]
    correction: float = 0.0


def place_called(sheet: Sheet, label: str) -> Place:
    """Raises ``FieldError`` for a place that this head does not have."""
    found = next((p for p in sheet.places if p.label.lower() == label.strip().lower()), None)
    if found is None:
        have = f"{sheet.places[0].label} to {sheet.places[-1].label}" if sheet.places else "none yet"
        raise FieldError("place", f"This head has no place {label.strip() or 'without a name'}: it has {have}.")
    return found


def asked_for(key: str) -> Asked:
    """Raises ``FieldError`` for a figure that the bench does not read."""
    if key not in ASKED:
        raise FieldError("key", f"The bench reads no figure called {key}.")
    return ASKED[key]


def read_at(sheet: Sheet, key: str, label: str, text: str, how: How) -> Reading:
    """A reading at a place from typed text; its number is given by whoever stores it.

    Raises ``FieldError`` for text that is no such figure, ``Doubtful`` where it lies far from its neighbours or another
    hand was faster.
    """
    asked, place = asked_for(key), place_called(sheet, label)
    if asked.item:
        raise FieldError("key", f"{asked.quantity(sheet.build, place.side).label} is read of a spring, by its serial.")
    value, typed, how = _corrected(*entered(sheet, asked, place.side, text, how.system), sheet, asked, place.side, how)
    if key == "lash" and (pair := blades(sheet, asked, place.side, text, how.system)) is not None:
        how = replace(how, resolution=(pair[1] - pair[0]) / 2.0)
    last = sheet.at(place.label, key, how.phase, how.service)
    if not how.sure:
        _not_overtaken(last, how)
        _not_wild(sheet, asked, place, value, how)
    replaces = _replaced(sheet, place, asked, last, how)
    return Reading(
        0, key, place.label, "", value, typed, how.by, how.phase, how.service, how.resolution, how.condition or {},
        how.note, replaces, False, rests_at(sheet, place, asked), len(sheet.cut_at(place.label, key)),
    )  # fmt: skip


def _corrected(value: float, typed: str, sheet: Sheet, asked: Asked, side: str, how: How) -> tuple[float, str, How]:
    """A figure with its instrument's correction taken off; what it showed stays in the note."""
    if not how.correction or asked.key == "shims":
        return value, typed, how
    right = value - how.correction
    shown = f"shown as {typed}, corrected by name"
    note = f"{how.note}; {shown}"[:200] if how.note else shown
    return right, plain(right, asked.quantity(sheet.build, side).dimension), replace(how, note=note)


def _replaced(sheet: Sheet, place: Place, asked: Asked, last: tuple[Reading, ...], how: How) -> int | None:
    """Which reading a new one replaces: one that no longer holds, or the last where there were enough."""
    stale = [r for r in last if sheet.stale_at(place, r)]
    if stale:
        return stale[0].number
    settled = sheet.settled(place, asked.key, how.phase, how.service)
    again = settled is not None and settled.again
    full = len(last) > asked.times or (len(last) == asked.times and not again)
    return last[-1].number if last and full else None


def read_of(sheet: Sheet, key: str, item: str, text: str, how: How) -> Reading:
    """A reading of one spring. Raises as ``read_at`` does."""
    asked, serial = asked_for(key), serial_of(item)
    if not asked.item:
        raise FieldError("key", f"{key} is read at a valve's place, not of a spring.")
    sort = sheet.springs.get(serial, asked.item)
    if sort != asked.item:
        raise FieldError("item", f"{serial} is an {sort} spring; this is a figure of an {asked.item} one.")
    place = sheet.place_of(serial)
    side = place.side if place else how.side
    value, typed, how = _corrected(*entered(sheet, asked, side, text, how.system), sheet, asked, side, how)
    if not how.sure:
        _not_solid_above(sheet, asked, serial, value)
        _held_to(_fellows(sheet, asked, serial, side, how), value, asked, side, sheet, how)
    last = [
        r for r in sheet.standing if r.item == serial and r.key == key and r.stage == (how.phase.order, how.service)
    ]
    return Reading(
        0, key, "", serial, value, typed, how.by, how.phase, how.service, how.resolution, how.condition or {},
        how.note, last[-1].number if last else None, False, rests_on(sheet.build, side, asked),
    )  # fmt: skip


def _fellows(sheet: Sheet, asked: Asked, serial: str, side: str, how: How) -> list[float]:
    """What other springs of the same part read at the same height: of another lot or height they tell nothing."""
    part = rests_on(sheet.build, side, asked)
    height = (how.condition or {}).get("height_mm", 0.0)
    found = (sheet.of_item(item, asked.key) for item in sheet.springs if item != serial)
    return [
        s.value
        for s in found
        if s is not None
        and s.last.rests == part
        and abs(s.last.condition.get("height_mm", 0.0) - height) <= SAME_HEIGHT_MM
    ]


def serial_of(item: str) -> str:
    """A serial as it is kept. Raises ``FieldError`` for none.

    >>> serial_of("  s-07 ")
    'S-07'
    """
    serial = " ".join(item.split()).upper()
    if not serial or len(serial) > 20 or not serial.isprintable():
        raise FieldError("item", "An item needs a serial of at most 20 characters, as on its tag.")
    return serial


def entered(sheet: Sheet, asked: Asked, side: str, text: str, system: System) -> tuple[float, str]:
    """Value and text of a figure. Raises ``FieldError``."""
    spec = asked.quantity(sheet.build, side)
    if asked.key == "shims":
        return _shims(text, system)
    if asked.key == "lash" and (pair := blades(sheet, asked, side, text, system)) is not None:
        middle = (pair[0] + pair[1]) / 2.0
        return middle, f"{pair[0]:.3f}/{pair[1]:.3f} mm"
    try:
        said = enter(text, spec, None, spec.dimension.unit(system))
    except QuantityError as error:
        raise FieldError(asked.key, str(error), getattr(error, "readings", ())) from error
    if isinstance(said, Absent):
        raise FieldError(asked.key, f"{spec.label}: a reading is a figure; leave it unread instead.")
    return said.value, said.typed


_BLADES = re.compile(r"\s*([0-9.,]+)\s*/\s*([0-9.,]+)\s*([a-zA-Z\"”]*)\s*")


def blades(sheet: Sheet, asked: Asked, side: str, text: str, system: System) -> tuple[float, float] | None:
    """The blade that goes and the one that does not, as ``0.20/0.22``; None for a single figure.

    Raises ``FieldError`` where the first is not the thinner.
    """
    found = _BLADES.fullmatch(text)
    if found is None:
        return None
    goes, not_, unit = found.groups()
    spec = asked.quantity(sheet.build, side)
    try:
        pair = [enter(f"{one} {unit}".strip(), spec, None, spec.dimension.unit(system)) for one in (goes, not_)]
    except QuantityError as error:
        raise FieldError(asked.key, str(error)) from error
    low, high = (e.value for e in pair if isinstance(e, Entry))
    if not low < high:
        raise FieldError(asked.key, "First the blade that goes, then the one that does not: the first is the thinner.")
    return low, high


def _shims(text: str, system: System) -> tuple[float, str]:
    if text.strip().lower() == "none":
        return 0.0, "none"
    try:
        units = text if any(c.isalpha() or c in '"”' for c in text) else f"{text} {LENGTH.unit(system)}"
        found = shims_of(units, Sitting(hand="bench"), "")
    except QuantityError as error:
        raise FieldError("shims", f"{error} Each shim by its thickness, as 0.50 + 0.25.") from error
    if not found or len(found) > 6 or any(not 0.0 < s.value <= 4.0 for s in found):
        raise FieldError("shims", "One to six shims, each up to 4 mm, as 0.50 + 0.25; none where there is none.")
    return sum(s.value for s in found), " + ".join(thicknesses(units))[:40]


def _not_overtaken(last: tuple[Reading, ...], how: How) -> None:
    if how.seen is None or not last or last[-1].number <= how.seen or same_hand(last[-1].by.hand, how.by.hand):
        return
    other = last[-1]
    raise Doubtful(f"{other.by.hand} read {other.typed} here meanwhile. Take yours too?")


def _not_wild(sheet: Sheet, asked: Asked, place: Place, value: float, how: How) -> None:
    others = [
        s.value
        for p in sheet.places
        if p.side == place.side and p != place and (s := sheet.settled(p, asked.key)) is not None
    ]
    own = [r.value for r in sheet.at(place.label, asked.key)]
    _held_to(others or own, value, asked, place.side, sheet, how)


def _held_to(others: list[float], value: float, asked: Asked, side: str, sheet: Sheet, how: How) -> None:
    """Raise ``Doubtful`` for what lies far from its neighbours: most wild readings are a mistyped digit."""
    if not others:
        return
    middle, off = statistics.median(others), abs(value - statistics.median(others))
    dimension = asked.quantity(sheet.build, side).dimension
    far = dimension.canonical == LENGTH.canonical and off > WILD_MM
    if len(others) >= LEAST_NEIGHBOURS:
        spread = max(statistics.pstdev(others), how.resolution or 0.0)
        far = far or off > WILD_SPREADS * spread > 0.0
    if far:
        here, there = show(value, dimension, how.system, 1), show(middle, dimension, how.system, 1)
        raise Doubtful(f"{here} lies far from its neighbours at {there}. Again?")


def _not_solid_above(sheet: Sheet, asked: Asked, serial: str, value: float) -> None:
    if not asked.key.endswith(".solid"):
        return
    load = sheet.of_item(serial, f"{asked.item}.load_1")
    height = load.last.condition.get("height_mm") if load else None
    if height is not None and value >= height:
        solid, stood = plain(value, LENGTH), plain(height, LENGTH)
        raise Doubtful(f"Solid at {solid} is not below the {stood} at which {serial} carried its load. Again?")


def taken_back(reading: Reading, by: Sitting) -> Reading:
    """What takes a reading back: the old one stays to be seen."""
    return Reading(
        0, reading.key, reading.place, reading.item, reading.value, reading.typed, by, reading.phase, reading.service,
        replaces=reading.number, void=True,
    )  # fmt: skip
