"""What a head cost, and the sum beside each way with a part."""

import pytest

from arcstack.document import Sitting
from arcstack.errors import FieldError
from arcstack.readings.recorded import Booked, Sort, Weighed, booked
from arcstack.readings.returning import Disposed, What
from arcstack.record.costs import held, sums, weigh

BY = Sitting(hand="ada")


def hours(number: int, h: float, rate: float, **more: object) -> Booked:
    return Booked(number, Sort.HOURS, "2026-03-01", "guides", h, rate, 0.0, BY, **more)  # type: ignore[arg-type]


def money(number: int, sort: Sort, amount: float, **more: object) -> Booked:
    return Booked(number, sort, "2026-03-01", "shims", 0.0, 0.0, amount, BY, **more)  # type: ignore[arg-type]


def test_hours_and_money_add_up_by_their_sort() -> None:
    decided = Disposed(9, "valve", "1I-a", What.REPLACE, BY, cost=64.0)
    found = sums(
        [
            hours(1, 2.5, 80.0),
            money(2, Sort.PARTS, 30.5),
            money(3, Sort.OUTSIDE, 120.0),
            money(4, Sort.PARTS, -10.5),
            decided,
        ]
    )
    assert (found.hours, found.labour, found.parts, found.outside, found.decided) == (2.5, 200.0, 20.0, 120.0, 64.0)
    assert found.total == 340.0


def test_a_correction_stands_in_the_place_of_what_it_corrects_and_one_taken_back_counts_no_more() -> None:
    rows = [
        hours(1, 25.0, 80.0),
        hours(2, 2.5, 80.0, replaces=1),
        money(3, Sort.PARTS, 5.0),
        money(4, Sort.PARTS, 5.0, replaces=3, void=True),
    ]
    assert [b.number for b in booked(rows)] == [2]
    assert sums(rows).total == 200.0


@pytest.mark.parametrize(
    ("entry", "words"),
    [
        (hours(0, 0.0, 80.0), "more than none"),
        (hours(0, -1.0, 80.0), "more than none"),
        (hours(0, 2_001.0, 1.0), "at most 2,000"),
        (hours(0, 1.0, -1.0), "not below nought"),
        (hours(0, 2_000.0, 1e6), "no head costs"),
        (money(0, Sort.PARTS, 0.0), "How much"),
        (money(0, Sort.OUTSIDE, 1e8), "How much"),
        (Booked(0, Sort.PARTS, "", "x", 1.0, 1.0, 5.0, BY), "booked as money"),
        (Booked(0, Sort.HOURS, "", "", 1.0, 1.0, 0.0, BY), "What was it for"),
    ],
)
def test_what_cannot_be_booked(entry: Booked, words: str) -> None:
    with pytest.raises(FieldError, match=words):
        held(entry)


def test_hours_without_a_rate_are_time_that_costs_nothing() -> None:
    assert held(hours(0, 1.0, 0.0)).sum == 0.0


def weighed(chosen: str = "replace", reason: str = "", rate: float = 80.0, **ways: tuple[float, float]) -> Weighed:
    ways = ways or {"spare": (0.0, 1.5), "salvage": (20.0, 0.5), "replace": (40.0, 0.2)}
    return Weighed(0, "valve 1I-a", ways, rate, chosen, reason, BY)


def test_the_cheaper_way_needs_no_reason_and_the_dearer_does() -> None:
    assert weigh(weighed("replace")).chosen == "replace"
    with pytest.raises(FieldError, match="costs less: say why"):
        weigh(weighed("salvage"))
    assert weigh(weighed("salvage", "no new one to be had")).reason


@pytest.mark.parametrize(
    ("made", "words"),
    [
        (weighed(spare=(1.0, 0.0), chosen="spare"), "one way against another"),
        (weighed("scrap"), "Which way is taken"),
        (weighed(rate=0.0), "at which rate"),
        (weighed(spare=(-1.0, 0.0), replace=(4.0, 0.0)), "below nought"),
        (weighed(spare=(1.0, -2.0), replace=(4.0, 0.0)), "below nought"),
        (weighed(spare=(1e8, 0.0), replace=(4.0, 0.0)), "no part costs"),
    ],
)
def test_what_cannot_be_weighed(made: Weighed, words: str) -> None:
    with pytest.raises(FieldError, match=words):
        weigh(made)
