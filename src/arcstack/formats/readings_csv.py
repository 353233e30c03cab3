"""Readings as a table: a row a place and a column a figure, or a row a reading; understood first, then taken."""

import csv
import io
from dataclasses import dataclass

from arcstack.document import Build
from arcstack.errors import DocumentError, FieldError
from arcstack.formats.text_table import TextTable, bare, columns_of, harmless, table_of, text_of, with_point, with_unit
from arcstack.readings import ASKED, Sheet
from arcstack.readings.taking import entered, place_called, serial_of
from arcstack.settings import setting
from arcstack.units import System

LARGEST, MOST = int(setting("readings.largest_file")), int(setting("readings.most_rows"))
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
    table = _table(data)
    head = [c.strip().lower() for c in table.head]
    if "place" not in head and "item" not in head:
        raise DocumentError("the first line needs a column called place, or item for springs")
    if len(set(head)) != len(head):
        raise DocumentError("two columns have one heading; which one holds cannot be told")
    if "figure" in head and "reading" in head:
        return _long(head, table, sheet, system)
    return _wide(head, table, sheet, system)


def _table(data: bytes | str) -> TextTable:
    if len(data) > LARGEST:
        raise DocumentError(f"this file is longer than {LARGEST / 1e6:.0f} MB")
    table = table_of(text_of(data), MOST)
    if len(table.rows) < 2:
        raise DocumentError("there is no reading in it")
    if len(table.rows) > MOST:
        raise DocumentError(f"more than {MOST:,} lines")
    return table


def _names(build: Build) -> dict[str, str]:
    """Figures by key and by title."""
    found = {key: key for key in ASKED}
    for key, asked in ASKED.items():
        found.setdefault(asked.quantity(build, "intake").label.lower(), key)
    return found


def _long(head: list[str], table: TextTable, sheet: Sheet, system: System) -> list[Understood]:
    names, found = _names(sheet.build), []
    for number, row in table.rows[1:]:
        cell = {h: bare(row[i]) if i < len(row) else "" for i, h in enumerate(head)}
        if cell.get("stands") in ("replaced", "taken back"):
            continue
        key = names.get(cell["figure"].lower(), "")
        text = with_point(cell["reading"], table.decimal)
        found.append(_understood(number, key, cell["figure"], cell, text, sheet, system))
    return found


def _wide(head: list[str], table: TextTable, sheet: Sheet, system: System) -> list[Understood]:
    names, found = _names(sheet.build), []
    columns = []
    for i, (heading, unit) in enumerate(columns_of(table.head)):
        named = heading.lower().rstrip(",")
        if named in ("place", "item", "instrument") or not named:
            continue
        key = names.get(named, "")
        if not key:
            raise DocumentError(f"the bench reads no figure called “{heading[:40]}”", "line 1")
        columns.append((i, key, unit))
    if not columns:
        raise DocumentError("there is no column of a figure in it", "line 1")
    for number, row in table.rows[1:]:
        cell = {h: bare(row[i]) if i < len(row) else "" for i, h in enumerate(head)}
        for i, key, unit in columns:
            text = with_point(bare(row[i]), table.decimal) if i < len(row) else ""
            if text:
                typed = with_unit(text, unit)
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
