"""Springs typed in: tables, packs, and what cannot be."""

import pytest

from arcstack.document import Build, change
from arcstack.document.load_table import read_load_table
from arcstack.errors import FieldError

EMPTY = Build(name="x")


@pytest.mark.parametrize(
    "text",
    [
        "36 334; 31 490; 26 662",
        "36,0 334\n31,0 490\n26,0 662",
        "36 mm 334 N; 31 mm 490 N; 26 mm 662 N",
        "mm N; 26 662; 31 490; 36 334",
        "36\t334; 31\t490; 26\t662;",
        "3.6 cm 334 N; 31 490; 26 662",
    ],
)
def test_a_table_in_any_dress(text: str) -> None:
    found = read_load_table(text)
    assert found.heights_mm == pytest.approx((26.0, 31.0, 36.0))
    assert found.loads_N == pytest.approx((662.0, 490.0, 334.0))


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("36 334; 31 490; 33 520", "must rise as the spring is shortened"),
        ("36 334; 36 340; 26 662", "at one height"),
        ("36 334; soft; 26 662", "“soft” is no height and load"),
        ("36 N 334 mm; 31 490; 26 662", "row 1"),
        ("36 334; 26 66200; 30 500", "no valve spring's"),
        ("36 334; 26 662", "three readings or more"),
    ],
)
def test_a_table_that_cannot_be_is_told_at_its_field(text: str, words: str) -> None:
    with pytest.raises(FieldError) as told:
        change(EMPTY, "intake.stack.outer.table", text)
    assert words.lower() in told.value.message.lower()
    assert told.value.path == "intake.stack.outer.table"


def test_a_table_is_kept_as_it_was_typed() -> None:
    built = change(EMPTY, "exhaust.candidates.3.outer.table", "in lbf\n1.42 75\n1.22 110\n1.02 149\n")
    assert built.exhaust.candidate(3).outer.table == "in lbf; 1.42 75; 1.22 110; 1.02 149"
    assert built.exhaust.candidate(3).outer.table
    with pytest.raises(ValueError, match="no slot 6"):
        built.exhaust.candidate(6)


@pytest.mark.parametrize(
    ("base", "rows", "field", "words"),
    [
        ("stack.outer", {"outside": "15", "wire": "7.6"}, "wire", "leaves no room inside its coil"),
        (
            "candidates.1.inner",
            {"outside": "20", "wire": "7.9", "outside_top": "15.5"},
            "outside_top",
            "inside its top",
        ),
        ("candidates.2.outer", {"outside": "28", "outside_top": "30"}, "outside_top", "wider at the top"),
        ("stack.inner", {"coils": "6", "active": "6.5"}, "active", "more coils at work"),
        ("stack.outer", {"free_length": "40", "height_1": "41"}, "height_1", "not above the height of its load 1"),
        ("stack.outer", {"free_length": "22", "solid": "23"}, "solid", "not below its free length"),
    ],
)
def test_springs_that_cannot_be(base: str, rows: dict[str, str], field: str, words: str) -> None:
    build = EMPTY
    with pytest.raises(FieldError, match=words) as told:
        for name, text in rows.items():
            build = change(build, f"intake.{base}.{name}", text)
    assert told.value.path == f"intake.{base}.{field}"


def test_absolute_pressure_is_asked_about() -> None:
    with pytest.raises(FieldError, match="absolute"):
        change(EMPTY, "brief.boost", "2.5 bara")


def test_no_mass_is_no_part() -> None:
    with pytest.raises(FieldError):
        change(EMPTY, "intake.stack.valve.mass", "0 g")
