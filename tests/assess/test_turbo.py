"""The engine around the valvetrain: the worked figures of clamping, compression, oil and the limiter, and their edges."""

import math

import pytest

from arcstack.assess import assess, oil, ports, turbo
from arcstack.assess.context import Context
from arcstack.checks import Evidence, Level, Verdict
from arcstack.demo import demo_builds
from arcstack.document import Build, change
from arcstack.document.parts import Turbo
from arcstack.errors import MissingInput
from tests.builds import BY

SOUND = demo_builds()[0].model_copy(update={"turbo": Turbo()})


def with_(build: Build, **fields: str) -> Build:
    for name, text in fields.items():
        path = name.replace("__", ".")
        build = change(build, path if "." in path else f"turbo.{path}", text)
    return build


def ctx(build: Build) -> Context:
    return assess(build).sides["intake"]


def verdict(build: Build, check: str) -> Verdict:
    return assess(build).verdict(check, "intake")


STUDS = {
    "stud_diameter": "11", "stud_area": "75.8", "stud_proof": "1110", "torque": "90", "lubricant": "moly paste",
    "studs_around": "4", "gasket_bore": "87.5", "peak_pressure": "130",
}  # fmt: skip
VOLUMES = {
    "engine__bore": "86", "engine__stroke": "86", "engine__gasket": "1.15", "engine__deck": "0.25",
    "gasket_bore": "87.5", "chamber": "48", "dish": "4", "compression_target": "9.3",
}  # fmt: skip


def test_nothing_is_asked_of_a_head_of_which_nobody_spoke() -> None:
    own = {c.id for c in (*turbo.CHECKS, *oil.CHECKS, *ports.CHECKS)}
    bare = change(straight(), "brief.back_pressure", "")
    assert not own & {v.id for v in assess(bare).verdicts}
    assert own & {v.id for v in assess(with_(SOUND, crankcase="0.01 bar")).verdicts} >= {"oil.crankcase"}


def test_the_same_wrench_holds_a_third_less_on_dry_threads() -> None:
    moly, dry = with_(SOUND, **STUDS), with_(SOUND, **(STUDS | {"lubricant": "dry"}))
    assert turbo.preload(ctx(moly)).value == pytest.approx(62_937, abs=1)
    assert turbo.preload(ctx(dry)).value == pytest.approx(40_909, abs=1)
    clamp = verdict(moly, "head.clamp")
    assert clamp.figure is not None
    # 125.9 kN over 78.2
    assert clamp.figure.value == pytest.approx(1.61, abs=0.005)
    assert clamp.level is Level.TIGHT
    loose = verdict(dry, "head.clamp")
    assert loose.figure is not None
    assert loose.figure.value == pytest.approx(1.05, abs=0.005)
    assert loose.level is Level.FAIL
    assert "830 MPa" in turbo.preload(ctx(moly)).note
    # 830 of 1,110 is past three quarters
    assert turbo.stud_load(ctx(moly)).value == pytest.approx(0.748, abs=0.001)
    assert verdict(with_(moly, stud_proof="1000"), "head.stud").level is Level.FAIL


def test_a_torque_without_its_lubricant_says_nothing_and_a_stretch_needs_none() -> None:
    bare = with_(SOUND, **(STUDS | {"lubricant": "not said"}))
    with pytest.raises(MissingInput, match="lubricant"):
        turbo.preload(ctx(bare))
    found = verdict(bare, "head.clamp")
    assert found.level is Level.OPEN
    assert [m.path for m in found.missing] == ["turbo.lubricant"]
    own = with_(bare, nut_factor="0.15")
    assert turbo.preload(ctx(own)).value == pytest.approx(90_000 / (0.15 * 11))
    stretched = with_(bare, preload="60 kN")
    assert turbo.preload(ctx(stretched)).value == pytest.approx(60_000)
    assert verdict(stretched, "head.clamp").figure is not None


def test_a_shared_stud_counts_by_half_and_an_assumed_peak_has_its_band() -> None:
    shared, alone = with_(SOUND, **STUDS), with_(SOUND, **STUDS, studs_shared="1")
    assert turbo.clamp(ctx(alone)).value == pytest.approx(2.0 * turbo.clamp(ctx(shared)).value)
    guessed = turbo.clamp(ctx(with_(SOUND, **{k: v for k, v in STUDS.items() if k != "peak_pressure"})))
    assert guessed.band is not None
    assert guessed.band[0] < guessed.value < guessed.band[1]
    # the pressure and the friction together
    assert guessed.band[1] / guessed.band[0] == pytest.approx(140 / 90 * 0.14 / 0.12)
    assert guessed.weakest is Evidence.ASSUMED
    rubbed = turbo.clamp(ctx(shared))
    # 58.4 to 68.2 kN by a nut factor of 0.14 to 0.12, twice, over 78.2
    assert rubbed.band == pytest.approx((1.495, 1.744), abs=0.002)
    assert turbo.stud_load(ctx(shared)).band == pytest.approx((58_442 / 84_138, 68_182 / 84_138), abs=1e-4)
    stretched = with_(shared, stud_stretch="0.35", stud_length="110")
    assert turbo.preload(ctx(stretched)).band is None


