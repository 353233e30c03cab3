from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from arcstack.units import Dimension


class Sense(StrEnum):
    """Which side of a limit is good."""

    AT_LEAST = "at least"
    AT_MOST = "at most"
    BAND = "band"


@dataclass(frozen=True)
class Waiver:
    """A practice's limit loosened for one build: by whom, when, why, and what the practice holds to."""

    hand: str
    at: datetime | None
    reason: str
    low: float | None
    high: float | None


@dataclass(frozen=True)
class Limit:
    """A limit with its reason.

    ``low`` and ``high`` are canonical; only the ones that ``sense`` needs are set. Within ``tight`` of a
    limit, on the good side, a value is tight. ``soft_high`` makes passing the upper end tight instead of a
    fail, ``soft_low`` the lower. ``tight_high`` is the upper end's own tight zone, where that is another.
    ``origin`` says who set the limit. ``waiver`` is there where it was loosened: what it lets pass is then waived,
    never clear.
    """

    key: str
    sense: Sense
    low: float | None
    high: float | None
    tight: float
    dimension: Dimension
    reason: str
    origin: str
    soft_high: bool = False
    soft_low: bool = False
    waiver: Waiver | None = None
    tight_high: float | None = None
