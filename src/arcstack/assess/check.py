"""What a check is, and a figure that pages ask for by name: each one record, beside its work."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from enum import Enum

from arcstack.assess.context import Context, guarded
from arcstack.checks import Figure, Limit

Work = Callable[[Context], Figure]


def always(_ctx: Context) -> bool:
    return True


class Says(Enum):
    """When a gauge says in words, beside its limit, where or which."""

    NEVER = "never"
    ALWAYS = "always"
    BELOW_NOUGHT = "below nought"


class Mover(Enum):
    """What a page moves to see which checks go with it."""

    HEIGHT = "installed height"
    TIMING = "timing"
    PRESSURE = "back pressure"


@dataclass(frozen=True)
class Check:
    """One check of a side.

    ``limit`` is the practice's key, or works the limit out. ``applies`` tells whether it means anything for the parts
    that are fitted, ``judges`` whether the practice lets it count. ``on_curve`` has it tried on the other lift curves
    too that the card or the readings allow; some figures do so by themselves. ``head`` is true of what both sides make
    together. ``bare`` gives the value alone where the figure with its whole working is dear to make.
    """

    id: str
    title: str
    stage: str
    about: str
    work: Work
    limit: str | Callable[[Context], Limit]
    applies: Callable[[Context], bool] = always
    judges: Callable[[Context], bool] = always
    on_curve: bool = False
    moved_by: tuple[Mover, ...] = ()
    says: Says = Says.NEVER
    head: bool = False
    bare: Callable[[Context], float] | None = None

    def value(self, ctx: Context) -> float:
        """The figure's bare value, for trying a side many ways over. Raises ``NotKnown``."""
        return self.work(ctx).value if self.bare is None else guarded(lambda: _finite(self.bare, ctx), self.id)

    def limit_for(self, ctx: Context) -> Limit:
        """The limit that this side is held to. Raises ``NotKnown``."""
        return ctx.limit(self.limit) if isinstance(self.limit, str) else self.limit(ctx)


def _finite(bare: Callable[[Context], float] | None, ctx: Context) -> float:
    assert bare is not None
    found = bare(ctx)
    if not math.isfinite(found):
        raise ArithmeticError("comes to no finite figure")
    return found


@dataclass(frozen=True)
class Named:
    """A figure that a page can ask for by ``name``; ``label`` is what it is called while it cannot be told."""

    name: str
    label: str
    work: Work
