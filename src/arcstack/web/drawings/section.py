"""The section of one side, to scale, with its dimensions and gaps; and what each cam angle shows."""

import math
from dataclasses import dataclass
from xml.etree.ElementTree import Element

import numpy as np
from markupsafe import Markup

from arcstack.assess import Assessment
from arcstack.checks import Level, judge
from arcstack.units import LENGTH, System, show
from arcstack.web import marks
from arcstack.web.drawings import parts
from arcstack.web.drawings.geometry import Geometry, geometry
from arcstack.web.drawings.svg import add, line, num, render, shapes

HALF_WIDTH = 51.0


@dataclass(frozen=True)
class Frames:
    """For each cam angle (whole degrees from the nose): valve lift in mm, and the words of every live figure."""

    first: int
    lift: tuple[float, ...]
    words: tuple[dict[str, str], ...]

    def data(self) -> dict[str, object]:
        return {"first": self.first, "lift": list(self.lift), "words": list(self.words)}


@dataclass(frozen=True)
class Gap:
    """A gap that shrinks as the valve opens: its verdict, its size with the valve closed."""

    key: str
    check: str
    title: str
    closed: float


def _gaps(assessment: Assessment, side: str, g: Geometry) -> list[Gap]:
    found = []
    for key, check, title in (
        ("seal", "stack.retainer_seal", "to seal"),
        ("outer", "spring.reserve.outer", "outer to solid"),
        ("inner", "spring.reserve.inner", "inner to solid"),
    ):
        verdict = next((v for v in assessment.of_side(side) if v.id == check), None)
        if verdict is not None and verdict.figure is not None:
            found.append(Gap(key, check, title, verdict.figure.value + g.gross_lift))
    return found


def frames(assessment: Assessment, side: str, system: System, g: Geometry | None = None) -> Frames:
    """What the drawing shows at every whole cam degree; all arithmetic is done here."""
    g = g or geometry(assessment.sides[side])
    if g.law is None:
        return Frames(0, (0.0,), (_words(assessment, side, g, 0.0, system, 0),))
    half = math.ceil(math.degrees(max(abs(a) for a in g.law.support_rad))) + 6
    degrees = np.arange(-half, half + 1)
    net = np.maximum(g.law.evaluate(np.radians(degrees.astype(float))) - g.lash, 0.0)
    words = tuple(
        _words(assessment, side, g, float(lift), system, int(d)) for d, lift in zip(degrees, net, strict=True)
    )
    return Frames(-half, tuple(round(float(x), 4) for x in net), words)


def _words(assessment: Assessment, side: str, g: Geometry, lift: float, system: System, degrees: int) -> dict[str, str]:
    def mm(value: float) -> str:
        return str(show(value, LENGTH, system))

    said = {
        "height": mm(g.height - lift),
        "lift": mm(lift),
        "angle": f"{degrees:+d}°".replace("-", "−") if degrees else "0°",
    }
    for gap in _gaps(assessment, side, g):
        left = gap.closed - lift
        said[gap.key] = mm(left)
        limit = assessment.verdict(gap.check, side).limit
        assert limit is not None
        # a ceiling speaks of full lift only; on the way there the floor alone counts
        level = judge(left, limit)
        said[gap.key + "-level"] = (Level.CLEAR if limit.high is not None and left > limit.high else level).value
    return said


def section(assessment: Assessment, side: str, system: System, cam_deg: int = 0) -> tuple[Markup, Frames, Geometry]:
    """The drawing with the cam ``cam_deg`` degrees from the nose, and its frames."""
    g = geometry(assessment.sides[side])
    moving = frames(assessment, side, system, g)
    index = min(max(cam_deg - moving.first, 0), len(moving.lift) - 1)
    top, bottom = g.cam_y + g.base_radius + g.gross_lift / g.ratio + 1.5, parts.CHAMBER - g.gross_lift + 5.0
    root = Element(
        "svg",
        {
            "class": "section",
            "viewBox": f"{num(-HALF_WIDTH)} {num(-top)} {num(2 * HALF_WIDTH)} {num(top - bottom)}",
            "role": "img",
            "aria-label": _alternative(side, g, moving.words[index]),
            "data-index": str(index),
        },
    )
    _patterns(root)
    parts.head_casting(root, g)
    parts.seat_insert(root, g)
    parts.ghost(root, g)
    parts.coils_behind(root, "outer", g.outer)
    if g.inner:
        parts.coils_behind(root, "inner", g.inner)
    parts.guide_and_seal(root, g)
    parts.shims_and_locator(root, g)
    parts.coil_spring(root, "outer", g.outer)
    if g.inner:
        parts.coil_spring(root, "inner", g.inner)
    parts.valve(root, g)
    parts.retainer(root, g)
    parts.locks(root, g)
    parts.follower(root, g)
    parts.lobe(root, g, float(cam_deg))
    line(root, (0, top), (0, bottom), "axis")
    _dimensions(root, assessment, side, g, moving.words[index])
    _settle(root, moving.lift[index])
    return render(root), moving, g


