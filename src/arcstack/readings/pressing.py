"""A spring on its way to solid under the tester: each height it was pressed to, and where its load climbed."""

from dataclasses import dataclass
from itertools import pairwise

from arcstack.errors import FieldError
from arcstack.mech.bench import Solid, solid_by_slope
from arcstack.settings import setting

STEEP, STEP_MM, FROM_MM = setting("bench.solid_slope"), setting("bench.press_step"), setting("bench.press_from")
LOAD_GOOD_N = setting("half_width.measured_load")
MOST_PRESSES, TALLEST_MM, MOST_N = 40, 150.0, 20_000.0


@dataclass(frozen=True)
class Pressed:
    """Heights and loads, mm and N, tallest first, and where the spring went solid among them, if it did."""

    steps: tuple[tuple[float, float], ...] = ()
    solid: Solid | None = None

    @property
    def text(self) -> str:
        """As a form carries it from press to press.

        >>> pressed([(22.0, 618.0), (22.2, 610.0)], 40.0).text
        '22.2000 610.000;22.0000 618.000'
        """
        return ";".join(f"{h:.4f} {f:.3f}" for h, f in self.steps)

    @property
    def slopes(self) -> list[float | None]:
        """Slope of each step from the one before, N/mm; the first has none."""
        slopes = [(b[1] - a[1]) / (a[0] - b[0]) for a, b in pairwise(self.steps)]
        return [None, *slopes] if self.steps else []

    def after(self, printed_mm: float | None, below_mm: float | None) -> float:
        """The height to press to next: a step further, or where to begin, by the printed solid height or below lift."""
        if self.steps:
            return round(self.steps[-1][0] - STEP_MM, 4)
        if printed_mm is not None:
            return round(printed_mm + FROM_MM, 4)
        return round((below_mm or 0.0) - STEP_MM, 4)


def pressed(steps: list[tuple[float, float]], rate: float | None) -> Pressed:
    """What presses come to, with the spring's rate, N/mm, where it is known. Raises ``FieldError`` for what no tester
    does."""
    if len(steps) > MOST_PRESSES or not all(0.0 < h < TALLEST_MM and 0.0 <= f < MOST_N for h, f in steps):
        raise FieldError("presses", "No spring is pressed like that: begin again, nearer to solid.")
    found = sorted(steps, reverse=True)
    if any(a[0] - b[0] < 1e-6 for a, b in pairwise(found)):
        raise FieldError("presses", "That height was pressed already: go a little further.")
    solid = solid_by_slope(found, rate, STEEP, LOAD_GOOD_N) if rate and len(found) > 1 else None
    return Pressed(tuple(found), solid)


def presses_in(text: str) -> list[tuple[float, float]]:
    """The presses that a form carries. Raises ``FieldError``."""
    try:
        return [(float(h), float(f)) for h, f in (p.split(" ") for p in text.split(";") if p)]
    except ValueError:
        raise FieldError("presses", "The heights that were pressed cannot be read: begin again.") from None
