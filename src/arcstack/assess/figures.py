"""Figures that a page can ask for by name, beside the verdicts' own."""

from collections.abc import Callable, Mapping
from types import MappingProxyType

from arcstack.assess import cam, coil, control, elastic, follower, gas, piston, price, spring, stack, surge, timing
from arcstack.assess.context import Context, MissingInput, guarded
from arcstack.checks import Figure
from arcstack.errors import CurveConflict

Work = Callable[[Context], Figure]

FIGURES: Mapping[str, Work] = MappingProxyType(
    {
        "lift.gross": cam.gross_lift,
        "lift.net": cam.net_lift,
        "cam.centreline": cam.centreline,
        "cam.curve": lambda ctx: cam.curve(ctx).origin,
        "follower.ratio": cam.ratio,
        "follower.eccentricity": follower.eccentricity,
        "timing.overlap": timing.overlap,
        "stack.open_height": stack.open_height,
        "stack.installed_height": stack.installed_height,
        "stack.inner_height": stack.inner_height,
        "stack.retainer_seal_closed": stack.retainer_seal_closed,
        "spring.seat_load": spring.seat_load,
        "spring.open_load": spring.open_load,
        "spring.rate": spring.pack_rate,
        "spring.moving_mass": spring.moving_mass,
        "spring.reserve.outer": spring.reserve_outer,
        "spring.reserve.inner": spring.reserve_inner,
        "stack.retainer_seal": stack.retainer_seal,
        "spring.seat_settled": lambda ctx: spring.settled_load(ctx, spring.seat_load(ctx)),
        "spring.open_settled": lambda ctx: spring.settled_load(ctx, spring.open_load(ctx)),
        "spring.stress.seat_outer": lambda ctx: spring.stresses(ctx, "outer")[0],
        "spring.stress.outer": spring.stress_outer,
        "spring.stress.seat_inner": lambda ctx: spring.stresses(ctx, "inner")[0],
        "spring.stress.inner": spring.stress_inner,
        "spring.fatigue.outer": lambda ctx: coil.goodman(ctx, "outer", *spring.stresses(ctx, "outer")),
        "spring.fatigue.inner": lambda ctx: coil.goodman(ctx, "inner", *spring.stresses(ctx, "inner")),
        "spring.surge.outer": surge.frequency_outer,
        "spring.surge.inner": surge.frequency_inner,
        "spring.surge_order": surge.order,
        "spring.nest_gap": coil.nest_gap,
        "spring.friction": surge.friction,
        "gas.back_pressure": gas.back_pressure,
        "gas.pulse_peak": gas.pulse_peak,
        "gas.usual_load": gas.usual_load,
        "gas.boost_rule_force": gas.boost_rule_force,
        "gas.difference_force": gas.difference_force,
        "control.separation_alone": lambda ctx: control.separation_spring_alone(ctx).speed,
        "control.separation_gas": lambda ctx: control.separation_with_gas(ctx).speed,
        "control.reserve_limiter": lambda ctx: control.force_reserve(ctx, "brief.limiter"),
        "control.reserve_overspeed": lambda ctx: control.force_reserve(ctx, "brief.overspeed"),
        "control.least_overspeed": control.least_force_overspeed,
        "control.separation_settled": control.separation_settled,
        "elastic.separation": elastic.separation,
        "elastic.seating": elastic.seating,
        "elastic.bounce": elastic.bounce,
        "elastic.peak_contact": elastic.peak_contact,
        "elastic.load_lost": elastic.load_lost,
        "elastic.stiffness": elastic.stiffness,
        "elastic.damping": elastic.damping,
        "price.nose_pressure": price.nose_pressure,
        "price.torque": price.peak_torque,
        "price.friction": price.friction,
        "price.friction_head": price.friction_head,
        "gas.opening_load": gas.opening_load,
        "piston.drop": piston.drop_at_tdc,
        "piston.parked": lambda ctx: piston.parked(ctx)[0],
        "piston.swept": lambda ctx: piston.swept(ctx)[0],
    }
)


def find(ctx: Context, name: str) -> Figure | MissingInput | str:
    """The figure called ``name``, what it still needs, or why there is none. Raises ``KeyError``."""
    try:
        work = FIGURES[name]
        return guarded(lambda: work(ctx), name)
    except MissingInput as missing:
        return missing
    except CurveConflict as conflict:
        return str(conflict)
