"""Springs laid out over valves and shims under them, by a school, and laid so."""

from dataclasses import replace

from arcstack.application.acts.testing import rejected
from arcstack.application.head import Opened
from arcstack.assess.context import known
from arcstack.checks.verdict import HAIR
from arcstack.document import Entry, Sitting
from arcstack.errors import FieldError
from arcstack.readings.taking import How
from arcstack.shelf import PartKind
from arcstack.trials.matching import Match, Prefer, School, Shelf, laid_out, matched, seats, springs_read


def shims_on_hand(head: Opened) -> tuple[float, ...]:
    """Thicknesses of the shims on the shelf, mm."""
    entries = (getattr(p.body, "thickness", None) for p in head.shop.shelf.offered() if p.kind is PartKind.SHIM)
    return tuple(sorted({e.value for e in entries if isinstance(e, Entry)}))


def _shelf(head: Opened) -> Shelf | None:
    ctx = head.design.sides[head.side]
    sizes, target = shims_on_hand(head), known(lambda: ctx.entry("stack.target_height", "t"))
    if not sizes or target is None:
        return None
    window, total = ctx.limit("stack.installed_height"), ctx.limit("fit.shims.total").high
    shelf = Shelf(sizes, target.value, window.high or 0.0)
    return shelf if total is None else replace(shelf, total_mm=total)


def match(head: Opened, sort: str, school: School, prefer: Prefer) -> Match:
    """How springs lie now, and how a school would lay them. Raises ``MissingInput``."""
    of = seats(head.built, head.side, sort)
    own = {i for i in head.sheet.springs if (p := head.sheet.place_of(i)) is None or p.side == head.side}
    springs = tuple(s for s in springs_read(head.sheet, sort, rejected(head, sort)) if s.item in own)
    before = laid_out(head.sheet, of, springs, sort)
    return Match(before, matched(of, springs, before, school, _shelf(head), prefer))


def layout(found: Match) -> str:
    """Where every spring goes as one text, by which a page tells the layout that it showed."""
    return ",".join(f"{a.seat.place.label}={a.spring.item}" for a in found.after)


def shims_in_words(thicknesses: tuple[float, ...]) -> str:
    """Shims as they are laid and read back.

    >>> shims_in_words((0.5, 0.25)), shims_in_words(())
    ('0.50 + 0.25', 'none')
    """
    return " + ".join(f"{s:.2f}" for s in thicknesses) or "none"


def is_shimmed(before_mm: float, after_mm: float) -> bool:
    """Whether what lies under a spring changes."""
    return abs(before_mm - after_mm) > HAIR


def lay(head: Opened, by: Sitting, how: How, *, sort: str, school: School, prefer: Prefer, shown: str) -> None:
    """Put the springs as they were ``shown``, and lay the shims that were solved: both, or neither.

    Raises ``MissingInput``, and ``FieldError`` also where the layout is another now.
    """
    found = match(head, sort, school, prefer)
    if layout(found) != shown:
        raise FieldError("layout", "Something was read meanwhile and the layout is another now: look again.")
    shims = [
        ("shims", a.seat.place.label, "", shims_in_words(a.shims.shims_mm), how)
        for b, a in zip(found.before, found.after, strict=True)
        if sort == "outer" and is_shimmed(b.shims.total_mm, a.shims.total_mm)
    ]
    springs = [(a.spring.item, sort, a.seat.place.label) for a in found.after]
    head.shop.bench.lay(head.current.id, head.current.build, springs, shims, by)
