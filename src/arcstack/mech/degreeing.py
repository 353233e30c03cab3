"""A cam timed on a degree wheel: true TDC, flanks, advance, what to move, what a difference points to. Angles rad."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from enum import Enum

from arcstack.mech.cam import card
from arcstack.mech.number import Number
from arcstack.mech.timing import tooth_rad


def pointer_error_rad(before_tdc: Number, after_tdc: Number) -> Number:
    """Error of the wheel's pointer by a positive stop met both ways: (after − before)/2, positive where it reads late.

    A true angle is the reading less the error. Source: the stop lies as far before TDC as after it.

    >>> round(math.degrees(pointer_error_rad(math.radians(31.5), math.radians(34.5))), 9)
    1.5
    """
    return (after_tdc - before_tdc) / 2.0


def true_before_rad(read: Number, error: Number) -> Number:
    """An event read before a dead centre, the pointer's error taken out: a wheel that reads late shows too little.

    Source: the pointer's error is the same all round the wheel.

    >>> round(math.degrees(true_before_rad(math.radians(17.0), math.radians(-1.75))), 9)
    15.25
    """
    return read + error


def true_after_rad(read: Number, error: Number) -> Number:
    """An event read after a dead centre, the pointer's error taken out.

    Source: the pointer's error is the same all round the wheel.

    >>> round(math.degrees(true_after_rad(math.radians(41.5), math.radians(-1.75))), 9)
    43.25
    """
    return read - error


@dataclass(frozen=True)
class Flanks:
    """Both flanks of a cam at one check lift, the pointer's error taken out.

    ``by_tdc`` is the event by gas-exchange TDC: intake opens before it, exhaust closes after it. ``by_bdc`` is the
    other: intake closes after BDC, exhaust opens before it.
    """

    by_tdc: float
    by_bdc: float
    exhaust: bool = False

    @property
    def duration(self) -> float:
        return card.duration_rad(self.by_tdc, self.by_bdc)

    @property
    def centreline(self) -> float:
        """From TDC, negative before it: where an exhaust's lies.

        >>> round(math.degrees(Flanks(math.radians(15.25), math.radians(43.25)).centreline), 9)
        104.0
        >>> round(math.degrees(Flanks(math.radians(12.0), math.radians(46.0), True).centreline), 9)
        -107.0
        """
        middle = card.centreline_rad(self.by_tdc, self.by_bdc)
        return -middle if self.exhaust else middle


def flanks_read(by_tdc_read: float, by_bdc_read: float, pointer_error: float = 0.0, *, exhaust: bool = False) -> Flanks:
    """Both flanks as the wheel shows them, its error taken out.

    Source: both flanks are read on one wheel.

    >>> made = flanks_read(math.radians(17.0), math.radians(41.5), math.radians(-1.75))
    >>> round(math.degrees(made.duration), 9)
    238.5
    """
    if exhaust:
        return Flanks(true_after_rad(by_tdc_read, pointer_error), true_before_rad(by_bdc_read, pointer_error), True)
    return Flanks(true_before_rad(by_tdc_read, pointer_error), true_after_rad(by_bdc_read, pointer_error))


def advance_rad(card_centreline: Number, measured_centreline: Number) -> Number:
    """How much earlier a cam stands than its card, crank angle; centrelines signed, negative before TDC.

    Source: definition of advance, positive earlier.

    >>> round(math.degrees(advance_rad(math.radians(106.0), math.radians(103.5))), 9)
    2.5
    """
    return card_centreline - measured_centreline


def turn_in_gear_rad(advance: Number) -> Number:
    """Cam angle to turn the camshaft within its gear, positive the way it runs, so that nothing of an advance is left;
    crank, chain and gear held.

    Source: the cam turns once for two turns of the crank.

    >>> round(math.degrees(turn_in_gear_rad(math.radians(2.5))), 9)
    -1.25
    """
    return -advance / 2.0


def at_slot_mm(turn: Number, radius_mm: Number) -> Number:
    """How far the edge of a slot moves at its radius.

    Source: arc of a circle.

    >>> round(at_slot_mm(math.radians(1.25), 40.0), 2)
    0.87
    """
    return turn * radius_mm


def teeth_off(advance: float, teeth: int, within: float) -> int:
    """Whole teeth that an advance comes to within so much; nought where it is none.

    Source: nearest whole number.

    >>> teeth_off(math.radians(16.0), 42, math.radians(2.0)), teeth_off(math.radians(-35.0), 42, math.radians(2.0))
    (1, -2)
    >>> teeth_off(math.radians(8.0), 42, math.radians(2.0))
    0
    """
    each = tooth_rad(teeth)
    count = round(advance / each)
    return count if count and abs(advance - count * each) <= within else 0


class Points(Enum):
    """What a difference between card and engine points to."""

    AS_CARD = "as the card"
    GEAR = "gear, tooth, key, stretched chain or cut head"
    LASH = "lash"
    CHECK_LIFT = "check lift, or the place where it is read"
    RATIO = "ratio"
    ONE_FLANK = "an asymmetric lobe read against a symmetric card, or a dial not parallel to the stem"
    WRONG_CAM = "another cam in this place, or intake and exhaust exchanged"
    UNKNOWN = "not told without the highest lift"


@dataclass(frozen=True)
class Within:
    """How near is right: duration, centreline and the flanks' shifts apart, rad; highest lift, mm."""

    duration: float
    centreline: float
    flanks: float
    lift_mm: float


