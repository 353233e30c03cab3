"""Chamber, both valves, pockets and crown at one crank angle, to scale; the gap under the worked side dimensioned."""

import math
from dataclasses import dataclass
from xml.etree.ElementTree import Element

import numpy as np
from markupsafe import Markup

from arcstack.assess import Assessment, piston
from arcstack.assess.context import Context, known
from arcstack.checks import Level, judge
from arcstack.document import SIDES, Entry, get
from arcstack.drawings import marks
from arcstack.drawings.section import hatches
from arcstack.drawings.svg import Point, add, line, num, path_of, picture, polygon, render, shapes
from arcstack.units import ANGLE, LENGTH, System, show

ABOVE, BELOW, STEP = 52.0, 34.0, 0.25
USUAL = {"bore": 86.0, "head": 32.0, "stem": 6.0, "spacing": 38.0, "recess": 2.0, "deck": 0.3, "gasket": 1.1}
CLEARING = 1.3
"""A pocket is drawn this much wider than its valve all round, which is what is asked of one."""


@dataclass(frozen=True)
class Poise:
    """Where crank and phasers stand: rad after gas-exchange TDC, and crank rad earlier than parked by side."""

    crank_rad: float
    phaser_rad: dict[str, float]


@dataclass(frozen=True)
class Hung:
    """One valve over the piston: the middle of its closed face (x right, y up from the head's face, mm), the way that
    it opens, its net lift, and the gap left along it."""

    side: str
    face: Point
    way: Point
    radius: float
    stem: float
    lift: float
    gap: float

    @property
    def across(self) -> Point:
        """Along its face, to the right."""
        return -self.way[1], self.way[0]

    def along(self, by: float, off: float = 0.0) -> Point:
        """A point ``by`` further open than the closed face and ``off`` to the right on it."""
        (x, y), (u, v), (a, b) = self.face, self.way, self.across
        return x + by * u + off * a, y + by * v + off * b


@dataclass(frozen=True)
class Chamber:
    """What is drawn; ``assumed`` names what stands in usual proportions."""

    bore: float
    crown: float
    valves: tuple[Hung, ...]
    assumed: tuple[str, ...]


def chamber(assessment: Assessment, poise: Poise) -> Chamber:
    """Both valves over the crown; a side that cannot be worked is left out. Raises ``NotKnown`` where neither can."""
    assumed: list[str] = []

    def usual(ctx: Context, path: str, name: str, words: str) -> float:
        value = get(ctx.build, ctx.path(path))
        if isinstance(value, Entry):
            return value.value
        assumed.append(words)
        return USUAL[name]

    first = assessment.sides[SIDES[0]]
    bore = usual(first, "engine.bore", "bore", "bore")
    spacing = usual(first, "engine.valve_spacing", "spacing", "valve spacing")
    deck, gasket = usual(first, "engine.deck", "deck", "deck"), usual(first, "engine.gasket", "gasket", "gasket")
    fallen = float(piston.drop_over_crank_mm(first, np.array([poise.crank_rad]))[0])
    valves = []
    for side, left in ((SIDES[0], -1.0), (SIDES[1], 1.0)):
        ctx = assessment.sides[side]
        model = known(lambda c=ctx: piston.pair(c))  # type: ignore[misc]
        if model is None:
            continue
        at = np.array([poise.crank_rad])
        lift = float(model.net_lift_mm(at, poise.phaser_rad.get(side, 0.0), 0.0)[0])
        radius = usual(ctx, "stack.valve.head", "head", f"{side} valve head") / 2.0
        recess = usual(ctx, "clearance.recess", "recess", f"{side} valve above the head’s face")
        lean = model.valve_angle_rad
        way = (-left * math.sin(lean), -math.cos(lean))
        face = (left * spacing / 2.0, recess + radius * math.sin(lean))
        stem = usual(ctx, "stack.valve.stem", "stem", f"{side} stem")
        valves.append(Hung(side, face, way, radius, stem, lift, float(model.room_mm(at)[0]) - lift))
    if not valves:
        piston.pair(first)
    return Chamber(bore, -gasket - deck - fallen, tuple(valves), tuple(dict.fromkeys(assumed)))


