"""A measured lift table to a smooth law: penalised splines with a stated residual."""

import math
from dataclasses import dataclass

import numpy as np
import scipy  # its parts load when first used, which keeps the start quick

from arcstack.mech.cam.law import Array

_DEGREE = 5
_PENALISED_DIFFERENCE = 4
_KNOT_RAD = math.radians(2.0)
_PRUDENCE = 2.0
_BASE_RAD = math.radians(40.0)
_AROUND = 4
"""Fourth differences to either side that a weight is averaged over."""
_LEAST_BEND = 1e-2
"""The least bend counted, as a share of the greatest."""
_DEVIATIONS = {1: 3.0, 2: 2.0}
"""Standard deviations that the slopes of ramps and the accelerations of the ends are moved by: at a ramp, where a lobe
bends most, the smoothing itself is off by as much again."""
_STRETCH, _APART = 0.75, 5
"""Length of a stretch of readings that is moved together, in figures that the fit spends, and how many stretches on the
next one of the same way lies."""
_SCATTER, _BIAS, _RAMPS = 2.4, 2.2, 2.7
"""How far the ways go, so that the band of a figure holds the truth in 93 of 100 tables and is no wider than one and a
half times what that takes: standard deviations of the scatter, times what a second smoothing takes off, and standard
deviations of the slopes of the ramps. Found on tables made from known lobes."""
_HARD = 0.97
"""Share of a flank's greatest deceleration that still counts as its hardest."""
_APART_RAD = math.radians(15.0)
"""Cam angle between places that scatter by themselves."""
_RAMP_MM = 0.2
"""Lift at which the slope of a ramp is told."""


@dataclass(frozen=True, eq=False)
class SplineLaw:
    """A smoothed lobe as a lift law: a quintic spline over its support, nothing outside.

    ``nose_rad`` is where the nose lies on the spline's own angle axis; the law counts from there.
    """

    spline: "scipy.interpolate.BSpline"
    start_rad: float
    end_rad: float
    nose_rad: float

    @property
    def support_rad(self) -> tuple[float, float]:
        return self.start_rad - self.nose_rad, self.end_rad - self.nose_rad

    def evaluate(self, cam_rad: Array, order: int = 0) -> Array:
        """Lift, velocity, acceleration or jerk per cam radian."""
        angle = np.asarray(cam_rad, dtype=np.float64) + self.nose_rad
        inside = (angle >= self.start_rad) & (angle <= self.end_rad)
        out = np.zeros_like(angle)
        out[inside] = self.spline(angle[inside], nu=order)
        return np.maximum(out, 0.0) if order == 0 else out


@dataclass(frozen=True)
class Smoothed:
    """The law, the rms of what it leaves of the table (mm), how many figures it spends, and what it leaves open.

    ``ways`` are laws that scatter and smoothing move apart from it, each in a way of its own: what they move a figure
    by, squared, summed and rooted, is the half-width of its band. ``ends`` are the hardest, the gentlest, and those
    with the steepest and the quietest ramps that the scatter allows, for what is too dear to work on every way.
    """

    law: SplineLaw
    residual_mm: float
    freedom: float
    ways: tuple[SplineLaw, ...] = ()
    ends: tuple[SplineLaw, ...] = ()


