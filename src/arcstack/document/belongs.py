"""What a figure is true of: the parts it was taken with, and what becomes of it when one of them is exchanged."""

import math
from collections.abc import Callable, Mapping
from functools import cache
from types import MappingProxyType
from typing import Any

from pydantic import BaseModel

from arcstack.checks import Evidence
from arcstack.document.entry import NONE, Absent, Entry, TakenWith
from arcstack.document.fields import FIELDS, Kind
from arcstack.document.heights import MOVERS
from arcstack.document.model import SIDES, Build
from arcstack.document.parts import HeightBasis, MeasuredCurve, SealHeld
from arcstack.errors import QuantityError
from arcstack.units import parse

LOCKED = (
    "stack.retainer.code", "stack.retainer.offset", "stack.retainer.locks_outside", "stack.retainer.taper",
    "stack.locks.code", "stack.locks.offset", "stack.locks.outside", "stack.locks.taper", "stack.locks.stem",
    "stack.locks.groove", "stack.locks.beads", "stack.valve.code", "stack.valve.groove_offset", "stack.valve.length",
    "stack.valve.groove_below_tip", "stack.valve.groove", "stack.valve.beads", "stack.valve.lock_end",
)  # fmt: skip
"""What decides where the locks hold the retainer on the stem. A retainer's step to its inner spring does not."""

BASIS = "stack.height_basis"
"""How an open height was taken: to say it otherwise afterwards is to speak of another reading."""

UNDER_SPRING = tuple(f for m in MOVERS if m.sign < 0.0 for f in m.fields)
"""What tells apart what lies under a spring."""

VALVE = ("stack.valve.code", "stack.valve.stem", "stack.valve.head", "stack.valve.length")

SEAL = ("stack.seal.code", "stack.seal.held", "stack.seal.height", "stack.guide.code")
_SEAL_ON: Mapping[SealHeld, tuple[str, ...]] = MappingProxyType(
    {
        SealHeld.GROOVE: ("stack.guide.seal_groove",),
        SealHeld.END: ("stack.guide.height",),
        SealHeld.LOCATOR: UNDER_SPRING,
        SealHeld.UNSTATED: ("stack.guide.seal_groove", "stack.guide.height", *UNDER_SPRING),
    }
)

RESTS: Mapping[str, tuple[str, ...]] = MappingProxyType(
    {
        "stack.open_height": (BASIS, *dict.fromkeys((*LOCKED, *(f for m in MOVERS for f in m.fields)))),
        "stack.tip_proud": (*LOCKED, "stack.retainer.depth", "stack.locks.above_groove"),
        "stack.seal_height": (*SEAL, "stack.guide.seal_groove", "stack.guide.height", *UNDER_SPRING),
        "clearance.drop_at_tdc": (
            "stack.valve.code", "stack.valve.head", "stack.valve.length", "engine.gasket", "engine.rod",
            "engine.stroke", "clearance.pocket",
        ),
    }
)  # fmt: skip
"""Figures of a valve's axis that were taken with parts beside their own, and every field that tells those apart."""

_NOT_THE_CAMS = ("cam.phaser_advance", "cam.phaser_retard", "cam.phaser_limit", "cam.lash", "cam.lash_hot")
"""What stands with the cam in the document and belongs to the engine, or is a setting."""

_TABLES: Mapping[str, str] = MappingProxyType({"table": "table_with", "ratio_table": "ratio_table_with"})
"""A part's field that holds a table, and the one beside it that says what the table was taken with."""


def rests_on(build: Build, side: str, path: str) -> tuple[str, ...]:
    """The fields, within a side or of the engine, that a figure at ``path`` within that side was taken with.

    A figure of a part with a code of its own rests on that code; an open height taken bare rests on no part.

    >>> build = Build(name="One")
    >>> "stack.retainer.step" in rests_on(build, "intake", "stack.open_height")
    False
    >>> rests_on(build, "intake", "stack.outer.solid"), rests_on(build, "intake", "cam.lash")
    (('stack.outer.code',), ())
    """
    if path == "stack.open_height" and build.side(side).stack.height_basis is not HeightBasis.AS_FITTED:
        return (BASIS,)
    if path == "stack.seal_height":
        return (*SEAL, *_SEAL_ON[build.side(side).stack.seal.held])
    return RESTS.get(path) or own_code(path)


@cache
def own_code(path: str) -> tuple[str, ...]:
    """The code of the part that a figure belongs to, by both their paths within a side; empty where it has none."""
    if path.startswith("cam."):
        return () if path in _NOT_THE_CAMS or path == "cam.code" else ("cam.code",)
    code = f"{path.rpartition('.')[0]}.code"
    return (code,) if code != path and f"intake.{code}" in FIELDS else ()


@cache
def resting_on(source: str) -> tuple[str, ...]:
    """Every figure within a side that may rest on a field, itself within a side or of the engine."""
    found = [path for path, rests in RESTS.items() if source in rests]
    if source.endswith(".code"):
        found += [t for t in _figures() if own_code(t) == (source,)]
    return tuple(dict.fromkeys(found))


@cache
def _figures() -> tuple[str, ...]:
    """Every figure, table and curve of a side, by its path within the side."""
    own = [
        path.removeprefix("intake.")
        for path, spec in FIELDS.items()
        if path.startswith("intake.") and ".candidates." not in path
        and (spec.kind is Kind.QUANTITY or path.rpartition(".")[2] in _TABLES)
    ]  # fmt: skip
    return (*own, "cam.curve")


@cache
def _sources() -> tuple[str, ...]:
    """Every field that anything rests on."""
    found = [p for rests in RESTS.values() for p in rests]
    found += [code for t in _figures() for code in own_code(t)]
    return tuple(dict.fromkeys(found))


