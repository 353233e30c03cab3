"""Each spring's load over height, as it lies above or below the mean of the set."""

from collections.abc import Sequence

from markupsafe import Markup

from arcstack.drawings.svg import add, picture, render, round_step
from arcstack.trials.matching import SpringOf

WIDTH, HEIGHT, LEFT, FOOT = 560.0, 200.0, 52.0, 26.0


def lines_over_mean(springs: Sequence[SpringOf], at: tuple[float, float]) -> Markup:
    """Loads less the set's mean (N) from installed height to open height (mm), a line a spring."""
    high, low = at
    mean = [sum(s.load_at(h) for s in springs) / len(springs) for h in at]
    off = {s.item: [s.load_at(h) - m for h, m in zip(at, mean, strict=True)] for s in springs}
    most = max((abs(v) for pair in off.values() for v in pair), default=1.0) or 1.0
    step = round_step(most / 2.5)
    top = step * (int(most / step) + 1)
    root = picture(
        "spring-lines",
        (0.0, 0.0, WIDTH, HEIGHT),
        f"Load of {len(springs)} springs less their mean, from {high:.2f} to {low:.2f} mm",
    )

    def y(load: float) -> float:
        return (HEIGHT - FOOT) / 2.0 - load / top * ((HEIGHT - FOOT) / 2.0 - 10.0)

    for n in range(-int(top / step), int(top / step) + 1):
        class_ = "axis" if n == 0 else "grid"
        add(root, "line", x1=LEFT, y1=y(n * step), x2=WIDTH - 60.0, y2=y(n * step), class_=class_)
        label = f"{n * step:+g}".replace("-", "−") if n else "mean"
        add(root, "text", label, x=LEFT - 6.0, y=y(n * step) + 4.0, class_="tick", text_anchor="end")
    ends: list[float] = []
    for item, (first, last) in sorted(off.items(), key=lambda row: -row[1][1]):
        add(root, "line", x1=LEFT, y1=y(first), x2=WIDTH - 60.0, y2=y(last), class_="spring-line")
        if all(abs(y(last) - other) > 11.0 for other in ends):
            ends.append(y(last))
            add(root, "text", item, x=WIDTH - 55.0, y=y(last) + 4.0, class_="tick")
    for x, height in ((LEFT, high), (WIDTH - 60.0, low)):
        add(root, "text", f"{height:.2f} mm", x=x, y=HEIGHT - 6.0, class_="tick", text_anchor="middle")
    add(root, "text", "N", x=LEFT - 6.0, y=12.0, class_="tick", text_anchor="end")
    return render(root)
