"""What a builder types every day: doubtful units, names of fields, notes, days."""

from collections import Counter

import pytest

from arcstack.demo import demo_builds
from arcstack.document import FIELDS, Build, Entry, change, get, spoken
from arcstack.document.edit import LONGEST_FIELD_NOTE, MOST_NOTES, with_note
from arcstack.document.fields import Kind
from arcstack.errors import FieldError
from arcstack.units import System

BUILD = Build(name="x")


@pytest.mark.parametrize(
    ("path", "text", "system", "readings"),
    [
        ("intake.stack.shims.1", ".030", System.MM, ("0.030 mm", "0.030 in")),
        ("intake.stack.shims.1", "0.76", System.INCH, ("0.76 in", "0.76 mm")),
        ("intake.cam.lash", "0.008", System.MM, ("0.008 mm", "0.008 in")),
        ("exhaust.stack.open_height", "1.437", System.MM, ("1.437 mm", "1.437 in")),
        ("intake.stack.retainer.offset", "-.02", System.MM, ("-0.02 mm", "-0.02 in")),
        ("intake.stack.outer.rate", "207", System.MM, ("207 N/mm", "207 lbf/in")),
        ("intake.stack.outer.load_1", "38", System.MM, ("38 N", "38 lbf")),
        ("intake.stack.valve.mass", "4.2", System.MM, ("4.2 g", "4.2 oz")),
        ("brief.boost", "22", System.MM, ("22 bar", "22 psi")),
        ("brief.boost", "1.5", System.INCH, ("1.5 psi", "1.5 bar")),
    ],
)
def test_a_bare_figure_that_is_usual_in_the_other_unit_only_is_asked_about(
    path: str, text: str, system: System, readings: tuple[str, str]
) -> None:
    with pytest.raises(FieldError) as told:
        change(BUILD, path, text, system=system)
    assert told.value.readings == readings
    # with its unit said, or as the other reading, it is taken where the part can be so
    other = change(BUILD, path, readings[1], system=system)
    assert get(other, path).typed == readings[1]


@pytest.mark.parametrize(
    ("path", "text", "system"),
    [
        ("intake.stack.shims.1", "0.030 mm", System.MM), ("intake.stack.shims.1", "0", System.MM),
        ("intake.stack.shims.1", "0.75", System.MM), ("intake.stack.shims.1", ".030", System.INCH),
        ("intake.cam.lash", "0.2", System.MM), ("intake.stack.outer.rate", "30", System.MM),
        ("engine.stroke", "86.2", System.MM), ("brief.limiter", "8,100", System.INCH),
        ("intake.cam.centreline", "106", System.INCH), ("intake.stack.retainer.offset", "-0.5", System.MM),
    ],
)  # fmt: skip
def test_what_is_usual_or_has_its_unit_is_never_asked_about(path: str, text: str, system: System) -> None:
    assert isinstance(get(change(BUILD, path, text, system=system), path), Entry)


def test_no_demo_figure_typed_bare_in_its_own_unit_is_doubted() -> None:
    """The demo's figures are usual ones: none of them may be asked about."""
    for build in demo_builds():
        for path, field in FIELDS.items():
            held = get(build, path)
            if field.kind is Kind.QUANTITY and isinstance(held, Entry):
                number, _, unit = held.typed.partition(" ")
                dimension = field.quantity.dimension  # type: ignore[union-attr]
                for system in System:
                    if unit == dimension.unit(system) and dimension.unit(System.MM) != dimension.unit(System.INCH):
                        assert get(change(BUILD, path, number, system=system), path).value == held.value


def test_out_of_range_in_both_units_is_refused_without_a_choice() -> None:
    with pytest.raises(FieldError, match="not between") as told:
        change(BUILD, "intake.stack.open_height", "900")
    assert told.value.readings == ()


def test_every_field_is_spoken_of_in_its_own_words() -> None:
    said = Counter(spoken(path) for path in FIELDS)
    assert [words for words, times in said.items() if times > 1] == []
    for words in said:
        assert "_" not in words
        assert not any(part in words for part in ("stack", "durations", "candidates", "intake intake"))


@pytest.mark.parametrize(
    ("path", "words"),
    [
        ("exhaust.cam.tdc_event", "exhaust cam, closes after TDC"),
        ("intake.cam.tdc_event", "intake cam, opens before TDC"),
        ("exhaust.cam.bdc_event", "exhaust cam, opens before BDC"),
        ("intake.follower.rocker.arm", "intake rocker, pivot to tip"),
        ("intake.stack.valve.mass", "intake valve mass"),
        ("intake.stack.valve.code", "intake valve, code"),
        ("intake.stack.height_basis", "intake open height taken"),
        ("head.marks", "marks"),
    ],
)
def test_a_field_is_spoken_of_with_its_side_and_part(path: str, words: str) -> None:
    assert spoken(path) == words


def test_a_note_stands_on_a_field_and_goes_when_it_is_emptied() -> None:
    noted = with_note(BUILD, "intake.cam.lash", "  feeler went tight at 0.19  ")
    assert noted.notes == {"intake.cam.lash": "feeler went tight at 0.19"}
    assert with_note(noted, "intake.cam.lash", " ").notes == {}
    assert with_note(noted, "intake.cam.lash", "x" * LONGEST_FIELD_NOTE).notes["intake.cam.lash"].startswith("xx")
    with pytest.raises(FieldError, match="at most 500 characters; this has 501"):
        with_note(BUILD, "intake.cam.lash", "x" * (LONGEST_FIELD_NOTE + 1))
    with pytest.raises(FieldError, match="cannot be printed"):
        with_note(BUILD, "intake.cam.lash", "a\u200bb")
    with pytest.raises(FieldError, match="no such field"):
        with_note(BUILD, "intake.cam.nothing", "x")
    full = BUILD.model_copy(update={"notes": {f"intake.stack.shims.{n}": "x" for n in range(MOST_NOTES)}})
    with pytest.raises(FieldError, match="200 fields at most"):
        with_note(full, "intake.cam.lash", "one more")


def test_a_day_is_a_day_of_the_calendar() -> None:
    assert change(BUILD, "job.received", "2026-03-14").job.received == "2026-03-14"
    assert change(BUILD, "job.received", "").job.received == ""
    for text in ("2026-02-30", "14.3.2026", "soon"):
        with pytest.raises(FieldError, match="year-month-day"):
            change(BUILD, "job.received", text)
