"""The window drawn: seat load across, rate upward, the region in which every check holds, packs as lines through it."""

import math
from collections.abc import Iterator
from xml.etree.ElementTree import Element

from markupsafe import Markup

from arcstack.drawings.svg import Point, add, line, num, picture, render, round_step
from arcstack.trials.window import Edge, PackLine, Window
from arcstack.units import FORCE, RATE, System, show
from arcstack.units.convert import factor

WIDTH, HEIGHT = 780.0, 520.0
LEFT, RIGHT, TOP, BOTTOM = 58.0, 16.0, 20.0, 44.0

CLOSE = 15.0
"""Lines nearer than this have their names at opposite ends."""


class _Scale:
    """Newtons and N/mm to places on the drawing, y upward; ends rounded to whole grid lines of the unit shown."""

    def __init__(self, found: Window, system: System) -> None:
        self.force = factor(FORCE, FORCE.unit(system))
        self.rate = factor(RATE, RATE.unit(system))
        loads = [p.low_N for p in found.packs] + [p.high_N for p in found.packs] + [p.at_N for p in found.packs]
        loads += [v for v in (*found.least_N, *found.most_N) if not math.isnan(v)]
        low, high = (min(loads), max(loads)) if loads else (200.0, 600.0)
        self.x_step = round_step((high - low) / self.force / 6.0)
        self.low = math.floor(max(low - 20.0, 0.0) / self.force / self.x_step) * self.x_step * self.force
        self.high = math.ceil((high + 60.0) / self.force / self.x_step) * self.x_step * self.force
        self.y_step = round_step((found.rates[-1] - found.rates[0]) / self.rate / 6.0)
        self.bottom, self.top = found.rates[0], found.rates[-1]

    def x(self, load_N: float) -> float:
        return LEFT + (load_N - self.low) / (self.high - self.low) * (WIDTH - LEFT - RIGHT)

    def y(self, rate: float) -> float:
        """Upward from the bottom, as negative places: what is drawn turns them over."""
        return -(TOP + (self.top - rate) / (self.top - self.bottom) * (HEIGHT - TOP - BOTTOM))

    def at(self, load_N: float, rate: float) -> Point:
        return self.x(load_N), self.y(rate)

    def inside(self, load_N: float) -> float:
        return min(max(load_N, self.low), self.high)


def window_drawing(found: Window, system: System) -> Markup:
    """The window as a drawing; its edges and lines say in words what they are."""
    s = _Scale(found, system)
    state = "no seat load and rate meet every check" if found.empty else "the hatched region meets every check"
    root = picture("window", (0.0, 0.0, WIDTH, HEIGHT), f"Seat load against rate: {state}")
    defs = add(root, "defs")
    hatch = add(
        defs, "pattern", id="window-hatch", width=7.0, height=7.0, patternUnits="userSpaceOnUse",
        patternTransform="rotate(45)",
    )  # fmt: skip
    add(hatch, "line", x1=0, y1=0, x2=0, y2=7, class_="window-hatch")
    _grid(root, s, system)
    _region(root, found, s)
    for edge in found.edges:
        _edge(root, found, edge, s)
    named: list[tuple[float, bool]] = []
    for pack in sorted(found.packs, key=lambda p: (not p.fitted, p.rate_N_per_mm)):
        near = [right for rate, right in named if abs(s.y(rate) - s.y(pack.rate_N_per_mm)) < CLOSE]
        # a name that would lie on another goes to the line's other end
        right = True not in near
        named.append((pack.rate_N_per_mm, right))
        _pack(root, pack, s, system, right)
    return render(root)


def _grid(root: Element, s: _Scale, system: System) -> None:
    at = s.low
    while at <= s.high + 1e-6:
        x = s.x(at)
        line(root, (x, s.y(s.bottom)), (x, s.y(s.top)), "window-grid")
        tick = f"{at / s.force:g}"
        add(root, "text", tick, x=x, y=HEIGHT - BOTTOM + 17.0, class_="window-tick", text_anchor="middle")
        at += s.x_step * s.force
    first = math.ceil(s.bottom / s.rate / s.y_step - 1e-9) * s.y_step * s.rate
    while first <= s.top + 1e-6:
        y = s.y(first)
        line(root, (LEFT, y), (WIDTH - RIGHT, y), "window-grid")
        add(root, "text", f"{first / s.rate:g}", x=LEFT - 8.0, y=-y + 4.0, class_="window-tick", text_anchor="end")
        first += s.y_step * s.rate
    middle = (LEFT + WIDTH - RIGHT) / 2
    name = f"seat load, {FORCE.unit(system)}"
    add(root, "text", name, x=middle, y=HEIGHT - 8.0, class_="window-name", text_anchor="middle")
    add(root, "text", f"rate, {RATE.unit(system)}", x=LEFT - 44.0, y=13.0, class_="window-name")


