"""Figures that rest on few kinds of parts, worked once for every different answer to what they read."""

from collections.abc import Callable, Hashable
from dataclasses import dataclass
from itertools import chain, product
from operator import is_
from typing import Any, Generic, TypeVar

import numpy as np
from numpy.typing import NDArray

from arcstack.assess import reads
from arcstack.assess.context import Context
from arcstack.assess.reads import Noting
from arcstack.document import Absent, Build, Entry, Side
from arcstack.document.heights import HEIGHT_RESTS_ON
from arcstack.document.parts import SpringPack
from arcstack.settings import setting
from arcstack.shelf import RAISING, PartKind, ShelfPart
from arcstack.shelf.fitting import together
from arcstack.specify.space import ROWS, Space

T = TypeVar("T")

KEPT = int(setting("specify.kept"))

_FITTED = "whether one is chosen"
"""Stands for whether a part is chosen at all, which alone outdates what was read with another."""

_RESTS_ON: dict[str, dict[PartKind, tuple[str, ...]]] = {
    "stack.open_height": {
        kind: tuple(field for part, field in HEIGHT_RESTS_ON if part == kind.value) for kind in RAISING
    },
    "stack.seal_height": {
        PartKind.SEAL: ("height", "held", _FITTED),
        PartKind.GUIDE: ("height", "seal_groove", _FITTED),
    },
    "stack.tip_proud": {
        PartKind.VALVE: ("groove_below_tip", _FITTED),
        PartKind.LOCKS: ("above_groove", _FITTED),
        PartKind.RETAINER: (_FITTED,),
    },
}
"""What is worked anew when parts are exchanged, and from which of their figures."""


@dataclass(frozen=True)
class Table(Generic[T]):
    """What a figure comes to along the axes that it rests on: ``found[at[...]]``.

    ``kinds`` are those axes, ``at`` which of ``found`` stands for each part along them.
    """

    kinds: tuple[PartKind, ...]
    at: NDArray[np.intp]
    found: tuple[T, ...]

    def gathered(self, values: NDArray[Any], index: dict[PartKind, Any]) -> Any:
        """One value for each of ``found``, laid along what ``index`` gives for each kind."""
        return values[self.at[tuple(index[k] for k in self.kinds)]]

    def one(self, index: dict[PartKind, int]) -> T:
        return self.found[int(self.at[tuple(index[k] for k in self.kinds)])]


