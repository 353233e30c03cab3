"""Both centrelines slid, a tooth out, a cut head: what it would do, with nothing stored."""

import math

from flask import Blueprint, abort, render_template, request

from arcstack.assess import Assessment, cam, checks, timing
from arcstack.assess.check import Mover
from arcstack.assess.context import Context
from arcstack.checks import Verdict
from arcstack.document import SIDES, Build, amount, change
from arcstack.document.parts import FollowerKind
from arcstack.errors import FieldError, NotKnown
from arcstack.mech import timing as timing_model
from arcstack.mech.cam.facts import facts
from arcstack.units import ANGLE, LENGTH, show
from arcstack.web import asked
from arcstack.web.session import assessed, current_system, workshop
from arcstack.web.view.events import centreline_deg
from arcstack.web.view.margins import margins

blueprint = Blueprint("whatif", __name__, url_prefix="/builds/<int:build_id>/<side>/what-if")

_TEETH, _CUT_MM, _RATIO = (-5.0, 5.0), (-5.0, 5.0), (0.0, 100.0)
"""What the sliders can ask."""


@blueprint.get("", endpoint="show")
def show_page(build_id: int, side: str) -> str:
    if side not in SIDES:
        abort(404)
    build = workshop().open(build_id).build
    tried, told = _tried(build)
    before, after = assessed(build), assessed(tried)
    rows = [row for s in SIDES for row in _rows(before, after, s)]
    return render_template("stages/_whatif.html", rows=rows, told=told, closing=closing(after.sides["intake"]))


def _tried(build: Build) -> tuple[Build, list[str]]:
    """The build with both cams moved as asked, and what was done in words."""
    told: list[str] = []
    retard, words = _drive(build)
    told += words
    for side in SIDES:
        held = centreline_deg(build, side)
        if held is None:
            continue
        wanted = asked.figure(request.args, side, held, 0.0, 360.0)
        # later is a larger intake centreline (after TDC) and a smaller exhaust one (before TDC)
        moved = wanted + retard if side == "intake" else wanted - retard
        try:
            build = change(build, f"{side}.cam.centreline", f"{moved:.3f} deg")
        except FieldError as error:
            told.append(error.message)
    cut = asked.figure(request.args, "cut", 0.0, *_CUT_MM)
    if cut:
        held_cut = amount(build.engine.milling) or 0.0
        try:
            build = change(build, "engine.milling", f"{held_cut + cut:.3f} mm")
        except FieldError as error:
            told.append(error.message)
    return build, told


def _drive(build: Build) -> tuple[float, list[str]]:
    """Crank degrees both cams come late by teeth and by a cut, and the words for it."""
    teeth, pitch = build.engine.sprocket_teeth, build.engine.drive_pitch
    tooth = round(asked.figure(request.args, "tooth", 0.0, *_TEETH))
    cut = asked.figure(request.args, "cut", 0.0, *_CUT_MM)
    if not (tooth or cut):
        return 0.0, []
    if teeth is None or (cut and pitch is None):
        return 0.0, ["Give the cam sprocket’s teeth and the belt or chain pitch (Cam stage) for teeth and cuts."]
    late = tooth * math.degrees(timing_model.tooth_rad(teeth.value))
    if cut and pitch is not None:
        late += math.degrees(timing_model.milling_retard_rad(cut, teeth.value, pitch.value))
    return late, [f"Both cams {abs(late):.1f} crank degrees {'late' if late >= 0 else 'early'}."]


def _rows(before: Assessment, after: Assessment, side: str) -> list[tuple[str, str, Verdict, Verdict, str, str]]:
    system = current_system()
    old = {g.verdict.id: g for g in margins(before, side, system)}
    new = {g.verdict.id: g for g in margins(after, side, system)}
    rows = []
    for check in (c.id for c in checks().values() if Mover.TIMING in c.moved_by and not (c.head and side == "exhaust")):
        a, b = old[check], new[check]
        rows.append((b.verdict.title, side, a.verdict, b.verdict, str(a.shown or "–"), str(b.shown or "–")))
    return rows


def closing(ctx: Context) -> str:
    """Intake closing at 1 mm net lift, in words; empty while there is no curve."""
    try:
        events = timing.events(ctx, 1.0 + cam.lash(ctx).value)
    except (NotKnown, ValueError):
        return ""
    return f"{show(events.closes_rad - math.pi, ANGLE)} after BDC"


@blueprint.get("/ratio")
def ratio(build_id: int, side: str) -> str:
    """What another follower ratio would do to lift, motion and every check of this side."""
    if side not in SIDES:
        abort(404)
    build = workshop().open(build_id).build
    ratio = asked.figure(request.args, "ratio", 1.0, *_RATIO)
    lever = "rocker" if build.engine.follower is FollowerKind.ROCKER else "finger"
    try:
        tried = change(build, f"{side}.follower.{lever}.ratio", f"{ratio:.4f}")
    except FieldError as error:
        return render_template("stages/_ratio.html", told=error.message, rows=[], shapes=[])
    before, after = assessed(build), assessed(tried)
    return render_template(
        "stages/_ratio.html", told="", rows=_moved(before, after, side), shapes=_shapes(before, after, side)
    )


def _moved(before: Assessment, after: Assessment, side: str) -> list[tuple[str, Verdict, Verdict, str, str]]:
    """Every check whose figure another ratio changes: the checks it reopens."""
    system = current_system()
    old = {g.verdict.id: g for g in margins(before, side, system)}
    rows = []
    for g in margins(after, side, system):
        was = old.get(g.verdict.id)
        if was is not None and str(was.shown) != str(g.shown):
            rows.append((g.verdict.title, was.verdict, g.verdict, str(was.shown or "–"), str(g.shown or "–")))
    return rows


def _shapes(before: Assessment, after: Assessment, side: str) -> list[tuple[str, str, str]]:
    """Lift, velocity and duration at 1 mm of the valve, now and then."""
    found = []
    for label, work in _RATIO_SHAPES:
        texts = []
        for assessment in (before, after):
            try:
                texts.append(work(assessment.sides[side]))
            except (NotKnown, ValueError):
                texts.append("–")
        found.append((label, texts[0], texts[1]))
    return found


def _gross(ctx: Context) -> str:
    return str(show(cam.gross_lift(ctx).value, LENGTH, current_system()))


def _velocity(ctx: Context) -> str:
    return f"{facts(cam.curve(ctx).valve).peak_velocity_mm_per_rad:.2f} mm/rad"


def _duration(ctx: Context) -> str:
    return str(show(timing.events(ctx, 1.0 + cam.lash(ctx).value).duration_rad, ANGLE))


_RATIO_SHAPES = (
    ("Lift before lash", _gross),
    ("Velocity at the valve, most", _velocity),
    ("Duration at 1 mm net", _duration),
)
