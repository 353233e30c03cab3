"""What a hand does at a mock-up: in which order, and what no reading of it can be."""

import math

from arcstack.application.acts.acting import act, by_name, reasoned
from arcstack.application.head import Opened
from arcstack.assess import piston
from arcstack.assess.context import known
from arcstack.document import SIDES, Sitting
from arcstack.errors import FieldError
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
from arcstack.settings import setting
from arcstack.trials.timed import card_flanks, timed
from arcstack.units import LENGTH, System, show

MOST_ANGLE, MOST_PUSH = math.radians(setting("mock_up.most_angle")), math.radians(setting("mock_up.most_push"))
MOST_APART, MOST_SLACK = math.radians(setting("mock_up.stop_apart")), math.radians(setting("mock_up.most_slack"))
MOST_CURVE, MOST_TURN = math.radians(setting("mock_up.most_curve")), math.radians(setting("mock_up.most_turn"))
HALF_WITHIN = math.radians(setting("mock_up.half_within"))
LEAST_EVENT = math.radians(setting("mock_up.least_event"))
LEAST_CHECK_LIFT_MM, MOST_CHECK_LIFT_MM = setting("mock_up.least_check_lift"), setting("mock_up.most_check_lift")
MOST_LASH_MM, MOST_GASKET_MM = setting("mock_up.most_lash"), setting("mock_up.most_gasket")
MOST_LIFT_MM, MOST_TRAVEL_MM = setting("mock_up.most_lift"), setting("mock_up.most_travel")
MOST_IMPRINT_MM, MOST_OVER_MM = setting("mock_up.most_imprint"), setting("mock_up.most_over")
MOST_GAP_MM, MOST_RUNOUT_MM = setting("mock_up.most_gap"), setting("mock_up.most_runout")
MOST_BEARINGS, MOST_SPRINGS = int(setting("mock_up.most_bearings")), int(setting("mock_up.most_springs"))

STOP_IS_IN = "The positive stop is still in: take it out and say so. It bends rods."
STANDS_NO_MORE = "That reading stands no more: there is nothing to take back."
TOOL = "degree wheel and dial"


def _hand(by: Sitting) -> Sitting:
    by_name(by, "Whose hand turns it? A reading has a name.")
    return by.model_copy(update={"instrument": by.instrument or TOOL})


def _mock(head: Opened) -> MockUp:
    return head.sheet.mock_up(head.side)


def _stands(mock: MockUp) -> Stood:
    """How the engine stands. Raises ``FieldError`` while it is not to be turned yet."""
    if mock.stood is None:
        raise FieldError(
            "stand", "Say first how the engine stands: lash, gasket, phaser, and that it is turned by hand."
        )
    if mock.stood.wanting:
        raise FieldError("stand", f"Not yet: {', '.join(mock.stood.wanting)}.")
    return mock.stood


def _timed_from(mock: MockUp) -> Stood:
    """How the engine stands. Raises ``FieldError`` while no angle of it means anything."""
    stood = _stands(mock)
    if mock.error_rad is None:
        raise FieldError("stop", "True TDC first: every angle stands on it.")
    if mock.stop_in:
        raise FieldError("stop", STOP_IS_IN)
    return stood


def _from_dead_centre(name: str, label: str, rad: float) -> None:
    if abs(rad) > MOST_ANGLE:
        raise FieldError(
            name, f"{label} lies further from a dead centre than an event can: read the wheel from that one."
        )


def stand(
    head: Opened, by: Sitting, *, lash_mm: float, gasket_used_mm: float, gasket_crushed_mm: float, phaser_rad: float,
    held_by: str, by_hand_only: bool, plugs_out: bool, light_springs: bool, adjusters: str,
) -> None:  # fmt: skip
    """Say how the engine stands for the readings that follow."""
    lash_is = 0.0 <= lash_mm <= MOST_LASH_MM
    if not (lash_is and 0.0 <= gasket_used_mm <= MOST_GASKET_MM and 0.0 < gasket_crushed_mm <= MOST_GASKET_MM):
        raise FieldError(
            "lash", f"Lash lies between 0 and {MOST_LASH_MM:g} mm, a gasket below {MOST_GASKET_MM:g} mm; none is 0."
        )
    if phaser_rad != 0.0 and not held_by:
        raise FieldError("held", "What holds the phaser there? One that drifts tells nothing.")
    if adjusters not in ADJUSTERS:
        raise FieldError("adjusters", "Hydraulic adjusters are none, solid or soft.")
    stood = Stood(
        0, head.side, lash_mm, gasket_used_mm, gasket_crushed_mm, phaser_rad, held_by, by_hand_only, plugs_out,
        light_springs, _hand(by), adjusters,
    )  # fmt: skip
    act(head, lambda _: [stood])