def _stretches(found: Window) -> Iterator[list[int]]:
    """Rates in a row at which the window is open."""
    row: list[int] = []
    for i, low in enumerate(found.least_N):
        if math.isnan(low):
            if row:
                yield row
            row = []
        else:
            row.append(i)
    if row:
        yield row


def _region(root: Element, found: Window, s: _Scale) -> None:
    for row in _stretches(found):
        left = [s.at(s.inside(found.least_N[i]), found.fine[i]) for i in row]
        right = [s.at(s.inside(found.most_N[i]), found.fine[i]) for i in reversed(row)]
        points = " L".join(f"{num(x)} {num(-y)}" for x, y in [*left, *right])
        add(root, "path", d=f"M{points}Z", class_="window-open")


def _edge(root: Element, found: Window, edge: Edge, s: _Scale) -> None:
    """Both ends of a check where they lie on the drawing; one that closes the window drawn firm and named there."""
    for name, ends, common in (("least", edge.least_N, found.least_N), ("most", edge.most_N, found.most_N)):
        fine = [_between(found, ends, rate) for rate in found.fine]
        points = [
            (s.at(load, rate), abs(load - c) < 0.5)
            for load, rate, c in zip(fine, found.fine, common, strict=True)
            if not math.isnan(load) and s.low < load < s.high
        ]
        if len(points) < 2:
            continue
        firm = [p for p, governs in points if governs]
        path = " L".join(f"{num(x)} {num(-y)}" for (x, y), _ in points)
        group = add(root, "g", class_=f"window-edge {'governs' if firm else ''}".strip())
        add(group, "title", f"{edge.title}: {'at least' if name == 'least' else 'at most'} this much")
        add(group, "path", d=f"M{path}", class_="reach")
        add(group, "path", d=f"M{path}", class_="shown")
        if firm or edge.of_wire:
            x, y = firm[len(firm) // 2] if firm else points[5 * len(points) // 6][0]
            side = -6.0 if name == "least" else 6.0
            anchor = "end" if name == "least" else "start"
            add(group, "text", edge.title.lower(), x=x + side, y=-y - 4.0, class_="window-word", text_anchor=anchor)


def _between(found: Window, ends: tuple[float, ...], rate: float) -> float:
    """An edge at a rate, straight between those that were worked."""
    step = (found.rates[-1] - found.rates[0]) / (len(found.rates) - 1)
    at = min((rate - found.rates[0]) / step, len(ends) - 1.0)
    low = min(int(at), len(ends) - 2)
    return ends[low] + (at - low) * (ends[low + 1] - ends[low])


def _pack(root: Element, pack: PackLine, s: _Scale, system: System, on_right: bool) -> None:
    if not s.bottom <= pack.rate_N_per_mm <= s.top:
        return
    y = s.y(pack.rate_N_per_mm)
    kind = "window-pack" + (" fitted" if pack.fitted else "") + (" holds" if pack.holds else " misses")
    group = add(root, "g", class_=kind)
    said = "some height of it holds" if pack.holds else "no height of it holds"
    ends = f"{show(pack.low_N, FORCE, system)} {pack.ends[0]}, {show(pack.high_N, FORCE, system)} {pack.ends[1]}"
    add(group, "title", f"{pack.name}: {ends}; {said}")
    left, right = s.x(s.inside(pack.low_N)), s.x(s.inside(pack.high_N))
    line(group, (left, y), (right, y), "span")
    for x in (left, right):
        line(group, (x, y - 5.0), (x, y + 5.0), "stop")
    add(group, "circle", cx=s.x(s.inside(pack.at_N)), cy=-y, r=6.5 if pack.fitted else 4.5, class_="now")
    x, anchor = (right + 7.0, "start") if on_right else (left - 7.0, "end")
    add(group, "text", pack.name, x=x, y=-y + 4.0, class_="window-word", text_anchor=anchor)
