"""Figures with their working, limits, and verdicts."""

from arcstack.checks.evidence import Evidence
from arcstack.checks.figure import Figure, steps
from arcstack.checks.limit import Limit, Sense, Waiver
from arcstack.checks.verdict import Level, Verdict, judge, worst
from arcstack.errors import Missing

__all__ = [
    "Evidence",
    "Figure",
    "Level",
    "Limit",
    "Missing",
    "Sense",
    "Verdict",
    "Waiver",
    "judge",
    "steps",
    "worst",
]
