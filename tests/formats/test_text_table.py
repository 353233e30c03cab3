"""One rule for tables: what is read as a shelf, as readings, as runs and as a lift curve is read alike."""

import pytest

from arcstack.demo import demo_builds
from arcstack.errors import DocumentError
from arcstack.formats import read_table
from arcstack.formats.power_csv import read_power
from arcstack.formats.readings_csv import read_readings
from arcstack.formats.shelf_csv import read_shelf
from arcstack.formats.text_table import columns_of, is_formula, table_of, text_of
from arcstack.readings import Sheet
from arcstack.shelf import PartKind

RUNS = "rpm;Leistung kW\n" + "\n".join(f"{n};{n / 30:.1f}".replace(".", ",") for n in range(3000, 8000, 500))
LIFT = "Winkel;Hub mm\n" + "\n".join(
    f"{a};{max(0.0, 10.0 * (1.0 - (a / 60.0) ** 2)):.3f}".replace(".", ",") for a in range(-70, 71, 2)
)
PARTS = "Name;Länge (mm)\nSänger;104,25\nMöwe;105,5\n"
READINGS = "place;item;installed height (mm)\n1I-a;;36,125\n1I-b;;36,5\n"

ENCODINGS = ("utf-8", "utf-8-sig", "utf-16", "cp1252")


@pytest.mark.parametrize("encoding", ENCODINGS)
def test_every_table_is_read_in_every_character_set(encoding: str) -> None:
    assert len(read_power(RUNS.encode(encoding)).power) == 10
    assert read_table(LIFT.encode(encoding)).header == ("Winkel", "Hub mm")
    assert [line.name for line in read_shelf(PARTS.encode(encoding), PartKind.VALVE).lines] == ["Sänger", "Möwe"]
    rows = read_readings(READINGS.encode(encoding), Sheet(demo_builds()[0]))
    assert [(r.line, r.place, r.wrong) for r in rows] == [(2, "1I-a", ""), (3, "1I-b", "")]


def test_three_digits_behind_a_comma_are_decimals_where_the_table_writes_them_so() -> None:
    rows = read_readings(READINGS, Sheet(demo_builds()[0]))
    assert rows[0].text == "36.125 mm"


@pytest.mark.parametrize("data", [b"\x89PNG\r\n\x00\x01", "a\0b", b"\xff\xfe\x00"])
def test_what_is_no_text_is_told_by_every_reader(data: bytes | str) -> None:
    with pytest.raises(DocumentError, match="no text"):
        text_of(data)
    assert "no text" in read_shelf(data, PartKind.VALVE).wrong
    with pytest.raises(DocumentError, match="no text"):
        read_readings(data, Sheet(demo_builds()[0]))
    if isinstance(data, bytes):
        with pytest.raises(DocumentError, match="no text"):
            read_power(data)


@pytest.mark.parametrize(
    ("text", "separator", "decimal", "width"),
    [
        ("a;b\n1,5;2,25\n", ";", ",", 2),
        ("a\tb\n1.5\t2,250\n1.25\t3\n", "\t", ".", 2),
        ("a,b\n1.5,2\n", ",", ".", 2),
        ("a|b|c\n1,5|2|3\n", "|", ",", 3),
        ('a;b\n"1;2";3\n', ";", ".", 2),
        ("only\n1\n", ";", ".", 1),
    ],
)
def test_separator_and_decimal_mark_are_told_by_the_table_itself(
    text: str, separator: str, decimal: str, width: int
) -> None:
    table = table_of(text)
    assert (table.separator, table.decimal, len(table.head)) == (separator, decimal, width)


def test_lines_are_counted_as_the_file_has_them_and_no_more_are_read_than_asked() -> None:
    table = table_of('a;b\n\n"two\nlines";1\n;\nlast;2\n')
    assert [line for line, _ in table.rows] == [1, 4, 6]
    assert len(table_of("a;b\n" + "1;2\n" * 50, most=10).rows) == 11


def test_headings_keep_the_case_of_their_units_and_formulas_are_known() -> None:
    assert columns_of(("Load 1 [N]", "Rate, N/mm", "'+x (mm)")) == (("Load 1", "N"), ("Rate", "N/mm"), ("+x", "mm"))
    assert (is_formula(" =A1"), is_formula("A=1")) == (True, False)