def test_friction_opens_a_clamp_until_its_nut_factor_was_measured() -> None:
    moly = with_(SOUND, **STUDS)
    for text, evidence, low in (("0.13", Evidence.PRINTED, 58_442), ("0.13", Evidence.MEASURED, None)):
        found = turbo.preload(ctx(change(moly, "turbo.nut_factor", text, evidence, by=BY)))
        assert (found.band and found.band[0]) == (low and pytest.approx(low, abs=1))
    dry = turbo.preload(ctx(with_(moly, lubricant="dry")))
    assert dry.band == pytest.approx((90_000 / (0.23 * 11), 90_000 / (0.17 * 11)))


def test_volumes_open_the_ratio_by_what_each_of_them_is_worth() -> None:
    read = {"turbo.chamber": "48", "turbo.dish": "4", "engine.gasket": "1.15", "engine.deck": "0.25"}
    build = with_(SOUND, **VOLUMES)
    for path, text in read.items():
        build = change(build, path, text, Evidence.MEASURED, by=BY)

    def half(b: Build) -> float:
        above = turbo.clearance_volume(ctx(b))
        assert above.band is not None
        return above.band[1] - above.value

    # 1 cm³ of the burette, whatever it fills: 9.14 to 9.41
    assert half(build) == pytest.approx(1.0)
    assert turbo.ratio(ctx(build)).band == pytest.approx((9.14, 9.41), abs=0.01)
    printed = change(build, "turbo.chamber", "48", Evidence.PRINTED)
    assumed = change(build, "turbo.chamber", "48", Evidence.ASSUMED)
    assert (half(printed), half(assumed)) == (pytest.approx(2.0), pytest.approx(3.0))
    # a gasket that is 0.05 mm another on a bore of 86
    assert half(change(build, "engine.gasket", "1.15", Evidence.PRINTED)) == pytest.approx(1.0 + 5.809 * 0.05, abs=1e-3)


def test_compression_is_told_over_its_whole_band() -> None:
    build = with_(SOUND, **VOLUMES)
    above, ratio = turbo.clearance_volume(ctx(build)), turbo.ratio(ctx(build))
    # 48.0 + 6.9 + 1.45 + 4.0; 499.6 swept
    assert turbo.swept(ctx(build)).value == pytest.approx(499.56, abs=0.01)
    assert above.value == pytest.approx(60.37, abs=0.02)
    assert ratio.value == pytest.approx(9.28, abs=0.01)
    assert ratio.band is not None
    assert ratio.band[0] < 9.14 < 9.42 < ratio.band[1]
    milled = turbo.ratio(ctx(with_(build, engine__milling="0.30")))
    assert milled.value > ratio.value + 0.2
    domed = turbo.ratio(ctx(with_(build, dish="-4")))
    assert domed.value > ratio.value + 1.0
    assert turbo.ratio(ctx(with_(build, dish="none"))).value == pytest.approx(
        (499.56 + above.value - 4.0) / (above.value - 4.0), abs=0.01
    )
    with pytest.raises(MissingInput):
        turbo.ratio(ctx(with_(build, dish="")))


@pytest.mark.parametrize(("target", "level"), [("9.28", "clear"), ("9.6", "fail"), ("8.9", "fail")])
def test_a_target_is_held_over_the_band(target: str, level: str) -> None:
    measured = {"chamber": "48.0 cc", "dish": "4.0 cc"}
    build = with_(SOUND, **(VOLUMES | measured | {"compression_target": target}))
    found = verdict(build, "engine.compression")
    assert found.figure is not None
    assert found.figure.band is not None
    if level == "fail":
        assert found.level is not Level.CLEAR
    else:
        assert abs(found.figure.value) < 0.02


def test_the_spray_bar_and_the_drains_are_held_to_the_feed_by_area() -> None:
    bar = with_(SOUND, spray_holes="16", spray_hole="0.6", feed_hole="4", drains="4", drain_hole="6")
    spray = oil.spray(ctx(bar))
    assert spray.value == pytest.approx(16 * 0.36 / 16)
    assert "4.5 mm² in all, as one hole of 2.4 mm" in spray.note
    assert verdict(bar, "oil.spray").level is Level.TIGHT
    assert verdict(with_(bar, spray_holes="20"), "oil.spray").level is Level.FAIL
    assert oil.oil_return(ctx(bar)).value == pytest.approx(9.0)
    assert verdict(with_(bar, drains="2"), "oil.return").level is Level.FAIL
    assert verdict(with_(SOUND, drains="4"), "oil.return").level is Level.OPEN


