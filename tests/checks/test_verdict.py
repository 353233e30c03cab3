from dataclasses import replace

import pytest

from arcstack.checks import Evidence, Figure, Level, Limit, Sense, Verdict, judge, steps, worst
from arcstack.units import LENGTH


def limit(sense: Sense, low: float | None, high: float | None, soft: bool = False) -> Limit:
    return Limit("x", sense, low, high, 0.25, LENGTH, "why", "who", soft)


@pytest.mark.parametrize(
    ("value", "level"), [(1.4, "fail"), (1.5, "tight"), (1.75, "clear"), (3.25, "clear"), (3.3, "tight"), (3.6, "fail")]
)
def test_band_is_tight_near_either_end(value: float, level: str) -> None:
    assert judge(value, limit(Sense.BAND, 1.5, 3.5)) == level


def test_a_soft_ceiling_is_tight_past_it_and_clear_below() -> None:
    band = limit(Sense.BAND, 1.5, 3.5, soft=True)
    assert [judge(v, band).value for v in (1.4, 1.6, 3.45, 3.6)] == ["fail", "tight", "clear", "tight"]


def test_at_most() -> None:
    assert [judge(v, limit(Sense.AT_MOST, None, 2.0)).value for v in (1.0, 1.9, 2.1)] == ["clear", "tight", "fail"]


def leaf(evidence: Evidence) -> Figure:
    return Figure("a", "A", 1.0, LENGTH, evidence)


def test_a_figure_is_as_good_as_its_weakest_input() -> None:
    inner = Figure.calculated("b", "B", 2.0, LENGTH, "b = a + a", leaf(Evidence.MEASURED), leaf(Evidence.PRINTED))
    outer = Figure.calculated("c", "C", 3.0, LENGTH, "c = b", inner, leaf(Evidence.MEASURED))
    assert outer.weakest is Evidence.PRINTED
    assert not outer.proven
    assert Figure.calculated("c", "C", 3.0, LENGTH, "c = a", leaf(Evidence.MEASURED)).proven


def test_steps_come_after_what_they_need_and_once() -> None:
    base = Figure.calculated("b", "B", 2.0, LENGTH, "b = a", leaf(Evidence.MEASURED))
    left = Figure.calculated("l", "L", 2.0, LENGTH, "l = b", base)
    top = Figure.calculated("t", "T", 2.0, LENGTH, "t = l + b", left, base)
    assert [s.symbol for s in steps(top)] == ["b", "l", "t"]


def test_what_does_not_judge_does_not_count() -> None:
    failing = Verdict("x", "intake", "X", "stack", None, None, Level.FAIL, judges=False)
    still_open = Verdict("y", "intake", "Y", "stack", None, None, Level.OPEN)
    assert worst([failing]) is Level.CLEAR
    assert worst([failing, still_open]) is Level.OPEN


def seen(figure: Figure | None, held: Limit | None) -> Verdict:
    return Verdict("x", None, "X", "stack", figure, held, Level.OPEN)


def test_the_room_is_the_bands_worse_end_in_tight_zones_and_none_while_open() -> None:
    both = limit(Sense.BAND, 1.0, 2.0)
    given = Figure("x", "X", 1.5, LENGTH, Evidence.MEASURED, None)
    assert seen(given, both).room == pytest.approx(0.5 / both.tight)
    wide = replace(given, band=(1.4, 2.3))
    assert seen(wide, both).room == pytest.approx(-0.3 / both.tight)
    assert seen(wide, limit(Sense.AT_LEAST, 1.0, None)).room == pytest.approx(0.4 / both.tight)
    assert seen(None, both).room is None
    assert seen(given, None).room is None
    assert seen(None, both).evidence == ""
