"""A shelf as a table: any separator, decimal and order of columns; what was understood is shown before it is taken."""

import csv
import io
import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType
from uuid import uuid4

from arcstack.checks import Evidence
from arcstack.document import NONE, Absent, Entry
from arcstack.document import Kind as FieldKind
from arcstack.errors import ArcStackError, DocumentError, FieldError
from arcstack.formats.text_table import (
    SEPARATORS,
    bare,
    columns_of,
    harmless,
    is_formula,
    table_of,
    text_of,
    with_point,
    with_unit,
)
from arcstack.settings import setting
from arcstack.shelf.part import KINDS, OWN, PartKind, ShelfPart, blank, changed, fields_of, title_of
from arcstack.units import digits_in
from arcstack.units.dimension import System

LARGEST_SHELF = int(setting("shelf.largest_file"))
MOST_PARTS = int(setting("shelf.most_parts"))


@dataclass(frozen=True)
class Column:
    """A column: its heading, the unit in it, and the field that it fills for each kind that has it."""

    heading: str
    unit: str
    fields: Mapping[PartKind, str]

    @property
    def understood(self) -> str:
        """What it is taken for; an empty text where it is left out."""
        names = {title_of(kind, path) if path != "kind" else "Kind" for kind, path in self.fields.items()}
        return sorted(names, key=len)[0] if names else ""


@dataclass(frozen=True)
class Line:
    """A line of the file: the part it makes, or what is wrong with it; ``number`` is the file's own."""

    number: int
    part: ShelfPart | None
    name: str
    problems: tuple[str, ...] = ()


@dataclass(frozen=True)
class ShelfReading:
    """What was understood of a file. ``wrong`` says why nothing of it can be taken."""

    columns: tuple[Column, ...] = ()
    lines: tuple[Line, ...] = ()
    separator: str = ""
    decimal: str = "point"
    wrong: str = ""

    @property
    def problems(self) -> tuple[Line, ...]:
        return tuple(line for line in self.lines if line.problems)

    @property
    def parts(self) -> list[ShelfPart]:
        return [line.part for line in self.lines if line.part is not None and not line.problems]

    @property
    def sound(self) -> bool:
        """Whether all of it can be taken."""
        return bool(self.lines) and not self.wrong and not self.problems


_OTHER_WORDS = MappingProxyType(
    {
        "type": "kind", "part": "kind", "sort": "kind", "title": "name", "description": "name", "item": "name",
        "part number": "number", "maker's number": "number", "part no": "number", "no": "number", "sku": "number",
        "cost": "price", "stock": "on_hand", "qty": "on_hand", "quantity": "on_hand", "have": "on_hand",
        "lead": "lead_days", "lead time": "lead_days", "lead days": "lead_days", "days": "lead_days",
        "source": "second_source", "second source": "second_source", "notes": "note", "remark": "note",
        "weight": "mass", "head": "head", "od": "outside", "outside": "outside", "id": "inside", "dia": "diameter",
        "retainer offset": "offset", "thickness": "thickness", "solid": "solid", "coil bind": "solid",
        "stem": "stem", "taper": "taper", "groove offset": "groove_offset",
    }
)  # fmt: skip
"""Headings that mean a field without being its own name."""


def _plain(text: str) -> str:
    return " ".join(re.findall(r"[^\W_]+(?:['’][^\W_]+)?", text.replace("’", "'").casefold()))


def _field_of(heading: str, kind: PartKind) -> str | None:
    """The field of a kind that a heading names."""
    plain = _plain(heading)
    for path in OWN:
        if plain in (_plain(path), _plain(title_of(kind, path))):
            return path
    ours = {path: spec for path, spec in fields_of(kind).items() if not spec.lists and path not in OWN}
    for path in ours:
        if plain == _plain(path):
            return path
    for named in (
        [p for p in ours if plain == _plain(title_of(kind, p))],
        [p for p in ours if plain == _plain(ours[p].label)],
    ):
        if len(named) == 1:
            return named[0]
    meant = _OTHER_WORDS.get(plain.removesuffix(" diameter").removesuffix(" ø").strip())
    if meant in OWN or meant in ours:
        return meant
    short = [path for path in ours if plain and _plain(path.rpartition(".")[2]) == plain]
    return short[0] if len(short) == 1 else None


