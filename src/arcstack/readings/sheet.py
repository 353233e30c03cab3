"""All readings and events of one head, and what of them stands now."""

import statistics
from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from arcstack.cached import cached_property
from arcstack.document import FIELDS, SIDES, Absent, Build, Entry, belongs, get
from arcstack.document.places import Place, places
from arcstack.readings.asked import ASKED, ITEMS, SPRINGS, Asked
from arcstack.readings.event import Event, of_kind
from arcstack.readings.lash_history import History, history
from arcstack.readings.mock_up import MockUp, mock_up
from arcstack.readings.reading import Cut, Phase, Put, Reading, Signed, Stated, Taught, Waived, Zero
from arcstack.readings.recorded import Worked, Worker, worked
from arcstack.settings import setting
from arcstack.units import LENGTH
from arcstack.units.display import plain


@dataclass(frozen=True)
class Settled:
    """What readings of one figure come to: their mean, how far they lie apart, and why they no longer hold.

    ``again`` is True where they do not agree or there are too few.
    """

    asked: Asked
    value: float
    readings: tuple[Reading, ...]
    stale: str
    again: bool

    @property
    def last(self) -> Reading:
        return self.readings[-1]

    @property
    def measured(self) -> bool:
        """False where the last of them was laid down without an instrument, as a shim that was solved."""
        return self.last.by.measures

    @property
    def scatter(self) -> float:
        values = [r.value for r in self.readings]
        return max(values) - min(values)


SAME_HEIGHT_MM = 0.011
"""A tester set to one height twice stands within its own hundredth."""

SAME_SHIMS_MM = 0.005
"""Shims that come to the same within half a hundredth are the same."""

AS_PRINTED_MM = setting("bench.as_printed")

LAID = "laid:shims"
"""Under which name an installed height remembers the shims that lay under it, mm."""


