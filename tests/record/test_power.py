"""Runs laid over each other: what counts, what is within the scatter, and what cannot be held against what."""

import math
from dataclasses import replace

import pytest

from arcstack.document import Sitting
from arcstack.readings.recorded import Ran
from arcstack.record.power import METHOD, TUNE, Compared, Group, Sense, compare, group, groups, mean_gain

BY = Sitting(hand="ada")
TOLD = {"bench": "hub bench 1", "correction": "none", "gear": "4", "tyre": "hub", "fuel": "98", "boost": "1.6 bar"}


def ran(
    number: int, name: str, *at: tuple[float, float], boost: float | None = 1.6, revision: int = 1, **told: str
) -> Ran:
    trace = tuple((rpm, boost) for rpm, _ in at) if boost is not None else ()
    return Ran(number, name, "2026-03-01", revision, at, trace, TOLD | told, BY)


def three(name: str, base: float, *, by: float = 0.0, spread: float = 2.0, **more: object) -> Group:
    """Three repeats that scatter by ``spread``: power rises from base at 4,000 to base + 100 at 6,000 rpm."""
    rows = []
    for n, off in enumerate((-spread / 2, 0.0, spread / 2)):
        at = ((4000.0, base + by + off), (5000.0, base + 50 + by + off), (6000.0, base + 100 + by + off))
        rows.append(ran(n + 1, name, *at, **more))  # type: ignore[arg-type]
    found = group(name, rows)
    assert found is not None
    return found


def against(by: float, spread: float = 2.0, changes: tuple[str, ...] = ("Spring",), **more: object) -> Compared:
    return compare(three("before", 200.0), three("after", 200.0, by=by, spread=spread, **more), changes)


def test_repeats_are_laid_over_each_other_at_round_speeds() -> None:
    one = ran(1, "a", (3950.0, 100.0), (4150.0, 120.0), (4420.0, 147.0))
    two = ran(2, "a", (4010.0, 107.0), (4420.0, 148.0))
    found = group("a", [one, two])
    assert found is not None
    assert found.rpm == (4100.0, 4200.0, 4300.0, 4400.0)
    # at 4,100: 100 + 150 of 200 of 20 is 115; 107 + 90 of 410 of 41 is 116
    assert found.mean[0] == pytest.approx(115.5)
    assert found.scatter[0] == pytest.approx(1.0)
    assert not found.enough


@pytest.mark.parametrize(
    ("by", "sense"),
    [(4.1, Sense.GAIN), (4.0, Sense.WITHIN), (3.9, Sense.WITHIN), (-3.9, Sense.WITHIN), (-4.1, Sense.LOSS)],
)
def test_a_difference_counts_only_past_twice_the_scatter(by: float, sense: Sense) -> None:
    found = against(by)
    assert {p.sense for p in found.points} == {sense}
    assert found.points[0].must_pass == pytest.approx(4.0)
    assert mean_gain(found) == pytest.approx(by)


def test_the_larger_of_both_scatters_is_what_must_be_passed() -> None:
    assert against(5.0, spread=3.0).points[0].must_pass == pytest.approx(6.0)
    assert against(5.0, spread=1.0).points[0].must_pass == pytest.approx(4.0)


def test_a_gain_at_some_speeds_may_be_a_loss_at_others() -> None:
    rows = [
        ran(n, "after", (4000.0, 190.0 + off), (5000.0, 250.0 + off), (6000.0, 320.0 + off))
        for n, off in ((1, -1.0), (2, 0.0), (3, 1.0))
    ]
    after = group("after", rows)
    assert after is not None
    found = compare(three("before", 200.0), after, ())
    # −10 at 4,000, rising to nought at 5,000 and +20 at 6,000: 1 kW and 2 kW each hundred
    assert found.spans(Sense.LOSS) == ((4000.0, 4500.0),)
    assert found.spans(Sense.WITHIN) == ((4600.0, 5200.0),)
    assert found.spans(Sense.GAIN) == ((5300.0, 6000.0),)


def test_more_than_one_change_is_not_attributable() -> None:
    assert against(9.0, changes=("Spring",)).attributable == "Spring"
    assert against(9.0, changes=("Spring", "Cam")).attributable == ""
    assert against(9.0, changes=()).attributable == ""


@pytest.mark.parametrize("key", TUNE)
def test_a_changed_tune_is_a_change_of_its_own(key: str) -> None:
    found = against(9.0, **{key: "another"})
    assert len(found.changes) == 2
    assert found.attributable == ""
    assert found.points


def test_one_bench_written_by_two_hands_is_one_bench() -> None:
    found = against(9.0, bench=" Hub  Bench 1")
    assert found.why == ""
    assert found.points


@pytest.mark.parametrize("key", METHOD)
def test_runs_of_two_methods_are_not_held_against_each_other(key: str) -> None:
    found = against(9.0, **{key: "another"})
    assert found.points == ()
    assert "two methods" in found.why
    assert found.attributable == ""


@pytest.mark.parametrize(("boost", "sense"), [(1.62, Sense.GAIN), (1.63, Sense.BOOST), (1.5, Sense.BOOST)])
def test_where_boost_differs_no_gain_is_told(boost: float, sense: Sense) -> None:
    found = against(9.0, boost=boost)
    assert {p.sense for p in found.points} == {sense}
    assert (mean_gain(found) is None) == (sense is Sense.BOOST)


