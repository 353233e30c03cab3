"""The step loop, compiled. SI units within: m, N, kg, s, rad."""

from typing import Any

import numpy as np
from numba import config, njit

from arcstack.dynamics.cache import place
from arcstack.dynamics.figures import (
    BOUNCE,
    CAM_WORK,
    CLASH,
    ENERGY_END,
    ENERGY_START,
    FIGURES,
    LOAD_LOST,
    MAX_LIFT,
    MIN_CONTACT,
    PEAK_CONTACT,
    REPEATS,
    SEATING,
    SEPARATION,
    SEPARATION_AT,
    SWING,
    TURNS,
)
from arcstack.mech.cam.law import Array

ON_LOBE_M = 0.3e-3
"""Follower lift from which contact and separation count."""

SLIP = 0.02
"""Speed (m/s) at which friction is near its full value; below it the rub fades, so that nothing sticks."""


_REPEATS = 0.005
"""Share within which the figures of two turns are the same."""

_LAST_TURNS = 6
"""Turns of which the largest counts, where they never come to repeat."""

AWAY = 0.15
LONG = 4
"""Cam angle (rad) past the lobe from which steps are longer, and by how many times."""

config.CACHE_DIR = str(place())
compiled = njit(cache=True, nogil=True, error_model="numpy", fastmath={"reassoc", "contract", "nsz", "arcp"})


@compiled
def _follower(angle: float, start: float, step: float, lift: Array, slope: Array) -> tuple[float, float]:
    """Lift and its slope at a cam angle, cubic between the table's points; nothing off the lobe."""
    at = (angle - start) / step
    i = int(np.floor(at))
    if i < 0 or i >= lift.shape[0] - 1:
        return 0.0, 0.0
    t = at - i
    a, b = lift[i], lift[i + 1]
    da, db = slope[i] * step, slope[i + 1] * step
    c2 = 3.0 * (b - a) - 2.0 * da - db
    c3 = 2.0 * (a - b) + da + db
    return a + t * (da + t * (c2 + t * c3)), (da + t * (2.0 * c2 + 3.0 * t * c3)) / step


@compiled
def _padded(nodes: int) -> int:
    """So many that the links between them come in whole eights, as the machine takes them; the rest lie idle."""
    return (nodes + 6) // 8 * 8 + 1


@compiled
def lay_out(springs: Array, mass: float, gas: float, coil_ratio: float) -> Any:
    """All springs in one row of nodes, each from its top at the valve to its foot on the head.

    Gives where each top stands; load, rate, stiffening, damping, travel and stop of the link below each node, none
    from one spring's foot to the next one's top; one over the mass of each node and its share of the valve's travel;
    the mass that moves with the valve, and what holds it shut at rest.
    """
    n_springs = springs.shape[0]
    tops = np.zeros(n_springs + 1, np.int64)
    for s in range(n_springs):
        tops[s + 1] = tops[s] + int(springs[s, 5]) + 2
    nodes = _padded(int(tops[n_springs]))
    load, k, q, c = np.zeros(nodes), np.zeros(nodes), np.zeros(nodes), np.zeros(nodes)
    solid, stop, per_mass, share = np.full(nodes, 1e9), np.zeros(nodes), np.zeros(nodes), np.zeros(nodes)
    preload, moving = -gas, mass
    for s in range(n_springs):
        parts = int(springs[s, 5]) + 1
        preload += springs[s, 0]
        if parts > 1:
            moving += 0.5 * springs[s, 4] / parts
        for i in range(parts + 1):
            at = tops[s] + i
            share[at] = 1.0 - i / parts
            if i == parts:
                continue
            load[at] = springs[s, 0]
            k[at] = springs[s, 1] * parts
            q[at] = springs[s, 2] * parts * parts
            solid[at] = springs[s, 3] / parts
            stop[at] = springs[s, 6] * k[at]
            if parts > 1:
                c[at] = k[at] * 2.0 * coil_ratio / (np.pi * np.sqrt(springs[s, 1] / springs[s, 4]))
                if i > 0:
                    per_mass[at] = parts / springs[s, 4]
    return tops, (load, k, q, c, solid, stop), (per_mass, share), moving, preload


