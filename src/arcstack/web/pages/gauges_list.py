"""The workshop's instruments: what each is, and how it is linked."""

from flask import Blueprint, redirect, render_template, request, url_for
from werkzeug.wrappers import Response

from arcstack.errors import FieldError, LinkLost, QuantityError
from arcstack.readings.instruments import KINDS
from arcstack.readings.instruments.instrument import USUAL_PATTERN
from arcstack.units import parse
from arcstack.units.display import plain
from arcstack.web.kit.session import current_system, current_who, instruments
from arcstack.web.network import may_own

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
    form = request.form
    kind = form.get("kind", "")
    if kind not in KINDS:
        return index(wrong="Choose what kind of instrument it is."), 422
    dimension = KINDS[kind].dimension
    values: dict[str, object] = {n: form.get(n, "").strip() for n in ("name", "kind", "unit", "address", "asks")}
    if values["address"] and values["address"] not in instruments().addresses():
        return index(wrong="That address is not on the list: the owner puts it there first."), 422
    values["pattern"] = form.get("pattern", "").strip() or USUAL_PATTERN
    try:
        for name in ("resolution", "standard"):
            usual = getattr(KINDS[kind], name)
            text = form.get(name, "").strip() or plain(usual, dimension)
            values[name] = parse(text, dimension, dimension.unit(current_system())).value
        speed = form.get("speed", "").strip() or "9600"
        if not speed.isdigit():
            raise FieldError("speed", "Speed: a whole number of baud, such as 9600.")
        made = instruments().put(values | {"speed": int(speed), "unit": values["unit"] or dimension.canonical_word})
    except QuantityError as error:
        return index(wrong=str(error)), 422
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
