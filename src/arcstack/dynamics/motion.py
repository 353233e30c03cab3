"""One speed of an elastic train: its figures, and the motion behind them."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from arcstack.dynamics import figures
from arcstack.dynamics.model import Train
from arcstack.mech.cam.law import Array
from arcstack.mech.control import cam_rad_per_s

LEAD_RAD = math.radians(5.0)
"""Cam angle before the lobe at which a turn starts."""

MOST_TURNS = 12
"""Turns until a train counts as one that does not repeat."""

STEP_S = 1.25e-6
"""Time step; half of it moves no reported figure by more than one percent."""

SLOWEST_RPM, FASTEST_RPM = 300.0, 25_000.0
"""Speeds between which a train is looked at; a sweep may begin slower."""


@dataclass(frozen=True)
class AtSpeed:
    """What a train does at a crank speed once its turns repeat: mm, N, m/s.

    ``turns`` says how many it took from rest; where they do not repeat within half a percent, ``repeats`` is False and
    each figure is the largest of the last turns.

    ``seating`` is the hardest touch of the seat after the nose, ``bounce`` the highest lift after the first; of a valve
    that has not come back by the turn's end, the speed it falls with and how far it stands open without its cam.
    Contact and separation count while the follower asks for over 0.3 mm. ``separation_rad`` is the cam angle from
    the nose of the widest gap. ``load_lost_N`` is spring load missing at the valve against the same springs at rest;
    ``swing_mm`` how far the middle coil strays; ``clash_N`` the force of coils that touch.
    """

    rpm: float
    max_lift_mm: float
    peak_contact_N: float
    min_contact_N: float
    separation_mm: float
    separation_rad: float
    seating_m_per_s: float
    bounce_mm: float
    swing_mm: float
    load_lost_N: float
    clash_N: float
    turns: int = 1
    repeats: bool = True


@dataclass(frozen=True)
class Trace:
    """One turn: cam angle (rad), follower and valve (mm), cam, seat and spring forces (N), and for each spring the
    displacement of its coils from where they stand on a closed valve (mm; rows in time)."""

    rpm: float
    angle_rad: Array
    follower_mm: Array
    valve_mm: Array
    cam_N: Array
    seat_N: Array
    springs_N: tuple[Array, ...]
    coils_mm: tuple[Array, ...]

    @property
    def cam_mm(self) -> Array:
        """What of the cam's lift reaches the valve: none while lash is open."""
        cam: Array = np.maximum(self.follower_mm, 0.0)
        return cam

    @property
    def parted_mm(self) -> Array:
        """By how much the valve has left the cam, while the cam holds it open at all."""
        parted: Array = np.where(self.follower_mm > 0.0, np.maximum(self.valve_mm - self.follower_mm, 0.0), 0.0)
        return parted

    @property
    def seconds(self) -> Array:
        """Time from the first row."""
        elapsed: Array = (self.angle_rad - self.angle_rad[0]) / cam_rad_per_s(self.rpm)
        return elapsed


_NOTHING = np.zeros(0)
_NO_TRACE = np.zeros((0, 0))

_OF_FASTEST = 0.4
"""Longest step, as a share of the inverse of the train's highest frequency."""


def steps_per_turn(train: Train, rpm: float, step_s: float = STEP_S) -> int:
    step = min(step_s, _OF_FASTEST / train.fastest_rad_per_s)
    return max(400, math.ceil(120.0 / _checked(rpm) / step))


def _checked(rpm: float) -> float:
    if not 0.0 < rpm <= FASTEST_RPM:
        raise ValueError(f"a speed of {rpm:.0f} rpm is not within 0 to {FASTEST_RPM:.0f}")
    return rpm


def _run(
    train: Train,
    rpm: float,
    turns: int | None,
    steps: int,
    every: int = 0,
    trace: Array = _NO_TRACE,
    given: Array = _NOTHING,
    first_rad: float | None = None,
) -> Array:
    """``turns`` turns, or as many as it takes to repeat."""
    # the compiler behind the loop is slow to load, and most pages do without
    from arcstack.dynamics import kernels

    first = train.lobe[0] - LEAD_RAD if first_rad is None else first_rad
    omega = cam_rad_per_s(rpm)
    count, settles = (MOST_TURNS, True) if turns is None else (turns, False)
    return kernels.kernel(
        omega, first, count, settles, steps, train.lobe, train.constants, train.chains, given, every, trace
    )


