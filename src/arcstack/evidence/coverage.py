"""Of the figures that a result rests on: which were measured, and which are still owed."""

from dataclasses import dataclass
from enum import StrEnum
from functools import cache

from arcstack.checks import Evidence, Figure
from arcstack.document import FIELDS, Kind, decided
from arcstack.readings.asked import ASKED
from arcstack.units import COUNT


class Leaf(StrEnum):
    """How one figure at the bottom of a result stands."""

    MEASURED = "measured"
    STALE = "no longer holds"
    UNREAD = "not measured"
    SET = "set"
    """Stated by a hand, and no instrument's to read: a speed asked for, a target, a choice that was looked at."""
    TYPICAL = "typical"
    """What a model or a material brings along: no reading of this head would tell it."""


@dataclass(frozen=True)
class Coverage:
    """The leaves of a figure, each once, by how they stand."""

    leaves: tuple[tuple[Figure, Leaf], ...]

    def of(self, *kinds: Leaf) -> tuple[Figure, ...]:
        """Leaves that stand one of some ways."""
        return tuple(f for f, how in self.leaves if how in kinds)

    @property
    def owed(self) -> tuple[Figure, ...]:
        """What could be measured, and is not, or no longer holds."""
        return self.of(Leaf.UNREAD, Leaf.STALE)

    @property
    def whole(self) -> bool:
        """Whether everything was measured that can be."""
        return not self.owed

    @property
    def begun(self) -> bool:
        """Whether anything of it was read at its own place, and still holds."""
        return any(how is Leaf.MEASURED and at_places(f) and f.sample is None for f, how in self.leaves)

    @property
    def words(self) -> str:
        """What is owed, in a few words; empty where nothing is."""
        names = list(dict.fromkeys(_named(f) for f in self.owed))
        return ", ".join(names[:6]) + (f" and {len(names) - 6} more" if len(names) > 6 else "")


def coverage(figure: Figure) -> Coverage:
    """How each leaf below a figure stands.

    One leaf never counts for another. What stands at every valve and is read there counts only where it was read there;
    what the bench reads at no place was measured once for its set.

    >>> from arcstack.units import LENGTH, SPEED
    >>> H = Figure("H", "Open height", 36.9, LENGTH, Evidence.MEASURED, "intake.stack.open_height")
    >>> b = Figure("b", "Solid height", 22.6, LENGTH, Evidence.PRINTED, "intake.stack.outer.solid")
    >>> found = coverage(Figure.calculated("R", "Reserve", 4.0, LENGTH, "R = H − L − b", H, b))
    >>> found.whole, found.begun, found.words
    (False, True, 'solid height')
    """
    seen: dict[tuple[str | None, str], tuple[Figure, Leaf]] = {}
    for f in figure.leaves:
        seen.setdefault((f.path, f.label), (f, leaf(f)))
    return Coverage(tuple(seen.values()))


def _named(f: Figure) -> str:
    """What is owed of it: of a card that a curve is estimated from, the curve."""
    if f.path is not None and ".cam.durations." in f.path:
        return "lift curve"
    return f.label[:1].lower() + f.label[1:]


def leaf(f: Figure) -> Leaf:
    """How a figure that rests on no other stands."""
    if f.outdated:
        return Leaf.STALE
    if f.evidence is Evidence.MEASURED:
        whole = f.sample is None or f.sample[0] >= f.sample[1] > 0 or not at_places(f)
        return Leaf.MEASURED if whole else Leaf.UNREAD
    if f.unsaid:
        return Leaf.UNREAD
    if f.path is None:
        return Leaf.TYPICAL
    if f.dimension is COUNT and f.evidence is not Evidence.ASSUMED:
        return Leaf.SET
    if decided(f.path) or (f.path in FIELDS and FIELDS[f.path].kind is Kind.CHOICE):
        return Leaf.SET
    return Leaf.UNREAD


def at_places(f: Figure) -> bool:
    """Whether the bench reads a figure valve by valve."""
    return f.path is not None and _read_at_places(f.path)


@cache
def _read_at_places(path: str) -> bool:
    tail = _tail(path)
    if tail.startswith(("stack.shims.", "bench.")):
        return True
    if tail.startswith("follower.") and tail.endswith(".mass"):
        return True
    if tail.startswith(("stack.outer.height_", "stack.inner.height_")):
        return True
    return any(a.path == tail for a in ASKED.values())


def _tail(path: str) -> str:
    side, _, tail = path.partition(".")
    return tail if side in ("intake", "exhaust") else path
