"""The follower on its lobe: edge, curvature, pressure, sweep; and what the lobe does to it."""

import math

import numpy as np

from arcstack.assess import cam, control, gas, spring
from arcstack.assess.context import Context, MissingInput, figure, length
from arcstack.build.parts import Place, Shimming
from arcstack.checks import Evidence, Figure, Limit, Missing
from arcstack.mech import contact
from arcstack.mech import follower as follower_model
from arcstack.mech.cam.facts import crossings_rad, facts, samples
from arcstack.mech.cam.law import Array
from arcstack.mech.control import cam_rad_per_s
from arcstack.units import ANGLE, FORCE, LENGTH, SPEED, STRESS, VELOCITY, show

CRANKING_RPM = 250.0

NOSE_RAD = math.radians(5.0)
"""Cam angle to either side that counts as the nose."""

SPITS_SHIMS_RPM = 7500.0
"""Limiter above which a shim over the bucket gets its caution; builders put it between 7,000 and 8,000."""


@figure
def eccentricity(ctx: Context) -> Figure:
    """How far the contact runs off the bucket's middle: the lobe's peak velocity per radian."""
    curve = cam.curve(ctx)
    peak = facts(curve.lobe).peak_velocity_mm_per_rad
    return length("e", "Contact off centre, most", peak, "e = max |dL/dθ|", curve.origin)


@figure
def edge_margin(ctx: Context) -> Figure:
    ctx.need("stack.bucket.diameter", "cam.lobe_width")
    diameter, width = ctx.entry("stack.bucket.diameter", "D_b"), ctx.entry("cam.lobe_width", "w")
    offset, e = ctx.absent("stack.bucket.offset", "o", "no offset"), eccentricity(ctx)
    value = contact.bucket_edge_margin_mm(diameter.value, e.value, width.value, offset.value)
    needed = diameter.value - 2.0 * value
    note = f"The contact line reaches over {show(needed, LENGTH)} of crown; an edge margin comes on top on both sides."
    formula = "m_e = D_b/2 − √(e² + (w/2 + o)²)"
    return length("m_e", "Bucket edge margin", value, formula, diameter, e, width, offset, note=note)


@figure
def _radii(ctx: Context) -> tuple[Array, Array, Array]:
    """Cam angles over the lobe, the lobe's radius at each, and the relative radius of lobe and follower."""
    base = ctx.entry("cam.base_circle", "D_c").value / 2.0
    taken = samples(cam.curve(ctx).lobe)
    if ctx.bucket:
        flat = base + taken.lift + taken.acceleration
        return taken.angle, flat, flat
    pad = ctx.entry("stack.bucket.pad_radius", "R_f").value
    return taken.angle, *contact.lobe_under_radius_mm(taken.lift, taken.velocity, taken.acceleration, base, pad)


@figure
def curvature(ctx: Context) -> tuple[Array, Array]:
    """Cam angles over the lobe and the relative radius of lobe and follower at each: the lobe's own under a bucket."""
    angles, _, relative = _radii(ctx)
    return angles, relative


@figure
def least_radius(ctx: Context) -> Figure:
    """The sharpest place of the lobe; not above zero where it would be undercut."""
    base, curve = ctx.entry("cam.base_circle", "D_c"), cam.curve(ctx)
    if not ctx.bucket:
        return _least_under_radius(ctx)
    angles, radius = curvature(ctx)
    at = int(np.argmin(radius))
    note = _where(angles[at])
    if radius[at] <= 0:
        note += " A negative radius cannot be ground for a flat follower."
    return length(
        "ρ", "Least radius of curvature", float(radius[at]), "ρ = D_c/2 + L + d²L/dθ²", base, curve.origin, note=note
    )


def _where(angle_rad: float) -> str:
    return f"Least at {abs(math.degrees(angle_rad)):.0f} cam degrees from the nose."


def _least_under_radius(ctx: Context) -> Figure:
    ctx.need("cam.base_circle", "stack.bucket.pad_radius")
    base, pad = ctx.entry("cam.base_circle", "D_c"), ctx.entry("stack.bucket.pad_radius", "R_f")
    angles, lobe, relative = _radii(ctx)
    undercut = relative <= 0.0
    # a hollow flank is no sharp place; an undercut is as sharp as can be
    radius = np.where(undercut, relative, np.where(lobe > 0.0, lobe, np.inf))
    at = int(np.argmin(radius))
    note = f"{_where(angles[at])} Taken as if the follower moved straight in and out."
    if np.any(undercut):
        note += " The lobe is undercut: no cam gives this lift to so large a radius."
    hollow = lobe[lobe < 0.0]
    if len(hollow):
        note += f" Its flanks are hollow, {show(-float(hollow.max()), LENGTH)} at the least."
    formula = "ρ = 1/κ − R_f, κ of r = D_c/2 + R_f + L"
    return length(
        "ρ", "Least radius of the lobe", float(radius[at]), formula, base, pad, cam.curve(ctx).origin, note=note
    )


