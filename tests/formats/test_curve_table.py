"""A lobe written as each accepted text form, by hand, and read back to within its rounding."""

import math
import re

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from arcstack.formats import AngleUnit, Choices, Direction, LiftUnit, read_table, write_curve
from arcstack.mech.cam.facts import duration_crank_rad, facts
from arcstack.mech.cam.law import Array, SymmetricLobe
from arcstack.mech.cam.smoothing import smooth

LOBE = SymmetricLobe.polynomial(10.4, math.radians(72.0), (2.0, 8.0, 14.0, 20.0))
DEGREES = np.arange(0.0, 360.0)
LIFT = LOBE.evaluate(np.radians((DEGREES - 143.0 + 180.0) % 360.0 - 180.0))


def rows(angle: np.ndarray, lift: np.ndarray, separator: str = "\t", digits: int = 3, comma: bool = False) -> str:  # type: ignore[type-arg]
    lines = [f"{a:g}{separator}{y:.{digits}f}" for a, y in zip(angle, lift, strict=True)]
    return "\n".join(line.replace(".", ",") if comma else line for line in lines)


ON_LOBE = (DEGREES > 60) & (DEGREES < 226)

FORMS = {
    "tab": rows(DEGREES, LIFT),
    "comma": rows(DEGREES, LIFT, ", "),
    "semicolon and comma decimals": "Winkel;Hub mm\n" + rows(DEGREES, LIFT, ";", comma=True),
    "spaces, comments": "# rig 4\n\n" + rows(DEGREES, LIFT, "   "),
    "quoted header": '"angle","lift"\n' + rows(DEGREES, LIFT, ","),
    "crank degrees": "crank deg\tlift\n" + rows(DEGREES * 2, LIFT),
    "inches": rows(DEGREES, LIFT / 25.4, "\t", 5),
    "thou": rows(DEGREES, LIFT / 0.0254, "\t", 2),
    "any zero": rows(DEGREES, LIFT + 3.217),
    "falling": rows(DEGREES[::-1], LIFT[::-1]),
    "sign turned": rows(DEGREES, -LIFT),
    "one lobe": rows(DEGREES[ON_LOBE], LIFT[ON_LOBE]),
    "windows lines": rows(DEGREES, LIFT).replace("\n", "\r\n"),
    "third column": "\n".join(f"{i},{a:g},{y:.3f}" for i, (a, y) in enumerate(zip(DEGREES, LIFT, strict=True))),
    "lift first, named": "lift mm;cam deg\n" + rows(LIFT, DEGREES, ";", 1).replace(",", "."),
    "a column more, named": "row,cam deg,lift\n"
    + "\n".join(f"{9 * i % 7},{a:g},{y:.3f}" for i, (a, y) in enumerate(zip(DEGREES, LIFT, strict=True))),
    "lift first": "\n".join(f"{y:.3f} {a:g}" for a, y in zip(DEGREES, LIFT, strict=True)),
    "uneven steps": rows(np.delete(DEGREES, range(300, 340, 2)), np.delete(LIFT, range(300, 340, 2))),
}


@pytest.mark.parametrize("form", FORMS)
def test_each_form_reads_back(form: str) -> None:
    choices = Choices(angle_column=1, lift_column=2) if form == "third column" else Choices()
    reading = read_table(FORMS[form], choices)
    assert reading.sound, reading.findings
    law = smooth(np.array(reading.cam_rad), np.array(reading.lift_mm)).law
    assert facts(law).max_lift_mm == pytest.approx(10.4, abs=0.003)
    assert math.degrees(duration_crank_rad(law, 1.0)) == pytest.approx(226.57, abs=0.1)