def drawing(assessment: Assessment, side: str, poise: Poise, system: System) -> tuple[Markup, Chamber]:
    """The drawing and what it is made from. Raises ``NotKnown``."""
    made = chamber(assessment, poise)
    half = made.bore / 2.0 + 8.0
    words = f"{_crank(poise.crank_rad, system)}: " + "; ".join(
        f"{v.side} valve open {show(v.lift, LENGTH, system)}, {show(v.gap, LENGTH, system)} from the piston"
        for v in made.valves
    )
    root = picture("section chamber", (-half, -ABOVE, 2 * half, ABOVE + BELOW), words)
    hatches(root)
    clip = add(add(root, "defs"), "clipPath", id="chamber-box")
    add(clip, "rect", x=-half, y=-ABOVE, width=2 * half, height=ABOVE + BELOW)
    inside = add(root, "g", clip_path="url(#chamber-box)")
    _head(inside, made, half)
    _block(inside, made, half)
    _piston(inside, made)
    for valve in made.valves:
        _valve(inside, valve)
    line(inside, (0.0, ABOVE), (0.0, -BELOW), "axis")
    for valve in made.valves:
        _dimension(inside, assessment, valve, valve.side == side, system)
    return render(root), made


def _crank(crank_rad: float, system: System) -> str:
    if abs(crank_rad) < 1e-9:
        return "At TDC"
    return f"{show(abs(crank_rad), ANGLE, system)} {'after' if crank_rad > 0 else 'before'} TDC"


def _roof(made: Chamber, x: float) -> float:
    """The chamber's roof: along each closed face, and never below the head's own face."""
    heights = [v.face[1] + (x - v.face[0]) * v.across[1] / v.across[0] for v in made.valves]
    return max(min(heights), 0.0)


def _floor(v: Hung, x: float) -> float:
    """The floor of a valve's pocket, square to the valve, carried on to any place across the bore."""
    at = v.along(v.lift + v.gap)
    return at[1] + (x - at[0]) * v.across[1] / v.across[0]


def _crown(made: Chamber, x: float) -> float:
    """The crown: under each valve where the gap has it, between two valves a ridge, outside as the deck has it."""
    middles = [v.along(v.lift + v.gap)[0] for v in made.valves]
    under = [
        v for v, middle in zip(made.valves, middles, strict=True)
        if abs(x - middle) <= (v.radius + CLEARING) * abs(v.across[0])
    ]  # fmt: skip
    if under:
        return min(_floor(v, x) for v in under)
    if len(middles) > 1 and min(middles) < x < max(middles):
        return max(made.crown, min(_floor(v, x) for v in made.valves))
    return made.crown


def _across(made: Chamber) -> list[float]:
    return [float(x) for x in np.arange(-made.bore / 2.0, made.bore / 2.0 + STEP / 2.0, STEP)]


def _head(root: Element, made: Chamber, half: float) -> None:
    roof = [(x, _roof(made, x)) for x in _across(made)]
    outline = [(-half, 0.0), *roof, (half, 0.0), (half, ABOVE), (-half, ABOVE)]
    group = add(root, "g", data_part="head")
    polygon(group, outline, "cast")
    for v in made.valves:
        # port and seat: what the closed valve closes
        throat = v.radius - 2.2
        port = [v.along(0.6, -throat), v.along(0.6, throat), v.along(-17.0, throat - 1.0), v.along(-17.0, 1 - throat)]
        polygon(group, port, "port")
        for way in (-1.0, 1.0):
            insert = [(0.4, v.radius - 2.2), (0.4, v.radius + 2.4), (-5.5, v.radius + 2.4), (-5.5, v.radius - 2.2)]
            polygon(group, [v.along(a, way * b) for a, b in insert], "steel")
        guide = [v.along(-19.0, 0.1 + v.stem / 2), v.along(-19.0, v.stem / 2 + 3.0)]
        guide += [v.along(-44.0, v.stem / 2 + 3.0), v.along(-44.0, 0.1 + v.stem / 2)]
        polygon(group, guide, "bronze")
        polygon(group, [_mirrored(v, p) for p in guide], "bronze")