@compiled
def _coil_energy(u: Array, v: Array, links: Any, per_mass: Array) -> float:
    """Energy of the coils' motion and strain."""
    load, k, q, _, solid, stop = links
    energy = 0.0
    for i in range(u.shape[0]):
        if per_mass[i] > 0.0:
            energy += 0.5 * v[i] * v[i] / per_mass[i]
        if i < u.shape[0] - 1:
            close = u[i] - u[i + 1]
            energy += close * (load[i] + close * (0.5 * k[i] + q[i] * close / 3.0))
            energy += 0.5 * stop[i] * max(close - solid[i], 0.0) ** 2
    return energy


@compiled
def _write_row(row: Array, tops: Array, force: Array, u: Array) -> None:
    """Load of each spring at the valve, then where each of its coils is, after the five figures before them."""
    at = 5
    for s in range(tops.shape[0] - 1):
        for i in range(tops[s], tops[s + 1] - 1):
            row[at] = force[i] if i == tops[s] else u[i]
            at += 1


@compiled
def _same(a: float, b: float, least: float) -> bool:
    return abs(a - b) <= max(_REPEATS * max(abs(a), abs(b)), least)


@compiled
def repeats(now: Array, before: Array) -> bool:
    """Whether contact (N), gap (m), seating (m/s) and load lost (N) are those of the turn before."""
    return (
        _same(now[PEAK_CONTACT], before[PEAK_CONTACT], 1.0)
        and _same(now[SEPARATION], before[SEPARATION], 2.5e-7)
        and _same(now[SEATING], before[SEATING], 1e-3)
        and _same(now[LOAD_LOST], before[LOAD_LOST], 0.5)
    )


@compiled
def _begin(out: Array) -> None:
    """A turn's own figures, before it; energy and work go on."""
    for i in range(SEPARATION_AT + 1):
        out[i] = 0.0
    out[MIN_CONTACT] = 1e30
    for i in (SEATING, BOUNCE, SWING, LOAD_LOST, CLASH):
        out[i] = 0.0


@compiled
def largest(history: Array, turns: int) -> Array:
    """The hardest of the last turns, figure by figure, for a train that does not repeat."""
    out: Array = history[turns - 1].copy()
    for t in range(max(0, turns - _LAST_TURNS), turns - 1):
        if history[t, SEPARATION] > out[SEPARATION]:
            out[SEPARATION_AT] = history[t, SEPARATION_AT]
        out[MIN_CONTACT] = min(out[MIN_CONTACT], history[t, MIN_CONTACT])
        for i in (MAX_LIFT, PEAK_CONTACT, SEPARATION, SEATING, BOUNCE, SWING, LOAD_LOST, CLASH):
            out[i] = max(out[i], history[t, i])
    return out


