"""A page for the machine shop: the head before and after its valve job, and whether it is accepted."""

from dataclasses import dataclass

from flask import Blueprint, render_template

from arcstack.checks import Limit
from arcstack.document import SIDES
from arcstack.document.places import Place
from arcstack.readings import ASKED
from arcstack.readings.valve_job import Column, ValveJob, valve_job
from arcstack.units import LENGTH, System, show
from arcstack.web.kit.session import current_system, workshop
from arcstack.web.pages.bench.shown import Head, head

blueprint = Blueprint("shop", __name__, url_prefix="/builds/<int:build_id>/<side:side>/bench/shop")

LIMITS = {"tip_height": "set.tip_spread", "open_height": "set.height_spread"}
"""Which limit of the set a column's spread is held to."""


@dataclass(frozen=True)
class Judged:
    """A column as it is shown: its heading, a cell for every place, its spread and what that says."""

    title: str
    phase: str
    cells: tuple[str, ...]
    spread: str
    says: str
    fails: bool


@dataclass(frozen=True)
class SideShown:
    """One side as it is shown, with a line of what was cut for each place."""

    side: str
    places: tuple[Place, ...]
    columns: tuple[Judged, ...]
    cuts: tuple[str, ...]


def _judged(here: Head, side: str, column: Column, places: tuple[Place, ...], system: System) -> Judged:
    dimension = ASKED[column.key].quantity(here.current.build, side).dimension
    cells = tuple(
        str(show(column.values[p.label], dimension, system).number) if p.label in column.values else "–" for p in places
    )
    spread, says, fails = "", "", False
    if column.spread is not None:
        spread = str(show(column.spread, dimension, system))
        key = LIMITS.get(column.key)
        limit: Limit | None = here.design.sides[side].limit(key) if key else None
        if limit is not None and limit.high is not None:
            fails = column.spread > limit.high + 1e-9
            where, off = column.furthest()
            tall = "taller" if off > 0 else "shorter"
            most = show(limit.high, dimension, system)
            says = (
                f"goes back: {where} is {show(abs(off), dimension, system)} {tall} than the mean; {most} is let pass"
                if fails
                else f"accepted: within {most}"
                if len(column.values) == len(places)
                else f"{len(column.values)} of {len(places)} read, within {most} so far"
            )
    title = ASKED[column.key].quantity(here.current.build, side).label
    return Judged(title, column.phase.value, cells, spread, says, fails)


def _cut_words(job: ValveJob, place: Place, system: System) -> str:
    names = ("face", "seat", "tip")
    found = job.cuts.get(place.label, (0.0, 0.0, 0.0))
    return ", ".join(f"{n} {show(v, LENGTH, system)}" for n, v in zip(names, found, strict=True) if v)


@blueprint.get("")
def index(build_id: int, side: str) -> str:
    """Both sides, for print."""
    here, system = head(workshop().open(build_id), side), current_system()
    found = []
    for s in SIDES:
        job = valve_job(here.sheet, s)
        if job.columns or job.cuts:
            columns = tuple(_judged(here, s, c, job.places, system) for c in job.columns)
            found.append(SideShown(s, job.places, columns, tuple(_cut_words(job, p, system) for p in job.places)))
    return render_template(
        "bench/shop.html", build=here.current.build, build_id=build_id, side=side, sides=found,
        revision=here.current.revision, unit=LENGTH.unit(system), title="Machine shop",
    )  # fmt: skip
