"""What becomes of a height that was read as fitted when a part that it was read with is exchanged."""

from collections.abc import Iterator
from dataclasses import dataclass

from arcstack.checks import Evidence
from arcstack.document.entry import Entry, amount
from arcstack.document.fields import FIELDS
from arcstack.document.model import SIDES
from arcstack.document.parts import HeightBasis, Stack
from arcstack.mech.fit import lock_sinks_mm


@dataclass(frozen=True)
class Mover:
    """A figure of a part that moves the height a spring stands at: by ``sign`` times itself."""

    part: str
    field: str
    sign: float
    symbol: str

    @property
    def path(self) -> str:
        """Within a side."""
        return f"stack.{self.part}.{self.field}"

    @property
    def fields(self) -> tuple[str, str]:
        """What tells two such parts apart, by their paths within a side: the code, and the figure itself."""
        return f"stack.{self.part}.code", self.path


def _movers() -> Iterator[Mover]:
    start = f"{SIDES[0]}.stack."
    for path, field in FIELDS.items():
        if field.quantity is not None and field.quantity.raises and path.startswith(start):
            part, name = path.removeprefix(start).split(".")
            yield Mover(part, name, field.quantity.raises, field.quantity.symbol)


MOVERS = tuple(_movers())
"""Every figure that moves an open height: each says so where its part is defined, and here alone it is read from."""


SINKS_ON = (("retainer", "locks_outside"), ("locks", "outside"), ("retainer", "taper"))
"""What says how deep the locks sit in the retainer, which lets the spring up by as much: parts and their fields."""

HEIGHT_RESTS_ON = (*((m.part, m.field) for m in MOVERS), *SINKS_ON)
"""Everything of a part that an open height rests on: parts and their fields."""


def raised_mm(stack: Stack) -> float:
    """How much higher the parts of a stack hold the retainer than standard ones on the bare pocket: what is not known
    counts as none.

    >>> raised_mm(Stack())
    0.0
    """
    return sum(m.sign * (amount(getattr(getattr(stack, m.part), m.field)) or 0.0) for m in MOVERS)


def _sinks(stack: Stack) -> float | None:
    """How deep the locks sit; None while it is not known."""
    expected, locks, taper = (amount(getattr(getattr(stack, part), field)) for part, field in SINKS_ON)
    if expected is None or locks is None or taper is None:
        return None
    return float(lock_sinks_mm(expected, locks, taper))


def _raised(before: Stack, after: Stack) -> float | None:
    """How much higher the parts that were exchanged hold the retainer; None while one of them is not known: two parts
    that do not say it are not known to be alike."""
    raised = 0.0
    for m in MOVERS:
        was, is_ = getattr(before, m.part), getattr(after, m.part)
        at, to = amount(getattr(was, m.field)), amount(getattr(is_, m.field))
        if was == is_ or (at is not None and at == to) or (at is None and to is None and was.code == is_.code):
            continue
        if at is None or to is None:
            return None
        raised += m.sign * (to - at)
    return raised


def _deeper(before: Stack, after: Stack) -> float | None:
    """How much deeper the locks sit; None while it is not known of either and something of it was exchanged."""
    told = [[getattr(getattr(s, part), field) for part, field in SINKS_ON] for s in (before, after)]
    if told[0] == told[1]:
        return 0.0
    deep, deeper = _sinks(before), _sinks(after)
    return None if deep is None or deeper is None else deeper - deep


def height_with(before: Stack, after: Stack, told: str) -> Entry | None:
    """The open height of ``before`` as it stands with the parts of ``after``.

    Read bare it stands. Read as fitted it follows the offsets, the locator and the depth of the locks where all of them
    are known, and is then calculated, if by nothing; else it is outdated, and ``told`` says by what.
    """
    height = before.open_height
    if height is None or before.height_basis is not HeightBasis.AS_FITTED:
        return height
    raised, deeper = _raised(before, after), _deeper(before, after)
    if raised is None or deeper is None:
        return height.model_copy(update={"outdated": height.outdated or told})
    moved = round(raised + deeper, 9)
    if all(getattr(before, part) == getattr(after, part) for part in dict.fromkeys(m.part for m in MOVERS)):
        return height
    value = float(f"{height.value + moved:.12g}")
    typed = f"{value:.12g} mm" if moved else height.typed
    return Entry(value=value, typed=typed, evidence=Evidence.CALCULATED, outdated=height.outdated)
