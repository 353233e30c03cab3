"""Assumed pressures over the cycle, and how both rules' verdicts move with back pressure and pulse."""

from dataclasses import dataclass

from arcstack.assess import cam, gas
from arcstack.assess.assessment import level, work
from arcstack.assess.context import Context
from arcstack.build import SIDES, Build, Entry
from arcstack.checks import Evidence, Level, Verdict
from arcstack.mech import timing as timing_model
from arcstack.mech.gas_cycle import Cycle
from arcstack.practice import practice

RULES = ("gas.boost_rule", "gas.difference_rule")
RATIO_RANGE = (0.3, 4.0)
PULSE_RANGE = (1.0, 3.0)

_SEATED_MM = 0.15


def cycle(ctx: Context) -> Cycle:
    """The cycle of this head. Raises ``MissingInput``."""
    intake, exhaust = (ctx, ctx.other) if ctx.intake else (ctx.other, ctx)
    events = []
    for side in (exhaust, intake):
        law, nose = cam.curve(side).valve, cam.nose_crank_rad(side)
        events.append(timing_model.events(law, cam.lash(side).value + _SEATED_MM, nose))
    count = ctx.build.engine.cylinders
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


def supposed(build: Build, ratio: float, pulse: float) -> Build:
    """The build with its back pressure at ``ratio`` × boost and the pulse's peak at ``pulse`` × that."""
    boost = build.brief.boost
    assert boost is not None

    def entry(value: float) -> Entry:
        return Entry(value=value, typed=f"{value:.12g} bar", evidence=Evidence.ASSUMED)

    back = ratio * boost.value
    return build.model_copy(
        update={
            "brief": build.brief.model_copy(update={"back_pressure": entry(back), "pulse_peak": entry(back * pulse)})
        }
    )


@dataclass(frozen=True)
class Supposed:
    """One rule on one side at a supposed back pressure, and the ratio from which it fails (None: within no reach)."""

    side: str
    check: str
    margin_N: float
    level: Level
    judges: bool
    fails_from: float | None
    now: Verdict


def _margin(build: Build, side: str, check: str) -> tuple[float, Level]:
    ctx = Context(build, side, practice(build.practice))
    found, limit = work(ctx, check)
    assert limit.low is not None
    return found.value - limit.low, level(found, limit)


def _turns(build: Build, side: str, check: str, pulse: float) -> float | None:
    """Back pressure ratio at which a rule turns to a fail, to a thousandth; None where it does not within reach."""
    low, high = RATIO_RANGE

    def fails(ratio: float) -> bool:
        return _margin(supposed(build, ratio, pulse), side, check)[1] is Level.FAIL

    if fails(low):
        return low
    if not fails(high):
        return None
    while high - low > 1e-3:
        middle = (low + high) / 2.0
        low, high = (low, middle) if fails(middle) else (middle, high)
    return high


def suppose(build: Build, verdicts: dict[tuple[str, str], Verdict], ratio: float, pulse: float) -> list[Supposed]:
    """Both rules on both sides at a back pressure ratio and pulse. Raises ``MissingInput``."""
    tried = supposed(build, ratio, pulse)
    rows = []
    for side in SIDES:
        for check in RULES:
            margin, level = _margin(tried, side, check)
            now = verdicts[(side, check)]
            rows.append(Supposed(side, check, margin, level, now.judges, _turns(build, side, check, pulse), now))
    return rows