def shifts_rad(card_flanks: Flanks, read: Flanks) -> tuple[float, float]:
    """How much earlier each flank is than its card: by TDC, by BDC.

    Source: each flank against its card.

    >>> made = shifts_rad(Flanks(math.radians(8), math.radians(40)), Flanks(math.radians(10.5), math.radians(37.5)))
    >>> [round(math.degrees(x), 9) for x in made]
    [2.5, 2.5]
    """
    by_tdc, by_bdc = read.by_tdc - card_flanks.by_tdc, card_flanks.by_bdc - read.by_bdc
    return (-by_tdc, -by_bdc) if read.exhaust else (by_tdc, by_bdc)


@dataclass(frozen=True)
class Difference:
    """What the difference of an engine from its card points to, and how much earlier than the card the cam stands once
    that is taken out, crank rad."""

    points: Points
    advance: float


def points_to(
    card_flanks: Flanks,
    read: Flanks,
    within: Within,
    lift_mm: tuple[float, float] | None,
    flanks_at: Callable[[float], Flanks],
    check_lift_mm: float,
) -> Difference:
    """What the difference of an engine from its card points to.

    ``lift_mm`` is the highest lift by the card and as read, ``flanks_at`` the curve's own flanks at another check lift,
    by which an asymmetric lobe is told from an askew dial. Lash and ratio are looked for with the cam's turn taken out,
    up to ``_MOST_TURN``: one does not keep the other away. Source: lash takes as much off the whole curve; a ratio
    scales it; a dial that checks elsewhere meets the whole of it; a gear only turns it.
    """
    first, second = shifts_rad(card_flanks, read)
    advance = advance_rad(card_flanks.centreline, read.centreline)
    right = abs(read.duration - card_flanks.duration) <= within.duration
    lift_right = lift_mm is None or abs(lift_mm[0] - lift_mm[1]) <= within.lift_mm
    if right and abs(first - second) <= within.flanks and lift_right:
        return Difference(Points.AS_CARD if abs(advance) <= within.centreline else Points.GEAR, advance)

    def off(check_mm: float) -> float:
        found = flanks_at(check_mm)
        return max(abs(found.by_tdc - read.by_tdc), abs(found.by_bdc - read.by_bdc))

    def turned(check_mm: float) -> tuple[float, float]:
        """How far the flanks are off with the turn taken out, and the turn."""
        found = flanks_at(check_mm)
        return abs(found.duration - read.duration) / 2.0, advance_rad(found.centreline, read.centreline)

    def may_be(off_by: float, turn: float) -> bool:
        return off_by <= within.centreline and abs(turn) <= _MOST_TURN

    if not lift_right and lift_mm is not None:
        by_lash = turned(check_lift_mm + lift_mm[0] - lift_mm[1])
        by_ratio = turned(check_lift_mm * lift_mm[0] / lift_mm[1])
        if not may_be(*min(by_lash, by_ratio)):
            return Difference(Points.WRONG_CAM, advance)
        lash = by_lash[0] <= by_ratio[0]
        return Difference(Points.LASH, by_lash[1]) if lash else Difference(Points.RATIO, by_ratio[1])
    checks = [check_lift_mm * share for share in _SHARES]
    if lift_mm is None and may_be(*min(turned(check) for check in checks)):
        return Difference(Points.UNKNOWN, advance)
    if lift_mm is not None and min(off(check) for check in checks) <= within.centreline:
        return Difference(Points.CHECK_LIFT, advance)
    flanks = sorted((abs(first), abs(second)))
    one = flanks[0] <= within.flanks / 2.0 < within.flanks < flanks[1]
    return Difference(Points.ONE_FLANK if one else Points.WRONG_CAM, advance)


_MOST_TURN = math.radians(60.0)
"""Three teeth of a usual gear: further off, it is not this cam in this place."""

_SHARES = tuple(0.4 + 0.02 * n for n in range(81))
"""Of its check lift a dial set askew or on another place may have met so much: from two fifths of it to twice."""
