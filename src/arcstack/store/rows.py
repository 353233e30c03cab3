"""Every table of the workshop as plain rows, out and in."""

import json
import zlib
from collections.abc import Callable, Iterator, Sequence
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import Column, insert, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from arcstack.errors import DocumentError
from arcstack.store.numbers import look_anew
from arcstack.store.tables import Base

LEFT_OUT = frozenset({"person", "signed_in", "guess", "trail", "seal", "link_address"})
"""Passwords, even as hashes, sessions, seals and what this machine may reach leave with a backup only."""

_INSIDE = frozenset({"document", "body", "more", "summary"})
"""Columns whose text is JSON: it stands in a row as such."""


def tables() -> list[str]:
    """Names of the tables, those first that others rest on."""
    return [t.name for t in Base.metadata.sorted_tables if t.name not in LEFT_OUT]


def every_table() -> list[str]:
    """Names of all of them, those too that leave with a backup only."""
    return [t.name for t in Base.metadata.sorted_tables]


def rows_of(session: Session, name: str) -> Iterator[dict[str, Any]]:
    """Rows of a table as JSON's own types: packed documents unpacked, days in ISO."""
    table = Base.metadata.tables[name]
    for row in session.execute(select(table).order_by(*table.primary_key)).mappings():
        yield {c.name: _out(c.name, row[c.name]) for c in table.columns}


def _out(name: str, value: Any) -> Any:
    if isinstance(value, bytes):
        return json.loads(zlib.decompress(value))
    if isinstance(value, datetime):
        return value.isoformat()
    if name in _INSIDE and isinstance(value, str) and value[:1] in "{[":
        return json.loads(value)
    return value


def empty(session: Session) -> bool:
    """Whether there is no build yet."""
    return session.execute(select(Base.metadata.tables["build"].c.id).limit(1)).first() is None


def put_rows(session: Session, name: str, raw: Sequence[Any], kept_as: Callable[[str], str]) -> int:
    """Put rows into a table in the place of what it held; gives how many. ``kept_as`` gives each packed document as it
    is to be kept, and raises where it is none. Raises ``ValueError``, worded with the row."""
    table = Base.metadata.tables[name]
    known, made = {c.name for c in table.columns}, []
    for n, row in enumerate(raw, 1):
        if not isinstance(row, dict) or set(row) != known:
            raise ValueError(f"row {n} holds something else than its columns")
        try:
            made.append({c.name: _in(c, row[c.name], kept_as) for c in table.columns})
        except (ValueError, TypeError, DocumentError) as error:
            raise ValueError(f"row {n}: {error}") from error
    session.execute(table.delete())
    try:
        if made:
            session.execute(insert(table), made)
    except IntegrityError as error:
        raise ValueError("rows of it belong to nothing, or stand there twice") from error
    look_anew(session)
    return len(made)


def _in(column: Column[Any], value: Any, kept_as: Callable[[str], str]) -> Any:
    kind = column.type.python_type.__name__
    if value is None:
        if not column.nullable:
            raise ValueError(f"{column.name} is empty")
        return None
    if kind == "bytes":
        text = json.dumps(value, ensure_ascii=False, separators=(",", ":"))
        return zlib.compress(kept_as(text).encode(), 6)
    if kind == "datetime":
        at = datetime.fromisoformat(value)
        return at.astimezone(UTC).replace(tzinfo=None) if at.tzinfo else at
    if isinstance(value, dict | list):
        return json.dumps(value, ensure_ascii=False, separators=(",", ":"))
    if kind == "float" and isinstance(value, int):
        return float(value)
    if type(value).__name__ != kind:
        raise TypeError(f"{column.name} is no {kind}")
    return value
