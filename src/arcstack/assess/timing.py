"""Events on any basis, overlap, and the two heads in it."""

import math
from collections.abc import Callable, Iterator
from dataclasses import replace

from arcstack.assess import cam, phaser, placed
from arcstack.assess.check import Check, Mover, Named, Says
from arcstack.assess.context import Context, figure, guarded
from arcstack.checks import Figure
from arcstack.mech import timing, valve_to_valve
from arcstack.mech.timing import Events, overlap_rad
from arcstack.settings import setting
from arcstack.units import ANGLE, LENGTH

OVERLAP_LIFT_MM = setting("timing.overlap_lift")

__all__ = ["Events", "events", "overlap", "overlap_rad", "valve_gap"]


def events(ctx: Context, lift_at_valve_mm: float, advance_rad: float = 0.0) -> timing.Events:
    """Events at a lift of the valve before lash. Raises ``OutOfReason`` where the curve does not reach it."""
    law, nose = cam.curve(ctx).valve, placed.nose_crank_rad(ctx)
    return guarded(lambda: timing.events(law, lift_at_valve_mm, nose, advance_rad), "events")


def events_net(ctx: Context) -> timing.Events:
    """Events at 1 mm of net lift. Raises ``OutOfReason``, ``NotKnown``."""
    return events(ctx, OVERLAP_LIFT_MM + cam.lash(ctx).value)


def from_centres(ctx: Context, e: timing.Events) -> tuple[float, float]:
    """How long before its dead centre a valve opens and how long after it closes, rad: an intake before TDC and after
    BDC, an exhaust before BDC and after TDC."""
    if ctx.intake:
        return -e.opens_rad, e.closes_rad - math.pi
    return -e.opens_rad - math.pi, e.closes_rad


def _worst_phase(intake: Context, exhaust: Context) -> tuple[Figure, Figure]:
    return phaser.toward_if_said(intake), phaser.toward_if_said(exhaust)


def _tried(
    intake: Context, exhaust: Context, work: Callable[[Context, Context], float]
) -> Iterator[tuple[Context, float]]:
    """A figure of both sides with each other curve of either, and the side whose curve it is."""
    for variant in cam.variants(intake):
        yield intake, work(variant, exhaust)
    for variant in cam.variants(exhaust):
        yield exhaust, work(intake, variant)


def _with_band(intake: Context, exhaust: Context, found: Figure, work: Callable[[Context, Context], float]) -> Figure:
    """The figure with the band that the curves of both sides leave, each tried by itself; the two are apart."""
    rows = list(_tried(intake, exhaust, work))
    if not rows:
        return found
    bands = [
        band
        for side in (intake, exhaust)
        if (band := cam.spread(side, found.value, [v for s, v in rows if s is side])) is not None
    ]
    low, high = (math.hypot(*(abs(band[end] - found.value) for band in bands)) for end in (0, 1))
    return replace(found, band=(found.value - low, found.value + high))


def _opening(intake: Context, advance_rad: float) -> float:
    """Intake opening before TDC at 1 mm net."""
    return -events(intake, OVERLAP_LIFT_MM + cam.lash(intake).value, advance_rad).opens_rad


def _closing(exhaust: Context, retard_rad: float) -> float:
    """Exhaust closing after TDC at 1 mm net."""
    return events(exhaust, OVERLAP_LIFT_MM + cam.lash(exhaust).value, -retard_rad).closes_rad


@figure
def overlap(ctx: Context) -> Figure:
    """Overlap at 1 mm of net lift, phasers at their most. Open while nobody said whether there is a phaser."""
    if not ctx.intake:
        return overlap(ctx.other)
    intake, exhaust = ctx, ctx.other
    advance, retard = _worst_phase(intake, exhaust)

    def work(inlet: Context, outlet: Context) -> float:
        return _opening(inlet, advance.value) + _closing(outlet, retard.value)

    opens, closes = _opening(intake, 0.0), _closing(exhaust, 0.0)
    parked = [
        Figure.calculated(
            symbol, f"{words}, parked", value, ANGLE, "read off the curve at 1 mm net lift", cam.curve(side).origin,
            placed.centreline(side), cam.lash(side),
        )
        for symbol, words, value, side in (
            ("E_i", "Intake opens before TDC", opens, intake), ("E_e", "Exhaust closes after TDC", closes, exhaust),
        )
    ]  # fmt: skip
    note = f"Intake {_tdc('opens', -opens - advance.value)}, exhaust {_tdc('closes', closes + retard.value)}"
    note += f"; parked {math.degrees(opens + closes):.0f}°."
    found = Figure.calculated(
        "Ω", "Overlap at 1 mm net, phased", work(intake, exhaust), ANGLE, "Ω = E_i + φ₊ + E_e + φ₋", *parked, advance,
        retard, note=note,
    )  # fmt: skip
    return _with_band(intake, exhaust, found, work)


