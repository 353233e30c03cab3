"""All readings and events of one head, and what of them stands now."""

import statistics
from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property

from arcstack.document import FIELDS, Absent, Build, Entry, get
from arcstack.document.places import Place, places
from arcstack.readings.asked import ASKED, Asked
from arcstack.readings.reading import Cut, Event, Phase, Put, Reading, Signed, Taught, Waived, Zero


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
    def scatter(self) -> float:
        values = [r.value for r in self.readings]
        return max(values) - min(values)


SAME_HEIGHT_MM = 0.011
"""A tester set to one height twice stands within its own hundredth."""


class Sheet:
    """Readings and events of one build's head, oldest first."""

    def __init__(self, build: Build, readings: Sequence[Reading] = (), events: Sequence[Event] = ()) -> None:
        self.build = build
        self.readings, self.events = tuple(readings), tuple(events)

    @cached_property
    def places(self) -> tuple[Place, ...]:
        return places(self.build)

    @cached_property
    def replaced(self) -> frozenset[int]:
        """Numbers of readings that a later one corrects or takes back."""
        return frozenset(r.replaces for r in self.readings if r.replaces is not None)

    @cached_property
    def standing(self) -> tuple[Reading, ...]:
        """Readings that nothing replaced."""
        return tuple(r for r in self.readings if not r.void and r.number not in self.replaced)

    @cached_property
    def _by_place(self) -> dict[tuple[str, str], list[Reading]]:
        found: dict[tuple[str, str], list[Reading]] = defaultdict(list)
        for r in self.standing:
            if r.place and not r.item:
                found[r.place, r.key].append(r)
        return found

    @cached_property
    def _by_item(self) -> dict[tuple[str, str], list[Reading]]:
        found: dict[tuple[str, str], list[Reading]] = defaultdict(list)
        for r in self.standing:
            if r.item:
                found[r.item, r.key].append(r)
        return found

    # -- what is read at a place

    def at(self, place: str, key: str, phase: Phase | None = None) -> tuple[Reading, ...]:
        """Standing readings of a figure at a place: of a phase, or of the last phase that has any."""
        return _of_phase(self._by_place.get((place, key), ()), phase)

    def settled(self, place: Place, key: str, phase: Phase | None = None) -> Settled | None:
        """What the readings of a figure come to at a place; None while there are none that count."""
        found = [r for r in self.at(place.label, key, phase) if not r.condition.get("with_spring")]
        return self._settled(found, place.side, self.cuts(place.label)) if found else None

    def of_item(self, item: str, key: str) -> Settled | None:
        """What the readings of one spring come to."""
        found = _of_phase(self._by_item.get((item, key), ()), None)
        place = self.place_of(item)
        return self._settled(list(found), place.side if place else "", 0) if found else None

    def before_and_after(self, item: str, key: str) -> tuple[Reading, Reading] | None:
        """The first reading of a spring before service and the last after it, at the same height; None without both."""
        rows = self._by_item.get((item, key), [])
        before = [r for r in rows if r.phase is not Phase.SERVICE]
        after = [r for r in rows if r.phase is Phase.SERVICE]
        if not before or not after:
            return None
        heights = [r.condition.get("height_mm", 0.0) for r in (before[0], after[-1])]
        return (before[0], after[-1]) if abs(heights[0] - heights[1]) <= SAME_HEIGHT_MM else None

    def _settled(self, found: Sequence[Reading], side: str, cuts: int) -> Settled:
        asked = ASKED[found[0].key]
        last = found[-1]
        told = self._stale(last, side, cuts)
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

    def _stale(self, reading: Reading, side: str, cuts: int) -> str:
        """Which change since has undone a reading, in words; empty while it holds."""
        for path, was in reading.rests.items():
            full = f"{side}.{path}" if side else ""
            if full and full in FIELDS and (now := said(get(self.build, full))) != was:
                part = path.split(".")[-2].capitalize()
                return f"{part}, {FIELDS[full].label.lower()}, was {was or 'not known'} and is {now or 'not known'}"
        if ASKED[reading.key].cuts and cuts > reading.cuts:
            return "cut since it was read"
        return ""

    # -- items

    @cached_property
    def springs(self) -> dict[str, str]:
        """Every spring by its serial, and whether it is an outer or an inner."""
        found = {e.item: e.sort for e in self.events if isinstance(e, Put)}
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
        """The spring of a sort that stands at a place, or an empty text."""
        return next((i for i, at in self._stands.items() if at == place and self.springs.get(i) == sort), "")

    # -- events

    def cuts(self, place: str) -> int:
        return sum(1 for e in self.events if isinstance(e, Cut) and e.place == place)

    def cut_at(self, place: str) -> tuple[Cut, ...]:
        return tuple(e for e in self.events if isinstance(e, Cut) and e.place == place)

    @cached_property
    def waivers(self) -> tuple[Waived, ...]:
        """Waivers that hold: the last word on each check at each place."""
        last: dict[tuple[str, str, str], Waived] = {}
        for e in self.events:
            if isinstance(e, Waived):
                last[e.check, e.side, e.place] = e
        return tuple(w for w in last.values() if not w.ended)

    def zero_of(self, instrument: str, hand: str) -> Zero | None:
        """The last zero check of an instrument by a hand."""
        found = [e for e in self.events if isinstance(e, Zero) and e.instrument == instrument and e.by.hand == hand]
        return found[-1] if found else None

    @property
    def taught(self) -> Taught | None:
        """The lesson that this head is, if it is one."""
        found = [e for e in self.events if isinstance(e, Taught)]
        return found[-1] if found else None

    def signed(self, gate: str) -> Signed | None:
        found = [e for e in self.events if isinstance(e, Signed) and e.gate == gate]
        return found[-1] if found else None


def _of_phase(readings: Iterable[Reading], phase: Phase | None) -> tuple[Reading, ...]:
    found = list(readings)
    if not found:
        return ()
    stage = max(r.stage for r in found) if phase is None else None
    return tuple(r for r in found if (r.stage == stage if phase is None else r.phase is phase))


def said(value: object) -> str:
    """What stands in a field, as it is remembered with a reading.

    >>> said("R-11"), said(None)
    ('R-11', '')
    """
    if isinstance(value, Entry):
        return f"{value.value:.9g}"
    if isinstance(value, Absent):
        return "none"
    return "" if value is None else str(value)


def rests_on(build: Build, side: str, asked: Asked) -> dict[str, str]:
    """What a reading that is taken now rests on, as it stands."""
    return {path: said(get(build, f"{side}.{path}")) for path in asked.rests_on}
