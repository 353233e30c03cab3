"""A cut proposed before it is made, and booked once it was: metal that is gone is never given back."""

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.application.acts import cutting
from arcstack.document.places import Place
from arcstack.errors import FieldError
from arcstack.readings import Cut
from arcstack.units import LENGTH, show
from arcstack.web.kit import links
from arcstack.web.kit.form import asked_for
from arcstack.web.kit.session import current_hand, current_system, workshop
from arcstack.web.pages.bench.shown import Head, around_bench, head

blueprint = Blueprint("cutting", __name__, url_prefix="/builds/<int:build_id>/<side:side>/bench/cut")

ALONG = {"face": "along the valve", "seat": "along the valve", "tip": ""}


def _cut(here: Head) -> tuple[Place | None, Cut | None]:
    """What is proposed; nothing while no amount is said. Raises ``FieldError``."""
    form = asked_for()
    label = form.text("place")
    place = next((p for p in here.sheet.places if p.label.lower() == label.lower() and p.side == here.side), None)
    if place is None:
        return None, None
    amounts = {name: form.figure_or_none(name, title, LENGTH) or 0.0 for name, title in cutting.AMOUNTS.items()}
    return place, cutting.cut_of(current_hand(), place, amounts=amounts, note=form.line("note"))


@blueprint.get("")
def index(build_id: int, side: str, wrong: str = "") -> str:
    """What a cut would do at a place, and every cut that was made."""
    here, system = head(workshop().open(build_id), side), current_system()
    place, cut = None, None
    try:
        place, cut = _cut(here)
    except FieldError as error:
        wrong = error.message
    found = cutting.outcome_of(here, place, cut) if place is not None and cut is not None else None

    def said(verdict: object) -> str:
        figure = getattr(verdict, "figure", None)
        return str(show(figure.value, figure.dimension, system)) if figure is not None else "–"

    return render_template(
        "bench/cutting.html",
        **around_bench(here, "cutting", "Cuts"),
        amounts=[(name, title, ALONG[name]) for name, title in cutting.AMOUNTS.items()],
        values=request.values,
        here_places=[p for p in here.sheet.places if p.side == side],
        place=place,
        found=found,
        wrong=wrong,
        rows=[(o, said(o.before), said(o.after)) for o in found.outcomes] if found else [],
        lash=str(show(found.lash_change_mm, LENGTH, system)) if found else "",
        held_open=str(show(found.held_open_mm, LENGTH, system)) if found and found.held_open_mm else "",
        tip_left=str(show(found.tip_left_mm, LENGTH, system)) if found else "",
        tip_gone=bool(found and found.tip_left_mm < 0),
        rises=str(show(cut.raises_mm, LENGTH, system)) if cut else "",
        unit=LENGTH.unit(system),
        bucket=here.design.sides[side].bucket,
        made=[
            (c, *(str(show(v, LENGTH, system)) for v in (c.face_mm, c.seat_mm, c.tip_mm)))
            for p in here.sheet.places
            for c in here.sheet.cut_at(p.label)
        ],
    )


@blueprint.post("")
def book(build_id: int, side: str) -> Response | tuple[str, int]:
    """Book a cut that was made."""
    here = head(workshop().open(build_id), side)
    try:
        cutting.book(here, _cut(here)[1])
    except FieldError as error:
        return index(build_id, side, wrong=error.message), 422
    return redirect(links.at("cutting.index", build_id, side))
