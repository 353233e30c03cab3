"""Backups kept: taken while the workshop runs, each day by themselves, and let go by a rule."""

import json
import shutil
import zipfile
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path
from tempfile import TemporaryDirectory
from threading import Event, Lock, Thread

from arcstack import __version__
from arcstack.errors import StoreError
from arcstack.services.backups.copies import (
    FILE,
    MANIFEST,
    PICTURES,
    STAMP,
    Backup,
    as_told,
    copied,
    hash_of,
    looked_through,
    manifest_of,
    opened,
    pictures_of,
    put_bytes,
    put_file,
    room,
    sync,
)
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
        found = [as_told(p) for p in self.place.iterdir() if (p / MANIFEST).is_file() and not p.name.startswith(".")]
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
            half = self.place / f".half-{at.strftime(STAMP)}"
            own_folder(half)
            try:
                counts = copied(self.data / FILE, half / FILE)
                files = self._pool(half / FILE)
                manifest = manifest_of(at, why, counts, files, hash_of(half / FILE))
                put_bytes(half / MANIFEST, json.dumps(manifest, indent=1).encode())
                wrong = looked_through(half, self.place / PICTURES)
                if wrong:
                    manifest["wrong"] = wrong
                    put_bytes(half / MANIFEST, json.dumps(manifest, indent=1).encode())
                whole = self._free(at)
                half.replace(whole)
                sync(self.place)
            except BaseException:
                shutil.rmtree(half, ignore_errors=True)
                raise
            made = as_told(whole)
            if made.good:
                self._let_go()
            return made

    def _free(self, at: datetime) -> Path:
        """A name of its own for a copy, also for two in one second."""
        stamp = at.strftime(STAMP)
        names = (stamp, *(f"{stamp}-{n}" for n in range(2, 100)))
        return next(p for n in names if not (p := self.place / n).exists())

    def _pool(self, copy: Path) -> list[str]:
        """Photographs that the copy names, each copied once and for all: its name is the hash of its bytes."""
        wanted = [f for f in pictures_of(copy) if (self.data / PICTURES / f).is_file()]
        self.work.of, self.work.done = len(wanted), 0
        for name in wanted:
            target = self.place / PICTURES / name
            if not target.is_file() or target.stat().st_size != (self.data / PICTURES / name).stat().st_size:
                own_folder(target.parent)
                put_file(self.data / PICTURES / name, target)
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
        with self._lock, worded(target), TemporaryDirectory(dir=room(target)) as folder:
            copy = Path(folder) / FILE
            counts = copied(self.data / FILE, copy)
            files = [f for f in pictures_of(copy) if (self.data / PICTURES / f).is_file()]
            at = self.clock().replace(microsecond=0)
            manifest = manifest_of(at, "to take along", counts, files, hash_of(copy))
            half = Path(folder) / "whole.zip"
            with zipfile.ZipFile(half, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as made:
                made.writestr(MANIFEST, json.dumps(manifest, indent=1))
                made.write(copy, FILE)
                for name in files:
                    made.write(self.data / PICTURES / name, f"{PICTURES}/{name}", zipfile.ZIP_STORED)
            with opened(half) as inside:
                wrong = looked_through(inside, inside / PICTURES, hashes=True)
            if wrong:
                raise StoreError(f"The copy is not good: {wrong}. Nothing was written.")
            half.chmod(OWNER_ONLY)
            half.replace(target)
            return Backup(target, at, "to take along", __version__, counts, len(files), target.stat().st_size)


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
