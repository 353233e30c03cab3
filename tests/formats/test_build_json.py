import json
from dataclasses import fields
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from arcstack.checks import Evidence
from arcstack.demo import demo_builds
from arcstack.document import FIELDS, Build, Kind, change
from arcstack.errors import DocumentError, FieldError
from arcstack.formats import LARGEST, read_build, schema, write_build
from arcstack.readings import KINDS
from arcstack.units import System, plain

QUANTITIES = sorted(p for p, f in FIELDS.items() if f.kind is Kind.QUANTITY)


@pytest.mark.parametrize("build", demo_builds(), ids=lambda b: b.name)
def test_a_build_leaves_and_comes_back_whole(build: Build) -> None:
    text = write_build(build)
    assert read_build(text) == build
    assert write_build(read_build(text.encode())) == text


@st.composite
def edits(draw: st.DrawFn) -> tuple[str, str, Evidence, System]:
    path = draw(st.sampled_from(QUANTITIES))
    quantity = FIELDS[path].quantity
    assert quantity is not None
    system = draw(st.sampled_from(System))
    value = draw(st.floats(quantity.low, quantity.high))
    text = plain(float(f"{value:.4g}"), quantity.dimension, system)
    return path, text, draw(st.sampled_from(Evidence)), system


@settings(suppress_health_check=[HealthCheck.too_slow], deadline=None, max_examples=60)
@given(
    st.lists(edits(), max_size=12),
    st.text(st.characters(codec="utf-8", categories=["L", "N", "P"]), min_size=1, max_size=60),
)
def test_any_build_that_can_be_typed_survives_the_round_trip(
    rows: list[tuple[str, str, Evidence, System]], name: str
) -> None:
    build = Build(name=name)
    for path, text, evidence, system in rows:
        try:
            build = change(build, path, text, evidence, system)
        except FieldError:
            continue
    assert read_build(write_build(build)) == build


def document(**changes: Any) -> str:
    return json.dumps(json.loads(write_build(demo_builds()[0])) | changes)


def with_figure(value: Any, typed: str = "86.2 mm") -> str:
    raw = json.loads(write_build(demo_builds()[0]))
    raw["engine"]["stroke"] = {"value": value, "typed": typed, "evidence": "measured"}
    return json.dumps(raw)


@pytest.mark.parametrize(
    ("text", "where", "words"),
    [
        (write_build(demo_builds()[0])[:3000], "line 1", "cut off"),
        ("{", "line 1", "cut off"),
        ("", "line 1", "cut off"),
        ("hello", "line 1", "not JSON"),
        ("[]", "", "not a build"),
        ("{}", "format", "not a build document"),
        (document(version=5), "version", "is of version 5; this program reads version 4 and earlier"),
        (document(version=0), "version", "is of version 0"),
        (document(version=True), "version", "of version True"),
        (document(practice="nobody"), "practice", "no practice called"),
        (document(colour="red"), "colour", "no build has this field"),
        (document(name=""), "name", "at least 1 character"),
        (document(overrides={"spring.halo": {"reason": "because"}}), "overrides", "no limit called"),
        ("[" * 100_000, "", "no build is"),
        ('{"format": "arc-stack-build", "format": "arc-stack-build"}', "", "stands twice"),
        (with_figure(float("inf")), "", "Infinity is no figure"),
        (with_figure(1e400), "", "no figure"),
        (with_figure(90.0), "engine", "do not agree"),
        (with_figure(900.0, "900 mm"), "engine", "not between"),
        (with_figure("86.2; DROP TABLE build", "86.2 mm"), "engine.stroke", "valid number"),
        (with_figure(86.2, "86.2\u0000mm"), "engine.stroke", "cannot be printed"),
        (b"\xff\xfe\x00photo", "", "not text"),
        (" " * (LARGEST + 1), "", "MB long"),
    ],
)  # fmt: skip
def test_a_document_that_is_no_build_is_refused_with_its_place(text: str | bytes, where: str, words: str) -> None:
    with pytest.raises(DocumentError, match=words) as caught:
        read_build(text)
    assert where in caught.value.where


def test_parts_that_cannot_be_are_refused_on_the_way_in() -> None:
    raw = json.loads(write_build(demo_builds()[0]))
    raw["engine"]["rod"] = {"value": 43.0, "typed": "43 mm", "evidence": "printed"}
    with pytest.raises(DocumentError, match="shorter than half the stroke") as caught:
        read_build(json.dumps(raw))
    assert caught.value.where == "engine.rod (Rod, centre to centre)"


def test_the_schema_describes_what_is_written() -> None:
    described = schema()
    assert described["title"] == "Arc Stack build"
    written = json.loads(write_build(demo_builds()[0]))
    assert set(written) <= set(described["properties"])
    assert json.loads(write_build(Build(name="x"))) == {"format": "arc-stack-build", "version": 4, "name": "x"}
    assert described["additionalProperties"] is False


def test_no_event_has_a_field_by_the_name_that_says_what_it_is() -> None:
    assert [m.__name__ for m in KINDS.values() if "kind" in {f.name for f in fields(m)}] == []
