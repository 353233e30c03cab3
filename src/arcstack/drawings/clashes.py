"""Parts that do not fit drawn through each other: the overlap of their diameters, dimensioned."""

from collections.abc import Callable
from dataclasses import dataclass
from xml.etree.ElementTree import Element

from arcstack.assess import fit
from arcstack.assess.context import Context
from arcstack.checks import Level
from arcstack.drawings import marks
from arcstack.drawings.geometry import Geometry
from arcstack.drawings.svg import add, num, shapes
from arcstack.units import LENGTH, System, show

Along = Callable[[Geometry], tuple[float, float]]
"""From where to where along the valve's axis two parts meet."""


def _at_retainer(g: Geometry) -> tuple[float, float]:
    return g.retainer_y - max(g.retainer_step, 1.2), g.retainer_y


def _at_inner_step(g: Geometry) -> tuple[float, float]:
    low = g.retainer_y - max(g.retainer_depth, g.retainer_step + 1.2)
    return low, g.retainer_y - g.retainer_step


def _at_seat(g: Geometry) -> tuple[float, float]:
    return g.outer.bottom, g.outer.bottom + max(g.outer.wire, 1.5)


def _at_inner_seat(g: Geometry) -> tuple[float, float]:
    bottom = g.inner.bottom if g.inner else g.outer.bottom
    return bottom, bottom + 2.0


def _at_top_coil(g: Geometry) -> tuple[float, float]:
    return g.retainer_y - g.outer.wire, g.retainer_y


_PLACES: dict[str, tuple[Along, float]] = {
    "outer spring on the retainer": (_at_retainer, 1.0),
    "inner spring on the retainer": (_at_inner_step, 1.0),
    "outer spring on its spigot": (_at_seat, 0.0),
    "inner spring on its spigot": (_at_inner_seat, 0.0),
    "outer spring in the pocket": (_at_seat, 0.0),
    "outer spring in the bucket": (_at_top_coil, 1.0),
    "retainer in the bucket": (lambda g: (g.retainer_y, g.retainer_y + 2.0), 1.0),
    "locator in the pocket": (lambda g: (0.0, max(g.locator, 0.6)), 0.0),
    "shims in the pocket": (lambda g: (g.locator, g.outer.bottom), 0.0),
    "locator over the guide": (lambda g: (0.0, max(g.locator, 0.6)), 0.0),
    "seal inside the spring": (lambda g: (g.seal - 4.0, g.seal), 0.0),
}
"""Where each gap of diameters is, and how much of the valve's travel it takes part in."""


@dataclass(frozen=True)
class Clash:
    """Two diameters that overlap: radii from and to, heights from and to, what meets, and by how much."""

    words: str
    inner: float
    outer: float
    low: float
    high: float
    share: float
    overlap_mm: float


def clashes(ctx: Context, g: Geometry) -> list[Clash]:
    """Every gap of diameters that fails because its parts overlap, the worst first."""
    found = []
    for rule in fit.RULES:
        if not rule.applies(ctx):
            continue
        for met in fit.met(ctx, rule.id):
            place = _PLACES.get(met.gap.words)
            if place is None or met.level is not Level.FAIL or met.figure is None or met.figure.value >= 0.0:
                continue
            along, share = place
            low, high = along(g)
            one, other = sorted(f.value / 2.0 for f in met.figure.inputs)
            found.append(Clash(met.gap.words, one, other, low, max(high, low + 0.6), share, -met.figure.value))
    return sorted(found, key=lambda c: -c.overlap_mm)


CALLED_OUT = 2
"""So many clashes have their dimension beside them; the others say it where they are pointed at."""


def draw(root: Element, ctx: Context, g: Geometry, system: System) -> list[str]:
    """The overlaps on both sides of the axis, drawn no thinner than can be seen; what each says, in words."""
    said = []
    for at, clash in enumerate(clashes(ctx, g)):
        text = str(show(clash.overlap_mm, LENGTH, system))
        group = add(root, "g", class_="clash", data_travel=clash.share)
        add(group, "title", f"{clash.words}: {text} of overlap in diameter")
        width = max(clash.outer - clash.inner, 0.35)
        for x in (clash.inner, -clash.inner - width):
            add(
                group, "rect", x=x, y=-clash.high, width=width, height=clash.high - clash.low, class_="clash-metal"
            )  # fmt: skip
        said.append(f"{clash.words} overlaps by {text}")
        if at < CALLED_OUT:
            _dimension(root, group, clash, g, text, at)
    return said


def _dimension(root: Element, group: Element, clash: Clash, g: Geometry, text: str, at: int) -> None:
    left = -(g.wall + 4.1)
    y = (clash.low + clash.high) / 2.0
    reach = -(clash.inner + clash.outer) / 2.0
    add(group, "path", d=f"M{num(reach)} {num(-y)} L{num(left + 1.5)} {num(-y)}", class_="extension")
    place = add(root, "g", class_="callout")
    top = -y - 1.0 + 13.0 * at
    badge = add(
        place, "g", class_="mark fail paper", transform=f"translate({num(left - 25.5)} {num(top - 3.4)}) scale(0.2)"
    )
    shapes(badge, marks.shape(Level.FAIL))
    add(place, "text", text, x=left - 21.1, y=top, class_="figure")
    first, joint, rest = next(
        clash.words.partition(f" {word} ") for word in ("on", "in", "over", "inside") if f" {word} " in clash.words
    )
    for row, words in enumerate((f"overlap: {first}", f"{joint.strip()} {rest}")):
        add(place, "text", words, x=left - 21.1, y=top + 3.6 * (row + 1), class_="note")