class Tables:
    """Figures over one space; ``base`` is the side without any choice made."""

    def __init__(self, space: Space, base: Context) -> None:
        self._space, self._base = space, base
        self._contexts: dict[tuple[Hashable, ...], Context] = {}
        self._fresh: dict[tuple[Hashable, ...], Context] = {}
        self._told: dict[tuple[PartKind, int, str], Hashable] = {}
        self._grouped: dict[tuple[PartKind, tuple[str, ...]], NDArray[np.intp]] = {}

    def table(self, work: Callable[[Context], T], whole: bool = False) -> Table[T]:
        """A figure over every kind that it turns out to read. ``whole`` keeps what the base has worked already.

        What a figure reads is noted as it is worked, so that two parts which agree in all of it share one answer.
        """
        wanted: dict[PartKind, tuple[str, ...]] = {}
        known: dict[tuple[tuple[PartKind, int], ...], tuple[T, int]] = {}
        while True:
            groups = {kind: self._groups(kind, paths) for kind, paths in wanted.items()}
            kinds = tuple(k for k in (*ROWS, PartKind.PACK, PartKind.SHIM) if k in groups)
            firsts = [[int(np.argmax(groups[k] == g)) for g in range(int(groups[k].max()) + 1)] for k in kinds]
            found: list[T] = []
            grown = False
            for chosen in product(*firsts):
                key = tuple(zip(kinds, chosen, strict=True))
                if key not in known:
                    known[key] = self._worked(work, key, whole)
                answer, read = known[key]
                found.append(answer)
                more = self._of_parts(read, wanted)
                if more:
                    wanted, grown = more, True
                    break
            if not grown:
                at = np.zeros((), dtype=np.intp)
                for kind in kinds:
                    at = at[..., None] * (int(groups[kind].max()) + 1) + groups[kind]
                return Table(kinds, at, tuple(found))

    def of_pack(self, at: int) -> Context:
        """The side with one of the packs, all else as it is fitted now."""
        return self._context(((PartKind.PACK, at),), whole=False)

    def _worked(
        self, work: Callable[[Context], T], key: tuple[tuple[PartKind, int], ...], whole: bool
    ) -> tuple[T, int]:
        ctx = self._context(key, whole)
        with Noting() as noting:
            answer = work(ctx)
        return answer, noting.read

    def _context(self, key: tuple[tuple[PartKind, int], ...], whole: bool) -> Context:
        held = self._contexts if whole else self._fresh
        ctx = held.get(key)
        if ctx is None:
            ctx = held[key] = self._as_before(key, whole)
        return ctx

    def _as_before(self, key: tuple[tuple[PartKind, int], ...], whole: bool) -> Context:
        """What an earlier search came to with the same parts, whatever has changed in them or about them since."""
        kept = self._base.aside
        name = (whole, *(self._named(kind, at) for kind, at in key))
        made_of: list[object] = [self._space.build, *chain.from_iterable(self._parts(kind, at) for kind, at in key)]
        had = kept.get(name)
        if had is not None and all(map(is_, had[1], made_of)):
            before: Context = had[0]
            return before
        build = self.build_with(dict(key))
        if had is not None:
            ctx = had[0].of(build)
        else:
            ctx = self._base.of(build) if whole else Context(build, self._space.side)
        if len(kept) >= KEPT and name not in kept:
            kept.clear()
        kept[name] = ctx, made_of
        return ctx

    def _named(self, kind: PartKind, at: int) -> Hashable:
        return kind, tuple(part.key for part in self._parts(kind, at))

    def _parts(self, kind: PartKind, at: int) -> tuple[ShelfPart, ...]:
        """The parts that stand at a place along an axis; none where it leaves what is fitted now."""
        if kind is PartKind.SHIM:
            return self._space.shims[at].parts or ()
        part = (self._space.packs if kind is PartKind.PACK else self._space.axes[kind])[at].part
        return () if part is None else (part,)

    def side_with(self, kind: PartKind, at: int) -> Side:
        """The side with one part of one kind."""
        return self.with_one(kind, at).side(self._space.side)

    def with_one(self, kind: PartKind, at: int) -> Build:
        """The build with one part of one kind."""
        return self._context(((kind, at),), whole=False).build

    def build_with(self, chosen: dict[PartKind, int]) -> Build:
        """The build with one part of some kinds, all others as they are fitted now."""
        space = self._space
        parts = {}
        shims = None
        for kind, at in chosen.items():
            if kind is PartKind.SHIM:
                shims = space.shims[at].parts
                continue
            option = space.packs[at] if kind is PartKind.PACK else space.axes[kind][at]
            if option.part is not None:
                parts[kind.value] = option.part
        return together(space.build, space.side, parts, shims)

    def _of_parts(self, read: int, wanted: dict[PartKind, tuple[str, ...]]) -> dict[PartKind, tuple[str, ...]] | None:
        """Fields of parts that vary and were read, where there are more of them than are known; else None."""
        grown = {kind: dict.fromkeys(paths) for kind, paths in wanted.items()}
        before = sum(len(p) for p in grown.values())
        for token in _tokens(read, self._space.side):
            for kind, path in whose(token):
                if self._space.chosen(kind):
                    grown.setdefault(kind, {})[path] = None
        if sum(len(p) for p in grown.values()) == before:
            return None
        return {kind: tuple(paths) for kind, paths in grown.items()}

    def _groups(self, kind: PartKind, paths: tuple[str, ...]) -> NDArray[np.intp]:
        """A number for each part along an axis, one for all that agree in these fields."""
        found = self._grouped.get((kind, paths))
        if found is None:
            numbers: dict[tuple[Hashable, ...], int] = {}
            said = (tuple(self._said(kind, at, path) for path in paths) for at in range(self._space.along(kind)))
            found = np.array([numbers.setdefault(one, len(numbers)) for one in said], dtype=np.intp)
            self._grouped[kind, paths] = found
        return found

    def _said(self, kind: PartKind, at: int, path: str) -> Hashable:
        if path == _FITTED:
            return bool(self._parts(kind, at))
        asked = (kind, at, path)
        if asked not in self._told:
            held: Any = self.side_with(kind, at)
            held = getattr(held, "follower" if path.startswith("follower.") else "stack")
            for step in path.removeprefix("follower.").split("."):
                held = getattr(held, step)
            self._told[asked] = _plain(held)
        return self._told[asked]


def _plain(said: Any) -> Hashable:
    if isinstance(said, Entry):
        return said.value
    if isinstance(said, Absent):
        return "none"
    if isinstance(said, tuple):
        return tuple(_plain(s) for s in said)
    return said if isinstance(said, Hashable) else repr(said)


_token_cache: dict[tuple[int, str], tuple[str, ...]] = {}


def _tokens(read: int, side: str) -> tuple[str, ...]:
    """Paths of a side that the bits stand for."""
    found = _token_cache.get((read, side))
    if found is None:
        start = f"{side}."
        found = tuple(t.removeprefix(start) for t in reads.tokens(read) if t.startswith(start))
        if len(_token_cache) > 4000:
            _token_cache.clear()
        _token_cache[read, side] = found
    return found


_PACK_FIELDS = tuple(f"stack.{name}" for name in SpringPack.model_fields)


def whose(token: str) -> list[tuple[PartKind, str]]:
    """Whose field a path within a side is, and the field within the stack or the follower."""
    if token in _RESTS_ON:
        return [(k, p if p == _FITTED else f"{k.value}.{p}") for k, paths in _RESTS_ON[token].items() for p in paths]
    if token == "follower.shim_mass":
        return [(PartKind.CAP, token)]
    if token in ("stack.shims",) or token.startswith("stack.rings"):
        return [(PartKind.SHIM, token.removeprefix("stack."))]
    if token.startswith(_PACK_FIELDS):
        return [(PartKind.PACK, token.removeprefix("stack."))]
    head, _, rest = token.partition(".")
    kind = rest.partition(".")[0]
    if head == "stack" and kind in _OWN:
        return [(_OWN[kind], rest)]
    if head == "follower" and kind in _OWN:
        return [(_OWN[kind], token)]
    return []


_OWN = {k.value: k for k in ROWS}
