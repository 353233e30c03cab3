"""The order of a teardown: what is done first because it cannot be done later."""

import pytest

from arcstack.document import Sitting
from arcstack.errors import FieldError
from arcstack.readings.returning import Found, Look, Received, Severity
from arcstack.wear.order import ORDER, look_now, order_of, passes
from tests.readings.bench import BY

CAME = Received(1, "ticks", "", None, None, None, BY)


LOOKED = Found(2, "base_rub", (), Severity.SEEN, Look.WHOLE, BY, absent=True)


def run(*names: str, pictures: int = 1) -> list[object]:
    events: list[object] = [CAME, LOOKED]
    for name in names:
        events.append(passes(events, name, "", pictures, BY, 1))
    return events


def test_each_stage_is_next_once_those_before_it_are_passed() -> None:
    names = [s.id for s in ORDER]
    assert [s.stage.id for s in order_of([]) if s.next] == []
    for n in range(len(names)):
        rows = order_of(run(*names[:n]))
        assert [s.stage.id for s in rows if s.next] == [names[n]]
        assert [s.passed for s in rows] == [True] * n + [False] * (len(names) - n)
    assert not any(s.next for s in order_of(run(*names)))


@pytest.mark.parametrize(
    ("names", "look"),
    [((), Look.WHOLE), (("pictures", "whole"), Look.WHOLE), (("pictures", "whole", "stripped"), Look.STRIPPED),
     (("pictures", "whole", "stripped", "cleaned"), Look.CLEAN)],
)  # fmt: skip
def test_a_finding_counts_as_of_the_stage_that_the_head_is_in(names: tuple[str, ...], look: Look) -> None:
    assert look_now(run(*names)) is look


def test_without_a_picture_a_reason_is_kept_and_too_short_a_one_is_none() -> None:
    with pytest.raises(FieldError, match="no photograph"):
        passes([CAME], "pictures", "no", 0, BY)
    assert passes([CAME], "pictures", "lost", 0, BY).reason == "lost"
    assert passes([CAME], "pictures", "", 1, BY).reason == ""
    assert passes(run("pictures"), "whole", "", 0, BY).step == "back:whole"


def test_a_stage_is_passed_by_a_name_once_and_in_turn() -> None:
    with pytest.raises(FieldError, match="It has a name"):
        passes([CAME], "pictures", "", 1, Sitting(hand="workshop"))
    with pytest.raises(FieldError, match="passed already"):
        passes(run("pictures"), "pictures", "", 1, BY)
    with pytest.raises(FieldError, match="Not yet: looked at whole"):
        passes(run("pictures"), "stripped", "", 1, BY)


def test_stripped_and_measured_are_no_ticks() -> None:
    """With nothing found, and nothing read, they are passed by a reason alone."""
    bare: list[object] = [CAME]
    for name in ("pictures", "whole"):
        bare.append(passes(bare, name, "", 1, BY))
    with pytest.raises(FieldError, match="Nothing was found yet"):
        passes(bare, "stripped", "", 1, BY)
    assert passes(bare, "stripped", "struck by a valve of another head", 1, BY).reason
    with pytest.raises(FieldError, match="Nothing was read since it came back"):
        passes(run("pictures", "whole", "stripped", "cleaned"), "measured", "", 1, BY, 0)
    assert passes(run("pictures", "whole", "stripped", "cleaned"), "measured", "", 1, BY, 3).step == "back:measured"