def _tdc(does: str, angle: float) -> str:
    degrees = math.degrees(angle)
    return f"{does} {abs(degrees):.0f}° {'after' if degrees >= 0 else 'before'} TDC"


@figure
def valve_gap(ctx: Context) -> Figure:
    """Closest approach of the two heads through overlap, phasers at their most, lash at zero."""
    if not ctx.intake:
        return valve_gap(ctx.other)
    intake, exhaust = ctx, ctx.other
    ctx.need("engine.valve_spacing")
    intake.need("stack.valve.head", "clearance.valve_angle")
    exhaust.need("stack.valve.head", "clearance.valve_angle")
    spacing = ctx.entry("engine.valve_spacing", "a")
    advance, retard = _worst_phase(intake, exhaust)
    inputs = [spacing]
    for side in (intake, exhaust):
        head, angle = side.entry("stack.valve.head", "d_v"), side.entry("clearance.valve_angle", "α")
        inputs += [head, angle, cam.curve(side).origin, placed.centreline(side)]

    def approach(inlet: Context, outlet: Context) -> valve_to_valve.Approach:
        return _approach(inlet, outlet, (advance.value, -retard.value), (0.0, 0.0))

    least = approach(intake, exhaust)
    where = math.degrees(least.crank_rad)
    place = f"{abs(where):.0f}° {'after' if where >= 0 else 'before'} TDC"
    note = f"Least at {place}, phasers at their most. Lash taken as nothing."
    found = Figure.calculated(
        "v_v", "Valve to valve", least.gap_mm, LENGTH, "least distance of the heads, edge on, through overlap",
        *inputs, advance, retard, note=note,
    )  # fmt: skip
    return _with_band(intake, exhaust, found, lambda inlet, outlet: approach(inlet, outlet).gap_mm)


def _heads(intake: Context) -> Iterator[valve_to_valve.Head]:
    spacing = intake.entry("engine.valve_spacing", "a").value
    return (
        valve_to_valve.Head(
            sign * spacing / 2.0,
            side.entry("stack.valve.head", "d_v").value / 2.0,
            side.entry("clearance.valve_angle", "α").value,
        )
        for side, sign in ((intake, 1.0), (intake.other, -1.0))
    )


def _approach(
    inlet: Context, outlet: Context, phasers_rad: tuple[float, float], lashes_mm: tuple[float, float]
) -> valve_to_valve.Approach:
    """Closest approach with both phasers so far earlier than parked and both lashes open."""
    first, second = _heads(inlet)
    noses = [placed.nose_crank_rad(c) - p for c, p in zip((inlet, outlet), phasers_rad, strict=True)]
    laws = cam.curve(inlet).valve, cam.curve(outlet).valve
    return valve_to_valve.closest_approach(first, second, *laws, noses[0], noses[1], lashes_mm)


def valve_gap_at(
    intake: Context, phasers_rad: tuple[float, float], lashes_mm: tuple[float, float]
) -> valve_to_valve.Approach:
    """Closest approach of the heads as a mock-up stands. Raises ``NotKnown``."""
    intake.need("engine.valve_spacing")
    for side in (intake, intake.other):
        side.need("stack.valve.head", "clearance.valve_angle")
    return guarded(lambda: _approach(intake, intake.other, phasers_rad, lashes_mm), "valve to valve")


CHECKS = (
    Check(
        "timing.overlap",
        "Overlap",
        "cam",
        "Crank degrees with both valves 1 mm open, phasers at their most.",
        work=overlap,
        limit="timing.overlap",
        moved_by=(Mover.TIMING,),
        head=True,
    ),
    Check(
        "valve.to_valve",
        "Valve to valve",
        "clearance",
        "Closest approach of the two heads through overlap.",
        work=valve_gap,
        limit="valve.to_valve",
        moved_by=(Mover.TIMING,),
        says=Says.ALWAYS,
        head=True,
    ),
)

FIGURES = (Named("timing.overlap", "Overlap at 1 mm net, phased", overlap),)