def meet_stop(head: Opened, by: Sitting, *, before_rad: float, after_rad: float) -> None:
    """Meet the positive stop on both sides of TDC."""

    def decided(now: Opened) -> list[StopMet]:
        _stands(_mock(now))
        _from_dead_centre("before", "Stop before TDC", before_rad)
        _from_dead_centre("after", "Stop after TDC", after_rad)
        if before_rad <= 0.0 or after_rad <= 0.0:
            raise FieldError("before", "A stop is met on both sides of TDC: each angle from TDC, above nought.")
        if abs(before_rad - after_rad) > MOST_APART:
            raise FieldError("before", "So far apart they cannot be the same stop met both ways: is one read from BDC?")
        return [StopMet(0, before_rad, after_rad, _hand(by))]

    act(head, decided)


def take_stop_out(head: Opened, by: Sitting) -> None:
    """Say that the positive stop is out."""
    act(head, lambda _: [StopOut(0, _hand(by))])


def read_flanks(
    head: Opened, by: Sitting, *, place: str, check_lift_mm: float, returned_mm: float, by_tdc_rad: float,
    by_bdc_rad: float, highest_mm: float | None, turned_back: bool, sure: bool,
) -> None:  # fmt: skip
    """Read both flanks of a valve at a check lift. ``sure`` is said where they look like cam degrees."""

    def decided(now: Opened) -> list[Pass]:
        stood = _timed_from(_mock(now))
        if turned_back:
            raise FieldError(
                "turned_back",
                "Turned back, the chain’s slack is in it: go round 720° and come to each event forward.",
            )
        _from_dead_centre("by_tdc", "Event by TDC", by_tdc_rad)
        _from_dead_centre("by_bdc", "Event by BDC", by_bdc_rad)
        passes = highest_mm is None or check_lift_mm < highest_mm <= MOST_LIFT_MM
        if not LEAST_CHECK_LIFT_MM <= check_lift_mm <= MOST_CHECK_LIFT_MM or not passes:
            raise FieldError(
                "check_lift", "The valve never passes that check lift: both flanks lie below the highest lift."
            )
        own = card_flanks(now.design.sides[now.side], check_lift_mm, stood.lash_mm, stood.phaser_rad)
        pairs = ((by_tdc_rad, own.by_tdc), (by_bdc_rad, own.by_bdc))
        if not sure and all(abs(of) > LEAST_EVENT and abs(read - of / 2.0) < HALF_WITHIN for read, of in pairs):
            raise FieldError(
                "by_tdc", "Both are half of the card’s: cam degrees? The wheel on the crank shows twice as much."
            )
        at = place_called(now.sheet, place).label
        returned = abs(returned_mm)
        return [Pass(0, now.side, at, check_lift_mm, by_tdc_rad, by_bdc_rad, highest_mm, returned, _hand(by))]

    act(head, decided)


def move_cam(head: Opened, by: Sitting, *, cam_rad: float) -> None:
    """Say by how much the camshaft was turned in its gear."""
    if not 0.0 < abs(cam_rad) < MOST_TURN:
        raise FieldError("turned", "By how many cam degrees was it turned? Positive the way it runs.")
    act(head, lambda now: [Moved(0, now.side, cam_rad, _hand(by))])


def keep_timing(head: Opened, by: Sitting, *, reason: str) -> None:
    """Keep the timing as it was read, for a reason."""

    def decided(now: Opened) -> list[Kept]:
        found = timed(now.design.sides[now.side], _mock(now))
        if found.advance_rad is None:
            raise FieldError("reason", "There is no timing to keep yet: read both flanks first.")
        why = reasoned(reason, "Why is it kept? A decision has a reason.")
        return [Kept(0, now.side, found.advance_rad, why, _hand(by))]

    act(head, decided)


