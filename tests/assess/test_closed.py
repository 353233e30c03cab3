"""A figure's text as its formula: the same value, the same over rows, and slopes that differences bear out."""

import numpy as np
import pytest

from arcstack.assess import assess
from arcstack.assess.context import guarded
from arcstack.checks import Evidence, Figure, steps
from arcstack.checks.closed import ends, expression, over, slopes
from arcstack.checks.expression import Expression, NotClosed
from arcstack.demo import demo_builds
from arcstack.document import Build, get
from arcstack.document.edit import change
from arcstack.errors import OutOfReason
from arcstack.units import ANGLE, FINE_LENGTH, FORCE, LENGTH, RATIO
from tests.builds import OTHERS

BUILDS = (*demo_builds(), *(make() for make in OTHERS))

RESTS_ON_MORE = {
    "F_Σ = O_Σ", "F_s", "O_i", "a", "a_c", "e", "i", "Δ", "ε",
}  # fmt: skip
"""Equations whose figure rests on more than the text puts in, so that its slope over that is not known from it."""


def every_step(build: Build) -> list[Figure]:
    found = {id(s): s for v in assess(build).verdicts if v.figure for s in steps(v.figure)}
    return list(found.values())


@pytest.mark.parametrize("build", BUILDS, ids=lambda b: b.name)
def test_the_text_of_every_equation_gives_its_figure(build: Build) -> None:
    closed = 0
    for step in every_step(build):
        assert step.formula is not None
        if expression(step) is None:
            left = step.formula.partition(" = ")[0]
            assert "=" not in step.formula or step.formula in RESTS_ON_MORE or left in RESTS_ON_MORE, step.formula
            continue
        closed += 1
        inputs = {f.symbol: f for f in step.inputs}.values()
        assert over(step, [(f, np.array([f.value])) for f in inputs if expression(f) is None]) == pytest.approx(
            step.value, rel=1e-9, abs=1e-12
        ), step.formula
    assert closed > 60


@pytest.mark.parametrize("build", BUILDS[:3], ids=lambda b: b.name)
def test_slopes_are_what_differences_come_to(build: Build) -> None:
    told = 0
    for step in every_step(build):
        for slope in slopes(step):
            at = slope.on.value
            h = 1e-5 * max(abs(at), 1e-3)
            low, here, high = over(step, [(slope.on, at + np.array([-h, 0.0, h]))])
            one_way, other = (here - low) / h, (high - here) / h
            scale = max(abs(one_way), abs(other), 1e-9)
            if abs(one_way - other) > 1e-3 * scale:
                continue  # where two sides of a max meet there is no one slope
            assert slope.value == pytest.approx((one_way + other) / 2.0, rel=1e-4, abs=1e-6 * scale), step.formula
            told += 1
    assert told > 300


@pytest.mark.parametrize(
    ("key", "path"),
    [
        ("stack.retainer_seal", "intake.stack.open_height"),
        ("stack.retainer_seal", "intake.stack.retainer.step"),
        ("spring.reserve.inner", "intake.stack.locator.step"),
        ("spring.reserve.inner", "intake.stack.inner.solid"),
        ("spring.seat_load", "intake.stack.shims.1"),
    ],
)
def test_a_slope_is_what_an_edit_moves(key: str, path: str) -> None:
    """A hundredth more in the document moves the verdict's figure by its slope: no dependence is left out."""
    build = demo_builds()[0]

    def figure(b: Build) -> Figure:
        found = next(v.figure for v in assess(b).verdicts if v.key == f"{key}@intake" or v.key == key)
        assert found is not None
        return found

    before = figure(build)
    on = [s for s in slopes(before) if s.on.path == path]
    moved = change(build, path, f"{get(build, path).value + 0.01:.4f} mm")
    off = figure(moved).value - before.value
    assert sum(s.value for s in on) * 0.01 == pytest.approx(off, rel=1e-6, abs=1e-9)


def leaf(symbol: str, value: float, path: str | None = None, label: str = "Read") -> Figure:
    return Figure(symbol, label, value, LENGTH, Evidence.MEASURED, path)


def test_rows_answer_as_they_would_one_by_one() -> None:
    h, lift = leaf("H", 36.2), leaf("L", 10.4)
    gap = Figure.calculated("g", "Gap", 25.8, LENGTH, "g = H − L", h, lift)
    square = Figure.calculated("q", "Square", 25.8**2, RATIO, "q = g²·max(L − 10, 0)", gap, lift)
    heights, lifts = np.array([35.0, 36.0, 37.0]), np.array([9.0, 10.0, 11.0])
    together = over(square, [(h, heights), (lift, lifts)])
    assert together.tolist() == [over(square, [(h, heights[i : i + 1]), (lift, lifts[i : i + 1])])[0] for i in range(3)]
    assert together.tolist() == [0.0, 0.0, 26.0**2]


def test_one_field_that_is_read_twice_moves_as_one() -> None:
    a, again = leaf("a", 2.0, "x.y"), leaf("b", 2.0, "x.y")
    product = Figure.calculated("p", "Product", 4.0, RATIO, "p = a·b", a, again)
    assert [s.value for s in slopes(product)] == [4.0]
    assert len(ends(product)) == 1
    assert over(product, [(a, np.array([3.0]))]).tolist() == [9.0]


