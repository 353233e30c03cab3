"""The head as built: every valve against every check, one check over the head, one valve drawn."""

from flask import Blueprint, render_template, request
from markupsafe import Markup

from arcstack.assess import assess, checks
from arcstack.assess.built import Stand
from arcstack.assess.context import Context
from arcstack.checks import Level
from arcstack.document.places import Place
from arcstack.drawings.head_map import Cell, State, head_map
from arcstack.drawings.section import section
from arcstack.evidence import Leaf
from arcstack.readings import ASKED
from arcstack.units import System, show
from arcstack.views.drawn import drawn
from arcstack.views.working import inputs, lines
from arcstack.web.kit import links
from arcstack.web.kit.session import current_system, workshop
from arcstack.web.pages.bench.shown import Head, around_bench, coming, head

blueprint = Blueprint("as_built", __name__, url_prefix="/builds/<int:build_id>/<side:side>/bench/built")

_STATES = {Level.FAIL: State.OUT, Level.OPEN: State.EMPTY}


def _state(stand: Stand, level: Level) -> State:
    """How a check stands at a place: out of limits, open, stale, measured, measured in part, or on paper."""
    if level in _STATES:
        return _STATES[level]
    covered = stand.coverage
    if covered is None or covered.of(Leaf.STALE):
        return State.STALE if covered is not None else State.EMPTY
    if covered.whole:
        return State.READ
    return State.PART if covered.begun else State.EMPTY


def _cells(here: Head, check: str, current: Place | None) -> list[Cell]:
    system = current_system()
    found = []
    for side in ("intake", "exhaust"):
        across = next((a for a in here.built.sides[side] if a.check == check), None)
        for (place, v), stand in zip(across.at, across.stands, strict=True) if across else ():
            address = f"{links.at('as_built.index', here.current.id, side)}?check={check}&place={place.label}"
            text = show(v.figure.value, v.figure.dimension, system).number if v.figure is not None else ""
            found.append(Cell(place, _state(stand, v.level), text, place == current, address))
    return found


def _drawn(ctx: Context, side: str, system: System) -> Markup | None:
    """The section of one valve, from its own readings."""
    made = drawn(lambda: section(assess(ctx.build), side, system))
    return made[0] if made is not None else None


def reading_of(path: str, place: Place) -> str:
    """The page on which a figure below a check is read at a place; empty where the bench does not read it."""
    tail = path.partition(".")[2]
    asked = next(
        (
            a
            for a in ASKED.values()
            if a.path
            and (
                tail == a.path
                or (a.path == "follower.mass" and tail.endswith(".mass") and tail.startswith("follower."))
            )
        ),
        None,
    )
    if asked is None or asked.item:
        return ""
    return f"?key={asked.key}&place={place.label}"


@blueprint.get("")
def index(build_id: int, side: str) -> str:
    """All valves against all checks; ``check`` and ``place`` look closer."""
    here, system = head(workshop().open(build_id), side), current_system()
    if not here.sheet.places:
        return render_template("bench/nowhere.html", **around_bench(here, "built", "As built"))
    check, label = request.args.get("check", ""), request.args.get("place", "")
    if here.later():
        return coming(here, "built", "As built")
    place = next((p for p in here.sheet.places if p.label == label and p.side == side), None)
    across = next((a for a in here.built.sides[side] if a.check == check), None)
    of_set = next((v for v in here.built.sets[side] if v.id == check), None)
    if across is not None and place is None:
        place = across.worst[0]
    verdict = next((v for p, v in across.at if p == place), None) if across and place else of_set
    order = sorted(here.built.sides[side], key=lambda a: (not a.worst[1].judges, -a.level.severity))
    table = [
        (
            a,
            [
                (p, v, show(v.figure.value, v.figure.dimension, system).number if v.figure else "–", p == a.worst[0])
                for p, v in a.at
            ],
            next((v.figure.dimension.unit(system) for _, v in a.at if v.figure), ""),
        )
        for a in order
    ]
    ctx = here.built.contexts[place.label] if place else None
    stand = next((s for s in across.stands if s.place == place), None) if across else None
    return render_template(
        "bench/as_built.html",
        **around_bench(here, "built", "As built"),
        table=table,
        check=check,
        place=place,
        columns=[p for p in here.sheet.places if p.side == side],
        verdict=verdict,
        across=across,
        owed=stand.coverage.words if stand is not None and stand.coverage is not None else "",
        about=checks().get(check),
        map=head_map(_cells(here, check, place), f"{check}, every place") if across else None,
        figure=verdict.figure if verdict else None,
        lines=lines(verdict.figure, system) if verdict and verdict.figure else [],
        inputs=inputs(verdict.figure, system) if verdict and verdict.figure else [],
        drawing=_drawn(ctx, side, system) if ctx is not None else None,
        reading_of=reading_of,
        waived={(w.check, w.place): w for w in here.sheet.waivers},
        open_level=Level.OPEN,
    )