def pressing_radius(ctx: Context, cam_rad: float) -> Figure:
    """Relative radius where the pressure is greatest: the lobe's own under a bucket."""
    angles, radius = curvature(ctx)
    value, base, curve = float(np.interp(cam_rad, angles, radius)), ctx.entry("cam.base_circle", "D_c"), cam.curve(ctx)
    if ctx.bucket:
        return length("ρ", "Radius of the lobe there", value, "ρ = D_c/2 + L + d²L/dθ²", base, curve.origin)
    pad = ctx.entry("stack.bucket.pad_radius", "R_f")
    formula = "R = R_f·(1 − κ·R_f), κ of r = D_c/2 + R_f + L"
    return length("R", "Relative radius there", value, formula, base, pad, curve.origin)


@figure
def _gas_on_opening(ctx: Context) -> Array:
    """Force of the cylinder on an opening exhaust valve over the lobe, fading as it opens."""
    angles, _ = curvature(ctx)
    against = gas.opening_load(ctx).value
    if against == 0.0:
        return np.zeros(len(angles))
    net = samples(cam.curve(ctx).valve).lift - cam.lash(ctx).value
    fading = np.clip(1.0 - net / gas.OPENS_OVER_MM, 0.0, 1.0)
    return np.where((angles < 0.0) & (net > 0.0), against * fading, 0.0)


def pressure_at(ctx: Context, rpm: float, near_nose: bool) -> tuple[float, float, float]:
    """Greatest contact pressure at a speed: MPa, cam angle, force."""
    angles, _ = curvature(ctx)
    force, pressure = _over_the_lobe(ctx, rpm)
    if near_nose:
        pressure = np.where(np.abs(angles) <= NOSE_RAD, pressure, 0.0)
    if np.any(np.isnan(pressure)):
        raise MissingInput(Missing(ctx.path("cam.base_circle"), "A base circle whose lobe can be ground"))
    at = int(np.argmax(pressure))
    return float(pressure[at]), float(angles[at]), float(force[at])


def _over_the_lobe(ctx: Context, rpm: float) -> tuple[Array, Array]:
    """Contact force and pressure over the lobe at a speed, worked once for each speed."""
    known = _by_speed(ctx)
    if rpm not in known:
        _, radius = curvature(ctx)
        width = ctx.entry("cam.lobe_width", "w")
        at_valve = np.nan_to_num(control.train(ctx).sampled_force_N(rpm), nan=0.0) + _gas_on_opening(ctx)
        force = at_valve * cam.ratio(ctx).value
        pressure = contact.hertz_line_MPa(force, width.value, radius)
        known[rpm] = force, pressure
    return known[rpm]


@figure
def _by_speed(_ctx: Context) -> dict[float, tuple[Array, Array]]:
    return {}


@figure
def nose_pressure(ctx: Context) -> Figure:
    """At cranking speed: full spring load, next to no inertia to relieve it."""
    ctx.need("cam.base_circle", "cam.lobe_width")
    crank = ctx.entry("engine.cranking_speed", "n_c", CRANKING_RPM, "usual starter")
    width, load = ctx.entry("cam.lobe_width", "w"), spring.open_load(ctx)
    pressure, where, force = pressure_at(ctx, crank.value, near_nose=True)
    radius, (formula, ratio) = pressing_radius(ctx, where), at_lobe(ctx, "S_Σ + k_Σ·(L − s) + m·L″·ω²")
    f = Figure.calculated("F", "Force on the nose", force, FORCE, formula, load, crank, *ratio)
    return Figure.calculated(
        "p_n", "Contact pressure, nose", pressure, STRESS, f"p_n = √(F·E′/(π·w·{radius.symbol}))", f, width, radius,
        note="Line contact of steel bodies (Hertz), lobe square on its follower; a crowned or tilted one is worse.",
    )  # fmt: skip


def at_lobe(ctx: Context, force: str) -> tuple[str, list[Figure]]:
    """How a force at the valve is written at the lobe, and what that puts in: the ratio, of a finger or rocker."""
    return (f"F = {force}", []) if ctx.bucket else (f"F = ({force}) · i", [cam.ratio(ctx)])


@figure
def flank_pressure(ctx: Context) -> Figure:
    """Worst along the lobe at usual speed, limiter and overspeed."""
    ctx.need("cam.base_circle", "cam.lobe_width", "brief.limiter")
    speeds = [ctx.entry(f"brief.{n}", "n") for n in ("usual_speed", "limiter", "overspeed") if ctx.given(f"brief.{n}")]
    worst = max(((*pressure_at(ctx, s.value, near_nose=False), s) for s in speeds), key=lambda row: row[0])
    pressure, angle, force, speed = worst
    mass, width, against = spring.moving_mass(ctx), ctx.entry("cam.lobe_width", "w"), gas.opening_load(ctx)
    radius = pressing_radius(ctx, angle)
    formula, ratio = at_lobe(ctx, "S_Σ + k_Σ·(L − s) + m·L″·ω² + G_z where it opens")
    f = Figure.calculated(
        "F", "Force there", force, FORCE, formula, mass, spring.seat_load(ctx), against, speed, *ratio
    )
    note = f"Worst at {abs(math.degrees(angle)):.0f} cam degrees from the nose at {show(speed.value, SPEED)}."
    return Figure.calculated(
        "p_f", "Contact pressure, along the lobe", pressure, STRESS,
        f"p_f = max over θ, n of √(F·E′/(π·w·{radius.symbol}))", f, width, radius, note=note,
    )  # fmt: skip


