"""Which shims of a shelf lie under a spring: of each size the one that goes into the head, and stacks of them."""

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from arcstack.assess import fit
from arcstack.assess.context import Context
from arcstack.checks import Level
from arcstack.document import Build
from arcstack.mech.shims import ShimStack, stacks
from arcstack.shelf import PartKind, ShelfPart
from arcstack.shelf.fitting import together

_GOES_IN = {Level.CLEAR: 0, Level.TIGHT: 0, Level.WAIVED: 0, Level.OPEN: 1, Level.FAIL: 2}


@dataclass(frozen=True)
class Laying:
    """One part of each size (mm), and every stack of them that may lie under a spring."""

    sizes: Mapping[float, ShelfPart]
    stacks: tuple[ShimStack, ...]


def laying(
    build: Build, side: str, parts: Iterable[ShelfPart], most: int, total_mm: float, needed: int, on_hand_only: bool
) -> Laying:
    """Stacks of at most so many shims, and so much in all, out of what a shelf offers.

    ``needed`` is how many places take one: on hand means for all of them, and two of a size in a stack are twice as
    many. A shim that is not hardened never lies under a spring.
    """
    same: dict[float, list[ShelfPart]] = {}
    for part in parts:
        if part.kind is PartKind.SHIM and _hard(part):
            same.setdefault(part.at("thickness").value, []).append(part)
    sizes = {size: min(some, key=lambda p: _worth(build, side, p, needed)) for size, some in same.items()}
    laid = stacks(sizes, most, total_mm)
    if on_hand_only:
        laid = [s for s in laid if all(s.shims_mm.count(x) * needed <= sizes[x].on_hand for x in s.shims_mm)]
    return Laying(sizes, tuple(laid))


def _hard(part: ShelfPart) -> bool:
    return part.at("thickness") is not None and str(part.at("hardened")) != "not hardened"


def _worth(build: Build, side: str, part: ShelfPart, needed: int) -> tuple[int, bool, float]:
    """The least of some shims of one size is laid: one that goes into this head, before one of which that is not known;
    then what is on hand at every place, then what is cheap."""
    ctx = Context(together(build, side, {}, (part,)), side)
    fits = max((_GOES_IN[m.level] for m in fit.met(ctx, "fit.shims")), default=0)
    return fits, part.on_hand < needed, part.price.value if part.price is not None else math.inf
