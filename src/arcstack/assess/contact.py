"""How hard lobe and follower press on each other: radii, force and pressure along the lobe."""

import math

import numpy as np

from arcstack.assess import cam, control, gas, spring
from arcstack.assess.check import Check, Mover
from arcstack.assess.context import Context, figure, length
from arcstack.checks import Evidence, Figure, Limit, Missing
from arcstack.document.parts import Materials
from arcstack.errors import MissingInput
from arcstack.mech import contact as model
from arcstack.mech.cam.facts import samples
from arcstack.mech.cam.law import Array, LiftLaw
from arcstack.settings import setting
from arcstack.units import FORCE, LENGTH, RATIO, SPEED, STRESS, show

CRANKING_RPM = setting("engine.cranking_speed")

NOSE_RAD = math.radians(5.0)
"""Cam angle to either side that counts as the nose."""

_LOBES = {
    Materials.STEEL_ON_IRON: ("steel on chilled iron", model.CHILLED_IRON),
    Materials.STEEL_ON_STEEL: ("steel on steel", model.STEEL),
    Materials.COATED_ON_STEEL: ("steel, coated, on steel", model.STEEL),
}


@figure
def modulus(ctx: Context) -> Figure:
    """Effective modulus of follower and lobe, of typical materials."""
    words, lobe = _LOBES[ctx.follower.materials]
    bodies = []
    for tail, name, body in (("₁", "follower", model.STEEL), ("₂", "lobe", lobe)):
        typical = f"typical of {body.name}"
        bodies += [
            Figure(
                f"E{tail}", f"Young's modulus, {name}", body.modulus_MPa, STRESS, Evidence.ASSUMED, None, note=typical
            ),
            Figure(f"ν{tail}", f"Poisson's ratio, {name}", body.poisson, RATIO, Evidence.ASSUMED, None, note=typical),
        ]
    value = model.effective_modulus_MPa(model.STEEL, lobe)
    formula = "E′ = 1/((1 − ν₁²)/E₁ + (1 − ν₂²)/E₂)"
    note = "Typical of the materials; a coating is too thin to count."
    return Figure.calculated("E′", f"Effective modulus, {words}", value, STRESS, formula, *bodies, note=note)


@figure
def _slopes(ctx: Context) -> Array:
    """Valve lift over lobe lift, dV/dL, at each sample of the lobe: the ratio at that very lift."""
    lift = samples(cam.curve(ctx).lobe).lift
    return np.asarray(cam.motion(ctx).valve_mm(lift, 1), dtype=np.float64)


def lobe_force(ctx: Context, at_valve_N: Array) -> Array:
    """Force at the lobe over its samples: that at the valve × dV/dL there."""
    return at_valve_N * _slopes(ctx)


@figure
def _radii(ctx: Context) -> tuple[Array, Array, Array]:
    """Cam angles over the lobe, the lobe's radius at each, and the relative radius of lobe and follower."""
    base = ctx.entry("cam.base_circle", "D_c").value / 2.0
    taken = samples(cam.curve(ctx).lobe)
    if ctx.bucket:
        flat = base + taken.lift + taken.acceleration
        return taken.angle, flat, flat
    pad = ctx.entry("follower.pad_radius", "R_f").value
    pitch = model.pitch_radius_mm(taken.lift, taken.velocity, taken.acceleration, base, pad)
    return taken.angle, pitch - pad, model.relative_radius_mm(pitch, pad)


@figure
def curvature(ctx: Context) -> tuple[Array, Array]:
    """Cam angles over the lobe and the relative radius of lobe and follower at each: the lobe's own under a bucket."""
    angles, _, relative = _radii(ctx)
    return angles, relative


_DERIVED = ("{} there", "{} there, slope per cam rad", "{} there, acceleration per cam rad²")


def _read(ctx: Context, law: LiftLaw, what: tuple[str, str], at: int, order: int) -> Figure:
    """What a lift law says at one of the samples: ``what`` is the symbol and name of its lift."""
    taken = samples(law)
    value = float((taken.lift, taken.velocity, taken.acceleration)[order][at])
    symbol = what[0] + ("", "′", "″")[order]
    return length(symbol, _DERIVED[order].format(what[1]), value, "read off the lift curve", cam.curve(ctx).origin)


