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


def number(text: str) -> float:
    """A figure as it is shown, as a number; NaN where none is.

    >>> number("−1.25 mm"), number("8,100 rpm")
    (-1.25, 8100.0)
    """
    digits = text.split(" ")[0].strip("≥°").replace("−", "-").replace(",", "").replace("+", "")
    try:
        return float(digits)
    except ValueError:
        return math.nan


def rank(text: str, texts: list[str], better: int) -> str:
    """Whether a figure as shown is the row's best or worst; what looks alike is neither.

    >>> rank("3.10 mm", ["3.10 mm", "3.10 mm"], 1), rank("3.11 mm", ["3.10 mm", "3.11 mm"], 1)
    ('', 'best')
    """
    values = [v for t in texts if not math.isnan(v := number(t))]
    if better == 0 or len(values) < 2 or min(values) == max(values):
        return ""
    best, worst = (max(values), min(values)) if better > 0 else (min(values), max(values))
    return "best" if number(text) == best else "worst" if number(text) == worst else ""


def against(text: str, own: str) -> str:
    """The difference of two figures as they are shown, with its sign.

    >>> against("3.14 mm", "3.10 mm"), against("236 N", "240 N"), against("1.0", "1.0")
    ('+0.04', '−4', 'same')
    """
    decimals = len(text.split(" ")[0].partition(".")[2].strip("°"))
    off = round(number(text) - number(own), decimals)
    if math.isnan(off):
        return ""
    return f"{off:+,.{decimals}f}".replace("-", "−") if off else "same"
