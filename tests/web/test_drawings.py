"""The drawings are to scale: what can be measured off them is what the core worked out."""

import math
import re
from xml.etree.ElementTree import Element, fromstring

import numpy as np
import pytest

from arcstack.application.starts import template
from arcstack.assess import assess
from arcstack.checks import Level
from arcstack.demo import demo_builds
from arcstack.document import Build, change
from arcstack.drawings.clashes import clashes
from arcstack.drawings.crown import crown, lobe_picture
from arcstack.drawings.geometry import geometry
from arcstack.drawings.marks import mark
from arcstack.drawings.parts import lobe_outline
from arcstack.drawings.scrubber import scrubber
from arcstack.drawings.section import section
from arcstack.mech.cam.law import SymmetricLobe
from arcstack.units import LENGTH, System, show
from arcstack.web.stages.cam.charts import cam_chart
from arcstack.web.stages.clearance.charts import clearance_chart
from tests.builds import typed

SOUND, FAILING = demo_builds()
LOBE = SymmetricLobe.polynomial(10.4, math.radians(72.0), (2.0, 8.0, 14.0, 20.0))


def drawn(build: Build, side: str = "intake", cam_deg: int = 0) -> Element:
    picture, _, _ = section(assess(build), side, System.MM, cam_deg)
    return fromstring(str(picture))


def parts(root: Element, name: str) -> list[Element]:
    return [g for g in root.iter() if g.get("data-part") == name]


def shift(node: Element) -> float:
    found = re.search(r"translate\(0 (-?[\d.]+)\)", node.get("transform", ""))
    assert found
    return float(found[1])


@pytest.mark.parametrize("turned", [-60.0, -25.0, 0.0, 14.0, 48.0])
def test_the_lobe_touches_a_flat_follower_at_its_lift(turned: float) -> None:
    points = np.array(lobe_outline(LOBE, 18.5, 1.0))
    angle = math.radians(turned)
    # turned clockwise by the angle, the lowest point of the lobe is where the bucket's crown must stand
    down = points @ np.array([math.sin(angle), -math.cos(angle)])
    assert down.max() == pytest.approx(18.5 + float(LOBE.evaluate(np.array([angle]))[0]), abs=0.01)
    across = points @ np.array([math.cos(angle), math.sin(angle)])
    assert across[int(np.argmax(down))] == pytest.approx(float(LOBE.evaluate(np.array([angle]), 1)[0]), abs=0.5)


def test_springs_stand_at_their_heights_and_close_with_the_valve() -> None:
    for cam_deg, lift in ((-90, 0.0), (0, 9.8)):
        root = drawn(SOUND, cam_deg=cam_deg)
        for name, height in (("outer", 36.0), ("inner", 33.6)):
            coils = [c for g in parts(root, name) for h in g for c in h.iter("circle") if h.get("data-travel")]
            holders = [h for g in parts(root, name) for h in g if h.get("data-travel") is not None]
            ys = [float(c.get("cy", "0")) + shift(h) for h in holders for c in h.iter("circle")]
            wire = 2 * float(coils[0].get("r", "0"))
            assert max(ys) - min(ys) + wire == pytest.approx(height - lift, abs=0.01)


def test_everything_on_the_valve_moves_with_it_and_the_rest_stays() -> None:
    root = drawn(SOUND, cam_deg=0)
    for name in ("valve", "retainer", "locks", "bucket"):
        assert shift(parts(root, name)[0]) == pytest.approx(9.8, abs=1e-3)
    for name in ("head", "guide", "seal", "shims", "locator", "seat"):
        assert parts(root, name)[0].get("transform") is None


def test_each_part_that_the_design_names_is_there() -> None:
    found = {g.get("data-part") for g in drawn(SOUND).iter()}
    assert {
        "head", "locator", "shims", "outer", "inner", "retainer", "locks", "seal", "guide", "valve", "bucket", "lobe",
    } <= found  # fmt: skip
    single = {g.get("data-part") for g in drawn(change(SOUND, "intake.stack.pack", "single")).iter()}
    assert "inner" not in single


