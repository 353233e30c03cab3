"""Hours and money booked against a head, and spare, salvage or replace with the sum beside each."""

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.application.acts import costs
from arcstack.assess.built import today
from arcstack.errors import FieldError
from arcstack.readings.event import of_kind
from arcstack.readings.recorded import Sort, Weighed, booked
from arcstack.record.costs import MOST_HOURS, MOST_MONEY, WAYS, sums, way_sums
from arcstack.web.kit import asked, links
from arcstack.web.kit.form import sent
from arcstack.web.kit.session import current_hand, current_who, workshop
from arcstack.web.pages.bench.shown import around_work, head

blueprint = Blueprint("costs", __name__, url_prefix="/builds/<int:build_id>/<side:side>/costs")


@blueprint.get("")
def index(build_id: int, side: str, wrong: str = "", about: str = "") -> str:
    """What the head has cost so far, line by line."""
    here = head(workshop().open(build_id), side)
    rows = booked(here.sheet.events)
    weighed = of_kind(here.sheet.events, Weighed)
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


@blueprint.post("")
def book(build_id: int, side: str) -> Response | tuple[str, int]:
    """Book hours or money, or take a booking back."""
    here, by, form = head(workshop().open(build_id), side), current_hand(), sent()
    try:
        off = asked.whole(request.form, "off")
        if off is not None:
            costs.take_back(here, by, booking=off)
        else:
            costs.book(
                here, by,
                sort=form.choice("sort", Sort),
                day=form.day("day", "Day") or today().isoformat(),
                what=form.line("what"),
                hours=form.number("hours", "Hours", MOST_HOURS) or 0.0,
                rate=form.number("rate", "The rate", MOST_MONEY) or 0.0,
                money=form.money("money", "The sum") or 0.0,
            )  # fmt: skip
    except FieldError as error:
        return index(build_id, side, error.message, "book"), 422
    return redirect(links.at("costs.index", build_id, side))


@blueprint.post("/weigh")
def weighs(build_id: int, side: str) -> Response | tuple[str, int]:
    """Weigh one way with a part against another, and keep which was taken."""
    here, form = head(workshop().open(build_id), side), sent()
    chosen = form.text("chosen")
    try:
        ways = {}
        for way in WAYS:
            cost, hours = form.money(f"{way}-money", WAYS[way]), form.number(f"{way}-hours", "Hours", MOST_HOURS)
            if cost is not None or hours:
                ways[way] = cost or 0.0, hours or 0.0
        rate = form.number("rate", "The rate", MOST_MONEY) or 0.0
        costs.weigh(
            here, current_hand(), part=form.line("part", 80), ways=ways, rate=rate,
            chosen=chosen if chosen in WAYS else "", reason=form.line("reason"),
        )  # fmt: skip
    except FieldError as error:
        return index(build_id, side, error.message, "weigh"), 422
    return redirect(links.at("costs.index", build_id, side) + "#weighed")
