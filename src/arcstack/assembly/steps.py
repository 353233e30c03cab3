"""The steps of assembly that one build needs, in their order."""

import tomllib
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cache
from importlib import resources
from types import MappingProxyType
from typing import Any

from arcstack.document import SIDES, Build, Entry
from arcstack.document.parts import FollowerKind, Pack, SealHeld
from arcstack.readings import Sheet
from arcstack.readings.asked import hydraulic
from arcstack.readings.assembling import Where, set_up


@dataclass(frozen=True)
class Field:
    """What a step asks for. ``kind`` is torque, torque_read, torque_most, fluid, text, yes, number or amount; ``limit``
    names the practice's typical figure that stands beneath the maker's."""

    key: str
    kind: str
    label: str
    required: bool = False
    limit: str = ""


@dataclass(frozen=True)
class Step:
    """One step: why, what to do, what it waits for, what it asks and counts, and how it is undone.

    ``gate`` is True where nothing goes on while it is open: it is never skipped. ``rests`` are parts of a side and
    ``items`` sorts of serials that reopen it when they change; ``cuts`` is True where a cut does.
    """

    id: str
    title: str
    why: str
    do: tuple[str, ...]
    minutes: float
    undo: str
    cautions: tuple[str, ...] = ()
    needs: tuple[str, ...] = ()
    when: tuple[str, ...] = ()
    tools: tuple[str, ...] = ()
    fields: tuple[Field, ...] = ()
    counts: tuple[str, ...] = ()
    rests: tuple[str, ...] = ()
    items: tuple[str, ...] = ()
    picture: str = ""
    gate: bool = False
    cuts: bool = False


@cache
def _file() -> Mapping[str, Any]:
    return MappingProxyType(tomllib.loads((resources.files("arcstack.assembly") / "steps.toml").read_text("utf-8")))


@cache
def every_step() -> tuple[Step, ...]:
    """Every step of the file, those of other builds among them."""
    hazards = _file()["hazards"]
    return tuple(_step(dict(raw), hazards) for raw in _file()["steps"])


def _step(raw: dict[str, Any], hazards: Mapping[str, str]) -> Step:
    named = [raw.pop("hazard", ""), *raw.pop("more_hazards", ())]
    raw["cautions"] = tuple(hazards[n] for n in named if n)
    raw["fields"] = tuple(Field(**f) for f in raw.pop("fields", ()))
    made: dict[str, Any] = {k: tuple(v) if isinstance(v, list) else v for k, v in raw.items()}
    return Step(**made)


def tool_words() -> Mapping[str, str]:
    """What each tool is called, by its key."""
    found: Mapping[str, str] = _file()["tools"]
    return found


def has(build: Build, side: str, part: str) -> bool:
    """Whether a side has a part: it is named or any figure of it is. That there is none is said in its own field.

    >>> from arcstack.demo import demo_builds
    >>> has(demo_builds()[1], "intake", "locator"), has(demo_builds()[1], "intake", "cap")
    (True, False)
    """
    held = getattr(build.side(side).stack, part)
    return bool(held.code) or any(isinstance(getattr(held, name), Entry) for name in type(held).model_fields)


def _anywhere(has_it: Callable[[Build, str], bool]) -> Callable[[Sheet], bool]:
    return lambda sheet: any(has_it(sheet.build, side) for side in SIDES)


def _where(*which: Where) -> Callable[[Sheet], bool]:
    def there(sheet: Sheet) -> bool:
        found = set_up(sheet.events)
        return (found.where if found else Where.BENCH) in which

    return there


def has_inner(build: Build, side: str) -> bool:
    return build.side(side).stack.pack is not Pack.SINGLE


def inner_apart(build: Build, side: str) -> bool:
    """Whether the inner goes in by itself: an assembled pack is one piece."""
    return build.side(side).stack.pack is Pack.DUAL


def own_seal(build: Build, side: str) -> bool:
    """Whether a seal is pressed on: one that is part of the locator goes in with it."""
    return build.side(side).stack.seal.held is not SealHeld.LOCATOR


_WHEN: Mapping[str, Callable[[Sheet], bool]] = MappingProxyType(
    {
        "bucket": lambda sheet: sheet.build.engine.follower is FollowerKind.BUCKET,
        "lever": lambda sheet: sheet.build.engine.follower is not FollowerKind.BUCKET,
        "hydraulic": _anywhere(hydraulic),
        "dual": _anywhere(inner_apart),
        "seal": _anywhere(own_seal),
        "checking": lambda sheet: any(sheet.mock_up(side).begun for side in SIDES),
        "on_bench": _where(Where.BENCH),
        "on_engine": _where(Where.ENGINE),
        "cams_in": _where(Where.CAMS_IN),
        "cams_out": _where(Where.BENCH, Where.ENGINE),
    }
)


def steps_of(sheet: Sheet) -> tuple[Step, ...]:
    """The steps that this head needs, as it is set up now. One that waits for a step which this head has not waits for
    what that one would have waited for."""
    found = tuple(s for s in every_step() if all(_WHEN[name](sheet) for name in s.when))
    there = frozenset(s.id for s in found)
    return tuple(replace(s, needs=tuple(dict.fromkeys(_standing_in(s.needs, there)))) for s in found)


def _standing_in(needs: tuple[str, ...], there: frozenset[str]) -> Iterator[str]:
    for need in needs:
        if need in there:
            yield need
        else:
            yield from _standing_in(next(s.needs for s in every_step() if s.id == need), there)


def tools_of(sheet: Sheet) -> dict[str, str]:
    """Every tool that a step of this head needs: its key and what it is called, in the order they are needed."""
    keys = dict.fromkeys(tool for step in steps_of(sheet) for tool in step.tools)
    return {key: tool_words()[key] for key in keys}
