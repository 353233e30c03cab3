"""Rows of figures in a text of any separator and decimal mark."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

NUMBER_POINT = re.compile(r"^[+-]?(\d+(\.\d*)?|\.\d+)([eE][+-]?\d{1,2})?$")
NUMBER_COMMA = re.compile(r"^[+-]?(\d+(,\d*)?|,\d+)([eE][+-]?\d{1,2})?$")
COMMENT = re.compile(r"^\s*(#|//|;|%|\*|')")


@dataclass(frozen=True)
class Grid:
    """Rows of figures with the line each stands on, the words of the head, and lines that are none."""

    separator: str
    decimal: str
    rows: tuple[tuple[int, tuple[float, ...]], ...]
    header: tuple[str, ...]
    strays: tuple[tuple[int, str], ...]


def grid_of(text: str) -> Grid | None:
    """The way of splitting the lines that gives the most rows of figures."""
    best: Grid | None = None
    lines = sum(1 for line in text.splitlines() if line.strip())
    for separator, decimal in ((";", ","), (";", "."), ("\t", ","), ("\t", "."), (",", "."), (" ", ","), (" ", ".")):
        absent = separator not in text and separator != " "
        if absent or (decimal == "," and "," not in text):
            continue
        grid = _split(text, separator, decimal)
        if grid and (best is None or len(grid.rows) > len(best.rows)):
            best = grid
        if best and len(best.rows) > 0.9 * lines:
            break
    return best


def _split(text: str, separator: str, decimal: str) -> Grid | None:
    number = NUMBER_COMMA if decimal == "," else NUMBER_POINT
    rows: list[tuple[int, tuple[float, ...]]] = []
    header: tuple[str, ...] = ()
    strays: list[tuple[int, str]] = []
    for n, line in enumerate(text.splitlines(), start=1):
        if not line.strip() or (COMMENT.match(line) and separator != ";") or line.lstrip().startswith("#"):
            continue
        cells = line.split() if separator == " " else [c.strip().strip('"') for c in line.split(separator)]
        while cells and cells[-1] == "":
            cells.pop()
        if len(cells) >= 2 and all(number.match(c) for c in cells):
            rows.append((n, tuple(float(c.replace(",", ".")) for c in cells)))
        elif not rows and not strays and any(re.search("[^\\W\\d_]|°", c) for c in cells) and not _numbers(cells):
            header = tuple(cells)
        else:
            strays.append((n, line.strip()))
    if len(rows) < 8:
        return None
    widths = [len(r) for _, r in rows]
    width = max(set(widths), key=widths.count)
    strays += [(n, "a row with another number of columns") for n, r in rows if len(r) != width]
    kept = tuple((n, r) for n, r in rows if len(r) == width)
    return Grid(separator, decimal, kept, header, tuple(sorted(strays))) if len(kept) >= 8 else None


def _numbers(cells: Sequence[str]) -> bool:
    """Whether any cell is a figure: then the line is a row gone wrong, not a header."""
    return any(NUMBER_POINT.match(c) or NUMBER_COMMA.match(c) for c in cells)
