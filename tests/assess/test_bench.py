"""What is read of one valve on the bench, each figure worked by hand."""

import math

import numpy as np
import pytest

from arcstack.assess import assess, cam, stack
from arcstack.assess.assessment import verdict
from arcstack.assess.catalogue import checks
from arcstack.assess.context import Context
from arcstack.checks import Level, Verdict
from arcstack.demo import demo_builds
from arcstack.document import Build, Decision, change, put

SOUND = demo_builds()[0]
BORES = {f"bore_{h}_{n}": "6.000 mm" for h in ("top", "middle", "bottom") for n in (1, 2)}
STEMS = {f"stem_{h}": "5.972 mm" for h in ("top", "middle", "bottom")}


def read(side: str = "intake", build: Build = SOUND, **figures: str) -> Context:
    """One valve with these figures read."""
    build = put(build, f"{side}.bench.place", "1I-a")
    for name, text in figures.items():
        build = change(build, f"{side}.{name.replace('__', '.')}" if "__" in name else f"{side}.bench.{name}", text)
    return assess(build).sides[side]


def of(ctx: Context, check: str) -> Verdict:
    found = verdict(ctx, checks()[check])
    assert found is not None
    return found


def value(ctx: Context, check: str) -> float:
    figure = of(ctx, check).figure
    assert figure is not None
    return figure.value


def test_a_design_is_not_judged_by_the_bench() -> None:
    ctx = assess(SOUND).sides["intake"]
    assert all(verdict(ctx, c) is None for c in checks().values() if c.stage == "bench")


def test_guide_clearance_is_bore_less_stem_where_it_lies_furthest_off() -> None:
    """6.000 − 5.972 = 0.028 all along; a belled mouth of 6.012 makes 0.040 there, which is out."""
    ctx = read(**BORES, **STEMS)
    assert value(ctx, "guide.clearance") == pytest.approx(0.028)
    assert of(ctx, "guide.clearance").level is Level.CLEAR
    belled = read(**(BORES | {"bore_bottom_2": "6.012 mm"}), **STEMS)
    assert value(belled, "guide.clearance") == pytest.approx(0.040)
    assert of(belled, "guide.clearance").level is Level.FAIL
    tight = read(**(BORES | {"bore_top_1": "5.985 mm"}), **STEMS)
    assert value(tight, "guide.clearance") == pytest.approx(0.013)
    assert of(tight, "guide.clearance").level is Level.FAIL


def test_the_other_side_and_the_other_school_have_ranges_of_their_own() -> None:
    assert of(read("exhaust", **BORES, **STEMS), "guide.clearance").level is Level.FAIL
    loose = SOUND.model_copy(update={"decisions": {"guides": Decision(choice="loose")}})
    assert of(read(build=loose, **BORES, **STEMS), "guide.clearance").level is Level.FAIL
    wide = BORES | dict.fromkeys(BORES, "6.025 mm")
    assert of(read(build=loose, **wide, **STEMS), "guide.clearance").level is Level.CLEAR


def test_a_guide_without_a_bore_gauge_is_told_by_rock() -> None:
    """W 0.19, G 38, a 30: 0.19/(1 + 60/38) = 0.0737."""
    ctx = read(rock="0.19 mm", guide_length="38 mm", rock_beyond="30 mm")
    assert round(value(ctx, "guide.clearance"), 4) == 0.0737
    assert "weaker" in of(ctx, "guide.clearance").note
    assert of(ctx, "guide.taper").level is Level.OPEN
    assert of(read(), "guide.clearance").level is Level.OPEN


def test_taper_is_top_to_bottom_and_ovality_across() -> None:
    ctx = read(**(BORES | {"bore_top_1": "6.000 mm", "bore_bottom_1": "6.011 mm", "bore_middle_2": "6.004 mm"}))
    assert value(ctx, "guide.taper") == pytest.approx(0.011)
    oval = read(**(BORES | {"bore_middle_2": "6.020 mm"}))
    assert value(oval, "guide.taper") == pytest.approx(0.020)
    assert of(oval, "guide.taper").level is Level.FAIL


@pytest.mark.parametrize(
    ("figures", "shown", "level"),
    [
        ({"vacuum": "0.80 bar"}, 0.80, Level.CLEAR),
        ({"vacuum": "0.74 bar"}, 0.74, Level.FAIL),
        ({"vacuum": "0.67 bar", "ambient": "0.90 bar"}, 0.67 / 0.9, Level.FAIL),
        ({"vacuum": "0.70 bar", "ambient": "0.90 bar"}, 0.70 / 0.9, Level.CLEAR),
    ],
)
def test_a_vacuum_is_told_for_one_bar_around(figures: dict[str, str], shown: float, level: Level) -> None:
    ctx = read(**figures)
    assert value(ctx, "seat.vacuum") == pytest.approx(shown)
    assert of(ctx, "seat.vacuum").level is level


