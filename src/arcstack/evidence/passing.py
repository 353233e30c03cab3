"""What a name lets pass: of one check at one place, for the figure it was said of, until an end that lies ahead."""

import re
from dataclasses import dataclass
from datetime import date

from arcstack.checks import Figure, Level, Limit, Verdict, judge
from arcstack.checks.verdict import HAIR
from arcstack.document.words import a_day
from arcstack.errors import FieldError
from arcstack.readings import Waived

CONTACT = frozenset(
    {
        "spring.reserve.outer", "spring.reserve.inner", "piston.clearance", "piston.clearance_swept",
        "piston.clearance_measured", "piston.clearance_clay", "piston.clearance_running", "valve.to_valve",
        "valve.to_valve_measured", "stack.retainer_seal",
    }
)  # fmt: skip
"""Checks of metal on metal and of springs that go solid: below nought no name lets them pass."""

NO_NAME = "metal meets, or a spring goes solid: no name lets it pass"

LEAST_REASON = 3


@dataclass(frozen=True)
class Stands:
    """How one check stands against the shop's own limit: its figure, canonical, and the worse end of its band."""

    value: float
    worse: float
    low: float | None
    high: float | None

    @property
    def past(self) -> float:
        """How far the figure lies beyond the limit; negative for what it has in hand.

        >>> Stands(1.2, 1.0, 1.5, None).past, Stands(2.0, 2.0, 1.5, None).past
        (0.30000000000000004, -0.5)
        """
        gaps = [self.low - self.value] if self.low is not None else []
        gaps += [self.value - self.high] if self.high is not None else []
        return max(gaps, default=0.0)


def shops(limit: Limit) -> Limit:
    """The limit as the practice holds it, without what was loosened for this build."""
    if limit.waiver is None:
        return limit
    return Limit(
        limit.key, limit.sense, limit.waiver.low, limit.waiver.high, limit.tight, limit.dimension, limit.reason,
        limit.origin, limit.soft_high, limit.soft_low, None, limit.tight_high,
    )  # fmt: skip


def stands(figure: Figure, limit: Limit) -> Stands:
    """A figure against the shop's limit."""
    held = shops(limit)
    band = figure.band or (figure.value, figure.value)
    worse = min(band) if held.low is not None else max(band)
    return Stands(figure.value, worse, held.low, held.high)


def level_by_shop(v: Verdict) -> Level:
    """How a verdict stands by the shop's own limit, whatever was loosened for this build."""
    if v.figure is None or v.limit is None:
        return v.level
    return judge(v.figure.value, shops(v.limit), v.figure.band)


def never(check: str, figure: Figure | None) -> str:
    """Why nobody may let a check pass, in words; empty where a name may."""
    if check not in CONTACT or figure is None:
        return ""
    low = min(figure.band) if figure.band is not None else figure.value
    return NO_NAME if low < -HAIR else ""


def holds(w: Waived, state: str, now: Stands | None, today: date) -> bool:
    """Whether what a name let pass is what stands now: the same state, a figure no worse, an end that lies ahead.

    One that an earlier program kept, without the figure it was said of, holds for nothing.
    """
    if w.ended or w.state != state or over(w.until, today):
        return False
    if w.figure is None or now is None:
        return w.figure is None and now is None
    return now.past <= Stands(w.figure, w.figure, w.low, w.high).past + SAME


SAME = 1e-6
"""Figures that differ by less are the same."""

_END = re.compile(
    r"[\d.,]*\d\s*(km|miles?|mi|hours?|h|starts?|runs?|meetings?|events?|weekends?|days?|weeks?|months?)"
    r"|(the )?next (strip|service|meeting|teardown|look|inspection|build|run)"
)


def over(until: str, today: date) -> bool:
    """Whether an end is a day that has passed.

    >>> over("1999-12-31", date(2026, 12, 1)), over("1,500 km", date(2026, 12, 1))
    (True, False)
    """
    try:
        return a_day(until.strip()) < today
    except ValueError:
        return False


def checked(w: Waived, today: date) -> Waived:
    """What a name lets pass, as it may be kept. Raises ``FieldError`` without a name, a reason, or an end ahead."""
    if w.ended:
        return w
    if w.by.hand.strip().casefold() in ("", "workshop"):
        raise FieldError("hand", "Whose name lets it pass?")
    if len(w.reason.strip()) < LEAST_REASON:
        raise FieldError("waiver", "A waiver needs a reason.")
    until = w.until.strip()
    if over(until, today):
        raise FieldError("waiver", f"{until} is over: a waiver ends at a day that lies ahead.")
    if not _END.fullmatch(until.casefold()) and not _is_day(until):
        raise FieldError(
            "waiver", "A waiver needs when it ends: a distance, hours or a day, as 1,500 km, 20 h or 2027-04-01."
        )
    return w


def _is_day(text: str) -> bool:
    try:
        a_day(text)
    except ValueError:
        return False
    return True