@pytest.mark.parametrize(("pressure", "level"), [("0.015 bar", "clear"), ("0.04 bar", "tight"), ("0.06 bar", "fail")])
def test_crankcase_pressure_has_its_bands_and_its_rise_a_cause(pressure: str, level: str) -> None:
    assert verdict(with_(SOUND, crankcase=pressure), "oil.crankcase").level.value == level
    risen = verdict(with_(SOUND, crankcase="0.031 bar", crankcase_before="0.01 bar"), "oil.crankcase_rise")
    assert risen.level is Level.FAIL
    assert "rings or the turbo’s seal" in risen.note
    bound = verdict(with_(SOUND, crankcase="0.03 bar", crankcase_before="0.01 bar"), "oil.crankcase_rise")
    assert bound.level is Level.TIGHT
    same = verdict(with_(SOUND, crankcase="0.02 bar", crankcase_before="0.02 bar"), "oil.crankcase")
    assert same.note == "as the run before"
    fallen = verdict(with_(SOUND, crankcase="0.01 bar", crankcase_before="0.04 bar"), "oil.crankcase")
    assert fallen.note == "0.03 bar less than the run before"


@pytest.mark.parametrize(("back", "level"), [("2.0 bar", "clear"), ("2.7 bar", "tight"), ("3.1 bar", "fail")])
def test_back_pressure_is_held_to_boost(back: str, level: str) -> None:
    build = with_(SOUND, brief__boost="1.5 bar", brief__back_pressure=back)
    assert verdict(build, "turbo.back_pressure").level.value == level
    narrow = with_(build, narrowest="57", narrowest_at="the silencer")
    assert "57.00 mm at the silencer" in verdict(narrow, "turbo.back_pressure").note


def test_events_are_weighed_by_how_they_cut_and_the_practice_says_how_many() -> None:
    build = with_(SOUND, limiter_soft="10", limiter_staged="10", limiter_hard="10", launch="10", missed_shifts="2")
    assert turbo.life(ctx(build)).value == pytest.approx(10 + 20 + 30 + 20 + 60)
    levels = {
        name: verdict(build.model_copy(update={"practice": name}), "life.limiter").level.value
        for name in ("long-life", "balanced", "sprint")
    }
    assert levels == {"long-life": "fail", "balanced": "clear", "sprint": "clear"}
    one = turbo.life(ctx(with_(SOUND, limiter_hard="5")))
    assert one.formula == "t = 3·t_3"


def test_nothing_turns_faster_than_its_weakest_part() -> None:
    build = with_(SOUND, rods_to="9200", pump_to="8600", brief__overspeed="8700")
    found = verdict(build, "engine.weakest")
    assert found.level is Level.FAIL
    assert "the oil pump, 8,600 rpm" in found.note
    assert verdict(with_(build, pump_to="9000"), "engine.weakest").level is Level.CLEAR
    assert math.isclose(turbo.weakest(ctx(build)).value, -100.0)


def test_what_nobody_counted_is_not_nought() -> None:
    for work in (turbo.life, turbo.weakest, oil.oil_return, oil.spray, turbo.clamp, turbo.ratio):
        with pytest.raises(MissingInput):
            work(ctx(SOUND))


# -- ports against gasket and manifold


MOUTHS = {"mouth_width": "40 mm", "mouth_height": "30 mm", "manifold_width": "39 mm", "manifold_height": "29 mm"}


def straight() -> Build:
    """The sound head with nothing said of its ports' mouths."""
    build = SOUND
    for side in ("intake", "exhaust"):
        for name in (*MOUTHS, "manifold_across", "manifold_up"):
            build = change(build, f"{side}.port.{name}", "")
    return build


def mouths(side: str = "intake", **other: str) -> Build:
    build = straight()
    for name, text in (MOUTHS | other).items():
        build = change(build, f"{side}.port.{name}", text)
    return build


def matched(build: Build, side: str = "intake") -> Verdict:
    return next(v for v in assess(build).of_side(side) if v.id == "port.match")


def test_a_smaller_opening_upstream_is_harmless_and_a_larger_one_an_edge() -> None:
    assert matched(mouths()).level is Level.CLEAR
    assert ports.edge(assess(mouths()).sides["intake"]).value == pytest.approx(-0.5)
    # the exhaust's stream goes the other way: the head's larger port is upstream there
    assert ports.edge(assess(mouths("exhaust")).sides["exhaust"]).value == pytest.approx(0.5)