def at_speed(train: Train, rpm: float, turns: int | None = None, step_s: float = STEP_S) -> AtSpeed:
    """The steady state, from rest on the seat five cam degrees before the lobe; with ``turns`` the last of so many.

    Raises ``ValueError`` for a speed that no engine turns.
    """
    return _at_speed(rpm, _run(train, rpm, turns, steps_per_turn(train, rpm, step_s)), turns)


def at_speeds(train: Train, speeds: Sequence[float], turns: int | None = None) -> list[AtSpeed]:
    """As ``at_speed``, for many speeds at once. Raises as that does."""
    # the compiler behind the loop is slow to load, and most pages do without
    from arcstack.dynamics.lanes.loop import lanes

    count, settles = (MOST_TURNS, True) if turns is None else (turns, False)
    omegas = np.array([cam_rad_per_s(_checked(n)) for n in speeds])
    steps = np.array([float(steps_per_turn(train, n)) for n in speeds])
    if not np.all(np.isfinite(train.lobe[2])):
        raise _unfollowed(speeds[0])
    found = lanes(omegas, steps, train.lobe[0] - LEAD_RAD, count, settles, train.lobe, train.constants, train.chains)
    return [_at_speed(rpm, row, turns) for rpm, row in zip(speeds, found, strict=True)]


def _unfollowed(rpm: float) -> ArithmeticError:
    return ArithmeticError(f"the train cannot be followed at {rpm:.0f} rpm: masses or stiffness are out of all reason")


def _at_speed(rpm: float, out: Array, turns: int | None) -> AtSpeed:
    if not np.all(np.isfinite(out)):
        raise _unfollowed(rpm)
    return AtSpeed(
        rpm,
        float(out[figures.MAX_LIFT]) * 1e3,
        float(out[figures.PEAK_CONTACT]),
        float(out[figures.MIN_CONTACT]),
        float(out[figures.SEPARATION]) * 1e3,
        float(out[figures.SEPARATION_AT]),
        float(out[figures.SEATING]),
        float(out[figures.BOUNCE]) * 1e3,
        float(out[figures.SWING]) * 1e3,
        float(out[figures.LOAD_LOST]),
        float(out[figures.CLASH]),
        int(out[figures.TURNS]),
        turns is not None or bool(out[figures.REPEATS]),
    )


def trace(
    train: Train,
    rpm: float,
    rows: int = 720,
    turns: int | None = None,
    given: Array = _NOTHING,
    first_rad: float | None = None,
) -> Trace:
    """The motion of the last turn in about ``rows`` even steps of cam angle: once it repeats, or of ``turns`` turns.

    ``given`` starts the valve and then each coil from a displacement (m), ``first_rad`` the cam from an angle.
    """
    if turns is None:
        turns = at_speed(train, rpm).turns
    every = max(1, steps_per_turn(train, rpm) // rows)
    steps = every * math.ceil(steps_per_turn(train, rpm) / every)
    table = np.zeros((steps // every + 1, 5 + sum(1 + s.masses for s in train.springs)))
    _run(train, rpm, turns, steps, every, table, given, first_rad)
    # the last row is the first of the next turn
    table = table[:-1]
    forces, coils, at = [], [], 5
    for s in train.springs:
        forces.append(table[:, at])
        coils.append(table[:, at + 1 : at + 1 + s.masses] * 1e3)
        at += 1 + s.masses
    return Trace(
        rpm, table[:, 0], table[:, 1] * 1e3, table[:, 2] * 1e3, table[:, 3], table[:, 4], tuple(forces), tuple(coils)
    )


@dataclass(frozen=True)
class Energy:
    """Energy (J) of all moving and strained parts at the start and the end, and the work that the cam did between."""

    start_J: float
    end_J: float
    cam_work_J: float


def energy(train: Train, rpm: float, turns: int = 1, step_s: float = STEP_S) -> Energy:
    """What went in and what is there; without damping or friction they balance."""
    out = _run(train, rpm, turns, steps_per_turn(train, rpm, step_s))
    return Energy(*(float(out[i]) for i in (figures.ENERGY_START, figures.ENERGY_END, figures.CAM_WORK)))