def full_path(side: str, source: str) -> str:
    """The full path of a field within a side, or of the engine."""
    return source if source.startswith("engine.") else f"{side}.{source}"


def told(value: object) -> str:
    """What stands in a field, as it is remembered with what was taken while it stood there: as typed, so that words
    can be made of it.

    >>> told("R-11"), told(None)
    ('R-11', '')
    """
    if isinstance(value, Entry):
        return value.typed
    if isinstance(value, Absent):
        return NONE
    text = "" if value is None else str(value)
    return "" if text == "not stated" else text


def same(path: str, was: str, now: str) -> bool:
    """Whether two texts of a field say one thing, whatever unit each was typed in.

    >>> same("intake.stack.retainer.offset", "0.5 mm", "0.50 mm"), same("intake.stack.retainer.offset", "none", "")
    (True, False)
    >>> same("intake.stack.retainer.offset", "none", "0 mm")
    True
    """
    if was == now:
        return True
    spec = FIELDS[path].quantity
    if spec is None or not was or not now:
        return False
    try:
        pair = [0.0 if t == NONE else parse(t, spec.dimension, spec.dimension.canonical_word).value for t in (was, now)]
    except QuantityError:
        return False
    return math.isclose(*pair, rel_tol=1e-9, abs_tol=1e-12)


Get = Callable[[Build, str], Any]
Put = Callable[[Build, str, Any], Build]


def outdated(before: Build, after: Build, get: Get, put: Put, anew: tuple[str, ...] = ()) -> Build:
    """``after``, in which every figure remembers the parts that it was taken with wherever others stand there now.

    What was taken anew in the same change stands: a figure that differs, or one under the paths ``anew`` within a side.
    A figure whose parts are put back as they were stands again. What was not known before is said, not exchanged.
    """
    for side in SIDES:
        moved = [s for s in _sources() if _moved(before, after, get, full_path(side, s))]
        reached = dict.fromkeys(t for s in moved for t in resting_on(s))
        for path in reached:
            if not any(path.startswith(f"{a}.") or path == a for a in anew):
                after = _remembered(before, after, get, put, side, path)
    return after


def _moved(before: Build, after: Build, get: Get, path: str) -> bool:
    old, new = get(before, path), get(after, path)
    return old is not new and not same(path, told(old), told(new))


def _remembered(before: Build, after: Build, get: Get, put: Put, side: str, path: str) -> Build:
    held, was = _held(after, side, path), _held(before, side, path)
    if held is None or was is None or held.value != was.value:
        return after
    # what was taken with the parts as they stood before, or earlier still
    with_ = dict(held.taken_with)
    for source in rests_on(before, side, path):
        full = full_path(side, source)
        old = told(get(before, full))
        if old and source not in with_:
            with_[source] = old
    with_ = {s: t for s, t in with_.items() if not same(full_path(side, s), t, told(get(after, full_path(side, s))))}
    if with_ == dict(held.taken_with):
        return after
    return held.remember(after, put, tuple(with_.items()), _words(after, get, side, with_) if with_ else "")


def _words(after: Build, get: Get, side: str, with_: Mapping[str, str]) -> str:
    """Which exchange it was, in words."""
    source, was = next(iter(with_.items()))
    full = full_path(side, source)
    label, part = FIELDS[full].label, source.split(".")[-2]
    named = label if label.lower().startswith(part[:4]) else f"{part.capitalize()}, {label.lower()}"
    return f"{named} changed from {was} to {told(get(after, full)) or 'not known'} since it was read"


class _Held:
    """What stands at a path that remembers what it was taken with: an entry, a curve, or a table."""

    def __init__(self, side: str, path: str, value: Any, taken_with: TakenWith) -> None:
        self.side, self.path, self.value, self.taken_with = side, path, value, taken_with

    def remember(self, build: Build, put: Put, with_: TakenWith, words: str) -> Build:
        full = f"{self.side}.{self.path}"
        held: Any = build
        for name in full.split(".")[:-1]:
            held = held[int(name) - 1] if name.isdigit() else getattr(held, name)
        name = full.rpartition(".")[2]
        if name in _TABLES:
            return put(build, f"{full.rpartition('.')[0]}.{_TABLES[name]}", with_)
        stands = held[int(name) - 1] if name.isdigit() else getattr(held, name)
        return put(build, full, stands.model_copy(update={"taken_with": with_, "outdated": words[:200]}))


def _held(build: Build, side: str, path: str) -> _Held | None:
    """None where nothing stands there, or what has no origin to lose."""
    found: Any = build.side(side)
    names = path.split(".")
    for name in names[:-1]:
        found = _inside(found, name)
        if found is None:
            return None
    value = _inside(found, names[-1])
    if isinstance(value, Entry):
        if value.evidence is Evidence.ASSUMED and path not in RESTS:
            return None
        if value.outdated and not value.taken_with:
            # outdated by an earlier version, which did not remember with what it was taken
            return None
        bare = value.model_copy(update={"taken_with": (), "outdated": ""})
        return _Held(side, path, bare, value.taken_with)
    if isinstance(value, MeasuredCurve):
        return _Held(side, path, value.model_copy(update={"taken_with": (), "outdated": ""}), value.taken_with)
    if names[-1] in _TABLES and value:
        return _Held(side, path, value, getattr(found, _TABLES[names[-1]]))
    return None


def _inside(found: Any, name: str) -> Any:
    if name.isdigit():
        return found[int(name) - 1] if int(name) <= len(found) else None
    return getattr(found, name) if isinstance(found, BaseModel) else None
