"""Assumed pressures over the cycle."""

from arcstack.assess import cam, gas, placed
from arcstack.assess.context import Context
from arcstack.mech import timing as timing_model
from arcstack.mech.gas_cycle import Cycle
from arcstack.settings import setting

_SEATED_MM = setting("gas.seated_lift")


def cycle(ctx: Context) -> Cycle:
    """The cycle of this head. Raises ``MissingInput``."""
    intake, exhaust = (ctx, ctx.other) if ctx.intake else (ctx.other, ctx)
    events = []
    for side in (exhaust, intake):
        law, nose = cam.curve(side).valve, placed.nose_crank_rad(side)
        events.append(timing_model.events(law, cam.lash(side).value + _SEATED_MM, nose))
    count = ctx.document.engine.cylinders
    return Cycle(
        gas.boost(ctx).value,
        gas.back_pressure(ctx).value,
        gas.pulse_peak(ctx).value,
        gas.opening_pressure(ctx).value,
        events[0].opens_rad,
        events[0].closes_rad,
        events[1].opens_rad,
        events[1].closes_rad,
        int(count.value) if count else 4,
    )