def _lobe_radius(ctx: Context, at: int, note: str = "") -> Figure:
    """The lobe's own radius at one of the samples."""
    base, law, value = ctx.entry("cam.base_circle", "D_c"), cam.curve(ctx).lobe, float(_radii(ctx)[1][at])
    lift, bend = (_read(ctx, law, ("L", "Lobe lift"), at, order) for order in (0, 2))
    if ctx.bucket:
        return length("ρ", "Radius of the lobe", value, "ρ = D_c/2 + L + L″", base, lift, bend, note=note)
    pad, slope = ctx.entry("follower.pad_radius", "R_f"), _read(ctx, law, ("L", "Lobe lift"), at, 1)
    from_centre = base.value / 2.0 + pad.value + lift.value
    r = length("r", "Follower's centre from the cam's", from_centre, "r = D_c/2 + R_f + L", base, pad, lift)
    formula, straight = "ρ_p = (r² + L′²)^(3/2)/(r² + 2·L′² − r·L″)", "As if the follower moved straight in and out."
    path = length("ρ_p", "Radius of that centre's path", value + pad.value, formula, r, slope, bend, note=straight)
    return length("ρ", "Radius of the lobe", value, "ρ = ρ_p − R_f", path, pad, note=note)


def _sharpest(ctx: Context) -> int:
    """Where the lobe is sharpest; a hollow flank is no sharp place."""
    ctx.need("cam.base_circle", *([] if ctx.bucket else ["follower.pad_radius"]))
    _, lobe, relative = _radii(ctx)
    return int(np.argmin(np.where((relative <= 0.0) | (lobe > 0.0), lobe, np.inf)))


@figure
def least_radius(ctx: Context) -> Figure:
    """The sharpest place of the lobe; not above zero where it would be undercut."""
    ctx.need("cam.base_circle", *([] if ctx.bucket else ["follower.pad_radius"]))
    angles, lobe, relative = _radii(ctx)
    undercut, at = relative <= 0.0, _sharpest(ctx)
    note = f"Least at {abs(math.degrees(angles[at])):.0f} cam degrees from the nose."
    if undercut[at]:
        note += " Undercut: no lobe can be ground that gives this lift to this follower."
    hollow = lobe[(lobe < 0.0) & ~undercut]
    if len(hollow):
        note += f" Its flanks are hollow, {show(-float(hollow.max()), LENGTH)} at the least."
    return _lobe_radius(ctx, at, note)


def _pressed_radius(ctx: Context, at: int) -> Figure:
    """Relative radius at one of the samples: the lobe's own under a bucket."""
    lobe = _lobe_radius(ctx, at)
    if ctx.bucket:
        return lobe
    value = float(_radii(ctx)[2][at])
    return length("R", "Relative radius", value, "R = R_f·ρ/(R_f + ρ)", ctx.entry("follower.pad_radius", "R_f"), lobe)


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
    first, end = _nose(ctx) if near_nose else (0, len(angles))
    # the greatest is no number where any is none
    at = first + int(np.argmax(pressure[first:end]))
    if math.isnan(pressure[at]):
        part = "cam.base_circle" if ctx.bucket else "follower.pad_radius"
        raise MissingInput(Missing(ctx.path(part), "A lobe that can be ground"))
    return float(pressure[at]), float(angles[at]), float(force[at])


@figure
def _nose(ctx: Context) -> tuple[int, int]:
    """Which of the samples count as the nose: the first of them, and the one past the last."""
    near = np.flatnonzero(np.abs(curvature(ctx)[0]) <= NOSE_RAD)
    return int(near[0]), int(near[-1]) + 1


@figure
def _pressure_of_one_newton(ctx: Context) -> Array:
    """Contact pressure that one newton makes at each sample; it grows with the root of the force."""
    width = ctx.entry("cam.lobe_width", "w")
    return model.hertz_line_MPa(1.0, width.value, curvature(ctx)[1], modulus(ctx).value)


@figure
def _over_the_lobe(ctx: Context, rpm: float) -> tuple[Array, Array]:
    """Contact force and pressure over the lobe at a speed."""
    force = lobe_force(ctx, control.train(ctx).sampled_force_N(rpm, off=0.0) + _gas_on_opening(ctx))
    return force, np.sqrt(np.maximum(force, 0.0)) * _pressure_of_one_newton(ctx)


def _force(ctx: Context, speed: Figure, at: int) -> Figure:
    """The contact force at one of the samples and a speed, with what it is made of."""
    law = cam.curve(ctx).valve
    lift, bend = control.lift_there(ctx, law, float(samples(law).angle[at]))
    load, push = spring.load_at(ctx, lift), control.inertia(spring.moving_mass(ctx), bend, speed)
    against = float(_gas_on_opening(ctx)[at])
    held, parts = f"{load.symbol} + {push.symbol}", [load, push]
    if against > 0.0:
        formula = f"G = G_z·(1 − x/{gas.OPENS_OVER_MM:g})"
        parts.append(
            Figure.calculated(
                "G", "Gas against the opening there", against, FORCE, formula, gas.opening_load(ctx), lift
            )
        )
        held += " + G"
    value, formula = float(_over_the_lobe(ctx, speed.value)[0][at]), f"F = {held}"
    if not ctx.bucket:
        formula = f"F = ({held})·i_L"
        parts.append(slope_there(ctx, at))
    return Figure.calculated("F", "Force there", value, FORCE, formula, *parts)