def read_shelf(data: bytes | str, kind: PartKind | None = None, held: Iterable[ShelfPart] = ()) -> ShelfReading:
    """Read a table of parts. Never raises: what is wrong is said at its line.

    ``kind`` is what its lines are where no column says so; ``held`` are the parts that are on the shelf already: a
    line of the same kind and name changes that part.
    """
    try:
        text = text_of(data)
    except DocumentError:
        return ShelfReading(wrong="This is no text; save the sheet as CSV.")
    if len(text) > LARGEST_SHELF:
        return ShelfReading(wrong=f"This file is longer than {LARGEST_SHELF // 1_000_000} MB; split it.")
    try:
        table = table_of(text, MOST_PARTS + 1)
    except DocumentError as error:
        return ShelfReading(wrong=f"{error.message[0].upper()}{error.message[1:]}.")
    rows = table.rows
    if len(rows) < 2:
        return ShelfReading(wrong="A first line of headings and a line for each part are needed.")
    if len(rows) > MOST_PARTS + 1:
        return ShelfReading(wrong=f"{len(rows) - 1:,} lines; take at most {MOST_PARTS:,} parts at a time.")
    headings = columns_of(table.head)
    meant = [_OTHER_WORDS.get(_plain(name), _plain(name)) for name, _ in headings]
    at_kind = meant.index("kind") if "kind" in meant else None
    if at_kind is None and kind is None:
        return ShelfReading(wrong="Say what these parts are: no column says whether a line is a valve or a spring.")
    kinds = {kind} if at_kind is None and kind else {k for _, row in rows[1:] if (k := _kind(row, at_kind)) is not None}
    columns = tuple(
        Column(name, unit, {k: path for k in sorted(kinds) if (path := "kind" if i == at_kind else _field_of(name, k))})
        for i, (name, unit) in enumerate(headings)
    )
    if not any("name" in column.fields.values() for column in columns):
        return ShelfReading(columns, wrong="No column gives the parts’ names.")
    twice = _twice(columns)
    if twice:
        return ShelfReading(columns, wrong=f"Two columns are both taken for “{twice}”; take one out.")
    decimal = table.decimal
    known = {(p.kind, p.name.casefold()): p for p in held}
    lines: list[Line] = []
    seen: dict[tuple[PartKind, str], int] = {}
    for number, row in rows[1:]:
        line = _line(number, row, columns, kind if at_kind is None else _kind(row, at_kind), decimal, known)
        if line.part is not None:
            key = (line.part.kind, line.part.name.casefold())
            if key in seen:
                line = Line(number, None, line.name, (f"the same part as in line {seen[key]}",))
            seen.setdefault(key, number)
        lines.append(line)
    return ShelfReading(columns, tuple(lines), SEPARATORS[table.separator], "comma" if decimal == "," else "point")


def _kind(row: Sequence[str], at: int | None) -> PartKind | None:
    if at is None or at >= len(row):
        return None
    said = _plain(row[at])
    for kind, about in KINDS.items():
        if said in (kind.value, _plain(about.title), _plain(about.plural), f"{kind.value}s"):
            return kind
    return None


def _twice(columns: Sequence[Column]) -> str:
    seen: set[tuple[PartKind, str]] = set()
    for column in columns:
        for pair in column.fields.items():
            if pair in seen:
                return column.understood
            seen.add(pair)
    return ""


