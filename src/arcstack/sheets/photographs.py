"""Photographs on a sheet, in the order in which a hand was guided to take them."""

from collections.abc import Callable
from pathlib import Path

from arcstack.application.pictures import Pictures
from arcstack.errors import FieldError
from arcstack.formats.sheets import Pictured
from arcstack.readings.pictured import SHOTS, pictures
from arcstack.sheets.saying import Printing


def _small(store: Pictures, sha256: str) -> Path | None:
    """None also for a name that no photograph has, which an earlier version let in."""
    try:
        return store.small(sha256)
    except FieldError:
        return None


def photographs(p: Printing, called: Callable[[str], str], most: int) -> list[Pictured]:
    """Those that show a finding first, then by shot and place; ``called`` says what a shot shows."""
    order = list(SHOTS)
    rows = sorted(
        pictures(p.here.sheet.events),
        key=lambda x: (not x.finding, order.index(x.shot) if x.shot in order else len(order), x.place, x.number),
    )
    found = []
    for x in rows[:most]:
        path = _small(p.here.shop.pictures, x.sha256)
        if path is None:
            continue
        words = ", ".join(t for t in (called(x.shot), x.place, x.note) if t) or x.name
        found.append(Pictured(path.read_bytes(), "jpeg", words, x.number))
    return found
