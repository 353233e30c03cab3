"""A measured lift table: read, looked at, corrected, taken; and the curve carried away."""

import math
from functools import partial
from typing import TypeVar

import numpy as np
from flask import Blueprint, abort, make_response, render_template, request
from werkzeug.wrappers import Response

from arcstack.assess import Assessment, assess, cam, placed, timing
from arcstack.assess.context import Context, known
from arcstack.checks import Verdict
from arcstack.document import SIDES, Sitting, change, set_curve
from arcstack.document.parts import FollowerKind, Hand, MeasuredCurve, Place
from arcstack.drawings.lift_reading import reading_picture
from arcstack.errors import FieldError, MissingInput
from arcstack.formats import AngleUnit, Choices, Direction, LiftUnit, Reading, read_table, text_table, write_curve
from arcstack.store import Kind, Reason
from arcstack.trials.longer import Held, longer
from arcstack.units import ANGLE, LENGTH, show
from arcstack.views.angles import about_dead_centre
from arcstack.views.rows import shown
from arcstack.web.kit import asked
from arcstack.web.kit.change import accept
from arcstack.web.kit.session import assessed, current_sitting, current_system, start_sitting, workshop
from arcstack.web.stages.cam.events import tables
from arcstack.web.stages.cam.motion import motion_rows

blueprint = Blueprint(
    "cam", __name__, url_prefix="/builds/<int:build_id>/<side:side>/curve", template_folder="templates"
)

E = TypeVar("E", AngleUnit, LiftUnit, Direction, Place, Hand)


MOST_BASE_MM = 100.0

LIFT_TABLE = "lift table"
"""What an instrument is named for that a lift table was taken with."""


def _choice(kind: type[E], name: str) -> E | None:
    word = request.form.get(name, "")
    return kind(word) if word in tuple(kind) else None


def _base() -> float | None:
    """The base circle's reading where the reader was corrected, in mm."""
    return asked.some_figure(request.form, "base_mm", MOST_BASE_MM)


def _table() -> str | bytes:
    """The dropped file where there is one, else the pasted text."""
    upload = request.files.get("file")
    if upload is not None and upload.filename:
        # it is asked for more than once while one form is answered
        upload.stream.seek(0)
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


