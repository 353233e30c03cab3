"""What a teardown came to, as it is told: part by part, what is read again, and why there is a next revision."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType

from arcstack.readings import Sheet
from arcstack.readings.returning import Disposed, Named, What, disposed, findings
from arcstack.wear.dispositions import TAKEN_OUT, asks, kinds, standing_at
from arcstack.wear.signs import causes, signs

_SIGNS_OF = {
    "springs": "spring", "valve": "valve", "seat": "seat", "bucket": "follower", "retainer": "retainer",
    "locks": "locks", "seal": "seal", "journal": "journal", "cam": "lobe",
}  # fmt: skip
"""Which signs a kind of part shows."""


@dataclass(frozen=True)
class Line:
    """One part as a report tells it: sign, cause, what was measured, what becomes of it, cost."""

    part: str
    place: str
    signs: tuple[str, ...]
    cause: str
    measured: str
    what: What
    cost: float | None


def report(sheet: Sheet) -> tuple[Line, ...]:
    """Every part that was decided on, as a report tells it."""
    found, by_label = findings(sheet.events), {p.label: p for p in sheet.places}
    rows = []
    for d in disposed(sheet.events):
        place = by_label.get(d.place)
        at = standing_at(found, place) if place is not None else ()
        seen = [f for f in at if f.sign in signs() and signs()[f.sign].part == _SIGNS_OF.get(d.part) and not f.absent]
        told = tuple(dict.fromkeys(signs()[f.sign].title for f in seen))
        measured = [f.value for f in seen if f.value]
        measured += [d.fields[a.key] for a in asks(d.part, d.what) if a.dimension is not None and a.key in d.fields]
        cause = causes()[d.cause].title if d.cause in causes() else ""
        rows.append(Line(kinds()[d.part].title, d.place, told, cause, ", ".join(measured), d.what, d.cost))
    return tuple(rows)


def _cause(n: Named) -> str:
    """What a hand said it was, in words.

    >>> from arcstack.document import Sitting
    >>> _cause(Named(0, "float", "dents at every tip", Sitting(hand="Ilse"), "intake"))
    'intake: float or bounce, dents at every tip'
    """
    title = "open question" if n.open else causes()[n.cause].title.lower() if n.cause in causes() else n.cause
    return f"{before(n)}{title}, {n.reason}"


def where(n: Named) -> str:
    """What a cause was named for, in words; empty for the whole head."""
    return f"cylinder {n.at}" if n.at.isdigit() else n.at


def before(n: Named) -> str:
    """The same to stand before what was named.

    >>> from arcstack.document import Sitting
    >>> before(Named(0, "heat", "purple at the neck", Sitting(hand="Ilse"), "3"))
    'cylinder 3: '
    """
    return f"{where(n)}: " if n.at else ""


_REOPENS: Mapping[str, str] = MappingProxyType(
    {
        "springs": "loads, solid heights, reserve, mass, control",
        "valve": "open height, room to the seal, tip, mass, runout, vacuum, lash",
        "seat": "open height, room to the seal, tip, vacuum, seat width, lash",
        "bucket": "lash, clearance in the bore",
        "retainer": "open height, room to the seal, tip proud, mass",
        "locks": "open height, room to the seal, tip proud, mass",
        "seal": "room to the seal",
        "journal": "its clearance, lash",
        "cam": "lift, lash, timing, piston clearance, control",
        "guide": "guide clearance, room to the seal, vacuum",
    }
)
"""What is read again once a part was exchanged or cut."""

_CHANGES = (What.POLISH, What.REFACE, What.RECUT, What.SEND, What.REPLACE, What.REPLACE_SET)


def reopens(found: Sequence[Disposed]) -> dict[str, str]:
    """What is read again after these, part by part: kind of part, then figures and where."""
    rows: dict[str, str] = {}
    for kind in kinds().values():
        own = [d for d in found if d.part == kind.key and d.what in (*_CHANGES, *TAKEN_OUT)]
        if own:
            rows[kind.title] = f"{_REOPENS[kind.key]} at {', '.join(dict.fromkeys(d.place for d in own))}"
    return rows


def summary(found: Sequence[Disposed], named: Sequence[Named]) -> str:
    """What a next revision is made for: each cause and where, and what becomes of which parts.

    >>> summary((), ())
    'no cause named'
    """
    told = [_cause(n) for n in named] or ["no cause named"]
    for kind in kinds().values():
        by_what: dict[What, list[str]] = {}
        for d in found:
            if d.part == kind.key:
                by_what.setdefault(d.what, []).append(d.place)
        told += [f"{kind.title.lower()} {what.value} ({', '.join(places)})" for what, places in by_what.items()]
    return "; ".join(told)
