"""Parts on order: lines, what came in, what was measured of it, and a substitute with everything that it opens."""

from dataclasses import dataclass

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.application.acts import ordering
from arcstack.assess.built import today
from arcstack.checks import Verdict
from arcstack.errors import FieldError, NotFound
from arcstack.readings.returning import What, disposed
from arcstack.record.orders import MOST_PIECES, Line, Opens, State, line, lines
from arcstack.shelf import ShelfPart
from arcstack.shelf.fitting import PLACES, places_of
from arcstack.units import show
from arcstack.wear.dispositions import kinds
from arcstack.web.kit import asked, links
from arcstack.web.kit.form import sent
from arcstack.web.kit.session import (
    current_hand,
    current_system,
    current_who,
    part_shelf,
    workshop,
)
from arcstack.web.pages.bench.shown import Head, around_work, head

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


def _other(here: Head) -> Other | None:
    """What the page shows of a substitute that is being looked at."""
    number = asked.whole(request.values, "substitute")
    if number is None:
        return None
    try:
        found = line(here.sheet.events, number)
    except FieldError:
        return None
    here_places = places_of(here.current.build, here.side)
    place = request.values.get("place", "")
    place = place if place in here_places else here_places[0]
    parts = part_shelf().offered(PLACES[place])
    part = next((p for p in parts if p.key == request.values.get("key")), None)
    if part is None:
        return Other(found, place, here_places, parts, None, None, [])
    try:
        made = ordering.opened_by(here, part, place)
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


@blueprint.post("")
def order(build_id: int, side: str) -> Response | tuple[str, int]:
    """A line is ordered."""
    here, form = head(workshop().open(build_id), side), sent()
    try:
        ordering.order(
            here, current_hand(),
            part=form.line("part", 80),
            places=form.line("places").replace(",", " ").split(),
            count=form.counted("count", "How many", MOST_PIECES),
            why=form.line("why"),
            supplier=form.line("supplier", 80),
            day=form.day("day", "Ordered") or today().isoformat(),
            due=form.day("due", "Due"),
            figure=form.line("figure", 80),
            price=form.money("price", "Price"),
        )  # fmt: skip
    except FieldError as error:
        return index(build_id, side, error.message), 422
    return redirect(links.at("orders.index", build_id, side))


@blueprint.post("/<int:number>/<any(arrived, inspected, off):act>")
def happens(build_id: int, side: str, number: int, act: str) -> Response | tuple[str, int]:
    """A line came in, was measured, or is taken back."""
    here, by, form = head(workshop().open(build_id), side), current_hand(), sent()
    try:
        if act == "arrived":
            count = form.counted("count", "How many", MOST_PIECES)
            ordering.receive(here, by, line=number, count=count, note=form.line("note"))
        elif act == "inspected":
            passes = {"yes": True, "no": False}.get(form.text("passes"))
            ordering.inspect(here, by, line=number, found=form.line("found"), passes=passes)
        else:
            ordering.take_back(here, by, line=number, reason=form.line("reason"))
    except FieldError as error:
        return index(build_id, side, error.message), 422
    return redirect(links.at("orders.index", build_id, side))


@blueprint.post("/<int:number>/substitute")
def take_other(build_id: int, side: str, number: int) -> Response | tuple[str, int]:
    """Take another part in place of what was ordered; what it opens was shown before."""
    base, form = asked.base(request.form), sent()
    here = head(workshop().open(build_id, base), side)
    try:
        ordering.take_other(
            here, current_who(), current_hand(), line=number, place=form.text("place"), key=form.text("key")
        )
    except FieldError as error:
        return index(build_id, side, error.message), 422
    except NotFound as error:
        return index(build_id, side, str(error)), 404
    return redirect(links.at("orders.index", build_id, side))
