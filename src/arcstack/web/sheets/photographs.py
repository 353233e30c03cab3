"""Photographs on a sheet, in the order in which a hand was guided to take them."""

from collections.abc import Callable
from pathlib import Path

from arcstack.document import SIDES
from arcstack.errors import FieldError
from arcstack.formats.sheets import Pictured
from arcstack.readings.pictured import SHOTS, pictures
from arcstack.web.kit import links
from arcstack.web.kit.session import picture_store
from arcstack.web.sheets.saying import Printing


def _small(sha256: str) -> Path | None:
    """None also for a name that no photograph has, which an earlier version let in."""
    try:
        return picture_store().small(sha256)
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
        path = _small(x.sha256)
        if path is None:
            continue
        words = ", ".join(t for t in (called(x.shot), x.place, x.note) if t) or x.name
        address = f"{links.at('pictures.index', p.current.id, SIDES[0])}/{x.number}"
        found.append(Pictured(path.read_bytes(), "jpeg", words, address))
    return found
