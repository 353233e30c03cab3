"""The follower on its lobe: edge and sweep; and what the lobe does to it."""

import numpy as np

from arcstack.assess import cam, placed
from arcstack.assess.check import Check, Named
from arcstack.assess.context import Context, figure, length
from arcstack.checks import Evidence, Figure, Missing
from arcstack.document.parts import Place, Shimming
from arcstack.errors import MissingInput
from arcstack.mech import contact
from arcstack.mech import follower as follower_model
from arcstack.mech.cam.facts import crossings_rad, facts, samples
from arcstack.mech.control import cam_rad_per_s
from arcstack.settings import setting
from arcstack.units import ANGLE, LENGTH, SPEED, VELOCITY, show

SPITS_SHIMS_RPM = setting("follower.spits_shims")


@figure
def eccentricity(ctx: Context) -> Figure:
    """How far the contact runs off the bucket's middle: the lobe's peak velocity per radian."""
    curve = cam.curve(ctx)
    peak = facts(curve.lobe).peak_velocity_mm_per_rad
    return length("e", "Contact off centre, most", peak, "most of |dL/dθ|, read off the lift curve", curve.origin)


@figure
def edge_margin(ctx: Context) -> Figure:
    ctx.need("follower.diameter", "cam.lobe_width")
    diameter, width = ctx.entry("follower.diameter", "D_b"), ctx.entry("cam.lobe_width", "w")
    offset, e = ctx.optional("follower.offset", "o"), eccentricity(ctx)
    value = contact.bucket_edge_margin_mm(diameter.value, e.value, width.value, offset.value)
    needed = diameter.value - 2.0 * value
    note = f"The contact line reaches over {show(needed, LENGTH)} of crown; an edge margin comes on top on both sides."
    formula = "m_e = D_b/2 − √(e² + (w/2 + o)²)"
    return length("m_e", "Bucket edge margin", value, formula, diameter, e, width, offset, note=note)


@figure
def tip_sweep(ctx: Context) -> Figure:
    ctx.need("follower.arm", "follower.arm_height")
    arm, height, lift = (
        ctx.entry("follower.arm", "A"),
        ctx.entry("follower.arm_height", "h₀"),
        cam.gross_lift(ctx),
    )
    try:
        sweep, off = follower_model.tip_sweep_mm(arm.value, height.value, lift.value)
    except ValueError as error:
        raise MissingInput(Missing(ctx.path("follower.arm"), "An arm longer than its rise"), why=str(error)) from error
    place = f"{abs(off):.2f} mm {'after' if off > 0 else 'before'} half lift"
    note = f"Level with the pivot {place}; the sweep is least at half lift."
    level = 0.0 <= height.value <= lift.value
    formula = "x = A − √(A² − max(h₀, L − h₀)²)" if level else "x = |√(A² − h₀²) − √(A² − (h₀ − L)²)|"
    return length("x", "Tip sweep over the stem", sweep, formula, arm, height, lift, note=note)


@figure
def shortfall(ctx: Context) -> Figure:
    """Lift that flex takes away: lobe × ratio less what was measured at the valve."""
    table = ctx.side.cam.curve
    lobe, i = ctx.entry("cam.lobe_lift", "L_c"), cam.ratio(ctx)
    read = (
        cam.gross_lift(ctx) if table is not None and table.place is Place.VALVE else ctx.entry("cam.valve_lift", "L_v")
    )
    effective = read.value / lobe.value
    note = f"Effective ratio {effective:.3f}. Flex, lash left in, or a ratio that is not the one fitted."
    return Figure.by(
        "Lift shortfall at the valve",
        LENGTH,
        f"Δ = L_c·i − {read.symbol}",
        lobe,
        i,
        read,
        note=note,
    )


def shortfall_applies(ctx: Context) -> bool:
    """A lift was measured at the valve and the lobe's is known."""
    side = ctx.side.cam
    measured = side.valve_lift is not None and side.valve_lift.stands is Evidence.MEASURED
    return side.lobe_lift is not None and (measured or (side.curve is not None and side.curve.place is Place.VALVE))


LEAST_RAMP_LASH_MM = setting("follower.least_ramp_lash")