def _line(
    number: int, row: Sequence[str], columns: Sequence[Column], kind: PartKind | None, decimal: str,
    known: Mapping[tuple[PartKind, str], ShelfPart],
) -> Line:  # fmt: skip
    runs = [column.heading for column, cell in zip(columns, row, strict=False) if is_formula(cell)]
    if runs:
        return Line(number, None, "", (f"{runs[0]}: a formula; save the sheet with its values",))
    cells = [bare(cell) for cell in row]
    if len(cells) != len(columns):
        word = "ends after" if len(cells) < len(columns) else "has"
        return Line(number, None, "", (f"{word} {len(cells)} of {len(columns)} columns",))
    if kind is None:
        return Line(number, None, "", ("no such kind of part",))
    ours = [(column, cell) for column, cell in zip(columns, cells, strict=True) if kind in column.fields]
    by_field = {column.fields[kind]: (column, cell) for column, cell in ours}
    name = by_field["name"][1] if "name" in by_field else ""
    try:
        part = known.get((kind, " ".join(name.split()).casefold())) or blank(uuid4().hex, kind, name)
    except FieldError as error:
        return Line(number, None, name, (error.message,))
    problems = []
    origins = {path.removesuffix(".is"): cell for path, cell in _origins(columns, cells)}
    for path, (column, cell) in by_field.items():
        if path in ("name", "kind") or (not cell and path not in ("note",)):
            continue
        try:
            said = origins.get(_plain(column.heading), "")
            evidence = Evidence(said) if said in list(Evidence) else Evidence.PRINTED
            part = changed(part, path, _typed(cell, column, kind, path, decimal), evidence)
        except ArcStackError as error:
            problems.append(f"{column.heading}: {getattr(error, 'message', str(error))}")
    return Line(number, part, part.name, tuple(problems))


_IS = " is"
"""What the heading of a column ends with that says where another column's figures come from."""


def _origins(columns: Sequence[Column], cells: Sequence[str]) -> Iterable[tuple[str, str]]:
    for column, cell in zip(columns, cells, strict=True):
        if column.heading.endswith(_IS):
            yield _plain(column.heading.removesuffix(_IS)), cell.casefold()


def _typed(cell: str, column: Column, kind: PartKind, path: str, decimal: str) -> str:
    """A cell as it would be typed into its field: the heading's unit on a bare number."""
    spec = None if path in OWN else fields_of(kind)[path]
    if spec is not None and spec.kind is FieldKind.CHOICE:
        return next((o for o in spec.options if o.casefold() == cell.casefold()), cell)
    if spec is None or spec.kind is not FieldKind.QUANTITY:
        return with_point(cell, decimal) if path == "price" else cell
    return with_unit(with_point(cell, decimal), column.unit)


def write_shelf(parts: Iterable[ShelfPart]) -> str:
    """The parts as one table that ``read_shelf`` reads: units in the headings, each figure's origin beside it."""
    rows = list(parts)
    used: dict[str, str] = {}
    mixed: set[str] = set()
    for part in rows:
        for path, spec in fields_of(part.kind).items():
            value = None if spec.lists else part.said(path)
            if isinstance(value, Entry):
                assert spec.quantity is not None
                used[path] = spec.quantity.dimension.unit(System.MM)
                if value.evidence is not Evidence.PRINTED:
                    mixed.add(path)
            elif value is not None and value != "" and str(value) != "not stated":
                used.setdefault(path, "")
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    heads = ["kind", *OWN]
    for path, unit in used.items():
        heads.append(f"{path} ({unit})" if unit else path)
        if path in mixed:
            heads.append(f"{path}{_IS}")
    writer.writerow(heads)
    for part in rows:
        cells = [part.kind.value, *(_cell(getattr(part, name)) for name in OWN)]
        for path in used:
            value = part.said(path) if path in fields_of(part.kind) and not fields_of(part.kind)[path].lists else None
            cells.append(_figure(value, part.kind, path))
            if path in mixed:
                cells.append(value.evidence.value if isinstance(value, Entry) else "")
        writer.writerow(cells)
    return out.getvalue()


def _cell(value: object) -> str:
    if value is None or str(value) == "not stated":
        return ""
    if isinstance(value, Entry):
        return value.typed
    return harmless(str(value))


def _figure(value: object, kind: PartKind, path: str) -> str:
    if isinstance(value, Absent):
        return NONE
    if not isinstance(value, Entry):
        return _cell(value)
    spec = fields_of(kind)[path].quantity
    assert spec is not None
    return digits_in(value.typed, spec.dimension, spec.dimension.unit(System.MM)) or value.typed
