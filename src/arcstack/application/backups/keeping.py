"""Backups kept: taken while the workshop runs, each day by themselves, and let go by a rule."""

import json
import shutil
import sqlite3
import time
from collections.abc import Callable, Iterator, Sequence
from contextlib import closing, contextmanager
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path
from tempfile import TemporaryDirectory
from threading import Event, Lock, Thread

from arcstack import __version__
from arcstack.application.backups.copies import (
    FILE,
    MANIFEST,
    PICTURES,
    STAMP,
    TYPES,
    Backup,
    as_told,
    copied,
    looked_through,
    manifest_of,
    opened,
    pictures_of,
    put_bytes,
    put_file,
    room,
    sync,
    whole,
    zipped,
)
from arcstack.application.backups.restoring import linked, restore, unreadable
from arcstack.application.backups.second import SecondFolder
from arcstack.errors import StoreError
from arcstack.settings import setting
from arcstack.store import own_folder
from arcstack.store.database import OWNER_ONLY
from arcstack.store.trouble import worded

EVERY = timedelta(hours=setting("backups.every"))
KEEP_ALL, KEEP_DAYS = timedelta(hours=setting("backups.keep_all")), int(setting("backups.keep_days"))
KEEP_WEEKS, KEEP_MONTHS = int(setting("backups.keep_weeks")), int(setting("backups.keep_months"))


@dataclass
class Work:
    """A backup that is being taken: how far it is, and what came of it."""

    done: int = 0
    of: int = 0
    running: bool = False
    wrong: str = ""


class Backups:
    """Backups of the workshop in a folder, kept beside it under ``backups`` unless another place is named."""

    def __init__(
        self, data: Path, clock: Callable[[], datetime], place: Path | None = None,
        ticks: Callable[[], float] = time.monotonic,
    ) -> None:  # fmt: skip
        self.data, self.clock, self.ticks = data, clock, ticks
        self.place = place or data / "backups"
        self.second = SecondFolder(data)
        self.work = Work()
        self._lock, self._stopped = Lock(), Event()
        self._since: float | None = None

    # -- what there is

    def all(self) -> list[Backup]:
        """Every copy, the newest first, as its manifest tells it; counted, for a clock may go back."""
        if not self.place.is_dir():
            return []
        found = [as_told(p) for p in self.place.iterdir() if (p / MANIFEST).is_file() and not p.name.startswith(".")]
        return sorted(found, key=lambda b: (b.number, b.at), reverse=True)

    def last_good(self) -> Backup | None:
        """The newest copy that was good when it was taken."""
        return next((b for b in self.all() if b.good), None)

    def due(self) -> bool:
        """Whether a day has gone by since the last good one, and there is something to keep.

        By the clock, where it is not behind that one; and by the time that this program has run since it took one.
        """
        if not (self.data / FILE).is_file():
            return False
        last = self.last_good()
        if last is None or self.clock() - last.at >= EVERY:
            return True
        if self._since is not None:
            return self.ticks() - self._since >= EVERY.total_seconds()
        # one that a clock ahead of this one wrote says nothing of today
        return self.clock() - last.at < -NEAR

    def trouble(self) -> str:
        """What stands in the way of tonight's, in words for the first page; empty where all is well."""
        if self.work.wrong and not self.work.running:
            return f"The last backup failed: {self.work.wrong}"
        if not (self.data / FILE).is_file():
            return ""
        found = self.all()
        last = next((b for b in found if b.good), None)
        if found and not found[0].good:
            return f"The last backup is not good: {found[0].wrong}"
        if last is not None and self.clock() - last.at > 2 * EVERY:
            return f"The last good backup is {(self.clock() - last.at).days} days old."
        if last is not None and last.lost:
            return f"{len(last.lost)} photographs are missing or damaged in the workshop itself, and in its backups."
        return self.second.trouble

    # -- what is made

    def take(self, why: str = "by hand") -> Backup:
        """Copy the workshop as it stands, restore the copy in a trial folder and compare, and let those go that the
        rule no longer keeps.

        Nothing that is half written is ever called a backup. Raises ``StoreError``.
        """
        with self._lock, worded(self.place):
            at = self.clock().replace(microsecond=0)
            own_folder(self.place)
            with alone(self.place / ".lock"):
                for left in self.place.glob(".half-*"):
                    shutil.rmtree(left, ignore_errors=True)
                made = self._made(at, why)
                if made.good:
                    self._since = self.ticks()
                    self._let_go()
                    self.second.put(made, self.place / PICTURES, self.clock())
                return made

    def _made(self, at: datetime, why: str) -> Backup:
        half = self.place / f".half-{at.strftime(STAMP)}"
        own_folder(half)
        try:
            counts = copied(self.data / FILE, half / FILE)
            files, lost = self._pool(half / FILE, at)
            number = max((b.number for b in self.all()), default=0) + 1
            pool = self.place / PICTURES
            manifest = manifest_of(at, why, counts, files, half / FILE, pool, number, lost)
            put_bytes(half / MANIFEST, json.dumps(manifest, indent=1).encode())
            wrong = looked_through(half) or tried(half, pool, self.place, self.clock)
            if wrong:
                manifest["wrong"] = wrong
                put_bytes(half / MANIFEST, json.dumps(manifest, indent=1).encode())
            whole_ = self._free(at)
            half.replace(whole_)
            sync(self.place)
        except BaseException:
            shutil.rmtree(half, ignore_errors=True)
            raise
        return as_told(whole_)

    def _free(self, at: datetime) -> Path:
        """A name of its own for a copy, also for two in one second."""
        stamp = at.strftime(STAMP)
        names = (stamp, *(f"{stamp}-{n}" for n in range(2, 100)))
        return next(p for n in names if not (p := self.place / n).exists())

    def _pool(self, copy: Path, at: datetime) -> tuple[list[str], list[str]]:
        """Photographs that the copy names, each copied once and for all: its name is the hash of its bytes. Gives those
        that are whole, and those that are neither in the workshop nor here.

        What is new is read through; of the rest a seventh each night, so that a byte that turns is found within a week
        while the workshop still has it.
        """
        wanted, sums = pictures_of(copy), self._sums()
        self.work.of, self.work.done = len(wanted), 0
        kept: list[str] = []
        lost: list[str] = []
        for name in wanted:
            source, target = self.data / PICTURES / name, self.place / PICTURES / name
            turn = int(name[:2], 16) % NIGHTS == at.toordinal() % NIGHTS
            here = target.is_file() and (not turn or whole(target, sums, name))
            if not here and source.is_file() and whole(source, sums, name):
                own_folder(target.parent)
                put_file(source, target)
                here = whole(target, sums, name)
            (kept if here else lost).append(name)
            self.work.done += 1
        # the small copy of one that is lost shows what it was; of one that is there it is made again
        return kept, [n for n in lost if n.split(".", 1)[1] in TYPES]

    def _sums(self) -> dict[str, str]:
        """Hashes of small copies, as the last manifest tells them."""
        for b in self.all():
            told = json.loads((b.path / MANIFEST).read_text("utf-8")).get("sums")
            if isinstance(told, dict):
                return told
        return {}

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
            except Exception as error:  # whatever it is, it is told and not lost with its thread
                self.work.wrong = f"It could not be taken: {error or type(error).__name__}."
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
                except Exception as error:  # the next look comes all the same
                    self.work.wrong = f"It could not be seen whether one is due: {error}"

        Thread(target=look, name="backups", daemon=True).start()

    def stop(self) -> None:
        """Look no more."""
        self._stopped.set()

    def portable(self, target: Path) -> Backup:
        """The whole workshop in one file, to take to another machine. Raises ``StoreError``."""
        with self._lock, worded(target), TemporaryDirectory(dir=room(target)) as folder:
            copy = Path(folder) / FILE
            counts = copied(self.data / FILE, copy)
            named, pictures = pictures_of(copy), self.data / PICTURES
            files = [f for f in named if whole(pictures / f)]
            lost = [f for f in named if f not in files and f.split(".", 1)[1] in TYPES]
            at = self.clock().replace(microsecond=0)
            manifest = manifest_of(at, "to take along", counts, files, copy, pictures, lost=lost)
            half = Path(folder) / "whole.zip"
            zipped(half, manifest, copy, pictures)
            with opened(half) as inside:
                wrong = looked_through(inside) or tried(inside, inside / PICTURES, Path(folder), self.clock)
            if wrong:
                raise StoreError(f"The copy is not good: {wrong}. Nothing was written.")
            half.chmod(OWNER_ONLY)
            half.replace(target)
            size = target.stat().st_size
            return Backup(target, at, "to take along", __version__, counts, len(files), size, lost=tuple(lost))


