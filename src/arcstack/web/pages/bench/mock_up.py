"""The mock-up on the page: how the engine stands, true TDC, both flanks, what to move, valve to piston as pushed."""

import math
from collections.abc import Callable

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.document import Entry, Sitting
from arcstack.errors import FieldError, NotKnown, QuantityError
from arcstack.readings import Event
from arcstack.readings.mock_up import Clay, Kept, MockUp, Moved, Pass, Pushed, Stood, StopMet, StopOut
from arcstack.readings.taking import place_called
from arcstack.trials.timed import Gaps, Timed, card_flanks, gaps, timed
from arcstack.units import ANGLE, LENGTH, Dimension, parse, show
from arcstack.web.drawings.gear_turn import gear_turn
from arcstack.web.kit import links
from arcstack.web.kit.session import bench, current_hand, current_system, current_who, workshop
from arcstack.web.pages.bench.shown import Head, around_bench, head

blueprint = Blueprint("mock_up", __name__, url_prefix="/builds/<int:build_id>/<side:side>/bench/mock-up")

SLOT_MM, MOST_ANGLE, MOST_APART = 40.0, math.radians(120.0), math.radians(30.0)
CAM_DEGREES_WITHIN, LEAST_EVENT = math.radians(1.5), math.radians(6.0)


def _amount(name: str, label: str, dimension: Dimension, otherwise: str = "") -> float:
    """A figure of the form. Raises ``FieldError`` where it is none."""
    text = request.form.get(name, "").strip() or otherwise
    if not text:
        raise FieldError(name, f"{label} is empty.")
    try:
        return parse(text, dimension, dimension.unit(current_system())).value
    except QuantityError as error:
        raise FieldError(name, f"{label}: {error}") from error


def _angle(name: str, label: str) -> float:
    found = _amount(name, label, ANGLE)
    if abs(found) > MOST_ANGLE:
        raise FieldError(
            name, f"{label} lies further from a dead centre than an event can: read the wheel from that one."
        )
    return found


def _by() -> Sitting:
    by = current_hand()
    if by.hand == "workshop":
        raise FieldError("hand", "Whose hand turns it? A reading has a name.")
    return by.model_copy(update={"instrument": by.instrument or "degree wheel and dial"})


def _stands(mock: MockUp) -> None:
    """Raise ``FieldError`` while the engine is not to be turned yet."""
    if mock.stood is None:
        raise FieldError(
            "stand", "Say first how the engine stands: lash, gasket, phaser, and that it is turned by hand."
        )
    if mock.stood.wanting:
        raise FieldError("stand", f"Not yet: {', '.join(mock.stood.wanting)}.")


def _timed_from(mock: MockUp) -> None:
    _stands(mock)
    if mock.error_rad is None:
        raise FieldError("stop", "True TDC first: every angle stands on it.")
    if mock.stop_in:
        raise FieldError("stop", "The positive stop is still in: take it out and say so. It bends rods.")


def _stood(here: Head, mock: MockUp) -> Event:
    lash, phaser = _amount("lash", "Lash set", LENGTH), _amount("phaser", "Phaser at", ANGLE, "0 deg")
    used, crushed = (
        _amount("gasket_used", "Gasket as it lies", LENGTH),
        _amount("gasket_crushed", "Gasket, crushed", LENGTH),
    )
    if not (0.0 <= lash <= 1.5 and 0.0 <= used <= 4.0 and 0.0 < crushed <= 4.0):
        raise FieldError("lash", "Lash lies between 0 and 1.5 mm, a gasket below 4 mm; none is 0.")
    by_hand, plugs, springs = (request.form.get(name) == "1" for name in ("by_hand", "plugs_out", "light_springs"))
    held = " ".join(request.form.get("held", "").split())[:80]
    return Stood(0, here.side, lash, used, crushed, phaser, held, by_hand, plugs, springs, _by())


def _stop(here: Head, mock: MockUp) -> Event:
    _stands(mock)
    before, after = _angle("before", "Stop before TDC"), _angle("after", "Stop after TDC")
    if before <= 0.0 or after <= 0.0:
        raise FieldError("before", "A stop is met on both sides of TDC: each angle from TDC, above nought.")
    if abs(before - after) > MOST_APART:
        raise FieldError("before", "So far apart they cannot be the same stop met both ways: is one read from BDC?")
    return StopMet(0, before, after, _by())


