"""A file is read as strictly as a form: what no form would take is refused, by its line, and nothing of it is stored."""

import json
from collections.abc import Callable
from datetime import UTC, datetime
from typing import Any

import pytest

from arcstack.demo.returned import returned_head
from arcstack.errors import DocumentError
from arcstack.formats.readings_json import BENCH, read_whole, write_whole
from arcstack.readings.brought import BY_FILE, BroughtAct, event_by_file, reading_by_file
from arcstack.readings.recorded import Released

NOW = datetime(2026, 12, 1, 12, 0, tzinfo=UTC)
RELEASED = {
    "kind": "released", "number": 90_000, "revision": 1, "readings": 1, "events": 1, "digest": "0" * 64,
    "answers": "Ilse", "waived": [], "next_look": "x", "by": {"hand": "Ilse", "at": "2026-03-01T08:30:00Z"},
}  # fmt: skip


@pytest.fixture(scope="module")
def text() -> str:
    return write_whole(*returned_head())


def read(text: str, change: Callable[[dict[str, Any]], object]) -> Any:
    raw = json.loads(text)
    change(raw[BENCH])
    return read_whole(json.dumps(raw), NOW)


def test_what_this_program_wrote_is_taken(text: str) -> None:
    build, readings, events = read_whole(text, NOW)
    assert (build, readings, list(events)) == (returned_head()[0], list(returned_head()[1]), list(returned_head()[2]))


def _set(rows: str, number: int, *path: str, to: object) -> Callable[[dict[str, Any]], object]:
    def change(bench: dict[str, Any]) -> None:
        row = bench[rows][number]
        for name in path[:-1]:
            row = row[name]
        row[path[-1]] = to

    return change


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (_set("readings", 0, "by", "at", to=None), "reading 1: does not say when"),
        (_set("readings", 2, "by", "at", to="9999-01-01T00:00:00Z"), "reading 3: was said in the year 9999"),
        (_set("readings", 0, "by", "at", to="0001-01-01T00:00:00+14:00"), "reading 1: was said"),
        (_set("readings", 0, "by", "at", to="2026-12-03T00:00:00Z"), "reading 1: was said in the year 2026"),
        (_set("readings", 0, "service", to=10**20), "holds a number that no figure is"),
        (_set("readings", 0, "service", to=-1), "counts what cannot be counted"),
        (_set("readings", 0, "place", to="9I-a"), "reading 1: is at 9I-a, which this head does not have"),
        (_set("readings", 0, "place", to=""), "reading 1"),
        (_set("readings", 0, "value", to=1.0), "reading 1: says 1, and its text says"),
        (_set("readings", 0, "typed", to="nonsense"), "reading 1"),
        (_set("readings", 0, "note", to="x" * 30_000), "a text that is too long"),
        (_set("events", 0, "by", "at", to=None), "event 1: does not say when"),
        (lambda bench: bench.update(readings=None), "is no list of rows"),
        (lambda bench: bench.update(events={}), "is no list of rows"),
        (lambda bench: bench.update(readings=[1]), "row 1"),
        (lambda bench: bench["events"].append({"kind": "put", "number": 1, "item": "V1", "sort": "valve",
            "place": "9I-a", "by": {"hand": "x", "at": "2026-03-01T00:00:00Z"}}), "9I-a, which this head does not have"),
        (lambda bench: bench["events"].append({"kind": "pictured", "number": 1, "sha256": "../../x", "format": "jpg",
            "width": 1, "height": 1, "size": 1, "name": "x", "shot": "", "place": "", "item": "", "finding": 0,
            "look": "incoming", "by": {"hand": "x", "at": "2026-03-01T00:00:00Z"}}), "no hash of it"),
    ],
)  # fmt: skip
def test_a_line_that_no_form_would_take_is_refused_by_its_number(
    text: str, change: Callable[[dict[str, Any]], object], words: str
) -> None:
    with pytest.raises(DocumentError) as error:
        read(text, change)
    assert words in str(error.value)


def test_a_forged_signature_is_told_of_and_is_none(text: str) -> None:
    _, readings, events = read(text, lambda bench: bench["events"].append(RELEASED))
    assert isinstance(events[-1], Released)
    told = event_by_file(events[-1])
    assert isinstance(told, BroughtAct)
    assert (told.act, told.by.hand) == ("released", f"Ilse{BY_FILE}")
    assert "answers for clearance" in told.words
    # said once, however often it goes out and comes in
    assert reading_by_file(reading_by_file(readings[0])) == reading_by_file(readings[0])
    assert event_by_file(told) == told
