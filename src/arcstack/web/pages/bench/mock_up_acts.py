"""What a hand does at a mock-up, read from its form: each act makes one event, or says why it cannot."""

import math
from collections.abc import Callable

from flask import request

from arcstack.assess import piston
from arcstack.assess.context import known
from arcstack.document import SIDES, Sitting
from arcstack.errors import FieldError, QuantityError
from arcstack.readings import Event
from arcstack.readings.mock_up import (
    ADJUSTERS,
    EDGES,
    Bearing,
    Between,
    Clay,
    Closed,
    Kept,
    Lifted,
    LobeRoom,
    MockUp,
    Moved,
    Pass,
    Pushed,
    Slack,
    Stood,
    StopMet,
    StopOut,
    Withdrawn,
)
from arcstack.readings.taking import place_called
from arcstack.trials.timed import card_flanks, timed
from arcstack.units import ANGLE, LENGTH, Dimension, parse, show
from arcstack.web.kit.session import current_hand, current_system
from arcstack.web.pages.bench.shown import Head

MOST_ANGLE, MOST_APART = math.radians(120.0), math.radians(30.0)
MOST_SLACK = math.radians(20.0)
MOST_CURVE = math.radians(400.0)
MOST_BEARINGS, MOST_SPRINGS, MOST_OVER_MM = 12, 200, 1.5
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
    if phaser != 0.0 and not held:
        raise FieldError("held", "What holds the phaser there? One that drifts tells nothing.")
    adjusters = request.form.get("adjusters", ADJUSTERS[0])
    if adjusters not in ADJUSTERS:
        raise FieldError("adjusters", "Hydraulic adjusters are none, solid or soft.")
    return Stood(0, here.side, lash, used, crushed, phaser, held, by_hand, plugs, springs, _by(), adjusters)


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
    radial = _amount("radial", "Room around the valve", LENGTH) if request.form.get("radial", "").strip() else None
    if radial is not None and not 0.0 <= radial <= 15.0:
        raise FieldError("radial", "Room around the valve lies between nought and 15 mm.")
    edge = request.form.get("edge", "")
    if edge and edge not in EDGES:
        raise FieldError("edge", f"A pocket’s edge is {', '.join(EDGES)}.")
    place = place_called(here.sheet, request.form.get("place", "")).label
    along = request.form.get("cut") == "cylinder"
    _gap_can_be(here, mock, imprint)
    return Clay(0, here.side, place, imprint, along, _by(), radial, edge)


def _gap_can_be(here: Head, mock: MockUp, imprint: float) -> None:
    """Raise ``FieldError`` for an imprint thicker than the gap can be: of a place other than the thinnest."""
    assert mock.stood is not None
    model = known(lambda: piston.pair(here.design.sides[here.side]))
    if model is None or request.form.get("sure") == "1":
        return
    most = model.least_gap(mock.stood.phaser_rad, mock.stood.phaser_rad, mock.stood.lash_mm).gap_mm
    if imprint > most + MOST_OVER_MM:
        told = (
            f"The model leaves {show(most, LENGTH, current_system())} there: is that the thinnest place, and was the "
        )
        raise FieldError("imprint", f"{told}gasket between them? Tick that it is so.")


def _withdrawn(here: Head, mock: MockUp) -> Event:
    text = request.form.get("event", "").strip()
    standing = {n.number for taken in (mock.passes, mock.pushes, mock.clays) for n in taken}
    if not text.isdecimal() or int(text) not in standing:
        raise FieldError("event", "That reading stands no more: there is nothing to take back.")
    return Withdrawn(0, here.side, int(text), _by())


def _slack(here: Head, mock: MockUp) -> Event:
    _timed_from(mock)
    forward, back = _angle("forward", "Come to forward"), _angle("back", "Come to backward")
    if abs(forward - back) > MOST_SLACK:
        raise FieldError("back", "So far apart they are not one event: read the same flank both ways.")
    return Slack(0, here.side, forward, back, _by())


