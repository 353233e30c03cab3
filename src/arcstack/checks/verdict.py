import math
from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum

from arcstack.checks.figure import Figure
from arcstack.checks.limit import Limit, Sense, Waiver
from arcstack.errors import Missing


class Level(StrEnum):
    """How a check came out, best first.

    *Open* means an input is missing; *waived* that it passes only by a limit which a hand loosened for this build.
    """

    CLEAR = "clear"
    OPEN = "open"
    TIGHT = "tight"
    WAIVED = "waived"
    FAIL = "fail"

    @property
    def severity(self) -> int:
        return _SEVERITY[self]


_SEVERITY = {level: n for n, level in enumerate(Level)}


@dataclass(frozen=True)
class Verdict:
    """One check of one side (``side`` is None where a check has no side).

    ``judges`` is False when the practice shows the check without letting it count. ``waiting`` is True while it is
    open only because long work behind it has not ended.
    """

    id: str
    side: str | None
    title: str
    stage: str
    figure: Figure | None
    limit: Limit | None
    level: Level
    missing: tuple[Missing, ...] = ()
    judges: bool = True
    note: str = ""
    waiting: bool = False

    @property
    def proven(self) -> bool:
        return self.figure is not None and self.figure.proven

    @property
    def evidence(self) -> str:
        """``proven``, ``on paper``, or an empty text while the check is open."""
        if self.figure is None:
            return ""
        return "proven" if self.proven else "on paper"

    @property
    def covered(self) -> tuple[int, int] | None:
        """Of the places that what was measured stands at, how many were measured; None where one is all."""
        return self.figure.covered if self.figure is not None else None

    @property
    def waivers(self) -> tuple[Waiver, ...]:
        """Whoever loosened the limit, or an assumption below the figure, for this build."""
        own = (self.limit.waiver,) if self.limit is not None and self.limit.waiver is not None else ()
        return own + (self.figure.waivers if self.figure is not None else ())

    @property
    def key(self) -> str:
        return f"{self.id}@{self.side}" if self.side else self.id

    @property
    def room(self) -> float | None:
        """Distance of the band's worse end to the nearest limit in units of its tight zone; negative past it.

        Sorts margins.
        """
        if self.figure is None or self.limit is None:
            return None
        gaps = []
        limit, (low, high) = self.limit, self.figure.band or (self.figure.value, self.figure.value)
        if limit.low is not None:
            gaps.append(low - limit.low)
        if limit.high is not None:
            gaps.append(limit.high - high)
        return min(gaps) / (limit.tight or 1.0)


def judge(value: float, limit: Limit, band: tuple[float, float] | None = None) -> Level:
    """Where ``value`` stands against ``limit``. On the limit itself is still good.

    With a ``band`` it is clear only if the whole band is, and tight where the band reaches the limit or its tight
    zone; it fails when the value itself does. What passes a loosened limit is waived.

    >>> from arcstack.units import LENGTH
    >>> floor = Limit("x", Sense.AT_LEAST, 1.5, None, 0.25, LENGTH, "", "")
    >>> [judge(v, floor).value for v in (1.49, 1.5, 1.74, 1.75)]
    ['fail', 'tight', 'tight', 'clear']
    >>> judge(2.0, floor, (1.4, 2.1)).value, judge(1.49, floor, (1.4, 2.1)).value
    ('tight', 'fail')
    """
    level = _stands(value, limit)
    if level is Level.CLEAR and band is not None and any(_stands(end, limit) is not Level.CLEAR for end in band):
        level = Level.TIGHT
    return Level.WAIVED if limit.waiver is not None and level is not Level.FAIL else level


HAIR = 1e-9
"""What a value may be past a limit and still be on it."""


def fails_beyond(limit: Limit) -> tuple[float, float]:
    """The values below and above which a limit fails, infinite where an end is soft or not there.

    >>> from arcstack.units import LENGTH
    >>> fails_beyond(Limit("x", Sense.BAND, 1.0, 2.0, 0.1, LENGTH, "", "", soft_high=True))
    (0.999999999, inf)
    """
    low, high = _ends(limit)
    return (
        -math.inf if low is None or limit.soft_low else low - HAIR,
        math.inf if high is None or limit.soft_high else high + HAIR,
    )


def _ends(limit: Limit) -> tuple[float | None, float | None]:
    low = limit.low if limit.sense is not Sense.AT_MOST else None
    high = limit.high if limit.sense is not Sense.AT_LEAST else None
    return low, high


def _stands(value: float, limit: Limit) -> Level:
    below, above = fails_beyond(limit)
    if value < below or value > above:
        return Level.FAIL
    low, high = _ends(limit)
    if low is not None and value < (low - HAIR if limit.soft_low else low + limit.tight - HAIR):
        return Level.TIGHT
    under_high = limit.tight if limit.tight_high is None else limit.tight_high
    if high is not None and value > (high + HAIR if limit.soft_high else high - under_high + HAIR):
        return Level.TIGHT
    return Level.CLEAR


def worst(verdicts: Iterable[Verdict]) -> Level:
    """The worst level among the verdicts that judge; clear when there are none."""
    return max((v.level for v in verdicts if v.judges), key=lambda lv: lv.severity, default=Level.CLEAR)
