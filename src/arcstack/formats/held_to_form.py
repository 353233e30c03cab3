"""What a file says was read and done, held to what a form would take. Each line that is not is named."""

import math
import re
from collections.abc import Iterator, Sequence
from datetime import UTC, datetime, timedelta
from typing import Any

from arcstack.document import Build, Sitting
from arcstack.document.places import places
from arcstack.errors import DocumentError, FieldError
from arcstack.readings import ASKED, Event, Reading, Sheet
from arcstack.readings.pictured import Pictured
from arcstack.readings.taking import entered
from arcstack.settings import setting
from arcstack.units import System

EARLIEST = datetime(2000, 1, 1, tzinfo=UTC)
AHEAD = timedelta(days=1)
"""A clock elsewhere may be ahead by so much."""

LARGEST_NUMBER, LONGEST_TEXT, DEEPEST = 2**53, int(setting("import.longest_text")), 12
SAME = 1e-6
_HASH, _KINDS = re.compile(r"[0-9a-f]{64}"), ("jpg", "png", "webp")


def plain_figures(raw: Any, where: str, depth: int = 0) -> None:
    """Raise ``DocumentError`` for a number that no figure is, a text without end, or rows nested without end."""
    if depth > DEEPEST:
        raise DocumentError("is nested deeper than anything of a bench", where)
    if isinstance(raw, str) and len(raw) > LONGEST_TEXT:
        raise DocumentError("holds a text that is too long", where)
    if isinstance(raw, int | float) and not (math.isfinite(raw) and abs(raw) < LARGEST_NUMBER):
        raise DocumentError("holds a number that no figure is", where)
    for inner in raw.values() if isinstance(raw, dict) else raw if isinstance(raw, list) else ():
        plain_figures(inner, where, depth + 1)


def hold(build: Build, readings: Sequence[Reading], events: Sequence[Event], where: str, now: datetime) -> None:
    """Raise ``DocumentError`` for the first line that no form would have taken: at a time that cannot be, a place that
    this head does not have, a figure that is not its text, a photograph without a name."""
    bare, labels = Sheet(build, (), (), ()), {p.label: p.side for p in places(build)}
    for n, r in enumerate(readings, 1):
        with _line(f"{where}, reading {n}") as at:
            _in_time(r.by, now, at)
            _reading(bare, labels, r, at)
    for n, e in enumerate(events, 1):
        with _line(f"{where}, event {n}") as at:
            _in_time(e.by, now, at)
            for label in _labels(e):
                _place(labels, label, at)
            if isinstance(e, Pictured) and not (_HASH.fullmatch(e.sha256) and e.format in _KINDS):
                raise DocumentError("names its photograph by no hash of it", at)


class _line:
    """One line: whatever a rule of a form says of it is said with its place."""

    def __init__(self, at: str) -> None:
        self.at = at

    def __enter__(self) -> str:
        return self.at

    def __exit__(self, kind: Any, error: BaseException | None, _trace: Any) -> None:
        if isinstance(error, FieldError):
            raise DocumentError(error.message, self.at) from error


def _in_time(by: Sitting, now: datetime, at: str) -> None:
    if by.at is None:
        raise DocumentError("does not say when it was said", at)
    try:
        moment = (by.at if by.at.tzinfo else by.at.replace(tzinfo=UTC)).astimezone(UTC)
    except OverflowError as error:
        raise DocumentError("was said at a time that is none", at) from error
    if not EARLIEST <= moment <= now + AHEAD:
        raise DocumentError(f"was said in the year {moment.year}, which cannot be", at)


def _reading(bare: Sheet, labels: dict[str, str], r: Reading, at: str) -> None:
    asked = ASKED[r.key]
    if not 0 <= r.service <= 10_000 or r.cuts < 0:
        raise DocumentError("counts what cannot be counted", at)
    if asked.item and not r.item:
        raise DocumentError("is of a spring, and names none", at)
    if not asked.item or r.place:
        _place(labels, r.place, at)
    if r.void:
        return
    value, _ = entered(bare, asked, labels.get(r.place, "intake"), r.typed, System.MM)
    if not math.isclose(value, r.value, rel_tol=SAME, abs_tol=SAME):
        raise DocumentError(f"says {r.value:.6g}, and its text says {r.typed}", at)


def _place(labels: dict[str, str], label: str, at: str) -> None:
    if label not in labels:
        raise DocumentError(f"is at {label or 'no place'}, which this head does not have", at)


def _labels(event: Event) -> Iterator[str]:
    """Places that an event names; empty ones mean the head or a side."""
    one, many = getattr(event, "place", ""), getattr(event, "places", ())
    yield from (label for label in (one, *many) if isinstance(label, str) and _LABEL.fullmatch(label))


_LABEL = re.compile(r"[A-Z]?\d+[IE]-[a-z]")
"""What is written as a valve's place; an event may also name another spot of the head in words."""
