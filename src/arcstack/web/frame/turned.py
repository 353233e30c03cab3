"""Verdicts that an edit, or a practice, has turned."""

from arcstack.assess import Assessment
from arcstack.checks import Verdict


def turned(before: Assessment, after: Assessment) -> list[tuple[Verdict, Verdict]]:
    """Verdicts that judge and whose level differs; one that still waits on either side is left out."""
    old = {v.key: v for v in before.verdicts if not v.waiting}
    new = {v.key: v for v in after.verdicts if (v.judges or (v.key in old and old[v.key].judges)) and not v.waiting}
    return [(old[k], v) for k, v in new.items() if k in old and old[k].level is not v.level]