def test_what_a_seat_loses_in_ten_seconds() -> None:
    ctx = read(vacuum="0.82 bar", vacuum_later="0.80 bar")
    assert value(ctx, "seat.vacuum_decay") == pytest.approx(0.02)
    assert of(ctx, "seat.vacuum_decay").level is Level.CLEAR
    assert of(read(vacuum="0.82 bar", vacuum_later="0.76 bar"), "seat.vacuum_decay").level is Level.FAIL
    assert of(read(vacuum="0.82 bar"), "seat.vacuum_decay").level is Level.OPEN


@pytest.mark.parametrize(
    ("side", "check", "name", "good", "bad"),
    [
        ("intake", "seat.width", "seat_width", "1.20 mm", "1.60 mm"),
        ("exhaust", "seat.width", "seat_width", "1.60 mm", "1.20 mm"),
        ("intake", "valve.margin", "stack__valve__margin", "1.00 mm", "0.70 mm"),
        ("exhaust", "valve.margin", "stack__valve__margin", "1.40 mm", "1.00 mm"),
        ("intake", "valve.runout", "runout", "0.01 mm", "0.04 mm"),
    ],
)
def test_seat_margin_and_runout_by_side(side: str, check: str, name: str, good: str, bad: str) -> None:
    assert of(read(side, **{name: good}), check).level is Level.CLEAR
    assert of(read(side, **{name: bad}), check).level is Level.FAIL
    assert of(read(side), "valve.runout").level is Level.OPEN


def test_a_loss_in_service_is_a_share_of_what_it_carried() -> None:
    """(270 − 245)/270 = 9.26 %; of both springs the greater."""
    ctx = read(outer_before="270 N", outer_after="245 N", inner_before="100 N", inner_after="98 N")
    assert value(ctx, "spring.loss") == pytest.approx(25.0 / 270.0)
    assert of(ctx, "spring.loss").level is Level.FAIL
    assert verdict(read(), checks()["spring.loss"]) is None


def test_each_spring_is_sorted_by_what_its_own_height_allows() -> None:
    ctx = read()
    wanted = ctx.limit("spring.reserve.inner").low
    solid = ctx.side.stack.inner.solid
    assert wanted is not None
    assert solid is not None
    inner = stack.inner_height(ctx).value - cam.gross_lift(ctx).value - wanted - solid.value
    assert value(ctx, "spring.solid_sorted") == pytest.approx(inner)
    tall = read(stack__inner__solid=f"{solid.value + inner + 0.01:.2f} mm")
    assert of(tall, "spring.solid_sorted").level is Level.FAIL


@pytest.mark.parametrize(
    ("widths", "even", "level", "words"),
    [
        (("1.2", "1.2", "1.2", "1.2"), 1.0, Level.CLEAR, ""),
        (("1.2", "1.0", "1.3", "1.1"), 1.0 / 1.3, Level.CLEAR, "at 3"),
        (("1.2", "0.8", "1.2", "1.2"), 0.8 / 1.2, Level.TIGHT, "at 3"),
        (("1.2", "0.7", "1.2", "1.2"), 0.7 / 1.2, Level.FAIL, "at 3"),
        (("1.2", "1.2", "0", "1.2"), 0.0, Level.FAIL, "broken at 6"),
        (("0", "1.2", "0", "1.2"), 0.0, Level.FAIL, "broken at 12, 6"),
        (("0", "0", "0", "0"), 0.0, Level.FAIL, "no band at any clock"),
    ],
)
def test_a_lap_band_is_even_all_round_or_leaks(widths: tuple[str, ...], even: float, level: Level, words: str) -> None:
    figures = {f"band_{clock}": f"{w} mm" for clock, w in zip((12, 3, 6, 9), widths, strict=True)}
    ctx = read(**figures)
    assert value(ctx, "seat.band") == pytest.approx(even)
    assert of(ctx, "seat.band").level is level
    figure = of(ctx, "seat.band").figure
    assert figure is not None
    assert words in figure.note
    # three clocks are not a ring, and where none was looked at nothing is asked
    part = read(**dict(list(figures.items())[:3]))
    assert of(part, "seat.band").level is Level.OPEN
    assert verdict(read(seat_width="1.2 mm"), checks()["seat.band"]) is None


def test_lash_as_it_is_read_moves_the_lift_and_not_the_lobe() -> None:
    """A card's lobe is no other for the lash that it is set to: 0.12 in place of 0.20 is 0.08 mm more lift, one curve."""
    ctx, design = read(lash="0.12 mm"), assess(SOUND).sides["intake"]
    assert cam.lash(ctx).value == 0.12
    assert cam.net_lift(ctx).value - cam.net_lift(design).value == pytest.approx(0.08)
    assert cam.gross_lift(ctx).value == cam.gross_lift(design).value
    angles = [math.radians(a) for a in (-50, -30, -10, 0, 20, 45)]
    assert cam.curve(ctx).lobe.evaluate(np.array(angles)) == pytest.approx(
        cam.curve(design).lobe.evaluate(np.array(angles))
    )
    assert value(ctx, "follower.radius_of_curvature") == pytest.approx(value(design, "follower.radius_of_curvature"))
