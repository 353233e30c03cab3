"""What a hand does at a mock-up, read from its form."""

from collections.abc import Callable

from arcstack.application.acts import mock_up
from arcstack.application.head import Opened
from arcstack.document import Sitting
from arcstack.readings.mock_up import ADJUSTERS
from arcstack.units import ANGLE, LENGTH
from arcstack.web.kit.form import Form

MOST_COUNT, LARGEST_NUMBER = 9_999, 1e9


def _stand(head: Opened, by: Sitting, form: Form) -> None:
    mock_up.stand(
        head, by,
        lash_mm=form.figure("lash", "Lash set", LENGTH),
        gasket_used_mm=form.figure("gasket_used", "Gasket as it lies", LENGTH),
        gasket_crushed_mm=form.figure("gasket_crushed", "Gasket, crushed", LENGTH),
        phaser_rad=form.figure("phaser", "Phaser at", ANGLE, "0 deg"),
        held_by=form.line("held", 80),
        by_hand_only=form.ticked("by_hand"),
        plugs_out=form.ticked("plugs_out"),
        light_springs=form.ticked("light_springs"),
        adjusters=form.values.get("adjusters", ADJUSTERS[0]),
    )  # fmt: skip


def _stop(head: Opened, by: Sitting, form: Form) -> None:
    before = form.figure("before", "Stop before TDC", ANGLE)
    mock_up.meet_stop(head, by, before_rad=before, after_rad=form.figure("after", "Stop after TDC", ANGLE))


def _out(head: Opened, by: Sitting, form: Form) -> None:
    mock_up.take_stop_out(head, by)


def _flanks(head: Opened, by: Sitting, form: Form) -> None:
    mock_up.read_flanks(
        head, by,
        place=form.text("place"),
        check_lift_mm=form.figure("check_lift", "Check lift", LENGTH, "1 mm"),
        returned_mm=form.figure("returned", "Dial back at", LENGTH, "0 mm"),
        by_tdc_rad=form.figure("by_tdc", "Event by TDC", ANGLE),
        by_bdc_rad=form.figure("by_bdc", "Event by BDC", ANGLE),
        highest_mm=form.figure_or_none("highest", "Highest lift", LENGTH),
        turned_back=form.ticked("turned_back"),
        sure=form.ticked("sure"),
    )  # fmt: skip


def _moved(head: Opened, by: Sitting, form: Form) -> None:
    mock_up.move_cam(head, by, cam_rad=form.figure("turned", "Turned by", ANGLE))


def _kept(head: Opened, by: Sitting, form: Form) -> None:
    mock_up.keep_timing(head, by, reason=form.line("reason"))


def _pushed(head: Opened, by: Sitting, form: Form) -> None:
    mock_up.push_valve(
        head, by,
        place=form.text("place"),
        crank_rad=form.figure("crank", "Crank angle", ANGLE),
        travel_mm=form.figure("travel", "Travel to the piston", LENGTH),
        lift_mm=form.figure_or_none("lift", "Lift there", LENGTH),
    )  # fmt: skip


def _clay(head: Opened, by: Sitting, form: Form) -> None:
    mock_up.read_clay(
        head, by,
        place=form.text("place"),
        imprint_mm=form.figure("imprint", "Thinnest of the imprint", LENGTH),
        along_cylinder=form.text("cut") == "cylinder",
        radial_mm=form.figure_or_none("radial", "Room around the valve", LENGTH),
        edge=form.text("edge"),
        sure=form.ticked("sure"),
        system=form.system,
    )  # fmt: skip


def _withdrawn(head: Opened, by: Sitting, form: Form) -> None:
    mock_up.take_back(head, by, event=form.count("event", "The reading", LARGEST_NUMBER, mock_up.STANDS_NO_MORE))


def _slack(head: Opened, by: Sitting, form: Form) -> None:
    forward = form.figure("forward", "Come to forward", ANGLE)
    mock_up.read_slack(head, by, forward_rad=forward, back_rad=form.figure("back", "Come to backward", ANGLE))


def _lifted(head: Opened, by: Sitting, form: Form) -> None:
    mock_up.read_lift(
        head, by,
        place=form.text("place"),
        crank_rad=form.figure("crank", "Crank angle", ANGLE),
        lift_mm=form.figure("lift", "Lift", LENGTH),
        anew=form.ticked("anew"),
    )  # fmt: skip


def _between(head: Opened, by: Sitting, form: Form) -> None:
    gap = form.figure("gap", "Gap between the heads", LENGTH)
    mock_up.read_gap(head, by, inlet=form.text("inlet"), outlet=form.text("outlet"), gap_mm=gap)


def _bearing(head: Opened, by: Sitting, form: Form) -> None:
    bearing = form.count("bearing", "The bearing", MOST_COUNT)
    runout = form.figure("runout", "Runout", LENGTH)
    mock_up.read_bearing(head, by, bearing=bearing, runout_mm=runout, spins=form.ticked("spins"))


def _room(head: Opened, by: Sitting, form: Form) -> None:
    room = form.figure("room", "Lobe to head", LENGTH)
    mock_up.read_room(head, by, place=form.text("place"), room_mm=room)


def _down(head: Opened, by: Sitting, form: Form) -> None:
    mock_up.take_down(
        head, by,
        springs_in=form.count("springs_in", "Checking springs that went in", MOST_COUNT),
        springs_out=form.count("springs_out", "Checking springs that came out", MOST_COUNT),
        phaser_free=form.ticked("phaser_free"),
        bolts_marked=form.ticked("bolts_marked"),
        bolts_source=form.line("bolts_source", 120),
    )  # fmt: skip


ACTS: dict[str, Callable[[Opened, Sitting, Form], None]] = {
    "stand": _stand, "stop": _stop, "out": _out, "pass": _flanks, "moved": _moved, "keep": _kept, "push": _pushed,
    "clay": _clay, "between": _between, "bearing": _bearing, "room": _room, "close": _down,
    "lift": _lifted, "slack": _slack, "withdraw": _withdrawn,
}  # fmt: skip