def _settle(root: Element, lift: float) -> None:
    """Put every moving part where it stands at ``lift``."""
    for node in root.iter():
        if "data-travel" in node.attrib:
            node.set("transform", f"translate(0 {num(float(node.attrib['data-travel']) * lift)})")
        if "data-travel1" in node.attrib:
            for end in ("1", "2"):
                rest = float(node.attrib[f"y{end}"])
                node.set(f"data-rest{end}", num(rest))
                node.set(f"y{end}", num(rest + float(node.attrib[f"data-travel{end}"]) * lift))


def _patterns(root: Element) -> None:
    defs = add(root, "defs")
    for name, gap, angle in (("cast-hatch", 2.4, 45), ("steel-hatch", 1.1, -45)):
        hatch = add(
            defs, "pattern", id=name, width=gap, height=gap, patternUnits="userSpaceOnUse",
            patternTransform=f"rotate({angle})",
        )  # fmt: skip
        add(hatch, "rect", width=gap, height=gap, class_=f"{name}-ground")
        add(hatch, "line", x1=0, y1=0, x2=0, y2=gap, class_=f"{name}-line")


def _dimensions(root: Element, assessment: Assessment, side: str, g: Geometry, words: dict[str, str]) -> None:
    edge = (g.bucket / 2 + 0.15 + parts.WALL) if g.is_bucket else g.outer.radius + g.outer.wire / 2 + 3.0 + parts.WALL
    seat_y = g.outer.bottom
    right, left = edge + 2.5, -(edge + 2.5)
    line(root, (g.outer.radius, seat_y), (right + 1.5, seat_y), "extension")
    carried = add(root, "g", data_travel=1.0)
    line(carried, (g.outer.radius, g.retainer_y), (right + 1.5, g.retainer_y), "extension")
    low = g.retainer_y - max(g.retainer_depth, g.retainer_step)
    line(carried, (-g.stem / 2 - 2.0, low), (left - 1.5, low), "extension")
    line(root, (-g.stem / 2 - 2.6, g.seal), (left - 1.5, g.seal), "extension")
    _span(root, right, seat_y, 0.0, g.retainer_y, 1.0)
    _span(root, left, g.seal, 0.0, low, 1.0)
    height = assessment.verdict("stack.installed_height", side)
    _callout(
        root,
        right + 1.6,
        seat_y + 6.0,
        "start",
        "height",
        words["height"],
        "outer height",
        height.level,
        height.proven,
        "",
    )
    for gap in _gaps(assessment, side, g):
        verdict = assessment.verdict(gap.check, side)
        level = Level(words[gap.key + "-level"])
        x, y, anchor = {
            "seal": (left - 1.6, g.seal - 5.0, "end"),
            "outer": (right + 1.6, seat_y + 26.0, "start"),
            "inner": (right + 1.6, seat_y + 16.0, "start"),
        }[gap.key]
        _callout(root, x, y, anchor, gap.key, words[gap.key], gap.title, level, verdict.proven, gap.key)


def _span(root: Element, x: float, y1: float, share1: float, y2: float, share2: float) -> None:
    """A dimension line whose ends move with the parts they measure."""
    add(root, "line", x1=x, y1=-y1, x2=x, y2=-y2, class_="dimension", data_travel1=share1, data_travel2=share2)
    for y, share in ((y1, share1), (y2, share2)):
        end = add(root, "g", data_travel=share)
        add(end, "path", d=f"M{num(x - 0.9)} {num(-y + 0.9)} L{num(x + 0.9)} {num(-y - 0.9)}", class_="dimension")


def _callout(
    root: Element,
    x: float,
    y: float,
    anchor: str,
    live: str,
    text: str,
    title: str,
    level: Level,
    proven: bool,
    part: str,
) -> None:
    group = add(root, "g", class_="callout", data_part=part)
    width = 22.0
    at = x if anchor == "start" else x - width
    badge = add(
        group, "g", class_=f"mark {level.value} {'proven' if proven else 'paper'}", data_mark=live,
        transform=f"translate({num(at)} {num(-y - 3.4)}) scale(0.2)",
    )  # fmt: skip
    for each in Level:
        holder = add(badge, "g", class_=f"is-{each.value}")
        shapes(holder, marks.shape(each))
    add(group, "text", text, x=at + 4.4, y=-y, class_="figure", data_live=live)
    add(group, "text", title, x=at + 4.4 if anchor == "start" else at, y=-y + 3.6, class_="note")


def _alternative(side: str, g: Geometry, words: dict[str, str]) -> str:
    known = ", ".join(
        f"{title} {words[key]}"
        for key, title in (
            ("height", "outer spring height"),
            ("seal", "retainer to seal"),
            ("outer", "outer spring to solid"),
            ("inner", "inner spring to solid"),
        )
        if key in words
    )
    return f"Section of the {side} stack at {words['lift']} valve lift: {known}."
