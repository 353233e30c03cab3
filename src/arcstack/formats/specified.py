"""What a search of a shelf found, as JSON."""

import math
from typing import Any

from arcstack.specify import Found, Row
from arcstack.units import System, show


def specified(found: Found, most: int) -> dict[str, Any]:
    """Counts, and the first ``most`` of those that would do, best first, with every closed figure."""
    over = found.space
    return {
        "side": over.side,
        "combinations": over.size,
        "would_do": len(found.feasible),
        "turned_away": [
            {"check": c.check, "title": c.title, "failed": c.failed, "not_known": c.unknown, "by_it_alone": c.alone}
            for c in found.counts
        ],
        "whatever_is_chosen": [
            {"check": a.check, "title": a.title, "level": a.level.value, "why": a.why} for a in found.whatever
        ],
        "left_out": [{"kind": o.part.kind.value, "part": o.part.name, "why": o.why} for o in over.left_out],
        "best": [_row(place, found.row(number)) for place, number in enumerate(found.best[:most], 1)],
    }


def _row(place: int, row: Row) -> dict[str, Any]:
    return {
        "rank": place,
        "parts": {kind.value: option.name for kind, option in row.parts.items() if option.part is not None},
        "shims": [part.name for part in row.shims.parts or ()],
        "price": None if math.isnan(row.price) else round(row.price, 2),
        "not_on_hand": row.missing,
        "figures": {
            check: {
                "value": row.values[check],
                "shown": str(show(row.values[check], row.dimensions[check], System.MM)),
                "level": row.levels[check].value,
            }
            for check in row.values
        },
    }