def _out(here: Head, mock: MockUp) -> Event:
    return StopOut(0, _by())


def _pass(here: Head, mock: MockUp) -> Event:
    _timed_from(mock)
    assert mock.stood is not None
    if request.form.get("turned_back") == "1":
        raise FieldError(
            "turned_back", "Turned back, the chain’s slack is in it: go round 720° and come to each event forward."
        )
    lift, returned = (
        _amount("check_lift", "Check lift", LENGTH, "1 mm"),
        _amount("returned", "Dial back at", LENGTH, "0 mm"),
    )
    near, far = _angle("by_tdc", "Event by TDC"), _angle("by_bdc", "Event by BDC")
    highest = _amount("highest", "Highest lift", LENGTH) if request.form.get("highest", "").strip() else None
    if not 0.02 <= lift <= 8.0 or (highest is not None and (highest <= lift or highest > 25.0)):
        raise FieldError(
            "check_lift", "The valve never passes that check lift: both flanks lie below the highest lift."
        )
    own = card_flanks(here.design.sides[here.side], lift, mock.stood.lash_mm, mock.stood.phaser_rad)
    pairs = ((near, own.by_tdc), (far, own.by_bdc))
    if request.form.get("sure") != "1" and all(
        abs(of) > LEAST_EVENT and abs(read - of / 2.0) < CAM_DEGREES_WITHIN for read, of in pairs
    ):
        raise FieldError(
            "by_tdc", "Both are half of the card’s: cam degrees? The wheel on the crank shows twice as much."
        )
    place = place_called(here.sheet, request.form.get("place", "")).label
    return Pass(0, here.side, place, lift, near, far, highest, abs(returned), _by())


def _moved(here: Head, mock: MockUp) -> Event:
    turn = _amount("turned", "Turned by", ANGLE)
    if not 0.0 < abs(turn) < math.radians(30.0):
        raise FieldError("turned", "By how many cam degrees was it turned? Positive the way it runs.")
    return Moved(0, here.side, turn, _by())


def _kept(here: Head, mock: MockUp) -> Event:
    found = timed(here.design.sides[here.side], mock)
    reason = " ".join(request.form.get("reason", "").split())
    if found.advance_rad is None:
        raise FieldError("reason", "There is no timing to keep yet: read both flanks first.")
    if len(reason) < 3:
        raise FieldError("reason", "Why is it kept? A decision has a reason.")
    return Kept(0, here.side, found.advance_rad, reason[:200], _by())


def _pushed(here: Head, mock: MockUp) -> Event:
    _timed_from(mock)
    crank, travel = _amount("crank", "Crank angle", ANGLE), _amount("travel", "Travel to the piston", LENGTH)
    lift = _amount("lift", "Lift there", LENGTH) if request.form.get("lift", "").strip() else None
    if abs(crank) > math.radians(60.0) or not 0.0 <= travel <= 40.0 or (lift is not None and not 0.0 <= lift <= 25.0):
        raise FieldError("crank", "Within 60° of TDC, negative before it; travel and lift are not below nought.")
    return Pushed(
        0, here.side, place_called(here.sheet, request.form.get("place", "")).label, crank, travel, lift, _by()
    )


def _clay(here: Head, mock: MockUp) -> Event:
    _stands(mock)
    imprint = _amount("imprint", "Thinnest of the imprint", LENGTH)
    if not 0.0 < imprint <= 15.0:
        raise FieldError("imprint", "An imprint lies between nought and 15 mm: nought means they touched.")
    place = place_called(here.sheet, request.form.get("place", "")).label
    return Clay(0, here.side, place, imprint, request.form.get("cut") == "cylinder", _by())


ACTS: dict[str, Callable[[Head, MockUp], Event]] = {
    "stand": _stood, "stop": _stop, "out": _out, "pass": _pass, "moved": _moved, "keep": _kept, "push": _pushed,
    "clay": _clay,
}  # fmt: skip


@blueprint.get("")
def index(build_id: int, side: str) -> str:
    return _page(build_id, side)


