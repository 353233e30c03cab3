"""A plausible curve from the figures of a card. Good for a first look, never for a speed limit to sign."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import combinations, pairwise, product
from warnings import catch_warnings, simplefilter

import numpy as np
import scipy  # its parts load when first used, which keeps the start quick

from arcstack.errors import CurveConflict
from arcstack.mech.cam.facts import flat_follower_min_radius_mm
from arcstack.mech.cam.law import Array, AsymmetricLobe, PolynomialFlank, Ramp, SymmetricLobe

_MM_PER_CAM_DEG = 180.0 / math.pi
_POWER = (4.5, 15.0)
_RAMP_VELOCITY = (0.004 * _MM_PER_CAM_DEG, 0.045 * _MM_PER_CAM_DEG)
_RAMP_HEIGHT = (0.02, 0.5)
_USUAL_POWER = 8.0
_USUAL_RAMP_VELOCITY = 0.016 * _MM_PER_CAM_DEG
_CLOSE_ENOUGH_DEG = 0.1
_CARD_ROUNDING_DEG = 0.5


@dataclass(frozen=True)
class CardDuration:
    """A duration (crank rad) between the points where the lobe's lift is ``lift_mm``, with the card's words."""

    lift_mm: float
    duration_rad: float
    words: str


def _lobe(peak_mm: float, beta: float, power: float, ramp_velocity: float, ramp_height: float) -> SymmetricLobe:
    powers = (2.0, power, 2.0 * power - 2.0, 3.0 * power - 4.0)
    flank = PolynomialFlank(peak_mm, beta, powers, ramp_height, -ramp_velocity)
    return SymmetricLobe(flank, Ramp(ramp_height, ramp_velocity))


_ALONG_FLANK = np.linspace(1.0, 0.0, 240)
_ALONG_RAMP = np.linspace(0.0, 1.0, 30)


def _durations(lobe: SymmetricLobe, lifts: Array) -> Array:
    """Crank durations at several check lifts: the closing flank inverted by table, to about 0.02 degree."""
    foot = _ALONG_RAMP * lobe.ramp.length_rad
    main = _ALONG_FLANK[1:] * lobe.flank.beta_rad
    lift = np.concatenate([lobe.ramp.evaluate(foot), lobe.flank.evaluate(main)])
    angle = np.concatenate([lobe.half_width_rad - foot, main])
    return np.asarray(4.0 * np.interp(lifts, np.maximum.accumulate(lift), angle), dtype=np.float64)


def estimated_lobe(peak_mm: float, durations: Sequence[CardDuration], lash_at_lobe_mm: float = 0.0) -> SymmetricLobe:
    """A symmetric lobe with ramps of ``peak_mm`` lift that meets every duration.

    Met to 0.1 crank degree where a usual shape can, else to 0.5, which is a card's rounding.

    A four-power polynomial main event stands on a ramp just high enough to take up the lash. What the card
    leaves open stays at a usual shape (power 8, ramp 0.016 mm per cam degree).

    Raises ``CurveConflict``, naming the figures, when no lobe of the family meets them.

    Source: polynomial cam profiles of several powers on constant-velocity ramps.

    >>> lobe = estimated_lobe(10.4, [CardDuration(1.0, math.radians(232.0), "232° at 1.0 mm")], 0.2)
    >>> from arcstack.mech.cam.facts import duration_crank_rad
    >>> round(math.degrees(duration_crank_rad(lobe, 1.0)), 1)
    232.0
    """
    return _estimated(peak_mm, tuple(durations), lash_at_lobe_mm)


def estimated_asymmetric(
    peak_mm: float, durations: Sequence[CardDuration], lash_at_lobe_mm: float, nose_after_centre_rad: float
) -> AsymmetricLobe | SymmetricLobe:
    """As ``estimated_lobe``, with the nose ``nose_after_centre_rad`` (crank) after the middle of each duration.

    The opening flank is then longer than the closing one by twice that. Raises ``CurveConflict`` as that does, and
    where the nose would fall outside a duration.

    Source: as ``estimated_lobe``, flank by flank.
    """
    if nose_after_centre_rad == 0.0:
        return estimated_lobe(peak_mm, durations, lash_at_lobe_mm)
    shift = 2.0 * nose_after_centre_rad
    if any(abs(shift) >= 0.6 * d.duration_rad for d in durations):
        raise CurveConflict("the point of maximum lift lies too far from the centreline for these durations")
    flanks = [
        estimated_lobe(peak_mm, [replace(d, duration_rad=d.duration_rad + s) for d in durations], lash_at_lobe_mm)
        for s in (shift, -shift)
    ]
    return AsymmetricLobe(*flanks)


def open_shapes(
    peak_mm: float, durations: Sequence[CardDuration], lash_at_lobe_mm: float, base_radius_mm: float | None
) -> list[SymmetricLobe]:
    """Other smooth lobes that the same card allows: fuller and slimmer, on quicker and quieter ramps.

    Shapes that a flat follower could not have ground (with ``base_radius_mm``, no negative radius) are left out.
    They span what the card leaves open; the estimated lobe itself lies among them.

    Source: as ``estimated_lobe``.
    """
    found = _spanned(peak_mm, tuple(durations), lash_at_lobe_mm, base_radius_mm)
    return [lobe for lobe in found if lobe is not None]


def open_asymmetric(
    peak_mm: float,
    durations: Sequence[CardDuration],
    lash_at_lobe_mm: float,
    base_radius_mm: float | None,
    nose_after_centre_rad: float,
) -> list[SymmetricLobe | AsymmetricLobe]:
    """As ``open_shapes``, of a lobe whose nose lies off the middle of each duration: both flanks of one shape.

    Source: as ``open_shapes``.
    """
    if nose_after_centre_rad == 0.0:
        return list(open_shapes(peak_mm, durations, lash_at_lobe_mm, base_radius_mm))
    shift = 2.0 * nose_after_centre_rad
    flanks = [
        _spanned(
            peak_mm,
            tuple(replace(d, duration_rad=d.duration_rad + s) for d in durations),
            lash_at_lobe_mm,
            base_radius_mm,
        )
        for s in (shift, -shift)
    ]
    return [AsymmetricLobe(a, b) for a, b in zip(*flanks, strict=True) if a is not None and b is not None]


def usual_ramp_mm_per_rad(ratio: float) -> float:
    """Speed of a usual ramp at the valve, mm per cam radian.

    Source: usual ramps, 0.016 mm per cam degree at the lobe.
    """
    return _USUAL_RAMP_VELOCITY * ratio


_SPAN = (
    (6.0, _USUAL_RAMP_VELOCITY),
    (11.0, _USUAL_RAMP_VELOCITY),
    (_USUAL_POWER, 0.5 * _USUAL_RAMP_VELOCITY),
    (_USUAL_POWER, 2.0 * _USUAL_RAMP_VELOCITY),
)
"""Main event powers and ramp velocities (mm/rad) to either side of the usual."""


@lru_cache(maxsize=128)
def _spanned(
    peak_mm: float, durations: tuple[CardDuration, ...], lash: float, base_radius_mm: float | None
) -> tuple[SymmetricLobe | None, ...]:
    """For each of ``_SPAN`` the lobe, or None where it cannot be."""
    lifts = np.array([d.lift_mm for d in durations])
    wanted = np.array([d.duration_rad for d in durations])
    usual = _estimated(peak_mm, durations, lash)
    free: tuple[str, ...] = ("beta",) if len(durations) == 1 else ("beta", "ramp_height")
    found: list[SymmetricLobe | None] = []
    for power, velocity in _SPAN if len(durations) < 3 else ():
        start = _Shape(usual.flank.beta_rad, power, velocity, usual.ramp.height_mm)
        shape = _solve(peak_mm, start, free, lifts, wanted)
        lobe = shape.lobe(peak_mm) if shape is not None else None
        ground = lobe is not None and (
            base_radius_mm is None or flat_follower_min_radius_mm(lobe, base_radius_mm) > 0.0
        )
        found.append(lobe if lobe is not None and ground and _smooth(lobe) else None)
    return tuple(found)


def _estimated(peak_mm: float, durations: tuple[CardDuration, ...], lash: float) -> SymmetricLobe:
    found = _found(peak_mm, durations, lash)
    if isinstance(found, str):
        raise CurveConflict(found)
    return found


@lru_cache(maxsize=256)
def _found(peak_mm: float, durations: tuple[CardDuration, ...], lash: float) -> SymmetricLobe | str:
    """The lobe, or why there is none: a card that contradicts itself is looked through once, like any other."""
    if not durations:
        raise ValueError("a curve needs at least one duration")
    try:
        _check_order(peak_mm, durations)
    except CurveConflict as conflict:
        return str(conflict)
    return _fit(peak_mm, durations, lash) or _explain(peak_mm, durations, lash)


def _check_order(peak_mm: float, durations: Sequence[CardDuration]) -> None:
    for d in durations:
        if d.lift_mm >= peak_mm:
            raise CurveConflict(f"{d.words}: the check lift is not below the lobe's lift of {peak_mm:.2f} mm")
    ordered = sorted(durations, key=lambda d: d.lift_mm)
    for low, high in pairwise(ordered):
        if high.duration_rad >= low.duration_rad:
            raise CurveConflict(
                f"{high.words} conflicts with {low.words}: a higher check lift must have the shorter duration"
            )


@dataclass(frozen=True)
class _Shape:
    """What a lobe of the family is made of; β aside, each has a usual value."""

    beta: float
    power: float
    ramp_velocity: float
    ramp_height: float

    def lobe(self, peak_mm: float) -> SymmetricLobe:
        return _lobe(peak_mm, self.beta, self.power, self.ramp_velocity, self.ramp_height)

    @property
    def possible(self) -> bool:
        return (
            self.ramp_height <= _RAMP_HEIGHT[1]
            and 0.1 < self.beta < 3.2
            and _POWER[0] <= self.power <= _POWER[1]
            and _RAMP_VELOCITY[0] <= self.ramp_velocity <= _RAMP_VELOCITY[1]
        )

    @property
    def strangeness(self) -> float:
        """How far the shape is from a usual one."""
        return abs(math.log(self.power / _USUAL_POWER)) + 0.4 * abs(math.log(self.ramp_velocity / _USUAL_RAMP_VELOCITY))


_FREE: dict[int, tuple[tuple[str, ...], ...]] = {
    1: (("beta",),),
    2: (("beta", "power"), ("beta", "ramp_velocity")),
    3: (("beta", "power", "ramp_velocity"), ("beta", "power", "ramp_height")),
}
"""Which of the shape's figures are solved for, by how many durations the card states."""


