"""Crankcase and oil: what lifts oil, what brings it, and what lets it fall back."""

import math
from collections.abc import Callable
from dataclasses import replace

from arcstack.assess.check import Check
from arcstack.assess.context import Context, figure
from arcstack.checks import Figure, Limit
from arcstack.document import Entry
from arcstack.document.parts import Bearing, Standpipes
from arcstack.errors import MissingInput
from arcstack.units import GAUGE_PRESSURE, LENGTH, RATIO, show


def said(*names: str) -> Callable[[Context], bool]:
    """Whether anything of a check was said: what nobody spoke of is not asked of every head."""
    return lambda ctx: any(ctx.given(f"turbo.{n}") for n in names)


@figure
def crankcase(ctx: Context) -> Figure:
    """Crankcase pressure at the top of boost, beside the run before."""
    now = ctx.entry("turbo.crankcase", "p_k")
    if not ctx.given("turbo.crankcase_before"):
        return now
    rise = crankcase_rise(ctx).value
    shown = show(abs(rise), GAUGE_PRESSURE)
    same = not any(digit in "123456789" for digit in shown.number)
    words = "as the run before" if same else f"{shown} {'more' if rise > 0 else 'less'} than the run before"
    return Figure.calculated(
        "p_k", "Crankcase pressure", now.value, GAUGE_PRESSURE, "p_k = p_n", replace(now, symbol="p_n"), note=words
    )


@figure
def crankcase_rise(ctx: Context) -> Figure:
    """How much crankcase pressure rose since the run before, on the same boost."""
    ctx.need("turbo.crankcase", "turbo.crankcase_before")
    now, before = ctx.entry("turbo.crankcase", "p_n"), ctx.entry("turbo.crankcase_before", "p_v")
    rise = Figure.by("Crankcase pressure, risen by", GAUGE_PRESSURE, "Δp_k = p_n − p_v", now, before)
    high = ctx.limit("oil.crankcase_rise").high
    above = high is not None and rise.value > high + 1e-9
    return replace(rise, note="A rise is rings or the turbo’s seal.") if above else rise


@figure
def oil_return(ctx: Context) -> Figure:
    """Area of the drains over that of the feed."""
    ctx.need("turbo.drains", "turbo.drain_hole", "turbo.feed_hole")
    count, drain = ctx.entry("turbo.drains", "n"), ctx.entry("turbo.drain_hole", "d_r")
    feed = ctx.entry("turbo.feed_hole", "d_f")
    return Figure.by("Drains ÷ feed, by area", RATIO, "q_r = n·d_r²/d_f²", count, drain, feed)


@figure
def spray(ctx: Context) -> Figure:
    """Area of the spray bar's holes over that of the feed."""
    ctx.need("turbo.spray_holes", "turbo.spray_hole", "turbo.feed_hole")
    count, hole = ctx.entry("turbo.spray_holes", "n"), ctx.entry("turbo.spray_hole", "d_s")
    feed = ctx.entry("turbo.feed_hole", "d_f")
    one = math.sqrt(count.value) * hole.value
    note = f"{count.value * math.pi / 4.0 * hole.value**2:.1f} mm² in all, as one hole of {one:.1f} mm."
    return Figure.by("Spray holes ÷ feed, by area", RATIO, "q_s = n·d_s²/d_f²", count, hole, feed, note=note)


@figure
def mesh(ctx: Context) -> Figure:
    """Mesh of the filter before the spray bar over its holes."""
    ctx.need("turbo.spray_mesh", "turbo.spray_hole")
    fine, hole = ctx.entry("turbo.spray_mesh", "m"), ctx.entry("turbo.spray_hole", "d_s")
    return Figure.by("Filter mesh ÷ spray hole", RATIO, "q_m = m/d_s", fine, hole)


def _filtered(ctx: Context) -> bool:
    """Whether there is a filter: none is no fine one."""
    return isinstance(ctx.document.turbo.spray_mesh, Entry)


@figure
def restrictor(ctx: Context) -> Figure:
    """The hole that feeds the turbine."""
    hole = ctx.entry("turbo.restrictor", "d")
    return Figure.calculated("d_t", "Hole to the turbine", hole.value, LENGTH, "d_t = d", hole)


def _restrictor_limit(ctx: Context) -> Limit:
    """By what the turbine's shaft runs in. Raises ``MissingInput`` while it is not said."""
    bearing = ctx.document.turbo.bearing
    if bearing is Bearing.NOT_SAID:
        raise MissingInput(ctx.missing("turbo.bearing"), why="rolling bearings want less oil than plain ones")
    return ctx.limit(f"oil.restrictor.{'rolling' if bearing is Bearing.ROLLING else 'plain'}")


@figure
def turbo_drain(ctx: Context) -> Figure:
    """The turbine's drain, inside."""
    wide = ctx.entry("turbo.turbo_drain", "d")
    return Figure.calculated("d_a", "Drain of the turbine", wide.value, LENGTH, "d_a = d", wide)


def schools(ctx: Context) -> str:
    """What the school of a head's oil return costs, in words; empty while it is not said."""
    return {
        Standpipes.KEPT: "Standpipes kept: springs stand in oil and run cooler, the sump has less.",
        Standpipes.REMOVED: "Standpipes removed: oil falls at once, springs are cooled by spray alone.",
    }.get(ctx.document.turbo.standpipes, "")


def _check(
    check: str, title: str, about: str, work: Callable[[Context], Figure], applies: Callable[[Context], bool],
    limit: str | Callable[[Context], Limit] = "",
) -> Check:  # fmt: skip
    return Check(check, title, "turbo", about, work=work, limit=limit or check, applies=applies, head=True)


CHECKS = (
    _check(
        "oil.crankcase", "Crankcase pressure", "Blow-by past rings and seals at the top of boost.", crankcase,
        said("crankcase"),
    ),
    _check(
        "oil.crankcase_rise", "Crankcase, risen", "Against the run before, on the same boost.", crankcase_rise,
        said("crankcase_before"),
    ),
    _check(
        "oil.return", "Oil back from the head", "Drains against the feed, by area.", oil_return,
        said("drains", "drain_hole"),
    ),
    _check("oil.spray", "Spray bar", "Its holes against the feed, by area.", spray, said("spray_hole")),
    _check("oil.filter", "Filter before the spray bar", "Its mesh against the spray holes.", mesh, _filtered),
    _check(
        "oil.restrictor", "Turbo feed restrictor", "By what the shaft runs in.", restrictor, said("restrictor"),
        _restrictor_limit,
    ),
    _check("oil.turbo_drain", "Turbo drain", "Wide enough for foam to fall.", turbo_drain, said("turbo_drain")),
)  # fmt: skip
