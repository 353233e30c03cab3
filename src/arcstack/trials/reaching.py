"""Which parts on the shelf bring a spring to its height; where none do, the nearest and what would."""

from bisect import bisect_left, bisect_right
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import product

from arcstack.assess import stack
from arcstack.assess.context import Context
from arcstack.assess.fit import Fits, outcome
from arcstack.checks import Limit
from arcstack.document import Build, amount
from arcstack.document.heights import MOVERS, height_with, raised_mm
from arcstack.errors import FieldError, MissingInput
from arcstack.mech.shims import ShimStack, nearest
from arcstack.settings import setting
from arcstack.shelf import RAISING, PartKind, ShelfPart
from arcstack.shelf.fitting import fitted
from arcstack.trials.laying import laying

VARIED = (*(kind for kind in RAISING if kind is not PartKind.VALVE), PartKind.VALVE)
"""Kinds that move a height, in the order that they are exchanged in: the valve, which costs most, last."""

MOST_SHOWN = int(setting("reaching.shown"))
MOST_LOOKED_AT = int(setting("reaching.looked_at"))


class Rank(StrEnum):
    """What comes first among stacks that reach a height."""

    FEWEST = "fewest shims"
    NEAREST = "nearest to target"


ON_TARGET_MM = setting("meaning.on_target")


@dataclass(frozen=True)
class Wish:
    """What is asked: which kinds may change, how many shims in how much height, what comes first."""

    vary: tuple[PartKind, ...] = ()
    most_shims: int = 3
    total_mm: float = 2.0
    rank: Rank = Rank.FEWEST
    on_hand_only: bool = False


@dataclass(frozen=True)
class Reached:
    """Parts and shims that bring the outer spring to a height; ``build`` has them all in their places."""

    parts: tuple[ShelfPart, ...]
    shims: tuple[ShelfPart, ...]
    height_mm: float
    off_mm: float
    build: Build
    fits: Fits
    why: str

    @property
    def price(self) -> float | None:
        """What the parts and shims cost together, where each price is known."""
        bought = [*self.parts, *self.shims]
        return sum(p.price.value for p in bought if p.price) if all(p.price for p in bought) else None

    @property
    def is_on_target(self) -> bool:
        return abs(self.off_mm) <= ON_TARGET_MM


@dataclass(frozen=True)
class Change:
    """The smallest change of one part that would reach the height: its figure may be at most, or at least, so much."""

    part: str
    figure: str
    bound_mm: float
    at_most: bool
    exact_mm: float


@dataclass(frozen=True)
class Found:
    """What was found: ``rows`` that reach the height, best first; where none do, the nearest and what would.

    ``tried`` counts combinations of parts and shims.
    """

    rows: tuple[Reached, ...]
    tried: int
    reach: int
    target_mm: float
    tolerance: tuple[float, float]
    near: Reached | None = None
    changes: tuple[Change, ...] = ()


def search(ctx: Context, parts: Iterable[ShelfPart], wish: Wish) -> Found:
    """Try every combination over the shelf. Raises ``MissingInput`` while height or target is not known."""
    needed = ctx.places or 1
    shelf = [p for p in parts if not p.retired and (p.on_hand >= needed or not wish.on_hand_only)]
    target, window = ctx.entry("stack.target_height", "H_t").value, ctx.limit("stack.installed_height")
    stack.open_height(ctx)
    of_shelf = laying(ctx.build, ctx.side_name, shelf, wish.most_shims, wish.total_mm, needed, wish.on_hand_only)
    sizes, laid = of_shelf.sizes, list(of_shelf.stacks)
    bases = list(_bases(ctx.build, ctx.side_name, shelf, wish.vary))
    ends = _ends(window)
    hits = _hits(ctx, bases, laid, target, ends, wish.rank)
    rows: list[Reached] = []
    for base, shims in hits[:MOST_LOOKED_AT]:
        made = _reached(ctx, base, shims, sizes, target)
        if made is not None and made.fits is not Fits.NOT:
            rows.append(made)
        if len(rows) == MOST_SHOWN:
            break
    tried = len(bases) * len(laid)
    if rows:
        return Found(tuple(rows), tried, len(hits), target, ends)
    near = _nearest(ctx, bases, laid, sizes, target)
    return Found((), tried, 0, target, ends, near, _changes(near, ctx.side_name, ends) if near else ())


def _ends(window: Limit) -> tuple[float, float]:
    assert window.low is not None
    assert window.high is not None
    return window.low, window.high


@dataclass(frozen=True)
class _Base:
    """Parts put into the build, without shims yet, and the open height that leaves."""

    parts: tuple[ShelfPart, ...]
    build: Build
    open_mm: float


def _bases(build: Build, side: str, shelf: Sequence[ShelfPart], vary: tuple[PartKind, ...]) -> Iterator[_Base]:
    kinds = [k for k in VARIED if k in vary]
    choices: list[list[ShelfPart | None]] = [[None, *(p for p in shelf if p.kind is k)] for k in kinds]
    for chosen in product(*choices):
        made = build
        taken = tuple(p for p in chosen if p is not None)
        try:
            for part in taken:
                made = fitted(made, side, part, part.kind.value)
        except FieldError:
            continue
        height = _open_mm(build, made, side)
        if height is not None:
            yield _Base(taken, made, height)


