"""What every page of the bench shows: the head's map, the margins as built, and the sheet it stands on."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from flask import render_template
from markupsafe import Markup

from arcstack.application import Current
from arcstack.application.head import Opened
from arcstack.checks import Level
from arcstack.document.places import Place
from arcstack.drawings.head_map import Cell, State
from arcstack.readings import Settled
from arcstack.readings.left import Spot, settled_at
from arcstack.units import System, show
from arcstack.views.strips import STRIP, strips
from arcstack.web.frame.around import around
from arcstack.web.kit.rest import Rest, shown_first
from arcstack.web.kit.session import bench, current_system, shop


@dataclass(frozen=True)
class Head(Opened):
    """One head on the bench, as a page shows it."""

    def later(self, *sides: str) -> bool:
        """Whether the page is shown before these sides, or its own, are worked: a head met for the first time."""
        return shown_first() and not all(self.built.at_hand(s) for s in sides or (self.side,))


def head(current: Current, side: str) -> Head:
    return Head(shop(), current, side, bench().sheet(current.id, current.build))


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