def test_what_was_understood_is_told() -> None:
    reading = read_table(FORMS["semicolon and comma decimals"])
    assert (reading.separator, reading.decimal, reading.header) == (";", ",", ("Winkel", "Hub mm"))
    assert reading.whole_turn
    assert reading.choices == Choices(0, 1, AngleUnit.CAM, LiftUnit.MM, Direction.AS_READ)
    assert reading.facts is not None
    assert read_table(FORMS["any zero"]).facts.base_mm == pytest.approx(3.217, abs=0.001)  # type: ignore[union-attr]


def test_a_correction_is_obeyed() -> None:
    corrected = read_table(FORMS["tab"], Choices(lift_unit=LiftUnit.INCH))
    assert not corrected.sound
    assert any("no valve's" in f.message for f in corrected.findings)
    raised = read_table(FORMS["any zero"], Choices(base_mm=3.0))
    assert raised.facts is not None
    assert raised.facts.lift_mm == pytest.approx(10.4 + 0.217, abs=0.002)
    assert min(raised.lift_mm) == pytest.approx(0.217, abs=0.002)
    crank = read_table(FORMS["one lobe"], Choices(angle_unit=AngleUnit.CRANK))
    assert crank.cam_rad[-1] - crank.cam_rad[0] == pytest.approx(math.radians(164.0 / 2))


@pytest.mark.parametrize(
    ("text", "line", "words"),
    [
        ("", None, "nothing to read"),
        ("   \n\n", None, "nothing to read"),
        (b"\x89PNG\r\n\x1a\n\x00\x00", None, "picture"),
        ("9 " * 600_000, None, "1.2 MB"),
        ("\n".join(f"{y:.3f}" for y in LIFT), None, "only one column"),
        ("cam a\ncam b\ncam c", None, "no rows of figures"),
        (rows(DEGREES, LIFT + LOBE.evaluate(np.radians(DEGREES - 300.0))), None, "2 lobes in one table"),
        (rows(DEGREES[100:190], LIFT[100:190]), 1, "starts before the lift is back"),
        (rows(DEGREES * 3, LIFT), 242, "run past 720"),
        (rows(DEGREES, LIFT * 0.001, digits=5), None, "no valve's"),
        (rows(np.repeat(5.0, 40), LIFT[:40]), None, "fewer than twelve"),
        (rows(np.arange(6000) / 20, np.zeros(6000)), None, "thin the table"),
    ],
)
def test_a_table_that_is_none_says_why_and_where(text: str | bytes, line: int | None, words: str) -> None:
    reading = read_table(text)
    assert not reading.sound
    wrong = [f for f in reading.findings if f.wrong]
    assert any(re.search(re.escape(words), f.message) for f in wrong), wrong
    if line is not None:
        assert wrong[0].line == line


@pytest.mark.parametrize(
    ("text", "line", "words"),
    [
        (rows(DEGREES, LIFT).replace("100\t", "100\tabout "), 101, "no row of figures"),
        (rows(np.roll(DEGREES, 20), np.roll(LIFT, 20)), 21, "steps back here"),
        (rows(np.insert(DEGREES, 5, 4.0), np.insert(LIFT, 5, LIFT[4])), 6, "doubled row"),
        (rows(np.delete(DEGREES, range(120, 128)), np.delete(LIFT, range(120, 128))), None, "no readings from"),
        (rows(DEGREES, LIFT + np.where(DEGREES > 143, 0.05, 0.0)), None, "does not close"),
        (rows(DEGREES[::-1], LIFT[::-1]), None, "the angles fall"),
        (rows(DEGREES, -LIFT), None, "sign was turned over"),
    ],
)
def test_what_is_odd_is_told_and_the_rest_kept(text: str, line: int | None, words: str) -> None:
    reading = read_table(text)
    assert reading.cam_rad
    told = [f for f in reading.findings if words in f.message]
    assert told, reading.findings
    if line is not None:
        assert told[0].line == line


def slipped(at: int, times: float, lift: Array = LIFT) -> Array:
    typed = lift.copy()
    typed[at] *= times
    return typed


