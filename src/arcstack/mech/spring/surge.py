"""Surge: harmonics of a lift curve that ring a spring's own frequency."""

import math
from dataclasses import dataclass

import numpy as np

from arcstack.mech.cam.law import Array, LiftLaw
from arcstack.mech.number import Number


def order(surge_Hz: Number, crank_rpm: Number) -> Number:
    """Surge frequency ÷ cam frequency, the cam turning at half the crank's speed.

    Source: definition.

    >>> round(order(475.0, 8000.0), 3)
    7.125
    """
    return surge_Hz / (crank_rpm / 120.0)


def resonant_rpm(surge_Hz: float, harmonic: int) -> float:
    """Crank speed at which a harmonic of the cam meets the surge frequency.

    Source: a harmonic meets the surge frequency.

    >>> resonant_rpm(475.0, 8)
    7125.0
    """
    return 120.0 * surge_Hz / harmonic


def lift_harmonics_mm(valve_law: LiftLaw, lash_mm: float = 0.0, highest: int = 40) -> Array:
    """Amplitude of each harmonic (0 to ``highest``) of net lift over one cam turn.

    Source: Fourier series over one cam turn.

    >>> import math
    >>> from arcstack.mech.cam.law import SymmetricLobe
    >>> lobe = SymmetricLobe.polynomial(10.4, math.radians(72.0), (2.0, 8.0, 14.0, 20.0))
    >>> h = lift_harmonics_mm(lobe)
    >>> bool(h[1] > h[4] > h[10])
    True
    """
    points = 4096
    angle = np.linspace(-math.pi, math.pi, points, endpoint=False)
    net = np.maximum(valve_law.evaluate(angle) - lash_mm, 0.0)
    return np.abs(np.fft.rfft(net))[: highest + 1] * 2.0 / points


def harmonic_near_mm(amplitudes_mm: Array, order: Array, damping_ratio: float) -> Array:
    """The harmonic of the lift that stands next to a spring's order, by how far that lets it ring the spring (mm).

    Where a harmonic's number is the order, all of it rings; beside it, what the resonance curve of one damped mode
    leaves. Harmonics past the last that is given count as none.

    Source: steady answer of one damped mode, over its answer at resonance.

    >>> h = np.array([0.0, 4.0, 1.0, 0.5])
    >>> harmonic_near_mm(h, np.array([2.0, 2.2, 9.0]), 0.01).round(3).tolist()
    [1.0, 0.114, 0.0]
    """
    near = np.rint(order).astype(int)
    amplitude = np.where(near < len(amplitudes_mm), amplitudes_mm[np.minimum(near, len(amplitudes_mm) - 1)], 0.0)
    off = (near / order) ** 2 - 1.0
    rung: Array = amplitude / np.hypot(1.0, off / (2.0 * damping_ratio))
    return rung


@dataclass(frozen=True)
class Resonance:
    """A speed at which a harmonic rings the spring: swing of the middle coil (mm) and load it takes off (N)."""

    harmonic: int
    rpm: float
    lift_mm: float
    swing_mm: float
    load_lost_N: float


def resonance(
    harmonic: int,
    amplitude_mm: float,
    surge_Hz: float,
    rate_N_per_mm: float,
    damping_ratio: float,
    friction_N: float = 0.0,
) -> Resonance:
    """The first mode of a spring shaken at its top end by one harmonic of the lift, steady.

    A uniform spring with both ends held has the shape sin(πx) with stiffness π²·k/2; an end moved by a·sin(ωt)
    drives it with (2/π)·a. Rub of ``friction_N`` spread along the coils takes 8/π² of itself off the drive;
    a smaller drive does not ring at all. The load at either end changes by π·k times the swing.

    Source: steady answer of one damped mode to a shaken end.

    >>> found = resonance(8, 0.02, 475.0, 32.0, 0.01)
    >>> round(found.swing_mm, 3), round(found.load_lost_N, 1)
    (0.637, 64.0)
    >>> resonance(8, 0.02, 475.0, 32.0, 0.01, friction_N=20.0).swing_mm
    0.0
    """
    stiffness = math.pi**2 * rate_N_per_mm / 2.0
    drive = stiffness * 2.0 / math.pi * amplitude_mm
    left = max(drive - 8.0 / math.pi**2 * friction_N, 0.0)
    swing = left / (2.0 * damping_ratio * stiffness)
    return Resonance(harmonic, resonant_rpm(surge_Hz, harmonic), amplitude_mm, swing, math.pi * rate_N_per_mm * swing)
