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
    """The law, the rms of what it leaves of the table (mm), and how many figures it spends."""

    law: SplineLaw
    residual_mm: float
    freedom: float


def smooth(cam_rad: Array, lift_mm: Array, hand: float = 1.0) -> Smoothed:
    """Fit a smooth law to a lift table whose base circle stands at zero.

    Quintic B-splines with knots some two cam degrees apart, fourth differences penalised; the penalty is the one
    of least generalised cross-validation, each figure spent counted twice, which keeps it from following noise
    (Eilers and Marx; robust GCV). ``hand`` multiplies that penalty: ten is a strong hand, a tenth a light one.

    Raises ``ValueError`` for fewer than twelve points or angles that do not rise.

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
    count = basis.shape[1]
    penalty = np.diff(np.eye(count), _PENALISED_DIFFERENCE, axis=0)
    gram = basis.T @ basis + 1e-10 * np.eye(count)
    roughness, vectors = scipy.linalg.eigh(penalty.T @ penalty, gram)
    roughness = np.maximum(roughness, 0.0)
    loads = vectors.T @ (basis.T @ lift_mm)

    turned = basis @ vectors

    def kept(log_penalty: Array) -> Array:
        """Share of each mode that a penalty leaves, a column a penalty."""
        return 1.0 / (1.0 + np.multiply.outer(roughness, 10.0**log_penalty))

    tried = np.linspace(-8.0, 6.0, 43)
    shares = kept(tried)
    left = lift_mm[:, None] - turned @ (shares * loads[:, None])
    spent = np.maximum(len(lift_mm) - _PRUDENCE * shares.sum(axis=0), 1e-9)
    best = float(tried[int(np.argmin((left**2).sum(axis=0) / spent**2))])
    share = kept(np.array([best + math.log10(hand)]))[:, 0]
    coefficients = vectors @ (share * loads)
    squares = float(((lift_mm - basis @ coefficients) ** 2).sum())
    freedom = float(share.sum())
    residual = math.sqrt(squares / len(lift_mm))
    law = _law(scipy.interpolate.BSpline(knots, coefficients, _DEGREE), cam_rad, residual)
    return Smoothed(law, residual, freedom)


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