def pressure_limit(ctx: Context, key: str) -> Limit:
    """The practice's limit for the pair of materials."""
    return ctx.limit(f"{key}.{ctx.side.stack.bucket.materials.value}")


@figure
def tip_sweep(ctx: Context) -> Figure:
    ctx.need("stack.bucket.arm", "stack.bucket.arm_height")
    arm, height, lift = (
        ctx.entry("stack.bucket.arm", "A"),
        ctx.entry("stack.bucket.arm_height", "h₀"),
        cam.gross_lift(ctx),
    )
    try:
        sweep, off = follower_model.tip_sweep_mm(arm.value, height.value, lift.value)
    except ValueError as error:
        raise MissingInput(
            Missing(ctx.path("stack.bucket.arm"), "An arm longer than its rise"), why=str(error)
        ) from error
    place = f"{abs(off):.2f} mm {'after' if off > 0 else 'before'} half lift"
    note = f"Level with the pivot {place}; the sweep is least at half lift."
    return length(
        "x", "Tip sweep over the stem", sweep, "x = A·(1 − cos) over the arm's swing", arm, height, lift, note=note
    )


@figure
def shortfall(ctx: Context) -> Figure:
    """Lift that flex takes away: lobe × ratio less what was measured at the valve."""
    table = ctx.side.cam.curve
    lobe, i = ctx.entry("cam.lobe_lift", "L_c"), cam.ratio(ctx)
    read = (
        cam.measured_lift(ctx, table)
        if table is not None and table.place is Place.VALVE
        else ctx.entry("cam.valve_lift", "L_v")
    )
    effective = read.value / lobe.value
    note = f"Effective ratio {effective:.3f}. Flex, lash left in, or a ratio that is not the one fitted."
    return length(
        "Δ",
        "Lift shortfall at the valve",
        lobe.value * i.value - read.value,
        f"Δ = L_c · i − {read.symbol}",
        lobe,
        i,
        read,
        note=note,
    )


def shortfall_applies(ctx: Context) -> bool:
    """A lift was measured at the valve and the lobe's is known."""
    side = ctx.side.cam
    measured = side.valve_lift is not None and side.valve_lift.evidence is Evidence.MEASURED
    return side.lobe_lift is not None and (measured or (side.curve is not None and side.curve.place is Place.VALVE))


@figure
def ramp_velocity(ctx: Context) -> Figure:
    """Velocity of the valve, by its lift curve, as the closing flank runs out of lash at the limiter."""
    curve, s, limiter = cam.curve(ctx), cam.lash(ctx), ctx.entry("brief.limiter", "n_l")
    rises, falls = crossings_rad(curve.valve, max(s.value, 0.02))
    opens, closes = (abs(float(v)) for v in curve.valve.evaluate(np.array([rises, falls]), 1))
    omega = cam_rad_per_s(limiter.value)
    value = max(opens, closes) * omega / 1000.0
    note = f"Opening {opens * omega / 1000:.2f}, closing {closes * omega / 1000:.2f} m/s where the lash is taken up."
    return Figure.calculated(
        "v_s",
        "Velocity at the lash, limiter",
        value,
        VELOCITY,
        "v_s = |dL/dθ|·ω at L = s",
        curve.origin,
        s,
        limiter,
        note=note,
    )


@figure
def asymmetry(ctx: Context) -> Figure:
    """How far the nose lies from the middle of the duration, in crank degrees."""
    curve = cam.curve(ctx)
    at = min(cam.centre_lift_mm(ctx), 0.9 * cam.gross_lift(ctx).value)
    rises, falls = crossings_rad(curve.valve, at)
    value = -(rises + falls)
    taken = samples(curve.valve)
    flanks = [float(np.abs(taken.velocity[part]).max()) for part in (taken.angle < 0, taken.angle > 0)]
    note = (
        f"Maximum lift {'after' if value > 1e-6 else 'before' if value < -1e-6 else 'at'} the centreline. "
        f"Flanks: opening {flanks[0]:.2f}, closing {flanks[1]:.2f} mm/rad at their steepest."
    )
    return Figure.calculated(
        "δ", "Maximum lift off centreline", abs(value), ANGLE, "δ = nose − middle of duration", curve.origin, note=note
    )


def cautions(ctx: Context) -> list[str]:
    """What is to be said of the follower at the speeds of the brief."""
    limiter = ctx.build.brief.limiter
    if ctx.bucket and limiter and ctx.side.stack.bucket.shimming is Shimming.OVER and limiter.value > SPITS_SHIMS_RPM:
        speed = show(limiter.value, SPEED)
        return [
            f"A shim over the bucket can be spat out at high speed, and the limiter is at {speed}: a shim under the "
            "bucket or a graded bucket cannot."
        ]
    return []
