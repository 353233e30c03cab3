"""What is whole of a damaged database, row by row into a new one; what is not is named."""

import sqlite3
from contextlib import closing
from pathlib import Path

from arcstack.errors import StoreError
from arcstack.store import Database
from arcstack.store.database import known_versions
from arcstack.store.rows import every_table


def salvage(damaged: Path, target: Path) -> list[str]:
    """Write every row that can be read into a new workshop at ``target``; gives, in words, what could not be.

    Rows are read from both ends of each table to where it is damaged. Those that belong to a row that is gone go too.
    Raises ``StoreError`` where nothing can be read, or where another version wrote it.
    """
    Database.open(target).engine.dispose()
    lost: list[str] = []
    with closing(sqlite3.connect(f"file:{damaged}?mode=ro&immutable=1", uri=True)) as there:
        try:
            (version,) = there.execute("SELECT version_num FROM alembic_version").fetchone()
        except (sqlite3.Error, TypeError) as error:
            raise StoreError(f"Nothing of {damaged.name} can be read: {error}.") from error
        if version != known_versions()[-1]:
            raise StoreError("What is whole of it can be read by the version that wrote it only.")
        with closing(sqlite3.connect(target)) as here:
            here.execute("PRAGMA foreign_keys=OFF")
            for table in every_table():
                lost += _copied(there, here, table)
            lost += _orphans(here)
            here.commit()
    return lost


def _copied(there: sqlite3.Connection, here: sqlite3.Connection, table: str) -> list[str]:
    here.execute(f'DELETE FROM "{table}"')
    first, broke = _read(there, here, table, "ASC", None)
    if not broke:
        return []
    last, _ = _read(there, here, table, "DESC", first)
    between = f"after row {first}" if first is not None else "from its first row on"
    return [f"{table}: what stood {between}{f', up to row {last}' if last is not None else ''}, cannot be read"]


def _read(
    there: sqlite3.Connection, here: sqlite3.Connection, table: str, way: str, until: int | None
) -> tuple[int | None, bool]:
    """Rows from one end of a table, up to one that was read already or to where it is damaged; gives the last that was
    read, and whether it broke off."""
    last: int | None = None
    try:
        for row in there.execute(f'SELECT rowid, * FROM "{table}" ORDER BY rowid {way}'):
            if until is not None and row[0] <= until:
                return last, False
            marks = ", ".join("?" * (len(row) - 1))
            here.execute(f'INSERT OR IGNORE INTO "{table}" VALUES ({marks})', row[1:])
            last = row[0]
    except sqlite3.Error:
        return last, True
    return last, False


def _orphans(here: sqlite3.Connection) -> list[str]:
    """Take away rows that belong to one that is gone."""
    found: dict[str, int] = {}
    while rows := here.execute("PRAGMA foreign_key_check").fetchall():
        for table, rowid, *_ in rows:
            here.execute(f'DELETE FROM "{table}" WHERE rowid = ?', (rowid,))
            found[table] = found.get(table, 0) + 1
    return [f"{table}: {n} rows belonged to what is gone" for table, n in found.items()]