def smooth(cam_rad: Array, lift_mm: Array, hand: float = 1.0) -> Smoothed:
    """Fit a smooth law to a lift table whose base circle stands at zero.

    Quintic B-splines with knots some two cam degrees apart, fourth differences penalised; the penalty is the one
    of least generalised cross-validation, each figure spent counted twice, which keeps it from following noise
    (Eilers and Marx; robust GCV). It is fitted twice: the second time the penalty is weighed by how much the first
    fit bends there, so that the nose is neither flattened nor made to follow the noise while the flanks stay sharp.
    ``hand`` multiplies that penalty: ten is a strong hand, a tenth a light one.

    Raises ``ValueError`` for fewer than twelve points or angles that do not rise.

    Source: penalised splines, the penalty by generalised cross-validation.

    >>> from arcstack.mech.cam.law import SymmetricLobe
    >>> lobe = SymmetricLobe.polynomial(10.4, math.radians(72.0), (2.0, 8.0, 14.0, 20.0))
    >>> angle = np.radians(np.arange(-80.0, 81.0))
    >>> found = smooth(angle, np.round(lobe.evaluate(angle), 3))
    >>> round(float(found.law.evaluate(np.array([0.0]))[0]), 2), found.residual_mm < 0.0005
    (10.4, True)
    """
    if len(cam_rad) < 12 or np.any(np.diff(cam_rad) <= 0):
        raise ValueError("a curve needs at least twelve points at rising angles")
    near = _near_lobe(cam_rad, lift_mm)
    cam_rad, lift_mm = cam_rad[near], lift_mm[near]
    knots = _knots(cam_rad)
    basis = scipy.interpolate.BSpline.design_matrix(cam_rad, knots, _DEGREE).toarray()
    bends = np.diff(np.eye(basis.shape[1]), _PENALISED_DIFFERENCE, axis=0)
    first = _fit(basis, lift_mm, bends, np.ones(len(bends)), 1.0)
    fit = _fit(basis, lift_mm, bends, _weights(bends @ first.coefficients), hand)
    left = lift_mm - basis @ fit.coefficients
    residual = math.sqrt(float((left**2).mean()))
    law = _law(scipy.interpolate.BSpline(knots, fit.coefficients, _DEGREE), cam_rad, residual)
    freedom = float(fit.share.sum())
    scatter = math.sqrt(float((left**2).sum()) / max(len(lift_mm) - freedom, 1.0))

    def moved(by: Array) -> SplineLaw:
        return _law(scipy.interpolate.BSpline(knots, fit.coefficients + by, _DEGREE), cam_rad, residual)

    hard, ramps = _telling(law)
    ways = [*_scattered(fit, basis, cam_rad, law.nose_rad, scatter), _BIAS * _smoothed_away(fit)]
    ways.append(_along(fit, knots, ramps, 1, _RAMPS * scatter, law))
    harder = _along(fit, knots, hard, 2, _DEVIATIONS[2] * scatter, law)
    steeper = _along(fit, knots, ramps, 1, _DEVIATIONS[1] * scatter, law)
    ends = (harder, -harder, steeper, -steeper)
    return Smoothed(law, residual, freedom, tuple(map(moved, ways)), tuple(map(moved, ends)))


@dataclass(frozen=True)
class _Fit:
    """Spline coefficients, and the modes they were found in: a column a mode, with the share that is kept of each."""

    coefficients: Array
    modes: Array
    share: Array


def _fit(basis: Array, lift_mm: Array, bends: Array, weights: Array, hand: float) -> _Fit:
    """One penalised fit; the penalty by cross-validation, times ``hand``."""
    gram = basis.T @ basis + 1e-10 * np.eye(basis.shape[1])
    roughness, modes = scipy.linalg.eigh((bends.T * weights) @ bends, gram)
    roughness = np.maximum(roughness, 0.0)
    loads = modes.T @ (basis.T @ lift_mm)
    turned = basis @ modes

    def kept(log_penalty: Array) -> Array:
        """Share of each mode that a penalty leaves, a column a penalty."""
        return 1.0 / (1.0 + np.multiply.outer(roughness, 10.0**log_penalty))

    tried = np.linspace(-9.0, 7.0, 49)
    shares = kept(tried)
    left = lift_mm[:, None] - turned @ (shares * loads[:, None])
    spent = np.maximum(len(lift_mm) - _PRUDENCE * shares.sum(axis=0), 1e-9)
    best = float(tried[int(np.argmin((left**2).sum(axis=0) / spent**2))])
    share = kept(np.array([best + math.log10(hand)]))[:, 0]
    return _Fit(modes @ (share * loads), modes, share)


def _weights(bend: Array) -> Array:
    """How dear each fourth difference is: dear where the curve is smooth, cheap where it bends."""
    around = np.ones(2 * _AROUND + 1) / (2 * _AROUND + 1)
    squared = np.convolve(np.pad(bend**2, _AROUND, mode="edge"), around, "valid")
    weights = 1.0 / (squared + _LEAST_BEND * max(float(squared.max()), 1e-30))
    found: Array = weights / weights.mean()
    return found


