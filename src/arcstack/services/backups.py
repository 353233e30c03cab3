"""Backups: a whole copy of the workshop taken while it runs, opened and looked through before it counts as one."""

import hashlib
import json
import os
import shutil
import sqlite3
import zipfile
from collections.abc import Callable, Iterator, Sequence
from contextlib import closing, contextmanager
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from pathlib import Path
from tempfile import TemporaryDirectory
from threading import Event, Lock, Thread
from typing import Any

from arcstack import __version__
from arcstack.errors import StoreError
from arcstack.settings import setting
from arcstack.store import Database, own_folder
from arcstack.store.database import OWNER_ONLY, known_versions
from arcstack.store.trouble import worded

FILE, MANIFEST, PICTURES = "workshop.sqlite", "manifest.json", "pictures"
TABLES = ("build", "revision", "reading", "event", "part", "cam", "practice", "instrument")
"""What is counted in a copy, and must be there again when it is opened."""

EVERY = timedelta(hours=setting("backups.every"))
KEEP_ALL, KEEP_DAYS = timedelta(hours=setting("backups.keep_all")), int(setting("backups.keep_days"))
KEEP_WEEKS, KEEP_MONTHS = int(setting("backups.keep_weeks")), int(setting("backups.keep_months"))
_STAMP = "%Y-%m-%dT%H-%M-%SZ"


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


@dataclass
class Work:
    """A backup that is being taken: how far it is, and what came of it."""

    done: int = 0
    of: int = 0
    running: bool = False
    wrong: str = ""


