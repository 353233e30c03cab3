"""What the record of the demo's returned head holds beside its readings: work by others, runs, an order, its costs."""

import math
from datetime import UTC, datetime

from arcstack.document import Sitting
from arcstack.readings import Event
from arcstack.readings.recorded import Arrived, Booked, Known, Ordered, Ran, Sort, Weighed, Worked, Worker

ILSE = Sitting(hand="Ilse", at=datetime(2026, 1, 8, 15, 0, tzinfo=UTC))
WEN = Sitting(hand="Wen", at=datetime(2026, 11, 21, 9, 0, tzinfo=UTC))
_ON = {
    "bench": "hub bench, Lowmoor hall", "correction": "none", "gear": "4", "tyre": "hub", "fuel": "98",
    "boost": "1.60 bar", "air": "17 °C", "barometer": "1003 mbar",
}  # fmt: skip


def _curve(lost: float, off: float) -> tuple[tuple[float, float], ...]:
    """Power that rises to 7,600 rpm; ``lost`` is the share that is gone above 7,000."""
    found = []
    for rpm in range(3000, 8600, 100):
        shape = math.sin(min(rpm / 8600.0, 1.0) * math.pi / 2.0) ** 1.7
        fade = lost * max(rpm - 7000, 0) / 1500.0
        found.append((float(rpm), round(318.0 * shape * (1.0 - fade) + off, 1)))
    return tuple(found)


def _boost() -> tuple[tuple[float, float], ...]:
    return tuple(
        (float(rpm), 1.60 if rpm > 3800 else round(0.9 + (rpm - 3000) / 1150.0, 2)) for rpm in range(3000, 8600, 100)
    )


def returned_record(first: int) -> list[Event]:
    """Events of the record, numbered from ``first`` on."""
    found: list[Event] = [
        Worked(
            0, "2025-12-02", Worker.OTHER, "Ember Heads", "intake guides reamed, seats recut", Known.PAPER,
            ("Guides", "Seats and stems"), (), ILSE,
        ),
        *(
            Ran(0, "as built", "2026-01-20", 1, _curve(0.0, off), _boost(), _ON, ILSE, "pull")
            for off in (-1.1, 0.2, 0.9)
        ),
        *(
            Ran(0, "came back", "2026-11-21", 1, _curve(0.085, off), _boost(), _ON | {"air": "9 °C"}, WEN, "pull")
            for off in (-0.8, 0.1, 1.0)
        ),
        Booked(0, Sort.HOURS, "2026-11-20", "teardown and look", 3.5, 78.0, 0.0, WEN),
        Booked(0, Sort.OUTSIDE, "2026-11-21", "runs on the hub bench", 0.0, 0.0, 180.0, WEN),
        Weighed(
            0, "valves 1I-a, 2I-b, 3I-a", {"spare": (0.0, 2.0), "salvage": (0.0, 1.2), "replace": (126.0, 0.6)}, 78.0,
            "salvage", "", WEN,
        ),
    ]  # fmt: skip
    line = Ordered(
        0, "outer springs", ("1I-a", "2I-b", "3I-a"), 8, "the set lost load", "Marrow Springs", "2026-11-21",
        "2026-11-27", WEN, "load at installed height, solid", 212.0,
    )  # fmt: skip
    number = first + len(found)
    found += [line, Arrived(0, number, 5, WEN, "three to follow")]
    return [e.changed(number=first + n) for n, e in enumerate(found)]