@pytest.mark.parametrize("per_mm", [1.0, 1.0 / 25.4])
@pytest.mark.parametrize(("at", "times"), [(110, 1000.0), (140, 10.0), (140, 0.1), (155, -1.0), (176, 1000.0)])
def test_one_reading_off_its_neighbours_is_named_by_line(per_mm: float, at: int, times: float) -> None:
    reading = read_table(rows(DEGREES, slipped(at, times, LIFT * per_mm), digits=4))
    assert not reading.sound
    (wrong,) = [f for f in reading.findings if f.wrong]
    assert wrong.line == at + 1
    assert f"at {DEGREES[at]:g}°" in wrong.message
    said = re.search(r"say about ([\d.]+)", wrong.message)
    assert said is not None
    assert float(said[1]) == pytest.approx(LIFT[at] * per_mm, rel=0.01)
    assert reading.choices.lift_unit is (LiftUnit.MM if per_mm == 1.0 else LiftUnit.INCH)


def test_a_slipped_reading_of_a_table_turned_the_other_way_keeps_its_own_angle() -> None:
    reading = read_table(rows(DEGREES[::-1], slipped(150, 100.0)[::-1]))
    (wrong,) = [f for f in reading.findings if f.wrong]
    assert wrong.line == len(DEGREES) - 150
    assert f"at {DEGREES[150]:g}°" in wrong.message


@pytest.mark.parametrize(("part", "sound"), [(0.027, True), (0.032, False)])
def test_a_reading_is_off_from_three_hundredths_of_the_lift(part: float, sound: bool) -> None:
    lift = LIFT.copy()
    lift[143] += part * 10.4
    assert read_table(rows(DEGREES, lift, digits=4)).sound is sound


@pytest.mark.parametrize("step", [0.25, 1.0, 2.0, 5.0])
@pytest.mark.parametrize("start", [0.0, 0.37])
def test_a_coarse_or_fine_table_of_a_good_lobe_has_no_stray(step: float, start: float) -> None:
    angle = np.arange(-100.0 + start, 100.0, step)
    reading = read_table(rows(angle, LOBE.evaluate(np.radians(angle))))
    assert reading.sound, reading.findings


@given(st.text(max_size=400))
def test_no_text_breaks_the_reader(text: str) -> None:
    reading = read_table(text)
    assert reading.findings or reading.sound


@given(st.binary(max_size=300))
def test_no_bytes_break_the_reader(data: bytes) -> None:
    assert read_table(data).findings is not None


@pytest.mark.parametrize("seed", range(6))
def test_noise_of_five_micrometres(seed: int) -> None:
    angle = np.arange(-90.0, 90.0, 0.5)
    noisy = LOBE.evaluate(np.radians(angle)) + np.random.default_rng(seed).normal(0.0, 0.005, len(angle))
    reading = read_table(rows(angle, noisy, digits=4))
    assert reading.facts is not None
    assert reading.facts.noise_mm == pytest.approx(0.005, rel=0.35)
    found = smooth(np.array(reading.cam_rad), np.array(reading.lift_mm))
    assert found.residual_mm == pytest.approx(0.005, rel=0.15)
    for check in (0.15, 1.0, 1.27):
        exact = math.degrees(duration_crank_rad(LOBE, check))
        assert math.degrees(duration_crank_rad(found.law, check)) == pytest.approx(exact, abs=0.5)
    nose = float(found.law.evaluate(np.zeros(1), 2)[0])
    assert nose == pytest.approx(float(LOBE.evaluate(np.zeros(1), 2)[0]), rel=0.05)


def test_a_stronger_hand_leaves_more_and_spends_less() -> None:
    angle = np.radians(np.arange(-90.0, 90.0, 0.5))
    noisy = LOBE.evaluate(angle) + np.random.default_rng(2).normal(0.0, 0.005, len(angle))
    light, usual, strong = (smooth(angle, noisy, hand) for hand in (0.1, 1.0, 10.0))
    assert light.residual_mm < usual.residual_mm < strong.residual_mm
    assert light.freedom > usual.freedom > strong.freedom


