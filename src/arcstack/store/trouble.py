"""Trouble with the workshop's files, in plain words."""

import errno
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from sqlalchemy.exc import DatabaseError

from arcstack.errors import StoreError


@contextmanager
def worded(path: Path) -> Iterator[None]:
    """Raise trouble with the file at ``path`` as ``StoreError``: what is wrong, where, and what would be right."""
    try:
        yield
    except DatabaseError as error:
        told = _database_words(str(error.orig).lower(), path)
        if told is None:
            raise
        raise StoreError(told) from error
    except sqlite3.Error as error:
        told = _database_words(str(error).lower(), path)
        raise StoreError(told or f"The file {path} cannot be used: {error}.") from error
    except OSError as error:
        raise StoreError(system_words(error, path)) from error


def _database_words(said: str, path: Path) -> str | None:
    """None where the trouble is not the file's."""
    if "readonly" in said or "read-only" in said:
        return f"The workshop in {path} can be read but not written. Nothing was stored. Let its owner write there."
    if "disk is full" in said or "disk full" in said:
        return f"The disk that holds {path} is full. Nothing was stored. Make room, then do it again."
    if "malformed" in said or "not a database" in said or "corrupt" in said:
        return (
            f"The file {path} is damaged and cannot be read. Put a copy in its place, one named "
            f"{path.stem}.before-… beside it or one of your own, and do it again."
        )
    if "unable to open" in said:
        return f"The file {path} cannot be opened. See that the folder is there and may be written to."
    if "locked" in said or "busy" in said:
        return f"Another program holds {path}. Nothing was stored. Close it, then do it again."
    if "no such table" in said or "no such column" in said:
        return f"The file {path} is no workshop of Arc Stack. Take it away, or name another folder."
    if "already exists" in said:
        return f"The file {path} was left half made by a start that was cut off. Take it away; it holds no build."
    if "disk i/o" in said:
        return f"The disk that holds {path} does not take what is written. Nothing was stored."
    return None


def system_words(error: OSError, path: Path) -> str:
    """What is wrong with the disk that holds a file, and what to do."""
    if error.errno in (errno.ENOTDIR, errno.EEXIST):
        return f"{path.parent} is no folder, so no workshop can be kept there. Name another with --data."
    if error.errno in (errno.EACCES, errno.EPERM, errno.EROFS):
        return (
            f"Arc Stack may not write in {path.parent}. Let its owner write there, or name another folder with --data."
        )
    if error.errno == errno.ENOSPC:
        return f"The disk that holds {path.parent} is full. Nothing was stored. Make room, then do it again."
    return f"The workshop in {path.parent} cannot be kept: {error.strerror or error}."
