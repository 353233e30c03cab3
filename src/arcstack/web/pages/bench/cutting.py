"""A cut proposed before it is made, and booked once it was: metal that is gone is never given back."""

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.document.places import Place
from arcstack.errors import FieldError, QuantityError
from arcstack.readings import Cut
from arcstack.trials.cutting import Proposed, proposed
from arcstack.units import LENGTH, parse, show
from arcstack.web.kit import links
from arcstack.web.kit.session import bench, current_hand, current_system, workshop
from arcstack.web.pages.bench.shown import Head, around_bench, head

blueprint = Blueprint("cutting", __name__, url_prefix="/builds/<int:build_id>/<side:side>/bench/cut")

AMOUNTS = (
    ("face", "Off the face", "along the valve"),
    ("seat", "Off the seat", "along the valve"),
    ("tip", "Off the tip", ""),
)


def _cut(here: Head) -> tuple[Place | None, Cut | None]:
    """What is proposed; nothing while no amount is said. Raises ``FieldError``."""
    values, system = request.values, current_system()
    label = values.get("place", "")
    place = next((p for p in here.sheet.places if p.label.lower() == label.lower() and p.side == here.side), None)
    if place is None:
        return None, None
    amounts = {}
    for name, label, _ in AMOUNTS:
        text = values.get(name, "").strip()
        try:
            amounts[name] = parse(text, LENGTH, LENGTH.unit(system)).value if text else 0.0
        except QuantityError as error:
            raise FieldError(name, f"{label}: {error}") from error
        if amounts[name] < 0.0:
            raise FieldError(name, f"{label}: metal that is gone is not given back.")
    if not any(amounts.values()):
        return place, None
    note = " ".join(values.get("note", "").split())[:200]
    return place, Cut(0, place.label, amounts["face"], amounts["seat"], amounts["tip"], current_hand(), note)


def _shown(here: Head, place: Place, cut: Cut) -> Proposed:
    taken = sum(c.tip_mm for c in here.sheet.cut_at(place.label))
    return proposed(here.built.contexts[place.label], cut, taken)


@blueprint.get("")
def index(build_id: int, side: str, wrong: str = "") -> str:
    """What a cut would do at a place, and every cut that was made."""
    here, system = head(workshop().open(build_id), side), current_system()
    place, cut = None, None
    try:
        place, cut = _cut(here)
    except FieldError as error:
        wrong = error.message
    found = _shown(here, place, cut) if place is not None and cut is not None else None

    def said(verdict: object) -> str:
        figure = getattr(verdict, "figure", None)
        return str(show(figure.value, figure.dimension, system)) if figure is not None else "–"

    return render_template(
        "bench/cutting.html",
        **around_bench(here, "cutting", "Cuts"),
        amounts=AMOUNTS,
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
    current = workshop().open(build_id)
    here = head(current, side)
    try:
        _, cut = _cut(here)
        if cut is None:
            raise FieldError("cut", "Say at which place, and what was taken off.")
        bench().cut(build_id, current.build, cut)
    except FieldError as error:
        return index(build_id, side, wrong=error.message), 422
    return redirect(links.at("cutting.index", build_id, side))
