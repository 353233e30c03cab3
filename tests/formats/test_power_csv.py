"""Power curves as benches write them."""

import pytest

from arcstack.errors import DocumentError
from arcstack.formats.power_csv import Columns, Unit, read_power

SPEEDS = range(2000, 7000, 500)


def table(head: str, row: str, decimal: str = ".") -> bytes:
    """Rows of speed n, power n/20 and boost 1.5."""
    lines = [row.format(n=n, p=n / 20, b=1.5) for n in SPEEDS]
    return "\n".join([head, *(line.replace(".", decimal) if decimal == "," else line for line in lines)]).encode()


@pytest.mark.parametrize(
    ("data", "first"),
    [
        (table("rpm,power kW", "{n},{p}"), 100.0),
        (table("Drehzahl;Leistung PS", "{n};{p}", ","), 73.549875),
        (table("RPM\tbhp", "{n}\t{p}"), 74.5699872),
        (table("time,engine speed,whp", "1.0,{n},{p}"), 74.5699872),
        (table("rpm;torque N·m", "{n};{p}", ","), 100.0 * 2000.0 / 9549.296585),
        (table("rpm  lb-ft", "{n} {p}"), 135.58179483 * 2000.0 / 9549.296585),
    ],
)
def test_separators_columns_and_units(data: bytes, first: float) -> None:
    found = read_power(data)
    assert found.power[0] == (2000.0, pytest.approx(first))
    assert len(found.power) == len(SPEEDS)


def test_boost_comes_with_it_in_its_unit() -> None:
    found = read_power(table("rpm,kW,boost psi", "{n},{p},{b}"))
    assert found.boost[0] == (2000.0, pytest.approx(1.5 * 0.0689475729))
    assert found.understood[-1] == "boost psi: boost, psi"
    assert found.left_out == ()


def test_power_is_taken_before_torque_and_what_is_left_out_is_told() -> None:
    found = read_power(table("rpm,torque Nm,power kW,oil", "{n},400,{p},5"))
    assert found.power[0][1] == pytest.approx(100.0)
    assert found.left_out == ("torque Nm", "oil")


def test_a_curve_run_downwards_and_twice_at_one_speed_rises() -> None:
    rows = [f"{n},{n / 20}" for n in reversed(SPEEDS)] + ["2000,104"]
    found = read_power("\n".join(["rpm,kW", *rows]).encode())
    assert [n for n, _ in found.power] == list(SPEEDS)
    assert found.power[0][1] == pytest.approx(102.0)


def test_without_heads_the_reader_says() -> None:
    data = table("", "{n},{p},{b}")
    with pytest.raises(DocumentError, match="which column is the power"):
        read_power(data)
    found = read_power(data, Columns(1, 2, Unit.KW, 3, Unit.BAR))
    assert found.power[-1] == (6500.0, 325.0)
    assert found.boost[0][1] == 1.5
    with pytest.raises(DocumentError, match="there is no column 9"):
        read_power(data, Columns(1, 9, Unit.KW))


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "no rows of figures"),
        (b"\x00\x01", "no text"),
        (table("rpm,power", "{n},{p}"), "in which unit is “power”"),
        (table("rpm,kW,boost", "{n},{p},{b}"), "in which unit is the boost"),
        (table("rpm,kW", "{p},{n}"), "are no engine's"),
        (table("rpm,kW", "-{n},{p}"), "are no engine's: another column"),
        (table("rpm,kW", "{n},-{p}"), "powers from"),
        (table("rpm,kW", "{n}000,{p}"), "are no engine's"),
        (b"rpm,kW\n" + b"3000,100\n" * 12, "two speeds at least"),
        (b"x" * 9_000_000, "MB are more"),
    ],
)
def test_what_is_no_power_curve_is_refused_in_words(data: bytes, words: str) -> None:
    with pytest.raises(DocumentError, match=words):
        read_power(data)