def push_valve(
    head: Opened, by: Sitting, *, place: str, crank_rad: float, travel_mm: float, lift_mm: float | None
) -> None:
    """Push a valve down to the piston and read its travel."""

    def decided(now: Opened) -> list[Pushed]:
        _timed_from(_mock(now))
        lift_is = lift_mm is None or 0.0 <= lift_mm <= MOST_LIFT_MM
        if abs(crank_rad) > MOST_PUSH or not 0.0 <= travel_mm <= MOST_TRAVEL_MM or not lift_is:
            raise FieldError(
                "crank",
                f"Within {math.degrees(MOST_PUSH):.0f}° of TDC, negative before it; travel and lift are not below "
                "nought.",
            )
        at = place_called(now.sheet, place).label
        return [Pushed(0, now.side, at, crank_rad, travel_mm, lift_mm, _hand(by))]

    act(head, decided)


def read_clay(
    head: Opened, by: Sitting, *, place: str, imprint_mm: float, along_cylinder: bool, radial_mm: float | None,
    edge: str, sure: bool, system: System,
) -> None:  # fmt: skip
    """Read the imprint of a valve in clay. ``sure`` is said where it is thicker than the gap can be."""

    def decided(now: Opened) -> list[Clay]:
        stood = _stands(_mock(now))
        if not 0.0 < imprint_mm <= MOST_IMPRINT_MM:
            raise FieldError(
                "imprint", f"An imprint lies between nought and {MOST_IMPRINT_MM:g} mm: nought means they touched."
            )
        if radial_mm is not None and not 0.0 <= radial_mm <= MOST_IMPRINT_MM:
            raise FieldError("radial", f"Room around the valve lies between nought and {MOST_IMPRINT_MM:g} mm.")
        if edge and edge not in EDGES:
            raise FieldError("edge", f"A pocket’s edge is {', '.join(EDGES)}.")
        at = place_called(now.sheet, place).label
        if not sure:
            _gap_can_be(now, stood, imprint_mm, system)
        return [Clay(0, now.side, at, imprint_mm, along_cylinder, _hand(by), radial_mm, edge)]

    act(head, decided)


def _gap_can_be(head: Opened, stood: Stood, imprint_mm: float, system: System) -> None:
    """Raise ``FieldError`` for an imprint thicker than the gap can be: of a place other than the thinnest."""
    model = known(lambda: piston.pair(head.design.sides[head.side]))
    if model is None:
        return
    most = model.least_gap(stood.phaser_rad, stood.phaser_rad, stood.lash_mm).gap_mm
    if imprint_mm > most + MOST_OVER_MM:
        raise FieldError(
            "imprint",
            f"The model leaves {show(most, LENGTH, system)} there: is that the thinnest place, and was the gasket "
            "between them? Tick that it is so.",
        )


def take_back(head: Opened, by: Sitting, *, event: int | None) -> None:
    """Take a pass, a push or an imprint back; it stays to be seen."""

    def decided(now: Opened) -> list[Withdrawn]:
        mock = _mock(now)
        if event is None or event not in {n.number for own in (mock.passes, mock.pushes, mock.clays) for n in own}:
            raise FieldError("event", STANDS_NO_MORE)
        return [Withdrawn(0, now.side, event, _hand(by))]

    act(head, decided)


def read_slack(head: Opened, by: Sitting, *, forward_rad: float, back_rad: float) -> None:
    """Read one event come to forward and backward: what lies between is the drive's slack."""

    def decided(now: Opened) -> list[Slack]:
        _timed_from(_mock(now))
        _from_dead_centre("forward", "Come to forward", forward_rad)
        _from_dead_centre("back", "Come to backward", back_rad)
        if abs(forward_rad - back_rad) > MOST_SLACK:
            raise FieldError("back", "So far apart they are not one event: read the same flank both ways.")
        return [Slack(0, now.side, forward_rad, back_rad, _hand(by))]

    act(head, decided)


