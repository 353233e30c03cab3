"""One copy of a workshop: how it is written, what is told of it, and whether it is good."""

import hashlib
import json
import os
import shutil
import sqlite3
import zipfile
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from arcstack import __version__
from arcstack.errors import StoreError
from arcstack.store import own_folder
from arcstack.store.database import OWNER_ONLY, known_versions

FILE, MANIFEST, PICTURES = "workshop.sqlite", "manifest.json", "pictures"
TABLES = ("build", "revision", "reading", "event", "part", "cam", "practice", "instrument")
"""What is counted in a copy, and must be there again when it is opened."""

STAMP = "%Y-%m-%dT%H-%M-%SZ"


@dataclass(frozen=True)
class Backup:
    """One copy: when it was taken, why, what it holds, and what was found wrong with it (empty for a good one)."""

    path: Path
    at: datetime
    why: str
    version: str
    counts: dict[str, int] = field(hash=False)
    pictures: int
    size: int
    wrong: str = ""

    @property
    def name(self) -> str:
        return self.path.name

    @property
    def good(self) -> bool:
        return not self.wrong


def as_told(path: Path) -> Backup:
    """A copy as its manifest tells it."""
    try:
        told: Any = json.loads((path / MANIFEST).read_text("utf-8"))
        at = datetime.fromisoformat(told["at"])
        size = (path / FILE).stat().st_size
        return Backup(
            path, at, str(told["why"]), str(told["version"]), dict(told["counts"]), len(told["pictures"]), size,
            str(told.get("wrong", "")),
        )  # fmt: skip
    except (OSError, ValueError, KeyError, TypeError) as error:
        return Backup(path, datetime(1970, 1, 1, tzinfo=UTC), "", "", {}, 0, 0, f"it cannot be read: {error}")


def looked_through(folder: Path, pictures: Path, *, hashes: bool = False) -> str:
    """What is wrong with a copy, in words; empty where it opens, holds together, and holds all that it says it does.

    With ``hashes`` every photograph is read through too.
    """
    try:
        told = json.loads((folder / MANIFEST).read_text("utf-8"))
        if told.get("arc_stack_backup") != 1:
            return "it is no backup of Arc Stack, or of a newer one"
        if hash_of(folder / FILE) != told["sha256"]:
            return "its file is not the one that was written"
        with closing(sqlite3.connect(f"file:{folder / FILE}?mode=ro&immutable=1", uri=True)) as file:
            if (said := file.execute("PRAGMA integrity_check").fetchone()[0]) != "ok":
                return f"its file is damaged: {said[:120]}"
            if file.execute("PRAGMA foreign_key_check").fetchone() is not None:
                return "rows of it belong to nothing"
            (version,) = file.execute("SELECT version_num FROM alembic_version").fetchone()
            if version not in known_versions():
                return f"it was written by a newer version ({version})"
            if (counts := _counts(file)) != told["counts"]:
                return f"it holds {counts}, and should hold {told['counts']}"
        for name in told["pictures"]:
            path = pictures / name
            if ".." in name or not path.is_file():
                return f"photograph {Path(name).name[:16]} is missing"
            if hashes and ".small." not in path.name and hash_of(path) != path.name.partition(".")[0]:
                return f"photograph {path.name[:16]} is damaged"
    except (OSError, ValueError, KeyError, TypeError, sqlite3.Error) as error:
        return f"it cannot be opened: {error}"
    return ""


@contextmanager
def opened(source: Path) -> Iterator[Path]:
    """A backup as a folder: itself, or what a portable file holds, laid out for as long as it is looked at."""
    if source.is_dir():
        yield source
        return
    with TemporaryDirectory(dir=room(source)) as folder:
        try:
            with zipfile.ZipFile(source) as whole:
                for info in whole.infolist():
                    if not _belongs(info.filename):
                        raise StoreError(f"{source.name} holds {info.filename[:60]!r}, which is no part of a backup.")
                whole.extractall(folder)
        except (OSError, zipfile.BadZipFile, zipfile.LargeZipFile, RuntimeError, NotImplementedError) as error:
            raise StoreError(f"{source.name} is no backup, or it is cut off: {error}. Nothing was changed.") from error
        yield Path(folder)


def _belongs(name: str) -> bool:
    """Whether a name inside a portable file is one that a backup has: no path leads out of it."""
    if name in (FILE, MANIFEST):
        return True
    parts = name.split("/")
    return len(parts) == 3 and parts[0] == PICTURES and all(p and p[0] != "." and "\\" not in p for p in parts)


def room(near: Path) -> Path:
    folder = near.absolute().parent
    own_folder(folder)
    return folder


def manifest_of(at: datetime, why: str, counts: dict[str, int], files: list[str], sha256: str) -> dict[str, Any]:
    return {
        "arc_stack_backup": 1, "at": at.isoformat(), "why": why, "version": __version__, "counts": counts,
        "sha256": sha256, "pictures": files,
    }  # fmt: skip


def copied(source: Path, target: Path) -> dict[str, int]:
    """A consistent copy of a database that others may be writing to, and what it holds."""
    if not source.is_file():
        raise StoreError(f"There is no workshop in {source.parent}.")
    target.touch(OWNER_ONLY)
    with closing(sqlite3.connect(source)) as there, closing(sqlite3.connect(target)) as here:
        there.backup(here, pages=2_000, sleep=0.001)
        # a copy is one file: nothing of it stands in a log beside it
        here.execute("PRAGMA journal_mode=DELETE")
        counts = _counts(here)
    with target.open("rb") as written:
        os.fsync(written.fileno())
    return counts


def _counts(file: sqlite3.Connection) -> dict[str, int]:
    here = {name for (name,) in file.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    return {t: file.execute(f"SELECT count(*) FROM {t}").fetchone()[0] for t in TABLES if t in here}


def pictures_of(copy: Path) -> list[str]:
    """Names of the photographs, and of their small copies, that the events of a database name."""
    found = []
    with closing(sqlite3.connect(copy)) as file:
        for (body,) in file.execute("SELECT body FROM event WHERE kind = 'pictured' ORDER BY id"):
            told = json.loads(body)
            sha, kind = str(told["sha256"]), str(told["format"])
            if sha.isalnum() and kind.isalnum():
                found += [f"{sha[:2]}/{sha}.{kind}", f"{sha[:2]}/{sha}.small.jpg"]
    return list(dict.fromkeys(found))


def hash_of(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def put_file(source: Path, target: Path) -> None:
    """A file put in place whole, on the disk before it has its name."""
    half = target.with_name(f"{target.name}.half")
    with source.open("rb") as there, half.open("wb") as here:
        half.chmod(OWNER_ONLY)
        shutil.copyfileobj(there, here, 1 << 20)
        here.flush()
        os.fsync(here.fileno())
    half.replace(target)


def put_bytes(path: Path, data: bytes) -> None:
    with path.open("wb") as file:
        path.chmod(OWNER_ONLY)
        file.write(data)
        file.flush()
        os.fsync(file.fileno())


def sync(folder: Path) -> None:
    """What a folder lists, on the disk."""
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)
