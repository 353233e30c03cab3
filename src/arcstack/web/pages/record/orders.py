"""Parts on order: lines, what came in, what was measured of it, and a substitute with everything that it opens."""

from dataclasses import dataclass

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.application.record import substitute
from arcstack.assess import assess
from arcstack.checks import Verdict
from arcstack.errors import FieldError, NotFound
from arcstack.readings.recorded import Arrived, Inspected, Ordered, OrderOff
from arcstack.readings.returning import What, disposed
from arcstack.readings.taking import place_called
from arcstack.record.orders import MOST_PIECES, Line, Opens, State, arrived, inspected, line, lines, opens, ordered
from arcstack.shelf import ShelfPart
from arcstack.shelf.fitting import PLACES, fitted
from arcstack.units import show
from arcstack.wear.dispositions import kinds
from arcstack.web.kit import asked, links
from arcstack.web.kit.session import (
    bench,
    current_hand,
    current_system,
    current_who,
    part_shelf,
    sweeps,
    workshop,
)
from arcstack.web.pages.bench.shown import Head, around_work, head
from arcstack.web.pages.choosing import places
from arcstack.web.pages.record.asking import day, money, pieces, today, words

blueprint = Blueprint("orders", __name__, url_prefix="/builds/<int:build_id>/<side:side>/orders")


@dataclass(frozen=True)
class Other:
    """A part that might stand in for what was ordered, and what taking it would open; ``wrong`` where it cannot."""

    line: Line
    place: str
    places: list[str]
    parts: list[ShelfPart]
    part: ShelfPart | None
    opens: Opens | None
    rows: list[tuple[str, str, str, Verdict, Verdict, bool]]
    wrong: str = ""


def _opens(here: Head, part: ShelfPart, place: str) -> Opens:
    then = fitted(here.current.build, here.side, part, place)
    return opens(here.design, assess(then, sweeps().known, here.design), here.side, place)


def _other(here: Head) -> Other | None:
    """What the page shows of a substitute that is being looked at."""
    number = asked.whole(request.values, "substitute")
    if number is None:
        return None
    try:
        found = line(here.sheet.events, number)
    except FieldError:
        return None
    here_places = places(here.current.build, here.side)
    place = request.values.get("place", "")
    place = place if place in here_places else here_places[0]
    parts = part_shelf().offered(PLACES[place])
    part = next((p for p in parts if p.key == request.values.get("key")), None)
    if part is None:
        return Other(found, place, here_places, parts, None, None, [])
    try:
        made = _opens(here, part, place)
    except FieldError as error:
        return Other(found, place, here_places, parts, part, None, [], error.message)
    system = current_system()

    def said(v: Verdict) -> str:
        return str(show(v.figure.value, v.figure.dimension, system)) if v.figure is not None else "–"

    rows = [(m.after.title, said(m.before), said(m.after), m.before, m.after, m.turns) for m in made.moved]
    return Other(found, place, here_places, parts, part, made, rows)


def _wanted(here: Head) -> list[tuple[str, str, int]]:
    """Parts that dispositions ask for and no line orders yet: kind, places, how many."""
    have = {x.order.part for x in lines(here.sheet.events) if x.state is not State.OFF}
    rows: dict[str, list[str]] = {}
    for d in disposed(here.sheet.events):
        if d.what in (What.REPLACE, What.REPLACE_SET):
            rows.setdefault(kinds()[d.part].title, []).append(d.place)
    return [(title, " ".join(at), len(at)) for title, at in rows.items() if title not in have]


@blueprint.get("")
def index(build_id: int, side: str, wrong: str = "") -> str:
    """Every line, what is due, and a form for the next."""
    here = head(workshop().open(build_id), side)
    rows = lines(here.sheet.events)
    return render_template(
        "record/orders.html",
        **around_work(here, "orders", "Orders"),
        rows=rows,
        late={x.order.number: x.late(today()) for x in rows},
        states=State,
        wanting=_wanted(here),
        other=_other(here),
        wrong=wrong,
        typed=request.form if wrong else request.args,
        hand=current_who().name,
    )


def _back(build_id: int, side: str) -> Response:
    return redirect(links.at("orders.index", build_id, side))


def _named() -> None:
    if current_hand().hand == "workshop":
        raise FieldError("hand", "Whose hand is it? It has a name: give it where the instrument is named.")


@blueprint.post("")
def order(build_id: int, side: str) -> Response | tuple[str, int]:
    """A line is ordered."""
    here = head(workshop().open(build_id), side)
    try:
        _named()
        labels = words("places").replace(",", " ").split()
        at = tuple(place_called(here.sheet, label).label for label in labels)
        made = Ordered(
            0, words("part", 80), at, pieces("count", MOST_PIECES), words("why"), words("supplier", 80),
            day("day", "Ordered") or today().isoformat(), day("due", "Due"), current_hand(), words("figure", 80),
            money("price", "Price"),
        )  # fmt: skip
        bench().happened(build_id, ordered(made))
    except FieldError as error:
        return index(build_id, side, error.message), 422
    return _back(build_id, side)


@blueprint.post("/<int:number>/<any(arrived, inspected, off):act>")
def happens(build_id: int, side: str, number: int, act: str) -> Response | tuple[str, int]:
    """A line came in, was measured, or is taken back."""
    here, by = head(workshop().open(build_id), side), current_hand()
    try:
        _named()
        found = line(here.sheet.events, number)
        if act == "arrived":
            bench().happened(
                build_id, arrived(found, Arrived(0, number, pieces("count", MOST_PIECES), by, words("note")))
            )
        elif act == "inspected":
            if request.form.get("passes") not in ("yes", "no"):
                raise FieldError("passes", "Does it pass, or not?")
            made = Inspected(0, number, words("found"), request.form["passes"] == "yes", by)
            bench().happened(build_id, inspected(found, made))
        else:
            reason = words("reason")
            if len(reason) < 3:
                raise FieldError("reason", "Why is the line taken back?")
            bench().happened(build_id, OrderOff(0, number, reason, by))
    except FieldError as error:
        return index(build_id, side, error.message), 422
    return _back(build_id, side)


@blueprint.post("/<int:number>/substitute")
def take_other(build_id: int, side: str, number: int) -> Response | tuple[str, int]:
    """Take another part in place of what was ordered; what it opens was shown before."""
    base, place, key = asked.base(request.form), request.form.get("place", ""), request.form.get("key", "")
    here = head(workshop().open(build_id, base), side)
    try:
        _named()
        if place not in places(here.current.build, side):
            raise FieldError("place", "There is no such place.")
        part = part_shelf().get(key)
        made = _opens(here, part, place)
        substitute(
            workshop(),
            bench(),
            part_shelf(),
            here.current,
            number,
            side,
            place,
            key,
            made,
            current_who(),
            current_hand(),
        )
    except FieldError as error:
        return index(build_id, side, error.message), 422
    except NotFound as error:
        return index(build_id, side, str(error)), 404
    return _back(build_id, side)
