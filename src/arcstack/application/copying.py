"""Parts of one side put on another: of the same head, or of another build."""

from collections.abc import Iterable, Mapping
from types import MappingProxyType
from typing import TypeVar, cast

from arcstack.checks import Evidence
from arcstack.document import SIDES, SLOTS, Absent, Build, Entry, Side, outdated, problems
from arcstack.document.parts import Candidate, MeasuredCurve, Part, trimmed
from arcstack.errors import FieldError

P = TypeVar("P")

PARTS: Mapping[str, str] = MappingProxyType(
    {
        "cam": "Cam and lash",
        "heights": "Height, shims, seal",
        "valve": "Valve",
        "springs": "Springs, as fitted",
        "retainer": "Retainer",
        "locks": "Locks",
        "locator": "Locator",
        "follower": "Follower",
        "clearance": "Clearance",
        "port": "Port and flow",
        "packs": "Packs beside the fitted one",
    }
)
"""What can be copied by itself, in the page's words."""

_OF_STACK: Mapping[str, tuple[str, ...]] = MappingProxyType(
    {
        "heights": (
            "open_height", "height_basis", "shims", "target_height", "seal_height", "usual_load", "rings", "seal",
        ),
        "valve": ("valve", "cap", "tip_proud", "seat_stiffness", "seat_damping"),
        "springs": (
            "name", "stated", "pack", "outer", "inner", "damping", "friction", "damper_thickness", "price",
            "coil_damping",
        ),
        "retainer": ("retainer",),
        "locks": ("locks",),
        "locator": ("locator", "pocket", "guide"),
    }
)  # fmt: skip


_WHOLE = ("cam", "follower", "clearance", "port")
"""Parts of a side that are copied as they are."""

_PLACES: Mapping[str, tuple[str, ...]] = MappingProxyType(
    {
        "heights": ("shim 1", "shim 2", "shim 3", "shim 4", "shim 5", "shim 6", "seal"),
        "valve": ("valve", "cap"),
        "springs": ("pack", "outer", "inner"),
        "retainer": ("retainer",),
        "locks": ("locks",),
        "locator": ("locator", "guide"),
        "follower": ("bucket", "finger", "rocker", "lash shim"),
    }
)
"""Places of parts from the shelf that go along with what is copied."""


def copied(build: Build, to: str, source: Side, parts: Iterable[str]) -> Build:
    """The build with parts of ``source`` on its side ``to``; packs go into the free places beside the fitted one.

    What was measured was measured elsewhere: here it counts as assumed until it is taken again, and *none* is no
    hand's answer yet. Raises ``FieldError`` for a part that is none, where no place is free for a pack, or where the
    figures then contradict each other.
    """
    side, wanted = build.side(to), list(parts)
    if unknown := [p for p in wanted if p not in PARTS]:
        raise FieldError(to, f"There is no part called {unknown[0][:40]}.")
    taken = {name: _elsewhere(getattr(source.stack, name)) for p in wanted for name in _OF_STACK.get(p, ())}
    if "stated" in taken:
        # nobody stated it here
        taken["stated"] = ()
    changes: dict[str, object] = {"stack": side.stack.model_copy(update=taken)}
    for part in _WHOLE:
        if part in wanted:
            changes[part] = _elsewhere(getattr(source, part))
    places = {place for p in wanted for place in _PLACES.get(p, ())}
    kept = {place: ref for place, ref in side.from_shelf.items() if place not in places}
    changes["from_shelf"] = kept | {place: ref for place, ref in source.from_shelf.items() if place in places}
    if "packs" in wanted:
        changes["candidates"] = _beside(side, source, to)
    changed = build.model_copy(update={to: side.model_copy(update=changes)})
    known = set(problems(build))
    for path, message in problems(changed):
        if (path, message) not in known:
            raise FieldError(path, message)
    anew = [f"stack.{name}" for name in taken] + [p for p in wanted if p in _WHOLE]
    return outdated(build, changed, tuple(anew))


def _beside(side: Side, source: Side, to: str) -> tuple[Candidate, ...]:
    """The side's packs with those of another in its free places; one that stands there already is not doubled."""
    packs = [side.candidate(slot) for slot in SLOTS]
    blank = Candidate()
    for pack in (_elsewhere(p) for p in source.candidates if p != blank):
        if pack in packs:
            continue
        if blank not in packs:
            raise FieldError(to, f"No place is free for {pack.name or 'another pack'}: clear one first.")
        packs[packs.index(blank)] = pack
    return trimmed(tuple(packs), blank)


def _elsewhere(value: P) -> P:
    """A part, list or figure as it counts where it was not taken."""
    made: object = value
    if isinstance(value, Entry):
        measured = value.evidence is Evidence.MEASURED
        changes = {"evidence": Evidence.ASSUMED, "by": None} if measured else {"by": None}
        made = value.model_copy(update={**changes, **_FRESH})
    elif isinstance(value, Absent | MeasuredCurve):
        made = value.model_copy(update={"by": None, **_FRESH} if isinstance(value, MeasuredCurve) else {"by": None})
    elif isinstance(value, Part):
        inner = {name: _elsewhere(getattr(value, name)) for name in type(value).model_fields}
        inner |= {name: None for name in inner if name.endswith("_by")}
        inner |= {name: () for name in inner if name.endswith("_with")}
        if "stated" in inner:
            inner["stated"] = ()
        if "kept" in inner:
            # no longer that very cam, figure for figure
            inner["kept"] = ""
        made = value.model_copy(update=inner)
    elif isinstance(value, tuple):
        made = tuple(_elsewhere(v) for v in value)
    return cast(P, made)


_FRESH: Mapping[str, object] = MappingProxyType({"outdated": "", "taken_with": ()})


def other_side(side: str) -> str:
    """
    >>> other_side("intake")
    'exhaust'
    """
    return SIDES[1 - SIDES.index(side)]