def test_what_a_field_said_before_does_not_move_with_what_it_says_now() -> None:
    now, then = leaf("g", 1.2, "engine.gasket"), leaf("g_t", 1.2, "engine.gasket", "As the drop was taken")
    thicker = Figure.by("Thicker since", LENGTH, "Δg = g − g_t", now, then)
    assert [(s.on.symbol, s.value) for s in slopes(thicker)] == [("g", 1.0), ("g_t", -1.0)]
    assert over(thicker, [(now, np.array([1.5]))]) == pytest.approx([0.3])


def test_a_wrong_formula_is_never_taken_for_figures_out_of_reason() -> None:
    with pytest.raises(NotClosed):
        guarded(lambda: Figure.by("Gap", LENGTH, "g = H − L", leaf("H", 36.0)), "gap")
    with pytest.raises(OutOfReason):
        guarded(lambda: Figure.by("Share", RATIO, "q = a/b", leaf("a", 1.0), leaf("b", 0.0)), "share")


def test_two_figures_that_only_look_alike_move_apart() -> None:
    a, b = leaf("a", 2.0), leaf("b", 2.0)
    product = Figure.calculated("p", "Product", 4.0, RATIO, "p = a·b", a, b)
    assert [s.value for s in slopes(product)] == [2.0, 2.0]
    assert over(product, [(a, np.array([3.0]))]).tolist() == [6.0]


def test_an_angle_moves_by_its_radians() -> None:
    angle = Figure("α", "Angle", 0.25, ANGLE, Evidence.MEASURED)
    along = Figure.calculated("c", "Along", float(np.cos(0.25)), RATIO, "c = cos(α)", angle)
    assert [s.value for s in slopes(along)] == pytest.approx([-np.sin(0.25)])
    assert over(along, [(angle, np.array([0.5]))]) == pytest.approx([np.cos(0.5)])


def test_a_fine_length_is_worked_in_millimetres() -> None:
    taper = Figure.by("Taper", FINE_LENGTH, "t = |D − d|", leaf("D", 6.011), leaf("d", 6.0))
    assert taper.value == pytest.approx(0.011)
    assert [s.value for s in slopes(taper)] == [1.0, -1.0]


def test_what_is_read_off_is_an_end_and_what_it_is_read_at_does_not_pass_for_a_slope() -> None:
    at = leaf("x", 1.0)
    read = Figure.calculated("F", "Load", 300.0, FORCE, "read off the table", at)
    more = Figure.calculated("G", "Twice", 600.0, FORCE, "G = 2·F", read)
    assert [(s.on.symbol, s.value) for s in slopes(more)] == [("F", 2.0)]
    with pytest.raises(ValueError, match="does not rest on"):
        over(more, [(at, np.array([2.0]))])


@pytest.mark.parametrize(
    ("formula", "symbols"),
    [
        ("read off the curve", ("x",)),
        ("m = Σ m_i", ("m_i",)),
        ("g = H − L", ("H",)),
        ("g = H − L", ("H", "L", "x")),
        ("g = H − H", ("H", "H")),
        ("r = most of r_i", ("r_i",)),
        ("y = exit(H)", ("H",)),
        ("y = (0).__class__·H", ("H",)),
        ("y = H = L", ("H", "L")),
        ("y = 2^H", ("H",)),
    ],
)
def test_words_and_unknown_symbols_are_no_closed_formula(formula: str, symbols: tuple[str, ...]) -> None:
    with pytest.raises(NotClosed):
        Expression.read(formula, symbols)


def test_a_row_without_an_answer_is_nan_and_spoils_no_other() -> None:
    root = Expression.read("y = 1/√(x)", ("x",))
    assert np.isnan(root.at({"x": -1.0}))
    assert root.at({"x": np.array([-1.0, 4.0])})[1] == 0.5
    assert root.at({"x": 0.0}) == np.inf


@pytest.mark.parametrize(
    ("right", "x", "value", "slope"),
    [
        ("−x + 1", 3.0, -2.0, -1.0),
        ("min(x, 2)", 1.0, 1.0, 1.0),
        ("min(x, 2)", 3.0, 2.0, 0.0),
        ("max(x, 2)", 3.0, 3.0, 1.0),
        ("max(x, 2)", 1.0, 2.0, 0.0),
        ("|x − 4|", 3.0, 1.0, -1.0),
        ("√(x)", 4.0, 2.0, 0.25),
        ("x^(3/2)", 4.0, 8.0, 3.0),
        ("tan(x)", 60.0, np.sqrt(3.0), 4.0 * np.pi / 180.0),
        ("sin(x)", 60.0, np.sqrt(0.75), 0.5 * np.pi / 180.0),
        ("2/x", 4.0, 0.5, -0.125),
        ("½·x²/10³", 2.0, 0.002, 0.002),
    ],
)
def test_each_sign_has_its_value_and_its_slope(right: str, x: float, value: float, slope: float) -> None:
    own = Expression.read(f"y = {right}", ("x",))
    assert own.at({"x": x}) == pytest.approx(value)
    assert own.slopes({"x": x})["x"] == pytest.approx(slope)
