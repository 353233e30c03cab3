"""Verdicts as horizontal gauges."""

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import partial

from markupsafe import Markup

from arcstack.assess import Assessment, checks
from arcstack.assess.assessment import verdict
from arcstack.assess.check import Says
from arcstack.assess.context import Context
from arcstack.checks import Level, Limit, Sense, Verdict, Waiver
from arcstack.units import Shown, System, show
from arcstack.views.rows import needed, shown

WIDTH = 300


@dataclass(frozen=True)
class Gauge:
    """One verdict drawn along a line ``WIDTH`` long: positions are along it.

    ``kept`` holds it as it was drawn, by stage and build.

    ``band`` is what lies between the limit's two ends, ``spread`` what the figure itself leaves open. ``weakest`` is
    the field that it rests on most weakly.
    """

    verdict: Verdict
    shown: Shown | None
    other: str
    told: str
    at: float | None = None
    ticks: tuple[float, ...] = ()
    spread: tuple[float, float] | None = None
    band: tuple[float, float] | None = None
    weakest: str = ""
    kept: dict[tuple[str, int], Markup] = field(default_factory=dict, compare=False, repr=False)

    def drawn(self, draw: Callable[["Gauge"], Markup], build_id: int, stage: str) -> Markup:
        """The gauge as it stands among the margins of a stage, drawn once."""
        key = (stage if self.verdict.stage == stage else "", build_id)
        if key not in self.kept:
            self.kept[key] = draw(self)
        return self.kept[key]


def margins(assessment: Assessment, side: str, system: System) -> list[Gauge]:
    """The side's gauges, tightest first; what the practice does not judge comes last."""
    ctx = assessment.sides[side]
    # a gauge rests on its verdict alone, and is kept as long as that
    return [
        ctx.once(("gauge", v.id, system), partial(_gauge_of, ctx, v, system)) for v in assessment.tightest_first(side)
    ]


def _gauge_of(ctx: Context, v: Verdict, system: System) -> Gauge:
    """The gauge of a verdict, which is asked for once more so that what it read is noted."""
    return _gauge(verdict(ctx, checks()[v.id]) or v, system)


@dataclass(frozen=True)
class Share:
    """How many of the side's gauges are of one stage, and how many of the others fail."""

    title: str
    here: int
    failing_elsewhere: int


def share(gauges: list[Gauge], stage: str, title: str) -> Share | None:
    """None where the stage has none of its own, or no others stand beside them."""
    here = sum(g.verdict.stage == stage for g in gauges)
    if here in (0, len(gauges)):
        return None
    return Share(title, here, sum(g.verdict.stage != stage and g.verdict.level is Level.FAIL for g in gauges))


def weakest_input(v: Verdict) -> str:
    """The field that a verdict lacks, or that it rests on most weakly; an empty text where it rests on none."""
    if v.missing:
        return v.missing[0].path
    leaves = [f for f in v.figure.leaves if f.path and not f.decided] if v.figure is not None else []
    return max(leaves, key=lambda f: f.evidence.weakness).path or "" if leaves else ""


def _gauge(v: Verdict, system: System) -> Gauge:
    if v.figure is None or v.limit is None:
        needs = ", ".join(needed(m) for m in v.missing[:3])
        more = f" and {len(v.missing) - 3} more" if len(v.missing) > 3 else ""
        return Gauge(v, None, "", f"needs {needs}{more}" if needs else v.note, weakest=weakest_input(v))
    figure, limit = v.figure, v.limit
    scale = _scale(limit)

    def place(value: float) -> float:
        start, end = scale
        return round(min(max((value - start) / (end - start), 0.0), 1.0) * WIDTH, 1)

    ticks = tuple(place(x) for x in (limit.low, limit.high) if x is not None)
    band = (place(limit.low), place(limit.high)) if limit.low is not None and limit.high is not None else None
    same = figure.dimension.unit(System.MM) == figure.dimension.unit(System.INCH)
    other = "" if same else str(show(figure.value, figure.dimension, system.other))
    return Gauge(
        v,
        shown(figure, system),
        other,
        _told(v, limit, system),
        place(figure.value),
        ticks,
        (place(figure.band[0]), place(figure.band[1])) if figure.band else None,
        band,
        weakest_input(v),
    )


def _told(v: Verdict, limit: Limit, system: System) -> str:
    words = limit_words(limit, system)
    if v.level is Level.WAIVED:
        words = f"{words}, {waived_words(v)}"
    first = v.note.split(". ")[0].rstrip(".")
    if not v.judges:
        return f"{words} · shown, not judged by this practice"
    says = checks()[v.id].says
    early = says is Says.BELOW_NOUGHT and v.figure is not None and v.figure.value < 0
    short = first if early or says is Says.ALWAYS else ""
    return f"{words} · {short[0].lower() + short[1:]}" if short else words


def waived_words(v: Verdict) -> str:
    """By whom and when a verdict was waived."""
    waiver = v.waivers[0]
    when = f", {waiver.at:%-d %b %Y}" if waiver.at else ""
    return f"waived by {waiver.hand or 'a hand not named'}{when}"


def waiver_words(waiver: Waiver, limit: Limit, system: System) -> str:
    """What the practice holds to where it was loosened."""
    ends = [("at least", waiver.low), ("at most", waiver.high)]
    return " and ".join(f"{word} {show(end, limit.dimension, system)}" for word, end in ends if end is not None)


def limit_words(limit: Limit, system: System) -> str:
    """A limit in words, in the unit shown."""

    def one(value: float | None) -> str:
        return str(show(value if value is not None else 0.0, limit.dimension, system))

    if limit.sense is Sense.AT_LEAST:
        return f"{'usually' if limit.soft_low else 'at least'} {one(limit.low)}" + (
            " or more" if limit.soft_low else ""
        )
    if limit.sense is Sense.AT_MOST:
        return f"{'usually' if limit.soft_high else 'at most'} {one(limit.high)}" + (
            " or less" if limit.soft_high else ""
        )
    return f"{one(limit.low)} to {one(limit.high)}"


def _scale(limit: Limit) -> tuple[float, float]:
    """Ends of the gauge: the limit stands a third along, a band in the middle; the value never moves them."""
    low, high = limit.low, limit.high
    if low is not None and high is not None:
        span = high - low
        return low - 0.6 * span, high + 0.6 * span
    edge = low if low is not None else high
    assert edge is not None
    reach = max(4.0 * limit.tight, 0.4 * abs(edge), 1e-9)
    return (edge - reach, edge + 2.0 * reach) if low is not None else (edge - 2.0 * reach, edge + reach)
