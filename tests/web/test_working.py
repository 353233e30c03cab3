"""The working of a figure: its numbers come to its result, by hand as by program."""

import math
import re

import pytest

from arcstack.assess import assess
from arcstack.assess.figures import find
from arcstack.build import Build, change
from arcstack.checks import Evidence, Figure, steps
from arcstack.demo import demo_builds
from arcstack.units import COUNT, FORCE, LENGTH, RATE, RATIO, SPEED, STRESS, System, show
from arcstack.web.view.working import substitute

SOUND, FAILING = demo_builds()
FINGER = SOUND
for _path, _text in (
    ("engine.follower", "finger"), ("intake.cam.ratio", "1.6"), ("intake.cam.lobe_lift", "6.25"),
    ("intake.stack.bucket.pad_radius", "25"),
):  # fmt: skip
    FINGER = change(FINGER, _path, _text)


def test_numbers_put_in_give_the_result() -> None:
    ctx = assess(SOUND).sides["intake"]
    reserve = find(ctx, "spring.reserve.inner")
    assert isinstance(reserve, Figure)
    worked = substitute(reserve, System.MM).replace("−", "-")
    assert worked == "33.60 - 10.00 - 21.60"
    assert eval(worked) == pytest.approx(reserve.value)
    load = find(ctx, "spring.seat_load")
    assert isinstance(load, Figure)
    assert substitute(load, System.MM) == "236 + 116"


_CONSISTENT = {d.name for d in (LENGTH, FORCE, RATE, STRESS, RATIO, COUNT, SPEED)}
"""Dimensions whose metric units, mm, N and MPa, make sums without a factor."""

_AS_PYTHON = (
    ("·", "*"), ("−", "-"), ("½", "0.5"), ("√", "sqrt"), ("π", "pi"), ("²", "**2"), ("³", "**3"), ("⁴", "**4"), ("^", "**"), (",", ""),
)  # fmt: skip


def reckoned(numbers: str, put_in: set[str]) -> tuple[float, float]:
    """What a working comes to, and how far the rounding of the numbers ``put_in`` may put that off."""
    text = numbers.replace(", ", " ; ")
    for word, code in _AS_PYTHON:
        text = text.replace(word, code)
    text = text.replace(" ; ", ", ")
    scope = {"sqrt": math.sqrt, "pi": math.pi, "max": max}
    value = eval(text, scope)
    off = 0.0
    for number in re.finditer(r"(?<![\w.])(?<!\*\*)\d+(?:\.\d+)?", text):
        if number[0] not in put_in:
            continue
        half = 0.5 * 10.0 ** -len(number[0].partition(".")[2])
        moved = text[: number.start()] + repr(float(number[0]) + half) + text[number.end() :]
        off += abs(eval(moved, scope) - value)
    return value, off


@pytest.mark.parametrize("build", [SOUND, FAILING, FINGER], ids=["sound", "failing", "finger"])
def test_every_working_whose_numbers_are_put_in_comes_to_its_result(build: Build) -> None:
    reckonable = 0
    for verdict in assess(build).verdicts:
        for step in steps(verdict.figure) if verdict.figure else ():
            numbers = substitute(step, System.MM).split(", once")[0]
            if not numbers or re.search(r"[^\W\d_½²³⁴]", re.sub(r"max|π", "", numbers)):
                continue
            if not {step.dimension.name, *(i.dimension.name for i in step.inputs)} <= _CONSISTENT:
                continue
            reckonable += 1
            put_in = {show(i.value, i.dimension).number.strip("−").replace(",", "") for i in step.inputs}
            value, off = reckoned(numbers, put_in)
            assert value == pytest.approx(step.value, abs=off + 1e-6), (verdict.id, step.formula, numbers)
    assert reckonable > 60


def test_no_working_is_left_with_half_its_numbers() -> None:
    for verdict in assess(SOUND).verdicts:
        for step in steps(verdict.figure) if verdict.figure else ():
            left = re.findall(r"[^\W\d_½²³⁴]+", re.sub(r"max|π|once|at the valve", "", substitute(step, System.MM)))
            # what is a function of the lift keeps its name and its x
            assert set(left) <= {"F", "Σ", "x", "over", "net", "lift", "F_Σ"}, (verdict.id, step.formula, left)


def test_powers_are_put_in_functions_are_not_and_a_sign_gets_its_brackets() -> None:
    d, bend = Figure("d", "Wire", 3.7, LENGTH, Evidence.PRINTED), Figure("L″", "Bend", -2.5, LENGTH, Evidence.PRINTED)
    held = Figure("F", "Load", 500.0, FORCE, Evidence.PRINTED)
    made = Figure.calculated("y", "Any", 1.0, LENGTH, "y = d³ + d_o + F(d) + L″ + max(L″, F)·L″²", d, bend, held)
    assert substitute(made, System.MM) == "3.70³ + d_o + F(3.70) + (−2.50) + max(−2.50, 500)·(−2.50)²"