class Sheet:
    """Readings and events of one build's head, oldest first."""

    def __init__(
        self,
        build: Build,
        readings: Sequence[Reading] = (),
        events: Sequence[Event] = (),
        zeros: Sequence[Zero] | None = None,
    ) -> None:
        """``zeros`` are the zero checks of the workshop's instruments at whatever head; those of this head where they
        are not named."""
        self.build = build
        self.readings, self.events = tuple(readings), tuple(events)
        own = of_kind(self.events, Zero)
        self.zeros = tuple(own) if zeros is None else tuple(zeros)
        self._told: dict[tuple[str, str, Phase | None, int], Settled | None] = {}
        self.aside: dict[str, Any] = {}
        """What rooms above make of the sheet as it stands, by name."""

    @cached_property
    def mark(self) -> tuple[int, int]:
        """The numbers of the last reading and the last event, nought where there is none."""
        return tuple(max((x.number for x in own), default=0) for own in (self.readings, self.events))  # type: ignore[return-value]

    @cached_property
    def places(self) -> tuple[Place, ...]:
        return places(self.build)

    @cached_property
    def replaced(self) -> frozenset[int]:
        """Numbers of readings that a later one corrects or takes back; one that was taken back itself corrects none."""
        gone = {r.replaces for r in self.readings if r.void}
        return frozenset(
            r.replaces for r in self.readings if r.replaces is not None and (r.void or r.number not in gone)
        )

    @cached_property
    def standing(self) -> tuple[Reading, ...]:
        """Readings that nothing replaced."""
        return tuple(r for r in self.readings if not r.void and r.number not in self.replaced)

    @cached_property
    def _by_place(self) -> dict[tuple[str, str], list[Reading]]:
        found: dict[tuple[str, str], list[Reading]] = defaultdict(list)
        for r in self.standing:
            if r.place and not r.item:
                carried = ASKED[r.key].goes_with
                owner = self.stood_there(r, carried) if carried else ""
                found[self._stands.get(owner, "") if owner else r.place, r.key].append(r)
        return found

    def stood_there(self, reading: Reading, sort: str) -> str:
        """The item of a sort that stood where and when a reading was taken; empty where it had no serial even later."""
        if known := reading.rests.get(f"item:{sort}"):
            return known
        later = self._put_at.get((reading.place, sort), ())
        return next((e.item for e in later if e.number > reading.number), "")

    @cached_property
    def _put_at(self) -> dict[tuple[str, str], list[Put]]:
        found: dict[tuple[str, str], list[Put]] = defaultdict(list)
        for e in self.events:
            if isinstance(e, Put) and e.place:
                found[e.place, e.sort].append(e)
        return found

    @cached_property
    def _by_item(self) -> dict[tuple[str, str], list[Reading]]:
        found: dict[tuple[str, str], list[Reading]] = defaultdict(list)
        for r in self.standing:
            if r.item:
                found[r.item, r.key].append(r)
        return found

    # -- what is read at a place

    def at(self, place: str, key: str, phase: Phase | None = None, service: int = 0) -> tuple[Reading, ...]:
        """Standing readings of a figure at a place: of a phase, or of the last phase that has any."""
        return _of_phase(self._by_place.get((place, key), ()), phase, service)

    def settled(self, place: Place, key: str, phase: Phase | None = None, service: int = 0) -> Settled | None:
        """What the readings of a figure come to at a place; None while there are none that count."""
        asked = place.label, key, phase, service
        if asked not in self._told:
            found = [r for r in self.at(*asked) if not r.condition.get("with_spring")]
            self._told[asked] = self._settled(found, place.side, place.label) if found else None
        return self._told[asked]

    def rests_of(self, place: str) -> tuple[object, ...]:
        """Everything that a place stands on beside the design: equal for as long as nothing of it has changed."""
        items = sorted(item for item, at in self._stands.items() if at == place)
        of_items = (r for i in items for key in ASKED for r in self._by_item.get((i, key), ()))
        read = (r for key in ASKED for r in self._by_place.get((place, key), ()))
        cuts = tuple(self.cut_at(place, key) for key in ("", "margin"))
        return (
            tuple(items),
            tuple(of_items),
            tuple(read),
            cuts,
            self.mock_up("intake").kept,
            self.mock_up("exhaust").kept,
            self._others,
            self._lash_stages(place),
        )

    def _lash_stages(self, label: str) -> tuple[object, ...]:
        place = next(p for p in self.places if p.label == label)
        found = self.lash_of(place)
        return found.stages, found.cause

    def of_item(self, item: str, key: str) -> Settled | None:
        """What the readings of one spring come to."""
        found = _of_phase(self._by_item.get((item, key), ()), None)
        place = self.place_of(item)
        return self._settled(list(found), place.side if place else "", "") if found else None

    def before_and_after(self, item: str, key: str) -> tuple[Reading, Reading] | None:
        """The first reading of a spring before service and the last after it, at the same height; None without both."""
        rows = self._by_item.get((item, key), [])
        before = [r for r in rows if r.phase is not Phase.SERVICE]
        after = [r for r in rows if r.phase is Phase.SERVICE]
        if not before or not after:
            return None
        heights = [r.condition.get("height_mm", 0.0) for r in (before[0], after[-1])]
        return (before[0], after[-1]) if abs(heights[0] - heights[1]) <= SAME_HEIGHT_MM else None

    def _settled(self, found: Sequence[Reading], side: str, place: str) -> Settled:
        asked = ASKED[found[0].key]
        # what was read before a change is no half of a mean with what was read after it
        found = [r for r in found if not self._stale(r, side, place)] or found
        if asked.latest:
            found = found[-1:]
        told = self._stale(found[-1], side, place)
        value = statistics.fmean(r.value for r in found)
        spread = max(r.value for r in found) - min(r.value for r in found)
        # of three, the odd one out is left aside: two must agree
        if len(found) > 2 and spread > asked.agree:
            pair = min(
                ((a, b) for i, a in enumerate(found) for b in found[i + 1 :]),
                key=lambda p: abs(p[0].value - p[1].value),
            )
            value, spread = statistics.fmean(r.value for r in pair), abs(pair[0].value - pair[1].value)
        again = len(found) < asked.times or (asked.times > 1 and spread > asked.agree + 1e-9)
        return Settled(asked, value, tuple(found), told, again)

    def stale_at(self, place: Place, reading: Reading) -> str:
        """Which change since has undone a reading of a place, in words; empty while it holds."""
        return self._stale(reading, place.side, place.label)

    def _stale(self, reading: Reading, side: str, place: str) -> str:
        """Which change since has undone a reading, in words; empty while it holds."""
        asked = ASKED[reading.key]
        if place and asked.stood_with and (was_there := self.stood_there(reading, asked.stood_with)):
            there = self.item_at(place, asked.stood_with)
            if there != was_there:
                word = asked.stood_with.capitalize()
                return f"{word} {was_there} stood there and {there or 'none'} does"
        if side and (told := self._exchanged(reading, side)):
            return told
        if asked.key == "installed_height" and place and (told := self._laid_otherwise(reading, place)):
            return told
        if asked.key == "lash" and self._shim_changed(place, reading):
            return "another lash shim was fitted"
        if asked.cuts and place and len(self.cut_at(place, reading.key)) > reading.cuts:
            return "cut since it was read"
        return self._found_off(reading) or self._touched(reading, place)

    def _exchanged(self, reading: Reading, side: str) -> str:
        """Which part that a reading was taken with is another now, in words."""
        for path, was in reading.rests.items():
            full = belongs.full_path(side, path)
            if full not in FIELDS:
                continue
            now, was = said(get(self.build, full)), known(was)
            if now != was and not self._the_same_part(reading, full, was, now):
                part = path.split(".")[-2].capitalize()
                return f"{part}, {FIELDS[full].label.lower()}, was {was or 'not known'} and is {now or 'not known'}"
        return ""

    def _the_same_part(self, reading: Reading, full: str, was: str, now: str) -> bool:
        """Whether a field says more of the part that was there than it did, or what the reading itself found."""
        if not was and now:
            first = next((e.value for e in self._stated.get(full, ()) if e.number > reading.number), None)
            return first == now
        if full.partition(".")[2] == ASKED[reading.key].path and now:
            held = get(self.build, full)
            return isinstance(held, Entry) and abs(held.value - reading.value) <= AS_PRINTED_MM
        return False

    @cached_property
    def _stated(self) -> dict[str, list[Stated]]:
        found: dict[str, list[Stated]] = defaultdict(list)
        for e in self.events:
            if isinstance(e, Stated):
                found[e.path].append(e)
        return found

    # -- shims

    def laid(self, place: Place) -> float | None:
        """Thickness of all shims that lie at a place, mm: as they were read there, else as the design lays them; None
        while neither says."""
        settled = self.settled(place, "shims")
        if settled is not None:
            return settled.value
        shims = [s for s in self.build.side(place.side).stack.shims if s is not None]
        return sum(s.value for s in shims if isinstance(s, Entry)) if shims else None

    def laid_under(self, reading: Reading, place: Place) -> float | None:
        """The same as it was when an installed height was read there."""
        was = reading.rests.get(LAID)
        if was is not None:
            return float(was) if was else None
        # one that was read before this was remembered: what had been read of the shims by then
        before = [r for r in self.readings if r.key == "shims" and r.place == place.label and r.number < reading.number]
        standing = [r for r in before if not r.void and r.number not in self.replaced] or before
        return standing[-1].value if standing else self.laid(place)

    def _laid_otherwise(self, reading: Reading, label: str) -> str:
        place = next(p for p in self.places if p.label == label)
        was, now = self.laid_under(reading, place), self.laid(place)
        if was == now or (was is not None and now is not None and abs(was - now) < SAME_SHIMS_MM):
            return ""
        words = [plain(x, LENGTH) if x is not None else "not known" for x in (was, now)]
        return f"Shims under it were {words[0]} in all and are {words[1]}"

    def _touched(self, reading: Reading, place: str) -> str:
        """Which work by others has undone a reading: what they touched is not ours until it is read again."""
        if not self._others:
            return ""
        if not place:
            stands = self.place_of(reading.item)
            place = stands.label if stands else ""
        step = ASKED[reading.key].step.value
        for e in self._others:
            if step in e.touched and (not e.places or place in e.places) and not after_work(reading, e):
                return f"{e.worker.value} worked on it{f' on {e.day}' if e.day else ''}: {e.done}"
        return ""

    @cached_property
    def _others(self) -> tuple[Worked, ...]:
        """Work of other hands than our own."""
        return tuple(e for e in worked(self.events) if e.worker is not Worker.OWN)

    @cached_property
    def _lash_shims(self) -> dict[str, list[Reading]]:
        found: dict[str, list[Reading]] = defaultdict(list)
        for r in self.readings:
            if r.key == "lash_shim" and not r.void:
                found[r.place].append(r)
        return found

    def _shim_changed(self, place: str, reading: Reading) -> bool:
        """Whether the lash shim is another than the one that lay there when a lash was read."""
        rows = self._lash_shims.get(place, ())
        before = [r.value for r in rows if r.number < reading.number]
        after = [r.value for r in rows if r.number > reading.number]
        return bool(before and after) and abs(before[-1] - after[-1]) > 1e-9

    def lash_of(self, place: Place) -> History:
        """What lash tells of a place, stage by stage."""
        if place.label not in self._lash:
            self._lash[place.label] = history(self._lash_rows.get(place.label, ()), self.events, place)
        return self._lash[place.label]

    @cached_property
    def _lash(self) -> dict[str, History]:
        return {}

    @cached_property
    def _lash_rows(self) -> dict[str, list[Reading]]:
        found: dict[str, list[Reading]] = defaultdict(list)
        for r in self.readings:
            if r.key == "lash":
                found[r.place].append(r)
        return found

    # -- items

    @cached_property
    def springs(self) -> dict[str, str]:
        """Every spring by its serial, and whether it is an outer or an inner."""
        return {item: sort for item, sort in self.items.items() if sort in SPRINGS}

    @cached_property
    def items(self) -> dict[str, str]:
        """Everything that has a serial, and its sort."""
        found = {e.item: e.sort for e in of_kind(self.events, Put)}
        for r in self.readings:
            if r.item:
                found.setdefault(r.item, ASKED[r.key].item)
        return dict(sorted(found.items()))

    @cached_property
    def _stands(self) -> dict[str, str]:
        found: dict[str, str] = {}
        for e in self.events:
            if isinstance(e, Put):
                found[e.item] = e.place
        return found

    def place_of(self, item: str) -> Place | None:
        label = self._stands.get(item, "")
        return next((p for p in self.places if p.label == label), None)

    def item_at(self, place: str, sort: str) -> str:
        """The item of a sort that stands at a place, or an empty text."""
        return self._standing_at.get((place, sort), "")

    @cached_property
    def _standing_at(self) -> dict[tuple[str, str], str]:
        return {(at, self.items[i]): i for i, at in self._stands.items() if at}

    def side_of(self, item: str) -> str:
        """The side of the head that an item stands on, or stood on last; empty where it never stood in this head."""
        stood = [e.place for e in of_kind(self.events, Put) if e.item == item and e.place]
        return next((p.side for p in self.places if stood and p.label == stood[-1]), "")

    # -- events

    def cut_at(self, place: str, key: str = "") -> tuple[Cut, ...]:
        """What was cut at a place; of a figure that goes with its valve what was cut of that valve anywhere."""
        valve = self.item_at(place, "valve") if key and ASKED[key].goes_with == "valve" else ""
        return tuple(e for e in self._cuts if (e.valve == valve if valve and e.valve else e.place == place))

    @cached_property
    def _cuts(self) -> tuple[Cut, ...]:
        return of_kind(self.events, Cut)

    def mock_up(self, side: str) -> MockUp:
        """What stands of the mock-up of a side."""
        return self._mock_ups[side]

    @cached_property
    def _mock_ups(self) -> dict[str, MockUp]:
        return {side: mock_up(self.events, side) for side in SIDES}

    @cached_property
    def waivers(self) -> tuple[Waived, ...]:
        """Waivers that hold: the last word on each check at each place."""
        last: dict[tuple[str, str, str, str], Waived] = {}
        for e in self.events:
            if isinstance(e, Waived):
                last[e.check, e.side, e.place, e.state] = e
        return tuple(w for w in last.values() if not w.ended)

    def zero_of(self, instrument: str) -> Zero | None:
        """The last zero check of an instrument."""
        found = self._zeros_of.get(instrument)
        return found[-1] if found else None

    @cached_property
    def _zeros_of(self) -> dict[str, list[Zero]]:
        found: dict[str, list[Zero]] = defaultdict(list)
        for e in self.zeros:
            found[e.instrument].append(e)
        return found

    def _found_off(self, reading: Reading) -> str:
        """That its instrument was found off when it was next tried, in words: it may have read so all along."""
        for e in self._zeros_of.get(reading.by.instrument, ()):
            if e.number > reading.number:
                return "" if e.good and not e.correction else f"{e.instrument} was found off when it was next tried"
        return ""

    @property
    def taught(self) -> Taught | None:
        """The lesson that this head is, if it is one."""
        found = of_kind(self.events, Taught)
        return found[-1] if found else None

    def signed(self, gate: str) -> Signed | None:
        found = [e for e in of_kind(self.events, Signed) if e.gate == gate]
        return found[-1] if found else None


