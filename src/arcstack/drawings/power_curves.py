"""Two groups of runs over speed: mean curves with their scatter, and where a difference counts."""

import math

from markupsafe import Markup

from arcstack.drawings.svg import add, num, picture, render
from arcstack.record.power import Compared, Group, Sense

WIDTH, HEIGHT, LEFT, FOOT = 720.0, 300.0, 46.0, 34.0
STRIP = 12.0


def _nice(span: float, count: int) -> float:
    """A round step that divides a span into about so many."""
    raw = span / count
    power = 10.0 ** math.floor(math.log10(raw))
    return next(m * power for m in (1.0, 2.0, 2.5, 5.0, 10.0) if m * power >= raw)


def power_curves(before: Group, after: Group | None, compared: Compared | None, unit: str, factor: float) -> Markup:
    """``factor`` turns kW into the unit shown."""
    shown = [g for g in (before, after) if g is not None]
    low, high = min(g.rpm[0] for g in shown), max(g.rpm[-1] for g in shown)
    top = max(max(g.mean) for g in shown) * factor * 1.06
    words = f"Power over speed: {' and '.join(g.name for g in shown)}"
    root = picture("power-curves", (0.0, 0.0, WIDTH, HEIGHT + 2 * STRIP), words)

    def x(rpm: float) -> float:
        return LEFT + (rpm - low) / (high - low) * (WIDTH - LEFT - 8.0)

    def y(kw: float) -> float:
        return (HEIGHT - FOOT) * (1.0 - kw * factor / top) + 6.0

    step = _nice(top, 5)
    for n in range(int(top / step) + 1):
        at = y(n * step / factor)
        add(root, "line", x1=LEFT, y1=at, x2=WIDTH - 8.0, y2=at, class_="grid")
        add(root, "text", num(n * step), x=LEFT - 6.0, y=at + 4.0, class_="tick end")
    rpm_step = _nice(high - low, 7)
    tick = math.ceil(low / rpm_step) * rpm_step
    while tick <= high + 1e-6:
        add(root, "line", x1=x(tick), y1=6.0, x2=x(tick), y2=HEIGHT - FOOT + 6.0, class_="grid")
        add(root, "text", f"{tick:,.0f}", x=x(tick), y=HEIGHT - FOOT + 24.0, class_="tick middle")
        tick += rpm_step
    add(root, "text", unit, x=LEFT - 6.0, y=16.0, class_="tick end unit")
    for g, name in zip(shown, ("before", "after"), strict=False):
        scatter = [0.0 if math.isnan(s) else s for s in g.scatter]
        upper = [(x(r), y(m + s / 2.0)) for r, m, s in zip(g.rpm, g.mean, scatter, strict=True)]
        lower = [(x(r), y(m - s / 2.0)) for r, m, s in zip(g.rpm, g.mean, scatter, strict=True)]
        add(root, "path", d=_path([*upper, *reversed(lower)]) + "Z", class_=f"scatter {name}")
        add(root, "path", d=_path([(x(r), y(m)) for r, m in zip(g.rpm, g.mean, strict=True)]), class_=f"curve {name}")
    if compared is not None:
        for sense, name in (
            (Sense.GAIN, "gain"),
            (Sense.LOSS, "loss"),
            (Sense.WITHIN, "within"),
            (Sense.BOOST, "boost"),
        ):
            for a, b in compared.spans(sense):
                left, right = x(a), x(b)
                wide = max(right - left, 4.0)
                add(root, "rect", x=left, y=HEIGHT + 4.0, width=wide, height=STRIP, class_=f"span {name}")
    return render(root)


def _path(points: list[tuple[float, float]]) -> str:
    return "M" + " L".join(f"{num(px)} {num(py)}" for px, py in points)
