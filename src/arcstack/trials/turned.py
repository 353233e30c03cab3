"""An engine turned by hand that does not exist: what wheel, dial and a push to the piston show at each turn of it."""

import math
from dataclasses import dataclass, replace

import numpy as np

from arcstack.assess import piston
from arcstack.assess.context import Context
from arcstack.readings.learning import Mocked
from arcstack.settings import setting

PARALLAX_RAD = math.radians(setting("learning.parallax"))
TURN_RAD, CYCLE_RAD = math.tau, 2.0 * math.tau
EYES = ("square", "from the left", "from the right")


@dataclass(frozen=True)
class Turned:
    """How the engine stands: its crank after gas-exchange TDC, how far the cams lie ahead of it in their slack (crank
    rad), whether the stop is in, from where the pointer is looked at, and how far each cam was moved (cam rad).

    ``met`` is True once a turn ended at the stop.
    """

    crank_rad: float = math.radians(-60.0)
    ahead_rad: float = 0.0
    stop_in: bool = False
    eye: str = EYES[0]
    met: bool = False

    def by(self, turn_rad: float, hidden: Mocked) -> "Turned":
        """Turned on, or back: back, the slack of the chain is taken up before a cam moves; the stop ends it."""
        turn, met = turn_rad, False
        if self.stop_in:
            room = self._to_stop(turn_rad > 0.0, hidden.stop_rad)
            if abs(turn) >= room - 1e-9:
                turn, met = math.copysign(room, turn_rad), True
        ahead = min(max(self.ahead_rad - turn, 0.0), hidden.slack_rad)
        return replace(self, crank_rad=_wrapped(self.crank_rad + turn, CYCLE_RAD), ahead_rad=ahead, met=met)

    def _to_stop(self, forward: bool, stop_rad: float) -> float:
        """How far it can be turned before the piston meets the stop, near whichever TDC comes next."""
        away = _wrapped(self.crank_rad, TURN_RAD)
        return (-stop_rad - away) % TURN_RAD if forward else (away - stop_rad) % TURN_RAD

    def with_stop(self, in_: bool, hidden: Mocked) -> "Turned":
        """The stop put in or taken out; put in at TDC it is not, since the piston stands there: turned back first."""
        made = self
        if in_ and abs(_wrapped(self.crank_rad, TURN_RAD)) < hidden.stop_rad:
            made = replace(self, crank_rad=_wrapped(-2.0 * hidden.stop_rad, CYCLE_RAD))
        return replace(made, stop_in=in_, met=False)


def _wrapped(angle: float, round_: float) -> float:
    """An angle between minus half and half of a round."""
    return (angle + round_ / 2.0) % round_ - round_ / 2.0


@dataclass(frozen=True)
class Shown:
    """What can be read: wheel (crank rad, −180 to 180° of the TDC near it), lift by the dial, travel to the piston."""

    wheel_rad: float
    lift_mm: float
    travel_mm: float


def shown(ctx: Context, hidden: Mocked, stands: Turned, moved_cam_rad: float, lash_mm: float) -> Shown:
    """What wheel and dial show on one side. Raises ``NotKnown`` while the design has no curve or drop."""
    look = {EYES[0]: 0.0, EYES[1]: PARALLAX_RAD, EYES[2]: -PARALLAX_RAD}[stands.eye]
    wheel = _wrapped(stands.crank_rad + hidden.pointer_rad + look, TURN_RAD)
    model = piston.pair(ctx)
    early = hidden.early_rad[ctx.side_name] + 2.0 * moved_cam_rad + stands.ahead_rad
    # the whole turn of the cam, whose nose may lie on either side of where the crank's count begins
    cam = _wrapped(stands.crank_rad - model.centreline_rad + early, CYCLE_RAD) / 2.0
    lift = max(float(model.valve_law.evaluate(np.array([cam]))[0]) - lash_mm, 0.0)
    room = float(model.room_mm(np.array([stands.crank_rad]))[0]) - hidden.tight_mm[ctx.side_name]
    return Shown(wheel, lift, max(room - lift, 0.0))


def spoken(wheel_rad: float) -> str:
    """Where the wheel stands, in words, from whichever dead centre is near it.

    >>> spoken(math.radians(-31.5)), spoken(math.radians(217.0 - 360.0))
    ('31.5° before TDC', '37.0° after BDC')
    """
    degrees = math.degrees(wheel_rad)
    near, word = (degrees, "TDC") if abs(degrees) <= 90.0 else (degrees - math.copysign(180.0, degrees), "BDC")
    if abs(near) < 0.05:
        return f"at {word}"
    return f"{abs(near):.1f}° {'after' if near > 0 else 'before'} {word}"
