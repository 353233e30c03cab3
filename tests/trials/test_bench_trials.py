"""A cut before it is made, and which reading would decide: held to the worked figures."""

import pytest

from arcstack.assess import assess
from arcstack.assess.bench import tallest_solid
from arcstack.assess.built import built
from arcstack.assess.half_width import half_width
from arcstack.checks import Evidence
from arcstack.demo import demo_builds
from arcstack.document import change, get
from arcstack.document.draft import Draft
from arcstack.readings import Cut
from arcstack.trials.cutting import lash_at, proposed, with_cut
from arcstack.trials.next_reading import Doubt, Next, Share, design_next, doubt, read_next
from arcstack.units import System
from tests.readings.bench import BY, Hand

SOUND = demo_builds()[0]


def cut(face: float = 0.0, seat: float = 0.0, tip: float = 0.0) -> Cut:
    return Cut(0, "1I-a", face, seat, tip, BY)


def place(build=SOUND):  # type: ignore[no-untyped-def]
    hand = Hand(build)
    for _ in range(2):
        hand.take("open_height", "1I-a", 36.80)
    hand.take("margin", "1I-a", 1.10)
    return built(assess(build), hand.sheet()).contexts["1I-a"]


def test_a_cut_moves_each_figure_as_the_metal_does() -> None:
    """Face 0.10 and seat 0.20: height + 0.30, load − k·0.30, lash − 0.30, margin − 0.10, seal and piston room + 0.30."""
    ctx = place(change(SOUND, "intake.stack.tip_proud", "4.00 mm"))
    found = proposed(ctx, cut(0.10, 0.20))
    moved = {
        o.after.id: (o.after.figure.value - o.before.figure.value)
        for o in found.outcomes
        if o.after.figure and o.before.figure
    }
    assert moved["stack.installed_height"] == pytest.approx(0.30)
    assert moved["stack.retainer_seal"] == pytest.approx(0.30)
    assert moved["valve.margin"] == pytest.approx(-0.10)
    rate = (moved["spring.seat_load"]) / -0.30
    assert 40.0 < rate < 60.0
    assert moved["spring.reserve.outer"] == pytest.approx(0.30)
    assert found.lash_change_mm == pytest.approx(-0.30)
    assert found.tip_left_mm == pytest.approx(0.5)
    assert get(with_cut(ctx.build, "intake", cut(0.10, 0.20)), "intake.stack.tip_proud").value == 4.00


def test_grinding_a_tip_opens_lash_and_takes_tip_and_hard_skin() -> None:
    ctx = place(change(SOUND, "intake.stack.tip_proud", "4.00 mm"))
    found = proposed(ctx, cut(tip=0.20), taken_off_tip_mm=0.40)
    assert found.lash_change_mm == pytest.approx(0.20)
    assert found.tip_left_mm == pytest.approx(-0.10)
    assert get(with_cut(ctx.build, "intake", cut(tip=0.20)), "intake.stack.tip_proud").value == pytest.approx(3.80)


def test_lash_that_a_cut_closes_is_never_below_nought() -> None:
    ctx = place()
    assert get(with_cut(ctx.build, "intake", cut(seat=2.0)), "intake.bench.lash").value == 0.0


def test_no_cut_moves_nothing() -> None:
    assert proposed(place(), cut()).outcomes == ()


def test_a_cut_past_the_lash_says_by_how_much_the_valve_hangs_open() -> None:
    ctx = place()
    lash = lash_at(Draft(ctx.build), "intake")
    assert lash is not None
    assert proposed(ctx, cut(seat=lash.value - 0.01)).held_open_mm == 0.0
    assert proposed(ctx, cut(seat=lash.value + 0.14)).held_open_mm == pytest.approx(0.14)
    # what comes off the tip gives it back
    assert proposed(ctx, cut(seat=lash.value + 0.14, tip=0.14)).held_open_mm == 0.0


def test_the_tallest_solid_allowed_is_height_less_lift_less_reserve() -> None:
    """H − gross lift − reserve wanted, by the figures of the design."""
    ctx = assess(SOUND).sides["intake"]
    from arcstack.assess import cam, stack

    wanted = ctx.limit("spring.reserve.outer").low
    assert wanted is not None
    value = stack.installed_height(ctx).value - cam.gross_lift(ctx).value - wanted
    assert tallest_solid(ctx, "outer").value == pytest.approx(value)


