"""Why nothing would do: what each limit costs, and the smallest single change that lets something through."""

import math
from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from arcstack.assess import reads
from arcstack.assess.assessment import verdict
from arcstack.assess.catalogue import checks
from arcstack.assess.context import Context
from arcstack.assess.reads import Noting
from arcstack.checks import Level, Missing
from arcstack.document.heights import MOVERS
from arcstack.errors import ArcStackError, Stopped
from arcstack.shelf import PartKind, ShelfPart
from arcstack.specify.ask import Ask
from arcstack.specify.changes import Change, Parts, changes
from arcstack.specify.measured import HEIGHT
from arcstack.specify.search import Found, Row, Tally, Used, search

MOST_TRIED = 12
"""Amounts, evenly along its reach, at which a change is tried one after another, before the smallest is looked for
between two: what lets something through between two of them is missed."""
WITHIN = 0.02
"""Share of the change to within which the smallest is told, and of its step at the least."""


@dataclass(frozen=True)
class Answer:
    """A change that lets something through by ``by`` (above nought, in the change's own dimension), and what."""

    change: Change
    by: float
    row: Row
    others: int
    """How many more combinations would do then."""


@dataclass(frozen=True)
class NoAnswer:
    """A change that lets nothing through, however far it is taken: to ``reach``."""

    change: Change


@dataclass(frozen=True)
class WhyNot:
    """What came of looking why nothing would do: every change tried, and the fields whose saying would free most."""

    answers: list[Answer | NoAnswer]
    untold: tuple["Untold", ...]


def why_not(
    ctx: Context,
    parts: Iterable[ShelfPart],
    found: Found,
    count: Callable[[int, int], None] | None = None,
    stop: Callable[[], bool] | None = None,
) -> WhyNot:
    """All of it, as long work. Raises ``Stopped``."""
    return WhyNot(answers(ctx, parts, found, count, stop), untold(ctx, found))


def in_order_of_cost(found: Found) -> list[tuple[str, str, int, int]]:
    """Checks by what they cost: check, title, combinations that it alone stops, and that it turns away at all."""
    rows = [(c.check, c.title, c.alone, c.turned_away) for c in found.counts if c.turned_away]
    return sorted(rows, key=lambda row: (-row[2], -row[3]))


def answers(
    ctx: Context,
    parts: Iterable[ShelfPart],
    found: Found,
    count: Callable[[int, int], None] | None = None,
    stop: Callable[[], bool] | None = None,
) -> list[Answer | NoAnswer]:
    """Every single change tried, those that let something through first.

    Only combinations that nothing else turns away are looked at: what a change cannot move it cannot mend. ``count`` is
    told how many changes of how many are behind. Raises ``Stopped``.
    """
    stop = stop or (lambda: False)
    shelf = list(parts)
    tried = [c for c in changes() if _moves(ctx, shelf, found, c)]
    aims = [_aim(ctx, shelf, found, c) for c in tried]
    used = [Used(found.space, aim) for aim in aims]
    tally = Tally(found.measured, found.space, None, stop, used)
    tally.run()
    if tally.behind < found.space.size:
        raise Stopped
    said: list[Answer | NoAnswer] = []
    for at, (change, seen) in enumerate(zip(tried, used, strict=True)):
        if stop():
            raise Stopped
        said.append(_smallest(ctx, _of(found, shelf, seen), found.ask, change, seen, stop))
        if count is not None:
            count(at + 1, len(tried))
    return sorted(said, key=lambda a: isinstance(a, NoAnswer))


@dataclass(frozen=True)
class Untold:
    """A field that nobody filled and that turns combinations away: its path, what it is called, of how many of those
    looked at it is all that is missing, and of how many it is some of it."""

    path: str
    label: str
    alone: int
    among: int


LOOKED_AT = 120
"""Combinations looked at for what is missing, evenly over all."""


def untold(ctx: Context, found: Found) -> tuple[Untold, ...]:
    """Fields whose saying would free most: of combinations that nothing fails and something cannot tell.

    Those that no check fails are looked at first; where every one is failed by something, none is said to be freed.
    """
    size = found.space.size
    numbers = sorted({int(n) for n in np.linspace(0, size - 1, min(LOOKED_AT, size))} | {found.nearest})
    alone: Counter[tuple[str, str]] = Counter()
    among: Counter[tuple[str, str]] = Counter()
    anyway = found.measured.open_anyway
    for number in numbers:
        levels = found.row(number).levels
        open_ = [c for c, level in levels.items() if level is Level.OPEN and c not in anyway]
        if not open_ or any(level is Level.FAIL for c, level in levels.items() if c not in anyway):
            continue
        here = ctx.of(found.space.put_in(number))
        missing = {(m.path, m.label) for check in open_ for m in _missing(here, check)}
        among.update(missing)
        alone.update(missing if len(missing) == 1 else ())
    rows = [Untold(path, label, alone[path, label], n) for (path, label), n in among.items()]
    return tuple(sorted(rows, key=lambda u: (-u.alone, -u.among, u.label)))


