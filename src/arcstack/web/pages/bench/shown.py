"""What every page of the bench shows: the head's map, the margins as built, and the sheet it stands on."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from flask import render_template
from markupsafe import Markup

from arcstack.assess import Assessment
from arcstack.assess.built import Across, Built
from arcstack.cached import cached_property
from arcstack.checks import Level, Verdict
from arcstack.document.places import Place
from arcstack.drawings.head_map import Cell, State
from arcstack.readings import Settled, Sheet, Step
from arcstack.readings.left import Left, Spot, left, settled_at
from arcstack.services import Current
from arcstack.units import Shown, System, show
from arcstack.web.frame.around import around
from arcstack.web.kit.rest import Rest, shown_first
from arcstack.web.kit.session import assessed, bench, current_system

STRIP = 300.0


@dataclass(frozen=True)
class Head:
    """One head on the bench: its design, its sheet, and the two together, which is worked only where it is shown."""

    current: Current
    side: str
    sheet: Sheet

    @cached_property
    def design(self) -> Assessment:
        return assessed(self.current)

    @cached_property
    def built(self) -> Built:
        return bench().built(self.current.id, self.design, self.sheet)

    @property
    def rest(self) -> tuple[Left, ...]:
        """What is unread or no longer holds."""
        return left(self.sheet)

    def later(self, *sides: str) -> bool:
        """Whether the page is shown before these sides, or its own, are worked: a head met for the first time."""
        return shown_first() and not all(self.built.at_hand(s) for s in sides or (self.side,))

    def rest_of(self, step: Step) -> list[Left]:
        """That of one step at the places themselves."""
        return [x for x in self.rest if x.spot.asked.step is step and not x.spot.asked.item]


def head(current: Current, side: str) -> Head:
    return Head(current, side, bench().sheet(current.id, current.build))


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


def strips(here: Head, system: System) -> list[Strip]:
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


def cells(
    here: Head, at: Callable[[Place], Spot], current: Place | None, address: Callable[[Place], str]
) -> list[Cell]:
    """A cell for every place: how one figure stands there."""
    system = current_system()
    found = []
    for place in here.sheet.places:
        spot = at(place)
        settled = settled_at(here.sheet, spot)
        dimension = spot.asked.quantity(here.current.build, place.side).dimension
        text = show(settled.value, dimension, system).number if settled is not None else ""
        found.append(Cell(place, _state(here, spot, settled), text, place == current, address(place)))
    return found


def _state(here: Head, spot: Spot, settled: Settled | None) -> State:
    if settled is None:
        return State.EMPTY
    if settled.stale:
        return State.STALE
    if settled.again:
        return State.AGAIN
    return State.OUT if not here.later() and _fails(here, spot) else State.READ


_OF: dict[str, tuple[str, ...]] = {
    "seat_width": ("seat.width",),
    "margin": ("valve.margin",),
    "runout": ("valve.runout",),
    "vacuum": ("seat.vacuum",),
    "vacuum_later": ("seat.vacuum_decay",),
    "shims": ("stack.installed_height",),
    "installed_height": ("stack.installed_height",),
    "outer.solid": ("spring.reserve.outer",),
    "inner.solid": ("spring.reserve.inner",),
}
"""Checks that a figure decides by itself."""


def checks_of(key: str) -> tuple[str, ...]:
    if key.startswith(("bore_", "stem_", "rock", "guide_")):
        return ("guide.clearance", "guide.taper")
    return _OF.get(key, ())


def _fails(here: Head, spot: Spot) -> bool:
    found = (here.built.at(check, spot.place) for check in checks_of(spot.asked.key))
    return any(v is not None and v.level is Level.FAIL for v in found)


def around_work(here: Head, page: str, title: str) -> dict[str, Any]:
    """What the frame shows round a page of a head that has no margins as built beside it."""
    return around(here.current, here.side, here.design, current_system()) | {
        "bench_page": page,
        "title": title,
        "places": here.sheet.places,
        "sheet": here.sheet,
    }


@dataclass(frozen=True)
class Margins:
    """The strips of a side as a page shows them, and how many of those that judge are proven."""

    shown: Markup
    proven: int
    of: int


def margins(here: Head, system: System) -> Margins:
    """Drawn once for as long as nothing of the side changes: every page of the bench shows them."""
    worked, key = here.built.worked(here.side), ("margins", here.current.id, system)
    found: Margins | None = worked.aside.get(key)
    if found is None:
        rows = strips(here, system)
        text = render_template(
            "bench/_strip_list.html", strips=rows, strip_width=STRIP, build_id=here.current.id, side=here.side
        )
        judge = [s for s in rows if s.judges]
        found = worked.aside[key] = Margins(Markup(text), sum(s.proven for s in judge), len(judge))
    return found


def around_bench(here: Head, page: str, title: str) -> dict[str, Any]:
    """What the frame shows round a page of the bench; the margins of a head met first come after it."""
    beside = (
        {"rest": Rest("margins", "#head-map")} if here.later() else {"built_margins": margins(here, current_system())}
    )
    return around_work(here, page, title) | beside


def around_later(here: Head, page: str, title: str, part: str = "work") -> dict[str, Any]:
    """The same round a page a part of which, named by its id, comes after it, and the margins with it."""
    return around_work(here, page, title) | {"rest": Rest(part, "#margins")}


def coming(here: Head, page: str, title: str) -> str:
    """A page of which nothing can be told before every valve is worked."""
    return render_template("bench/coming.html", **around_later(here, page, title))
