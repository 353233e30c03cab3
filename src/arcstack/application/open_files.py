"""The whole workshop as open files, JSON, CSV and pictures in one archive, and back into an empty one."""

import hashlib
import json
import zipfile
import zlib
from datetime import datetime
from pathlib import Path
from typing import Any

from arcstack import __version__
from arcstack.application.backups import PICTURES
from arcstack.application.bench import Bench, happened_within
from arcstack.application.part_shelf import PartShelf
from arcstack.application.pictures import TYPES
from arcstack.application.workshop import Workshop
from arcstack.document import Sitting
from arcstack.errors import DocumentError, StoreError
from arcstack.formats import read_build, write_build
from arcstack.formats.readings_csv import write_readings
from arcstack.formats.readings_json import event_json, read_event, write_whole
from arcstack.formats.shelf_csv import write_shelf
from arcstack.readings.brought import Brought, by_file, document_by_file, event_by_file
from arcstack.settings import setting
from arcstack.store import Builds, Database, Readings
from arcstack.store.database import OWNER_ONLY
from arcstack.store.rows import empty, put_rows, rows_of, tables
from arcstack.store.trouble import worded

LATER = ("numbers",)
"""Tables that an export of an earlier version does not have."""

MANIFEST, FORMAT = "arc-stack-workshop.json", "arc-stack-workshop"
MOST_BYTES = int(setting("open_files.largest"))


def export(database: Database, pictures: Path, target: Path, now: datetime) -> dict[str, int]:
    """Write the workshop: every table as JSON, one object a row, with documents as JSON inside them; each build as the
    file that a page exports, its readings as CSV; the shelf as CSV; photographs as they are. Gives rows by table.

    Raises ``StoreError``.
    """
    half = target.with_name(f"{target.name}.half")
    with worded(target), zipfile.ZipFile(half, "w", zipfile.ZIP_DEFLATED) as made:
        half.chmod(OWNER_ONLY)
        counts = {}
        # one look at the database: what another hand adds meanwhile is in all of the tables or in none
        with database.session() as session:
            for name in tables():
                rows = list(rows_of(session, name))
                made.writestr(f"tables/{name}.json", _json(rows))
                counts[name] = len(rows)
            numbers = [r.id for r in Builds(session).page(limit=counts["build"] + 1)]
        _readable(database, numbers, made)
        for file in sorted(pictures.rglob("*")) if pictures.is_dir() else ():
            if file.is_file() and not file.name.endswith(".half"):
                made.write(file, f"{PICTURES}/{file.relative_to(pictures).as_posix()}", zipfile.ZIP_STORED)
        told = {"format": FORMAT, "version": 1, "written_by": __version__, "at": now.isoformat(), "rows": counts}
        made.writestr(MANIFEST, _json(told))
    half.replace(target)
    return counts


def _readable(database: Database, numbers: list[int], made: zipfile.ZipFile) -> None:
    """The same once more as files of their own, for other programs and for eyes."""
    workshop, bench = Workshop(database), Bench(database)
    for number in sorted(numbers):
        build = workshop.exported(number)
        sheet = bench.sheet(number, build)
        made.writestr(f"builds/{number}/build.json", write_whole(build, sheet.readings, sheet.events))
        if sheet.readings:
            made.writestr(f"builds/{number}/readings.csv", write_readings(sheet))
    parts = PartShelf(database).all()
    if parts:
        made.writestr("shelf.csv", write_shelf(parts))


def _json(value: Any) -> str:
    return json.dumps(value, indent=1, ensure_ascii=False, allow_nan=False) + "\n"


