import math
import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from arcstack.errors import QuantityError
from arcstack.units import (
    ANGLE,
    COUNT,
    DIMENSIONS,
    FORCE,
    GAUGE_PRESSURE,
    LENGTH,
    MASS,
    MONEY,
    RATE,
    SPEED,
    Dimension,
    System,
    parse,
    plain,
    show,
)


@pytest.mark.parametrize(
    ("text", "dimension", "value"),
    [
        ("1.437 in", LENGTH, 36.4998),
        ("36.5", LENGTH, 36.5),
        ("36,5 mm", LENGTH, 36.5),
        ('0.050"', LENGTH, 1.27),
        ("50 thou", LENGTH, 1.27),
        ("1-7/16 in", LENGTH, 36.5125),
        ('3/8"', LENGTH, 9.525),
        ("-0.25", LENGTH, -0.25),
        ("25 µm", LENGTH, 0.025),
        ("95 lbf", FORCE, 422.581),
        ("95 lb", FORCE, 422.581),
        ("43 kg", FORCE, 421.686),
        ("207 lb/in", RATE, 36.2515),
        ("118 g", MASS, 0.118),
        ("24 psi", GAUGE_PRESSURE, 1.65474),
        ("22 inHg", GAUGE_PRESSURE, 0.745010),
        ("560 mmHg", GAUGE_PRESSURE, 0.746605),
        ("1.5 bar", GAUGE_PRESSURE, 1.5),
        ("106 deg", ANGLE, math.radians(106)),
        ("106°", ANGLE, math.radians(106)),
        ("8600", SPEED, 8600.0),
        ("8,100 rpm", SPEED, 8100.0),
        ("−0.29 mm", LENGTH, -0.29),
        ("95#", FORCE, 422.581),
        ("22 1/2", LENGTH, 22.5),
        ("1/2", LENGTH, 0.5),
        ("-1 3/4 mm", LENGTH, -1.75),
        ("36.75.", LENGTH, 36.75),
        ("4", COUNT, 4.0),
        ("8,000 rpm", SPEED, 8000.0),
        ("7 400", SPEED, 7400.0),
        ("7\u202f400 rpm", SPEED, 7400.0),
        ("7’400", SPEED, 7400.0),
        ("12,345,678 µm", LENGTH, 12345.678),
        ("8,100.5 rpm", SPEED, 8100.5),
        ("–0.29", LENGTH, -0.29),
        ("‐0.29 mm", LENGTH, -0.29),
        ("24 lb/in2", GAUGE_PRESSURE, 1.65474),
        ("24 lbf/in²", GAUGE_PRESSURE, 1.65474),
        ("207 lbs/inch", RATE, 36.2515),
        ("30º", ANGLE, math.radians(30)),
        ("30˚", ANGLE, math.radians(30)),
        ("€ 248,50", MONEY, 248.5),
        ("$1200", MONEY, 1200.0),
        ("1 200.50 EUR", MONEY, 1200.5),
        ("0.050''", LENGTH, 1.27),
    ],
)
def test_reads_what_a_builder_types(text: str, dimension: Dimension, value: float) -> None:
    assert parse(text, dimension).value == pytest.approx(value, rel=1e-5)


def test_a_bare_number_means_the_unit_of_the_field() -> None:
    assert parse("1.437", LENGTH, "in").value == pytest.approx(36.4998)
    assert parse("1.437", LENGTH, "in").typed == "1.437 in"


@pytest.mark.parametrize(
    ("text", "dimension", "words"),
    [
        ("thirty", LENGTH, "is no figure"),
        ("", LENGTH, "Nothing typed"),
        ("36.5 parsecs", LENGTH, "not a unit known here"),
        ("95 psi", FORCE, "a unit of gauge pressure; this field is a force"),
        ("24 lbf", GAUGE_PRESSURE, "a unit of force"),
        ("2.75 bar abs", GAUGE_PRESSURE, "absolute"),
        ("40 psia", GAUGE_PRESSURE, "absolute"),
        ("8,600", FORCE, "two ways: write 8600 or 8.600"),
        ("1.234,5", LENGTH, "two ways: write 1234.5 or 1.2345"),
        ("-1,234.5 mm", LENGTH, "two ways: write -1234.5 or -1.2345"),
        ("1.234,5 EUR", MONEY, "two ways: write 1234.5 or 1.2345"),
        ("$ 36", LENGTH, "is no figure"),
        ("7 40", SPEED, "not a unit"),
        ("1.234.5", LENGTH, "not a unit"),
        ("36\u200b5", LENGTH, "cannot be printed"),
        ("36" + " " * 37 + "5", LENGTH, "Too long"),
        ("1/0 in", LENGTH, "divides by nothing"),
        ("4.5", COUNT, "whole number"),
        ("9**9**9**9", LENGTH, "not a unit"),
        ("nan", LENGTH, "is no figure"),
        ("inf mm", LENGTH, "is no figure"),
        ("1" * 60, LENGTH, "Too long"),
        ("__import__('os')", LENGTH, "is no figure"),
    ],
)
def test_says_what_is_wrong(text: str, dimension: Dimension, words: str) -> None:
    with pytest.raises(QuantityError, match=re.escape(words)):
        parse(text, dimension)


@given(st.text(max_size=60), st.sampled_from(sorted(DIMENSIONS)))
def test_any_text_is_a_finite_figure_or_a_worded_refusal(text: str, name: str) -> None:
    try:
        parsed = parse(text, DIMENSIONS[name])
    except QuantityError as error:
        assert str(error)
    else:
        assert math.isfinite(parsed.value)
        assert parse(parsed.typed, DIMENSIONS[name]).value == parsed.value


_FIGURES = st.builds(
    "{}{}{}{}{}".format,
    st.sampled_from(["", "+", "-", "−"]),
    st.from_regex(r"[0-9]{1,4}([.,][0-9]{0,4})?|[.,][0-9]{1,3}|[0-9]{1,3}[ -][0-9]{1,2}/[0-9]{1,2}|[0-9]{1,2}/[0-9]{1,3}", fullmatch=True),
    st.sampled_from(["", "e2", "E-3"]),
    st.sampled_from(["", " ", "  ", "."]),
    st.sampled_from(sorted({w for d in DIMENSIONS.values() for w in d.words} | {w + "." for w in ("mm", "in", "lbf")})),
)  # fmt: skip


@given(_FIGURES, st.sampled_from(sorted(DIMENSIONS)), st.sampled_from(System))
def test_whatever_is_accepted_as_a_figure_reads_back_to_the_same(text: str, name: str, system: System) -> None:
    dimension = DIMENSIONS[name]
    try:
        parsed = parse(text, dimension, dimension.unit(system))
    except QuantityError:
        return
    assert len(parsed.typed) <= 40
    assert parsed.typed.isprintable()
    assert parse(parsed.typed, dimension) == parsed


@given(
    st.floats(-1e4, 1e4).filter(lambda x: x == 0 or abs(x) > 1e-3),
    st.sampled_from(sorted(set(DIMENSIONS) - {"count"})),
    st.sampled_from(System),
)
def test_plain_text_reads_back(value: float, name: str, system: System) -> None:
    dimension = DIMENSIONS[name]
    back = parse(plain(value, dimension, system), dimension, dimension.unit(system))
    assert back.value == pytest.approx(value, rel=1e-8)


def test_shows_speeds_grouped_and_signs_with_a_true_minus() -> None:
    assert str(show(9288.4, SPEED)) == "9,288 rpm"
    assert str(show(-0.29, LENGTH)) == "−0.29 mm"
    assert show(math.nan, LENGTH).number == "–"
