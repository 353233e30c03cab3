"""A backup put back in the place of the workshop."""

import json
import sqlite3
from collections.abc import Callable
from contextlib import closing
from datetime import datetime
from pathlib import Path

from arcstack.errors import StoreError
from arcstack.services.backups.copies import FILE, MANIFEST, PICTURES, STAMP, looked_through, opened, put_file, sync
from arcstack.store import Database, own_folder
from arcstack.store.trouble import worded


def restore(source: Path, data: Path, clock: Callable[[], datetime]) -> tuple[dict[str, int], Path | None]:
    """Put a backup, a folder or a portable file, in the place of the workshop in ``data``; what stood there is kept
    beside it. Gives what came back, and where the old file is.

    Nothing is changed unless the whole of the backup is good. Raises ``StoreError``, also while the workshop is served.
    """
    with worded(data), opened(source) as folder:
        pictures = folder / PICTURES if (folder / PICTURES).is_dir() else source.parent / PICTURES
        wrong = looked_through(folder, pictures, hashes=True)
        if wrong:
            raise StoreError(f"{source.name} is not good: {wrong}. Nothing was changed.")
        told = json.loads((folder / MANIFEST).read_text("utf-8"))
        own_folder(data)
        half = data / f"{FILE}.restoring"
        put_file(folder / FILE, half)
        for name in told["pictures"]:
            target = data / PICTURES / name
            if not target.is_file() or target.stat().st_size != (pictures / name).stat().st_size:
                own_folder(target.parent)
                put_file(pictures / name, target)
        old = _set_aside(data, clock())
        half.replace(data / FILE)
        sync(data)
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
    old = data / f"workshop.before-restore-{now.strftime(STAMP)}.sqlite"
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
            put_file(part, old.with_name(old.name + rest))
    for rest in ("-wal", "-shm"):
        file.with_name(file.name + rest).unlink(missing_ok=True)
    return old
