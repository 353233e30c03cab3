"""The lift curve under the section: the handle that turns the cam."""

from xml.etree.ElementTree import Element

from markupsafe import Markup

from arcstack.drawings.frames import Frames
from arcstack.drawings.svg import add, num, render

WIDTH, HEIGHT, BASE, MARGIN = 760.0, 96.0, 82.0, 14.0


def scrubber(frames: Frames, index: int) -> Markup:
    """Net lift against cam angle, with the handle at ``index``."""
    count = len(frames.lift)
    if count < 2:
        return Markup("")
    step = (WIDTH - 2 * MARGIN) / (count - 1)
    tallest = max(max(frames.lift), 1e-6)
    points = [(MARGIN + i * step, BASE - lift / tallest * (BASE - 16.0)) for i, lift in enumerate(frames.lift)]
    root = Element(
        "svg",
        {
            "class": "scrubber-curve",
            "viewBox": f"0 0 {num(WIDTH)} {num(HEIGHT)}",
            "aria-hidden": "true",
            "data-first-x": num(MARGIN),
            "data-step-x": num(step),
        },
    )
    add(root, "line", x1=MARGIN, y1=BASE, x2=WIDTH - MARGIN, y2=BASE, class_="ground")
    nose = points[frames.nose][0]
    add(root, "line", x1=nose, y1=8, x2=nose, y2=BASE, class_="nose-line")
    add(root, "path", d="M" + " L".join(f"{num(x)} {num(y)}" for x, y in points), class_="lift-curve")
    for degrees in range(-80, 81, 20):
        at = degrees - frames.first
        if 0 <= at < count:
            x = points[at][0]
            add(root, "line", x1=x, y1=BASE, x2=x, y2=BASE + 3, class_="ground")
            add(root, "text", f"{degrees}°".replace("-", "−"), x=x, y=BASE + 13, class_="tick")
    handle = add(root, "g", class_="handle", transform=f"translate({num(points[index][0])} 0)")
    add(handle, "line", x1=0, y1=4, x2=0, y2=BASE, class_="handle-line")
    add(handle, "circle", cx=0, cy=points[index][1], r=8, class_="handle-ring")
    root.set("data-y", " ".join(num(y) for _, y in points))
    return render(root)
