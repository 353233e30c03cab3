"""One copy of a workshop: how it is written, what is told of it, and whether it is good."""

import hashlib
import json
import os
import shutil
import sqlite3
import zipfile
from collections.abc import Iterator, Mapping, Sequence
from contextlib import closing, contextmanager
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path
from tempfile import TemporaryDirectory
from types import MappingProxyType
from typing import Any

from arcstack import __version__
from arcstack.errors import StoreError
from arcstack.store import own_folder
from arcstack.store.database import OWNER_ONLY, known_versions

FILE, MANIFEST, PICTURES = "workshop.sqlite", "manifest.json", "pictures"
TABLES = ("build", "revision", "reading", "event", "part", "cam", "practice", "instrument")
"""What is counted in a copy, and must be there again when it is opened."""

MOST_MANIFEST, SPARE_BYTES = 50_000_000, 20_000_000
TYPES = ("jpg", "png", "webp")

STAMP = "%Y-%m-%dT%H-%M-%SZ"


@dataclass(frozen=True)
class Backup:
    """One copy: when it was taken, why, what it holds, and what was found wrong with it (empty for a good one).

    ``number`` counts copies, whatever the clock says; ``lost`` are photographs that were missing or damaged in the
    workshop itself when it was taken: the rest of it is good all the same.
    """

    path: Path
    at: datetime
    why: str
    version: str
    counts: dict[str, int] = field(hash=False)
    pictures: int
    size: int
    wrong: str = ""
    number: int = 0
    lost: tuple[str, ...] = ()

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
            str(told.get("wrong", "")), int(told.get("number", 0)), tuple(map(str, told.get("lost", ()))),
        )  # fmt: skip
    except (OSError, ValueError, KeyError, TypeError) as error:
        return Backup(path, datetime(1970, 1, 1, tzinfo=UTC), "", "", {}, 0, 0, f"it cannot be read: {error}")


def looked_through(folder: Path) -> str:
    """What is wrong with a copy, in words; empty where it opens, holds together, and holds all that it says it does.

    Its photographs lie beside it, each by its hash: see ``whole``.
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
            if any(not belongs(f"{PICTURES}/{name}") for name in told["pictures"]):
                return "it names a photograph by no name that one has"
    except sqlite3.DatabaseError as error:
        return f"its file is damaged: {error}"
    except (OSError, ValueError, KeyError, TypeError, sqlite3.Error) as error:
        return f"it cannot be opened: {error}"
    return ""


def whole(path: Path, sums: Mapping[str, str] = MappingProxyType({}), name: str = "") -> bool:
    """Whether a photograph is here and is what its name says; a small copy is held to ``sums``, where they tell."""
    if not path.is_file():
        return False
    own = path.name.partition(".")
    said = own[0] if own[2] in TYPES else sums.get(name, "")
    try:
        return not said or hash_of(path) == said
    except OSError:
        return False


@contextmanager
def opened(source: Path) -> Iterator[Path]:
    """A backup as a folder: itself, or what a portable file holds, laid out for as long as it is looked at."""
    if source.is_dir():
        yield source
        return
    with TemporaryDirectory(dir=room(source)) as folder:
        try:
            with zipfile.ZipFile(source) as whole:
                _bounded(whole, source, Path(folder))
                whole.extractall(folder)
        except (
            OSError,
            ValueError,
            AttributeError,
            zipfile.BadZipFile,
            zipfile.LargeZipFile,
            RuntimeError,
            NotImplementedError,
        ) as error:
            raise StoreError(f"{source.name} is no backup, or it is cut off: {error}. Nothing was changed.") from error
        yield Path(folder)


def _bounded(whole: zipfile.ZipFile, source: Path, folder: Path) -> None:
    """Raise ``StoreError`` for what is no part of a backup, and before anything is unpacked that is larger than its
    manifest says, or than the disk has room for."""
    infos = whole.infolist()
    names = [i.filename for i in infos]
    for name in names:
        if not belongs(name):
            raise StoreError(f"{source.name} holds {name[:60]!r}, which is no part of a backup.")
    if len(set(names)) != len(names) or MANIFEST not in names:
        raise StoreError(f"{source.name} is no backup: it has no list of what it holds. Nothing was changed.")
    if whole.getinfo(MANIFEST).file_size > MOST_MANIFEST:
        raise StoreError(f"{source.name} is no backup: its list is without end. Nothing was changed.")
    sizes = json.loads(whole.read(MANIFEST)).get("sizes", {})
    for info in infos:
        said = sizes.get(info.filename.removeprefix(f"{PICTURES}/"))
        if sizes and info.filename != MANIFEST and info.file_size != said:
            raise StoreError(f"{source.name} is not good: {info.filename[:60]} is larger than it says, or not of it.")
    if sum(i.file_size for i in infos) > shutil.disk_usage(folder).free - SPARE_BYTES:
        raise StoreError(f"There is no room to open {source.name}: make room, then do it again. Nothing was changed.")


def belongs(name: str) -> bool:
    """Whether a name inside a portable file is one that a backup has: no path leads out of it."""
    if name in (FILE, MANIFEST):
        return True
    parts = name.split("/")
    return len(parts) == 3 and parts[0] == PICTURES and all(p and p[0] != "." and "\\" not in p for p in parts)


def room(near: Path) -> Path:
    folder = near.absolute().parent
    own_folder(folder)
    return folder


def manifest_of(
    at: datetime, why: str, counts: dict[str, int], files: list[str], copy: Path, pictures: Path, number: int = 0,
    lost: Sequence[str] = (),
) -> dict[str, Any]:  # fmt: skip
    """What a copy says of itself: what it holds, how large each part is, and the hash of what is not named by it."""
    small = [f for f in files if f.split(".", 1)[1] not in TYPES]
    return {
        "arc_stack_backup": 1, "number": number, "at": at.isoformat(), "why": why, "version": __version__,
        "counts": counts, "sha256": hash_of(copy), "pictures": files, "lost": list(lost),
        "sizes": {FILE: copy.stat().st_size} | {f: (pictures / f).stat().st_size for f in files},
        "sums": {f: hash_of(pictures / f) for f in small},
    }  # fmt: skip


def zipped(target: Path, manifest: dict[str, Any], copy: Path, pictures: Path) -> None:
    """All of a backup in one file."""
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as made:
        made.writestr(MANIFEST, json.dumps(manifest, indent=1))
        made.write(copy, FILE)
        for name in manifest["pictures"]:
            made.write(pictures / name, f"{PICTURES}/{name}", zipfile.ZIP_STORED)


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
