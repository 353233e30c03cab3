"""The workshop's instruments: what each is, and how it is linked."""

from flask import Blueprint, redirect, render_template, request, url_for
from werkzeug.wrappers import Response

from arcstack.errors import FieldError, LinkLost
from arcstack.readings.instruments import KINDS
from arcstack.readings.instruments.instrument import USUAL_PATTERN
from arcstack.units.display import plain
from arcstack.web.kit.form import sent
from arcstack.web.kit.session import current_system, current_who, instruments
from arcstack.web.network import may_own

FASTEST_BAUD, USUAL_BAUD = 1_000_000, 9_600

blueprint = Blueprint("gauges_list", __name__, url_prefix="/instruments")


@blueprint.get("")
def index(wrong: str = "", told: str = "") -> str:
    """Every instrument, and a form for another."""
    name = request.values.get("name", "")
    rows = [
        (i, KINDS[i.kind], plain(i.resolution, KINDS[i.kind].dimension), plain(i.standard, KINDS[i.kind].dimension))
        for i in instruments().all()
    ]
    return render_template(
        "bench/instruments.html",
        rows=rows,
        kinds=KINDS,
        wrong=wrong,
        told=told,
        pattern=USUAL_PATTERN,
        title="Instruments",
        values=request.form,
        addresses=instruments().addresses(),
        owns=may_own(),
        shown=next((r for r in rows if r[0].name == name), None),
        system=current_system(),
    )


@blueprint.post("")
def put() -> Response | tuple[str, int]:
    """Add an instrument, or change the one of that name."""
    form = sent()
    kind = form.text("kind")
    if kind not in KINDS:
        return index(wrong="Choose what kind of instrument it is."), 422
    dimension = KINDS[kind].dimension
    values: dict[str, object] = {n: form.text(n) for n in ("name", "kind", "unit", "address", "asks")}
    if values["address"] and values["address"] not in instruments().addresses():
        return index(wrong="That address is not on the list: the owner puts it there first."), 422
    values["pattern"] = form.text("pattern") or USUAL_PATTERN
    try:
        for name in ("resolution", "standard"):
            usual = getattr(KINDS[kind], name)
            values[name] = form.figure(name, name.capitalize(), dimension, plain(usual, dimension))
        speed = form.count("speed", "Speed", FASTEST_BAUD, "Speed: a whole number of baud, such as 9600.")
        made = instruments().put(
            values | {"speed": speed or USUAL_BAUD, "unit": values["unit"] or dimension.canonical_word}
        )
    except FieldError as error:
        return index(wrong=error.message), 422
    if made.address:
        try:
            instruments().link(made.name)
        except LinkLost as trouble:
            return index(wrong=f"Kept. {trouble}"), 200
    return redirect(url_for("gauges_list.index"))


@blueprint.post("/addresses")
def allow() -> Response | tuple[str, int]:
    """Put an address on the list of those that an instrument may be linked to."""
    try:
        instruments().allow(request.form.get("address", ""), current_who())
    except FieldError as error:
        return index(wrong=error.message), 422
    return redirect(url_for("gauges_list.index"))


@blueprint.post("/addresses/off")
def refuse() -> Response:
    """Take one off it."""
    instruments().refuse(request.form.get("address", ""))
    return redirect(url_for("gauges_list.index"))


@blueprint.post("/remove")
def remove() -> Response:
    """Take an instrument away; what was read with it stays."""
    instruments().remove(request.form.get("name", ""))
    return redirect(url_for("gauges_list.index"))
