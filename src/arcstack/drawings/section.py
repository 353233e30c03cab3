"""The section of one side, to scale, with its dimensions and gaps."""

from xml.etree.ElementTree import Element

from markupsafe import Markup

from arcstack.assess import Assessment
from arcstack.checks import Level
from arcstack.drawings import clashes, marks, parts
from arcstack.drawings.frames import Frames, Gap, frames, gaps
from arcstack.drawings.geometry import Geometry, geometry
from arcstack.drawings.svg import Point, add, line, num, render, shapes
from arcstack.units import LENGTH, System, show

BESIDE = 30.0
"""Room beside the metal for dimensions and their words."""


def section(assessment: Assessment, side: str, system: System, cam_deg: int = 0) -> tuple[Markup, Frames, Geometry]:
    """The drawing with the cam ``cam_deg`` degrees from the nose, and its frames."""
    g = geometry(assessment.sides[side])
    shown = gaps(assessment, side, g)
    moving = frames(g, shown, system)
    index = min(max(cam_deg - moving.first, 0), len(moving.lift) - 1)
    top, bottom = g.top + 1.5, parts.CHAMBER - g.gross_lift + 5.0
    half = max(g.wall + BESIDE, g.head / 2 + 12.0)
    right = max(half, g.cam_x + g.base_radius + g.gross_lift / g.ratio + 2.0)
    root = Element(
        "svg",
        {
            "class": "section",
            "viewBox": f"{num(-half)} {num(-top)} {num(half + right)} {num(top - bottom)}",
            "role": "img",
            "aria-label": _alternative(side, g, moving.words(index)),
            "data-index": str(index),
        },
    )
    hatches(root)
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
    _dimensions(root, g, moving.words(index))
    height = assessment.verdict("stack.installed_height", side)
    _callouts(root, g, shown, moving.words(index), height.level, height.proven)
    _sunk_locks(root, assessment, side, g, system)
    overlaps = clashes.draw(root, assessment.sides[side], g, system)
    if overlaps:
        root.set("aria-label", f"{root.get('aria-label')} {'; '.join(overlaps)}.")
    _settle(root, moving.lift[index], moving.swing[index])
    return render(root), moving, g


def _settle(root: Element, lift: float, swing: float) -> None:
    """Put every moving part where it stands at ``lift``, and a finger at its turn."""
    for node in root.iter():
        if "data-travel" in node.attrib:
            node.set("transform", f"translate(0 {num(float(node.attrib['data-travel']) * lift)})")
        if "data-swing" in node.attrib:
            node.set("transform", f"rotate({num(swing)} {node.attrib['data-swing']})")
        if "data-travel1" in node.attrib:
            for end in ("1", "2"):
                rest = float(node.attrib[f"y{end}"])
                node.set(f"data-rest{end}", num(rest))
                node.set(f"y{end}", num(rest + float(node.attrib[f"data-travel{end}"]) * lift))


def hatches(root: Element) -> None:
    defs = add(root, "defs")
    for name, gap, angle in (("cast-hatch", 2.4, 45), ("steel-hatch", 1.1, -45)):
        hatch = add(
            defs, "pattern", id=name, width=gap, height=gap, patternUnits="userSpaceOnUse",
            patternTransform=f"rotate({angle})",
        )  # fmt: skip
        add(hatch, "rect", width=gap, height=gap, class_=f"{name}-ground")
        add(hatch, "line", x1=0, y1=0, x2=0, y2=gap, class_=f"{name}-line")


def _dimensions(root: Element, g: Geometry, words: dict[str, str]) -> None:
    seat_y, right, left = g.outer.bottom, g.wall + 2.5, -(g.wall + 2.5)
    line(root, (g.outer.radius, seat_y), (right + 1.5, seat_y), "extension")
    carried = add(root, "g", data_travel=1.0)
    line(carried, (g.outer.radius, g.retainer_y), (right + 1.5, g.retainer_y), "extension")
    _span(root, right, seat_y, 0.0, g.retainer_y, 1.0)
    if "seal" not in words:
        return
    low = g.retainer_y - max(g.retainer_depth, g.retainer_step)
    line(carried, (-g.stem / 2 - 2.0, low), (left - 1.5, low), "extension")
    line(root, (-g.stem / 2 - 2.6, g.seal), (left - 1.5, g.seal), "extension")
    _span(root, left, g.seal, 0.0, low, 1.0)


def _callouts(
    root: Element, g: Geometry, shown: list[Gap], words: dict[str, str], height_level: Level, height_proven: bool
) -> None:
    right, left = g.wall + 4.1, -(g.wall + 4.1)
    # under a rocker's camshaft, beside the wall
    foot = g.outer.bottom + (6.0 if g.arm is None else -30.0 if g.arm.rocker else -6.0)
    _callout(root, (right, foot), "height", words["height"], "outer height", height_level, height_proven)
    places = {"seal": (left - 25.5, g.seal - 5.0), "outer": (right, foot + 20.0), "inner": (right, foot + 10.0)}
    for gap in shown:
        level = Level(words[gap.key + "-level"])
        _callout(root, places[gap.key], gap.key, words[gap.key], gap.title, level, gap.verdict.proven)


SHOWN_FROM_MM = 0.05
"""Locks that sit less deep than this are not pointed at."""


def _sunk_locks(root: Element, assessment: Assessment, side: str, g: Geometry, system: System) -> None:
    """How deep the locks sit, beside them, where that is anything to be seen."""
    if abs(g.sinks) < SHOWN_FROM_MM:
        return
    v = assessment.verdict("fit.lock_depth", side)
    left = -(g.wall + 4.1)
    word = "locks sit deep" if g.sinks > 0 else "locks stand high"
    _callout(
        root,
        (left - 25.5, g.retainer_y + 4.0),
        "locks",
        str(show(abs(g.sinks), LENGTH, system)),
        word,
        v.level,
        v.proven,
    )
    carried = add(root, "g", data_travel=1.0)
    for y in (g.retainer_y + 4.3, g.lock_y + 4.3):
        line(carried, (-g.stem / 2 - 2.6, y), (left + 1.5, y), "extension")


def _span(root: Element, x: float, y1: float, share1: float, y2: float, share2: float) -> None:
    """A dimension line whose ends move with the parts they measure."""
    add(root, "line", x1=x, y1=-y1, x2=x, y2=-y2, class_="dimension", data_travel1=share1, data_travel2=share2)
    for y, share in ((y1, share1), (y2, share2)):
        end = add(root, "g", data_travel=share)
        add(end, "path", d=f"M{num(x - 0.9)} {num(-y + 0.9)} L{num(x + 0.9)} {num(-y - 0.9)}", class_="dimension")


def _callout(root: Element, at: Point, key: str, text: str, title: str, level: Level, proven: bool) -> None:
    """A live figure with its verdict's mark; the browser swaps figure and mark as the cam is turned."""
    x, y = at
    group = add(root, "g", class_="callout", data_part="shims" if key == "height" else key)
    badge = add(
        group, "g", class_=f"mark {level.value} {'proven' if proven else 'paper'}", data_mark=key,
        transform=f"translate({num(x)} {num(-y - 3.4)}) scale(0.2)",
    )  # fmt: skip
    for each in Level:
        holder = add(badge, "g", class_=f"is-{each.value}")
        shapes(holder, marks.shape(each))
    add(group, "text", text, x=x + 4.4, y=-y, class_="figure", data_live=key)
    add(group, "text", title, x=x + 4.4, y=-y + 3.6, class_="note")


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
