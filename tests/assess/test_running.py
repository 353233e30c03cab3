"""From the cold gap to the hot one at overspeed, and how far a phaser may go."""

import math

import pytest

from arcstack.assess import assess, piston, running
from arcstack.checks import Evidence, Level
from arcstack.demo import demo_builds
from arcstack.document import SIDES, Build, change
from tests.builds import SWEEPS

SOUND, FAILING = demo_builds()


def with_(build: Build, **fields: str) -> Build:
    for name, text in fields.items():
        build = change(build, name.replace("__", "."), text)
    return build


def running_gap(build: Build, side: str = "intake") -> tuple[float, Level, tuple[float, float] | None]:
    v = assess(build, SWEEPS.answer).verdict("piston.clearance_running", side)
    assert v.figure is not None, v.note
    return v.figure.value, v.level, v.figure.band


# -- running


def test_a_rod_of_the_handbook_stretches_by_its_figure() -> None:
    # 0.45 kg, stroke 86, rod 138, 8,700 rpm, 180 mm² of steel: 21.1 kN, 0.079 mm
    build = with_(
        SOUND, engine__stroke="86", engine__rod="138", engine__reciprocating="450 g", engine__rod_section="180",
        brief__overspeed="8700",
    )  # fmt: skip
    ctx = assess(build).sides["intake"]
    assert running.rod_force(ctx).value == pytest.approx(21_100, rel=0.002)
    assert running.stretch(ctx).value == pytest.approx(0.079, abs=0.0005)
    assert running.stretch(ctx).band is None
    # aluminium gives by its modulus
    soft = assess(change(build, "engine.rod_material", "aluminium")).sides["intake"]
    assert running.stretch(soft).value / running.stretch(ctx).value == pytest.approx(205 / 72)


@pytest.mark.parametrize(("material", "band"), [("steel", (0.10, 0.25)), ("titanium", (0.15, 0.40)), ("aluminium", (0.4, 0.7))])  # fmt: skip
def test_what_is_not_given_is_assumed_with_its_band(material: str, band: tuple[float, float]) -> None:
    ctx = assess(change(SOUND, "engine.rod_material", material)).sides["intake"]
    found = running.stretch(ctx)
    assert found.evidence is Evidence.ASSUMED
    assert found.band == pytest.approx(band)
    assert found.value == pytest.approx(sum(band) / 2)
    # one of the two alone does not do
    half = assess(with_(SOUND, engine__reciprocating="450 g")).sides["intake"]
    assert running.stretch(half).evidence is Evidence.ASSUMED


def test_what_is_taken_adds_up_along_the_bore_and_the_valve_leans_in_it() -> None:
    build = with_(
        SOUND, engine__rod_stretch="0.20", engine__pin_clearance="0.03", engine__bearing_clearance="0.05",
        engine__growth="0.10",
    )  # fmt: skip
    ctx = assess(build, SWEEPS.answer).sides["intake"]
    assert running.taken(ctx).value == pytest.approx(0.18)
    assert running.taken(ctx).band is None
    lean = math.cos(ctx.entry("clearance.valve_angle", "α").value)
    float_ = running.floats(ctx).value
    assert float_ >= 0.0
    assert running.gap(ctx).value == pytest.approx(piston.swept_gap(ctx).value - 0.18 * lean - float_)
    # a block that grows more than its rod gives room, one that grows less takes it
    grown = running_gap(change(build, "engine.growth", "0.30"))[0]
    assert grown - running_gap(build)[0] == pytest.approx(0.20 * lean)


def test_the_band_is_all_against_and_all_in_favour() -> None:
    value, level, band = running_gap(SOUND)
    assert level is Level.CLEAR
    assert band is not None
    assert band[0] < value < band[1]
    # given what was assumed, only curve and train are left open
    given = with_(
        SOUND, engine__rod_stretch="0.175", engine__pin_clearance="0.04", engine__bearing_clearance="0.05",
    )  # fmt: skip
    same, _, narrower = running_gap(given)
    assert same == pytest.approx(value)
    assert narrower is not None
    lean = math.cos(assess(SOUND).sides["intake"].entry("clearance.valve_angle", "α").value)
    assert (band[1] - band[0]) - (narrower[1] - narrower[0]) == pytest.approx((0.15 + 0.06) * lean)