def test_the_crown_meets_the_base_circle_at_the_lash() -> None:
    g = geometry(assess(SOUND).sides["intake"])
    assert g.cam_y - g.base_radius - g.crown == pytest.approx(0.20)


def test_a_finger_swings_and_its_lobe_stands_by_the_ratio() -> None:
    finger = SOUND
    for path, text in (
        ("engine.follower", "finger"),
        ("intake.follower.finger.ratio", "1.6"),
        ("intake.cam.lobe_lift", "6.25"),
    ):
        finger = change(finger, path, text)
    picture, frames, g = section(assess(finger), "intake", System.MM)
    assert "data-swing" in str(picture)
    # no arm is given: 38 mm is drawn, and the pad where the ratio puts it
    assert g.cam_x == pytest.approx(38.0 * (1 - 1 / 1.6))
    assert frames.swing[frames.nose] == pytest.approx(-math.degrees(math.asin(9.8 / 38.0)), abs=0.01)
    assert "finger’s arm" in g.assumed


def test_a_lever_is_drawn_where_its_figures_have_it() -> None:
    """Arm 40 with its tip 4.9 up, pad 25 and 3 up: the pivot stands √(40² − 4.9²) off, the pad √(25² − 3²) from it."""
    across, along = math.sqrt(40.0**2 - 4.9**2), math.sqrt(25.0**2 - 3.0**2)
    for kind, at in (("finger", across - along), ("rocker", across + along)):
        build = SOUND
        for path, text in (
            ("engine.follower", kind), (f"intake.follower.{kind}.ratio_from", "pivot geometry"),
            (f"intake.follower.{kind}.arm", "40"), (f"intake.follower.{kind}.arm_height", "4.9"),
            (f"intake.follower.{kind}.pad_arm", "25"), (f"intake.follower.{kind}.pad_height", "3"),
            (f"intake.follower.{kind}.pad_radius", "9"), (f"intake.follower.{kind}.meets", "roller"),
            ("intake.cam.lobe_lift", "6"),
        ):  # fmt: skip
            build = change(build, path, text)
        picture, frames, g = section(assess(build), "intake", System.MM)
        assert g.cam_x == pytest.approx(at)
        assert g.arm is not None
        assert g.arm.rocker is (kind == "rocker")
        # the lobe is above a finger, and under a rocker with the shaft between
        contact = g.foot + g.arm.contact_y
        away = 17.5 + 0.2 / g.ratio
        assert g.cam_y == pytest.approx(contact - away if kind == "rocker" else contact + away)
        # the tip goes down by the lift: its height over the pivot falls from 4.9 by just that
        turned = math.asin(4.9 / 40.0) - math.radians(-frames.swing[frames.nose])
        assert 40.0 * math.sin(turned) == pytest.approx(4.9 - frames.lift[frames.nose], abs=0.01)
        assert "bucket diameter" not in g.assumed
        assert "rotate(180" in str(picture) if kind == "rocker" else "rotate(180" not in str(picture)


def test_what_is_not_given_is_drawn_usual_and_named_and_no_figure_is_made_up() -> None:
    picture, frames, g = section(assess(Build(name="x")), "intake", System.MM)
    assert "lift curve" in g.assumed
    assert frames.words(0)["height"] == "–"
    assert "seal" not in frames.words(0)
    assert "nan" not in str(picture)
    assert str(scrubber(frames, 0)) == ""


def test_words_cannot_break_out_of_a_drawing() -> None:
    named = change(SOUND, "intake.cam.code", '"><script>alert(1)</script>')
    assert "<script>" not in str(section(assess(named), "intake", System.INCH)[0])