@compiled
def run(
    omega: float,
    first_angle: float,
    turns: int,
    settles: bool,
    steps: int,
    lobe: tuple[float, float, Array, Array],
    train: Array,
    springs: Array,
    given: Array,
    every: int,
    trace: Array,
) -> Array:
    """Turn the cam and follow valve and coils by the velocity Verlet rule.

    It turns ``turns`` times; where it ``settles``, only until a turn repeats the one before, and where none of them
    does, the largest of the last turns counts.

    ``train``: lash, mass, stiffness, damping, seat stiffness, seat damping, gas force, friction, coil damping ratio.
    ``springs``: a row each of load at rest, rate, stiffening, travel to solid, mass, coils of the chain, clash factor.
    ``given``: starting displacement of valve and coils, or empty for rest on the seat. Every ``every`` steps of the
    last turn a row is written to ``trace``: angle, follower, valve, cam force, seat force, spring forces, coils.
    Returns the figures of the last turn, by their indices, with how many turns there were and whether they repeat.
    ``force[i]`` is that of the link from node i to the next.
    """
    lash, mass, k_t, c_t, k_s, c_s, gas, rub, coil_ratio = train
    start, step, lift, slope = lobe
    lobe_end = start + step * (lift.shape[0] - 1)
    tops, links, nodes_of, moving, preload = lay_out(springs, mass, gas, coil_ratio)
    load, k, q, c, solid, stop = links
    per_mass, share = nodes_of
    n_springs = springs.shape[0]
    nodes = _padded(int(tops[n_springs]))
    u, v, v_half, a, force = np.zeros(nodes), np.zeros(nodes), np.zeros(nodes), np.zeros(nodes), np.zeros(nodes)
    paired = n_springs == 2 and springs[0, 5] == springs[1, 5]

    n_links = nodes - 1
    # each node's next one, as arrays of their own, so that the loops over links need no bounds looked after
    u1, v1, a1, force1, per_mass1 = u[1:], v[1:], a[1:], force[1:], per_mass[1:]

    turned = 2.0 * np.pi / steps
    within = 0
    dt_fine = 2.0 * np.pi / (omega * steps)
    x = -preload / k_s
    if given.shape[0] > 0:
        x = given[0]
    other = 1
    for i in range(nodes):
        u[i] = x * share[i]
        if given.shape[0] > 0 and per_mass[i] > 0.0:
            u[i] = given[other]
            other += 1
    w = 0.0
    ax = 0.0
    y = -lash
    f_cam = 0.0
    x_was = x
    w_was = w
    a_was = ax

    out = np.zeros(FIGURES)
    history = np.zeros((turns, FIGURES))
    turn = 0
    _begin(out)
    landed = False
    risen = False
    still_open = 0.0
    fall = 0.0
    row = 0
    total = turns * steps
    last = total - steps
    count = 0
    stride = 0
    while True:
        dt = dt_fine * stride
        half = 0.5 * dt
        if stride > 0:
            x_was = x
            w_was = w
            a_was = ax
            w_half = w + half * ax
            x += dt * w_half
            w = w_half + half * ax
            for i in range(nodes):
                v_half[i] = v[i] + half * a[i]
                u[i] += dt * v_half[i]
                # a guess of the speed at the end of the step, for the forces that depend on it
                v[i] = v_half[i] + half * a[i]
        for s in range(n_springs):
            u[tops[s]] = x
            v[tops[s]] = w
        angle = first_angle + turned * within
        y_was = y
        f_was = f_cam
        y, slope_now = _follower(angle, start, step, lift, slope)
        y -= lash
        over = y - x
        f_cam = 0.0
        if over > 0.0:
            f_cam = max(0.0, k_t * over + c_t * (slope_now * omega - w))
        f_seat = 0.0
        if x < 0.0:
            f_seat = max(0.0, -k_s * x - c_s * w)
        clashing = 0.0
        for i in range(n_links):
            close = u[i] - u1[i]
            clash = stop[i] * max(close - solid[i], 0.0)
            clashing += clash
            force[i] = load[i] + close * (k[i] + q[i] * close) + c[i] * (v[i] - v1[i]) + clash
        pull = f_cam + f_seat + gas
        for s in range(n_springs):
            top, foot = tops[s], tops[s + 1] - 2
            # a loose spring cannot pull at its ends
            force[top] = max(force[top], 0.0)
            force[foot] = max(force[foot], 0.0)
            pull -= force[top]
        ax_new = pull / moving
        if rub > 0.0:
            for s in range(n_springs):
                top, inner = tops[s], tops[s + 1] - tops[s] - 2
                for i in range(1, inner + 1):
                    slip = v[top + i] - (v[tops[1 - s] + i] if paired else w * share[top + i])
                    a[top + i] = (
                        force[top + i - 1] - force[top + i] - rub / inner * slip / np.sqrt(slip * slip + SLIP * SLIP)
                    ) * per_mass[top + i]
        else:
            for i in range(n_links):
                a1[i] = (force[i] - force1[i]) * per_mass1[i]
        if stride > 0:
            for i in range(nodes):
                v[i] = v_half[i] + half * a[i]
            w += half * (ax_new - ax)
            out[CAM_WORK] += 0.5 * (f_cam + f_was) * (y - y_was)
        ax = ax_new
        if count == 0:
            energy = 0.5 * moving * w * w - gas * x + 0.5 * k_t * max(over, 0.0) ** 2 + 0.5 * k_s * min(x, 0.0) ** 2
            out[ENERGY_START] = energy + _coil_energy(u, v, links, per_mass)
        out[MAX_LIFT] = max(out[MAX_LIFT], x)
        out[PEAK_CONTACT] = max(out[PEAK_CONTACT], f_cam)
        if y > ON_LOBE_M:
            risen = True
            out[MIN_CONTACT] = min(out[MIN_CONTACT], f_cam)
            if -over > out[SEPARATION]:
                out[SEPARATION] = -over
                out[SEPARATION_AT] = angle
            missing = 0.0
            for s in range(n_springs):
                top, foot = tops[s], tops[s + 1] - 1
                missing += springs[s, 0] + x * (springs[s, 1] + springs[s, 2] * x) - force[top]
                middle = (top + foot) // 2
                out[SWING] = max(out[SWING], abs(u[middle] - x * share[middle]))
            out[LOAD_LOST] = max(out[LOAD_LOST], missing)
        elif risen and angle > 0.0:
            if x <= 0.0 and (x_was > 0.0 or not landed):
                # the speed it had as it met the seat, between two steps; the hardest of its touches counts
                landed = True
                met = x_was / (x_was - x) if x_was > x else 0.0
                out[SEATING] = max(out[SEATING], -(w_was + met * dt * a_was))
            if landed:
                out[BOUNCE] = max(out[BOUNCE], x)
            elif y < 0.0:
                still_open = max(still_open, x)
                fall = max(fall, -w)
        if clashing > 0.0:
            for i in range(n_links):
                out[CLASH] = max(out[CLASH], stop[i] * (u[i] - u1[i] - solid[i]))
        if every > 0 and count >= last and (count - last) % every == 0 and row < trace.shape[0]:
            trace[row, 0] = angle
            trace[row, 1] = y
            trace[row, 2] = x
            trace[row, 3] = f_cam
            trace[row, 4] = f_seat
            _write_row(trace[row], tops, force, u)
            row += 1
        if within == 0 and count > 0:
            # a whole turn is behind
            if not landed:
                # thrown so far that it has not come back: what it falls with, how far it stands open without its cam
                out[SEATING], out[BOUNCE] = fall, still_open
            if out[MIN_CONTACT] > 1e29:
                out[MIN_CONTACT] = 0.0
            history[turn] = out
            turn += 1
            if settles and turn > 1 and repeats(history[turn - 1], history[turn - 2]):
                out[REPEATS] = 1.0
                break
            if turn == turns:
                break
            _begin(out)
            landed = False
            risen = False
            still_open = 0.0
            fall = 0.0
        # with the valve on its seat and the lobe away only the coils still ring, which a longer step follows as well
        stride = 1
        if every == 0 and angle > lobe_end + AWAY and x <= 0.0 and within <= steps - 2 * LONG:
            stride = LONG
        count += stride
        within += stride
        if within >= steps:
            within -= steps
    energy = 0.5 * moving * w * w - gas * x + 0.5 * k_t * max(over, 0.0) ** 2 + 0.5 * k_s * min(x, 0.0) ** 2
    energy += _coil_energy(u, v, links, per_mass)
    last_turn = out
    if settles and out[REPEATS] == 0.0:
        last_turn = largest(history, turn)
    last_turn[ENERGY_START], last_turn[ENERGY_END], last_turn[CAM_WORK] = out[ENERGY_START], energy, out[CAM_WORK]
    last_turn[TURNS] = turn
    return last_turn


def kernel(*arguments: Any) -> Array:
    """``run``, for callers that are typed."""
    found: Array = run(*arguments)
    return found
