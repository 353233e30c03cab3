"""The engine of a lesson turned by hand on the page: wheel, dial, stop, slack and parallax."""

import math
from dataclasses import astuple
from typing import Any

from flask import Blueprint, abort, render_template, request, session

from arcstack.document import Entry
from arcstack.drawings.degree_wheel import degree_wheel
from arcstack.errors import NotKnown
from arcstack.readings.event import of_kind
from arcstack.readings.learning import Mocked, truth
from arcstack.readings.mock_up import Moved
from arcstack.trials.turned import EYES, Turned, shown, spoken
from arcstack.units import LENGTH, show
from arcstack.web.kit import asked
from arcstack.web.kit.session import current_system, workshop
from arcstack.web.pages.bench.shown import Head, head

blueprint = Blueprint("turning", __name__, url_prefix="/builds/<int:build_id>/<side:side>/bench/turn")

STEPS = (-5.0, -1.0, 0.2, 1.0, 5.0, 30.0)
"""What the buttons turn it by, crank degrees."""

MOST_TURN, PUSHED_WITHIN = 720.0, math.radians(60.0)


def _hidden(here: Head) -> Mocked | None:
    taught = here.sheet.taught
    if taught is None or taught.ended:
        return None
    return truth(here.sheet.build, taught.lesson, taught.seed).mocked


def _key(here: Head) -> str:
    return f"turned {here.current.id}"


def _stands(here: Head) -> Turned:
    """How the engine stands in this browser."""
    held = session.get(_key(here))
    if not isinstance(held, list) or len(held) != len(astuple(Turned())):
        return Turned()
    crank, ahead, stop_in, eye, met = held
    made = Turned(float(crank), float(ahead), bool(stop_in), str(eye), bool(met))
    return made if made.eye in EYES else Turned()


def engine(here: Head) -> dict[str, Any] | None:
    """What the panel of a lesson shows; None where there is none."""
    hidden = _hidden(here)
    if hidden is None:
        return None
    stands, mock = _stands(here), here.sheet.mock_up(here.side)
    moved = math.fsum(e.cam_rad for e in of_kind(here.sheet.events, Moved) if e.side == here.side)
    entry = here.design.sides[here.side].side.cam.lash
    lash = mock.stood.lash_mm if mock.stood is not None else entry.value if isinstance(entry, Entry) else 0.0
    try:
        found = shown(here.design.sides[here.side], hidden, stands, moved, lash)
    except NotKnown:
        return None
    system = current_system()
    lift = str(show(found.lift_mm, LENGTH, system))
    near = abs(stands.crank_rad) <= PUSHED_WITHIN
    return {
        "stands": stands, "wheel": spoken(found.wheel_rad), "lift": lift, "steps": STEPS, "eyes": EYES,
        "travel": str(show(found.travel_mm, LENGTH, system)) if near else "",
        "drawing": degree_wheel(found.wheel_rad, found.lift_mm, f"Wheel {spoken(found.wheel_rad)}, dial {lift}"),
    }  # fmt: skip


@blueprint.post("")
def turn(build_id: int, side: str) -> str:
    """Turn the engine, put the stop in or take it out, look from elsewhere."""
    here = head(workshop().open(build_id), side)
    hidden = _hidden(here)
    if hidden is None:
        abort(404)
    stands = _stands(here)
    by = asked.figure(request.form, "by", 0.0, -MOST_TURN, MOST_TURN)
    if request.form.get("stop") in ("in", "out"):
        stands = stands.with_stop(request.form["stop"] == "in", hidden)
    if request.form.get("eye") in EYES:
        stands = Turned(stands.crank_rad, stands.ahead_rad, stands.stop_in, request.form["eye"], stands.met)
    if by:
        stands = stands.by(math.radians(by), hidden)
    session[_key(here)] = list(astuple(stands))
    return render_template("bench/_turned.html", engine=engine(here), build_id=build_id, side=side)
