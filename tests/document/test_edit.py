import pytest

from arcstack.checks import Evidence
from arcstack.document import Build, Entry, change, clear, get, set_evidence
from arcstack.errors import FieldError
from arcstack.units import System
from tests.builds import BY


def built(*rows: tuple[str, str]) -> Build:
    build = Build(name="Bench")
    for path, text in rows:
        build = change(build, path, text)
    return build


def test_keeps_what_was_typed_and_its_unit() -> None:
    entry = get(built(("intake.cam.lobe_lift", "0.413 in")), "intake.cam.lobe_lift")
    assert isinstance(entry, Entry)
    assert entry.typed == "0.413 in"
    assert entry.value == pytest.approx(10.4902)


def test_a_bare_number_follows_the_unit_on_the_page() -> None:
    build = change(Build(name="x"), "engine.stroke", "3.4", system=System.INCH)
    assert build.engine.stroke is not None
    assert build.engine.stroke.value == pytest.approx(86.36)


def test_an_edit_leaves_the_old_document_alone() -> None:
    before = built(("engine.stroke", "86"))
    after = change(before, "engine.stroke", "87")
    assert before.engine.stroke is not None
    assert before.engine.stroke.value == 86
    assert after != before
    assert clear(after, "engine.stroke").engine.stroke is None
    assert change(after, "engine.stroke", " ").engine.stroke is None


def test_evidence_is_chosen_beside_the_figure() -> None:
    build = change(Build(name="x"), "intake.stack.outer.solid", "22.4", Evidence.PRINTED)
    unsigned = set_evidence(build, "intake.stack.outer.solid", Evidence.MEASURED)
    assert get(unsigned, "intake.stack.outer.solid").stands is Evidence.ASSUMED
    build = set_evidence(build, "intake.stack.outer.solid", Evidence.MEASURED, BY)
    assert get(build, "intake.stack.outer.solid").stands is Evidence.MEASURED
    assert get(build, "intake.stack.outer.solid").by == BY
    assert set_evidence(build, "intake.stack.inner.solid", Evidence.MEASURED) == build


@pytest.mark.parametrize(
    ("rows", "path", "text", "words"),
    [
        ([], "intake.stack.valve.stem", "60 mm", "not between 3.00 mm and 15.00 mm"),
        ([], "intake.stack.valve.stem", "-6", "not between"),
        ([], "engine.stroke", "95 lbf", "unit of force; this field is a length"),
        ([], "engine.stroke", "long", "is no figure"),
        ([("engine.stroke", "88")], "engine.rod", "43", "shorter than half the stroke"),
        ([("engine.rod", "95")], "engine.stroke", "195", "shorter than half the stroke"),
        ([("intake.stack.outer.outside", "28")], "intake.stack.inner.outside", "29", "larger than its outer"),
        ([("intake.stack.outer.outside", "10")], "intake.stack.outer.wire", "5", "no room inside its coil"),
        ([("intake.stack.outer.free_length", "40")], "intake.stack.outer.solid", "41", "not below its free length"),
        ([("brief.limiter", "8000")], "brief.overspeed", "7500", "below the limiter"),
        (
            [("exhaust.stack.outer.height_1", "36"), ("exhaust.stack.outer.load_1", "600"), ("exhaust.stack.outer.height_2", "26")],
            "exhaust.stack.outer.load_2", "300", "must rise as it is shortened",
        ),
        (
            [("exhaust.stack.outer.height_1", "36"), ("exhaust.stack.outer.load_1", "200"), ("exhaust.stack.outer.load_2", "300")],
            "exhaust.stack.outer.height_2", "36", "at one height",
        ),
        ([], "engine.follower", "roller", "Choose one of bucket, finger, rocker"),
        ([], "intake.stack.valve.code", "x" * 81, "At most 80"),
        ([], "intake.stack.valve.code", "a\x07b", "cannot be printed"),
        ([], "intake.stack.halo", "1", "no such field"),
    ],
)  # fmt: skip
def test_refuses_at_the_field_in_the_trades_words(
    rows: list[tuple[str, str]], path: str, text: str, words: str
) -> None:
    build = built(*rows)
    with pytest.raises(FieldError, match=words) as caught:
        change(build, path, text)
    assert caught.value.path == path
