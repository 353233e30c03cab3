"""What spring load costs at the cam: torque and friction. mm, N, rad, W."""

import math

import numpy as np

from arcstack.mech.cam.law import Array


def friction_power_W(
    angle_rad: Array, lobe_force_N: Array, base_radius_mm: float, lobe_lift_mm: Array, coefficient: float, omega: float
) -> float:
    """Mean power lost to a follower that slides on one lobe: P = ω/2π · ∮ μ·F·(R + L) dθ.

    ``omega`` is the cam's rad/s; the force is at the lobe, and where it is not a number the follower is off the lobe.

    Source: work of Coulomb friction along the lobe.

    >>> angle = np.linspace(-math.pi, math.pi, 721)
    >>> steady = friction_power_W(angle, np.full(721, 500.0), 20.0, np.zeros(721), 0.08, 400.0)
    >>> round(steady, 1)
    320.0
    """
    # of a number and none the number is taken
    force = np.fmax(lobe_force_N, 0.0)
    torque = coefficient * force * (base_radius_mm + lobe_lift_mm) / 1000.0
    return float(omega * np.trapezoid(torque, angle_rad) / (2.0 * math.pi))


def drive_torque_Nm(
    valve_force_N: Array,
    valve_slope_mm_per_rad: Array,
    lobe_force_N: Array,
    base_radius_mm: float,
    lobe_lift_mm: Array,
    coefficient: float,
) -> Array:
    """Torque one lobe asks of its cam over the angle: T = F·dL/dθ + μ·F·(R + L); below zero the spring drives the cam.

    Source: virtual work of force and friction on the lobe.

    >>> float(drive_torque_Nm(np.array([600.0]), np.array([10.0]), np.array([600.0]), 20.0, np.array([5.0]), 0.08)[0])
    7.2
    """
    rub = coefficient * np.fmax(lobe_force_N, 0.0) * (base_radius_mm + lobe_lift_mm)
    torque: Array = (np.fmax(valve_force_N, 0.0) * valve_slope_mm_per_rad + rub) / 1000.0
    return torque
