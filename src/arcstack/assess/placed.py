"""Where the lift curve stands on the crank: its centreline, and the lift that this is the middle at."""

from dataclasses import replace

import numpy as np

from arcstack.assess import cam
from arcstack.assess.check import Named
from arcstack.assess.context import Context, figure, known, length
from arcstack.checks import Evidence, Figure, Missing
from arcstack.document.parts import CentrelineMeans, Place
from arcstack.errors import MissingInput
from arcstack.mech.cam import card as card_model
from arcstack.mech.cam.facts import crossings_rad
from arcstack.mech.cam.law import Array
from arcstack.settings import setting
from arcstack.units import ANGLE, LENGTH, show


@figure
def centreline(ctx: Context) -> Figure:
    """Distance of the lobe's centre from TDC (positive on both sides), as stated or from events."""
    if ctx.given("cam.centreline"):
        stated = ctx.entry("cam.centreline", "C")
        if _is_the_nose(ctx):
            return stated
        if at := centre_lift(ctx):
            return stated.among(*at)
        # in the middle of which events is nobody's word: a lobe whose flanks differ has another middle at every lift
        silent = Figure(
            "c_C", "Lift that the centreline is the middle at", setting("cam.centre_lift"), LENGTH, Evidence.ASSUMED,
            ctx.path("cam.event_lift"), note=f"not given: taken at {show(setting('cam.centre_lift'), LENGTH)}",
            unsaid=True,
        )  # fmt: skip
        stated = replace(stated, symbol="C_s")
        return length("C", "Centreline", stated.value, "C = C_s", stated, silent, of=ANGLE)
    if ctx.given("cam.tdc_event") and ctx.given("cam.bdc_event"):
        tdc, bdc = ctx.entry("cam.tdc_event", "E_t"), ctx.entry("cam.bdc_event", "E_b")
        value = card_model.centreline_rad(tdc.value, bdc.value)
        return length(
            "C",
            "Centreline",
            value,
            "C = (E_t + 180° + E_b)/2 − E_t",
            tdc,
            bdc,
            of=ANGLE,
        ).among(*centre_lift(ctx))
    raise MissingInput(Missing(ctx.path("cam.centreline"), "Centreline, or both events"))


def _is_the_nose(ctx: Context) -> bool:
    """Whether the centreline that is stated is that of maximum lift; events have the middle between them."""
    return ctx.given("cam.centreline") and ctx.side.cam.centreline_means is CentrelineMeans.NOSE


def _centre_at(ctx: Context) -> tuple[tuple[Figure, ...], Place] | None:
    """The lift between whose events the centreline lies in the middle, with the lash where it is read at the valve, and
    where it is read; None while nobody said."""
    card = ctx.side.cam
    if card.event_lift is not None:
        lift, place = ctx.entry("cam.event_lift", "c_C"), card.event_place
    elif card.durations and card.durations[0].check_lift is not None:
        lift, place = ctx.entry("cam.durations.1.check_lift", "c_C"), card.durations[0].place
    else:
        return None
    return ((lift, cam.card_lash(ctx)) if place is Place.VALVE else (lift,)), place


def centre_lift(ctx: Context) -> tuple[Figure, ...]:
    """What says at which lift the centreline is the middle; nothing where nobody did."""
    at = _centre_at(ctx)
    return at[0] if at is not None else ()


def centre_lift_mm(ctx: Context) -> float:
    """Lift at the valve between whose events the centreline lies in the middle: the event lift, else the first
    duration's, else a setting's; before lash, which is added to one that was read at the valve."""
    said, place = _centre_at(ctx) or ((), Place.LOBE)
    lift = said[0].value if said else setting("cam.centre_lift")
    if place is Place.VALVE:
        return sum(f.value for f in said)
    return float(cam.motion(ctx).valve_mm(np.array([lift]))[0])


@figure
def nose_crank_rad(ctx: Context) -> float:
    """Crank angle of the nose from gas-exchange TDC with the phaser parked (rad; negative on the exhaust side)."""
    stated, law = centreline(ctx), cam.curve(ctx).valve
    middle = stated.value if ctx.intake else -stated.value
    if _is_the_nose(ctx):
        return middle
    rises, falls = crossings_rad(law, min(centre_lift_mm(ctx), 0.9 * cam.gross_lift(ctx).value))
    return middle - (rises + falls)


def over_crank(ctx: Context, crank_rad: Array, order: int = 0) -> Array:
    """The valve's lift before lash over crank angles from gas-exchange TDC, or a slope of it per cam rad."""
    return cam.curve(ctx).valve.evaluate((crank_rad - nose_crank_rad(ctx)) / 2.0, order)


def has_curve(ctx: Context) -> bool:
    """Whether the side's curve is known, and where it stands on the crank."""
    return known(lambda: nose_crank_rad(ctx)) is not None


FIGURES = (Named("cam.centreline", "Centreline", centreline),)