def _lifted(here: Head, mock: MockUp) -> Event:
    _timed_from(mock)
    crank, lift = _amount("crank", "Crank angle", ANGLE), _amount("lift", "Lift", LENGTH)
    place, anew = place_called(here.sheet, request.form.get("place", "")).label, request.form.get("anew") == "1"
    if abs(crank) > MOST_CURVE or not 0.0 <= lift <= 25.0:
        raise FieldError("crank", "Crank degrees after gas-exchange TDC, − before it; lift from nought to 25 mm.")
    run = () if anew else mock.lifted
    if run and place != run[-1].place:
        raise FieldError("place", f"This run is of {run[-1].place}: begin anew for another valve.")
    if run and crank <= run[-1].crank_rad:
        words = "Turned back, or out of order: the chain’s slack is in it."
        raise FieldError("crank", f"{words} Go round and come to it forward, or begin anew.")
    if run and mock.stood_for.get(run[-1].number) != mock.stood:
        raise FieldError("crank", "The engine stands otherwise than when this run began: begin anew.")
    return Lifted(0, here.side, place, crank, lift, anew or not run, _by())


def _between(here: Head, mock: MockUp) -> Event:
    _stands(mock)
    both = [here.sheet.mock_up(side).stood for side in SIDES]
    if both[0] is None or both[1] is None:
        raise FieldError("stand", "Say how both sides stand first: both lashes and both phasers count.")
    gap = _amount("gap", "Gap between the heads", LENGTH)
    if not 0.0 <= gap <= 30.0:
        raise FieldError("gap", "A gap between two heads lies between nought and 30 mm.")
    places = [place_called(here.sheet, request.form.get(name, "")) for name in ("inlet", "outlet")]
    if places[0].side == places[1].side or places[0].cylinder != places[1].cylinder:
        raise FieldError("inlet", "An intake and an exhaust valve of one cylinder: the others never meet.")
    first, second = sorted(places, key=lambda p: SIDES.index(p.side))
    phasers, lashes = [s.phaser_rad for s in both if s], [s.lash_mm for s in both if s]
    return Between(0, first.label, second.label, gap, phasers[0], phasers[1], lashes[0], lashes[1], _by())


def _bearing(here: Head, mock: MockUp) -> Event:
    text = request.form.get("bearing", "").strip()
    if not text.isdigit() or not 1 <= int(text) <= MOST_BEARINGS:
        raise FieldError("bearing", f"Bearings are counted from the drive, 1 to {MOST_BEARINGS}.")
    runout = _amount("runout", "Runout", LENGTH)
    if not 0.0 <= runout <= 2.0:
        raise FieldError("runout", "Runout is the whole swing of the dial, between nought and 2 mm.")
    return Bearing(0, here.side, int(text), runout, request.form.get("spins") == "1", _by())


def _room(here: Head, mock: MockUp) -> Event:
    room = _amount("room", "Lobe to head", LENGTH)
    if not 0.0 <= room <= 30.0:
        raise FieldError("room", "Room between a lobe and the head lies between nought and 30 mm.")
    return LobeRoom(0, here.side, place_called(here.sheet, request.form.get("place", "")).label, room, _by())


def _closed(here: Head, mock: MockUp) -> Event:
    if mock.stood is None:
        raise FieldError("stand", "Nothing was begun that could be taken down.")
    if mock.stop_in:
        raise FieldError("stop", "The positive stop is still in: take it out and say so. It bends rods.")
    counts = []
    for name, label in (("springs_in", "Checking springs that went in"), ("springs_out", "that came out")):
        text = request.form.get(name, "").strip()
        if not text.isdigit() or int(text) > MOST_SPRINGS:
            raise FieldError(name, f"{label}: count them.")
        counts.append(int(text))
    free, bolts = (request.form.get(name) == "1" for name in ("phaser_free", "bolts_marked"))
    source = " ".join(request.form.get("bolts_source", "").split())[:120]
    if bolts and not source:
        raise FieldError(
            "bolts_source", "By which figure? The engine maker’s data names the torque, this page does not."
        )
    return Closed(0, here.side, counts[1], counts[0], free, bolts, source, _by())


ACTS: dict[str, Callable[[Head, MockUp], Event]] = {
    "stand": _stood, "stop": _stop, "out": _out, "pass": _pass, "moved": _moved, "keep": _kept, "push": _pushed,
    "clay": _clay, "between": _between, "bearing": _bearing, "room": _room, "close": _closed,
    "lift": _lifted, "slack": _slack, "withdraw": _withdrawn,
}  # fmt: skip