def test_an_exported_curve_is_read_back() -> None:
    text = write_curve(LOBE, "Larch,\nintake")
    assert text.startswith("# Larch, intake\n")
    reading = read_table(text)
    assert reading.sound, reading.findings
    law = smooth(np.array(reading.cam_rad), np.array(reading.lift_mm)).law
    assert facts(law).max_lift_mm == pytest.approx(10.4, abs=1e-3)


def lobe_rows(columns: int = 2, separator: str = ";", decimal: str = ".", start: int = 1, counter: bool = False) -> str:
    degrees = np.arange(-110.0, 111.0, 2.0)
    lift = LOBE.evaluate(np.radians(degrees)) / 1.04
    rows = []
    for n, (a, y) in enumerate(zip(degrees, lift, strict=True), start=start):
        cells = [f"{a:.1f}", f"{y:.3f}", *[f"{y / 3 + 0.1 * n:.3f}" for _ in range(columns - 2)]]
        rows.append(separator.join(([str(n)] if counter else []) + cells).replace(".", decimal))
    return "\n".join(rows)


@pytest.mark.parametrize("head", ["", "Nr;Winkel [°];Hub [mm]", "#;angle;lift", "idx;deg;lift (mm)"])
def test_a_column_that_counts_the_rows_is_neither_angle_nor_lift(head: str) -> None:
    reading = read_table(f"{head}\n{lobe_rows(counter=True)}")
    assert (reading.choices.angle_column, reading.choices.lift_column) == (1, 2)
    assert reading.sound
    assert max(reading.lift_mm) == pytest.approx(10.0, abs=0.01)


@pytest.mark.parametrize(
    ("head", "unit", "lift"),
    [
        ("Kurbelwinkel [°KW];Ventilhub [mm]", AngleUnit.CRANK, LiftUnit.MM),
        ("angle vilebrequin (°);levée (mm)", AngleUnit.CRANK, LiftUnit.MM),
        ("ángulo cigüeñal;alzada [mm]", AngleUnit.CRANK, LiftUnit.MM),
        ("angolo albero motore;alzata [mm]", AngleUnit.CRANK, LiftUnit.MM),
        ("vevaxelvinkel;lyft [mm]", AngleUnit.CRANK, LiftUnit.MM),
        ("crank deg;lift [0.001 in]", AngleUnit.CRANK, LiftUnit.THOU),
        ("Nockenwinkel [°NW];Hub [mm]", AngleUnit.CAM, LiftUnit.MM),
        ("arbre à cames (°);levée (pouce)", AngleUnit.CAM, LiftUnit.INCH),
        ("Hub [µm];Winkel Nockenwelle", AngleUnit.CAM, LiftUnit.MICRON),
    ],
)
def test_a_head_is_read_in_the_languages_that_cards_come_in(head: str, unit: AngleUnit, lift: LiftUnit) -> None:
    text = lobe_rows()
    if head.startswith("Hub"):
        text = "\n".join(";".join(reversed(row.split(";"))) for row in text.splitlines())
    reading = read_table(f"{head}\n{text}")
    assert (reading.choices.angle_unit, reading.choices.lift_unit) == (unit, lift)
    assert reading.choices.angle_column == (1 if head.startswith("Hub") else 0)


def test_several_columns_without_a_word_are_told_apart_by_the_hump_or_asked_about_once() -> None:
    reading = read_table(lobe_rows(columns=3))
    assert (reading.choices.angle_column, reading.choices.lift_column) == (0, 1)
    assert reading.sound
    two = "\n".join(f"{row};{row.split(';')[1]}" for row in lobe_rows().splitlines())
    asked = read_table(two)
    assert [f.message for f in asked.findings] == [
        "which of the 3 columns is the lift cannot be told: say it above, and read it again"
    ]
    assert not asked.sound
    assert read_table(two, Choices(lift_column=2)).sound
