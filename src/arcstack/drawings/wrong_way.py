"""The right and the wrong way of putting one part in, side by side, from a build's own figures."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from types import MappingProxyType
from xml.etree.ElementTree import Element

from markupsafe import Markup

from arcstack.drawings.svg import add, picture, render

WIDE, HIGH, FLOOR = 300.0, 250.0, 214.0
AXIS = 150.0


@dataclass(frozen=True)
class Sizes:
    """What is drawn to scale, mm. A size that is not known is drawn at a usual one."""

    installed: float = 36.0
    step: float = 0.9
    thick: float = 0.8
    retainer_step: float = 1.5
    outer: float = 28.0
    inner: float = 20.0
    wire: float = 3.6
    inner_wire: float = 2.8
    stem: float = 6.0
    guide: float = 12.0
    seal: float = 14.0
    coils: float = 6.5
    inner_coils: float = 7.5


def _rect(root: Element, x: float, y: float, w: float, h: float, class_: str) -> None:
    add(root, "rect", x=x, y=y, width=w, height=h, class_=class_)


def _base(root: Element, s: Sizes, k: float) -> None:
    """Pocket, guide and stem."""
    _rect(root, 20, FLOOR, WIDE - 40, 22, "cast")
    _rect(root, AXIS - s.guide * k / 2, FLOOR - s.seal * k * 0.8, s.guide * k, s.seal * k * 0.8, "guide")
    _rect(root, AXIS - s.stem * k / 2, 12, s.stem * k, FLOOR + 10, "stem")


def _coil(
    root: Element, across: float, wire: float, low: float, high: float, turns: float, close: str = "", lean: int = 1
) -> None:
    """A spring cut along its axis; ``close`` is the end that has two coils shut, low or high."""
    pitch_points = _heights(low, high, turns, wire, close)
    for n, y in enumerate(pitch_points):
        shift = wire * 0.35 * lean
        for x, dy in ((AXIS - across / 2 + wire / 2, -shift), (AXIS + across / 2 - wire / 2, shift)):
            add(root, "circle", cx=x, cy=min(max(y + dy, high + wire / 2), low - wire / 2), r=wire / 2, class_="wire")
        if n + 1 < len(pitch_points):
            x1, x2 = AXIS - across / 2 + wire / 2, AXIS + across / 2 - wire / 2
            if lean < 0:
                x1, x2 = x2, x1
            add(root, "line", x1=x1, y1=y, x2=x2, y2=(y + pitch_points[n + 1]) / 2, class_="coil-behind")


def _heights(low: float, high: float, turns: float, wire: float, close: str) -> list[float]:
    count = max(round(turns), 3)
    top, bottom = high + wire / 2, low - wire / 2
    shut = 2 if close else 0
    found = []
    if close == "low":
        found = [bottom - n * wire * 1.02 for n in range(shut)]
        bottom = found[-1]
    rest = count - len(found) - (shut if close == "high" else 0)
    end = top + shut * wire * 1.02 if close == "high" else top
    step = (bottom - end) / max(rest, 1)
    found += [bottom - step * (n + 1) for n in range(rest)] if found else [bottom - step * n for n in range(rest + 1)]
    if close == "high":
        found += [top + n * wire * 1.02 for n in range(shut)]
    return found


def _retainer(root: Element, s: Sizes, k: float, tilt: float = 0.0) -> float:
    """The retainer at installed height above the locator; gives back where its outer step lies."""
    y = FLOOR - (s.thick + s.installed) * k
    group = add(root, "g", transform=f"rotate({tilt} {AXIS} {y})") if tilt else root
    half = s.outer * k / 2
    _rect(group, AXIS - half, y - 7, 2 * half, 7, "retainer")
    _rect(group, AXIS - s.inner * k / 2, y, s.inner * k, s.retainer_step * k, "retainer")
    return y


def _seat(root: Element, s: Sizes, k: float, flipped: bool, pressed: bool) -> tuple[float, float]:
    """The inner spring's seat; gives back where outer and inner spring stand on it."""
    thick, step = max(s.thick * k, 3.0), max(s.step * k, 4.0)
    outer, inner = s.outer * k / 2, s.inner * k / 2 + 2
    if not flipped:
        _rect(root, AXIS - outer, FLOOR - thick, 2 * outer, thick, "locator")
        _rect(root, AXIS - inner, FLOOR - thick - step, 2 * inner, step, "locator")
        return FLOOR - thick, FLOOR - thick - step
    if not pressed:
        _rect(root, AXIS - inner, FLOOR - step, 2 * inner, step, "locator")
        _rect(root, AXIS - outer, FLOOR - step - thick, 2 * outer, thick, "locator")
        return FLOOR - step - thick, FLOOR - step - thick
    _rect(root, AXIS - outer, FLOOR - step - thick, outer - inner, thick, "locator")
    _rect(root, AXIS + inner, FLOOR - step - thick, outer - inner, thick, "locator")
    _rect(root, AXIS - inner, FLOOR - thick, 2 * inner, thick, "locator")
    for x in (AXIS - inner - 2, AXIS + inner - 1):
        _rect(root, x, FLOOR - step - thick, 3, step + thick, "locator")
    return FLOOR - step - thick, FLOOR - thick


