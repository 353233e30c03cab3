"""What the section shows at each cam angle: all arithmetic of the moving drawing is done here, on the server."""

import math
from dataclasses import dataclass

import numpy as np

from arcstack.assess import Assessment
from arcstack.checks import Level, Verdict, judge
from arcstack.units import LENGTH, System, show
from arcstack.web.drawings.geometry import ARM, Geometry


@dataclass(frozen=True)
class Frames:
    """For each cam angle (whole degrees from the nose): valve lift in mm, the turn of a finger in degrees, and the
    words of every live figure."""

    first: int
    lift: tuple[float, ...]
    swing: tuple[float, ...]
    words: tuple[dict[str, str], ...]

    @property
    def nose(self) -> int:
        """Index of the nose."""
        return -self.first

    def data(self) -> dict[str, object]:
        return {"first": self.first, "lift": self.lift, "swing": self.swing, "words": self.words}


@dataclass(frozen=True)
class Gap:
    """A gap that shrinks as the valve opens: its verdict, and its size with the valve closed."""

    key: str
    title: str
    verdict: Verdict
    closed: float


def gaps(assessment: Assessment, side: str, g: Geometry) -> list[Gap]:
    """The gaps that can be worked so far."""
    found = []
    for key, check, title in (
        ("seal", "stack.retainer_seal", "to seal"),
        ("outer", "spring.reserve.outer", "outer to solid"),
        ("inner", "spring.reserve.inner", "inner to solid"),
    ):
        verdict = next((v for v in assessment.of_side(side) if v.id == check), None)
        if verdict is not None and verdict.figure is not None:
            found.append(Gap(key, title, verdict, verdict.figure.value + g.gross_lift))
    return found


def frames(g: Geometry, shown: list[Gap], system: System) -> Frames:
    """Every whole cam degree over the lobe and a little of the base circle."""
    if g.law is None:
        return Frames(0, (0.0,), (0.0,), (_words(g, shown, 0.0, system, 0),))
    half = math.ceil(math.degrees(max(abs(a) for a in g.law.support_rad))) + 6
    degrees = np.arange(-half, half + 1)
    net = np.maximum(g.law.evaluate(np.radians(degrees.astype(float))) - g.lash, 0.0)
    lift = tuple(round(float(x), 4) for x in net)
    swing = tuple(round(-math.degrees(math.asin(min(x / ARM, 1.0))), 3) for x in lift)
    words = tuple(_words(g, shown, x, system, int(d)) for d, x in zip(degrees, lift, strict=True))
    return Frames(-half, lift, swing, words)


def _words(g: Geometry, shown: list[Gap], lift: float, system: System, degrees: int) -> dict[str, str]:
    def mm(value: float) -> str:
        return str(show(value, LENGTH, system))

    said = {
        "height": mm(g.height - lift) if g.height_known else "–",
        "lift": mm(lift),
        "angle": f"{degrees:+d}°".replace("-", "−") if degrees else "0°",
    }
    for gap in shown:
        left = gap.closed - lift
        limit = gap.verdict.limit
        assert limit is not None
        # a ceiling speaks of full lift only; on the way there the floor alone counts
        high = limit.high is not None and left > limit.high
        said[gap.key] = mm(left)
        said[gap.key + "-level"] = (Level.CLEAR if high else judge(left, limit)).value
    return said