def after_work(reading: Reading, work: Worked) -> bool:
    """Whether a reading was surely taken after a piece of work: on a later day, or after it was told of."""
    if work.day and reading.by.at is not None and reading.by.at.date().isoformat() > work.day:
        return True
    return reading.number > work.number


def _of_phase(readings: Iterable[Reading], phase: Phase | None, service: int = 0) -> tuple[Reading, ...]:
    found = list(readings)
    if not found:
        return ()
    stage = max(r.stage for r in found) if phase is None else (phase.order, service)
    return tuple(r for r in found if r.stage == stage)


def said(value: object) -> str:
    """What stands in a field, as it is remembered with a reading.

    >>> said("R-11"), said(None)
    ('R-11', '')
    """
    if isinstance(value, Entry):
        return f"{value.value:.9g}"
    if isinstance(value, Absent):
        return "none"
    return "" if value is None else known(str(value))


def known(text: str) -> str:
    """A text that says something, or an empty one: a choice that nobody made says nothing.

    >>> known("not stated"), known("one square")
    ('', 'one square')
    """
    return "" if text == "not stated" else text


def rests_on(build: Build, side: str, asked: Asked) -> dict[str, str]:
    """What a reading that is taken now rests on, as it stands."""
    return {path: said(get(build, f"{side}.{path}")) for path in asked.rests_on}


def first_said(before: Build, after: Build) -> list[tuple[str, str]]:
    """Fields that readings rest on and that had said nothing, each with what it says now."""
    paths = dict.fromkeys(p for asked in ASKED.values() for p in asked.rests_on)
    rows = []
    for side in SIDES:
        if before.side(side) is after.side(side):
            continue
        for path in paths:
            full = f"{side}.{path}"
            now = said(get(after, full))
            if now and not said(get(before, full)):
                rows.append((full, now))
    return rows


def rests_at(sheet: Sheet, place: Place, asked: Asked) -> dict[str, str]:
    """What a reading that is taken at a place now rests on: the document's fields, and the item that stands there."""
    item = sheet.item_at(place.label, asked.stood_with) if asked.stood_with in ITEMS else ""
    rests = rests_on(sheet.build, place.side, asked)
    if asked.key == "installed_height":
        laid = sheet.laid(place)
        rests[LAID] = "" if laid is None else f"{laid:.9g}"
    return rests | ({f"item:{asked.stood_with}": item} if item else {})
