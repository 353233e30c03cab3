"""The head as its maker would see it from above: a cell for every valve, told apart by shape as well as colour."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from xml.etree.ElementTree import Element

from markupsafe import Markup

from arcstack.document.places import Place
from arcstack.drawings.svg import add, picture, render

WIDTH = 752.0
LABELS = 58.0


class State(StrEnum):
    """What a cell says, each by a shape of its own."""

    EMPTY = "empty"
    READ = "read"
    PART = "part"
    AGAIN = "again"
    STALE = "stale"
    OUT = "out"


WORDS = {
    State.EMPTY: "not read", State.READ: "read", State.PART: "read in part", State.AGAIN: "read once more",
    State.STALE: "stale", State.OUT: "out of limits",
}  # fmt: skip


@dataclass(frozen=True)
class Cell:
    """One valve: what stands in it, and where it leads."""

    place: Place
    state: State
    text: str = ""
    here: bool = False
    address: str = ""


def head_map(cells: Sequence[Cell], words: str, title: Callable[[int], str] = lambda n: f"cylinder {n}") -> Markup:
    """Cylinders side by side, intake above, exhaust below."""
    cylinders = sorted({c.place.cylinder for c in cells})
    room = (WIDTH - LABELS) / max(len(cylinders), 1)
    most = max(
        (
            sum(1 for c in cells if c.place.cylinder == n and c.place.side == s)
            for n in cylinders
            for s in ("intake", "exhaust")
        ),
        default=1,
    )
    gap = 8.0 if len(cylinders) < 5 else 4.0
    radius = min((room - gap) / most / 2.0 - 5.0, 35.0)
    height = 2 * (2 * radius + 40.0) + 24.0
    root = picture("head-map", (0.0, 0.0, WIDTH, height), words)
    root.set("role", "group")
    rows = {"intake": 22.0 + radius + 8.0, "exhaust": 22.0 + 3 * radius + 46.0}
    for side, y in rows.items():
        add(root, "text", side, x=0.0, y=y + 4.0, class_="head-side")
    for at, number in enumerate(cylinders):
        x = LABELS + at * room
        add(root, "text", title(number), x=x + (room - gap) / 2.0, y=14.0, class_="head-cylinder", text_anchor="middle")
        add(root, "rect", x=x, y=22.0, width=room - gap, height=height - 26.0, rx=14.0, class_="head-chamber")
        for side, y in rows.items():
            own = [c for c in cells if c.place.cylinder == number and c.place.side == side]
            step = (room - gap) / max(len(own), 1)
            for i, cell in enumerate(own):
                _cell(root, cell, x + step * (i + 0.5), y, radius)
    return render(root)


def _cell(root: Element, cell: Cell, x: float, y: float, radius: float) -> None:
    told = "" if cell.state in (State.READ, State.EMPTY) else f", {WORDS[cell.state]}"
    said = f"{cell.place.label}: {cell.text or WORDS[cell.state]}{told}"
    class_ = f"head-cell {cell.state.value}{' here' if cell.here else ''}"
    link = add(root, "a", href=cell.address, data_place=cell.place.label, class_=class_)
    add(link, "title", said)
    if cell.here:
        link.set("aria-current", "true")
    if cell.state is State.OUT:
        side = radius * 1.72
        add(link, "rect", x=x - side / 2, y=y - side / 2, width=side, height=side, class_="head-valve")
    else:
        add(link, "circle", cx=x, cy=y, r=radius, class_="head-valve")
    if cell.state is State.PART:
        # filled to its middle: some of what it rests on was read
        half = f"M{x - radius:.1f} {y:.1f} A{radius:.1f} {radius:.1f} 0 0 0 {x + radius:.1f} {y:.1f} z"
        add(link, "path", d=half, class_="head-half")
    if cell.state is State.STALE:
        add(link, "line", x1=x - radius, y1=y, x2=x + radius, y2=y, class_="head-struck")
    if cell.state is State.AGAIN:
        add(link, "path", d=f"M{x + radius * 0.7:.1f} {y - radius * 1.02:.1f} l8 14 h-16 z", class_="head-again")
    if cell.text:
        size = min(15.0, radius * 3.4 / max(len(cell.text), 1))
        add(link, "text", cell.text, x=x, y=y + size * 0.35, class_="head-value", text_anchor="middle", font_size=size)
    add(link, "text", cell.place.label, x=x, y=y + radius + 16.0, class_="head-label", text_anchor="middle")
