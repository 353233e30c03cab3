"""All verdicts of a build."""

from collections.abc import Callable
from dataclasses import dataclass, replace

from arcstack.assess import (
    cam,
    card,
    coil,
    contact,
    control,
    elastic,
    follower,
    gas,
    piston,
    price,
    spring,
    stack,
    surge,
    timing,
)
from arcstack.assess.catalogue import CHECKS
from arcstack.assess.context import Context, MissingInput, Sweeps, guarded, no_sweeps
from arcstack.build import Build
from arcstack.build.parts import Damping, Pack
from arcstack.checks import Figure, Level, Limit, Sense, Verdict, judge, worst
from arcstack.errors import CurveConflict
from arcstack.practice import Practice, practice
from arcstack.units import LENGTH

Judged = tuple[Figure, Limit]


@dataclass(frozen=True)
class Assessment:
    """The verdicts of a build, and for each side the context that holds every figure behind them."""

    build: Build
    practice: Practice
    sides: dict[str, Context]
    verdicts: tuple[Verdict, ...]

    @property
    def waiting(self) -> bool:
        """True where a verdict of either side was left open for a sweep that was not known when it was asked."""
        return any(v.waiting for v in self.verdicts)

    def of_side(self, side: str) -> list[Verdict]:
        """Verdicts of one side, in the order of the work."""
        return [v for v in self.verdicts if v.side == side]

    def tightest_first(self, side: str) -> list[Verdict]:
        """Verdicts of one side for reading: those that judge first, then by level, then by room left."""
        return sorted(
            self.of_side(side),
            key=lambda v: (not v.judges, -v.level.severity, v.room if v.room is not None else 0.0),
        )

    def stage_level(self, stage: str, side: str | None = None) -> Level:
        """The worst level of a stage, of one side or both."""
        return worst(v for v in self.verdicts if v.stage == stage and side in (None, v.side))

    def stage_proven(self, stage: str) -> bool:
        """True when every verdict of the stage that judges is proven."""
        rows = [v for v in self.verdicts if v.stage == stage and v.judges]
        return bool(rows) and all(v.proven for v in rows)

    def verdict(self, check: str, side: str) -> Verdict:
        return next(v for v in self.verdicts if v.id == check and v.side == side)


def _at(key: str, work: Callable[[Context], Figure]) -> Callable[[Context], Judged]:
    return lambda ctx: (work(ctx), ctx.limit(key))


def _lift(ctx: Context) -> Judged:
    """Net lift against the share of the head's diameter that the practice calls plausible."""
    net, head, share = cam.net_lift(ctx), ctx.entry("stack.valve.head", "d_v"), ctx.limit("lift.net")
    assert share.low is not None
    assert share.high is not None
    low, high = share.low * head.value, share.high * head.value
    reason = f"{share.low:g} to {share.high:g} of the head's diameter. {share.reason}"
    return net, replace(share, low=low, high=high, tight=share.tight * head.value, dimension=LENGTH, reason=reason)


def _height(ctx: Context) -> Judged:
    """Installed height against its target: the limit is shown about the target itself."""
    stack.height_error(ctx)
    height, window = stack.installed_height(ctx), ctx.limit("stack.installed_height")
    target = ctx.entry("stack.target_height", "H_t")
    assert window.low is not None
    assert window.high is not None
    limit = replace(window, low=target.value + window.low, high=target.value + window.high)
    return height, limit


def _card(ctx: Context) -> Judged:
    card.ask_for_the_lobe(ctx)
    rows = card.audits(ctx)
    if not rows:
        cam.gross_lift(ctx)
        cam.lash(ctx)
        cam.centreline(ctx)
        found = cam.curve(ctx).origin
        exact = Figure.calculated(
            "Δ",
            "Card against itself",
            0.0,
            ctx.limit("cam.card.angle").dimension,
            "Δ = 0",
            found,
            note="Nothing is stated twice. A smooth lobe meets the card; give events too to audit it.",
        )
        return exact, ctx.limit("cam.card.angle")
    cam.curve(ctx)
    return rows[0].difference, rows[0].limit