def test_a_gap_that_is_clear_cold_may_fail_hot() -> None:
    tight = with_(SOUND, intake__clearance__drop_at_tdc="6.6", engine__rod_stretch="1.2")
    assert assess(tight).verdict("piston.clearance_swept", "intake").level is not Level.FAIL
    assert running_gap(tight)[1] is Level.FAIL


def test_it_waits_for_the_train_and_is_held_to_more_by_the_long_life_practice() -> None:
    assert assess(SOUND).verdict("piston.clearance_running", "intake").level is Level.OPEN
    limits = {
        name: [
            assess(SOUND.model_copy(update={"practice": name})).sides[s].limit("piston.clearance_running").low
            for s in SIDES
        ]
        for name in ("balanced", "long-life", "sprint")
    }
    assert limits == {"balanced": [0.8, 1.0], "long-life": [1.1, 1.4], "sprint": [0.8, 1.0]}


# -- the phaser's range


@pytest.mark.parametrize(("side", "way"), [("intake", 1.0), ("exhaust", -1.0)])
def test_the_permitted_range_ends_where_the_gap_meets_its_limit(side: str, way: float) -> None:
    ctx = assess(SOUND).sides[side]
    may, least = piston.permitted(ctx).value, piston.clearance_limit(ctx, "piston.clearance_swept").low
    assert least is not None
    model = piston.pair(ctx)
    assert model.least_gap(way * may, way * may).gap_mm == pytest.approx(least, abs=0.001)
    inside, outside = (model.least_gap(way * a, way * a).gap_mm for a in (may - 0.01, may + 0.01))
    assert inside > least > outside


def test_the_range_used_is_taken_off_and_a_limit_counts_once_something_keeps_it() -> None:
    room = assess(FAILING).verdict("phaser.range", "intake")
    assert room.level is Level.FAIL
    assert room.figure is not None
    may = math.degrees(piston.permitted(assess(FAILING).sides["intake"]).value)
    assert math.degrees(room.figure.value) == pytest.approx(may - 35.0)
    limited = change(FAILING, "intake.cam.phaser_limit", "18.5 deg")
    said = assess(limited).verdict("phaser.range", "intake")
    assert said.level is Level.FAIL
    assert "say what keeps it" in said.note
    kept = assess(change(limited, "intake.cam.phaser_held", "a stop"))
    assert kept.verdict("phaser.range", "intake").level is not Level.FAIL
    assert "Limited by a stop" in kept.verdict("phaser.range", "intake").note
    swept = kept.verdict("piston.clearance_swept", "intake")
    assert swept.figure is not None
    assert swept.figure.value >= 1.5
    # overlap and the valves stand nearer only as far as the limit lets them
    before, after = (a.verdict("timing.overlap", "intake").figure for a in (assess(FAILING), kept))
    assert before is not None
    assert after is not None
    assert math.degrees(before.value - after.value) == pytest.approx(35.0 - 18.5)
    # a limit beyond the range changes nothing
    beyond = change(change(FAILING, "intake.cam.phaser_limit", "40 deg"), "intake.cam.phaser_held", "software")
    assert assess(beyond).verdict("phaser.range", "intake").figure.value == room.figure.value  # type: ignore[union-attr]


def test_a_cam_without_a_phaser_is_not_asked_and_one_too_close_parked_is_told() -> None:
    none = change(SOUND, "intake.cam.phaser_advance", "none")
    assert not any(v.id == "phaser.range" and v.side == "intake" for v in assess(none).verdicts)
    close = assess(change(FAILING, "intake.clearance.drop_at_tdc", "3.0"))
    v = close.verdict("phaser.range", "intake")
    assert "Even parked" in v.note
    assert v.figure is not None
    assert math.degrees(v.figure.value) == pytest.approx(-35.0)
    roomy = assess(change(SOUND, "intake.clearance.drop_at_tdc", "29"))
    found = piston.permitted(roomy.sides["intake"])
    assert found.at_least
    assert math.degrees(found.value) == pytest.approx(80.0)


def test_what_is_taken_row_by_row_adds_up_to_what_is_left() -> None:
    build = with_(SOUND, engine__growth="0.10")
    ctx = assess(build, SWEEPS.answer).sides["intake"]
    rows = running.takes(ctx)
    assert piston.swept_gap(ctx).value - sum(r.value for r in rows) == pytest.approx(running.gap(ctx).value)
    # growth is given back, and its row says so by its sign
    assert [r.value < 0.0 for r in rows].count(True) == 1
    assert all(r.band is None or r.band[0] <= r.value <= r.band[1] for r in rows)
