"""A backup put back in the place of the workshop."""

import json
import os
import sqlite3
from collections.abc import Callable
from contextlib import closing, suppress
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from arcstack.application.backups.copies import (
    FILE,
    MANIFEST,
    PICTURES,
    STAMP,
    TYPES,
    looked_through,
    opened,
    put_file,
    sync,
    whole,
)
from arcstack.application.backups.salvage import salvage
from arcstack.errors import StoreError
from arcstack.formats import read_build
from arcstack.store import Builds, Database, own_folder
from arcstack.store.numbers import given, go_on_after
from arcstack.store.trouble import worded


@dataclass(frozen=True)
class Restored:
    """What came back, where the old file is kept, photographs that were missing or damaged in the backup, and what of
    its database could not be read, in words."""

    counts: dict[str, int]
    old: Path | None
    lost: tuple[str, ...]
    unread: tuple[str, ...] = ()


def linked(source: Path, target: Path) -> None:
    """A file under a second name where the disk can do that; for a trial nothing is copied that need not be."""
    try:
        os.link(source, target)
    except OSError:
        put_file(source, target)


def restore(
    source: Path, data: Path, clock: Callable[[], datetime], pictures: Path | None = None,
    put: Callable[[Path, Path], None] | None = None, whole_rows: bool = False,
) -> Restored:  # fmt: skip
    """Put a backup, a folder or a portable file, in the place of the workshop in ``data``; what stood there is kept
    beside it. ``pictures`` is where its photographs lie, unless they are in it or beside it.

    What is whole comes back, and what is not is named. Where the workshop's own file is damaged, nothing is changed,
    unless what is whole of its rows is asked for. One that is refused leaves nothing behind.

    Raises ``StoreError``, also while the workshop is served.
    """
    with worded(data), opened(source) as folder:
        if pictures is None:
            pictures = folder / PICTURES if (folder / PICTURES).is_dir() else source.parent / PICTURES
        wrong = looked_through(folder)
        if wrong and not whole_rows:
            raise StoreError(f"{source.name} is not good: {wrong}. Nothing was changed.")
        told = json.loads((folder / MANIFEST).read_text("utf-8"))
        own_folder(data)
        half, laid = data / f"{FILE}.restoring", list[Path]()
        try:
            _alone_with(data / FILE)
            before = _given(data / FILE)
            unread = salvage(folder / FILE, half) if wrong else []
            if not wrong:
                put_file(folder / FILE, half)
            lost = _photographs(told, pictures, data / PICTURES, put or put_file, laid)
            old = _set_aside(data, clock())
            half.replace(data / FILE)
        except BaseException:
            half.unlink(missing_ok=True)
            for rest in (".half", "-wal", "-shm"):
                half.with_name(f"{half.name}{rest}").unlink(missing_ok=True)
            for path in laid:
                path.unlink(missing_ok=True)
            raise
        sync(data)
        # brought up to date at once: what an older version kept is of use only when this one can read it
        database = Database.open(data / FILE)
        with database.session(writes=True) as session:
            # whoever was signed in on the other machine, or before, is not signed in here
            session.connection().exec_driver_sql("DELETE FROM signed_in")
            go_on_after(session, before)
        database.engine.dispose()
        for rest in ("-wal", "-shm"):
            half.with_name(f"{half.name}{rest}").unlink(missing_ok=True)
        return Restored(dict(told["counts"]), old, tuple(lost), tuple(unread))


def _photographs(
    told: dict[str, object], pictures: Path, to: Path, put: Callable[[Path, Path], None], laid: list[Path]
) -> list[str]:
    """Lay out those that are whole; gives those that are not, or were not when the backup was taken."""
    named, sums, before = told["pictures"], told.get("sums", {}), told.get("lost", [])
    assert isinstance(named, list)
    assert isinstance(sums, dict)
    assert isinstance(before, list)
    lost = []
    for name in named:
        target = to / name
        if not whole(pictures / name, sums, name):
            if name.split(".", 1)[1] in TYPES and not whole(target):
                lost.append(name)
            continue
        if not whole(target, sums, name):
            own_folder(target.parent)
            fresh = not target.exists()
            put(pictures / name, target)
            if fresh:
                laid.append(target)
    return [*lost, *(n for n in before if not whole(to / n))] if put is put_file else lost


def unreadable(file: Path) -> str:
    """What of a restored workshop cannot be read as a page would read it; empty where all can."""
    database = Database(file)
    try:
        with database.session() as session:
            builds = Builds(session)
            for row in builds.page(limit=1_000_000):
                read_build(builds.document(row.id, row.newest), kept=True)
    except Exception as error:  # whatever a damaged document raises
        return f"restored for trial, a head of it cannot be read: {error}"
    finally:
        database.engine.dispose()
    return ""


def _given(file: Path) -> dict[str, int]:
    """How far the workshop that stands there gave numbers; nothing of one that cannot be asked."""
    if not file.is_file():
        return {}
    database = Database(file)
    try:
        with database.session() as session:
            return given(session)
    except StoreError:
        return {}
    finally:
        database.engine.dispose()


def _alone_with(file: Path) -> None:
    """Raise ``StoreError`` while another program has the workshop open: looked at before anything is written."""
    if not file.is_file():
        return
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


def _set_aside(data: Path, now: datetime) -> Path | None:
    """Keep the workshop that stands there under another name, whole, and take it out of the way.

    Raises ``StoreError`` while another program has it open.
    """
    file = data / FILE
    if not file.is_file():
        for rest in ("-wal", "-shm"):
            file.with_name(file.name + rest).unlink(missing_ok=True)
        return None
    old = data / f"workshop.before-restore-{now.strftime(STAMP)}.sqlite"
    _alone_with(file)
    for rest in ("", "-wal", "-shm"):
        part = file.with_name(file.name + rest)
        if part.is_file():
            put_file(part, old.with_name(old.name + rest))
    for rest in ("-wal", "-shm"):
        with suppress(FileNotFoundError):
            file.with_name(file.name + rest).unlink()
    return old
