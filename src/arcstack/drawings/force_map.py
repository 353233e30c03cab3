"""The rigid train's contact force as a map: cam angle across, speed upward, lines of equal force."""

import math
from dataclasses import dataclass
from itertools import pairwise
from typing import Any
from xml.etree.ElementTree import Element

import numpy as np
from contourpy import contour_generator
from markupsafe import Markup

from arcstack.assess import control, elastic
from arcstack.assess.context import Context
from arcstack.assess.control import RigidTrain
from arcstack.drawings.svg import add, picture, render
from arcstack.mech.cam.law import Array
from arcstack.units import FORCE, SPEED, System, show
from arcstack.units.convert import factor

WIDTH, HEIGHT = 760.0, 372.0
LEFT, RIGHT, TOP, BOTTOM = 58.0, 14.0, 14.0, 44.0

LEVELS_N = (0.0, 100.0, 200.0, 400.0, 600.0, 900.0, 1200.0)
_FAR = 1e7
_ROWS = 49
_READ_DEG, _READ_ROWS = 2.0, 41


@dataclass(frozen=True)
class ForceMap:
    """The drawing, and the forces behind it for the cursor: rows of speed, columns of angle, None off the lobe."""

    svg: Markup
    angles: list[float]
    speeds: list[int]
    force: list[list[int | None]]
    unit: str
    words: str


def _x(degrees: float, reach: float) -> float:
    return LEFT + (degrees + reach) / (2.0 * reach) * (WIDTH - LEFT - RIGHT)


def _y(rpm: float, low: float, high: float) -> float:
    return HEIGHT - BOTTOM - (rpm - low) / (high - low) * (HEIGHT - TOP - BOTTOM)


def force_map(ctx: Context, with_gas: bool, system: System) -> ForceMap:
    """Raises ``MissingInput`` while there is no train, ``CurveConflict`` while there is no curve."""
    found = control.separation_with_gas(ctx) if with_gas else control.separation_spring_alone(ctx)
    train, top = found.train, elastic.top_rpm(ctx)
    low = math.floor(0.2 * top / 500.0) * 500.0
    parts = found.speed.value
    high = math.ceil(max(top, parts * 1.05 if parts < 1.3 * top else top) / 250.0) * 250.0
    reach = math.ceil(math.degrees(control.lifted_rad(train)) / 5.0 + 0.2) * 5.0
    degrees = np.linspace(-reach, reach, 121)
    speeds = np.linspace(low, high, _ROWS)
    field = train.force_map_N(np.radians(degrees), speeds)
    words = (
        f"Contact force over cam angle and speed. Parts first at {show(found.speed.value, SPEED)}, "
        f"{math.degrees(found.angle.value):.1f} cam degrees from the nose."
    )
    root = picture("force-map", (0, 0, WIDTH, HEIGHT), words)
    _bands(root, degrees, speeds, field, reach)
    _lines(root, degrees, speeds, field, reach, system)
    _axes(root, reach, low, high)
    _speeds(ctx, root, low, high)
    _parting(root, found, train, reach, low, high)
    _cursor(root)
    angles = np.arange(-reach, reach + 0.5, _READ_DEG)
    rows = np.linspace(low, high, _READ_ROWS)
    unit = factor(FORCE, FORCE.unit(system))
    table = train.force_map_N(np.radians(angles), rows) / unit
    force = [[None if math.isnan(v) else round(float(v)) for v in row] for row in table]
    return ForceMap(render(root), angles.tolist(), [round(float(n)) for n in rows], force, FORCE.unit(system), words)


def _path(points: Array, reach: float, low: float, high: float) -> str:
    across = np.round(LEFT + (points[:, 0] + reach) / (2.0 * reach) * (WIDTH - LEFT - RIGHT), 1)
    upward = np.round(HEIGHT - BOTTOM - (points[:, 1] - low) / (high - low) * (HEIGHT - TOP - BOTTOM), 1)
    return "M" + "L".join(f"{x:g} {y:g}" for x, y in zip(across.tolist(), upward.tolist(), strict=True))


def _bands(root: Element, degrees: Array, speeds: Array, field: Array, reach: float) -> None:
    low, high = float(speeds[0]), float(speeds[-1])
    shown = np.ma.masked_invalid(field)
    made: Any = contour_generator(degrees, speeds, shown, name="serial", fill_type="OuterOffset")
    edges = (-_FAR, *LEVELS_N, _FAR)
    for i, (a, b) in enumerate(pairwise(edges)):
        polygons, offsets = made.filled(a, b)
        for points, cuts in zip(polygons, offsets, strict=True):
            rings = [_path(points[s:e], reach, low, high) + "Z" for s, e in pairwise(cuts)]
            add(root, "path", d="".join(rings), class_=f"band band-{i}", fill_rule="evenodd")


