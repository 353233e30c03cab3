"""What the section shows at each cam angle: figures worked on the server, worded where they stand."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

import numpy as np

from arcstack.assess import Assessment, spring, stack
from arcstack.assess.context import Context, known
from arcstack.checks import Figure, Level, Verdict, judge
from arcstack.drawings.geometry import Geometry
from arcstack.mech.cam.law import Array
from arcstack.units import LENGTH, System
from arcstack.units.convert import factor

Row = dict[str, str]


@dataclass(frozen=True)
class Frames:
    """For each cam angle (whole degrees from the nose): valve lift in mm, the turn of a finger in degrees, and every
    live figure in the unit shown, with the level of those that are judged.

    ``named`` are figures that are told by a word instead.
    """

    first: int
    lift: tuple[float, ...]
    swing: tuple[float, ...]
    unit: str
    decimals: int
    live: dict[str, tuple[float, ...]]
    levels: dict[str, tuple[str, ...]]
    named: Row

    @property
    def nose(self) -> int:
        """Index of the nose."""
        return -self.first

    def words(self, index: int) -> Row:
        """Every live figure at one angle as the page tells it."""
        degrees = index + self.first
        said = self.named | {"angle": f"{degrees:+d}°".replace("-", "−") if degrees else "0°"}
        for key, values in self.live.items():
            said[key] = f"{values[index]:.{self.decimals}f} {self.unit}".replace("-", "−")
        return said | {f"{key}-level": levels[index] for key, levels in self.levels.items()}

    def data(self) -> dict[str, object]:
        return {
            "first": self.first,
            "lift": self.lift,
            "swing": self.swing,
            "unit": self.unit,
            "decimals": self.decimals,
            "live": self.live,
            "levels": self.levels,
            "named": self.named,
        }


@dataclass(frozen=True)
class Gap:
    """A gap that shrinks as the valve opens: its verdict, and its size with the valve closed."""

    key: str
    title: str
    verdict: Verdict
    closed: float


CLOSED: dict[str, Callable[[Context], Figure]] = {
    "seal": stack.retainer_seal_closed,
    "outer": lambda ctx: spring.travel(ctx, "outer"),
    "inner": lambda ctx: spring.travel(ctx, "inner"),
}
"""Each gap with the valve closed."""


def gaps(assessment: Assessment, side: str, g: Geometry) -> list[Gap]:
    """The gaps that can be worked so far."""
    found = []
    for key, check, title in (
        ("seal", "stack.retainer_seal", "to seal"),
        ("outer", "spring.reserve.outer", "outer to solid"),
        ("inner", "spring.reserve.inner", "inner to solid"),
    ):
        verdict = next((v for v in assessment.of_side(side) if v.id == check), None)
        closed = known(partial(CLOSED[key], assessment.sides[side]))
        if verdict is not None and verdict.figure is not None and closed is not None:
            found.append(Gap(key, title, verdict, closed.value))
    return found


def frames(g: Geometry, shown: list[Gap], system: System) -> Frames:
    """Every whole cam degree over the lobe and a little of the base circle."""
    half, net = 0, np.zeros(1)
    if g.law is not None:
        half = math.ceil(math.degrees(max(abs(a) for a in g.law.support_rad))) + 6
        degrees = np.arange(-half, half + 1)
        net = np.maximum(g.law.evaluate(np.radians(degrees.astype(float))) - g.lash, 0.0)
    net = np.round(net, 4)
    swing = np.zeros_like(net) if g.arm is None else g.arm.swing_deg(net)
    unit, decimals = LENGTH.unit(system), LENGTH.decimals(system)

    def figures(values: Array) -> tuple[float, ...]:
        # nought has no sign
        return tuple((np.round(values / factor(LENGTH, unit), decimals) + 0.0).tolist())

    live = {"lift": figures(net)} | {gap.key: figures(gap.closed - net) for gap in shown}
    named = {}
    if g.height_known:
        live["height"] = figures(g.height - net)
    else:
        named["height"] = "–"
    levels = {gap.key: tuple(_level(gap, float(left)).value for left in gap.closed - net) for gap in shown}
    lift, turned = tuple(net.tolist()), tuple(np.round(swing, 3).tolist())
    return Frames(-half, lift, turned, unit, decimals, live, levels, named)


def _level(gap: Gap, left: float) -> Level:
    """How a gap stands on the way; a ceiling speaks of full lift only, till then the floor alone counts."""
    limit = gap.verdict.limit
    assert limit is not None
    return Level.CLEAR if limit.high is not None and left > limit.high else judge(left, limit)