def _page(build_id: int, side: str, wrong: str = "", act: str = "") -> str:
    here = head(workshop().open(build_id), side)
    if not here.sheet.places:
        return render_template("bench/nowhere.html", **around_bench(here, "mock_up", "Mock-up"))
    mock, ctx, why = here.sheet.mock_up(side), here.design.sides[side], ""
    found: Timed | None = None
    measured: list[tuple[str, Gaps]] = []
    try:
        found = timed(ctx, mock)
        own = [p.label for p in here.sheet.places if p.side == side]
        measured = [(label, g) for label in own if (g := gaps(ctx, mock, label)) is not None]
    except NotKnown as error:
        why = ", ".join(m.label.lower() for m in error.missing) or error.why
    system = current_system()

    def deg(value: float) -> str:
        return str(show(value, ANGLE, system))

    def mm(value: float) -> str:
        return str(show(value, LENGTH, system))

    return render_template(
        "bench/mock_up.html",
        **around_bench(here, "mock_up", "Mock-up"),
        mock=mock,
        found=found,
        measured=measured,
        own_places=[p for p in here.sheet.places if p.side == side],
        why=why,
        wrong=wrong,
        act=act,
        typed=request.form if wrong else {},
        words=_moves(found, mock) if found else [],
        drawing=gear_turn(found.turn_cam_rad, "the way the camshaft is turned within its gear")
        if found and found.advance_rad and abs(found.turn_cam_rad) > 1e-4
        else None,
        deg=deg,
        mm=mm,
        intake=side == "intake",
        hand=current_who().name,
        gasket=_gasket(here),
        lash=_lash(here),
    )


def _gasket(here: Head) -> str:
    entry = here.current.build.engine.gasket
    return str(show(entry.value, LENGTH, current_system())) if isinstance(entry, Entry) else ""


def _lash(here: Head) -> str:
    entry = here.design.sides[here.side].side.cam.lash
    return str(show(entry.value, LENGTH, current_system())) if isinstance(entry, Entry) else ""


def _moves(found: Timed, mock: MockUp) -> list[str]:
    """What a mock-up says of the cam, and what to do about it, in words."""
    if found.advance_rad is None or found.points is None:
        return []
    system = current_system()
    early = "advanced" if found.advance_rad > 0 else "retarded"
    told = [f"{show(abs(found.advance_rad), ANGLE, system)} {early}: {found.points.value}."]
    if found.teeth:
        count = f"{abs(found.teeth)} {'tooth' if abs(found.teeth) == 1 else 'teeth'}"
        told.append(f"That is {count} of its gear: look there before any slot.")
    turn = found.turn_cam_rad
    if found.points.name in ("GEAR", "AS_CARD") and abs(turn) > math.radians(0.1) and not found.teeth:
        way = "the way it runs" if turn > 0 else "against the way it runs"
        by, slot = show(abs(turn), ANGLE, system, 1), show(abs(turn) * SLOT_MM, LENGTH, system)
        told.append(
            f"To the card: crank, chain and gear held, turn the camshaft {by} of cam {way}; at a slot radius of "
            f"{show(SLOT_MM, LENGTH, system)} that is {slot}. Then read again."
        )
    elif found.points.name in ("LASH", "CHECK_LIFT", "RATIO", "ONE_FLANK", "WRONG_CAM", "UNKNOWN"):
        told.append("Leave the gear alone: read lash, check lift, ratio and follower again, in that order.")
    return told


@blueprint.post("")
def take(build_id: int, side: str) -> Response | tuple[str, int]:
    """Take one act of a mock-up: it is added, never changed."""
    here, act = head(workshop().open(build_id), side), request.form.get("act", "")
    try:
        if act not in ACTS:
            raise FieldError("act", "That is no part of a mock-up.")
        bench().happened(build_id, ACTS[act](here, here.sheet.mock_up(side)))
    except FieldError as error:
        return _page(build_id, side, error.message, act), 422
    except NotKnown as error:
        needs = ", ".join(m.label.lower() for m in error.missing) or error.why
        return _page(build_id, side, f"The design lacks what this is held to: {needs}.", act), 422
    return redirect(f"{links.at('mock_up.index', build_id, side)}#{act}")
