"""Parts as a table: read whatever its separator, decimal and order, told line by line, carried out and back whole."""

import pytest

from arcstack.checks import Evidence
from arcstack.demo.loader import demo_shelf
from arcstack.errors import DocumentError
from arcstack.formats.shelf_csv import LARGEST_SHELF, MOST_PARTS, read_shelf, write_shelf
from arcstack.formats.shelf_json import read_shelf_json, write_shelf_json
from arcstack.shelf import PartKind, ShelfPart, blank, changed

POINT = """kind,name,Head Ø (mm),stem [mm],"mass, g",Price,On hand
valve,V-1,34.5,5.97,48.6,31.50,16
valve,V-2,33,6,1.7 oz,,
"""
COMMA = """Name;Sort;Stock;mass (g);Stem (mm);Head diameter (mm);cost
V-1;Valve;16;48,6;5,97;34,5;31,50
V-2;Valves;;1,7 oz;6;33;
"""


def same(one: ShelfPart, other: ShelfPart) -> bool:
    return one.model_copy(update={"key": other.key}) == other


@pytest.mark.parametrize(
    ("text", "separator", "decimal"),
    [(POINT, "commas", "point"), (COMMA, "semicolons", "comma"), (COMMA.replace(";", "\t"), "tabs", "comma"),
     (COMMA.replace(";", "|"), "bars", "comma")],
)  # fmt: skip
def test_any_separator_decimal_and_order(text: str, separator: str, decimal: str) -> None:
    for data in (text, text.encode(), b"\xef\xbb\xbf" + text.encode(), text.encode("utf-16")):
        read = read_shelf(data)
        assert (read.wrong, read.problems, read.separator, read.decimal) == ("", (), separator, decimal)
        first, second = read.parts
        assert (first.name, first.on_hand, first.at("head").value, first.at("stem").value) == ("V-1", 16, 34.5, 5.97)
        assert first.at("mass").value == pytest.approx(0.0486)
        assert second.at("mass").value == pytest.approx(1.7 * 0.028349523125)
        assert first.price is not None
        assert first.price.value == 31.5
        assert second.price is None
    assert [c.understood for c in read.columns].count("") == 0


def test_what_is_wrong_is_told_at_its_line_and_the_rest_is_read() -> None:
    text = """kind,name,head (mm),stem (in),colour
valve,V-1,34.5,0.235,red
valve,V-2,=A1+1,0.235,red
gadget,V-3,34.5,0.235,red
valve,V-1,34.5,0.235,red
valve,V-4,345,0.235,red
valve,,34.5,0.235,red
valve,V-5,34.5
valve,V-6,many,0.235,red
"""
    read = read_shelf(text)
    told = {line.number: "; ".join(line.problems) for line in read.lines}
    assert [p.name for p in read.parts] == ["V-1"]
    assert read.parts[0].at("stem").typed == "0.235 in"
    assert told[2] == ""
    assert "a formula" in told[3]
    assert told[4] == "no such kind of part"
    assert told[5] == "the same part as in line 2"
    assert "345" in told[6]
    assert "mm" in told[6]
    assert "needs a name" in told[7]
    assert told[8] == "ends after 3 of 5 columns"
    assert "many" in told[9]
    assert not read.sound
    assert next(c for c in read.columns if c.heading == "colour").understood == ""


@pytest.mark.parametrize(
    ("data", "said"),
    [
        ("", "A first line of headings"), ("kind,name\n", "A first line of headings"), (b"\x00\x01\x02", "no text"),
        ("name,head\nV,34\n", "Say what these parts are"), ("kind,head\nvalve,34\n", "No column gives"),
        ("kind,name,head,Head diameter\nvalve,V,34,35\n", "Two columns are both taken for"),
        ("kind,name\n" + "valve,V\n" * (MOST_PARTS + 1), "take at most"), ("x" * (LARGEST_SHELF + 1), "longer than"),
        ('kind,name\nvalve,"V', ""),
    ],
)  # fmt: skip
def test_a_file_that_cannot_be_taken_says_why(data: str | bytes, said: str) -> None:
    read = read_shelf(data)
    assert said in read.wrong
    assert bool(read.wrong) is bool(said)


def test_one_kind_needs_no_column_for_it() -> None:
    read = read_shelf("name,offset (mm),taper (deg)\nR-1,0.5,10\nR-2,-0.5,14\n", PartKind.RETAINER)
    assert [p.at("offset").value for p in read.parts] == [0.5, -0.5]
    assert {p.kind for p in read.parts} == {PartKind.RETAINER}


def test_a_part_that_is_here_already_is_changed_not_doubled() -> None:
    held = read_shelf(POINT).parts[0]
    read = read_shelf(POINT.replace("34.5", "34.6"), held=[held])
    assert read.parts[0].key == held.key
    assert read.parts[0].at("head").value == 34.6
    assert read.parts[1].key != held.key


def test_the_whole_shelf_goes_out_and_comes_back() -> None:
    parts = demo_shelf()
    assert len(parts) >= 150
    read = read_shelf(write_shelf(parts))
    assert (read.wrong, read.problems) == ("", ())
    assert all(same(a, b) for a, b in zip(parts, read.parts, strict=True))
    assert read_shelf_json(write_shelf_json(parts)) == parts
    kinds = {p.kind for p in parts}
    assert kinds == set(PartKind)


def test_origins_none_tables_and_other_units_survive_both_files() -> None:
    part = blank("0" * 32, PartKind.RETAINER, "R-1")
    part = changed(part, "offset", "none")
    part = changed(part, "mass", "0.35 oz", Evidence.ASSUMED)
    part = changed(part, "material", "titanium")
    pack = changed(blank("1" * 32, PartKind.PACK, "P"), "outer.table", "36 334; 31 490; 26 662")
    for made in (read_shelf(write_shelf([part, pack])).parts, read_shelf_json(write_shelf_json([part, pack]))):
        assert all(same(a, b) for a, b in zip((part, pack), made, strict=True)), made


def test_nothing_is_written_that_a_spreadsheet_would_run() -> None:
    part = changed(blank("0" * 32, PartKind.SEAL, "+SUM(A1)"), "note", "=cmd|' /C calc'!A0")
    text = write_shelf([part, changed(part, "name", "@x")])
    for line in text.splitlines()[1:]:
        assert not any(cell.startswith(("=", "+", "@", "-")) for cell in line.replace('"', "").split(","))
    back = read_shelf(text)
    assert [p.name for p in back.parts] == ["+SUM(A1)", "@x"]
    assert back.parts[0].note == part.note


@pytest.mark.parametrize("text", ["{}", "[]", "{", '{"format":"arc-stack-shelf","version":1,"parts":[{"kind":"valve"}]}',
    '{"format":"arc-stack-shelf","version":1,"parts":[{"key":"' + "0" * 32 + '","kind":"seal","name":"S","body":{"stem":{"value":600,"typed":"600 mm","evidence":"printed"}}}]}',
])  # fmt: skip
def test_a_broken_document_is_refused_in_words(text: str) -> None:
    with pytest.raises(DocumentError):
        read_shelf_json(text)
    double = write_shelf_json([blank("0" * 32, PartKind.SEAL, "S")] * 2)
    with pytest.raises(DocumentError, match="one key"):
        read_shelf_json(double)