def _missing(ctx: Context, check: str) -> Sequence[Missing]:
    if check == HEIGHT:
        return _unsaid_heights(ctx)
    v = verdict(ctx, checks()[check])
    if v is None:
        return ()
    if v.missing or v.figure is None:
        return v.missing
    # a figure that stands on what a default was put in for
    return tuple(Missing(leaf.path, leaf.label) for leaf in v.figure.leaves if leaf.unsaid and leaf.path)


def _unsaid_heights(ctx: Context) -> Sequence[Missing]:
    """The parts' figures that a height read with other parts is worked anew from, and that nobody said."""
    return tuple(ctx.missing(m.path) for m in MOVERS if not ctx.given(m.path))


def _moves(ctx: Context, parts: Parts, found: Found, change: Change) -> bool:
    """Whether a change moves anything of this head: a kind that is fixed and lacks the figure has none."""
    build, shelf = change.applied(ctx.build, ctx.side_name, parts, change.reach)
    if change.key.startswith("target") and not found.ask.holds_target:
        return False
    return bool(reads.changed(ctx.build, build)) or any(a is not b for a, b in zip(parts, shelf, strict=True))


def _aim(ctx: Context, parts: Parts, found: Found, change: Change) -> frozenset[int]:
    """The checks that a change can move: those that read anything that it changes, on the nearest combination."""
    base = ctx.of(found.space.put_in(found.nearest))
    build, shelf = change.applied(ctx.build, ctx.side_name, parts, change.reach)
    by_key = {p.key: p for p in shelf}
    moved = found.space.with_parts(build, by_key).put_in(found.nearest)
    differs = reads.changed(base.build, moved)
    aim = set()
    for at, judged in enumerate(found.measured.judged):
        if judged.check == HEIGHT:
            continue
        with Noting() as noting:
            verdict(base, checks()[judged.check])
        if noting.read & differs or judged.check in change.leaves:
            aim.add(at)
    return frozenset(aim)


def _of(found: Found, parts: Parts, used: Used) -> list[ShelfPart]:
    """The parts that stand in combinations which a change may let through, and whatever does not vary."""
    wanted: set[str] = set()
    for kind, there in used.parts.items():
        for at in there.nonzero()[0]:
            if kind is PartKind.SHIM:
                wanted |= {p.key for p in found.space.shims[at].parts or ()}
                continue
            option = found.space.packs[at] if kind is PartKind.PACK else found.space.axes[kind][at]
            if option.part is not None:
                wanted.add(option.part.key)
    return [p for p in parts if p.key in wanted]


def _standing(found: Found, parts: Sequence[ShelfPart]) -> Sequence[ShelfPart]:
    """The parts that stand in anything that would do."""
    over = found.space
    rest, shims = np.divmod(found.feasible.numbers, len(over.shims))
    rows, packs = np.divmod(rest, len(over.packs))
    options = [over.packs[i] for i in np.unique(packs)]
    for kind, at in over.indices(np.unique(rows).astype(np.intp)).items():
        options += [over.axes[kind][i] for i in np.unique(at)]
    held = {o.part.key for o in options if o.part is not None}
    held |= {p.key for i in np.unique(shims) for p in over.shims[i].parts or ()}
    return [p for p in parts if p.key in held]


def _smallest(
    ctx: Context, parts: Sequence[ShelfPart], ask: Ask, change: Change, used: Used, stop: Callable[[], bool]
) -> Answer | NoAnswer:
    if not all(there.any() for there in used.parts.values()):
        return NoAnswer(change)

    def at(by: float) -> Found | None:
        if stop():
            raise Stopped
        build, shelf = change.applied(ctx.build, ctx.side_name, parts, by)
        try:
            found = search(ctx.of(build), shelf, replace(ask), None, stop, frozenset(change.leaves))
        except ArcStackError:
            return None
        return found if len(found.feasible) else None

    low, high, best = 0.0, 0.0, None
    tried = min(MOST_TRIED, math.ceil(change.reach / change.step))
    for n in range(1, tried + 1) if not change.steady else (tried,):
        high = change.reach * n / tried
        best = at(high)
        if best is not None:
            break
        low = high
    if best is None:
        return NoAnswer(change)
    while high - low > WITHIN * max(high, change.step):
        # what would do by less would do by more too: only its parts are looked at again
        parts = _standing(best, parts)
        middle = (low + high) / 2.0
        found = at(middle)
        if found is None:
            low = middle
        else:
            high, best = middle, found
    return Answer(change, high, best.row(best.best[0]), len(best.feasible) - 1)


@dataclass(frozen=True)
class OfPart:
    """Why one part is not in the list: a search in which its kind is this part alone.

    ``rank`` is the first place among the best of all that holds it, None where none does.
    """

    part: ShelfPart
    found: Found
    rank: int | None


def of_part(ctx: Context, parts: Iterable[ShelfPart], whole: Found, part: ShelfPart) -> OfPart:
    """The same search with every other part of a kind put aside."""
    shelf = [p for p in parts if p.kind is not part.kind or p.key == part.key]
    ask = replace(whole.ask, keeps_fitted=False, on_hand_only=False)
    found = search(ctx, shelf, ask)
    rank = None
    if found.best:
        for place, number in enumerate(whole.best, 1):
            options, _ = whole.space.options(number)
            if part.key in {o.part.key for o in options.values() if o.part is not None}:
                rank = place
                break
    return OfPart(part, found, rank)
