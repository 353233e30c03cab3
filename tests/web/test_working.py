"""The working of a figure: its numbers come to its result, by hand as by program."""

import math
import re
from collections.abc import Iterator

import pytest

from arcstack.assess import assess
from arcstack.assess.catalogue import figures, find
from arcstack.checks import Evidence, Figure, steps
from arcstack.checks.formula import number, numbers_put_in, sum_decimals, units_put_in
from arcstack.demo import demo_builds
from arcstack.document import FIELDS, Build, get
from arcstack.errors import NotKnown
from arcstack.units import FORCE, LENGTH, RATE, System
from arcstack.units.convert import factor
from arcstack.views.working import inputs, lines
from tests.builds import OTHERS, SWEEPS, bramble, sorrel
from tests.web.conftest import Browser

SOUND, FAILING = demo_builds()


def test_numbers_put_in_give_the_result() -> None:
    ctx = assess(SOUND).sides["intake"]
    reserve = find(ctx, "spring.reserve.inner")
    assert isinstance(reserve, Figure)
    worked = numbers_put_in(reserve, System.MM).replace("−", "-")
    assert worked == "33.60 - 10.00 - 21.60"
    assert eval(worked) == pytest.approx(reserve.value)
    load = find(ctx, "spring.seat_load")
    assert isinstance(load, Figure)
    assert numbers_put_in(load, System.MM) == "236 + 116"


_AS_PYTHON = (
    ("·", "*"), ("−", "-"), ("½", "0.5"), ("√", "sqrt"), ("π", "pi"), ("²", "**2"), ("³", "**3"), ("⁴", "**4"), ("⁶", "**6"),
    ("°", ""), ("^", "**"),
)  # fmt: skip

_SCOPE = {
    "sqrt": math.sqrt, "pi": math.pi, "max": max, "abs": abs, "cos": lambda x: math.cos(math.radians(x)),
    "sin": lambda x: math.sin(math.radians(x)), "tan": lambda x: math.tan(math.radians(x)),
}  # fmt: skip


def as_python(numbers: str) -> str:
    """A working as a sum: a bar pair is an absolute value, a comma within digits groups them."""
    text = re.sub(r"(?<=\d),(?=\d{3})", "", numbers)
    text = re.sub(r"\|([^|]+)\|", r"abs(\1)", text)
    for word, code in _AS_PYTHON:
        text = text.replace(word, code)
    return text


def reckoned(numbers: str, put_in: set[str]) -> tuple[float, float]:
    """What a working comes to, and how far the rounding of the numbers ``put_in`` may put that off."""
    text = as_python(numbers)
    value, off = eval(text, _SCOPE), 0.0
    for digits in re.finditer(r"(?<![\w.])(?<!\*\*)\d+(?:\.\d+)?", text):
        if digits[0] not in put_in:
            continue
        half = 0.5 * 10.0 ** -len(digits[0].partition(".")[2])
        moves = []
        for sign in (1.0, -1.0):
            moved = text[: digits.start()] + repr(float(digits[0]) + sign * half) + text[digits.end() :]
            try:
                moves.append(abs(eval(moved, _SCOPE) - value))
            except (ZeroDivisionError, ValueError):
                continue
        off += max(moves, default=0.0)
    return value, off


def worked(build: Build) -> Iterator[tuple[str, Figure]]:
    """Every step of every working of a build, of verdicts and of figures that pages show, each once."""
    found, seen = assess(build, SWEEPS.answer), set()
    shown = [(v.key, v.figure) for v in found.verdicts if v.figure is not None]
    for side, ctx in found.sides.items():
        for name in figures():
            figure = find(ctx, name)
            if not isinstance(figure, NotKnown):
                shown.append((f"{name}@{side}", figure))
    for name, figure in shown:
        for step in steps(figure):
            if id(step) not in seen:
                seen.add(id(step))
                yield name, step


READ_OFF = (
"counted",     "read off", "smoothed table", "polynomial main event", "by ", "lobe lift that gives", "slope of", "where ", "mean over",
    "most ", "worked along", "F_v · dV/dL", "first n at which", "fastest n tried", "hardest touch", "highest lift",
    "least distance", "both arms", "over the coils", "D_t − d", "as the elastic",
)  # fmt: skip
"""How a step begins that is read off a curve, a table or a run: there is nothing to reckon, and it says so."""


@pytest.mark.parametrize("make", [lambda: SOUND, lambda: FAILING, *OTHERS], ids=["sound", "failing", *(f.__name__ for f in OTHERS)])  # fmt: skip
def test_every_working_of_six_builds_comes_to_its_result(make: object) -> None:
    build = make()  # type: ignore[operator]
    reckonable = 0
    for name, step in worked(build):
        assert step.formula, (name, step)
        if "=" not in step.formula:
            assert step.formula.startswith(READ_OFF), (name, step.formula)
            continue
        shown = numbers_put_in(step, System.MM) or step.formula.split("=", 1)[1].strip()
        decimals = sum_decimals(step, System.MM)
        put_in = {number(i, System.MM, decimals).number.strip("−").replace(",", "") for i in step.inputs}
        value, off = reckoned(shown, put_in)
        wanted = step.value / factor(step.dimension, step.dimension.unit(System.MM))
        assert value == pytest.approx(wanted, abs=1.001 * off + 1e-6 + 2e-4 * abs(wanted)), (name, step.formula, shown)
        reckonable += 1
    assert reckonable > 100