def _fit(peak_mm: float, durations: Sequence[CardDuration], lash: float) -> SymmetricLobe | None:
    """The least strange lobe that meets every duration, or None."""
    lifts = np.array([d.lift_mm for d in durations])
    wanted = np.array([d.duration_rad for d in durations])
    usual_height = min(max(lash + 0.05, 0.12), _RAMP_HEIGHT[1], 0.2 * peak_mm)
    heights = dict.fromkeys((usual_height, min(usual_height, 0.6 * float(lifts.min())), 0.02))
    found: list[_Shape] = []
    for height, free in product(heights, _FREE[len(durations)]):
        start = _Shape(float(wanted.max()) / 4.0, _USUAL_POWER, _USUAL_RAMP_VELOCITY, height)
        shape = _solve(peak_mm, start, free, lifts, wanted)
        if shape is not None and _smooth(shape.lobe(peak_mm)):
            found.append(shape)
            if shape.strangeness < 0.35:
                break
    if not found and len(durations) > 1:
        found = _nearest(peak_mm, lifts, wanted, usual_height)
    return min(found, key=lambda s: s.strangeness).lobe(peak_mm) if found else None


def _nearest(peak_mm: float, lifts: Array, wanted: Array, usual_height: float) -> list[_Shape]:
    """The shape that comes nearest with everything free, if that is within a card's rounding to whole degrees."""
    usual = np.array([_USUAL_POWER, _USUAL_RAMP_VELOCITY, min(usual_height, 0.6 * float(lifts.min()))])
    low = np.array([0.1, _POWER[0], _RAMP_VELOCITY[0], _RAMP_HEIGHT[0]])
    high = np.array([3.2, _POWER[1], _RAMP_VELOCITY[1], _RAMP_HEIGHT[1]])
    start = np.clip(np.concatenate([[float(wanted.max()) / 4.0], usual]), 1.01 * low, 0.99 * high)

    def miss(unknowns: Array) -> Array:
        shape = _Shape(*(float(u) for u in unknowns))
        return np.degrees(_durations(shape.lobe(peak_mm), lifts) - wanted)

    result = scipy.optimize.least_squares(miss, start, bounds=(low, high), x_scale=start, max_nfev=25, ftol=1e-3)
    shape = _Shape(*(float(u) for u in result.x))
    met = np.abs(miss(result.x)).max() <= _CARD_ROUNDING_DEG
    return [shape] if met and _smooth(shape.lobe(peak_mm)) else []