def slope_there(ctx: Context, at: int) -> Figure:
    """The ratio at one of the samples: slope of valve lift over lobe lift, not the overall ratio."""
    value = float(_slopes(ctx)[at])
    lift = _read(ctx, cam.curve(ctx).lobe, ("L", "Lobe lift"), at, 0)
    return Figure.calculated(
        "i_L", "Ratio at that lift, dV/dL", value, RATIO, "slope of valve lift over lobe lift", cam.ratio(ctx), lift
    )


def pressure(ctx: Context, symbol: str, label: str, speeds: list[Figure], near_nose: bool) -> Figure:
    """Greatest contact pressure at any of the speeds, near the nose or all along the lobe, with its working."""
    ctx.need("cam.base_circle", "cam.lobe_width")
    worst = max(((*pressure_at(ctx, s.value, near_nose), s) for s in speeds), key=lambda row: row[0])
    value, angle, _, speed = worst
    at = int(np.argmin(np.abs(_radii(ctx)[0] - angle)))
    width, radius = ctx.entry("cam.lobe_width", "w"), _pressed_radius(ctx, at)
    note = f"Worst at {abs(math.degrees(angle)):.0f} cam degrees from the nose at {show(speed.value, SPEED)}."
    note += " Line contact (Hertz), lobe square on its follower; a crowned or tilted one is worse."
    formula = f"{symbol} = √(F·E′/(π·w·{radius.symbol}))"
    inputs = (_force(ctx, speed, at), modulus(ctx), width, radius)
    return Figure.calculated(symbol, label, value, STRESS, formula, *inputs, note=note, beside=tuple(speeds))


@figure
def nose_pressure(ctx: Context) -> Figure:
    """At cranking speed: full spring load, next to no inertia to relieve it."""
    return pressure(ctx, "p_n", "Contact pressure, nose", cranking(ctx), near_nose=True)


@figure
def flank_pressure(ctx: Context) -> Figure:
    """Worst along the lobe at usual speed, limiter and overspeed."""
    return pressure(ctx, "p_f", "Contact pressure, along the lobe", _running(ctx), near_nose=False)


def _worst_MPa(ctx: Context, speeds: list[Figure], near_nose: bool) -> float:
    return max(pressure_at(ctx, s.value, near_nose)[0] for s in speeds)


@figure
def cranking(ctx: Context) -> list[Figure]:
    """Speeds at which the nose carries the springs with next to no inertia to relieve it."""
    return [ctx.entry("engine.cranking_speed", "n_c", CRANKING_RPM, "usual starter")]


@figure
def _running(ctx: Context) -> list[Figure]:
    # the least and the most that it runs: left out, the worst of the flank would be left out with it
    ctx.need("brief.usual_speed", "brief.limiter")
    return [ctx.entry(f"brief.{n}", "n") for n in ("usual_speed", "limiter", "overspeed") if ctx.given(f"brief.{n}")]


def pressure_limit(ctx: Context, key: str) -> Limit:
    """The practice's limit for the pair of materials."""
    return ctx.limit(f"{key}.{ctx.follower.materials.value}")


CHECKS = (
    Check(
        "follower.radius_of_curvature",
        "Lobe radius",
        "cam",
        "Least radius of curvature of the lobe, under the follower that is fitted.",
        work=least_radius,
        bare=lambda ctx: float(_radii(ctx)[1][_sharpest(ctx)]),
        limit="follower.radius_of_curvature",
        on_curve=True,
    ),
    Check(
        "follower.contact_pressure.nose",
        "Pressure, nose",
        "cam",
        "Contact pressure on the nose at cranking speed.",
        work=nose_pressure,
        bare=lambda ctx: _worst_MPa(ctx, cranking(ctx), near_nose=True),
        limit=lambda ctx: pressure_limit(ctx, "follower.contact_pressure.nose"),
        on_curve=True,
        moved_by=(Mover.HEIGHT,),
    ),
    Check(
        "follower.contact_pressure.flank",
        "Pressure, lobe",
        "cam",
        "Worst pressure along the lobe to overspeed.",
        work=flank_pressure,
        bare=lambda ctx: _worst_MPa(ctx, _running(ctx), near_nose=False),
        limit=lambda ctx: pressure_limit(ctx, "follower.contact_pressure.flank"),
        on_curve=True,
    ),
)
