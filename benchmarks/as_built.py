"""A head of sixteen valves as built: every closed check at every place, first, asked again, and after every height."""

import statistics
import time
from dataclasses import replace
from datetime import UTC, datetime

from arcstack.assess import assess
from arcstack.assess.built import Built, built
from arcstack.demo import demo_builds
from arcstack.document import Entry, Sitting, get
from arcstack.document.places import places
from arcstack.readings import ASKED, Phase, Reading, Sheet
from arcstack.units import LENGTH
from arcstack.units.display import plain

BY = Sitting(hand="bench", instrument="H-2", at=datetime(2026, 1, 1, tzinfo=UTC))


def head() -> list[Reading]:
    """Every place reads its design, a hundredth apart in its open height."""
    build = demo_builds()[0]
    found: list[Reading] = []
    for n, place in enumerate(places(build)):
        for asked in (a for a in ASKED.values() if a.path and not a.item):
            entry = get(build, asked.of(build, place.side))
            if isinstance(entry, Entry):
                value = entry.value + (0.01 * (n % 5) if asked.key == "open_height" else 0.0)
                typed = plain(value, asked.quantity(build, place.side).dimension)
                for _ in range(asked.times):
                    found.append(Reading(len(found) + 1, asked.key, place.label, "", value, typed, BY, Phase.FINAL))
    return found


def moved(readings: list[Reading], by_mm: float, place: str = "") -> list[Reading]:
    """The same with the open height of one place, or of every one, read anew."""
    return [
        replace(r, value=r.value + by_mm, typed=plain(r.value + by_mm, LENGTH))
        if r.key == "open_height" and place in ("", r.place)
        else r
        for r in readings
    ]


def measured() -> dict[str, float]:
    """Times in ms."""
    design = assess(demo_builds()[0])
    readings = head()
    took: dict[str, list[float]] = {"first": [], "again": [], "one place": [], "every height": []}

    def timed(name: str, sheet: Sheet, before: Built | None) -> Built:
        start = time.perf_counter()
        found = built(design, sheet, before)
        # both sides are worked when they are asked for
        assert all(found.sides[side] for side in found.sides)
        took[name].append((time.perf_counter() - start) * 1000.0)
        return found

    for n in range(1, 8):
        now = timed("first", Sheet(design.build, readings), None)
        now = timed("again", Sheet(design.build, readings), now)
        one = moved(readings, 0.01 * n, "3I-b")
        now = timed("one place", Sheet(design.build, one), now)
        timed("every height", Sheet(design.build, moved(readings, 0.013 * n)), now)
    return {name: statistics.median(values) for name, values in took.items()}


if __name__ == "__main__":
    print({name: round(value, 1) for name, value in measured().items()})
