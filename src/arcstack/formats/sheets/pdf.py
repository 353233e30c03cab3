"""A sheet as PDF, set by typst: A4, its fonts beside it, nothing fetched."""

import json
import re
from collections.abc import Mapping
from dataclasses import asdict
from importlib import resources
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import typst

from arcstack.errors import DocumentError
from arcstack.formats.sheets.model import Cell, Drawing, Pictures, Printed, Table

_HERE = resources.files("arcstack.formats.sheets")
FONTS = str(_HERE / "fonts")


def pdf(sheet: Printed) -> bytes:
    """The sheet as PDF. Raises ``DocumentError`` where it cannot be set, such as for a picture that is none.

    >>> from arcstack.formats.sheets.model import Paragraph
    >>> pdf(Printed("A sheet", ["of one line"], [Paragraph("Nothing here.")], "foot"))[:5]
    b'%PDF-'
    """
    files: dict[str, bytes] = {"main.typ": (_HERE / "sheet.typ").read_bytes()}
    blocks = []
    for number, block in enumerate(sheet.blocks):
        row: dict[str, Any] = {"kind": block.kind}
        if isinstance(block, Drawing):
            name = f"drawing{number}.svg"
            files[name] = alone(block).encode()
            row |= {"file": name, "words": block.words, "height": block.height_mm}
        elif isinstance(block, Pictures):
            rows = []
            for at, picture in enumerate(block.rows):
                name = f"picture{number}-{at}.{'jpg' if picture.format == 'jpeg' else picture.format}"
                files[name] = picture.data
                rows.append({"file": name, "words": picture.words})
            row |= {"rows": rows, "columns": block.columns}
        elif isinstance(block, Table):
            row |= _table(block, sheet.marks)
        else:
            row |= asdict(block)
        blocks.append(row)
    files |= {f"{name}.svg": svg.encode() for name, svg in sheet.marks.items()}
    told = {
        "title": sheet.title, "under": list(sheet.under), "blocks": blocks, "foot": sheet.foot, "wide": sheet.wide,
        "dense": sheet.dense,
        "language": sheet.language,
    }  # fmt: skip
    files["sheet.json"] = json.dumps(told, ensure_ascii=False, allow_nan=False).encode()
    with TemporaryDirectory(prefix="arc-stack-sheet-") as folder:
        for name, data in files.items():
            (Path(folder) / name).write_bytes(data)
        try:
            made = typst.compile(f"{folder}/main.typ", root=folder, font_paths=[FONTS], ignore_system_fonts=True)
        except RuntimeError as error:
            raise DocumentError(f"the sheet could not be set: {str(error).strip().splitlines()[0][:200]}") from error
    assert isinstance(made, bytes)
    return made


def alone(drawing: Drawing) -> str:
    """A drawing of a page as one that needs neither the page nor its style sheet.

    >>> alone(Drawing('<svg viewBox="0 0 9 9"><g/></svg>', "", style=".a{}", margin=1.0))
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="-1.0 0.0 11.0 9.0"><style>.a{}</style><g/></svg>'
    """
    opening, mark, rest = drawing.svg.partition(">")
    opening = opening.replace("<svg ", '<svg xmlns="http://www.w3.org/2000/svg" ', 1)
    found = re.search(r'viewBox="([-\d.]+) ([-\d.]+) ([-\d.]+) ([-\d.]+)"', opening)
    if found and drawing.margin:
        x, y, wide, high = map(float, found.groups())
        box = f'viewBox="{x - drawing.margin} {y} {wide + 2 * drawing.margin} {high}"'
        opening = opening.replace(found[0], box)
    return f"{opening}{mark}<style>{drawing.style}</style>{rest}"


def _table(table: Table, marks: Mapping[str, str]) -> dict[str, Any]:
    rows = [[_cell(cell, marks) for cell in row] for row in table.rows]
    return {
        "heads": list(table.heads), "rows": rows, "right": list(table.right), "caption": table.caption,
        "small": table.small, "widths": list(table.widths),
    }  # fmt: skip


def mark_name(cell: Cell) -> str:
    """The name of a cell's mark among a sheet's, empty for none."""
    return f"{cell.level.value}-{'proven' if cell.proven else 'paper'}" if cell.level is not None else ""


def _cell(cell: Cell, marks: Mapping[str, str]) -> dict[str, Any]:
    name = mark_name(cell)
    return {"text": cell.text, "mark": name if name in marks else "", "strong": cell.strong}