def _open_mm(before: Build, after: Build, side: str) -> float | None:
    """The open height with the parts as they are; None where one of them does not tell it."""
    old, new = before.side(side).stack, after.side(side).stack
    as_fitted = height_with(old, new, "?")
    if as_fitted is None or as_fitted.outdated == "?":
        return None
    if new.open_height is None or str(new.height_basis) == "as fitted":
        return as_fitted.value
    return as_fitted.value + raised_mm(new) + _sunk(after, side)


def _sunk(build: Build, side: str) -> float:
    try:
        return stack.sinks(Context(build, side)).value
    except MissingInput:
        return 0.0


def _hits(
    ctx: Context, bases: Sequence[_Base], laid: Sequence[ShimStack], target: float, ends: tuple[float, float],
    rank: Rank,
) -> list[tuple[_Base, ShimStack]]:  # fmt: skip
    """Every combination within tolerance, best first: fewest parts changed stands before many that are alike."""
    ordered = sorted(laid, key=lambda s: s.total_mm)
    totals = [s.total_mm for s in ordered]
    found: list[tuple[tuple[float, ...], int, _Base, ShimStack]] = []
    for base in bases:
        low, high = base.open_mm - target - ends[1] - 1e-9, base.open_mm - target - ends[0] + 1e-9
        for shims in ordered[bisect_left(totals, low) : bisect_right(totals, high)]:
            off = round(abs(base.open_mm - shims.total_mm - target), 6)
            alike = (len(base.parts), len(shims.shims_mm), -max(shims.shims_mm, default=0.0))
            key = (len(shims.shims_mm), *alike, off) if rank is Rank.FEWEST else (off, *alike)
            found.append((key, len(found), base, shims))
    found.sort(key=lambda row: row[:2])
    return [(base, shims) for _, _, base, shims in found]


def _with_shims(build: Build, side: str, shims: Sequence[ShelfPart]) -> Build:
    held = build.side(side)
    bare = held.model_copy(update={"stack": held.stack.model_copy(update={"shims": ()})})
    refs = {place: ref for place, ref in held.from_shelf.items() if not place.startswith("shim ")}
    made = build.model_copy(update={side: bare.model_copy(update={"from_shelf": refs})})
    for number, shim in enumerate(shims, 1):
        made = fitted(made, side, shim, f"shim {number}")
    return made


def _reached(
    ctx: Context, base: _Base, shims: ShimStack, sizes: Mapping[float, ShelfPart], target: float
) -> Reached | None:
    chosen = tuple(sizes[s] for s in shims.shims_mm)
    try:
        build = _with_shims(base.build, ctx.side_name, chosen)
    except FieldError:
        return None
    tried = ctx.of(build)
    order = (Fits.FITS, Fits.FORCED, Fits.UNKNOWN, Fits.NOT)
    worst, why = Fits.FITS, ""
    for place in dict.fromkeys([p.kind.value for p in base.parts] + (["shim 1"] if chosen else [])):
        found, gaps = outcome(tried, place)
        if order.index(found) > order.index(worst):
            worst, why = found, "; ".join(g.gap.words for g in gaps)
    height = base.open_mm - shims.total_mm
    return Reached(base.parts, chosen, height, round(height - target, 9), build, worst, why)


def _nearest(
    ctx: Context, bases: Sequence[_Base], laid: Sequence[ShimStack], sizes: Mapping[float, ShelfPart], target: float
) -> Reached | None:
    """The combination that comes nearest, of parts that go together."""
    best: list[tuple[float, int, int, _Base, ShimStack]] = []
    for base in bases:
        shims = nearest(base.open_mm, target, laid)
        best.append((round(abs(base.open_mm - shims.total_mm - target), 6), len(base.parts), len(best), base, shims))
    best.sort(key=lambda row: row[:3])
    for _, _, _, base, shims in best[:40]:
        made = _reached(ctx, base, shims, sizes, target)
        if made is not None and made.fits is not Fits.NOT:
            return made
    return None


def _changes(near: Reached, side: str, ends: tuple[float, float]) -> tuple[Change, ...]:
    """What each part would have to be for the nearest to reach the target, everything else left as it is."""
    off = near.off_mm
    tall = off > 0
    # as far as the tolerance's nearer end, and as far as the target itself
    least = off - ends[1] if tall else off - ends[0]
    held = near.build.side(side).stack
    rows = []
    for m in (m for m in MOVERS if m.part in VARIED):
        at = amount(getattr(getattr(held, m.part), m.field))
        if at is not None:
            bound, exact = at - m.sign * least, at - m.sign * off
            rows.append(Change(m.part, m.field, round(bound, 6), tall is (m.sign > 0), round(exact, 6)))
    return tuple(rows)