def _solve(peak_mm: float, start: _Shape, free: tuple[str, ...], lifts: Array, wanted: Array) -> _Shape | None:
    def shape(logs: Array) -> _Shape:
        scales = np.exp(np.clip(logs, -2.5, 2.5))
        return replace(start, **{n: getattr(start, n) * float(k) for n, k in zip(free, scales, strict=True)})

    def miss(logs: Array) -> Array:
        with np.errstate(all="ignore"):
            got = _durations(shape(logs).lobe(peak_mm), lifts)
        return np.nan_to_num(np.degrees(got - wanted), nan=1e3, posinf=1e3, neginf=-1e3)

    with catch_warnings():
        simplefilter("ignore", RuntimeWarning)
        solved = np.asarray(scipy.optimize.fsolve(miss, np.zeros(len(free)), xtol=1e-4, maxfev=60), dtype=np.float64)
    answer = shape(solved)
    if np.abs(miss(solved)).max() > _CLOSE_ENOUGH_DEG or not answer.possible:
        return None
    return answer


def _smooth(lobe: SymmetricLobe) -> bool:
    """Lift must fall all the way from the nose, and the flank accelerate once."""
    angle = np.linspace(1e-3, 1.0, 400) * lobe.flank.beta_rad
    if np.any(lobe.flank.evaluate(angle, 1) > 1e-9):
        return False
    signs = np.sign(np.round(lobe.flank.evaluate(angle, 2), 6))
    return int(np.count_nonzero(np.diff(signs[signs != 0]))) <= 1


