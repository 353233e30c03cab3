"""Readings as a table: a row a place and a column a figure, or a row a reading; understood first, then taken."""

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass

from arcstack.document import Build
from arcstack.errors import DocumentError, FieldError
from arcstack.formats.shelf_csv import harmless
from arcstack.readings import ASKED, Sheet
from arcstack.readings.taking import entered, place_called, serial_of
from arcstack.settings import setting
from arcstack.units import System

LARGEST, MOST = int(setting("readings.largest_file")), int(setting("readings.most_rows"))
SEPARATORS = (";", "\t", ",", "|")
HEADINGS = ("place", "item", "figure", "reading", "phase", "instrument", "hand", "at", "note", "stands")


@dataclass(frozen=True)
class Understood:
    """One figure of the table: where it goes, or what is wrong with it.

    ``line`` is the file's own; ``instrument`` what the table says it was read with.
    """

    line: int
    key: str
    place: str
    item: str
    text: str
    typed: str = ""
    wrong: str = ""
    instrument: str = ""


def write_readings(sheet: Sheet) -> str:
    """Every reading, replaced ones too, as a table that this program reads again."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(HEADINGS)
    voids = {r.replaces for r in sheet.readings if r.void}
    for r in sheet.readings:
        if r.void:
            continue
        stands = "taken back" if r.number in voids else "replaced" if r.number in sheet.replaced else "stands"
        at = r.by.at.isoformat(timespec="seconds") if r.by.at else ""
        row = (r.place, r.item, r.key, r.typed, r.phase_words, r.by.instrument, r.by.hand, at, r.note, stands)
        writer.writerow([harmless(c) for c in row])
    return out.getvalue()


def read_readings(data: bytes | str, sheet: Sheet, system: System = System.MM) -> list[Understood]:
    """What a table says, line by line. Raises ``DocumentError`` for a file that is no such table."""
    rows = _rows(data)
    head = [c.strip().lower() for c in rows[0]]
    if "place" not in head and "item" not in head:
        raise DocumentError("the first line needs a column called place, or item for springs")
    if len(set(head)) != len(head):
        raise DocumentError("two columns have one heading; which one holds cannot be told")
    if "figure" in head and "reading" in head:
        return _long(head, rows, sheet, system)
    return _wide(head, rows, sheet, system)


def _rows(data: bytes | str) -> list[list[str]]:
    if len(data) > LARGEST:
        raise DocumentError(f"this file is longer than {LARGEST / 1e6:.0f} MB")
    try:
        text = data.decode("utf-8-sig") if isinstance(data, bytes) else data
    except UnicodeDecodeError as error:
        raise DocumentError("this is not text; choose a table saved as CSV") from error
    if "\x00" in text:
        raise DocumentError("this is not text; choose a table saved as CSV")
    first = text.lstrip().splitlines()[0] if text.strip() else ""
    separator = max(SEPARATORS, key=first.count)
    try:
        rows = [r for r in csv.reader(io.StringIO(text), delimiter=separator) if any(c.strip() for c in r)]
    except csv.Error as error:
        raise DocumentError("a line of it cannot be read") from error
    if len(rows) < 2:
        raise DocumentError("there is no reading in it")
    if len(rows) > MOST:
        raise DocumentError(f"more than {MOST:,} lines")
    return rows


def _names(build: Build) -> dict[str, str]:
    """Figures by key and by title."""
    found = {key: key for key in ASKED}
    for key, asked in ASKED.items():
        found.setdefault(asked.quantity(build, "intake").label.lower(), key)
    return found


def _long(head: list[str], rows: Sequence[list[str]], sheet: Sheet, system: System) -> list[Understood]:
    names, found = _names(sheet.build), []
    for number, row in enumerate(rows[1:], 2):
        cell = {h: row[i].strip().lstrip("'") if i < len(row) else "" for i, h in enumerate(head)}
        if cell.get("stands") in ("replaced", "taken back"):
            continue
        key = names.get(cell["figure"].lower(), "")
        found.append(_understood(number, key, cell["figure"], cell, cell["reading"], sheet, system))
    return found


def _wide(head: list[str], rows: Sequence[list[str]], sheet: Sheet, system: System) -> list[Understood]:
    names, found = _names(sheet.build), []
    columns = []
    for i, heading in enumerate(head):
        if heading in ("place", "item", "instrument") or not heading:
            continue
        bare, _, unit = heading.partition("[") if "[" in heading else heading.partition("(")
        key = names.get(bare.strip().rstrip(","), "")
        if not key:
            raise DocumentError(f"the bench reads no figure called “{heading[:40]}”", "line 1")
        columns.append((i, key, unit.strip("]) ")))
    if not columns:
        raise DocumentError("there is no column of a figure in it", "line 1")
    for number, row in enumerate(rows[1:], 2):
        cell = {h: row[i].strip() if i < len(row) else "" for i, h in enumerate(head)}
        for i, key, unit in columns:
            text = row[i].strip() if i < len(row) else ""
            if text:
                typed = f"{text} {unit}" if unit and not any(c.isalpha() for c in text) else text
                found.append(_understood(number, key, key, cell, typed, sheet, system))
    return found


def _understood(
    number: int, key: str, named: str, cell: dict[str, str], text: str, sheet: Sheet, system: System
) -> Understood:
    place, item = cell.get("place", ""), cell.get("item", "")
    if not key:
        return Understood(number, "", place, item, text, wrong=f"the bench reads no figure called “{named[:40]}”")
    asked = ASKED[key]
    try:
        if asked.item:
            if not item:
                raise FieldError("item", "a spring's figure needs the spring's serial")
            item, place, side = serial_of(item), "", "intake"
        else:
            where = place_called(sheet, place)
            place, item, side = where.label, "", where.side
        decimal = text.replace(",", ".") if key != "shims" and text.count(",") == 1 and "." not in text else text
        _, typed = entered(sheet, asked, side, decimal, system)
    except FieldError as error:
        return Understood(number, key, place, item, text, wrong=error.message)
    return Understood(number, key, place, item, decimal, typed, instrument=cell.get("instrument", ""))
