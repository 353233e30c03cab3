"""Followers: lobe lift to valve lift."""

import numpy as np

from arcstack.mech.number import Number


def valve_lift_mm(lobe_lift_mm: Number, ratio: Number) -> Number:
    """Lift at the valve before lash: lobe lift × the ratio that is fitted (1 for a bucket).

    Source: definition of the overall ratio.

    >>> valve_lift_mm(6.5, 1.6)
    10.4
    """
    return lobe_lift_mm * ratio


def net_lift_mm(gross_lift_mm: Number, lash_mm: Number) -> Number:
    """Lift the valve sees: gross lift less lash, taken off once, at the valve.

    Source: definition.

    >>> round(net_lift_mm(10.4, 0.25), 3)
    10.15
    """
    return gross_lift_mm - lash_mm


def tip_sweep_mm(arm_mm: Number, start_height_mm: Number, lift_mm: Number) -> tuple[Number, Number]:
    """Sweep of a finger's tip across the stem over the lift, and how far its level point is from half lift (mm).

    ``start_height`` is the tip's height above the pivot, along the valve's axis, with the valve closed. The tip
    moves on a circle of radius ``arm`` about the pivot: least sweep where it is level with the pivot at half lift.

    Source: a tip moves on a circle about its pivot.

    >>> [round(float(x), 3) for x in tip_sweep_mm(30.0, 5.0, 10.0)]
    [0.42, 0.0]
    """
    end = start_height_mm - lift_mm
    if np.any(np.maximum(np.abs(start_height_mm), np.abs(end)) >= arm_mm):
        raise ValueError("the arm is too short for that height or lift")
    first, last = (arm_mm**2 - start_height_mm**2) ** 0.5, (arm_mm**2 - end**2) ** 0.5
    level = (end <= 0.0) & (start_height_mm >= 0.0)
    most = np.where(level, arm_mm, np.maximum(first, last))
    # a scalar goes in and comes out
    return (most - np.minimum(first, last))[()], start_height_mm - lift_mm / 2.0
