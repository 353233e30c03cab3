"""A part from the shelf put into a build: its figures come along with what each is worth."""

from collections.abc import Iterator, Mapping, Sequence, Set
from types import MappingProxyType
from typing import Any

from arcstack.document import Build, Entry, FromShelf, Side, height_with, outdated, problems
from arcstack.document.parts import (
    Bucket,
    Cap,
    FollowerKind,
    Hardened,
    Rings,
    SealHeld,
    SpringPack,
    Stack,
    trimmed,
)
from arcstack.errors import FieldError
from arcstack.shelf.part import KINDS, CapPart, LashShim, PartKind, ShelfPart, ShimPart

_SHIM = "shim "
"""What the places of spring shims begin with, counted from one."""

PLACES: Mapping[str, PartKind] = MappingProxyType({p: kind for kind, about in KINDS.items() for p in about.places})
"""Every place on a side that a part from the shelf can take, and the kind of part that it takes."""

_MOST_SHIMS = sum(place.startswith(_SHIM) for place in PLACES)


def places_of(build: Build, side: str) -> list[str]:
    """Places that a build's side has, in the order of the axis; of shims one more than are fitted."""
    shims = [f"{_SHIM}{n + 1}" for n in range(min(len(build.side(side).stack.shims) + 1, _MOST_SHIMS))]
    of_other = {kind.value for kind in FollowerKind} - {build.engine.follower.value}
    return [p for p in PLACES if p not in of_other and (p in shims or not p.startswith(_SHIM))]


_ALONE = {
    PartKind.VALVE: "valve",
    PartKind.RETAINER: "retainer",
    PartKind.LOCKS: "locks",
    PartKind.LOCATOR: "locator",
    PartKind.SEAL: "seal",
    PartKind.GUIDE: "guide",
}
"""Kinds that are one part of the stack, under the name it has there."""

_OF_THE_HEAD = ("offset", "shimming", "ratio_from")
"""Figures of a follower that belong to the head it runs in."""


def fitted(build: Build, side: str, part: ShelfPart, place: str) -> Build:
    """The build with a part in a place of one side, and whatever was read with another part told or worked anew.

    Raises ``FieldError`` for a place that the part cannot take, or where the figures then contradict each other.
    """
    made = together(build, side, {place: part})
    known = set(problems(build))
    for problem in problems(made):
        if problem not in known:
            raise FieldError(*problem)
    return made


def together(
    build: Build, side: str, parts: Mapping[str, ShelfPart], shims: Sequence[ShelfPart] | None = None
) -> Build:
    """The build with parts in their places of one side, all exchanged at once, whether their figures agree or not.

    ``shims`` take the place of all that lie under the spring. Raises ``FieldError`` for a place that a part cannot
    take.
    """
    held = made = build.side(side)
    refs = dict(held.from_shelf)
    if shims is not None:
        made = made.model_copy(update={"stack": made.stack.model_copy(update={"shims": ()})})
        refs = {place: ref for place, ref in refs.items() if not place.startswith("shim ")}
        parts = {**parts, **{f"shim {n}": part for n, part in enumerate(shims, 1)}}
    for place, part in parts.items():
        if PLACES.get(place) is not part.kind:
            raise FieldError(side, f"A {KINDS[part.kind].title.lower()} does not go there.")
        made = _put(made, part, place, build.engine.follower)
        refs[place] = FromShelf(key=part.key, version=part.version, name=part.name)
    stack = _settled(held.stack, made.stack, list(parts.values()))
    exchanged = build.model_copy(update={side: made.model_copy(update={"stack": stack, "from_shelf": refs})})
    return outdated(build, exchanged, tuple(_anew(parts, build.engine.follower)))


def _anew(parts: Mapping[str, ShelfPart], kind: FollowerKind) -> Iterator[str]:
    """Paths within a side of what the parts bring their own figures of."""
    for place, part in parts.items():
        if part.kind in _ALONE:
            yield f"stack.{_ALONE[part.kind]}"
        elif part.kind is PartKind.SPRING:
            yield f"stack.{place}"
        elif part.kind is PartKind.PACK:
            yield from ("stack.outer", "stack.inner")
        elif part.kind is PartKind.CAP:
            yield "stack.cap"
        elif part.kind.value in tuple(FollowerKind):
            yield f"follower.{kind.value}"


