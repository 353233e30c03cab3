"""Cells of tables that lay like things side by side."""

import math
from dataclasses import dataclass

from arcstack.checks import Level


@dataclass(frozen=True)
class Cell:
    """One figure of one cam or pack: as shown, its verdict where it has one, whether it is the row's best or worst,
    and how far it is from the one that is fitted."""

    text: str
    level: Level | None = None
    proven: bool = False
    rank: str = ""
    against: str = ""


def rank(value: float, values: list[float], better: int) -> str:
    if better == 0 or len(values) < 2 or math.isclose(min(values), max(values), rel_tol=1e-6):
        return ""
    best, worst = (max(values), min(values)) if better > 0 else (min(values), max(values))
    return "best" if value == best else "worst" if value == worst else ""
