"""Readings and events of a bench as JSON, and a build with all of its own in one file."""

import json
from collections.abc import Sequence
from contextlib import suppress
from datetime import UTC, datetime
from functools import cache
from typing import Any

from pydantic import TypeAdapter, ValidationError

from arcstack.document import Build
from arcstack.errors import DocumentError
from arcstack.formats.build_json import BENCH, read_build, write_build
from arcstack.formats.held_to_form import hold, plain_figures
from arcstack.readings import ASKED, KINDS, Event, Reading


@cache
def _adapter(kind: str) -> TypeAdapter[Any]:
    """What checks one kind of event, or a reading: made when one is read, for it takes long to make them all."""
    return TypeAdapter(Reading if kind == "reading" else KINDS[kind])


def reading_json(reading: Reading) -> dict[str, Any]:
    """A reading as JSON's own types."""
    found: dict[str, Any] = _adapter("reading").dump_python(reading, mode="json", exclude_defaults=True)
    return found


def event_json(event: Event) -> dict[str, Any]:
    """An event as JSON's own types, with its kind."""
    found: dict[str, Any] = _adapter(event.kind).dump_python(event, mode="json")
    return {"kind": event.kind, **found}


def read_reading(raw: Any) -> Reading:
    """Raises ``DocumentError``."""
    try:
        adapter = _adapter("reading")
        found: Reading = adapter.validate_json(raw) if isinstance(raw, str) else adapter.validate_python(raw)
    except ValidationError as error:
        raise _worded(error) from error
    if found.key not in ASKED:
        raise DocumentError(f"the bench reads no figure called “{found.key[:40]}”", "key")
    if len(found.typed) > 40 or len(found.place) > 12 or len(found.item) > 20:
        raise DocumentError("a text is too long", "reading")
    return found


def read_event(raw: Any) -> Event:
    """Raises ``DocumentError``."""
    if not isinstance(raw, dict) or raw.get("kind") not in KINDS:
        raise DocumentError("this is no event of the bench", "kind")
    try:
        made: Event = _adapter(raw["kind"]).validate_python({k: v for k, v in raw.items() if k != "kind"})
    except ValidationError as error:
        raise _worded(error) from error
    return made


def _worded(error: ValidationError) -> DocumentError:
    first = error.errors(include_url=False)[0]
    return DocumentError(first["msg"][:200], ".".join(str(p) for p in first["loc"])[:80])


def write_whole(build: Build, readings: Sequence[Reading], events: Sequence[Event]) -> str:
    """A build with its readings and events in one file; without any it is the build alone."""
    text = write_build(build)
    if not readings and not events:
        return text
    rows = {"readings": [reading_json(r) for r in readings], "events": [event_json(e) for e in events]}
    return json.dumps(json.loads(text) | {BENCH: rows}, indent=2, ensure_ascii=False) + "\n"


def read_whole(data: bytes | str, now: datetime | None = None) -> tuple[Build, list[Reading], list[Event]]:
    """A build with whatever readings and events its file carries, each held to what a form would take.

    Raises ``DocumentError``, with the line.
    """
    raw: Any = None
    with suppress(ValueError, RecursionError):  # read_build words it
        raw = json.loads(data)
    if not isinstance(raw, dict) or BENCH not in raw:
        return read_build(data), [], []
    rows = raw.pop(BENCH)
    if not isinstance(rows, dict) or not set(rows) <= {"readings", "events"}:
        raise DocumentError("holds something that no bench holds", BENCH)
    build = read_build(json.dumps(raw))
    for name in ("readings", "events"):
        if not isinstance(rows.get(name, []), list):
            raise DocumentError("is no list of rows", f"{BENCH}, {name}")
    plain_figures(rows, BENCH)
    readings = [_at(n, read_reading, r) for n, r in enumerate(rows.get("readings", ()), 1)]
    numbers = [r.number for r in readings]
    for r in readings:
        if r.replaces is not None and r.replaces not in numbers:
            raise DocumentError(f"reading {r.number} replaces one that is not there", BENCH)
    events = [_at(n, read_event, e) for n, e in enumerate(rows.get("events", ()), 1)]
    hold(build, readings, events, BENCH, now or datetime.now(UTC))
    return build, readings, events


def _at(number: int, read: Any, raw: Any) -> Any:
    try:
        return read(raw)
    except DocumentError as error:
        raise DocumentError(error.message, f"{BENCH}, row {number}, {error.where}") from error
