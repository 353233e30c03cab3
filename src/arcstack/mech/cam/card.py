"""The arithmetic of a cam card: events, duration, centreline. Crank radians, 0 at gas-exchange TDC."""

import math

from arcstack.mech.number import Number


def duration_rad(opens_rad: Number, closes_rad: Number) -> Number:
    """Duration from two events: opening + 180° + closing.

    Intake: opening before TDC and closing after BDC. Exhaust: opening before BDC and closing after TDC.

    Source: the two events span it.

    >>> round(math.degrees(duration_rad(math.radians(14.5), math.radians(43.0))), 9)
    237.5
    """
    return opens_rad + math.pi + closes_rad


def centreline_rad(tdc_event_rad: Number, bdc_event_rad: Number) -> Number:
    """Distance of the lobe's centre from TDC: duration/2 less the event that lies by TDC.

    After TDC for the intake (``tdc_event_rad`` = opening BTDC), before TDC for the exhaust (closing ATDC).

    Source: the middle of the two events.

    >>> round(math.degrees(centreline_rad(math.radians(14.5), math.radians(43.0))), 6)
    104.25
    """
    return duration_rad(tdc_event_rad, bdc_event_rad) / 2.0 - tdc_event_rad
