"""Pressures around a valve over the cycle, as they are assumed where nobody measured them. Bar gauge, crank rad.

Angles run from gas-exchange TDC, −2π to 2π. The shapes are plain: they show where the rules look, not more.
"""

import math
from dataclasses import dataclass

import numpy as np

from arcstack.cached import cached_property
from arcstack.mech.cam.law import Array
from arcstack.mech.gas import AMBIENT_BAR, opening_force_N

_WIDEST = math.radians(45.0)
"""Most crank angle from an exhaust valve's opening to the top of its pulse."""

_BETWEEN = 0.4
"""Share of the mean that is left between pulses."""

_WHOLE = np.linspace(-2.0 * math.pi, 2.0 * math.pi, 1441)[:-1]

_BLOWDOWN_RAD = math.radians(28.0)
_EXCHANGE_RAD = math.radians(18.0)


@dataclass(frozen=True)
class Cycle:
    """Levels (bar gauge) and events (crank rad) that the assumed pressures hang on.

    ``cylinders`` share one turbine: their pulses follow each other evenly.
    """

    boost_bar: float
    back_bar: float
    peak_bar: float
    opening_bar: float
    exhaust_opens: float
    exhaust_closes: float
    intake_opens: float
    intake_closes: float
    cylinders: int = 4

    def _pulses(self, crank: Array, width: float) -> Array:
        """Pulses of all cylinders, 1 at their top, each a rise over ``width`` and a fall after its valve opens."""
        total = np.zeros_like(crank)
        for i in range(self.cylinders):
            after = np.mod(crank - self.exhaust_opens - i * 4.0 * math.pi / self.cylinders, 4.0 * math.pi) / width
            total = np.maximum(total, after * np.exp(1.0 - after))
        return total

    @cached_property
    def _pulse(self) -> tuple[float, float]:
        """Width of a pulse and the level between pulses, so that mean and peak are both met.

        Between pulses two fifths of the mean is left, and more only where the widest pulses fall short of the mean.
        """

        def mean(width: float) -> float:
            return float(self._pulses(_WHOLE, width).mean())

        low = _BETWEEN * self.back_bar
        if self.peak_bar - low < 1e-9:
            return _WIDEST, self.peak_bar
        wanted, narrow, wide = (self.back_bar - low) / (self.peak_bar - low), _WIDEST / 60.0, _WIDEST
        if mean(wide) <= wanted:
            held = mean(wide)
            return wide, (self.back_bar - self.peak_bar * held) / (1.0 - held)
        for _ in range(40):
            middle = (narrow + wide) / 2.0
            narrow, wide = (narrow, middle) if mean(middle) > wanted else (middle, wide)
        return wide, low

    def exhaust_port(self, crank: Array) -> Array:
        """Pressure behind the exhaust valve: pulses to the peak about the mean.

        >>> c = Cycle(1.5, 1.9, 3.325, 5.0, -4.0, 0.2, -0.2, 3.8)
        >>> grid = np.linspace(-2 * math.pi, 2 * math.pi, 2881)[:-1]
        >>> p = c.exhaust_port(grid)
        >>> round(float(p.mean()), 2), round(float(p.max()), 2)
        (1.9, 3.32)
        """
        width, low = self._pulse
        return low + (self.peak_bar - low) * self._pulses(crank, width)

    def intake_port(self, crank: Array) -> Array:
        """Pressure behind the intake valve: the manifold's."""
        return np.full_like(crank, self.boost_bar)

    def cylinder(self, crank: Array) -> Array:
        """Pressure in the cylinder while gas is exchanged; nan while it is shut, when it holds both valves down."""
        blowdown = self.back_bar + (self.opening_bar - self.back_bar) * np.exp(
            -(crank - self.exhaust_opens) / _BLOWDOWN_RAD
        )
        turn = max(self.intake_opens, self.exhaust_closes - math.radians(40.0))
        drawn = self.boost_bar + (self.back_bar - self.boost_bar) * np.exp(
            -np.maximum(crank - turn, 0.0) / _EXCHANGE_RAD
        )
        held = np.where(crank < turn, blowdown, drawn)
        return np.where((crank >= self.exhaust_opens) & (crank <= self.intake_closes), held, np.nan)

    def lifting_N(self, crank: Array, intake: bool, head_mm: float, stem_mm: float) -> Array:
        """Net force that lifts a closed valve; nan while the cylinder is shut or the valve open."""
        port = self.intake_port(crank) if intake else self.exhaust_port(crank)
        inside = self.cylinder(crank)
        opens, closes = (self.intake_opens, self.intake_closes) if intake else (self.exhaust_opens, self.exhaust_closes)
        force = np.array(
            [
                opening_force_N(head_mm, stem_mm, p + AMBIENT_BAR, c + AMBIENT_BAR)
                for p, c in zip(port, inside, strict=True)
            ]
        )
        return np.where((crank > opens) & (crank < closes), np.nan, force)
