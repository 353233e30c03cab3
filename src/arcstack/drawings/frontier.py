"""What would do drawn: one want across, another upward, those that nothing beats as points to take."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from xml.etree.ElementTree import Element

from markupsafe import Markup

from arcstack.drawings.svg import add, line, num, picture, render, round_step
from arcstack.units import Dimension, System
from arcstack.units.convert import factor

WIDTH, HEIGHT = 780.0, 360.0
LEFT, RIGHT, TOP, BOTTOM = 62.0, 18.0, 32.0, 42.0
HALF = 6
"""Half of a mark's width."""


@dataclass(frozen=True)
class Axis:
    """A want along one side of the drawing."""

    title: str
    dimension: Dimension
    decimals: int = 0


@dataclass(frozen=True)
class Dot:
    """A combination that nothing beats: where it stands, what it is, where its link leads."""

    x: float
    y: float
    words: str
    href: str
    chosen: bool = False


class _Scale:
    def __init__(self, values: Sequence[float], axis: Axis, system: System, start: float, end: float) -> None:
        self.unit = axis.dimension.unit(system)
        self.per = factor(axis.dimension, self.unit) if self.unit else 1.0
        low, high = min(values) / self.per, max(values) / self.per
        self.step = round_step(max(high - low, abs(high) * 0.02, 1e-6) / 5.0)
        self.low = math.floor(low / self.step) * self.step
        self.high = max(math.ceil(high / self.step) * self.step, self.low + self.step)
        self._start, self._end = start, end

    def at(self, value: float) -> float:
        share = (value / self.per - self.low) / (self.high - self.low)
        return self._start + share * (self._end - self._start)

    def ticks(self) -> list[float]:
        count = round((self.high - self.low) / self.step)
        return [self.low + i * self.step for i in range(count + 1)]


def frontier_drawing(
    cloud: Sequence[tuple[float, float]], dots: Sequence[Dot], across: Axis, up: Axis, system: System
) -> Markup:
    """Everything that would do as a cloud, those that nothing beats as marks that can be followed."""
    words = f"{up.title} against {across.title.lower()}: {len(dots)} that nothing else beats in every way"
    root = picture("frontier", (0.0, 0.0, WIDTH, HEIGHT), words)
    root.set("role", "group")
    places = [*cloud, *((d.x, d.y) for d in dots)]
    x = _Scale([p[0] for p in places], across, system, LEFT, WIDTH - RIGHT)
    y = _Scale([p[1] for p in places], up, system, HEIGHT - BOTTOM, TOP)
    _grid(root, x, y, across, up)
    for px, py in cloud:
        add(root, "circle", cx=x.at(px), cy=y.at(py), r=2.2, class_="frontier-cloud")
    for dot in sorted(dots, key=lambda d: d.chosen):
        cx, cy = x.at(dot.x), y.at(dot.y)
        link = add(
            root, "a", href=dot.href, hx_get=dot.href, hx_target="#look", hx_swap="innerHTML show:top",
            class_="frontier-dot" + (" chosen" if dot.chosen else ""),
        )  # fmt: skip
        add(link, "title", dot.words)
        add(link, "circle", cx=cx, cy=cy, r=13.0, class_="reach")
        d = f"M{num(cx)} {num(cy - HALF)} l{HALF} {HALF} l-{HALF} {HALF} l-{HALF} -{HALF}Z"
        add(link, "path", d=d, class_="shown")
    return render(root)


def _grid(root: Element, x: _Scale, y: _Scale, across: Axis, up: Axis) -> None:
    for tick in x.ticks():
        at = x.at(tick * x.per)
        line(root, (at, -TOP), (at, -(HEIGHT - BOTTOM)), "window-grid")
        add(root, "text", f"{tick:g}", x=at, y=HEIGHT - BOTTOM + 17.0, class_="window-tick", text_anchor="middle")
    for tick in y.ticks():
        at = y.at(tick * y.per)
        line(root, (LEFT, -at), (WIDTH - RIGHT, -at), "window-grid")
        add(root, "text", f"{tick:g}", x=LEFT - 8.0, y=at + 4.0, class_="window-tick", text_anchor="end")
    middle = (LEFT + WIDTH - RIGHT) / 2
    add(root, "text", _named(across, x), x=middle, y=HEIGHT - 7.0, class_="window-name", text_anchor="middle")
    add(root, "text", _named(up, y), x=LEFT - 44.0, y=14.0, class_="window-name")


def _named(axis: Axis, scale: _Scale) -> str:
    return f"{axis.title.lower()}, {scale.unit}" if scale.unit else axis.title.lower()