NEAR, NIGHTS = timedelta(minutes=5), int(setting("backups.nights"))
"""Clocks may differ by so much; and in so many nights every photograph is read through."""


@contextmanager
def alone(lock: Path) -> Iterator[None]:
    """Alone among all programs that keep this folder. Raises ``StoreError`` where another one is at it."""
    # a lock of SQLite's own is let go by whatever ends the program, on every system
    with closing(sqlite3.connect(lock, timeout=0.0, isolation_level=None)) as held:
        try:
            held.execute("BEGIN EXCLUSIVE")
        except sqlite3.OperationalError as error:
            if "locked" not in str(error):
                raise
            raise StoreError(
                "Another program is taking a backup at this moment. Look again when it is done."
            ) from error
        yield


def tried(folder: Path, pictures: Path, near: Path, clock: Callable[[], datetime]) -> str:
    """Restore a copy in a trial folder and hold it against what it says; what is wrong, in words."""
    told = json.loads((folder / MANIFEST).read_text("utf-8"))
    with TemporaryDirectory(dir=near, prefix=".half-trial-") as trial:
        home = Path(trial) / "shop"
        try:
            back = restore(folder, home, clock, pictures, linked)
        except StoreError as error:
            return f"restored for trial, it failed: {error}"
        if back.counts != told["counts"] or back.lost:
            return f"restored for trial, it held {back.counts} and lacked {len(back.lost)} photographs"
        missing = [n for n in told["pictures"] if not (home / PICTURES / n).is_file()]
        if missing:
            return f"restored for trial, it lacked {len(missing)} photographs"
        return unreadable(home / FILE)


def keeps(found: Sequence[Backup], now: datetime) -> set[Backup]:
    """Which copies the rule keeps: all of the last two days, the last of each day, of each week, of each month; and
    always the newest.

    >>> from datetime import UTC
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
