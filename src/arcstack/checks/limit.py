from dataclasses import dataclass
from enum import StrEnum

from arcstack.units import Dimension


class Sense(StrEnum):
    """Which side of a limit is good."""

    AT_LEAST = "at least"
    AT_MOST = "at most"
    BAND = "band"


@dataclass(frozen=True)
class Limit:
    """A limit with its reason.

    ``low`` and ``high`` are canonical; only the ones that ``sense`` needs are set. Within ``tight`` of a
    limit, on the good side, a value is tight. ``soft_high`` makes passing the upper end tight instead of a
    fail, ``soft_low`` the lower. ``origin`` says who set the limit.
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