def _lines(root: Element, degrees: Array, speeds: Array, field: Array, reach: float, system: System) -> None:
    low, high = float(speeds[0]), float(speeds[-1])
    made: Any = contour_generator(degrees, speeds, np.ma.masked_invalid(field), name="serial", line_type="Separate")
    for level in LEVELS_N:
        for points in made.lines(level):
            add(root, "path", d=_path(points, reach, low, high), class_="zero" if level == 0.0 else "iso")
    _words(root, made, reach, low, high, system)


def _words(root: Element, made: Any, reach: float, low: float, high: float, system: System) -> None:
    """Each level named once, on its longest line, as near two thirds of the way up as the others leave room."""
    taken: list[tuple[float, float]] = []
    for level in LEVELS_N[1:]:
        longest = max(made.lines(level), key=len, default=())
        for degrees, rpm in sorted(longest, key=lambda p: abs(p[1] - (low + 0.66 * (high - low)))):
            x, y = _x(degrees, reach), _y(rpm, low, high)
            inside = LEFT + 30 < x < WIDTH - RIGHT - 30 and TOP + 14 < y < HEIGHT - BOTTOM - 8
            if inside and all(abs(x - a) > 42 or abs(y - b) > 16 for a, b in taken):
                taken.append((x, y))
                add(root, "text", show(level, FORCE, system).number, x=x, y=y + 4, class_="iso-words")
                break


def _axes(root: Element, reach: float, low: float, high: float) -> None:
    base = HEIGHT - BOTTOM
    add(root, "rect", x=LEFT, y=TOP, width=WIDTH - LEFT - RIGHT, height=base - TOP, class_="frame")
    step = 20 if reach > 60 else 10
    for degrees in range(-int(reach // step) * step, int(reach) + 1, step):
        x = _x(float(degrees), reach)
        add(root, "line", x1=x, y1=base, x2=x, y2=base + 5, class_="tick")
        add(root, "text", f"{degrees}".replace("-", "−"), x=x, y=base + 18, class_="tick-words")
    for rpm in range(math.ceil(low / 1000) * 1000, int(high) + 1, 1000):
        y = _y(float(rpm), low, high)
        add(root, "line", x1=LEFT - 5, y1=y, x2=LEFT, y2=y, class_="tick")
        add(root, "text", f"{rpm:,}", x=LEFT - 8, y=y + 4, class_="tick-words side")
    add(root, "text", "cam degrees from the nose", x=(LEFT + WIDTH - RIGHT) / 2, y=HEIGHT - 8, class_="tick-words")
    add(root, "text", "rpm", x=6, y=HEIGHT - BOTTOM + 18, class_="tick-words start")


def _speeds(ctx: Context, root: Element, low: float, high: float) -> None:
    brief = ctx.build.brief
    for words, entry in (("limiter", brief.limiter), ("overspeed", brief.overspeed), ("usual", brief.usual_speed)):
        if entry is None or not low < entry.value < high:
            continue
        y = _y(entry.value, low, high)
        add(root, "line", x1=LEFT, y1=y, x2=WIDTH - RIGHT, y2=y, class_=f"speed-line {words}")
        add(root, "text", f"{words} {entry.value:,.0f}", x=WIDTH - RIGHT - 5, y=y - 4, class_="speed-words")


def _parting(root: Element, found: control.Separated, train: RigidTrain, reach: float, low: float, high: float) -> None:
    parts = train.separation()
    if parts is None or not low <= found.speed.value <= high:
        return
    x, y = _x(math.degrees(parts.cam_rad), reach), _y(found.speed.value, low, high)
    add(root, "circle", cx=x, cy=y, r=5, class_="parting")
    add(root, "text", f"parts, {found.speed.value:,.0f}", x=x, y=y - 9, class_="parting-words")


def _cursor(root: Element) -> None:
    group = add(
        root, "g", class_="cursor", data_left=LEFT, data_right=WIDTH - RIGHT, data_top=TOP, data_bottom=HEIGHT - BOTTOM
    )
    add(group, "line", x1=LEFT, y1=TOP, x2=WIDTH - RIGHT, y2=TOP, class_="cursor-line", data_axis="speed")
    add(group, "line", x1=LEFT, y1=TOP, x2=LEFT, y2=HEIGHT - BOTTOM, class_="cursor-line", data_axis="angle")
    add(group, "circle", cx=LEFT, cy=TOP, r=6, class_="cursor-ring")