def _locator(root: Element, s: Sizes, wrong: bool, pressed: bool = False) -> None:
    """The foot of the stack, enlarged: what the two springs stand on; dashed where the outer stands the right way."""
    k = (WIDE - 70) / s.outer
    _base(root, s, k)
    outer, inner = _seat(root, s, k, wrong, pressed)
    _coil(root, s.outer * k, s.wire * k, outer, outer - s.installed * k, s.coils)
    _coil(root, s.inner * k, s.inner_wire * k, inner, inner - s.installed * k, s.inner_coils, lean=-1)
    if wrong:
        line = FLOOR - max(s.thick * k, 3.0)
        add(root, "line", x1=8, y1=line, x2=WIDE - 8, y2=line, class_="level")


def _scale(s: Sizes) -> float:
    return min((FLOOR - 34) / (s.thick + s.installed), (WIDE - 60) / s.outer)


def _end(root: Element, s: Sizes, wrong: bool, pressed: bool = False) -> None:
    k = _scale(s)
    _base(root, s, k)
    top = _retainer(root, s, k)
    outer, _ = _seat(root, s, k, False, False)
    _coil(root, s.outer * k, s.wire * k, outer, top, s.coils, "high" if wrong else "low")


def _hands(root: Element, s: Sizes, wrong: bool, pressed: bool = False) -> None:
    k = _scale(s)
    _base(root, s, k)
    top = _retainer(root, s, k)
    outer, inner = _seat(root, s, k, False, False)
    _coil(root, s.outer * k, s.wire * k, outer, top, s.coils)
    _coil(root, s.inner * k, s.inner_wire * k, inner, top + s.retainer_step * k, s.inner_coils, lean=1 if wrong else -1)


def _seal(root: Element, s: Sizes, wrong: bool, pressed: bool = False) -> None:
    """Enlarged: guide, stem with its groove, and the seal on or off its stop."""
    stem, guide = 54.0, 96.0
    _rect(root, 20, FLOOR, WIDE - 40, 22, "cast")
    _rect(root, AXIS - guide / 2, 120, guide, FLOOR - 120, "guide")
    _rect(root, AXIS - stem / 2, 12, stem, FLOOR + 10, "stem")
    groove = 30.0
    _rect(root, AXIS - stem / 2, groove, stem, 9, "groove")
    if not wrong:
        for x in (AXIS - stem / 2 - 3, AXIS + stem / 2 + 3):
            add(root, "line", x1=x, y1=22, x2=x, y2=62, class_="sleeve")
    lift = 18.0 if wrong else 0.0
    for side in (-1, 1):
        x = AXIS + side * guide / 2
        add(
            root,
            "path",
            d=f"M{x + side * 10} {166 - lift} V{104 - lift} H{AXIS + side * (stem / 2 + 1)} v10 H{x} V{166 - lift} Z",
            class_="seal",
        )
        lip = AXIS + side * stem / 2
        mark = "cut" if wrong else "lip"
        add(root, "path", d=f"M{lip + side * 1} {96 - lift} l{side * 9} 8 l{-side * 9} 8", class_=mark)
    if wrong:
        add(root, "line", x1=AXIS + 74, y1=102, x2=AXIS + 74, y2=120, class_="gap")
        add(root, "text", "off", x=AXIS + 82, y=115, class_="word")


def _lock(root: Element, s: Sizes, wrong: bool, pressed: bool = False) -> None:
    """Enlarged: retainer, two locks, stem with its groove; the wrong one stands above its groove."""
    stem = 64.0
    for side in (-1, 1):
        near, far = AXIS + side * (stem / 2 + 20), AXIS + side * (stem / 2 + 92)
        add(
            root,
            "path",
            d=f"M{near - side * 8} 150 L{near + side * 14} 74 H{far} V104 H{far - side * 26} V150 Z",
            class_="retainer",
        )
    _rect(root, AXIS - stem / 2, 30, stem, 190, "stem")
    for side in (-1, 1):
        edge = AXIS + side * stem / 2
        _rect(root, min(edge, edge - side * 9), 104, 9, 14, "groove")
    for side in (-1, 1):
        up = 24.0 if wrong and side > 0 else 0.0
        edge = AXIS + side * stem / 2
        bead = "" if up else f"V118 h{-side * 8} v-14 h{side * 8} "
        add(
            root,
            "path",
            d=f"M{edge} {148 - up} {bead}V{74 - up} h{side * 32} L{edge + side * 11} {148 - up} Z",
            class_="lock wrong" if up else "lock",
        )
    if not wrong:
        add(root, "line", x1=AXIS - 110, y1=74, x2=AXIS + 110, y2=74, class_="level")


_DRAWN: Mapping[str, Callable[[Element, Sizes, bool, bool], None]] = MappingProxyType(
    {"locator": _locator, "seal": _seal, "lock": _lock, "end": _end, "hands": _hands}
)


def one_way(key: str, sizes: Sizes, wrong: bool, pressed: bool, words: str) -> Markup:
    """One picture. Raises ``KeyError`` for a part that has none."""
    root = picture(f"one-way {'wrong-one' if wrong else 'right-one'}", (0.0, 0.0, WIDE, HIGH), words)
    _DRAWN[key](root, sizes, wrong, pressed)
    return render(root)