def _settled(before: Stack, after: Stack, parts: Sequence[ShelfPart]) -> Stack:
    """The stack with what was read with other parts worked anew, or told to be outdated."""
    told = f"{', '.join(p.name for p in parts)} fitted since it was read"[:200]
    kinds = {p.kind for p in parts}
    return after.model_copy(
        update={
            "open_height": height_with(before, after, told),
            "seal_height": _seal_height(before, after, kinds, told),
            "tip_proud": _tip(before, after, kinds, told),
        }
    )


def _put(held: Side, part: ShelfPart, place: str, kind: FollowerKind) -> Side:
    if part.kind.value in tuple(FollowerKind):
        return _follower(held, part, kind)
    stack, follower = held.stack, held.follower
    changes: dict[str, Any] = {}
    body = part.body
    if part.kind in _ALONE:
        changes[_ALONE[part.kind]] = body.model_copy(update={"code": part.name})
    elif part.kind is PartKind.SPRING:
        changes[place] = body.model_copy(update={"code": part.name})
    elif part.kind is PartKind.PACK:
        changes |= {name: getattr(body, name) for name in SpringPack.model_fields}
        changes |= {"name": part.name, "price": part.price}
    elif isinstance(body, ShimPart):
        changes |= _shim(stack, body, int(place.rpartition(" ")[2]))
    elif isinstance(body, CapPart):
        changes["cap"] = Cap(**{n: getattr(body, n) for n in Cap.model_fields}).model_copy(update={"code": part.name})
        follower = follower.model_copy(update={"shim_mass": body.mass})
    elif isinstance(body, LashShim):
        follower = follower.model_copy(update={"shim_mass": body.mass})
    return held.model_copy(update={"stack": stack.model_copy(update=changes), "follower": follower})


def _follower(held: Side, part: ShelfPart, kind: FollowerKind) -> Side:
    if part.kind.value != kind.value:
        raise FieldError("engine.follower", f"This head has a {kind.value}; a {part.kind.value} does not run in it.")
    own = held.follower.of(kind)
    kept = {name: getattr(own, name) for name in _OF_THE_HEAD if name in type(own).model_fields}
    if isinstance(own, Bucket) and isinstance(part.body, Bucket) and part.body.offset is not None:
        kept.pop("offset")
    body = part.body.model_copy(update=kept | {"code": part.name})
    return held.model_copy(update={"follower": held.follower.model_copy(update={kind.value: body})})


def _shim(stack: Stack, body: ShimPart, number: int) -> dict[str, Any]:
    shims = [*stack.shims, *[None] * (number - len(stack.shims))]
    shims[number - 1] = body.thickness
    own = Rings(**{name: getattr(body, name) for name in Rings.model_fields})
    others = any(s is not None for n, s in enumerate(shims, 1) if n != number)
    return {"shims": trimmed(tuple(shims), None), "rings": _worst_of(stack.rings, own) if others else own}


def _worst_of(one: Rings, other: Rings) -> Rings:
    """What the rules of fit have to hold of shims that lie on each other: the narrowest, the widest, the softest, and
    not known where one of them does not say."""
    insides, outsides, hardened = (
        [getattr(r, name) for r in (one, other)] for name in ("inside", "outside", "hardened")
    )
    soft = next((h for h in (Hardened.NO, Hardened.UNSTATED) if h in hardened), Hardened.YES)
    return Rings(
        inside=None if None in insides else min(insides, key=lambda e: e.value),
        outside=None if None in outsides else max(outsides, key=lambda e: e.value),
        hardened=soft,
    )


def _outdated(entry: Entry | None, told: str) -> Entry | None:
    return entry if entry is None else entry.model_copy(update={"outdated": entry.outdated or told})


def _seal_height(before: Stack, after: Stack, kinds: Set[PartKind], told: str) -> Entry | None:
    """A seal's height that was read with another seal, guide or locator; none where the new one tells its own."""
    if not kinds & {PartKind.SEAL, PartKind.GUIDE} or before.seal_height is None:
        return before.seal_height
    on = {SealHeld.GROOVE: after.guide.seal_groove, SealHeld.END: after.guide.height}.get(after.seal.held)
    if after.seal.height is not None and (on is not None or after.seal.held is SealHeld.LOCATOR):
        return None
    return _outdated(before.seal_height, told)


def _tip(before: Stack, after: Stack, kinds: Set[PartKind], told: str) -> Entry | None:
    """How far the tip stood proud with other parts; none where groove and locks tell it."""
    if not kinds & {PartKind.VALVE, PartKind.RETAINER, PartKind.LOCKS} or before.tip_proud is None:
        return before.tip_proud
    if after.valve.groove_below_tip is not None and after.locks.above_groove is not None:
        return None
    return _outdated(before.tip_proud, told)