def told_boost(g: Group, text: str) -> Group:
    found = group(g.name, [replace(r, boost=(), told={**r.told, "boost": text}) for r in g.runs])
    assert found is not None
    return found


@pytest.mark.parametrize(
    ("before", "after", "sense"),
    [
        ("1.6 bar", "1.62 bar", Sense.GAIN),
        ("1.6 bar", "1.63 bar", Sense.BOOST),
        ("1.60 BAR", "160 kPa", Sense.GAIN),
        ("1.6 bar", "23.2 psi", Sense.GAIN),
        ("1.6 bar", "24 psi", Sense.BOOST),
        ("1.6", "1.6 bar", Sense.GAIN),
        ("gate spring only", "Gate  spring only", Sense.GAIN),
        ("gate spring only", "stiffer gate spring", Sense.BOOST),
        ("1.6 bar", "as it was", Sense.BOOST),
        ("1.6 bar", "", Sense.GAIN),
    ],
)
def test_boost_that_was_only_told_is_compared_by_its_figure_in_whatever_unit(
    before: str, after: str, sense: Sense
) -> None:
    pair = told_boost(three("before", 200.0), before), told_boost(three("after", 200.0, by=9.0), after)
    assert {p.sense for p in compare(*pair, ("Spring",)).points} == {sense}


def test_a_trace_on_one_side_alone_is_held_by_what_was_told() -> None:
    traced = three("before", 200.0)
    assert traced.boost is not None
    for text, sense in (("1.6 bar", Sense.GAIN), ("1.7 bar", Sense.BOOST)):
        for pair in (
            (traced, told_boost(three("after", 200.0, by=9.0), text)),
            (told_boost(three("before", 200.0), text), three("after", 200.0, by=9.0)),
        ):
            assert {p.sense for p in compare(*pair, ("Spring",)).points} == {sense}


def test_a_trace_that_does_not_cover_the_speeds_is_none() -> None:
    at = [(4000.0 + 100 * n, 200.0 + n) for n in range(4)]
    for trace, kept in (((0, 3), True), ((1, 3), False), ((0, 2), False), ((0, 0), False)):
        rows = [replace(ran(n, "a", *at), boost=tuple((at[k][0], 1.6) for k in dict.fromkeys(trace))) for n in range(3)]
        found = group("a", rows)
        assert found is not None
        assert (found.boost is not None) is kept, trace


def test_three_repeats_are_enough_and_two_shared_speeds() -> None:
    found = three("a", 200.0)
    assert found.enough
    two = group("a", found.runs[:2])
    assert two is not None
    assert not two.enough
    short = [group(n, [ran(k, n, (4000.0, 200.0 + k), (4100.0, 210.0 + k)) for k in range(3)]) for n in ("x", "y")]
    assert short[0] is not None
    assert short[1] is not None
    assert [p.rpm for p in compare(short[0], short[1], ()).points] == [4000.0, 4100.0]
    one = group("z", [ran(k, "z", (4100.0, 200.0 + k), (4240.0, 210.0 + k)) for k in range(3)])
    assert one is not None
    assert "no range of speed" in compare(short[0], one, ()).why


def test_boost_that_was_neither_kept_nor_said_is_a_doubt() -> None:
    found = compare(three("before", 200.0, boost=None), three("after", 200.0, by=9.0, boost=None), ())
    assert found.points[0].sense is Sense.GAIN
    assert not any("boost" in d for d in found.doubts)
    silent = [
        group(n, [ran(1, n, (4000.0, 200.0 + b), (5000.0, 240.0 + b), boost=None) for _ in "123"])
        for n, b in (("a", 0), ("b", 9))
    ]
    assert all(silent)
    bare = [group(g.name, [Ran(r.number, r.group, r.day, 1, r.power, (), {}, BY) for r in g.runs]) for g in silent if g]
    assert bare[0] is not None
    assert bare[1] is not None
    doubts = compare(bare[0], bare[1], ()).doubts
    assert "boost was not kept, nor said: more boost is more power" in doubts
    assert any(d.startswith("Bench, Correction, Gear and tyre or hub: not said") for d in doubts)


def test_one_run_has_no_scatter() -> None:
    lone = group("b", [ran(1, "b", (4000.0, 300.0), (6000.0, 400.0))])
    assert lone is not None
    assert math.isnan(lone.scatter[0])
    found = compare(three("before", 200.0), lone, ("Spring",))
    assert found.points == ()
    assert "repeated" in found.why


def test_two_repeats_are_told_as_too_few_and_still_held() -> None:
    pair = group("b", [ran(n, "b", (4000.0, 220.0 + n), (6000.0, 320.0 + n)) for n in (1, 2)])
    assert pair is not None
    found = compare(three("before", 200.0), pair, ("Spring",))
    assert "b: 2 runs, 3 are wanted" in found.doubts
    assert found.points


def test_ranges_that_do_not_meet_are_not_compared() -> None:
    low = group("low", [ran(n, "low", (2000.0, 80.0), (3000.0, 120.0 + n)) for n in (1, 2, 3)])
    assert low is not None
    assert compare(low, three("high", 200.0), ()).why == "they share no range of speed"
    assert (
        group("none", [ran(1, "x", (2000.0, 80.0), (2500.0, 90.0)), ran(2, "x", (4000.0, 80.0), (4500.0, 90.0))])
        is None
    )
    assert [g.name for g in groups([*low.runs, ran(9, "one", (5000.0, 1.0))])] == ["low"]
