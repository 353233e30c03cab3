"""SVG elements, escaped by the standard library's XML writer."""

import math
from collections.abc import Sequence
from xml.etree.ElementTree import Element, SubElement, fromstring, tostring

from markupsafe import Markup

Point = tuple[float, float]


def num(value: float) -> str:
    return f"{value:.3f}".rstrip("0").rstrip(".") or "0"


def add(parent: Element, tag: str, text: str | None = None, **attributes: str | float) -> Element:
    """A child element; an underscore in a name stands for a hyphen, a trailing one is dropped."""
    cleaned = {
        name.rstrip("_").replace("_", "-"): num(value) if isinstance(value, int | float) else value
        for name, value in attributes.items()
    }
    child = SubElement(parent, tag, cleaned)
    if text is not None:
        child.text = text
    return child


def path_of(points: Sequence[Point], closed: bool = True) -> str:
    """Path data through points given with y upward."""
    moves = " L".join(f"{num(x)} {num(-y)}" for x, y in points)
    return f"M{moves}" + ("Z" if closed else "")


def picture(class_: str, box: tuple[float, float, float, float], words: str) -> Element:
    """The root of a drawing: view box as x, y, width, height, and its words for those who cannot see it."""
    view = " ".join(num(v) for v in box)
    return Element("svg", {"class": class_, "viewBox": view, "role": "img", "aria-label": words})


def polygon(parent: Element, points: Sequence[Point], class_: str) -> Element:
    return add(parent, "path", d=path_of(points), class_=class_)


def both(parent: Element, points: Sequence[Point], class_: str) -> None:
    """A half profile (x ≥ 0) drawn on both sides of the axis, as one path."""
    right = path_of(points)
    left = path_of([(-x, y) for x, y in points])
    add(parent, "path", d=right + left, class_=class_)


def line(parent: Element, start: Point, end: Point, class_: str) -> Element:
    return add(parent, "line", x1=start[0], y1=-start[1], x2=end[0], y2=-end[1], class_=class_)


def shapes(parent: Element, markup: str) -> None:
    """Append elements written as markup of this program's own."""
    for child in fromstring(f"<g>{markup}</g>"):
        parent.append(child)


def round_step(rough: float) -> float:
    """A grid step of 1, 2 or 5 times a power of ten, at least ``rough``.

    >>> round_step(37.0), round_step(8.3), round_step(0.3)
    (50.0, 10.0, 0.5)
    """
    power = 10.0 ** math.floor(math.log10(max(rough, 1e-9)))
    return next(s * power for s in (1.0, 2.0, 5.0, 10.0) if s * power >= rough - 1e-12)


def render(root: Element) -> Markup:
    return Markup(tostring(root, encoding="unicode"))