def test_no_working_is_left_with_half_its_numbers() -> None:
    for build in (SOUND, sorrel(), bramble()):
        for name, step in worked(build):
            left = re.findall(r"[^\W\d_½²³⁴⁶]+", re.sub(r"max|cos|sin|tan|π", "", numbers_put_in(step, System.MM)))
            assert not left, (name, step.formula, left)


def test_what_goes_in_is_listed_with_its_unit_in_either_system() -> None:
    ctx = assess(sorrel()).sides["intake"]
    for system in System:
        for name in ("gas.difference_force", "control.separation_gas", "piston.parked", "spring.surge.outer"):
            found = find(ctx, name)
            assert isinstance(found, Figure)
            for row in inputs(found, system):
                bare = row.label.startswith(
                    ("Shape of the curve", "Coils", "Dead coils", "Density", "Pulse peak ÷ mean", "Tester table")
                )
                if row.label == "Pocket’s floor":
                    assert row.shown == "square to the valve"
                    continue
                assert bare or re.search(r"\d ?(mm|in|N|lbf|N/mm|lbf/in|g|oz|°|rpm|bar|psi|MPa|ksi)$", row.shown), row
    force = find(ctx, "gas.difference_force")
    assert isinstance(force, Figure)
    # bar and mm² make newtons by a factor that inches would not: the numbers stay metric and say so
    assert units_put_in(force, System.INCH) == "bar, mm"
    assert numbers_put_in(force, System.INCH) == numbers_put_in(force, System.MM)
    height = find(ctx, "stack.installed_height")
    assert isinstance(height, Figure)
    assert units_put_in(height, System.INCH) == ""
    assert numbers_put_in(height, System.INCH) == "1.4570 − 0.0197"
    assert lines(height, System.INCH)[-1].result == "1.4373 in"


def test_powers_are_put_in_functions_are_not_and_a_sign_gets_its_brackets() -> None:
    d, bend = Figure("d", "Wire", 3.7, LENGTH, Evidence.PRINTED), Figure("L″", "Bend", -2.5, LENGTH, Evidence.PRINTED)
    held = Figure("F", "Load", 500.0, FORCE, Evidence.PRINTED)
    made = Figure.calculated("y", "Any", 1.0, LENGTH, "y = d³ + d_o + F(d) + L″ + max(L″, F)·L″²", d, bend, held)
    assert numbers_put_in(made, System.MM) == "3.70³ + d_o + F(3.70) + (−2.50) + max(−2.50, 500)·(−2.50)²"


def test_a_table_gives_its_own_load_in_a_separation_not_a_mean_rate() -> None:
    ctx = assess(sorrel()).sides["intake"]
    speed = find(ctx, "control.separation_gas")
    assert isinstance(speed, Figure)
    labels = [s.label for s in steps(speed)]
    assert "Load there, outer" in labels
    assert not any(s.dimension is RATE for s in steps(speed))


@pytest.mark.parametrize("system", System)
def test_every_sum_on_every_build_comes_to_its_result_as_it_is_shown(system: System) -> None:
    sums = finer = 0
    for build in (SOUND, FAILING, *(make() for make in OTHERS)):
        for step in {id(s): s for v in assess(build).verdicts if v.figure for s in steps(v.figure)}.values():
            decimals = sum_decimals(step, system)
            put_in = numbers_put_in(step, system)
            if not re.fullmatch(r"[\s()+−\d.,]+", put_in) or put_in.count(" ") < 2:
                continue
            taken = System.MM if units_put_in(step, system) else system
            shown = number(step, taken, decimals).number.replace("−", "-").replace(",", "")
            assert decimals is not None
            worked = eval(put_in.replace("−", "-").replace(",", ""))
            usual = max(f.dimension.decimals(taken) for f in (step, *step.inputs))
            if f"{worked:.{decimals}f}".lstrip("-") != shown.lstrip("-"):
                # three roundings that never fall together are shown a digit finer, and then differ in that digit
                assert decimals == usual + 1, (build.name, step.label, put_in, shown)
                assert abs(worked - float(shown)) < 1.01 * 10.0**-decimals
                finer += 1
            sums += 1
    assert sums > 60
    assert finer <= 0.03 * sums


def test_a_stated_centreline_shows_itself_and_the_lift_that_it_is_the_middle_at(browser: Browser) -> None:
    page = browser.get(f"/builds/{browser.sound}/intake/working/cam.centreline")
    stated = get(SOUND, "intake.cam.centreline")
    assert f"<b>{number(find(assess(SOUND).sides['intake'], 'cam.centreline'), System.MM)}</b>" in page  # type: ignore[arg-type]
    assert f"{math.degrees(stated.value):.1f}" in page.split('class="result"')[1][:200]
    assert FIELDS["intake.cam.event_lift"].label in page