def _scattered(fit: _Fit, basis: Array, cam_rad: Array, nose_rad: float, scatter: float) -> list[Array]:
    """The scatter of the readings as moves of the coefficients: a few ways whose squares hold all of its variance.

    Readings next to each other are taken together, so many as the fit cannot tell apart; stretches so far apart that no
    figure feels two of them are moved in one way, to either side of the nose by itself, since figures hold the flanks
    against each other.
    """
    answer = fit.modes @ (fit.share[:, None] * (fit.modes.T @ basis.T))
    stretch = _STRETCH * float(cam_rad[-1] - cam_rad[0]) / float(fit.share.sum())
    number = np.floor((cam_rad - nose_rad) / stretch).astype(int)
    ways = []
    for flank in (number < 0, number >= 0):
        for first in range(_APART):
            mine = flank & (number % _APART == first)
            alone = np.array([np.count_nonzero(number == n) for n in number[mine]])
            # those of one way alternate, so that what is left of one in the next one's place is as often against it
            push = np.zeros(len(cam_rad))
            push[mine] = np.where(number[mine] // _APART % 2 == 0, 1.0, -1.0) / np.sqrt(alone)
            ways.append(answer @ push * (_SCATTER * scatter))
    return ways


def _smoothed_away(fit: _Fit) -> Array:
    """What smoothing the fit once more takes off it: the best sign of what smoothing took off the lobe.

    Source: the bias of a linear smoother, estimated from its own fit (Tukey's twicing).
    """
    kept = np.linalg.solve(fit.modes, fit.coefficients)
    found: Array = fit.modes @ ((1.0 - fit.share) * kept)
    return found


def _along(fit: _Fit, knots: Array, places: list[float], order: int, size: float, law: SplineLaw) -> Array:
    """A move of the coefficients that makes the lobe harder, by accelerations, or steeper, by slopes, at all places.

    The scatter of a mode is that of a reading times the root of its share (the Bayesian reading of a penalised fit,
    Wahba). Of all curves at a distance, the one that moves a figure most lies along the figure's own scatter. A least
    force or radius is found wherever the noise makes it: so the places are moved together, each by ``size``, in
    standard deviations times the scatter of a reading (mm).
    """
    moved = np.zeros_like(fit.coefficients)
    for angle in places:
        row = scipy.interpolate.BSpline(knots, np.eye(len(moved)), _DEGREE)(angle, nu=order)
        told = fit.modes.T @ row
        along = fit.share * told
        scatter = math.sqrt(float(told @ along))
        if scatter > 0.0:
            # a steeper ramp rises faster before the nose and falls faster after it
            sign = -1.0 if order == 1 and angle > law.nose_rad else 1.0
            moved += fit.modes @ (along * (sign * size / scatter))
    return moved


def _telling(law: SplineLaw) -> tuple[list[float], list[float]]:
    """Angles on the spline's own axis: along the hard deceleration, and on both ramps."""
    angle = np.linspace(law.start_rad, law.end_rad, 721)
    lift, acceleration = law.spline(angle), law.spline(angle, nu=2)
    ends, ramps = [], []
    for flank in (angle < law.nose_rad, angle > law.nose_rad):
        at = np.nonzero(flank)[0]
        hard = at[acceleration[at] <= _HARD * float(acceleration[at].min())]
        ends.append(float(angle[hard[int(np.argmax(np.abs(angle[hard] - law.nose_rad)))]]))
        ramps.append(float(angle[at[int(np.argmin(np.abs(lift[at] - _RAMP_MM)))]]))
    count = max(2, round((ends[1] - ends[0]) / _APART_RAD) + 1)
    return [float(a) for a in np.linspace(ends[0], ends[1], count)], ramps


def _near_lobe(cam_rad: Array, lift_mm: Array) -> slice:
    """The lobe and some base circle to either side; the rest of a whole turn says nothing of the lobe."""
    high = np.nonzero(lift_mm > 0.02 * lift_mm.max())[0]
    low, up = cam_rad[high[0]] - _BASE_RAD, cam_rad[high[-1]] + _BASE_RAD
    found = slice(int(np.searchsorted(cam_rad, low)), int(np.searchsorted(cam_rad, up, side="right")))
    return found if found.stop - found.start >= 12 else slice(0, len(cam_rad))


def _knots(cam_rad: Array) -> Array:
    low, high = float(cam_rad[0]), float(cam_rad[-1])
    spacing = max(_KNOT_RAD, float(np.median(np.diff(cam_rad))))
    inner = np.linspace(low, high, max(int((high - low) / spacing), 8) + 1)
    step = inner[1] - inner[0]
    below = low - step * np.arange(_DEGREE, 0, -1)
    above = high + step * np.arange(1, _DEGREE + 1)
    return np.concatenate([below, inner, above])


def _law(spline: "scipy.interpolate.BSpline", cam_rad: Array, residual: float) -> SplineLaw:
    """Nose and support: outward from the nose to where lift is lost in the residual."""
    fine = np.linspace(cam_rad[0], cam_rad[-1], 4 * len(cam_rad) + 1)
    lift = spline(fine)
    top = int(np.argmax(lift))
    low, high = fine[max(top - 8, 0)], fine[min(top + 8, len(fine) - 1)]
    near = np.linspace(low, high, 801)
    nose = float(near[int(np.argmax(spline(near)))])
    floor = max(2.0 * residual, 5e-4)
    before = np.nonzero(lift[:top] <= floor)[0]
    after = np.nonzero(lift[top:] <= floor)[0]
    start = float(fine[before[-1]]) if len(before) else float(fine[0])
    end = float(fine[top + after[0]]) if len(after) else float(fine[-1])
    return SplineLaw(spline, start, end, nose)
