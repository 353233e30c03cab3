"""Sheets of readings for tests: a head measured place by place."""

from dataclasses import replace
from datetime import UTC, datetime

from arcstack.document import Build, Entry, Sitting, get
from arcstack.document.places import Place, places
from arcstack.readings import ASKED, Event, Phase, Put, Reading, Sheet, rests_on
from arcstack.units.display import plain

WHEN = datetime(2026, 11, 2, 9, 30, tzinfo=UTC)
BY = Sitting(hand="ada", instrument="height micrometer 2", at=WHEN)


class Hand:
    """Takes readings one after another."""

    def __init__(self, build: Build) -> None:
        self.build = build
        self.readings: list[Reading] = []
        self.events: list[Event] = []

    @property
    def next(self) -> int:
        """Readings and events are counted together."""
        return len(self.readings) + len(self.events) + 1

    @property
    def places(self) -> tuple[Place, ...]:
        return places(self.build)

    def take(
        self, key: str, place: str, value: float, phase: Phase = Phase.FINAL, typed: str = "", **more: object
    ) -> int:
        asked = ASKED[key]
        side = "intake" if place.rpartition("-")[0][-1:] == "I" else "exhaust"
        number = self.next
        given = {
            "item": "", "rests": rests_on(self.build, side, asked), "cuts": len(self.sheet().cut_at(place)), "by": BY,
        } | more  # fmt: skip
        typed = typed or plain(value, asked.quantity(self.build, side).dimension)
        self.readings.append(
            Reading(number, key, "" if given["item"] else place, value=value, typed=typed, phase=phase, **given)  # type: ignore[arg-type]
        )
        return number

    def put(self, item: str, sort: str, place: str) -> None:
        self.happened(Put(0, item, sort, place, BY))

    def happened(self, event: Event) -> None:
        self.events.append(replace(event, number=self.next))

    def sheet(self, build: Build | None = None) -> Sheet:
        return Sheet(build or self.build, self.readings, self.events)


def as_designed(build: Build) -> Hand:
    """Every place reads the very figure of the design, wherever the design has one."""
    hand = Hand(build)
    for place in hand.places:
        for asked in ASKED.values():
            if not asked.path or not asked.applies(build, place.side):
                continue
            entry = get(build, asked.of(build, place.side))
            if not isinstance(entry, Entry):
                continue
            item = f"{asked.item[0].upper()}-{place.label}" if asked.item else ""
            if item and hand.sheet().item_at(place.label, asked.item) != item:
                hand.put(item, asked.item, place.label)
            condition = {}
            if asked.key.endswith(("load_1", "load_2")):
                height = get(build, f"{place.side}.stack.{asked.item}.height_{asked.key[-1]}")
                if not isinstance(height, Entry):
                    continue
                condition = {"height_mm": height.value}
            for _ in range(asked.times):
                hand.take(asked.key, place.label, entry.value, typed=entry.typed, item=item, condition=condition)
    return hand