def _nest_limit(ctx: Context) -> str:
    return "spring.nest_gap.interference" if ctx.side.stack.damping is Damping.INTERFERENCE else "spring.nest_gap"


def _load_limit(ctx: Context, key: str) -> Limit:
    """The band of load, or the end of it that the practice judges."""
    band = ctx.limit(key)
    if ctx.practice.schools.load == "light":
        return replace(band, sense=Sense.AT_MOST, low=None)
    if ctx.practice.schools.load == "heavy":
        return replace(band, sense=Sense.AT_LEAST, high=None)
    return band


_WORK: dict[str, Callable[[Context], Judged]] = {
    "lift.net": _lift,
    "cam.card": _card,
    "cam.lift_shortfall": _at("cam.lift_shortfall", follower.shortfall),
    "cam.ramp": _at("cam.ramp", follower.ramp_velocity),
    "cam.asymmetry": _at("cam.asymmetry", follower.asymmetry),
    "follower.edge_margin": _at("follower.edge_margin", follower.edge_margin),
    "follower.radius_of_curvature": _at("follower.radius_of_curvature", contact.least_radius),
    "follower.contact_pressure.nose": lambda ctx: (
        contact.nose_pressure(ctx),
        contact.pressure_limit(ctx, "follower.contact_pressure.nose"),
    ),
    "follower.contact_pressure.flank": lambda ctx: (
        contact.flank_pressure(ctx),
        contact.pressure_limit(ctx, "follower.contact_pressure.flank"),
    ),
    "follower.tip_sweep": _at("follower.tip_sweep", follower.tip_sweep),
    "timing.overlap": _at("timing.overlap", timing.overlap),
    "valve.to_valve": _at("valve.to_valve", timing.valve_gap),
    "stack.installed_height": _height,
    "spring.seat_load": lambda ctx: (spring.seat_load(ctx), _load_limit(ctx, "spring.seat_load")),
    "spring.open_load": lambda ctx: (spring.open_load(ctx), _load_limit(ctx, "spring.open_load")),
    "spring.reserve.outer": _at("spring.reserve.outer", spring.reserve_outer),
    "spring.reserve.inner": _at("spring.reserve.inner", spring.reserve_inner),
    "spring.reserve_ceiling": _at("spring.reserve_ceiling", spring.greatest_reserve),
    "spring.rate_consistency": _at("spring.rate_consistency", spring.rate_consistency),
    "spring.stress.outer": _at("spring.stress.outer", spring.stress_outer),
    "spring.stress.inner": _at("spring.stress.inner", spring.stress_inner),
    "spring.fatigue": _at("spring.fatigue", spring.fatigue),
    "spring.surge_order": _at("spring.surge_order", surge.order),
    "spring.nest_gap": lambda ctx: (coil.nest_gap(ctx), ctx.limit(_nest_limit(ctx))),
    "stack.retainer_seal": _at("stack.retainer_seal", stack.retainer_seal),
    "control.separation": lambda ctx: (control.separation(ctx).speed, control.separation_limit(ctx)),
    "control.force_reserve": _at("control.force_reserve", control.force_reserve_limiter),
    "control.overspeed": _at("control.overspeed", control.least_force_overspeed),
    "control.elastic_separation": lambda ctx: (elastic.separation(ctx), elastic.separation_limit(ctx)),
    "control.seating_velocity": _at("control.seating_velocity", elastic.seating),
    "control.bounce": _at("control.bounce", elastic.bounce),
    "control.nose_pressure": lambda ctx: (price.nose_pressure(ctx), price.nose_limit(ctx)),
    "control.friction": _at("control.friction", price.friction),
    "gas.boost_rule": _at("gas.boost_rule", gas.boost_rule),
    "gas.difference_rule": _at("gas.difference_rule", gas.difference_rule),
    "piston.clearance": lambda ctx: (piston.parked(ctx)[0], piston.clearance_limit(ctx, "piston.clearance")),
    "piston.clearance_swept": lambda ctx: (
        piston.swept(ctx)[0],
        piston.clearance_limit(ctx, "piston.clearance_swept"),
    ),
}