def read_lift(head: Opened, by: Sitting, *, place: str, crank_rad: float, lift_mm: float, anew: bool) -> None:
    """Read one point of a lift curve by dial; ``anew`` begins a new run."""

    def decided(now: Opened) -> list[Lifted]:
        mock = _mock(now)
        _timed_from(mock)
        at = place_called(now.sheet, place).label
        if abs(crank_rad) > MOST_CURVE or not 0.0 <= lift_mm <= MOST_LIFT_MM:
            raise FieldError(
                "crank",
                f"Crank degrees after gas-exchange TDC, − before it; lift from nought to {MOST_LIFT_MM:g} mm.",
            )
        run = () if anew else mock.lifted
        if run and at != run[-1].place:
            raise FieldError("place", f"This run is of {run[-1].place}: begin anew for another valve.")
        if run and crank_rad <= run[-1].crank_rad:
            words = "Turned back, or out of order: the chain’s slack is in it."
            raise FieldError("crank", f"{words} Go round and come to it forward, or begin anew.")
        if run and mock.stood_for.get(run[-1].number) != mock.stood:
            raise FieldError("crank", "The engine stands otherwise than when this run began: begin anew.")
        return [Lifted(0, now.side, at, crank_rad, lift_mm, anew or not run, _hand(by))]

    act(head, decided)


def read_gap(head: Opened, by: Sitting, *, inlet: str, outlet: str, gap_mm: float) -> None:
    """Read the gap between an intake and an exhaust valve of one cylinder."""

    def decided(now: Opened) -> list[Between]:
        _stands(_mock(now))
        both = {side: now.sheet.mock_up(side).stood for side in SIDES}
        intake, exhaust = (both[side] for side in SIDES)
        if intake is None or exhaust is None:
            raise FieldError("stand", "Say how both sides stand first: both lashes and both phasers count.")
        if not 0.0 <= gap_mm <= MOST_GAP_MM:
            raise FieldError("gap", f"A gap between two heads lies between nought and {MOST_GAP_MM:g} mm.")
        places = [place_called(now.sheet, label) for label in (inlet, outlet)]
        if places[0].side == places[1].side or places[0].cylinder != places[1].cylinder:
            raise FieldError("inlet", "An intake and an exhaust valve of one cylinder: the others never meet.")
        first, second = sorted(places, key=lambda p: SIDES.index(p.side))
        return [
            Between(
                0, first.label, second.label, gap_mm, intake.phaser_rad, exhaust.phaser_rad, intake.lash_mm,
                exhaust.lash_mm, _hand(by),
            )
        ]  # fmt: skip

    act(head, decided)


def read_bearing(head: Opened, by: Sitting, *, bearing: int | None, runout_mm: float, spins: bool) -> None:
    """Read the camshaft's runout at a bearing, counted from the drive."""
    if bearing is None or not 1 <= bearing <= MOST_BEARINGS:
        raise FieldError("bearing", f"Bearings are counted from the drive, 1 to {MOST_BEARINGS}.")
    if not 0.0 <= runout_mm <= MOST_RUNOUT_MM:
        raise FieldError("runout", f"Runout is the whole swing of the dial, between nought and {MOST_RUNOUT_MM:g} mm.")
    act(head, lambda now: [Bearing(0, now.side, bearing, runout_mm, spins, _hand(by))])


def read_room(head: Opened, by: Sitting, *, place: str, room_mm: float) -> None:
    """Read the room between a lobe and the head."""
    if not 0.0 <= room_mm <= MOST_GAP_MM:
        raise FieldError("room", f"Room between a lobe and the head lies between nought and {MOST_GAP_MM:g} mm.")
    act(head, lambda now: [LobeRoom(0, now.side, place_called(now.sheet, place).label, room_mm, _hand(by))])


def take_down(
    head: Opened, by: Sitting, *, springs_in: int | None, springs_out: int | None, phaser_free: bool,
    bolts_marked: bool, bolts_source: str,
) -> None:  # fmt: skip
    """Take the mock-up down: what went in came out, and what was torqued is marked."""

    def decided(now: Opened) -> list[Closed]:
        mock = _mock(now)
        if mock.stood is None:
            raise FieldError("stand", "Nothing was begun that could be taken down.")
        if mock.stop_in:
            raise FieldError("stop", STOP_IS_IN)
        if springs_in is None or springs_in > MOST_SPRINGS:
            raise FieldError("springs_in", "Checking springs that went in: count them.")
        if springs_out is None or springs_out > MOST_SPRINGS:
            raise FieldError("springs_out", "Checking springs that came out: count them.")
        if bolts_marked and not bolts_source:
            raise FieldError(
                "bolts_source", "By which figure? The engine maker’s data names the torque, this page does not."
            )
        return [Closed(0, now.side, springs_out, springs_in, phaser_free, bolts_marked, bolts_source, _hand(by))]

    act(head, decided)