def _explain(peak_mm: float, durations: Sequence[CardDuration], lash: float) -> str:
    ordered = sorted(durations, key=lambda d: -d.lift_mm)
    for anchor, other in combinations(ordered, 2):
        if _fit(peak_mm, (anchor, other), lash) is None:
            low, high = _reach(peak_mm, anchor, other.lift_mm)
            span = (
                f"{math.degrees(low):.0f}° to {math.degrees(high):.0f}°"
                if high < 2.0 * math.pi
                else f"at least {math.degrees(low):.0f}°"
            )
            return (
                f"{other.words} conflicts with {anchor.words}: with that and a lift of {peak_mm:.2f} mm "
                f"a smooth lobe has {span} there"
            )
    named = "; ".join(d.words for d in durations)
    return f"no smooth lobe of {peak_mm:.2f} mm lift meets all of {named}: check the figures and their places"


def _reach(peak_mm: float, anchor: CardDuration, lift_mm: float) -> tuple[float, float]:
    """Least and greatest duration at ``lift_mm`` among smooth lobes that meet ``anchor``."""
    found: list[float] = []
    heights = (_RAMP_HEIGHT[0], 0.2, _RAMP_HEIGHT[1])
    for power, velocity, height in product(np.linspace(*_POWER, 5), np.linspace(*_RAMP_VELOCITY, 4), heights):
        if height >= peak_mm / 2:
            continue

        def miss(beta: float, p: float = power, v: float = velocity, h: float = height) -> float:
            return float(_durations(_lobe(peak_mm, beta, p, v, h), np.array([anchor.lift_mm]))[0]) - anchor.duration_rad

        if miss(0.2) * miss(3.2) >= 0:
            continue
        lobe = _lobe(peak_mm, float(scipy.optimize.brentq(miss, 0.2, 3.2, xtol=1e-6)), power, velocity, height)
        if _smooth(lobe):
            found.append(float(_durations(lobe, np.array([lift_mm]))[0]))
    return (min(found), max(found)) if found else (0.0, 0.0)
