"""A table as text, by one rule whatever it holds: what its bytes say, what parts its columns, what its decimals."""

import csv
import io
import re
from collections.abc import Sequence
from dataclasses import dataclass

from arcstack.errors import DocumentError
from arcstack.settings import setting

SEPARATORS = {";": "semicolons", "\t": "tabs", ",": "commas", "|": "bars"}

NOT_TEXT = "this is no text; export or save it as CSV"
_RUNS = ("=", "+", "-", "@", "\t", "\r")
"""What a cell begins with that a spreadsheet would run."""

_UTF_16 = (b"\xff\xfe", b"\xfe\xff")
_LOOKED_AT = int(setting("tables.looked_at"))
"""Rows by which the decimal mark is told."""


def text_of(data: bytes | str) -> str:
    """The text of a file: UTF-16 where it says so, else UTF-8, else the western set that measuring rigs still write.

    Raises ``DocumentError`` for what is no text.

    >>> text_of("Länge".encode("cp1252")), text_of(b"\\xef\\xbb\\xbf36,5"), text_of("1;2".encode("utf-16"))
    ('Länge', '36,5', '1;2')
    """
    text = data if isinstance(data, str) else _decoded(data)
    if text is None or "\0" in text:
        raise DocumentError(NOT_TEXT)
    return text


def shown(data: bytes | str) -> str:
    """The text of a file as a page shows it again; empty for what is none.

    >>> shown("36,5".encode("utf-16")), shown(bytes(1))
    ('36,5', '')
    """
    try:
        return text_of(data)
    except DocumentError:
        return ""


def _decoded(data: bytes) -> str | None:
    for encoding in ("utf-16",) if data[:2] in _UTF_16 else ("utf-8-sig", "cp1252", "latin-1"):
        try:
            return data.decode(encoding)
        except UnicodeDecodeError:
            continue
    return None


@dataclass(frozen=True)
class TextTable:
    """Rows that are not empty, each with the line of the file on which it ends; the first is the head."""

    separator: str
    rows: tuple[tuple[int, tuple[str, ...]], ...]

    @property
    def head(self) -> tuple[str, ...]:
        return self.rows[0][1]

    @property
    def decimal(self) -> str:
        """The mark of its decimals: a comma where more cells are written with one than with a point.

        >>> table_of("place;height\\n1I-a;36,5\\n1I-b;36,42").decimal, table_of("a,b\\n1,5").decimal
        (',', '.')
        """
        if self.separator == ",":
            return "."
        cells = [cell.strip() for _, row in self.rows[1:_LOOKED_AT] for cell in row]
        commas, points = (
            sum(bool(re.fullmatch(rf"[-+−]?\d+{mark}\d+(\s*\D.*)?", cell)) for cell in cells) for mark in (",", r"\.")
        )
        return "," if commas > points else "."


def table_of(text: str, most: int | None = None) -> TextTable:
    """A text split by the separator that makes the most even columns, and of those the most; ``most`` rows and one more
    are looked at. Raises ``DocumentError`` where no line can be read.

    >>> table_of('place;height\\n"1I-a; left";36,5').rows
    ((1, ('place', 'height')), (2, ('1I-a; left', '36,5')))
    """
    best: tuple[float, TextTable] | None = None
    for separator in SEPARATORS:
        reader = csv.reader(io.StringIO(text, newline=""), delimiter=separator)
        rows: list[tuple[int, tuple[str, ...]]] = []
        try:
            for row in reader:
                if any(cell.strip() for cell in row):
                    rows.append((reader.line_num, tuple(row)))
                if most is not None and len(rows) > most:
                    break
        except csv.Error:
            continue
        width = len(rows[0][1]) if rows else 0
        even = sum(len(row) == width for _, row in rows) / max(len(rows), 1)
        score = (width > 1) * (even + width / 1000.0)
        if best is None or score > best[0]:
            best = score, TextTable(separator, tuple(rows))
    if best is None:
        raise DocumentError("a line of it cannot be read")
    return best[1]


def with_point(cell: str, decimal: str) -> str:
    """A figure of a cell with a point for its decimals."""
    return cell.replace(",", ".") if decimal == "," else cell


def with_unit(cell: str, unit: str) -> str:
    """A bare figure with the unit of its heading; what has one of its own stays.

    >>> with_unit("36.5", "mm"), with_unit("1.437 in", "mm"), with_unit("none", "mm")
    ('36.5 mm', '1.437 in', 'none')
    """
    bare = re.fullmatch(r"[-+−]?\d*[.,]?\d+", cell.strip()) is not None
    return f"{cell} {unit}" if bare and unit else cell


def heading_of(text: str) -> tuple[str, str]:
    """A heading and the unit in it.

    >>> heading_of("Head Ø (mm)"), heading_of("rate [N/mm]"), heading_of("mass, g"), heading_of("stem")
    (('Head Ø', 'mm'), ('rate', 'N/mm'), ('mass', 'g'), ('stem', ''))
    """
    match = re.match(r"^(.*?)\s*[(\[]\s*([^)\]]+?)\s*[)\]]\s*$", text) or re.match(
        r"^(.*\S)\s*,\s*(mm|in|g|kg|oz|N|lbf|N/mm|lbf/in|deg|°)\s*$", text
    )
    if match is None:
        return text.strip(), ""
    unit = match[2].strip()
    return match[1].strip(), {"Ø": "", "°": "deg", "inch": "in", '"': "in"}.get(unit, unit)


def harmless(cell: str) -> str:
    """A text that no spreadsheet runs.

    >>> harmless("=1+1"), harmless("R-7")
    ("'=1+1", 'R-7')
    """
    return f"'{cell}" if cell.startswith(_RUNS) else cell


def bare(cell: str) -> str:
    """A cell as it was meant: what was set before it so that no spreadsheet runs it is taken off.

    >>> bare("'=1+1"), bare("'tis")
    ('=1+1', "'tis")
    """
    text = cell.strip()
    return text[1:] if len(text) > 1 and text[0] == "'" and text[1] in _RUNS else text


def is_formula(cell: str) -> bool:
    """Whether a spreadsheet left a formula in place of its value."""
    return cell.lstrip().startswith("=")


def columns_of(head: Sequence[str]) -> tuple[tuple[str, str], ...]:
    """Every heading of a table with the unit in it."""
    return tuple(heading_of(bare(cell)) for cell in head)
