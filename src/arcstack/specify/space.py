"""The combinations that a shelf makes: one axis a kind, its parts along it."""

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from arcstack.assess.cam import curve, net_lift
from arcstack.assess.context import Context
from arcstack.assess.stack import installed_height
from arcstack.checks import Evidence
from arcstack.document import Build, Entry, amount
from arcstack.document.parts import FollowerKind
from arcstack.errors import FieldError, NotKnown
from arcstack.shelf import RAISING, PartKind, ShelfPart
from arcstack.shelf.fitting import fitted, together
from arcstack.specify.ask import Ask
from arcstack.trials.laying import laying
from arcstack.units import LENGTH
from arcstack.units.display import plain

LEVERS = (PartKind.FINGER, PartKind.ROCKER)

ROWS = (*RAISING, PartKind.SEAL, PartKind.GUIDE, PartKind.CAP, PartKind.BUCKET, *LEVERS)
"""Kinds along the rows of a search, each of which moves heights, masses or fits; packs and shims lie across."""

VARIED = (*ROWS, PartKind.PACK, PartKind.SHIM)
"""Kinds that a search may exchange. Lash shims are chosen when the lash is set, single springs as a pack."""


@dataclass(frozen=True)
class Option:
    """One part along an axis; without a part, what is fitted now. ``missing`` counts parts that are not on hand."""

    part: ShelfPart | None
    name: str
    price: float = 0.0
    missing: int = 0


@dataclass(frozen=True)
class LaidShims:
    """Shims that lie under a spring together; None leaves what lies there now."""

    parts: tuple[ShelfPart, ...] | None
    total_mm: float
    name: str
    price: float = 0.0
    missing: int = 0


@dataclass(frozen=True)
class LeftOut:
    """A part that no combination holds, and why."""

    part: ShelfPart
    why: str


@dataclass(frozen=True)
class Space:
    """Axes of one side of one build. A combination is a row, a pack and shims; ``rows`` runs over all other kinds."""

    build: Build
    side: str
    axes: Mapping[PartKind, tuple[Option, ...]]
    packs: tuple[Option, ...]
    shims: tuple[LaidShims, ...]
    left_out: tuple[LeftOut, ...]
    holds_target: bool = True

    @property
    def shape(self) -> tuple[int, ...]:
        return tuple(len(self.axes[k]) for k in ROWS)

    @property
    def rows(self) -> int:
        return math.prod(self.shape)

    @property
    def size(self) -> int:
        return self.rows * len(self.packs) * len(self.shims)

    def along(self, kind: PartKind) -> int:
        """How many stand along one axis."""
        if kind is PartKind.SHIM:
            return len(self.shims)
        return len(self.packs) if kind is PartKind.PACK else len(self.axes[kind])

    def chosen(self, kind: PartKind) -> bool:
        """Whether any part of a kind stands in a combination in place of what is fitted now."""
        if kind is PartKind.SHIM:
            return self.shims[0].parts is not None
        options = self.packs if kind is PartKind.PACK else self.axes[kind]
        return any(option.part is not None for option in options)

    def indices(self, rows: NDArray[np.intp]) -> dict[PartKind, NDArray[np.intp]]:
        """Which part of each kind the rows hold."""
        return dict(zip(ROWS, np.unravel_index(rows, self.shape), strict=True))

    def taken_apart(self, combination: int) -> tuple[int, int, int]:
        """Row, pack and shims of a combination by its number."""
        rest, shims = divmod(combination, len(self.shims))
        row, pack = divmod(rest, len(self.packs))
        return row, pack, shims

    def options(self, combination: int) -> tuple[dict[PartKind, Option], LaidShims]:
        """What a combination holds."""
        row, pack, shims = self.taken_apart(combination)
        at = np.unravel_index(row, self.shape)
        held = {kind: self.axes[kind][int(i)] for kind, i in zip(ROWS, at, strict=True)}
        return held | {PartKind.PACK: self.packs[pack]}, self.shims[shims]

    def with_parts(self, build: Build, parts: Mapping[str, ShelfPart]) -> "Space":
        """The same space with other figures: of another build, and of parts by their keys."""

        def other(option: Option) -> Option:
            return option if option.part is None else replace(option, part=parts[option.part.key])

        return replace(
            self,
            build=build,
            axes={kind: tuple(other(o) for o in options) for kind, options in self.axes.items()},
            packs=tuple(other(o) for o in self.packs),
            shims=tuple(
                s if s.parts is None else replace(s, parts=tuple(parts[p.key] for p in s.parts)) for s in self.shims
            ),
        )

    def put_in(self, combination: int) -> Build:
        """The build with a combination fitted."""
        held, shims = self.options(combination)
        parts = {kind.value: option.part for kind, option in held.items() if option.part is not None}
        made = together(self.build, self.side, parts, shims.parts)
        return made if self.holds_target else _with_target(made, self.side)


