"""The head of the demo that came back: measured, run through three services, and torn down as far as its strip."""

import tomllib
from datetime import UTC, datetime
from functools import cache
from importlib import resources

from arcstack.demo.loader import demo_builds, over
from arcstack.document import Build, Entry, Sitting
from arcstack.document.places import Place, places
from arcstack.readings import ASKED, Event, Phase, Put, Reading, Sheet
from arcstack.readings.asked import SPRINGS
from arcstack.readings.assembling import State, Stepped
from arcstack.readings.lash_history import Served
from arcstack.readings.returning import Found, Look, Received, Severity
from arcstack.readings.sheet import rests_at
from arcstack.units.display import plain
from arcstack.wear.order import PREFIX, look_now

BUILT = Sitting(hand="Ilse", instrument="height micrometer 2", at=datetime(2026, 1, 12, 9, 0, tzinfo=UTC))
BACK = Sitting(hand="Wen", at=datetime(2026, 11, 20, 8, 30, tzinfo=UTC))
SHIM = 2.70
SINKS = {"1I-a": (0.14, 0.15, 0.12), "2I-b": (0.15, 0.15, 0.13), "3I-a": (0.16, 0.16, 0.15)}
"""Valves whose seats sank: lash as it was found at each service, mm."""

SERVICES = ((4_100.0, 26.0, 41), (9_300.0, 59.0, 88), (14_200.0, 90.0, 83))
"""Distance in km, hours, limiter events since the last."""

LEFT = {"1I-a": 0.928, "2I-b": 0.934, "3I-a": 0.945}
"""What a spring still carries of its load; the others lost 2 %."""

_FOUND = (
    ("tip_dents", ("1I-a", "2I-b", "3I-a"), Severity.NAIL, Look.WHOLE, False, "a dozen dots each"),
    ("closing_flank", ("1I-a", "2I-b"), Severity.SEEN, Look.WHOLE, False, "bright, 4 mm wide"),
    ("rings_even", (), Severity.SEEN, Look.WHOLE, False, "every crown"),
    ("base_rub", (), Severity.SEEN, Look.WHOLE, True, ""),
    ("shades", (), Severity.SEEN, Look.WHOLE, False, ""),
    ("seat_hammered", ("1I-a", "2I-b", "3I-a"), Severity.NAIL, Look.STRIPPED, False, "rounded all round"),
    ("journals_scored", (), Severity.SEEN, Look.STRIPPED, True, ""),
    ("stems_clean", (), Severity.SEEN, Look.STRIPPED, False, ""),
)


class _Sheet:
    """Readings and events taken one after another."""

    def __init__(self, build: Build) -> None:
        self.build = build
        self.readings: list[Reading] = []
        self.events: list[Event] = []

    @property
    def _next(self) -> int:
        return len(self.readings) + len(self.events) + 1

    def take(
        self, key: str, place: Place, value: float, by: Sitting, phase: Phase = Phase.FINAL, service: int = 0,
        item: str = "", height_mm: float | None = None,
    ) -> None:  # fmt: skip
        asked = ASKED[key]
        typed = plain(value, asked.quantity(self.build, place.side).dimension)
        rests = rests_at(Sheet(self.build), place, asked)
        self.readings.append(
            Reading(
                self._next, key, "" if item else place.label, item, value, typed, by, phase, service,
                condition={} if height_mm is None else {"height_mm": height_mm}, rests=rests,
            )
        )  # fmt: skip

    def happened(self, event: Event) -> None:
        self.events.append(event.changed(number=self._next))


@cache
def returned_build() -> Build:
    """The build of the head that came back, as it was last made."""
    raw = tomllib.loads((resources.files("arcstack.demo") / "rowan.toml").read_text("utf-8"))
    return over(demo_builds()[0], raw)


