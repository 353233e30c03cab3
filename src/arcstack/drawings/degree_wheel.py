"""A degree wheel with its pointer, and a dial beside it."""

import math
from xml.etree.ElementTree import Element

from markupsafe import Markup

from arcstack.drawings.svg import add, picture, render

R, MIDDLE = 92.0, 100.0
DIAL_X, DIAL_R, DIAL_TURN_MM = 268.0, 46.0, 1.0


def _at(x: float, radius: float, angle: float) -> tuple[float, float]:
    """A point clockwise from the top."""
    return x + radius * math.sin(angle), MIDDLE - radius * math.cos(angle)


def degree_wheel(wheel_rad: float, lift_mm: float, words: str) -> Markup:
    """The wheel turned so that its pointer, at the top, stands at an angle; a dial whose hand goes round once a
    millimetre."""
    root = picture("degree-wheel", (0.0, 0.0, 330.0, 210.0), words)
    _wheel(root, wheel_rad)
    add(root, "path", d="M100 16 L94 2 L106 2 Z", class_="pointer")
    _dial(root, lift_mm)
    return render(root)


def _wheel(root: Element, wheel_rad: float) -> None:
    add(root, "circle", cx=MIDDLE, cy=MIDDLE, r=R, class_="rim")
    for degree in range(0, 360, 5):
        angle = math.radians(degree) - wheel_rad
        long_ = 12.0 if degree % 30 == 0 else 8.0 if degree % 10 == 0 else 4.0
        (x1, y1), (x2, y2) = _at(MIDDLE, R, angle), _at(MIDDLE, R - long_, angle)
        add(root, "line", x1=x1, y1=y1, x2=x2, y2=y2, class_="tick")
        if degree % 30 == 0:
            x, y = _at(MIDDLE, R - 21.0, angle)
            text = "TDC" if degree == 0 else "BDC" if degree == 180 else str(degree if degree < 180 else 360 - degree)
            add(root, "text", text, x=x, y=y + 3.5, class_="degrees")
    add(root, "circle", cx=MIDDLE, cy=MIDDLE, r=12.0, class_="hub")


def _dial(root: Element, lift_mm: float) -> None:
    add(root, "circle", cx=DIAL_X, cy=MIDDLE, r=DIAL_R, class_="rim")
    for n in range(20):
        angle = math.tau * n / 20.0
        (x1, y1), (x2, y2) = _at(DIAL_X, DIAL_R, angle), _at(DIAL_X, DIAL_R - (8.0 if n % 2 == 0 else 4.0), angle)
        add(root, "line", x1=x1, y1=y1, x2=x2, y2=y2, class_="tick")
    x, y = _at(DIAL_X, DIAL_R - 12.0, math.tau * (lift_mm % DIAL_TURN_MM) / DIAL_TURN_MM)
    add(root, "line", x1=DIAL_X, y1=MIDDLE, x2=x, y2=y, class_="hand")
    add(root, "circle", cx=DIAL_X, cy=MIDDLE, r=4.0, class_="hub")
    add(root, "line", x1=DIAL_X, y1=MIDDLE + DIAL_R, x2=DIAL_X, y2=MIDDLE + DIAL_R + 34.0, class_="stem")