def test_the_worked_band_of_a_reserve() -> None:
    """2.00 ± 0.31 by squares, 1.57 at worst; the inner's solid measured to 0.02 leaves ± 0.07."""
    shares = tuple(
        Share(f"p{n}", f"p{n}", half, half, min(half, 0.02) if half == 0.30 else half, Evidence.PRINTED)
        for n, half in enumerate((0.03, 0.01, 0.02, 0.02, 0.05, 0.30))
    )
    v = next(v for v in assess(SOUND).verdicts if v.id == "spring.reserve.inner")
    found = Doubt(v, shares)
    assert round(found.likely, 2) == 0.31
    assert round(2.00 - found.worst, 2) == 1.57
    assert round(found.once_read(shares[5]), 2) == 0.07
    assert Next(shares[5], found).takes > Next(shares[4], found).takes == 0.0


def test_a_reserve_moves_by_exactly_the_half_width_of_a_solid_height() -> None:
    build = change(SOUND, "intake.stack.inner.solid", "21.30 mm", Evidence.PRINTED)
    ctx = assess(build).sides["intake"]
    v = next(v for v in assess(build).of_side("intake") if v.id == "spring.reserve.inner")
    found = doubt(ctx, v)
    solid = next(s for s in found.shares if s.path == "intake.stack.inner.solid")
    assert (solid.half_width, solid.moves) == (0.3, pytest.approx(0.3))
    step = next(s for s in found.shares if s.path == "intake.stack.retainer.step")
    assert step.moves == pytest.approx(step.half_width)


def test_what_is_measured_is_not_asked_for_again_and_the_list_is_in_order() -> None:
    design = assess(demo_builds()[1])
    found = read_next(design.sides["intake"], design.of_side("intake"))
    assert [n.takes for n in found] == sorted((n.takes for n in found), reverse=True)
    assert all(n.share.evidence is not Evidence.MEASURED and n.takes > 0.0 for n in found)
    assert len({n.share.path for n in found}) == len(found)
    assert "decides this: measured to" in found[0].words()
    assert not any(" ." in n.words(system) for n in found for system in System)


@pytest.mark.parametrize(
    ("path", "evidence", "value", "resolution", "half"),
    [
        ("intake.stack.inner.solid", Evidence.PRINTED, 21.0, None, 0.3),
        ("intake.stack.inner.solid", Evidence.ASSUMED, 21.0, None, 0.6),
        ("intake.stack.inner.solid", Evidence.MEASURED, 21.0, 0.01, 0.01),
        ("intake.stack.outer.load_1", Evidence.PRINTED, 300.0, None, 15.0),
        ("intake.stack.retainer.step", Evidence.PRINTED, 1.6, None, 0.05),
        ("intake.stack.valve.mass", Evidence.PRINTED, 0.05, None, 0.0005),
        ("brief.limiter", Evidence.ASSUMED, 8000.0, None, 0.0),
    ],
)
def test_how_far_a_figure_may_be_off(
    path: str, evidence: Evidence, value: float, resolution: float | None, half: float
) -> None:
    assert half_width(path, evidence, value, resolution) == pytest.approx(half)


def test_what_to_measure_next_follows_an_edit_at_once() -> None:
    """What decides is worked of the build as it is, not as it was before an edit."""
    solid = "intake.stack.inner.solid"
    tight = change(demo_builds()[0], solid, "22.4 mm", Evidence.PRINTED)
    before = assess(tight)
    assert solid in [n.share.path for n in design_next(before.sides["intake"])]
    read = change(tight, solid, "22.4 mm", Evidence.MEASURED, by=BY)
    kept = assess(read, before=before).sides["intake"]
    assert solid not in [n.share.path for n in design_next(kept)]
    assert [n.share for n in design_next(kept)] == [n.share for n in design_next(assess(read).sides["intake"])]
    # and the other way: what was measured is printed again
    again = assess(change(read, solid, "22.41 mm", Evidence.PRINTED), before=assess(read)).sides["intake"]
    assert solid in [n.share.path for n in design_next(again)]
