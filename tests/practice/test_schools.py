import pytest

from arcstack.assess import CHECKS
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
    for check in CHECKS:
        assert any(key == check or key.startswith(check + ".") for key in bare), check


def test_schools_differ_in_what_builders_argue_about() -> None:
    long_life, balanced, sprint = practices()
    reserve = [p.limits["spring.reserve.inner"].low for p in practices()]
    assert reserve == [2.0, 1.5, 1.0]
    assert long_life.schools.boost == "boost"
    assert balanced.schools.boost == sprint.schools.boost == "difference"
    assert long_life.limits["spring.seat_load"].high < sprint.limits["spring.seat_load"].high


HEAD = """
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
