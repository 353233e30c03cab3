"""Followers: lobe lift to valve lift."""


def valve_lift_mm(lobe_lift_mm: float, ratio: float) -> float:
    """Lift at the valve before lash: lobe lift × the ratio that is fitted (1 for a bucket).

    >>> valve_lift_mm(6.5, 1.6)
    10.4
    """
    return lobe_lift_mm * ratio


def net_lift_mm(gross_lift_mm: float, lash_mm: float) -> float:
    """Lift the valve sees: gross lift less lash, taken off once, at the valve.

    >>> round(net_lift_mm(10.4, 0.25), 3)
    10.15
    """
    return gross_lift_mm - lash_mm


def lobe_lift_for_valve_lift_mm(valve_lift: float, ratio: float, lash_mm: float) -> float:
    """Lobe lift at which the valve has opened by ``valve_lift`` with the lash set.

    >>> round(lobe_lift_for_valve_lift_mm(1.0, 1.6, 0.2), 9)
    0.75
    """
    return (valve_lift + lash_mm) / ratio