@blueprint.post("/read")
def read(build_id: int, side: str) -> str:
    """Show what was understood of a table; nothing is stored."""
    reading = _read()
    text = _table()
    shown = text if isinstance(text, str) else text_table.shown(text) if reading.rows else ""
    parts: dict[str, object] = {}
    sitting = current_sitting(LIFT_TABLE)
    if reading.sound:
        smoothed = cam.smoothed(_curve(reading), Hand.USUAL)
        found = cam.facts_of(smoothed)
        parts = {
            "picture": reading_picture(
                np.array(reading.cam_rad), np.array(reading.lift_mm), smoothed, current_system()
            ),
            "smoothed": smoothed,
            "found": found,
        }
    return render_template(
        "cam/understood.html",
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
    reading = _read()
    if not reading.sound:
        return make_response(read(build_id, side), 422)
    curve = _curve(reading).model_copy(update={"by": _taken_by()})
    return _saved(build_id, side, curve, Kind.CURVE_TAKEN)


@blueprint.post("/sign")
def sign(build_id: int, side: str) -> Response:
    """Say afterwards with what instrument, and by whom, the curve in the build was taken. 404 without one."""
    curve = workshop().open(build_id).build.side(side).cam.curve
    if curve is None:
        abort(404)
    by = _taken_by()
    if by is None:
        words = "Name the instrument and the hand, each with at most 80 characters."
        return make_response(render_template("parts/notice.html", title="Who took it?", message=words), 422)
    return _saved(
        build_id, side, curve.model_copy(update={"by": by, "taken_with": (), "outdated": ""}), Kind.CURVE_SIGNED
    )


def _taken_by() -> Sitting | None:
    """Instrument and hand from the form, remembered for the sitting; None where either is missing."""
    hand, instrument = asked.name(request.form, "hand"), asked.name(request.form, "instrument")
    if not hand or not instrument:
        return None
    start_sitting(hand, instrument, LIFT_TABLE)
    return current_sitting(LIFT_TABLE)


@blueprint.post("/drop")
def drop(build_id: int, side: str) -> Response:
    """Go back to the card's estimate; the curve stays in the revisions."""
    return _saved(build_id, side, None, Kind.CURVE_DROPPED)


def _saved(build_id: int, side: str, curve: MeasuredCurve | None, kind: Kind) -> Response:
    accept(build_id, lambda build: (set_curve(build, side, curve), Reason(kind, f"{side}.cam.curve")))
    response = make_response("", 204)
    response.headers["HX-Refresh"] = "true"
    return response


@blueprint.get("/export.csv")
def export(build_id: int, side: str) -> Response:
    """The curve at the valve as CSV. 404 while there is none."""
    current = workshop().open(build_id)
    curve = known(lambda: cam.curve(assessed(current).sides[side]))
    if curve is None:
        abort(404)
    response = Response(write_curve(curve.valve, f"{current.build.name}, {side}"), mimetype="text/csv")
    response.headers["Content-Disposition"] = f'attachment; filename="{side}-lift.csv"'
    return response


@blueprint.get("/events")
def events(build_id: int, side: str) -> str:
    """The events with the phaser anywhere in its range."""
    advance = float(np.radians(asked.figure(request.args, "advance", 0.0, -90.0, 90.0)))
    ctx = assessed(workshop().open(build_id)).sides[side]
    return render_template("cam/_events.html", event_tables=tables(ctx, advance, current_system()))


@blueprint.get("/motion")
def motion_at(build_id: int, side: str) -> str:
    """Velocity, acceleration and jerk at a speed chosen on the page."""
    rpm = asked.figure(request.args, "rpm", 6000.0, 0.0, 20000.0)
    ctx = assessed(workshop().open(build_id)).sides[side]
    return render_template("cam/_motion.html", motion_rows=motion_rows(ctx, rpm))


_RATIO = (0.0, 100.0)
"""What the slider can ask."""


@blueprint.get("/ratio")
def ratio(build_id: int, side: str) -> str:
    """What another follower ratio would do to lift, motion and every check of this side."""
    current = workshop().open(build_id)
    build = current.build
    ratio = asked.figure(request.args, "ratio", 1.0, *_RATIO)
    lever = "rocker" if build.engine.follower is FollowerKind.ROCKER else "finger"
    try:
        tried = change(build, f"{side}.follower.{lever}.ratio", f"{ratio:.4f}")
    except FieldError as error:
        return render_template("cam/_ratio.html", told=error.message, rows=[], shapes=[])
    before = assessed(current)
    after = assess(tried, before=before)
    return render_template(
        "cam/_ratio.html", told="", rows=_moved(before, after, side), shapes=_shapes(before, after, side)
    )


@blueprint.get("/longer")
def longer_lobe(build_id: int, side: str) -> str:
    """What a longer lobe would do to every check, the events held that the page names."""
    current = workshop().open(build_id)
    by = asked.figure(request.args, "by", 0.0, -30.0, 60.0)
    wanted = request.args.get("held", "")
    held = Held(wanted) if wanted in tuple(Held) else Held.OVERLAP
    before = assessed(current)
    try:
        after = assess(longer(current.build, side, math.radians(by), held), before=before)
    except MissingInput as told:
        return render_template("cam/_longer.html", told=told.why, sides=[], events=[])
    sides = [(name, _moved(before, after, name)) for name in SIDES]
    return render_template("cam/_longer.html", told="", sides=sides, events=_events_held(before, after, side))


def _events_held(before: Assessment, after: Assessment, side: str) -> list[tuple[str, str, str]]:
    """Opening, closing and overlap, now and then."""
    rows = []
    for label, take in (("Opens", "opens_rad"), ("Closes", "closes_rad")):
        found = []
        for assessment in (before, after):
            ctx = assessment.sides[side]
            events = known(lambda: timing.events(ctx, placed.centre_lift_mm(ctx)))  # noqa: B023
            found.append("–" if events is None else about_dead_centre(math.degrees(getattr(events, take))))
        rows.append((label, found[0], found[1]))
    return rows


def _moved(before: Assessment, after: Assessment, side: str) -> list[tuple[str, Verdict, Verdict, str, str]]:
    """Every check whose figure another ratio changes: the checks it reopens."""
    old = {v.id: v for v in before.tightest_first(side)}
    rows = []
    for now in after.tightest_first(side):
        was = old.get(now.id)
        texts = [str(shown(v.figure, current_system())) if v and v.figure else "–" for v in (was, now)]
        if was is not None and texts[0] != texts[1]:
            rows.append((now.title, was, now, *texts))
    return rows  # type: ignore[return-value]


def _shapes(before: Assessment, after: Assessment, side: str) -> list[tuple[str, str, str]]:
    """Lift, velocity and duration at 1 mm of the valve, now and then."""
    found = []
    for label, work in _RATIO_SHAPES:
        was, would = (known(partial(work, assessment.sides[side])) or "–" for assessment in (before, after))
        found.append((label, was, would))
    return found


def _gross(ctx: Context) -> str:
    return str(show(cam.gross_lift(ctx).value, LENGTH, current_system()))


def _velocity(ctx: Context) -> str:
    return f"{cam.steepest_mm_per_rad(ctx):.2f} mm/rad"


def _duration(ctx: Context) -> str:
    return str(show(timing.events_net(ctx).duration_rad, ANGLE))


_RATIO_SHAPES = (
    ("Lift before lash", _gross),
    ("Velocity at the valve, most", _velocity),
    ("Duration at 1 mm net", _duration),
)
