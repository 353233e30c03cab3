"""One valve's lash over its services, found and set, on one scale with its band."""

from markupsafe import Markup

from arcstack.drawings.svg import add, picture, render
from arcstack.readings.lash_history import History

STEP, HEIGHT, REACH_MM = 46.0, 56.0, 0.30


def lash_line(found: History, target_mm: float, band_mm: float) -> Markup:
    """A point for what was found at each stage, a ring for what was set; the band behind."""
    width = STEP * (len(found.stages) + 0.5)
    values = " ".join(f"{s.words}: found {s.found_mm:.2f}, set {s.set_mm:.2f}" for s in found.stages)
    root = picture("lash-line", (0.0, 0.0, width, HEIGHT), f"{found.place.label}, {values} mm")

    def y(mm: float) -> float:
        off = min(max((mm - target_mm) / REACH_MM, -1.0), 1.0)
        return round(HEIGHT / 2.0 - off * (HEIGHT / 2.0 - 6.0), 1)

    top, foot = y(target_mm + band_mm), y(target_mm - band_mm)
    add(root, "rect", x=0.0, y=top, width=width, height=foot - top, class_="band")
    for n, stage in enumerate(found.stages):
        x = STEP * (n + 0.4)
        if n:
            add(
                root,
                "line",
                x1=STEP * (n - 0.6),
                y1=y(found.stages[n - 1].set_mm),
                x2=x,
                y2=y(stage.found_mm),
                class_="went",
            )
        add(root, "circle", cx=x, cy=y(stage.set_mm), r=5.0, class_="set")
        add(root, "circle", cx=x, cy=y(stage.found_mm), r=3.0, class_="found")
    return render(root)
