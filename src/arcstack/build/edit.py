"""Changes to the document: each gives a new one, or says at which field it cannot."""

import re
from collections.abc import Callable, Iterator
from functools import cache
from operator import attrgetter
from typing import Any, TypeVar

from pydantic import BaseModel

from arcstack.build.entry import Entry, enter
from arcstack.build.fields import FIELDS, Field, Kind
from arcstack.build.model import SIDES, SLOTS, Build
from arcstack.build.parts import Cam, MeasuredCurve, Spring, SpringPack
from arcstack.build.words import LONGEST_TEXT
from arcstack.checks import Evidence
from arcstack.errors import FieldError, QuantityError
from arcstack.units import LENGTH, System, show

M = TypeVar("M", bound=BaseModel)


def field(path: str) -> Field:
    """The field at ``path``. Raises ``FieldError`` for a path that is no field."""
    try:
        return FIELDS[path]
    except KeyError:
        raise FieldError(path, "There is no such field.") from None


def get(build: Build, path: str) -> Any:
    """What the document holds at ``path``: an ``Entry``, a text, or None."""
    return _getter(path)(build)


@cache
def _getter(path: str) -> Callable[[Build], Any]:
    return attrgetter(field(path).path)


def change(build: Build, path: str, text: str, evidence: Evidence | None = None, system: System = System.MM) -> Build:
    """The document with the field at ``path`` set from typed text; an empty text clears a figure.

    A bare number means the unit shown in ``system``. Raises ``FieldError`` where the text is no such figure,
    or where it makes a part that cannot be.
    """
    spec = field(path)
    value: Any
    if spec.kind is Kind.QUANTITY:
        assert spec.quantity is not None
        if not text.strip():
            return clear(build, path)
        try:
            value = enter(text, spec.quantity, evidence, spec.quantity.dimension.unit(system))
        except QuantityError as error:
            raise FieldError(path, str(error)) from error
    elif spec.kind is Kind.CHOICE:
        if text not in spec.options:
            raise FieldError(path, f"Choose one of {', '.join(spec.options)}.")
        value = type(get(build, path))(text)
    else:
        value = " ".join(re.sub(r"[\r\n]+", "; ", text.strip()).split())
        longest = spec.words.longest if spec.words is not None else LONGEST_TEXT
        if len(value) > longest:
            raise FieldError(path, f"At most {longest} characters.")
        if not value.isprintable():
            raise FieldError(path, "Holds characters that cannot be printed.")
        if value and spec.words is not None and spec.words.check is not None:
            try:
                spec.words.check(value)
            except ValueError as error:
                raise FieldError(path, f"{str(error)[0].upper()}{str(error)[1:]}.") from error
    changed = _put(build, path.split("."), value)
    for _, message in problems(changed):
        raise FieldError(path, message)
    return changed


def set_evidence(build: Build, path: str, evidence: Evidence) -> Build:
    """The document with another origin for the figure at ``path``; nothing changes where there is no figure."""
    entry = get(build, path)
    if not isinstance(entry, Entry):
        return build
    return _put(build, path.split("."), entry.model_copy(update={"evidence": evidence}))


def set_curve(build: Build, side: str, curve: MeasuredCurve | None) -> Build:
    """The document with a measured curve on one side, or without one."""
    build.side(side)
    return _put(build, [side, "cam", "curve"], curve)


def set_cam(build: Build, side: str, cam: Cam) -> Build:
    """The document with a whole cam, card and curve, on one side."""
    build.side(side)
    return _put(build, [side, "cam"], cam)


def clear(build: Build, path: str) -> Build:
    """The document with the figure at ``path`` taken out."""
    return _put(build, field(path).path.split("."), None)


def _put(model: M, names: list[str], value: Any) -> M:
    head, rest = names[0], names[1:]
    inner = _put(getattr(model, head), rest, value) if rest else value
    return model.model_copy(update={head: inner})