def test_crown_and_lobe_are_to_scale() -> None:
    ctx = assess(SOUND).sides["intake"]
    bucket = fromstring(str(crown(ctx)))
    circle, band = next(bucket.iter("circle")), next(bucket.iter("rect"))
    assert float(circle.get("r", "0")) == 18.0
    assert float(band.get("height", "0")) == 12.0
    assert float(band.get("width", "0")) == pytest.approx(2 * 14.29, abs=0.05)
    assert lobe_picture(ctx) is not None
    assert crown(assess(Build(name="x")).sides["intake"]) is None


def test_charts_carry_the_cores_figures() -> None:
    ctx = assess(FAILING).sides["intake"]
    clearance = clearance_chart(ctx, System.MM)
    assert clearance is not None
    gap = next(s for s in clearance["series"] if s["style"] == "gap")["y"]
    assert min(gap) == pytest.approx(-0.47, abs=0.03)
    motion = cam_chart(ctx, System.INCH)
    assert motion is not None
    assert max(motion["panels"][0]["series"][0]["y"]) == pytest.approx(0.413, abs=1e-3)
    assert [m["text"] for m in motion["marks"]] == ["opens", "nose", "closes"]
    empty = assess(Build(name="x")).sides["intake"]
    assert [f(empty, System.MM) for f in (cam_chart, clearance_chart)] == [None, None]


def test_marks_differ_in_shape_and_in_stroke_not_in_colour_alone() -> None:
    from arcstack.checks import Level

    shapes = {level: str(mark(level, True)) for level in Level}
    assert len({re.sub(r"class=.*?aria-label=\"[^\"]*\"", "", s) for s in shapes.values()}) >= 3
    assert "fail, proven" in shapes[Level.FAIL]
    assert "paper" in str(mark(Level.CLEAR, False))


def test_locks_that_sit_deep_are_drawn_deep_with_their_dimension() -> None:
    home = typed(template("bucket"), {"intake.stack.height_basis": "bare", "intake.stack.retainer.offset": "none"})
    deep = change(home, "intake.stack.locks.outside", "11.10 mm")
    flat, sunk = (section(assess(b), "intake", System.MM) for b in (home, deep))
    by = 0.1 / (2 * math.tan(math.radians(5.0)))
    assert sunk[2].sinks == pytest.approx(by)
    # the retainer climbs, the locks stay in their groove, and the tip with them
    assert sunk[2].retainer_y - flat[2].retainer_y == pytest.approx(by)
    assert sunk[2].lock_y == pytest.approx(flat[2].lock_y)
    assert sunk[2].tip == pytest.approx(flat[2].tip)
    assert "locks sit deep" in sunk[0]
    assert "0.57 mm" in sunk[0]
    assert "locks sit deep" not in flat[0]
    high = change(home, "intake.stack.locks.outside", "11.30 mm")
    assert "locks stand high" in section(assess(high), "intake", System.MM)[0]


def test_parts_that_clash_are_drawn_through_each_other_with_the_overlap() -> None:
    sound = change(demo_builds()[0], "intake.stack.retainer.outer_step", "21.6 mm")
    now = assess(sound)
    drawing, _, g = section(now, "intake", System.MM)
    (clash,) = clashes(now.sides["intake"], g)
    spring = sound.intake.stack.outer
    assert spring.outside is not None
    assert spring.wire is not None
    inside = spring.outside.value - 2 * spring.wire.value
    assert clash.words == "outer spring on the retainer"
    assert clash.overlap_mm == pytest.approx(21.6 - inside)
    assert (2 * clash.inner, 2 * clash.outer) == pytest.approx((inside, 21.6))
    assert str(drawing).count('class="clash-metal"') == 2
    assert f"overlaps by {show(clash.overlap_mm, LENGTH, System.MM)}" in drawing
    assert 'class="clash' not in section(assess(demo_builds()[0]), "intake", System.MM)[0]
    # loose is no clash, however badly it fits
    loose = assess(change(demo_builds()[0], "intake.stack.retainer.outer_step", "19 mm"))
    assert loose.verdict("fit.spring_retainer", "intake").level is Level.FAIL
    assert clashes(loose.sides["intake"], section(loose, "intake", System.MM)[2]) == []