def bring_in(database: Database, pictures: Path, source: Path, by: Sitting) -> dict[str, int]:
    """Take an export into an empty workshop: all of it or nothing. Gives rows by table.

    What it tells of hands is kept as told by a file: no signature, let-pass or decision of it binds anybody here.

    Raises ``StoreError`` where the workshop holds builds already, ``DocumentError`` for what is no export.
    """
    try:
        whole = zipfile.ZipFile(source)
    except (OSError, zipfile.BadZipFile) as error:
        raise DocumentError(f"{source.name} is no export, or it is cut off") from error
    with whole:
        told = _read(whole, MANIFEST)
        if not isinstance(told, dict) or told.get("format") != FORMAT or told.get("version") != 1:
            raise DocumentError(f"{source.name} is no export of a workshop, or of a newer version")
        with database.session(writes=True) as session:
            if not empty(session):
                raise StoreError("This workshop holds builds already: an export is taken into an empty one.")
            counts = {}
            for name in tables():
                file = f"tables/{name}.json"
                raw = _read(whole, file) if name not in LATER or file in whole.namelist() else []
                if not isinstance(raw, list):
                    raise DocumentError("holds no list of rows", file)
                try:
                    raw = [_ROWS[name](row) for row in raw] if name in _ROWS else raw
                    # every document is read before it is stored: a page would meet what is wrong with it much later
                    counts[name] = put_rows(session, name, raw, _document)
                except (ValueError, DocumentError, KeyError, TypeError, AttributeError) as error:
                    raise DocumentError(str(error), file) from error
            for row in Builds(session).page(limit=counts["build"] + 1):
                if mark := Readings(session).mark(row.id):
                    said = Brought(0, source.name[:120], mark[0] and 1, mark[1] and 1, 0, by)
                    happened_within(session, row.id, said)
            _photographs(whole, pictures)
        return counts


def _document(text: str) -> str:
    """A revision as it is kept: its hands are told as told by a file."""
    said = read_build(text, kept=True)
    told = document_by_file(said)
    return text if told == said else write_build(told, compact=True)


def _reading_row(row: Any) -> Any:
    """A reading's row under a name that says that it came by a file."""
    return row | {"hand": by_file(Sitting.model_validate({"hand": row["hand"]})).hand}


def _event_row(row: Any) -> Any:
    """An event's row likewise; one that signs, lets pass or decides is only told of."""
    by = {"hand": row["hand"], "instrument": row["instrument"], "at": row["at"]}
    told = event_json(event_by_file(read_event({"kind": row["kind"], "number": row["id"], "by": by, **row["body"]})))
    body = {k: v for k, v in told.items() if k not in ("kind", "by", "number")}
    return row | {"kind": told["kind"], "hand": told["by"]["hand"], "body": body}


_ROWS = {"reading": _reading_row, "event": _event_row}


def _read(whole: zipfile.ZipFile, name: str) -> Any:
    try:
        info = whole.getinfo(name)
        if info.file_size > MOST_BYTES:
            raise DocumentError(f"is larger than {MOST_BYTES / 1e9:.0f} GB", name)
        return json.loads(whole.read(info))
    except KeyError as error:
        raise DocumentError("is missing", name) from error
    except (ValueError, zipfile.BadZipFile, zlib.error, RecursionError) as error:
        raise DocumentError("cannot be read", name) from error


def _photographs(whole: zipfile.ZipFile, pictures: Path) -> None:
    for info in whole.infolist():
        parts = info.filename.split("/")
        if parts[0] != PICTURES or info.is_dir():
            continue
        if len(parts) != 3 or any(not p or p[0] == "." or "\\" in p or not p.isascii() for p in parts):
            raise DocumentError("is no photograph's place", info.filename[:80])
        own = parts[2].partition(".")
        if own[2] in TYPES and hashlib.sha256(whole.read(info)).hexdigest() != own[0]:
            raise DocumentError("is not the photograph that its name says", info.filename[:80])
        target = pictures / parts[1] / parts[2]
        target.parent.mkdir(parents=True, exist_ok=True)
        if not target.is_file():
            half = target.with_name(f"{target.name}.half")
            half.write_bytes(whole.read(info))
            half.chmod(OWNER_ONLY)
            half.replace(target)