def _mirrored(v: Hung, p: Point) -> Point:
    """A point on the other side of a valve's axis."""
    (x, y), (a, b) = v.face, v.across
    off = (p[0] - x) * a + (p[1] - y) * b
    return p[0] - 2.0 * off * a, p[1] - 2.0 * off * b


def _block(root: Element, made: Chamber, half: float) -> None:
    group = add(root, "g", data_part="block")
    edge = made.bore / 2.0 + 0.05
    for way in (-1.0, 1.0):
        polygon(group, [(way * edge, -1.1), (way * half, -1.1), (way * half, -BELOW), (way * edge, -BELOW)], "cast")
        polygon(
            group,
            [(way * (edge + 1.0), 0.0), (way * half, 0.0), (way * half, -1.1), (way * (edge + 1), -1.1)],
            "gasket",
        )


def _piston(root: Element, made: Chamber) -> None:
    top = [(x, _crown(made, x)) for x in _across(made)]
    edge = made.bore / 2.0 - 0.05
    group = add(root, "g", data_part="piston")
    polygon(group, [*top, (edge, -BELOW - 4.0), (-edge, -BELOW - 4.0)], "piston-metal")
    for n in range(2):
        y = made.crown - 6.5 - 5.5 * n
        for way in (-1.0, 1.0):
            ends = [(edge, y), (edge - 3.2, y), (edge - 3.2, y - 1.4), (edge, y - 1.4)]
            polygon(group, [(way * x, at) for x, at in ends], "ring")


def _valve(root: Element, v: Hung) -> None:
    """Head with its margin and face, tulip and stem, as far open as it is."""
    r, stem, open_ = v.radius, v.stem / 2.0, v.lift
    half = [(0.0, r - 0.3), (-1.2, r), (-2.6, r - 1.5), (-3.6, 0.62 * r), (-5.4, 0.4 * r), (-8.6, stem + 1.6)]
    half += [(-13.0, stem + 0.3), (-17.0, stem), (-70.0, stem)]
    points = [v.along(open_ + a, b) for a, b in half] + [v.along(open_ + a, -b) for a, b in reversed(half)]
    add(add(root, "g", data_part=f"{v.side}-valve"), "path", d=path_of(points), class_="valve")


def _dimension(root: Element, assessment: Assessment, v: Hung, own: bool, system: System) -> None:
    """The gap along the valve, between its face and the pocket's floor, and how it stands."""
    a, b = v.along(v.lift), v.along(v.lift + v.gap)
    if v.gap < 0.0:
        met = [v.along(v.lift, -v.radius), v.along(v.lift, v.radius)]
        met += [v.along(v.lift + v.gap, v.radius), v.along(v.lift + v.gap, -v.radius)]
        polygon(root, met, "met")
    line(root, a, b, "gap-line" if own else "gap-line other")
    verdict = next((x for x in assessment.of_side(v.side) if x.id == "piston.clearance"), None)
    level = judge(v.gap, verdict.limit) if verdict is not None and verdict.limit is not None else Level.OPEN
    at = (-36.0 if v.face[0] < 0 else 4.0, -BELOW + 9.0)
    line(root, ((a[0] + b[0]) / 2.0, (a[1] + b[1]) / 2.0), (at[0] + 6.0, at[1] + 5.2), "extension")
    group = add(root, "g", class_="callout")
    put = f"translate({num(at[0])} {num(-at[1] - 3.4)}) scale(0.2)"
    badge = add(group, "g", class_=f"mark {level.value} paper", transform=put)
    shapes(badge, marks.shape(level))
    add(group, "text", str(show(v.gap, LENGTH, system)), x=at[0] + 4.4, y=-at[1], class_="figure")
    add(group, "text", f"{v.side} valve to piston", x=at[0] + 4.4, y=-at[1] + 3.6, class_="note")
