"""The step loop of ``kernels.run`` with a speed in each lane; a lane whose speed is done takes the next one.

SI units within: m, N, kg, s, rad.
"""

from typing import Any

import numpy as np

from arcstack.dynamics.figures import (
    BOUNCE,
    CLASH,
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
from arcstack.dynamics.kernels import AWAY, LONG, ON_LOBE_M, SLIP, compiled, largest, lay_out, repeats
from arcstack.dynamics.lanes.vector import (
    LANES,
    choose,
    gather,
    least,
    load,
    most,
    past_whole,
    root,
    some,
    store,
    wide,
    without,
)
from arcstack.mech.cam.law import Array

_COUNTED = CLASH + 1
"""Figures that the lanes count themselves, the first of all."""

# rows of the lanes' state, each a vector
_X, _W, _AX, _OMEGA, _TURNED, _DT, _STRIDE, _WITHIN, _STEPS, _BEGUN, _LANDED, _RISEN, _STILL, _FALL = range(14)
_FIGURE = 14
_ROWS = _FIGURE + _COUNTED


@compiled
def _cubics(step: float, lift: Array, slope: Array) -> Array:
    """The lobe's table as cubics, four coefficients to an interval."""
    found = np.zeros(4 * (lift.shape[0] - 1))
    for i in range(lift.shape[0] - 1):
        a, b, da, db = lift[i], lift[i + 1], slope[i] * step, slope[i + 1] * step
        found[4 * i] = a
        found[4 * i + 1] = da
        found[4 * i + 2] = 3.0 * (b - a) - 2.0 * da - db
        found[4 * i + 3] = 2.0 * (a - b) + da + db
    return found


@compiled
def _begin_turn(state: Array, lane: int) -> None:
    """A turn's own figures and flags, before it."""
    for row in range(_LANDED, _ROWS):
        state[row * LANES + lane] = 0.0
    state[(_FIGURE + MIN_CONTACT) * LANES + lane] = 1e30


@compiled
def _end_turn(state: Array, coils: Array, lane: int, figures: Array) -> None:
    """The figures of the turn that a lane has behind it; no numbers where its train could not be followed.

    A comparison of lanes passes over what is no number, so it is looked for here.
    """
    followed = state[_X * LANES + lane] + state[_W * LANES + lane]
    for i in range(coils.shape[1] // LANES):
        followed += coils[0, i * LANES + lane] + coils[2, i * LANES + lane]
    if not np.isfinite(followed):
        figures[:] = np.nan
        return
    for f in range(_COUNTED):
        figures[f] = state[(_FIGURE + f) * LANES + lane]
    if state[_LANDED * LANES + lane] == 0.0:
        # thrown so far that it has not come back: what it falls with, how far it stands open without its cam
        figures[SEATING], figures[BOUNCE] = state[_FALL * LANES + lane], state[_STILL * LANES + lane]
    if figures[MIN_CONTACT] > 1e29:
        figures[MIN_CONTACT] = 0.0


@compiled
def _take(state: Array, coils: Array, lane: int, omega: float, steps: float, x: float, share: Array) -> None:
    """Put a speed into a lane, the valve at rest on its seat."""
    nodes = share.shape[0]
    for row in range(_ROWS):
        state[row * LANES + lane] = 0.0
    for i in range(nodes):
        coils[0, i * LANES + lane] = x * share[i]
        for kind in range(1, 4):
            coils[kind, i * LANES + lane] = 0.0
    state[_X * LANES + lane] = x
    state[_OMEGA * LANES + lane] = omega
    state[_STEPS * LANES + lane] = steps
    state[_TURNED * LANES + lane] = 2.0 * np.pi / steps
    state[_DT * LANES + lane] = 2.0 * np.pi / (omega * steps)
    _begin_turn(state, lane)


@compiled
def turn_all(
    omegas: Array, steps: Array, first_angle: float, turns: int, settles: bool, lobe: Any, train: Array, springs: Array
) -> Array:
    """As ``kernels.run``, for each of ``omegas`` (rad/s of the cam) with its own ``steps`` to a turn.

    Gives a row of figures for each; energy and work are left at nought.
    """
    lash, mass, k_t, c_t, k_s, c_s, gas, rub, coil_ratio = train
    start, lobe_step, lift, slope = lobe
    intervals = lift.shape[0] - 1
    lobe_end, cubics = start + lobe_step * intervals, _cubics(lobe_step, lift, slope)
    tops, links, nodes_of, moving, preload = lay_out(springs, mass, gas, coil_ratio)
    load_at, k, q, c, solid, stop = links
    per_mass, share = nodes_of
    n_springs, nodes, count = springs.shape[0], share.shape[0], omegas.shape[0]
    paired = n_springs == 2 and springs[0, 5] == springs[1, 5]

    found = np.zeros((count, FIGURES))
    history = np.zeros((LANES, turns, FIGURES))
    state = np.zeros(_ROWS * LANES)
    # of each node: where it is, its speed guessed for the end of a step, its speed, its acceleration
    coils = np.zeros((4, nodes * LANES))
    u, guessed, v, a = coils[0], coils[1], coils[2], coils[3]
    job, behind = np.full(LANES, -1), np.zeros(LANES, np.int64)
    rest_x = -preload / k_s
    next_job, live = 0, 0
    for lane in range(LANES):
        if next_job < count:
            _take(state, coils, lane, omegas[next_job], steps[next_job], rest_x, share)
            job[lane] = next_job
            next_job += 1
            live += 1
        else:
            _take(state, coils, lane, 1.0, 1e12, 0.0, share)

    zero, one, long_step = wide(0.0), wide(1.0), wide(float(LONG))
    per_moving, per_step = 1.0 / moving, 1.0 / lobe_step
    while live > 0:
        x, w, ax = load(state, _X * LANES), load(state, _W * LANES), load(state, _AX * LANES)
        omega, turned, dt_fine = load(state, _OMEGA * LANES), load(state, _TURNED * LANES), load(state, _DT * LANES)
        stride, within, of_turn = (
            load(state, _STRIDE * LANES),
            load(state, _WITHIN * LANES),
            load(state, _STEPS * LANES),
        )
        begun, landed, risen = load(state, _BEGUN * LANES), load(state, _LANDED * LANES), load(state, _RISEN * LANES)
        still, fall = load(state, _STILL * LANES), load(state, _FALL * LANES)
        max_lift, peak = load(state, (_FIGURE + MAX_LIFT) * LANES), load(state, (_FIGURE + PEAK_CONTACT) * LANES)
        low, gap = load(state, (_FIGURE + MIN_CONTACT) * LANES), load(state, (_FIGURE + SEPARATION) * LANES)
        gap_at, seating = load(state, (_FIGURE + SEPARATION_AT) * LANES), load(state, (_FIGURE + SEATING) * LANES)
        bounce, swing = load(state, (_FIGURE + BOUNCE) * LANES), load(state, (_FIGURE + SWING) * LANES)
        lost, clash = load(state, (_FIGURE + LOAD_LOST) * LANES), load(state, (_FIGURE + CLASH) * LANES)
        while True:
            dt = dt_fine * stride
            half = dt * 0.5
            x_was, w_was, a_was = x, w, ax
            w_half = w + half * ax
            x = x + dt * w_half
            w = w_half + half * ax
            for i in range(nodes):
                at = i * LANES
                acceleration = load(a, at)
                v_half = load(v, at) + half * acceleration
                store(u, at, load(u, at) + dt * v_half)
                store(guessed, at, v_half + half * acceleration)
                store(v, at, v_half)
            for s in range(n_springs):
                store(u, tops[s] * LANES, x)
                store(guessed, tops[s] * LANES, w)

            angle = turned * within + first_angle
            on_table = (angle - start) * per_step
            inside = (on_table >= 0.0) & (on_table < float(intervals))
            y, rise = zero, zero
            if some(inside):
                row = choose(inside, on_table, zero)
                t = past_whole(row)
                c0, c1, c2, c3 = (
                    gather(cubics, row, 0),
                    gather(cubics, row, 1),
                    gather(cubics, row, 2),
                    gather(cubics, row, 3),
                )
                y = choose(inside, c0 + t * (c1 + t * (c2 + t * c3)), zero)
                rise = choose(inside, (c1 + t * (c2 * 2.0 + t * c3 * 3.0)) * per_step, zero)
            y = y - lash
            over = y - x
            f_cam = choose(over > 0.0, most(zero, over * k_t + (rise * omega - w) * c_t), zero)
            f_seat = choose(x < 0.0, most(zero, zero - x * k_s - w * c_s), zero)
            pull, missing, strayed = f_cam + f_seat + gas, zero, zero
            for s in range(n_springs):
                top, parts = tops[s], tops[s + 1] - tops[s] - 1
                here_u, here_v, above = x, w, zero
                for i in range(parts):
                    at = top + i
                    next_u, next_v = load(u, (at + 1) * LANES), load(guessed, (at + 1) * LANES)
                    close = here_u - next_u
                    touching = most(close - solid[at], zero) * stop[at]
                    clash = most(clash, touching)
                    force = close * (close * q[at] + k[at]) + load_at[at] + (here_v - next_v) * c[at] + touching
                    if i == 0 or i == parts - 1:
                        # a loose spring cannot pull at its ends
                        force = most(force, zero)
                    if i == 0:
                        pull = pull - force
                        missing = missing - force
                    else:
                        net = above - force
                        if rub > 0.0:
                            beside = load(guessed, (tops[1 - s] + i) * LANES) if paired else w * share[at]
                            slip = here_v - beside
                            net = net - slip / root(slip * slip + SLIP * SLIP) * (rub / (parts - 1))
                        now = net * per_mass[at]
                        store(a, at * LANES, now)
                        store(v, at * LANES, load(v, at * LANES) + half * now)
                    above, here_u, here_v = force, next_u, next_v
                missing = missing + springs[s, 0] + x * (x * springs[s, 2] + springs[s, 1])
                middle = (top + tops[s + 1] - 1) // 2
                off = load(u, middle * LANES) - x * share[middle]
                strayed = most(strayed, most(off, zero - off))
            ax_new = pull * per_moving
            w = w + half * (ax_new - ax)
            ax = ax_new

            max_lift, peak = most(max_lift, x), most(peak, f_cam)
            lifted = y > ON_LOBE_M
            risen = choose(lifted, one, risen)
            low = choose(lifted, least(low, f_cam), low)
            wider = lifted & (zero - over > gap)
            gap, gap_at = choose(wider, zero - over, gap), choose(wider, angle, gap_at)
            lost, swing = choose(lifted, most(lost, missing), lost), choose(lifted, most(swing, strayed), swing)
            behind_it = without(lifted) & (risen > 0.5) & (angle > 0.0)
            if some(behind_it):
                # the speed it had as it met the seat, between two steps; the hardest of its touches counts
                hit = behind_it & (x <= 0.0) & ((x_was > 0.0) | (landed < 0.5))
                landed = choose(hit, one, landed)
                met = choose(x_was > x, x_was / (x_was - x), zero)
                seating = choose(hit, most(seating, zero - (w_was + met * dt * a_was)), seating)
                bounce = choose(behind_it & (landed > 0.5), most(bounce, x), bounce)
                hanging = behind_it & (landed < 0.5) & (y < 0.0)
                still, fall = choose(hanging, most(still, x), still), choose(hanging, most(fall, zero - w), fall)
            ended = (within == 0.0) & (begun > 0.5)
            # with the valve on its seat and the lobe away only the coils still ring: a longer step follows them as well
            resting = (angle > lobe_end + AWAY) & (x <= 0.0) & (within - of_turn <= -2.0 * LONG)
            stride = choose(resting, long_step, one)
            if some(ended):
                break
            begun = one
            within = within + stride
            within = choose(within >= of_turn, within - of_turn, within)

        store(state, _X * LANES, x)
        store(state, _W * LANES, w)
        store(state, _AX * LANES, ax)
        store(state, _STRIDE * LANES, stride)
        store(state, _WITHIN * LANES, within)
        store(state, _BEGUN * LANES, begun)
        store(state, _LANDED * LANES, landed)
        store(state, _RISEN * LANES, risen)
        store(state, _STILL * LANES, still)
        store(state, _FALL * LANES, fall)
        store(state, (_FIGURE + MAX_LIFT) * LANES, max_lift)
        store(state, (_FIGURE + PEAK_CONTACT) * LANES, peak)
        store(state, (_FIGURE + MIN_CONTACT) * LANES, low)
        store(state, (_FIGURE + SEPARATION) * LANES, gap)
        store(state, (_FIGURE + SEPARATION_AT) * LANES, gap_at)
        store(state, (_FIGURE + SEATING) * LANES, seating)
        store(state, (_FIGURE + BOUNCE) * LANES, bounce)
        store(state, (_FIGURE + SWING) * LANES, swing)
        store(state, (_FIGURE + LOAD_LOST) * LANES, lost)
        store(state, (_FIGURE + CLASH) * LANES, clash)
        for lane in range(LANES):
            begun_before = state[_BEGUN * LANES + lane] > 0.5
            state[_BEGUN * LANES + lane] = 1.0
            if begun_before and state[_WITHIN * LANES + lane] == 0.0 and job[lane] >= 0:
                done = behind[lane]
                _end_turn(state, coils, lane, history[lane, done])
                behind[lane] = done + 1
                lost_it = np.isnan(history[lane, done, 0])
                steady = settles and done > 0 and repeats(history[lane, done], history[lane, done - 1])
                if steady or lost_it or done + 1 == turns:
                    row_of = job[lane]
                    found[row_of] = history[lane, done]
                    if settles and not steady and not lost_it:
                        found[row_of] = largest(history[lane], done + 1)
                    found[row_of, TURNS] = done + 1
                    found[row_of, REPEATS] = 1.0 if steady else 0.0
                    live -= 1
                    job[lane], behind[lane] = -1, 0
                    if next_job < count:
                        _take(state, coils, lane, omegas[next_job], steps[next_job], rest_x, share)
                        job[lane] = next_job
                        next_job += 1
                        live += 1
                    else:
                        _take(state, coils, lane, 1.0, 1e12, 0.0, share)
                    continue
                _begin_turn(state, lane)
            # the step that the break left out
            further = state[_WITHIN * LANES + lane] + state[_STRIDE * LANES + lane]
            whole = state[_STEPS * LANES + lane]
            state[_WITHIN * LANES + lane] = further - whole if further >= whole else further
    return found


def lanes(*arguments: Any) -> Array:
    """``turn_all``, for callers that are typed."""
    found: Array = turn_all(*arguments)
    return found
