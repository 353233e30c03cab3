"""The whole workshop as open files, JSON, CSV and pictures in one archive, and back into an empty one."""

import json
import zipfile
import zlib
from datetime import datetime
from pathlib import Path
from typing import Any

from arcstack import __version__
from arcstack.errors import DocumentError, StoreError
from arcstack.formats import read_build
from arcstack.formats.readings_csv import write_readings
from arcstack.formats.readings_json import write_whole
from arcstack.formats.shelf_csv import write_shelf
from arcstack.services.backups import PICTURES
from arcstack.services.bench import Bench
from arcstack.services.part_shelf import PartShelf
from arcstack.services.workshop import Workshop
from arcstack.settings import setting
from arcstack.store import Builds, Database
from arcstack.store.database import OWNER_ONLY
from arcstack.store.rows import empty, put_rows, rows_of, tables
from arcstack.store.trouble import worded

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


def bring_in(database: Database, pictures: Path, source: Path) -> dict[str, int]:
    """Take an export into an empty workshop: all of it or nothing. Gives rows by table.

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
                raw = _read(whole, file)
                if not isinstance(raw, list):
                    raise DocumentError("holds no list of rows", file)
                try:
                    # every document is read before it is stored: a page would meet what is wrong with it much later
                    counts[name] = put_rows(session, name, raw, lambda text: read_build(text, kept=True))
                except (ValueError, DocumentError) as error:
                    raise DocumentError(str(error), file) from error
            _photographs(whole, pictures)
        return counts


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
        target = pictures / parts[1] / parts[2]
        target.parent.mkdir(parents=True, exist_ok=True)
        if not target.is_file():
            half = target.with_name(f"{target.name}.half")
            half.write_bytes(whole.read(info))
            half.chmod(OWNER_ONLY)
            half.replace(target)
