import pytest

from arcstack.assess import checks
from arcstack.errors import PracticeError
from arcstack.practice import practice, practices
from arcstack.practice.loader import read


def test_the_three_schools_cover_the_same_limits_each_with_a_reason() -> None:
    keys = {frozenset(p.limits) for p in practices()}
    assert len(practices()) == 3
    assert len(keys) == 1
    assert all(spec.reason.strip() for p in practices() for spec in p.limits.values())


def test_every_check_has_a_limit() -> None:
    bare = {key.split("@")[0] for key in practice("balanced").limits}
    for check in checks():
        assert any(key == check or key.startswith(check + ".") for key in bare), check


def test_schools_differ_in_what_builders_argue_about() -> None:
    long_life, balanced, sprint = practices()
    reserve = [p.limits["spring.reserve.inner"].low for p in practices()]
    assert reserve == [2.0, 1.5, 1.0]
    assert long_life.schools.boost == "boost"
    assert balanced.schools.boost == sprint.schools.boost == "difference"
    assert long_life.limits["spring.seat_load"].high < sprint.limits["spring.seat_load"].high


HEAD = """
version = 1
name = "X"
about = "x"
[schools.boost]
value = "boost"
reason = "r"
[schools.gas_in_separation]
value = true
reason = "r"
[schools.lift_basis]
value = "lobe"
reason = "r"
[limits."a"]
dimension = "length"
"""


@pytest.mark.parametrize(
    ("rows", "words"),
    [
        ('sense = "at least"\nlow = "1 mm"\ntight = "0.1 mm"', "needs its reason"),
        ('sense = "at least"\ntight = "0.1 mm"\nreason = "r"', "needs its low end"),
        ('sense = "band"\nlow = "1 mm"\ntight = "0.1 mm"\nreason = "r"', "needs its high end"),
        ('sense = "band"\nlow = "2 mm"\nhigh = "1 mm"\ntight = "0.1 mm"\nreason = "r"', "below the high end"),
        ('sense = "at least"\nlow = "1 mm"\nreason = "r"', "say within what distance"),
    ],
)
def test_a_limit_that_is_not_whole_is_refused(rows: str, words: str) -> None:
    with pytest.raises(PracticeError, match=words):
        read("x", HEAD + rows)


def test_unknown_practice() -> None:
    with pytest.raises(PracticeError):
        practice("nobody")


FULL = HEAD.replace(
    '[limits."a"]',
    """[schools.load]
value = "band"
reason = "r"
[schools.reserve]
value = "floor"
reason = "r"
[limits."a"]""",
)
LIMIT = 'sense = "at least"\nlow = "1 mm"\ntight = "0.1 mm"\nreason = "r"'


def test_a_whole_practice_is_read() -> None:
    assert read("x", FULL + LIMIT).schools.load == "band"


@pytest.mark.parametrize(
    ("text", "words"),
    [
        (HEAD + LIMIT, "takes no side on load"),
        (FULL.replace('"floor"', '"roof"') + LIMIT, "“roof” is none of floor, band"),
        (FULL.replace("[limits", '[schools.oil]\nvalue = "thick"\nreason = "r"\n[limits') + LIMIT, "no school of oil"),
    ],
)
def test_a_school_that_is_none_is_refused(text: str, words: str) -> None:
    with pytest.raises(PracticeError, match=words):
        read("x", text)


def test_load_and_reserve_are_argued_about_too() -> None:
    assert [p.schools.load for p in practices()] == ["light", "band", "heavy"]
    assert [p.schools.reserve for p in practices()] == ["floor", "band", "band"]
    orders = [p.limits["spring.surge_order"] for p in practices()]
    assert [o.low for o in orders] == [12.0, 10.0, 8.0]
    assert all(o.soft_low for o in orders)
