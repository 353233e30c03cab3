"""What the Springs page shows beside its fields."""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from arcstack.assess import coil, spring, spring_lines, surge
from arcstack.assess.context import Context, known
from arcstack.document import SLOTS
from arcstack.drawings.goodman import goodman_picture
from arcstack.dynamics.question import Question
from arcstack.errors import QuantityError
from arcstack.trials.heights import REACH_MM, HeightSweep, height_sweep
from arcstack.trials.packs import TriedPack, spring_height, tried
from arcstack.units import FINE_LENGTH, FORCE, LENGTH, SPEED, System, parse, show
from arcstack.views.drawn import drawn
from arcstack.web.kit import asked
from arcstack.web.kit.stage import On
from arcstack.web.stages.springs.charts import height_chart, load_chart, surge_chart
from arcstack.web.stages.springs.fields import pack_groups
from arcstack.web.stages.springs.packs import SORTS, PackRow, ordered, pack_rows, unknown


@dataclass(frozen=True)
class Compared:
    """The comparison: packs in their order, rows, and what was asked."""

    packs: list[TriedPack]
    rows: list[PackRow]
    basis: str
    height: str
    sort: str
    told: str
    free: bool
    waits: list[Question]


def compared(ctx: Context, wanted: Mapping[str, str], system: System) -> Compared:
    """``wanted``: ``basis`` (``same`` or ``own``), ``height`` as typed, ``sort`` (a row's key)."""
    basis = "own" if wanted.get("basis") == "own" else "same"
    height, told, typed = None, "", wanted.get("height", "").strip()
    if typed and basis == "same":
        try:
            height = spring_height(ctx, parse(typed, LENGTH, LENGTH.unit(system)).value)
        except QuantityError as error:
            told = str(error)
    packs = tried(ctx, height, basis == "own")
    sort = wanted.get("sort", "")
    packs = ordered(packs, sort) if sort in SORTS else packs
    # asked before the rows are made: a sweep that ends in between is waited for once too often, not never
    waits = unknown(packs)
    return Compared(packs, pack_rows(packs, system), basis, typed, sort, told, len(packs) <= len(SLOTS), waits)


@dataclass(frozen=True)
class Avoid:
    """One speed at which a harmonic rings a spring."""

    speed: str
    words: str
    lift: str
    swing: str
    lost: str
    avoid: bool


def speeds_to_avoid(ctx: Context, system: System) -> list[Avoid]:
    """The speeds that matter: those to avoid, and what else takes over a fiftieth of the open load."""
    rows = known(lambda: surge.ringing(ctx)) or []
    return [
        Avoid(
            str(show(r.found.rpm, SPEED)),
            f"harmonic {r.found.harmonic}, {r.spring} spring",
            str(show(r.found.lift_mm, FINE_LENGTH, system)),
            str(show(r.found.swing_mm, LENGTH, system)),
            str(show(r.found.load_lost_N, FORCE, system)),
            r.avoid,
        )
        for r in rows
        if r.avoid or r.matters
    ]


def remarks(ctx: Context) -> list[str]:
    """Where the springs' figures part, and what else is to be said of them."""
    said = [coil.same_hand(ctx)]
    for name in spring.springs(ctx):
        said += spring_lines.remarks(ctx, name)
    limit = ctx.limit("spring.rate_consistency").high or 0.0
    said += [f"{d.words}." for d in known(lambda: spring.disagreements(ctx)) or [] if d.share > limit]
    return [s for s in said if s]


def height_words(swept: HeightSweep, system: System) -> str:
    """The window of heights in words, or what closes it."""
    floor, *others = swept.closed_by
    if swept.window is None:
        if floor.empty:
            names = " and ".join(b.title.lower() for b in swept.closed_by)
            return (
                f"No height within {show(REACH_MM, LENGTH, system)} of {show(swept.now_mm, LENGTH, system)} holds "
                f"every limit: {names} fails at all of them."
            )
        return (
            f"No height holds every limit: {floor.title.lower()} needs {show(floor.low, LENGTH, system)} or more, "
            f"{others[0].title.lower()} {show(others[0].high, LENGTH, system)} or less."
        )
    low, high = swept.window
    parts = []
    if math.isfinite(low):
        parts.append(f"from {show(low, LENGTH, system)} ({floor.title.lower()})")
    if math.isfinite(high):
        parts.append(f"to {show(high, LENGTH, system)} ({others[0].title.lower()})")
    here = "now inside it" if low <= swept.now_mm <= high else f"now {show(swept.now_mm, LENGTH, system)}, outside it"
    return f"Every limit but the elastic train’s holds {' '.join(parts) or 'over the whole reach'}; {here}."


def heights(ctx: Context) -> HeightSweep | None:
    return known(lambda: height_sweep(ctx))


def content(on: On) -> dict[str, Any]:
    ctx, system, slot = on.ctx, on.system, open_slot(on.asked)
    swept = drawn(lambda: heights(ctx))
    return {
        "chart": drawn(lambda: load_chart(ctx, system)),
        "remarks": drawn(lambda: remarks(ctx)) or [],
        "compared": drawn(lambda: compared(ctx, on.asked, system)),
        "swept": drawn(lambda: height_chart(swept, system)) if swept else None,
        "height_words": height_words(swept, system) if swept else "",
        "goodman": drawn(lambda: goodman_picture(ctx, system)),
        "load_loss": f"{spring.load_loss(ctx).value:.0%}".replace("%", " %"),
        "surge": drawn(lambda: surge_chart(ctx, system)),
        "avoid": drawn(lambda: speeds_to_avoid(ctx, system)) or [],
        "slot": slot,
        "pack_groups": pack_groups(on.build, on.side, slot, system),
    }


def open_slot(values: asked.Values) -> int:
    """The pack whose fields are open; 0 is the fitted one."""
    slot = asked.whole(values, "pack")
    return slot if slot in SLOTS else 0