class Backups:
    """Backups of the workshop in a folder, kept beside it under ``backups`` unless another place is named."""

    def __init__(self, data: Path, clock: Callable[[], datetime], place: Path | None = None) -> None:
        self.data, self.clock = data, clock
        self.place = place or data / "backups"
        self.work = Work()
        self._lock, self._stopped = Lock(), Event()

    # -- what there is

    def all(self) -> list[Backup]:
        """Every copy, the newest first, as its manifest tells it."""
        if not self.place.is_dir():
            return []
        found = [_told(p) for p in self.place.iterdir() if (p / MANIFEST).is_file() and not p.name.startswith(".")]
        return sorted(found, key=lambda b: b.at, reverse=True)

    def last_good(self) -> Backup | None:
        """The newest copy that was good when it was taken."""
        return next((b for b in self.all() if b.good), None)

    def due(self) -> bool:
        """Whether a day has gone by since the last good one, and there is something to keep."""
        last = self.last_good()
        return (self.data / FILE).is_file() and (last is None or self.clock() - last.at >= EVERY)

    # -- what is made

    def take(self, why: str = "by hand") -> Backup:
        """Copy the workshop as it stands, look through the copy, and let those go that the rule no longer keeps.

        Nothing that is half written is ever called a backup. Raises ``StoreError``.
        """
        with self._lock, worded(self.place):
            at = self.clock().replace(microsecond=0)
            own_folder(self.place)
            for left in self.place.glob(".half-*"):
                shutil.rmtree(left, ignore_errors=True)
            half = self.place / f".half-{at.strftime(_STAMP)}"
            own_folder(half)
            try:
                counts = _copied(self.data / FILE, half / FILE)
                files = self._pool(half / FILE)
                manifest = _manifest(at, why, counts, files, _hash(half / FILE))
                _write(half / MANIFEST, json.dumps(manifest, indent=1).encode())
                wrong = looked_through(half, self.place / PICTURES)
                if wrong:
                    manifest["wrong"] = wrong
                    _write(half / MANIFEST, json.dumps(manifest, indent=1).encode())
                whole = self._free(at)
                half.replace(whole)
                _sync(self.place)
            except BaseException:
                shutil.rmtree(half, ignore_errors=True)
                raise
            made = _told(whole)
            if made.good:
                self._let_go()
            return made

    def _free(self, at: datetime) -> Path:
        """A name of its own for a copy, also for two in one second."""
        stamp = at.strftime(_STAMP)
        names = (stamp, *(f"{stamp}-{n}" for n in range(2, 100)))
        return next(p for n in names if not (p := self.place / n).exists())

    def _pool(self, copy: Path) -> list[str]:
        """Photographs that the copy names, each copied once and for all: its name is the hash of its bytes."""
        wanted = [f for f in _pictures_of(copy) if (self.data / PICTURES / f).is_file()]
        self.work.of, self.work.done = len(wanted), 0
        for name in wanted:
            target = self.place / PICTURES / name
            if not target.is_file() or target.stat().st_size != (self.data / PICTURES / name).stat().st_size:
                own_folder(target.parent)
                _copy(self.data / PICTURES / name, target)
            self.work.done += 1
        return wanted

    def _let_go(self) -> None:
        """Remove what the rule no longer keeps, and photographs that no copy names any more."""
        kept = keeps([b for b in self.all() if b.good], self.clock())
        for b in self.all():
            if b not in kept:
                shutil.rmtree(b.path, ignore_errors=True)
        named = {f for b in self.all() for f in json.loads((b.path / MANIFEST).read_text("utf-8"))["pictures"]}
        pool = self.place / PICTURES
        for file in pool.rglob("*") if pool.is_dir() else ():
            if file.is_file() and str(file.relative_to(pool)) not in named:
                file.unlink(missing_ok=True)

    def start(self, why: str) -> None:
        """Take one in the background; ``work`` tells how far it is. One at a time."""
        if self.work.running:
            return
        self.work = Work(running=True)

        def run() -> None:
            try:
                made = self.take(why)
                self.work.wrong = made.wrong
            except StoreError as error:
                self.work.wrong = str(error)
            finally:
                self.work.running = False

        Thread(target=run, name="backup", daemon=True).start()

    def each_day(self, look_s: float = setting("backups.look")) -> None:
        """Look now and then whether one is due, for as long as the program runs."""

        def look() -> None:
            while not self._stopped.wait(look_s):
                try:
                    if self.due() and not self.work.running:
                        self.start("each day")
                except StoreError as error:
                    self.work.wrong = str(error)

        Thread(target=look, name="backups", daemon=True).start()

    def stop(self) -> None:
        """Look no more."""
        self._stopped.set()

    def portable(self, target: Path) -> Backup:
        """The whole workshop in one file, to take to another machine. Raises ``StoreError``."""
        with self._lock, worded(target), TemporaryDirectory(dir=_room(target)) as folder:
            copy = Path(folder) / FILE
            counts = _copied(self.data / FILE, copy)
            files = [f for f in _pictures_of(copy) if (self.data / PICTURES / f).is_file()]
            at = self.clock().replace(microsecond=0)
            manifest = _manifest(at, "to take along", counts, files, _hash(copy))
            half = Path(folder) / "whole.zip"
            with zipfile.ZipFile(half, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as made:
                made.writestr(MANIFEST, json.dumps(manifest, indent=1))
                made.write(copy, FILE)
                for name in files:
                    made.write(self.data / PICTURES / name, f"{PICTURES}/{name}", zipfile.ZIP_STORED)
            with _opened(half) as inside:
                wrong = looked_through(inside, inside / PICTURES, hashes=True)
            if wrong:
                raise StoreError(f"The copy is not good: {wrong}. Nothing was written.")
            half.chmod(OWNER_ONLY)
            half.replace(target)
            return Backup(target, at, "to take along", __version__, counts, len(files), target.stat().st_size)


def keeps(found: Sequence[Backup], now: datetime) -> set[Backup]:
    """Which copies the rule keeps: all of the last two days, the last of each day, of each week, of each month; and
    always the newest.

    >>> def made(day): return Backup(Path(day), datetime.fromisoformat(day).replace(tzinfo=UTC), "", "", {}, 0, 0)
    >>> days = [made(f"2026-03-{d:02d}") for d in range(1, 31)]
    >>> kept = keeps(days, datetime(2026, 3, 30, tzinfo=UTC))
    >>> len(kept), sorted(b.path.name for b in kept)[:3]
    (17, ['2026-03-01', '2026-03-08', '2026-03-15'])
    """
    rows = sorted(found, key=lambda b: b.at, reverse=True)
    kept = set(rows[:1]) | {b for b in rows if now - b.at <= KEEP_ALL}
    rules: tuple[tuple[int, Callable[[datetime], tuple[int, ...]]], ...] = (
        (KEEP_DAYS, lambda at: (at.year, at.month, at.day)),
        (KEEP_WEEKS, lambda at: at.isocalendar()[:2]),
        (KEEP_MONTHS, lambda at: (at.year, at.month)),
    )
    for most, period in rules:
        last: dict[tuple[int, ...], Backup] = {}
        for b in rows:
            last.setdefault(period(b.at), b)
        kept |= {last[p] for p in sorted(last, reverse=True)[:most]}
    return kept


def looked_through(folder: Path, pictures: Path, *, hashes: bool = False) -> str:
    """What is wrong with a copy, in words; empty where it opens, holds together, and holds all that it says it does.

    With ``hashes`` every photograph is read through too.
    """
    try:
        told = json.loads((folder / MANIFEST).read_text("utf-8"))
        if told.get("arc_stack_backup") != 1:
            return "it is no backup of Arc Stack, or of a newer one"
        if _hash(folder / FILE) != told["sha256"]:
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
            if hashes and ".small." not in path.name and _hash(path) != path.name.partition(".")[0]:
                return f"photograph {path.name[:16]} is damaged"
    except (OSError, ValueError, KeyError, TypeError, sqlite3.Error) as error:
        return f"it cannot be opened: {error}"
    return ""


def restore(source: Path, data: Path, clock: Callable[[], datetime]) -> tuple[dict[str, int], Path | None]:
    """Put a backup, a folder or a portable file, in the place of the workshop in ``data``; what stood there is kept
    beside it. Gives what came back, and where the old file is.

    Nothing is changed unless the whole of the backup is good. Raises ``StoreError``, also while the workshop is served.
    """
    with worded(data), _opened(source) as folder:
        pictures = folder / PICTURES if (folder / PICTURES).is_dir() else source.parent / PICTURES
        wrong = looked_through(folder, pictures, hashes=True)
        if wrong:
            raise StoreError(f"{source.name} is not good: {wrong}. Nothing was changed.")
        told = json.loads((folder / MANIFEST).read_text("utf-8"))
        own_folder(data)
        half = data / f"{FILE}.restoring"
        _copy(folder / FILE, half)
        for name in told["pictures"]:
            target = data / PICTURES / name
            if not target.is_file() or target.stat().st_size != (pictures / name).stat().st_size:
                own_folder(target.parent)
                _copy(pictures / name, target)
        old = _set_aside(data, clock())
        half.replace(data / FILE)
        _sync(data)
        # brought up to date at once: what an older version kept is of use only when this one can read it
        Database.open(data / FILE).engine.dispose()
        return dict(told["counts"]), old


def _set_aside(data: Path, now: datetime) -> Path | None:
    """Keep the workshop that stands there under another name, whole, and take it out of the way.

    Raises ``StoreError`` while another program has it open.
    """
    file = data / FILE
    if not file.is_file():
        for rest in ("-wal", "-shm"):
            file.with_name(file.name + rest).unlink(missing_ok=True)
        return None
    old = data / f"workshop.before-restore-{now.strftime(_STAMP)}.sqlite"
    try:
        with closing(sqlite3.connect(file, timeout=0.2, isolation_level=None)) as held:
            # alone with the file, or not at all: a server would go on writing into what is no longer there
            held.execute("PRAGMA locking_mode=EXCLUSIVE")
            held.execute("BEGIN EXCLUSIVE")
            held.execute("COMMIT")
            held.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    except sqlite3.OperationalError as error:
        if "locked" in str(error):
            raise StoreError("The workshop is being served. Stop it first; nothing was changed.") from error
        # damaged past opening: it is kept as it lies
    except sqlite3.DatabaseError:
        pass
    for rest in ("", "-wal", "-shm"):
        part = file.with_name(file.name + rest)
        if part.is_file():
            _copy(part, old.with_name(old.name + rest))
    for rest in ("-wal", "-shm"):
        file.with_name(file.name + rest).unlink(missing_ok=True)
    return old


@contextmanager
def _opened(source: Path) -> Iterator[Path]:
    """A backup as a folder: itself, or what a portable file holds, laid out for as long as it is looked at."""
    if source.is_dir():
        yield source
        return
    with TemporaryDirectory(dir=_room(source)) as folder:
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


def _room(near: Path) -> Path:
    folder = near.absolute().parent
    own_folder(folder)
    return folder


def _told(path: Path) -> Backup:
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


def _manifest(at: datetime, why: str, counts: dict[str, int], files: list[str], sha256: str) -> dict[str, Any]:
    return {
        "arc_stack_backup": 1, "at": at.isoformat(), "why": why, "version": __version__, "counts": counts,
        "sha256": sha256, "pictures": files,
    }  # fmt: skip


def _copied(source: Path, target: Path) -> dict[str, int]:
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


def _pictures_of(copy: Path) -> list[str]:
    """Names of the photographs, and of their small copies, that the events of a database name."""
    found = []
    with closing(sqlite3.connect(copy)) as file:
        for (body,) in file.execute("SELECT body FROM event WHERE kind = 'pictured' ORDER BY id"):
            told = json.loads(body)
            sha, kind = str(told["sha256"]), str(told["format"])
            if sha.isalnum() and kind.isalnum():
                found += [f"{sha[:2]}/{sha}.{kind}", f"{sha[:2]}/{sha}.small.jpg"]
    return list(dict.fromkeys(found))


def _hash(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def _copy(source: Path, target: Path) -> None:
    """A file put in place whole, on the disk before it has its name."""
    half = target.with_name(f"{target.name}.half")
    with source.open("rb") as there, half.open("wb") as here:
        half.chmod(OWNER_ONLY)
        shutil.copyfileobj(there, here, 1 << 20)
        here.flush()
        os.fsync(here.fileno())
    half.replace(target)


def _write(path: Path, data: bytes) -> None:
    with path.open("wb") as file:
        path.chmod(OWNER_ONLY)
        file.write(data)
        file.flush()
        os.fsync(file.fileno())


def _sync(folder: Path) -> None:
    """What a folder lists, on the disk."""
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)
