"""A pack over installed height: loads, reserves and stress, and the window in which every limit holds."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from arcstack.assess import spring, stack
from arcstack.assess.catalogue import checks
from arcstack.assess.check import Mover
from arcstack.assess.context import Context, known
from arcstack.checks import Figure, Limit
from arcstack.settings import setting
from arcstack.trials.packs import at_height

REACH_MM = setting("heights.reach")

POINTS = int(setting("heights.points"))

FIGURES: tuple[tuple[str, str, Callable[[Context], Figure]], ...] = (
    ("load", "Seat load", spring.seat_load),
    ("load", "Open load", spring.open_load),
    ("reserve", "Reserve, outer", spring.reserve_outer),
    ("reserve", "Reserve, inner", spring.reserve_inner),
    ("stress", "Stress, outer", spring.stress_outer),
    ("stress", "Stress, inner", spring.stress_inner),
)


@dataclass(frozen=True)
class Bound:
    """One check's own window of heights (mm); an end that it never closes is infinite, none at all is empty."""

    check: str
    title: str
    low: float
    high: float

    @property
    def empty(self) -> bool:
        return self.low > self.high


@dataclass(frozen=True)
class HeightSweep:
    """``heights_mm`` with each figure over them (``None`` where it cannot be worked), and each check's window."""

    heights_mm: list[float]
    now_mm: float
    curves: list[tuple[str, str, list[float]]]
    bounds: list[Bound]

    @property
    def window(self) -> tuple[float, float] | None:
        """Heights in which every limit holds; None where there are none."""
        low, high = max(b.low for b in self.bounds), min(b.high for b in self.bounds)
        return None if low > high or any(b.empty for b in self.bounds) else (low, high)

    @property
    def closed_by(self) -> list[Bound]:
        """What closes the window: a check that no height meets, else the two that leave nothing between them."""
        never = [b for b in self.bounds if b.empty]
        if never:
            return never
        return [max(self.bounds, key=lambda b: b.low), min(self.bounds, key=lambda b: b.high)]


def _gaps(value: float, limit: Limit) -> tuple[float, float]:
    """Distance inside each end of a limit, negative past it; a soft end does not count."""
    above = value - limit.low if limit.low is not None and not limit.soft_low else np.inf
    below = limit.high - value if limit.high is not None and not limit.soft_high else np.inf
    return above, below


def _window(heights: Sequence[float], margins: Sequence[float]) -> tuple[float, float]:
    """The stretch of heights, straight between points, over which a gap is not negative, around its best point."""
    best = int(np.argmax(margins))
    if margins[best] < 0.0:
        return np.inf, -np.inf

    def edge(step: int) -> float:
        i = best
        while 0 <= i + step < len(heights):
            if margins[i + step] < 0.0:
                share = margins[i] / (margins[i] - margins[i + step])
                return heights[i] + share * (heights[i + step] - heights[i])
            i += step
        return np.inf * step

    return edge(-1), edge(+1)


def height_sweep(ctx: Context) -> HeightSweep:
    """Raises ``MissingInput`` while the height or a load is not known."""
    now = stack.installed_height(ctx).value
    spring.seat_load(ctx)
    spring.open_load(ctx)
    heights = [float(h) for h in np.linspace(now - REACH_MM, now + REACH_MM, POINTS)]
    tried = [_moved(ctx, h) for h in heights]
    curves = []
    for kind, label, take in FIGURES:
        values = known(lambda: [take(c).value for c in tried])  # noqa: B023
        if values is not None:
            curves.append((kind, label, values))
    bounds = []
    for check in checks().values():
        if Mover.HEIGHT not in check.moved_by or not (check.applies(ctx) and check.judges(ctx)):
            continue
        found = known(lambda: [(check.value(c), check.limit_for(c)) for c in tried])  # noqa: B023
        if found is None:
            continue
        # each end on its own: between the two a band may be narrower than the points are apart
        ends = [_window(heights, gaps) for gaps in zip(*(_gaps(value, limit) for value, limit in found), strict=True)]
        low, high = max(low for low, _ in ends), min(high for _, high in ends)
        bounds.append(Bound(check.id, check.title, low, high))
    return HeightSweep(heights, now, curves, bounds)


def _moved(ctx: Context, height_mm: float) -> Context:
    return ctx.of(at_height(ctx.build, ctx.side_name, height_mm))