@pytest.mark.parametrize(
    ("wide", "level"),
    [("40.9 mm", Level.CLEAR), ("41.1 mm", Level.TIGHT), ("42 mm", Level.TIGHT), ("42.1 mm", Level.FAIL)],
)
def test_an_edge_is_amber_from_half_a_millimetre_and_red_from_one(wide: str, level: Level) -> None:
    assert matched(mouths(manifold_width=wide)).level is level


def test_a_shift_counts_whichever_way_it_lies_and_the_gasket_stands_between() -> None:
    for shift in ("0.9 mm", "-0.9 mm"):
        assert ports.edge(assess(mouths(manifold_across=shift)).sides["intake"]).value == pytest.approx(0.4)
        assert ports.edge(assess(mouths(manifold_up=shift)).sides["intake"]).value == pytest.approx(0.4)
    between = mouths(gasket_width="41.4 mm", gasket_height="30 mm")
    assert ports.edge(assess(between).sides["intake"]).value == pytest.approx(0.7)
    assert "gasket into port" in matched(between).note
    assert not matched(mouths()).proven
    half = change(mouths(), "intake.port.manifold_height", "")
    assert matched(half).level is Level.OPEN
    assert "port.match" not in {v.id for v in assess(straight()).verdicts}


# -- oil to the turbine, and the filter


@pytest.mark.parametrize(
    ("bearing", "hole", "level"),
    [("rolling bearings", "1.0 mm", Level.CLEAR), ("rolling bearings", "1.6 mm", Level.FAIL), ("plain bearings", "1.6 mm", Level.CLEAR),
     ("plain bearings", "1.4 mm", Level.FAIL), ("rolling bearings", "0.75 mm", Level.FAIL), ("not said", "1.0 mm", Level.OPEN)],
)  # fmt: skip
def test_a_restrictor_is_judged_by_what_the_shaft_runs_in(bearing: str, hole: str, level: Level) -> None:
    assert verdict(with_(SOUND, bearing=bearing, restrictor=hole), "oil.restrictor").level is level


@pytest.mark.parametrize(("wide", "level"), [("11.9 mm", Level.FAIL), ("12 mm", Level.TIGHT), ("14 mm", Level.CLEAR)])
def test_a_turbo_drain_is_wide_enough_for_foam(wide: str, level: Level) -> None:
    assert verdict(with_(SOUND, turbo_drain=wide), "oil.turbo_drain").level is level


@pytest.mark.parametrize(
    ("mesh", "level"), [("0.25 mm", Level.CLEAR), ("0.3 mm", Level.TIGHT), ("0.31 mm", Level.FAIL)]
)
def test_the_filter_is_finer_than_half_a_spray_hole(mesh: str, level: Level) -> None:
    assert verdict(with_(SOUND, spray_hole="0.6 mm", spray_mesh=mesh), "oil.filter").level is level


# -- stretch, gaskets, the next look


def test_a_stud_that_was_measured_longer_needs_no_lubricant() -> None:
    build = with_(SOUND, stud_stretch="0.35 mm", stud_length="100 mm", stud_area="75.8 mm²", torque="90 Nm")
    assert turbo.preload(ctx(build)).value == pytest.approx(205_000.0 * 75.8 * 0.35 / 100.0)
    with pytest.raises(MissingInput):
        turbo.preload(ctx(with_(SOUND, stud_stretch="0.35 mm")))
    stated = with_(build, preload="60 kN")
    assert turbo.preload(ctx(stated)).value == pytest.approx(60_000.0)


def test_a_composite_gasket_is_torqued_again_after_its_first_heat() -> None:
    held = with_(SOUND, preload="62.9 kN", studs_around="4", studs_shared="2", gasket_bore="87.5 mm")
    assert turbo.clamp(ctx(held)).note == ""
    assert "first heat" in turbo.clamp(ctx(with_(held, gasket_kind="composite"))).note
    assert turbo.clamp(ctx(with_(held, gasket_kind="layers of steel"))).note == ""


@pytest.mark.parametrize(
    ("use", "words"),
    [
        ("road", "Next look within 10,500 km"),
        ("track", "Next look within 7.0 h"),
        ("sprint", "Next look after this meeting"),
    ],
)
def test_the_next_look_comes_sooner_by_what_the_limiter_has_taken(use: str, words: str) -> None:
    build = change(with_(SOUND, limiter_hard="30"), "brief.use", use)
    assert turbo.life(ctx(build)).note.endswith(f"{words}.")
    worn = change(with_(SOUND, limiter_hard="100"), "brief.use", use)
    assert "read again before it runs" in turbo.life(ctx(worn)).note


def test_no_filter_is_no_fine_filter_and_a_gasket_half_measured_is_open() -> None:
    bare = with_(SOUND, spray_hole="0.6 mm", spray_mesh="none")
    assert "oil.filter" not in {v.id for v in assess(bare).verdicts}
    assert matched(mouths(gasket_height="30 mm")).level is Level.OPEN
