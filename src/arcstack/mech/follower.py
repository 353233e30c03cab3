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


def tip_sweep_mm(arm_mm: float, start_height_mm: float, lift_mm: float) -> tuple[float, float]:
    """Sweep of a finger's tip across the stem over the lift, and how far its level point is from half lift (mm).

    ``start_height`` is the tip's height above the pivot, along the valve's axis, with the valve closed. The tip
    moves on a circle of radius ``arm`` about the pivot: least sweep where it is level with the pivot at half lift.

    >>> [round(x, 3) for x in tip_sweep_mm(30.0, 5.0, 10.0)]
    [0.42, 0.0]
    """
    heights = [start_height_mm, start_height_mm - lift_mm]
    if max(abs(h) for h in heights) >= arm_mm:
        raise ValueError("the arm is too short for that height or lift")
    reach = [(arm_mm**2 - h**2) ** 0.5 for h in heights]
    if heights[1] <= 0.0 <= heights[0]:
        reach.append(arm_mm)
    return max(reach) - min(reach), start_height_mm - lift_mm / 2.0
