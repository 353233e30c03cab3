"""A cam gear from its front: the way the engine runs, and the way the camshaft is turned within its gear."""

import math
from xml.etree.ElementTree import Element

from markupsafe import Markup

from arcstack.drawings.svg import add, picture, render

R_GEAR, R_RUNS, R_TURN, R_SHAFT = 62.0, 78.0, 40.0, 18.0
LEAST_DRAWN = math.radians(14.0)


def _at(radius: float, angle: float) -> str:
    """A point clockwise from the top."""
    return f"{100 + radius * math.sin(angle):.1f} {100 - radius * math.cos(angle):.1f}"


def gear_turn(turn_rad: float, words: str) -> Markup:
    """The gear, running clockwise as it is drawn; the shaft's arrow with it or against it, longer the more it is."""
    root = picture("gear-turn", (0.0, 0.0, 200.0, 200.0), words)
    add(root, "circle", cx=100.0, cy=100.0, r=R_GEAR, class_="gear")
    for n in range(36):
        angle = math.tau * n / 36
        add(root, "path", d=f"M{_at(R_GEAR, angle)} L{_at(R_GEAR + 6, angle)}", class_="tooth")
    for angle in (0.9, 3.0, 5.1):
        add(root, "path", d=f"M{_at(50, angle - 0.16)} A50 50 0 0 1 {_at(50, angle + 0.16)}", class_="slot")
    add(root, "circle", cx=100.0, cy=100.0, r=R_SHAFT, class_="shaft")
    _arrow(root, R_RUNS + 8, -0.5, 1.0, "runs")
    if turn_rad:
        sweep = math.copysign(max(LEAST_DRAWN, min(abs(turn_rad) * 12.0, math.radians(110.0))), turn_rad)
        _arrow(root, R_TURN - 8, -sweep / 2.0, sweep, "turn")
    return render(root)


def _arrow(root: Element, radius: float, start: float, sweep: float, name: str) -> None:
    end, clockwise = start + sweep, 1 if sweep > 0 else 0
    tip = end + math.copysign(9.0 / radius, sweep)
    add(root, "path", d=f"M{_at(radius, start)} A{radius} {radius} 0 0 {clockwise} {_at(radius, end)}", class_=name)
    head = f"M{_at(radius, tip)} L{_at(radius - 6, end)} L{_at(radius + 6, end)} Z"
    add(root, "path", d=head, class_=f"{name}-head")
