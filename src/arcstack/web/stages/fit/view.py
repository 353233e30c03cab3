"""Each rule of fit with what it looks at, as rows."""

from dataclasses import dataclass
from typing import Any

from flask import Blueprint

from arcstack.assess import fit
from arcstack.assess.assessment import verdict
from arcstack.assess.catalogue import checks
from arcstack.assess.context import Context
from arcstack.checks import Figure, Level, Limit, Missing
from arcstack.units import ANGLE, COUNT, System, show
from arcstack.web.kit.stage import On

blueprint = Blueprint("fit", __name__, template_folder="templates")


@dataclass(frozen=True)
class Row:
    """One gap: both figures, what stands between them, what is asked, and how they go together."""

    words: str
    one: tuple[str, str]
    other: tuple[str, str]
    gap: str
    asked: str
    outcome: str
    level: Level
    proven: bool
    needs: tuple[Missing, ...]
    why: str


@dataclass(frozen=True)
class RuleRows:
    """A rule and its gaps; ``key`` opens its working."""

    id: str
    title: str
    about: str
    level: Level
    proven: bool
    rows: tuple[Row, ...]


def _input(f: Figure, system: System) -> tuple[str, str]:
    """A part's figure and what it is of; a choice in its own words."""
    if f.dimension is COUNT:
        what, _, said = f.note.partition(": ")
        return (said, what) if said else (str(show(f.value, f.dimension, system)), f.label)
    return str(show(f.value, f.dimension, system)), f.label


def _asked(limit: Limit, system: System) -> str:
    """The band inside which the parts fit; nearer nought they are forced."""
    if limit.dimension is COUNT and not limit.high:
        return ""
    low = limit.low
    fine = 1 if limit.dimension is ANGLE else 0
    if low is not None and limit.high is not None and low == -limit.high:
        return f"{show(limit.high, limit.dimension, system, fine)} either way"
    if low == 0.0:
        low = limit.tight
    ends = [str(show(end, limit.dimension, system)) if end is not None else "" for end in (low, limit.high)]
    if not ends[1]:
        return f"{ends[0]} or more"
    return f"{ends[0]} to {ends[1]}" if ends[0] else f"{ends[1]} at most"


_NONE = ("", "")


def _row(m: fit.Met, system: System) -> Row:
    words = m.gap.words[0].upper() + m.gap.words[1:]
    if m.figure is None or m.limit is None:
        told = m.told
        needs = told.missing if told is not None else ()
        return Row(
            words, _NONE, _NONE, "", "", m.outcome.value, m.level, False, needs, told.why if told is not None else ""
        )
    inputs = [_input(f, system) for f in m.figure.inputs[:2]] + [_NONE, _NONE]
    counted = m.figure.dimension is COUNT
    gap = str(show(m.figure.value, m.figure.dimension, system))
    if counted:
        gap = gap if m.limit.high else ("as asked" if not m.figure.value else "not as asked")
    why = m.figure.note if m.level is not Level.CLEAR else ""
    return Row(
        words, inputs[0], inputs[1], gap, _asked(m.limit, system), m.outcome.value, m.level, m.figure.proven, (), why
    )


def rules(ctx: Context, system: System) -> list[RuleRows]:
    """Every rule that means something for the parts of a side, as it stands."""
    found = []
    for rule in fit.RULES:
        v = verdict(ctx, checks()[rule.id])
        if v is not None:
            rows = tuple(_row(m, system) for m in fit.met(ctx, rule.id))
            found.append(RuleRows(rule.id, rule.title, rule.about, v.level, v.proven, rows))
    return found


def content(on: On) -> dict[str, Any]:
    made = rules(on.ctx, on.system)
    count = {name: sum(r.outcome == name.value for rule in made for r in rule.rows) for name in fit.Fits}
    return {"rules": made, "count": count, "cautions": fit.cautions(on.ctx)}
