"""A shelf of seven kinds searched: a million combinations and ten, beside the full checks one by one."""

import resource
import statistics
import time

import numpy as np

from arcstack.assess import assess
from arcstack.assess.context import Context
from arcstack.checks import Evidence
from arcstack.demo import demo_builds
from arcstack.document import Build, change
from arcstack.shelf import KINDS, PartKind, ShelfPart, changed
from arcstack.specify import Ask, Found, Want, search

K = PartKind
COUNTS = {K.VALVE: 5, K.RETAINER: 8, K.LOCKS: 6, K.LOCATOR: 4, K.BUCKET: 3, K.PACK: 12}
"""So many parts of each kind, and shims enough for 29 heights: a million combinations."""

SHIMS_MM = (0.25, 0.38, 0.51, 0.76, 0.90, 1.02, 1.27)


def part(kind: PartKind, name: str, **figures: str) -> ShelfPart:
    key = f"{abs(hash((kind.value, name))):032x}"[-32:]
    made = ShelfPart(key=key, kind=kind, name=name, on_hand=16, body=KINDS[kind].model())
    made = changed(made, "price", f"{20 + sum(map(ord, name)) % 40}")
    for path, text in figures.items():
        made = changed(made, path.replace("__", "."), text, Evidence.PRINTED)
    return made


def shelf(counts: dict[PartKind, int] = COUNTS) -> list[ShelfPart]:
    """Parts about the figures of the demo's first head, so that a few in a hundred would do."""
    found = [
        part(K.VALVE, f"V{i}", head=f"{33 + 0.25 * i} mm", stem="5.97 mm", mass=f"{43 + 2 * i} g", groove_offset="none",
             lock_end="5.97 mm", groove="one round", groove_below_tip=f"{5.0 + 0.1 * i} mm")
        for i in range(counts[K.VALVE])
    ]  # fmt: skip
    found += [
        part(K.RETAINER, f"R{i}", offset=f"{-0.9 + 0.3 * i:.2f} mm", step=f"{1.3 + 0.05 * i:.2f} mm",
             depth=f"{3.0 + 0.1 * i:.1f} mm", mass=f"{8 + 0.4 * i:.1f} g", taper="10 deg", locks_outside="11.20 mm",
             outer_step="20.50 mm", inner_step="14.62 mm", outside="28.0 mm")
        for i in range(counts[K.RETAINER])
    ]  # fmt: skip
    found += [
        part(K.LOCKS, f"L{i}", offset=f"{-0.5 + 0.25 * i:.2f} mm", mass=f"{2.2 + 0.1 * i:.1f} g", stem="5.97 mm",
             groove="one round", taper="10 deg", outside="11.20 mm" if i % 4 else "11.18 mm", above_groove="3.4 mm")
        for i in range(counts[K.LOCKS])
    ]  # fmt: skip
    found += [
        part(K.LOCATOR, f"T{i}", thickness=f"{0.7 + 0.15 * i:.2f} mm", step=f"{0.8 + 0.05 * i:.2f} mm",
             material="hardened steel", base="spigot", bore="11.2 mm", outside="28.7 mm", spigot="20.4 mm",
             inner_spigot="14.52 mm")
        for i in range(counts[K.LOCATOR])
    ]  # fmt: skip
    found += [
        part(K.BUCKET, f"B{i}", mass=f"{34 + 2 * i} g", diameter=f"{34.5 + i} mm", inside="32.0 mm", offset="none")
        for i in range(counts[K.BUCKET])
    ]
    for i in range(counts[K.PACK]):
        rise = 26 + 1.3 * i
        found.append(
            part(
                K.PACK, f"P{i}", pack="dual", outer__height_1="36 mm", outer__load_1=f"{230 + 9 * i} N",
                outer__height_2="26 mm", outer__load_2=f"{230 + 9 * i + 10 * rise:.1f} N",
                outer__solid=f"{21.6 + 0.1 * i:.2f} mm",
                outer__mass=f"{38 + i} g", outer__outside="28.2 mm", outer__wire="3.75 mm", outer__coils="6.1",
                inner__height_1="33.5 mm", inner__load_1=f"{100 + 3 * i} N", inner__height_2="23.5 mm",
                inner__load_2=f"{100 + 3 * i + 10 * rise * 0.45:.1f} N", inner__solid=f"{20.4 + 0.1 * i:.2f} mm",
                inner__mass=f"{15 + 0.4 * i:.1f} g", inner__outside="20.0 mm", inner__wire="2.6 mm", inner__coils="8.1",
            )
        )  # fmt: skip
    return found + [
        part(K.SHIM, f"S{s}", thickness=f"{s} mm", hardened="hardened", inside="11.5 mm", outside="28.6 mm")
        for s in SHIMS_MM
    ]


def head() -> Build:
    build = change(demo_builds()[0], "intake.stack.open_height", "37.4 mm")
    return change(build, "intake.stack.pocket.diameter", "29.2 mm")


def asked() -> Ask:
    return Ask((*COUNTS, K.SHIM), (Want.FRICTION, Want.PRICE))


def tried(ctx: Context, parts: list[ShelfPart], times: int) -> tuple[float, Found]:
    """Median time of a search, preparation included, ms, and what it found."""
    found = search(ctx, parts, asked())
    took = []
    for _ in range(times):
        start = time.perf_counter()
        found = search(ctx, parts, asked())
        took.append((time.perf_counter() - start) * 1000.0)
    return statistics.median(took), found


def plainly(ctx: Context, found: Found, count: int) -> float:
    """The same columns in plain numpy, one combination after another, ms a combination."""
    head = found.measured
    start = time.perf_counter()
    for number in range(count):
        row, pack, shims = found.space.taken_apart(number * (found.space.size // count))
        rows = head.rows(np.array([row]))[0]
        head.values(rows.head, pack, rows.rows, np.array([[found.space.shims[shims].total_mm]]))
    return (time.perf_counter() - start) * 1000.0 / count


def one_by_one(ctx: Context, found: Found, count: int) -> float:
    """Time of the closed checks of one combination by itself, ms."""
    took = []
    step = max(found.space.size // count, 1)
    for number in range(0, step * count, step):
        start = time.perf_counter()
        assess(found.space.put_in(number), before=None)
        took.append((time.perf_counter() - start) * 1000.0)
    return statistics.median(took)


def measured() -> dict[str, float]:
    """Both searches, what one alone takes, and the memory that was held at most, MB."""
    ctx = assess(head()).sides["intake"]
    million, found = tried(ctx, shelf(), 7)
    more = COUNTS | {K.VALVE: 10, K.RETAINER: 16, K.LOCKS: 10, K.PACK: 18}
    ten, tens = tried(ctx, shelf(more), 3)
    assert 0 < len(found.feasible) < found.space.size
    return {
        "million": million * 1e6 / found.space.size,
        "ten": ten * 1e7 / tens.space.size,
        "one": one_by_one(ctx, found, 20),
        "numpy": plainly(ctx, found, 300),
        "size": found.space.size,
        "sizes": tens.space.size,
        "would_do": len(found.feasible),
        "memory": resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024.0,
    }


if __name__ == "__main__":
    print({name: round(value, 1) for name, value in measured().items()})