@figure
def ramp_velocity(ctx: Context) -> Figure:
    """Velocity of the valve, by its lift curve, as either flank runs through the lash at the limiter."""
    curve, s, limiter = cam.curve(ctx), cam.lash(ctx), ctx.entry("brief.limiter", "n_l")
    formula = f"s_r = max(s, {LEAST_RAMP_LASH_MM:g})"
    taken = length("s_r", "Lift where the lash is taken up", max(s.value, LEAST_RAMP_LASH_MM), formula, s)
    rises, falls = crossings_rad(curve.valve, taken.value)
    opens, closes = (abs(float(v)) for v in curve.valve.evaluate(np.array([rises, falls]), 1))
    slopes = [
        length(
            symbol, f"Slope at the lash, {flank}, per cam rad", value, "read off the lift curve", curve.origin, taken
        )
        for symbol, flank, value in (("r_o", "opening", opens), ("r_c", "closing", closes))
    ]
    omega = cam_rad_per_s(limiter.value)
    value = max(opens, closes) * omega / 1000.0
    note = f"Opening {opens * omega / 1000:.2f}, closing {closes * omega / 1000:.2f} m/s where the lash is taken up."
    return Figure.calculated(
        "v_s", "Velocity at the lash, limiter", value, VELOCITY, "v_s = max(r_o, r_c)·π·n_l/60/1000", *slopes, limiter,
        note=note,
    )  # fmt: skip


@figure
def asymmetry(ctx: Context) -> Figure:
    """How far the nose lies from the middle of the duration, in crank degrees."""
    curve = cam.curve(ctx)
    at = min(placed.centre_lift_mm(ctx), 0.9 * cam.gross_lift(ctx).value)
    rises, falls = crossings_rad(curve.valve, at)
    value = -(rises + falls)
    taken = samples(curve.valve)
    flanks = [float(np.abs(taken.velocity[part]).max()) for part in (taken.angle < 0, taken.angle > 0)]
    note = (
        f"Maximum lift {'after' if value > 1e-6 else 'before' if value < -1e-6 else 'at'} the centreline. "
        f"Flanks: opening {flanks[0]:.2f}, closing {flanks[1]:.2f} mm/rad at their steepest."
    )
    ends = [
        length(
            symbol,
            f"Nose to {flank} flank, crank",
            angle,
            "read off the lift curve",
            curve.origin,
            *placed.centre_lift(ctx),
            of=ANGLE,
        )
        for symbol, flank, angle in (("θ₁", "opening", -2.0 * rises), ("θ₂", "closing", 2.0 * falls))
    ]
    return Figure.calculated("δ", "Maximum lift off centreline", abs(value), ANGLE, "δ = |θ₁ − θ₂|/2", *ends, note=note)


def cautions(ctx: Context) -> list[str]:
    """What is to be said of the follower at the speeds of the brief."""
    limiter = ctx.document.brief.limiter
    if (
        ctx.bucket
        and limiter
        and ctx.side.follower.bucket.shimming is Shimming.OVER
        and limiter.value > SPITS_SHIMS_RPM
    ):
        speed = show(limiter.value, SPEED)
        return [
            f"A shim over the bucket can be spat out at high speed, and the limiter is at {speed}: a shim under the "
            "bucket or a graded bucket cannot."
        ]
    return []


CHECKS = (
    Check(
        "cam.lift_shortfall",
        "Lift shortfall",
        "cam",
        "Lift that flex takes away, measured at the valve.",
        work=shortfall,
        limit="cam.lift_shortfall",
        applies=shortfall_applies,
    ),
    Check(
        "cam.ramp",
        "Speed as lash closes",
        "cam",
        "Speed of the valve where the lash is taken up, at the limiter.",
        work=ramp_velocity,
        limit="cam.ramp",
        on_curve=True,
    ),
    Check(
        "cam.asymmetry",
        "Asymmetry",
        "cam",
        "How far the point of maximum lift lies from the centreline.",
        work=asymmetry,
        limit="cam.asymmetry",
        on_curve=True,
    ),
    Check(
        "follower.edge_margin",
        "Bucket edge",
        "cam",
        "Crown left outside the contact line's farthest corner.",
        work=edge_margin,
        limit="follower.edge_margin",
        applies=lambda ctx: ctx.bucket,
        on_curve=True,
    ),
    Check(
        "follower.tip_sweep",
        "Tip sweep",
        "cam",
        "Sweep of a finger's tip across the stem.",
        work=tip_sweep,
        limit="follower.tip_sweep",
        applies=lambda ctx: not ctx.bucket,
    ),
)

FIGURES = (Named("follower.eccentricity", "Contact off centre, most", eccentricity),)
