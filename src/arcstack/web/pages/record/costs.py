"""Hours and money booked against a head, and spare, salvage or replace with the sum beside each."""

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.errors import FieldError
from arcstack.readings.recorded import Booked, Sort, Weighed, booked
from arcstack.record.costs import MOST_HOURS, MOST_MONEY, WAYS, held, sums, way_sums, weigh
from arcstack.web.kit import asked, links
from arcstack.web.kit.session import bench, current_hand, current_who, workshop
from arcstack.web.pages.bench.shown import around_work, head
from arcstack.web.pages.record.asking import day, money, today, words

blueprint = Blueprint("costs", __name__, url_prefix="/builds/<int:build_id>/<side:side>/costs")


@blueprint.get("")
def index(build_id: int, side: str, wrong: str = "", about: str = "") -> str:
    """What the head has cost so far, line by line."""
    here = head(workshop().open(build_id), side)
    rows = booked(here.sheet.events)
    weighed = [e for e in here.sheet.events if isinstance(e, Weighed)]
    rates = [b.rate for b in rows if b.rate]
    return render_template(
        "record/costs.html",
        **around_work(here, "costs", "Costs"),
        rows=rows[::-1],
        sums=sums(here.sheet.events),
        sorts=Sort,
        weighed=[(w, way_sums(w)) for w in reversed(weighed)],
        ways=WAYS,
        rate=rates[-1] if rates else None,
        wrong=wrong,
        about=about,
        typed=request.form if wrong else {},
        hand=current_who().name,
    )


def _hours(name: str) -> float:
    return asked.bare_number(request.form, name, "Hours", MOST_HOURS) or 0.0


@blueprint.post("")
def book(build_id: int, side: str) -> Response | tuple[str, int]:
    """Book hours or money, or take a booking back."""
    here, by, form = head(workshop().open(build_id), side), current_hand(), request.form
    try:
        if by.hand == "workshop":
            raise FieldError("hand", "Whose hand books it? It has a name.")
        off = asked.whole(form, "off")
        if off is not None:
            found = next((b for b in booked(here.sheet.events) if b.number == off), None)
            if found is None:
                raise FieldError("off", "That was taken back already.")
            made = Booked(0, found.sort, found.day, found.what, 0.0, 0.0, 0.0, by, off, True)
        else:
            sort = next((s for s in Sort if s.value == form.get("sort")), None)
            if sort is None:
                raise FieldError("sort", "Hours, parts or outside work?")
            rate = asked.bare_number(form, "rate", "The rate", MOST_MONEY) or 0.0
            hours = sort is Sort.HOURS
            made = held(
                Booked(
                    0, sort, day("day", "Day") or today().isoformat(), words("what"), _hours("hours") if hours else 0.0,
                    rate if hours else 0.0, 0.0 if hours else money("money", "The sum") or 0.0, by,
                )
            )  # fmt: skip
        bench().happened(build_id, made)
    except FieldError as error:
        return index(build_id, side, error.message, "book"), 422
    return redirect(links.at("costs.index", build_id, side))


@blueprint.post("/weigh")
def weighs(build_id: int, side: str) -> Response | tuple[str, int]:
    """Weigh one way with a part against another, and keep which was taken."""
    by, form = current_hand(), request.form
    workshop().row(build_id)
    try:
        if by.hand == "workshop":
            raise FieldError("hand", "Whose hand weighs it? It has a name.")
        ways = {}
        for way in WAYS:
            cost = money(f"{way}-money", WAYS[way])
            hours = _hours(f"{way}-hours")
            if cost is not None or hours:
                ways[way] = cost or 0.0, hours
        rate = asked.bare_number(form, "rate", "The rate", MOST_MONEY) or 0.0
        chosen = form.get("chosen", "") if form.get("chosen") in WAYS else ""
        bench().happened(build_id, weigh(Weighed(0, words("part", 80), ways, rate, chosen, words("reason"), by)))
    except FieldError as error:
        return index(build_id, side, error.message, "weigh"), 422
    return redirect(links.at("costs.index", build_id, side) + "#weighed")
