"""Checks of a side over its places, as strips."""

from collections.abc import Callable
from dataclasses import dataclass

from arcstack.application.head import Opened
from arcstack.assess.built import Across
from arcstack.checks import Level, Verdict
from arcstack.units import Shown, System, show

STRIP = 300.0


@dataclass(frozen=True)
class Strip:
    """One check over the places of a side: the worst and where, how many measured, and a mark for every place."""

    check: str
    title: str
    level: Level
    proven: bool
    shown: Shown | None
    where: str
    measured: int
    of: int
    dots: tuple[tuple[float, Level, bool, str], ...]
    ticks: tuple[float, ...]
    spread: str
    verdict: Verdict
    judges: bool = True
    told: str = ""


def strips(here: Opened, system: System) -> list[Strip]:
    """Every check of the side as built, the worst first; those of the set among them."""
    found = [_strip(a, system) for a in here.built.sides[here.side]]
    found += [_of_set(v, system) for v in here.built.sets[here.side]]
    return sorted(found, key=lambda s: (not s.judges, -s.level.severity, _room(s.verdict)))


def _room(v: Verdict) -> float:
    return v.room if v.room is not None else 0.0


def _scale(v: Verdict, values: list[float]) -> Callable[[float], float]:
    limit = v.limit
    ends = [e for e in (limit.low, limit.high) if e is not None] if limit else []
    low, high = min([*values, *ends]), max([*values, *ends])
    room = (high - low) * 0.08 or abs(high) * 0.02 or 1.0
    return lambda x: round((x - low + room) / (high - low + 2 * room) * STRIP, 1)


def _strip(a: Across, system: System) -> Strip:
    place, v = a.worst
    values = [value for _, value in a.values]
    dots: tuple[tuple[float, Level, bool, str], ...] = ()
    ticks: tuple[float, ...] = ()
    shown, told = None, ""
    if v.figure is None or not values:
        told = f"needs {', '.join(m.label.lower() for m in v.missing[:3])}" if v.missing else v.note
    else:
        at = _scale(v, values)
        shown = show(v.figure.value, v.figure.dimension, system)
        dots = tuple((at(x.figure.value), x.level, x.proven, p.label) for p, x in a.at if x.figure is not None)
        ends = (v.limit.low, v.limit.high) if v.limit is not None else ()
        ticks = tuple(at(e) for e in ends if e is not None)
    spread = ""
    if a.spread is not None and v.figure is not None and a.spread > 1e-9:
        spread = f"spread {show(a.spread, v.figure.dimension, system)}"
    return Strip(
        a.check,
        a.title,
        a.level,
        a.proven,
        shown,
        f"worst at {place.label}",
        a.measured,
        len(a.at),
        dots,
        ticks,
        spread,
        v,
        v.judges,
        told,
    )


def _of_set(v: Verdict, system: System) -> Strip:
    assert v.figure is not None
    at = _scale(v, [v.figure.value, 0.0])
    ticks = tuple(at(e) for e in ((v.limit.low, v.limit.high) if v.limit else ()) if e is not None)
    read, of = v.figure.sample or (0, 0)
    where = v.note.partition(";")[0]
    return Strip(
        v.id,
        v.title,
        v.level,
        v.proven,
        show(v.figure.value, v.figure.dimension, system),
        where,
        read,
        of,
        ((at(v.figure.value), v.level, v.proven, "set"),),
        ticks,
        "",
        v,
    )
