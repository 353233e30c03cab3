"""Small drawings of how a figure is taken: between which two faces."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from types import MappingProxyType

from markupsafe import Markup

_SEAT, _RIGHT = 170.0, 300.0


@dataclass(frozen=True)
class Sketch:
    """What is drawn, the two heights that the figure stands between, and the words beneath."""

    parts: Callable[[], str]
    low: float
    high: float
    words: str


def _rect(x: float, y: float, w: float, h: float, kind: str = "part") -> str:
    return f'<rect class="sketch-{kind}" x="{x:g}" y="{y:g}" width="{w:g}" height="{h:g}"/>'


def _head() -> str:
    """The head's pocket, the stem and guide."""
    return _rect(30, _SEAT, 190, 26, "cast") + _rect(119, 18, 12, 178, "stem")


def _retainer(y: float = 50.0) -> str:
    """A stepped retainer: outer seat, inner seat below it, and its underside."""
    return (
        _rect(50, y, 150, 12) + _rect(75, y + 12, 100, 14) + _rect(98, y + 26, 54, 10)
        + f'<path class="sketch-locks" d="M112 {y - 4:g} h26 l-4 26 h-18 z"/>'
    )  # fmt: skip


def _springs(top: float = 62.0, inner: float = 76.0, seat: float = _SEAT) -> str:
    def coil(x: float, y0: float, y1: float) -> str:
        steps = [f"{x + (0 if i % 2 else 14):g} {y0 + (y1 - y0) * i / 8:g}" for i in range(9)]
        return f'<polyline class="sketch-coil" points="{" ".join(s.replace(" ", ",") for s in steps)}"/>'

    return "".join(coil(x, top, seat) for x in (55, 181)) + "".join(coil(x, inner, seat) for x in (82, 154))


def _seal() -> str:
    return _rect(104, _SEAT - 46, 42, 46, "seal")


def _locator() -> str:
    return _rect(48, _SEAT - 10, 154, 10) + _rect(78, _SEAT - 20, 94, 10)


def _piston(crown: float) -> str:
    return _rect(30, crown, 190, 60, "cast") + f'<path class="sketch-pocket" d="M80 {crown:g} v14 h90 v-14"/>'


def _valve(y: float) -> str:
    return f'<path class="sketch-part" d="M119 18 h12 v{y - 44:g} q2 22 46 26 v10 h-104 v-10 q44 -4 46 -26 z"/>'


SKETCHES: Mapping[str, Sketch] = MappingProxyType(
    {
        "stack.open_height": Sketch(
            lambda: _head() + _retainer() + _springs(), _SEAT, 62.0,
            "From the spring seat in the head up to the retainer's outer step, valve on its seat, no spring in, the "
            "locks pulled up hard. Shims and locator are out.",
        ),
        "stack.retainer.depth": Sketch(
            lambda: _head() + _retainer(), 86.0, 62.0,
            "On the retainer by itself: from the step that the outer spring bears on down to its lowest face, which is "
            "what comes down on the seal.",
        ),
        "stack.retainer.step": Sketch(
            lambda: _head() + _retainer() + _springs(), 76.0, 62.0,
            "On the retainer by itself: from the outer spring's step down to the inner spring's.",
        ),
        "stack.locator.thickness": Sketch(
            lambda: _head() + _locator() + _springs(seat=_SEAT - 10), _SEAT, _SEAT - 10,
            "What lies under the outer spring: the locator's flange.",
        ),
        "stack.locator.step": Sketch(
            lambda: _head() + _locator() + _springs(seat=_SEAT - 10), _SEAT - 10, _SEAT - 20,
            "On the locator: from the outer spring's seat up to the inner spring's.",
        ),
        "stack.seal_height": Sketch(
            lambda: _head() + _seal(), _SEAT, _SEAT - 46,
            "From the bare spring pocket up to the top of the fitted seal.",
        ),
        "clearance.drop_at_tdc": Sketch(
            lambda: _valve(110) + _piston(150), 150.0, 120.0,
            "Piston at TDC, light springs in: how far the valve can be pushed by hand until it meets the crown.",
        ),
        "clearance.recess": Sketch(
            lambda: _rect(30, 40, 190, 60, "cast") + _valve(80), 100.0, 90.0,
            "From the head's face up to the lowest edge of the closed valve, along the cylinder.",
        ),
        "clearance.pocket": Sketch(
            lambda: _piston(110) , 124.0, 110.0,
            "From the crown down to the floor of the valve's pocket, along the cylinder.",
        ),
        "engine.deck": Sketch(
            lambda: _rect(30, 90, 40, 100, "cast") + _rect(180, 90, 40, 100, "cast") + _rect(74, 104, 102, 70),
            104.0, 90.0,
            "Piston at TDC: from the block's deck down to the crown's flat; minus where the crown stands proud.",
        ),
    }
)  # fmt: skip
"""By the field's path within its side."""


def sketch(path: str) -> Markup:
    """The drawing for a field. Raises ``KeyError`` for one that has none."""
    s = SKETCHES[path]
    lines = "".join(f'<path class="sketch-line" d="M40 {y:g} H{_RIGHT:g}"/>' for y in (s.low, s.high))
    arrow = f'<path class="sketch-arrow" d="M{_RIGHT - 20:g} {s.low:g} V{s.high:g}"/>'
    ends = "".join(
        f'<path class="sketch-arrow-head" d="M{_RIGHT - 20:g} {y:g} l-4 {d} h8 z"/>'
        for y, d in ((s.low, -7), (s.high, 7))
    )
    return Markup(
        f'<svg class="sketch" viewBox="0 0 330 215" role="img" aria-label="Where the figure is taken">{s.parts()}'
        f"{lines}{arrow}{ends}</svg>"
    )
