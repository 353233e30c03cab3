"""A measured lift table: read, looked at, corrected, taken; and the curve carried away."""

from typing import TypeVar

import numpy as np
from flask import Blueprint, abort, make_response, render_template, request
from werkzeug.wrappers import Response

from arcstack.assess import assess, cam
from arcstack.document import SIDES, Sitting, set_curve
from arcstack.document.parts import Hand, MeasuredCurve, Place
from arcstack.errors import NotKnown, StaleRevision
from arcstack.formats import AngleUnit, Choices, Direction, LiftUnit, Reading, read_table, write_curve
from arcstack.mech.cam.facts import facts
from arcstack.store import Kind, Reason
from arcstack.web import asked
from arcstack.web.drawings.reading import reading_picture
from arcstack.web.session import current_sitting, current_system, current_who, start_sitting, workshop
from arcstack.web.view.events import tables
from arcstack.web.view.motion import motion_rows

blueprint = Blueprint("curve", __name__, url_prefix="/builds/<int:build_id>/<side>/curve")

E = TypeVar("E", AngleUnit, LiftUnit, Direction, Place, Hand)


def _choice(kind: type[E], name: str) -> E | None:
    word = request.form.get(name, "")
    return kind(word) if word in tuple(kind) else None


def _base() -> float | None:
    """The base circle's reading where the reader was corrected, in mm."""
    base = asked.some_figure(request.form, "base_mm")
    return base if base is not None and abs(base) < 100.0 else None


def _table() -> str | bytes:
    """The dropped file where there is one, else the pasted text."""
    upload = request.files.get("file")
    if upload is not None and upload.filename:
        return upload.stream.read()
    return request.form.get("table", "")


def _read() -> Reading:
    choices = Choices(
        asked.whole(request.form, "angle_column"),
        asked.whole(request.form, "lift_column"),
        _choice(AngleUnit, "angle_unit"),
        _choice(LiftUnit, "lift_unit"),
        _choice(Direction, "direction"),
        _base(),
    )
    return read_table(_table(), choices)


def _curve(reading: Reading) -> MeasuredCurve:
    assert reading.facts is not None
    return MeasuredCurve(
        origin=" ".join(request.form.get("origin", "").split())[:80],
        place=_choice(Place, "place") or Place.LOBE,
        cam_rad=reading.cam_rad,
        lift_mm=reading.lift_mm,
        resolution_mm=min(reading.facts.resolution_mm, 1.0),
        noise_mm=min(reading.facts.noise_mm, 5.0),
    )


def _known(side: str) -> None:
    if side not in SIDES:
        abort(404)


@blueprint.post("/read")
def read(build_id: int, side: str) -> str:
    """Show what was understood of a table; nothing is stored."""
    _known(side)
    reading = _read()
    text = _table()
    shown = text if isinstance(text, str) else ""
    if isinstance(text, bytes) and reading.rows:
        shown = text.decode("utf-8-sig", "replace")
    parts: dict[str, object] = {}
    sitting = current_sitting()
    if reading.sound:
        smoothed = cam.smoothed(_curve(reading), Hand.USUAL)
        found = facts(smoothed.law)
        parts = {
            "picture": reading_picture(
                np.array(reading.cam_rad), np.array(reading.lift_mm), smoothed, current_system()
            ),
            "smoothed": smoothed,
            "found": found,
        }
    return render_template(
        "curve/understood.html",
        reading=reading,
        text=shown,
        build_id=build_id,
        side=side,
        angle_units=list(AngleUnit),
        lift_units=list(LiftUnit),
        directions=list(Direction),
        places=list(Place),
        place=_choice(Place, "place") or Place.LOBE,
        origin=request.form.get("origin", ""),
        instrument=request.form.get("instrument", sitting.instrument if sitting else ""),
        taker=request.form.get("hand", sitting.hand if sitting else ""),
        system=current_system(),
        **parts,
    )


@blueprint.post("/take")
def take(build_id: int, side: str) -> Response:
    """Store the table as the side's measured curve."""
    _known(side)
    reading = _read()
    if not reading.sound:
        return make_response(read(build_id, side), 422)
    curve = _curve(reading).model_copy(update={"by": _taken_by()})
    return _saved(build_id, side, curve, Kind.CURVE_TAKEN)


@blueprint.post("/sign")
def sign(build_id: int, side: str) -> Response:
    """Say afterwards with what instrument, and by whom, the curve in the build was taken. 404 without one."""
    _known(side)
    curve = workshop().open(build_id).build.side(side).cam.curve
    if curve is None:
        abort(404)
    by = _taken_by()
    if by is None:
        words = "Name the instrument and the hand, each with at most 80 characters."
        return make_response(render_template("parts/notice.html", title="Who took it?", message=words), 422)
    return _saved(build_id, side, curve.model_copy(update={"by": by}), Kind.CURVE_SIGNED)


def _taken_by() -> Sitting | None:
    """Instrument and hand from the form, remembered for the sitting; None where either is missing."""
    hand, instrument = asked.name(request.form, "hand"), asked.name(request.form, "instrument")
    if not hand or not instrument:
        return None
    start_sitting(hand, instrument)
    return current_sitting()


@blueprint.post("/drop")
def drop(build_id: int, side: str) -> Response:
    """Go back to the card's estimate; the curve stays in the revisions."""
    _known(side)
    return _saved(build_id, side, None, Kind.CURVE_DROPPED)


def _saved(build_id: int, side: str, curve: MeasuredCurve | None, kind: Kind) -> Response:
    base = asked.base(request.form)
    try:
        changed = set_curve(workshop().open(build_id, base).build, side, curve)
        workshop().save(build_id, base, changed, current_who(), Reason(kind, f"{side}.cam.curve"))
    except StaleRevision:
        told = "The build was changed in another window. Reload, then take the table again; nothing was stored."
        return make_response(render_template("parts/notice.html", title="Another window was faster", message=told), 409)
    response = make_response("", 204)
    response.headers["HX-Refresh"] = "true"
    return response


@blueprint.get("/export.csv")
def export(build_id: int, side: str) -> Response:
    """The curve at the valve as CSV. 404 while there is none."""
    _known(side)
    build = workshop().open(build_id).build
    try:
        curve = cam.curve(assess(build).sides[side])
    except NotKnown:
        abort(404)
    response = Response(write_curve(curve.valve, f"{build.name}, {side}"), mimetype="text/csv")
    response.headers["Content-Disposition"] = f'attachment; filename="{side}-lift.csv"'
    return response


@blueprint.get("/events")
def events(build_id: int, side: str) -> str:
    """The events with the phaser anywhere in its range."""
    _known(side)
    advance = float(np.radians(asked.figure(request.args, "advance", 0.0, -90.0, 90.0)))
    ctx = assess(workshop().open(build_id).build).sides[side]
    return render_template("curve/_events.html", event_tables=tables(ctx, advance, current_system()))


@blueprint.get("/motion")
def motion_at(build_id: int, side: str) -> str:
    """Velocity, acceleration and jerk at a speed chosen on the page."""
    _known(side)
    rpm = asked.figure(request.args, "rpm", 6000.0, 0.0, 20000.0)
    ctx = assess(workshop().open(build_id).build).sides[side]
    return render_template("curve/_motion.html", motion_rows=motion_rows(ctx, rpm))