def problems(build: Build) -> Iterator[tuple[str, str]]:
    """Parts that cannot be, as (path, message): figures each in range that contradict each other."""
    engine = build.engine
    if engine.stroke and engine.rod:
        offset = abs(engine.pin_offset.value) if engine.pin_offset else 0.0
        if engine.rod.value <= engine.stroke.value / 2 + offset:
            yield (
                "engine.rod",
                f"A rod of {show(engine.rod.value, LENGTH)} is shorter than half the stroke of "
                f"{show(engine.stroke.value, LENGTH)}: the crank could not turn.",
            )
    if build.brief.limiter and build.brief.overspeed and build.brief.overspeed.value < build.brief.limiter.value:
        yield "brief.overspeed", "Overspeed is below the limiter; it is the speed reached past it."
    for side in SIDES:
        yield from _side_problems(build, side)


def _side_problems(build: Build, side: str) -> Iterator[tuple[str, str]]:
    here = build.side(side)
    valve = here.stack.valve
    if valve.head and valve.stem and valve.stem.value >= valve.head.value:
        yield f"{side}.stack.valve.stem", f"The {side} stem is thicker than its head."
    yield from _pack_problems(f"{side}.stack", side, here.stack)
    for slot in SLOTS:
        yield from _pack_problems(f"{side}.candidate_{slot}", f"{side} candidate {slot}’s", here.candidate(slot))


def _pack_problems(base: str, whose: str, pack: SpringPack) -> Iterator[tuple[str, str]]:
    outer, inner = pack.outer, pack.inner
    if outer.outside and inner.outside and inner.outside.value >= outer.outside.value:
        yield (
            f"{base}.inner.outside",
            f"{whose.capitalize()} inner spring of {show(inner.outside.value, LENGTH)} outside is larger than its "
            f"outer of {show(outer.outside.value, LENGTH)}.",
        )
    for name, spring in (("outer", outer), ("inner", inner)):
        yield from _spring_problems(f"{base}.{name}", f"{whose} {name}", spring)


def _spring_problems(where: str, whose: str, spring: Spring) -> Iterator[tuple[str, str]]:
    if spring.wire and spring.outside and 2 * spring.wire.value >= spring.outside.value:
        yield f"{where}.wire", f"The {whose} spring's wire leaves no room inside its coil."
    if spring.outside and spring.outside_top and spring.outside_top.value > spring.outside.value:
        yield f"{where}.outside_top", f"The {whose} spring is wider at the top than at its base; give the base first."
    if spring.wire and spring.outside_top and 2 * spring.wire.value >= spring.outside_top.value:
        yield f"{where}.outside_top", f"The {whose} spring's wire leaves no room inside its top coil."
    if spring.solid and spring.free_length and spring.solid.value >= spring.free_length.value:
        yield f"{where}.solid", f"The {whose} spring's solid height is not below its free length."
    if spring.coils and spring.active and spring.active.value >= spring.coils.value:
        yield f"{where}.active", f"The {whose} spring cannot have more coils at work than in all."
    if spring.free_length and spring.height_1 and spring.height_1.value >= spring.free_length.value:
        yield f"{where}.free_length", f"The {whose} spring's free length is not above the height of its load 1."
    if spring.height_1 and spring.load_1 and spring.height_2 and spring.load_2:
        yield from _load_problems(where, whose, spring.height_1, spring.load_1, spring.height_2, spring.load_2)


def _load_problems(where: str, name: str, h1: Entry, f1: Entry, h2: Entry, f2: Entry) -> Iterator[tuple[str, str]]:
    if h1.value == h2.value:
        yield f"{where}.height_2", f"The {name} spring's two loads are given at one height."
    elif (f2.value - f1.value) * (h1.value - h2.value) <= 0:
        yield f"{where}.load_2", f"The {name} spring's load must rise as it is shortened; heights or loads are swapped."
