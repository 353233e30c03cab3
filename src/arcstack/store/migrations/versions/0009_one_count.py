"""Readings and events counted together, in the order they were said: which came first is told by their numbers."""

import json
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"

NAMES = {
    "found_not": "finding", "pictured": "finding", "marked": "picture", "picture_off": "picture", "arrived": "order",
    "inspected": "order", "substituted": "order", "order_off": "order", "run_off": "run", "booked": "replaces",
    "reopened": "release",
}  # fmt: skip
"""Which field of an event names another event."""


def upgrade() -> None:
    op.create_index("ix_event_kind", "event", ["kind"], if_not_exists=True)
    rows = op.get_bind()
    readings = list(rows.execute(sa.text("SELECT id, at, build_id FROM reading ORDER BY id")))
    events = list(rows.execute(sa.text("SELECT id, at, kind, body FROM event ORDER BY id")))
    of_reading, of_event = _numbers(readings, events)
    last_reading, last_event = _last(readings), _last(events)
    # out of the way first, since a new number may be another row's old one
    free = max([0, *of_reading.values(), *last_reading, *last_event]) + 1
    for table, numbers in (("reading", of_reading), ("event", of_event)):
        if numbers:
            away = [{"was": was, "to": was + free} for was in numbers]
            there = [{"was": was + free, "to": to} for was, to in numbers.items()]
            move = sa.text(f"UPDATE {table} SET id = :to WHERE id = :was")
            rows.execute(move, away)
            rows.execute(move, there)
    replaced = [{"was": was, "to": to} for was, to in of_reading.items()]
    if replaced:
        found = list(rows.execute(sa.text("SELECT id, replaces FROM reading WHERE replaces IS NOT NULL")))
        told = [{"own": own, "to": of_reading.get(was)} for own, was in found]
        if told:
            rows.execute(sa.text("UPDATE reading SET replaces = :to WHERE id = :own"), told)
    for number, _at, kind, text in events:
        body = _renumbered(kind, json.loads(text), of_reading, of_event)
        if body is not None:
            rows.execute(
                sa.text("UPDATE event SET body = :body WHERE id = :own"),
                {"body": json.dumps(body, ensure_ascii=False, separators=(",", ":")), "own": of_event[number]},
            )


def _last(rows: list[Any]) -> list[int]:
    return [row[0] for row in rows[-1:]]


def _numbers(readings: list[Any], events: list[Any]) -> tuple[dict[int, int], dict[int, int]]:
    """New numbers by the old ones: by the clock, neither put before another of its own table."""
    of_reading: dict[int, int] = {}
    of_event: dict[int, int] = {}
    rest = list(reversed(events))
    for row in readings:
        while rest and rest[-1][1] < row[1]:
            of_event[rest.pop()[0]] = len(of_reading) + len(of_event) + 1
        of_reading[row[0]] = len(of_reading) + len(of_event) + 1
    while rest:
        of_event[rest.pop()[0]] = len(of_reading) + len(of_event) + 1
    return of_reading, of_event


def _renumbered(
    kind: str, body: dict[str, Any], of_reading: dict[int, int], of_event: dict[int, int]
) -> dict[str, Any] | None:
    """The event with what it names called by its new number; None where it names nothing."""
    if kind == "released":
        body["readings"] = max((new for old, new in of_reading.items() if old <= body.get("readings", 0)), default=0)
        body["events"] = max((new for old, new in of_event.items() if old <= body.get("events", 0)), default=0)
        return body
    name = NAMES.get(kind)
    if name is None or not body.get(name):
        return None
    return body | {name: of_event.get(body[name], 0)}


def downgrade() -> None:
    raise NotImplementedError("an earlier program reads the copy that was made before the upgrade")