def _with_target(build: Build, side: str) -> Build:
    """The build with the height that its parts come to for a target."""
    held = build.side(side)
    try:
        height = installed_height(Context(build, side)).value
    except NotKnown:
        return build
    target = Entry(value=height, typed=plain(height, LENGTH), evidence=Evidence.CALCULATED)
    stack = held.stack.model_copy(update={"target_height": target})
    return build.model_copy(update={side: held.model_copy(update={"stack": stack})})


def space(build: Build, side: str, parts: Iterable[ShelfPart], ask: Ask, needed: int = 1) -> Space:
    """The combinations over a shelf; ``needed`` is how many of each part the side takes."""
    offered = [p for p in parts if not p.retired and (p.on_hand >= needed or not ask.on_hand_only)]
    left: list[LeftOut] = []
    axes = {
        kind: _axis(build, side, kind, offered, ask, needed, left) for kind in (*ROWS, PartKind.PACK)
    }  # fmt: skip
    return Space(
        build,
        side,
        {kind: axes[kind] for kind in ROWS},
        axes[PartKind.PACK],
        _laid(build, side, offered, ask, needed),
        tuple(left),
        ask.holds_target,
    )


def _axis(
    build: Build, side: str, kind: PartKind, offered: Sequence[ShelfPart], ask: Ask, needed: int, left: list[LeftOut]
) -> tuple[Option, ...]:
    """Parts of a kind that can stand in this build at all; what is fitted now where the kind does not vary."""
    now = Option(None, _name_now(build, side, kind))
    runs = kind.value not in tuple(FollowerKind) or kind.value == build.engine.follower.value
    if kind not in ask.vary or not runs:
        return (now,)
    found = [now] if ask.keeps_fitted else []
    held = build.side(side).from_shelf.get(kind.value)
    for part in offered:
        if part.kind is not kind:
            continue
        if ask.keeps_fitted and held is not None and (held.key, held.version) == (part.key, part.version):
            continue
        try:
            made = fitted(build, side, part, kind.value)
            if kind in LEVERS:
                ctx = Context(made, side)
                net_lift(ctx), curve(ctx)
        except FieldError as error:
            left.append(LeftOut(part, error.message))
            continue
        except NotKnown as told:
            missing = ", ".join(m.label.lower() for m in told.missing)
            left.append(LeftOut(part, told.why or f"what it makes of the lobe is not known: {missing}"))
            continue
        found.append(_option(part, needed))
    return tuple(found)


def _name_now(build: Build, side: str, kind: PartKind) -> str:
    held = build.side(side).from_shelf.get(kind.value)
    if held is not None:
        return held.name
    stack, follower = build.side(side).stack, build.side(side).follower
    if kind is PartKind.PACK:
        return stack.name
    holder = follower if kind.value in tuple(FollowerKind) else stack
    return str(getattr(holder, kind.value).code)


def _option(part: ShelfPart, needed: int) -> Option:
    price = part.price.value if part.price is not None else math.nan
    return Option(part, part.name, price, int(part.on_hand < needed))


def _laid(build: Build, side: str, offered: Sequence[ShelfPart], ask: Ask, needed: int) -> tuple[LaidShims, ...]:
    """Shims under the spring: of stacks that are equally tall the one of fewest shims, on hand, cheapest first."""
    if PartKind.SHIM not in ask.vary:
        held = build.side(side).stack.shims
        return (LaidShims(None, sum(amount(s) or 0.0 for s in held), "as they lie"),)
    shims = laying(build, side, offered, ask.most_shims, ask.total_shims_mm, needed, ask.on_hand_only)
    best: dict[float, tuple[tuple[float, ...], LaidShims]] = {}
    for stack in shims.stacks:
        chosen = tuple(shims.sizes[s] for s in stack.shims_mm)
        options = [_option(p, needed) for p in chosen]
        price, missing = sum(o.price for o in options), sum(o.missing for o in options)
        laid = LaidShims(chosen, stack.total_mm, " + ".join(p.name for p in chosen) or "no shim", price, missing)
        key = (len(chosen), missing, price if math.isfinite(price) else math.inf)
        if stack.total_mm not in best or key < best[stack.total_mm][0]:
            best[stack.total_mm] = (key, laid)
    return tuple(best[total][1] for total in sorted(best))