def served_head() -> tuple[Build, list[Reading], list[Event]]:
    """The head as it was measured and served, before it came back: build, readings, events."""
    sheet = _Sheet(returned_build())
    for n, place in enumerate(places(sheet.build)):
        _measured(sheet, place, n)
    for service, (km, hours, events) in enumerate(SERVICES, 1):
        at = BUILT.model_copy(update={"instrument": "blades", "at": datetime(2026, 2 + 3 * service, 9, tzinfo=UTC)})
        sheet.happened(Served(0, service, km, hours, events, "", 19.0, at))
        for n, place in enumerate(places(sheet.build)):
            _served(sheet, place, n, service, at)
    return sheet.build, sheet.readings, sheet.events


def _lash(sheet: _Sheet, place: Place) -> float:
    entry = sheet.build.side(place.side).cam.lash
    assert isinstance(entry, Entry)
    return entry.value


def _served(sheet: _Sheet, place: Place, n: int, service: int, by: Sitting) -> None:
    """Lash as it was found at a service; where it had closed a thinner shim went in, and it was read again."""
    target = _lash(sheet, place)
    if place.label not in SINKS:
        sheet.take("lash", place, target, by, Phase.SERVICE, service)
        return
    found = SINKS[place.label]
    closed = sum(target - f for f in found[:service])
    sheet.take("lash", place, found[service - 1], by, Phase.SERVICE, service)
    sheet.take("lash_shim", place, _shim(n) - closed, by, Phase.SERVICE, service)
    sheet.take("lash", place, target, by, Phase.SERVICE, service)


def _shim(n: int) -> float:
    return SHIM + 0.05 * (n % 3)


def _measured(sheet: _Sheet, place: Place, n: int) -> None:
    """One valve as it was built: heights, shim, lash, and its springs on the tester."""
    stack = sheet.build.side(place.side).stack
    height = stack.open_height
    assert height is not None
    sheet.take("open_height", place, height.value + 0.01 * (n % 3 - 1), BUILT)
    sheet.take("tip_height", place, 44.20 + 0.01 * (n % 4), BUILT)
    sheet.take("lash_shim", place, _shim(n), BUILT)
    sheet.take("lash", place, _lash(sheet, place), BUILT)
    for name in SPRINGS:
        item = f"{name[0].upper()}{n + 1:02d}"
        sheet.happened(Put(0, item, name, place.label, BUILT))
        spring = getattr(stack, name)
        load, at = spring.load_1.value, spring.height_1.value
        sheet.take(f"{name}.load_1", place, load, BUILT, Phase.INCOMING, item=item, height_mm=at)


def returned_head() -> tuple[Build, list[Reading], list[Event]]:
    """The same after it came back: received, torn down as far as its strip, springs tested again, signs found."""
    build, readings, events = served_head()
    sheet = _Sheet(build)
    sheet.readings, sheet.events = readings, events
    sheet.happened(
        Received(
            0, "Ticks when cold, goes flat above 8,000, and it was never like that before.",
            "Own team, valve cover only", 14_200.0, 90.0, 212, BACK,
        )
    )  # fmt: skip
    _passed(sheet, "pictures", "the team photographed it at the track")
    _passed(sheet, "whole", "")
    for sign, at, severity, look, absent, extent in _FOUND:
        if look is Look.STRIPPED and look_now(sheet.events) is Look.WHOLE:
            _passed(sheet, "stripped", "")
        sheet.happened(Found(0, sign, at, severity, look, BACK, absent, extent))
    later = BACK.model_copy(update={"instrument": "tester 1"})
    for n, place in enumerate(places(build)):
        for name in SPRINGS:
            spring = getattr(build.side(place.side).stack, name)
            load, at_mm = spring.load_1.value * LEFT.get(place.label, 0.98), spring.height_1.value
            item = f"{name[0].upper()}{n + 1:02d}"
            sheet.take(f"{name}.load_1", place, round(load, 1), later, Phase.SERVICE, 3, item, at_mm)
    return build, sheet.readings, sheet.events


def _passed(sheet: _Sheet, stage: str, reason: str) -> None:
    sheet.happened(Stepped(0, PREFIX + stage, State.SKIPPED if reason else State.DONE, BACK, reason))