_INNER = ("spring.reserve.inner", "spring.stress.inner", "spring.nest_gap")

_EACH_SPRING = ("spring.stress.outer", "spring.stress.inner", "spring.fatigue")
"""Checks that need each spring's own load, which one figure for the pair does not tell."""


def applies(ctx: Context, check: str) -> bool:
    """Whether a check means anything for the parts that are fitted."""
    if check == "follower.edge_margin":
        return ctx.bucket
    if check == "follower.tip_sweep":
        return not ctx.bucket
    if check == "cam.lift_shortfall":
        return follower.shortfall_applies(ctx)
    if check in _EACH_SPRING and ctx.side.stack.pack is Pack.ASSEMBLED:
        return False
    return check not in _INNER or ctx.side.stack.pack is not Pack.SINGLE


_PRICE = ("control.nose_pressure", "control.friction")
"""What spring load costs; a school that is heavy for power shows it and does not judge it."""


def judges(ctx: Context, check: str) -> bool:
    schools = ctx.practice.schools
    if check in ("gas.boost_rule", "gas.difference_rule"):
        return check == f"gas.{schools.boost}_rule"
    if check == "spring.reserve_ceiling":
        return schools.reserve == "band"
    return schools.load != "heavy" or check not in _PRICE


def work(ctx: Context, check: str) -> Judged:
    """A check's figure and the limit it is held to. Raises ``MissingInput`` or ``CurveConflict``."""
    return _WORK[check](ctx)


ON_CURVE = (
    "cam.ramp", "cam.asymmetry", "follower.edge_margin", "follower.radius_of_curvature",
    "follower.contact_pressure.nose", "follower.contact_pressure.flank", "control.overspeed", "control.nose_pressure",
    "control.friction",
)  # fmt: skip
"""Checks that are tried on the other curves too which the card or the readings allow; some do so by themselves."""


def _banded(ctx: Context, check: str, found: Figure) -> Figure:
    if check not in ON_CURVE or found.band is not None:
        return found
    return cam.banded(ctx, found, lambda variant: work(variant, check)[0])


def level(figure: Figure, limit: Limit) -> Level:
    """How a figure stands, its band and what was loosened for this build counted."""
    found = judge(figure.value, limit, figure.band)
    return Level.WAIVED if figure.waivers and found is not Level.FAIL else found


def _verdict(ctx: Context, check: str) -> Verdict:
    about = CHECKS[check]
    shared = (check, ctx.side_name, about.title, about.stage)
    counts = judges(ctx, check)
    try:
        found, limit = guarded(lambda: work(ctx, check), check)
        found = guarded(lambda: _banded(ctx, check, found), check)
    except MissingInput as missing:
        waiting = isinstance(missing, elastic.Working)
        return Verdict(*shared, None, None, Level.OPEN, missing.missing, counts, missing.why, waiting)
    except CurveConflict as conflict:
        if check != "cam.card":
            return Verdict(*shared, None, None, Level.OPEN, (), counts, "No curve: the card contradicts itself.")
        return Verdict(*shared, None, None, Level.FAIL, (), counts, str(conflict))
    return Verdict(*shared, found, limit, level(found, limit), (), counts, found.note)


def assess(build: Build, sweeps: Sweeps = no_sweeps) -> Assessment:
    """Every check of both sides. Never raises for a build that is incomplete: that check is *open*.

    ``sweeps`` gives what is known of the elastic train; without it those checks are open too.
    """
    chosen = practice(build.practice)
    intake = Context(build, "intake", chosen, sweeps)
    sides = {"intake": intake, "exhaust": intake.other}
    verdicts = tuple(_verdict(ctx, check) for ctx in sides.values() for check in CHECKS if applies(ctx, check))
    return Assessment(build, chosen, sides, verdicts)
