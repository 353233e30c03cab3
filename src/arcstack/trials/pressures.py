"""How both gas rules' verdicts move with back pressure and pulse."""

from dataclasses import dataclass

from arcstack.assess import Assessment, checks, gas
from arcstack.assess.assessment import level, work
from arcstack.assess.check import Mover
from arcstack.assess.context import Context
from arcstack.checks import Evidence, Level, Verdict
from arcstack.document import Build, Entry
from arcstack.errors import MissingInput

RATIO_RANGE = (0.3, 4.0)
PULSE_RANGE = (1.0, 3.0)


def ratio_now(ctx: Context) -> float:
    """Back pressure over boost as it stands, within what is supposed of it."""
    return min(max(gas.back_pressure(ctx).value / gas.boost(ctx).value, RATIO_RANGE[0]), RATIO_RANGE[1])


def pulse_now(ctx: Context) -> float:
    """Pulse peak over mean back pressure as it stands, within what is supposed of it."""
    return min(max(gas.pulse_peak(ctx).value / gas.back_pressure(ctx).value, PULSE_RANGE[0]), PULSE_RANGE[1])


def pressures_of(build: Build, ratio: float, pulse: float) -> tuple[float, float] | None:
    """Back pressure at ``ratio`` × boost and the peak of its pulse, gauge bar; None while boost is not known."""
    boost = build.brief.boost
    return None if boost is None else (ratio * boost.value, ratio * boost.value * pulse)


def supposed(build: Build, ratio: float, pulse: float) -> Build:
    """The build with its back pressure at ``ratio`` × boost and the pulse's peak at ``pulse`` × that."""
    pressures = pressures_of(build, ratio, pulse)
    assert pressures is not None
    back, peak = (Entry(value=v, typed=f"{v:.12g} bar", evidence=Evidence.ASSUMED) for v in pressures)
    return build.model_copy(
        update={"brief": build.brief.model_copy(update={"back_pressure": back, "pulse_peak": peak})}
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


def _margin(ctx: Context, build: Build, check: str) -> tuple[float, Level]:
    found, limit = work(ctx.of(build), check)
    assert limit.low is not None
    return found.value - limit.low, level(found, limit)


def _turns(ctx: Context, check: str, pulse: float) -> float | None:
    """Back pressure ratio at which a rule turns to a fail, to a thousandth; None where it does not within reach."""
    low, high = RATIO_RANGE

    def fails(ratio: float) -> bool:
        return _margin(ctx, supposed(ctx.build, ratio, pulse), check)[1] is Level.FAIL

    if fails(low):
        return low
    if not fails(high):
        return None
    while high - low > 1e-3:
        middle = (low + high) / 2.0
        low, high = (low, middle) if fails(middle) else (middle, high)
    return high


def suppose(assessment: Assessment, ratio: float, pulse: float) -> list[Supposed]:
    """Both rules on both sides at a back pressure ratio and pulse. Raises ``NotKnown``."""
    build = assessment.build
    if build.brief.boost is None:
        raise MissingInput
    tried, rows = supposed(build, ratio, pulse), []
    rules = [c.id for c in checks().values() if Mover.PRESSURE in c.moved_by]
    for side, ctx in assessment.sides.items():
        for check in rules:
            margin, found = _margin(ctx, tried, check)
            now = assessment.verdict(check, side)
            rows.append(Supposed(side, check, margin, found, now.judges, _turns(ctx, check, pulse), now))
    return rows
