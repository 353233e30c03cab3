"""Measured curves, the follower on its lobe, overlap and the two heads, against figures worked by other means."""

import math

import numpy as np
import pytest

from arcstack.assess import assess, cam, card, follower, gas, placed
from arcstack.assess.catalogue import find
from arcstack.checks import Evidence, Figure, Level, steps
from arcstack.demo import demo_builds
from arcstack.document import Build, change, set_curve, set_evidence
from arcstack.document.parts import MeasuredCurve, Place
from arcstack.mech.cam.law import SymmetricLobe
from arcstack.mech.valve_to_valve import Head, closest_approach
from tests.builds import BY

SOUND = demo_builds()[0]
LOBE = SymmetricLobe.polynomial(10.4, math.radians(72.0), (2.0, 8.0, 14.0, 20.0))


def table(skew_deg: float = 0.0, place: Place = Place.LOBE, lift: float = 1.0) -> MeasuredCurve:
    angle = np.radians(np.arange(-90.0, 91.0))
    wide = np.where(angle < 0, 1.0 + math.radians(skew_deg) / math.radians(72.0), 1.0)
    y = lift * LOBE.evaluate(angle / wide)
    return MeasuredCurve(
        origin="rig", place=place, cam_rad=tuple(angle.tolist()), lift_mm=tuple(np.round(y, 4).tolist()), by=BY
    )


def edited(build: Build, **rows: str) -> Build:
    for path, text in rows.items():
        build = change(build, path.replace("__", "."), text)
    return build


def worked(build: Build, name: str, side: str = "intake") -> float:
    found = find(assess(build).sides[side], name)
    assert isinstance(found, Figure), found
    return found.value


def value(build: Build, check: str, side: str = "intake") -> float:
    figure = assess(build).verdict(check, side).figure
    assert figure is not None
    return figure.value


def test_a_measured_curve_takes_over_from_the_card_and_is_evidence() -> None:
    build = set_curve(SOUND, "intake", table())
    assert worked(build, "lift.gross") == pytest.approx(10.4, abs=1e-3)
    net = assess(build).verdict("lift.net", "intake")
    assert (net.covered, net.figure.weakest) == ((1, 8), Evidence.MEASURED)  # type: ignore[union-attr]
    # the reference lobe: contact 14.891 off centre, least radius 17.5 + (4.793 − 18.5)
    assert worked(build, "follower.eccentricity") == pytest.approx(14.891, rel=5e-3)
    assert value(build, "follower.radius_of_curvature") == pytest.approx(3.793, abs=0.1)
    assert worked(set_curve(build, "intake", None), "lift.gross") == pytest.approx(10.0)


def test_a_curve_at_the_valve_gives_the_shortfall_and_effective_ratio() -> None:
    rocker = edited(
        SOUND,
        engine__follower="rocker",
        intake__follower__rocker__mass="40 g",
        intake__follower__rocker__ratio="1.5",
        intake__cam__lobe_lift="7.1",
    )
    asks = set_curve(rocker, "intake", table(place=Place.VALVE))
    assert assess(asks).verdict("cam.lift_shortfall", "intake").missing[0].path == "intake.cam.curve_lash"
    build = change(asks, "intake.cam.curve_lash", "none", by=BY)
    verdict = assess(build).verdict("cam.lift_shortfall", "intake")
    assert verdict.figure is not None
    assert verdict.figure.value == pytest.approx(10.65 - 10.4, abs=2e-3)
    assert "Effective ratio 1.465" in verdict.note
    assert "follower.edge_margin" not in {v.id for v in assess(build).of_side("intake")}


def test_an_asymmetric_lobe_keeps_its_centreline_apart_from_its_nose() -> None:
    build = set_curve(SOUND, "intake", table(skew_deg=6.0))
    ctx = assess(build).sides["intake"]
    nose = math.degrees(placed.nose_crank_rad(ctx))
    # opening flank longer by a twelfth: at 1 mm its half is 61.4 cam degrees instead of 56.6
    assert nose - 109.0 == pytest.approx(4.72, abs=0.15)
    assert value(build, "cam.asymmetry") == pytest.approx(math.radians(4.72), abs=math.radians(0.15))
    by_nose = change(build, "intake.cam.centreline_means", "maximum lift")
    assert math.degrees(placed.nose_crank_rad(assess(by_nose).sides["intake"])) == pytest.approx(109.0)


def test_an_asymmetric_card_is_met_and_its_nose_lies_where_it_says() -> None:
    build = edited(SOUND, intake__cam__peak_offset="3 deg", intake__cam__durations__2__duration="")
    ctx = assess(build).sides["intake"]
    assert math.degrees(placed.nose_crank_rad(ctx)) == pytest.approx(112.0, abs=0.1)
    far = edited(build, intake__cam__durations__1__duration="80 deg", intake__cam__peak_offset="28 deg")
    assert assess(far).verdict("cam.card", "intake").level == "fail"


def test_what_the_card_leaves_open_has_a_width() -> None:
    separation = assess(SOUND).verdict("control.separation", "intake").figure
    assert separation is not None
    assert separation.band is not None
    low, high = separation.band
    assert low <= separation.value <= high
    assert 100 < high - low < 2000
    swept = assess(SOUND).verdict("piston.clearance_swept", "intake").figure
    assert swept is not None
    assert swept.band is not None
    assert swept.band[0] <= swept.value <= swept.band[1]
    measured = assess(set_curve(SOUND, "intake", table())).verdict("control.separation", "intake").figure
    assert measured is not None
    assert measured.band is not None
    # a table without scatter leaves next to nothing open, one of a card hundreds of rpm
    assert measured.band[1] - measured.band[0] < 20


def test_bucket_edge_by_hand() -> None:
    build = set_curve(SOUND, "intake", table())
    # 36/2 − √(14.891² + (6 + 0.8)²)
    assert value(build, "follower.edge_margin") == pytest.approx(18 - math.hypot(14.891, 6.8), abs=0.02)


def test_nose_pressure_by_hand_and_by_material() -> None:
    build = set_curve(SOUND, "intake", table())
    law = cam.curve(assess(build).sides["intake"]).lobe
    radius = 17.5 + 10.4 + float(law.evaluate(np.zeros(1), 2)[0])
    force = 351.64 + 43.522 * 10.2
    by_hand = math.sqrt(force * 210_000 / (2 * (1 - 0.09)) / (math.pi * 12 * radius))
    assert value(build, "follower.contact_pressure.nose") == pytest.approx(by_hand, rel=0.03)
    limits = []
    for pair in ("steel on chilled iron", "steel on hardened steel", "coated on hardened steel"):
        limit = (
            assess(change(build, "intake.follower.bucket.materials", pair))
            .verdict("follower.contact_pressure.nose", "intake")
            .limit
        )
        assert limit is not None
        limits.append(limit.high)
    assert limits == [750.0, 880.0, 1000.0]


def test_a_negative_radius_fails_and_no_pressure_is_made_up_for_it() -> None:
    small = edited(set_curve(SOUND, "intake", table()), intake__cam__base_circle="26")
    assert assess(small).verdict("follower.radius_of_curvature", "intake").level == "fail"
    assert assess(small).verdict("follower.contact_pressure.nose", "intake").level == "fail"
    assert assess(small).verdict("follower.contact_pressure.flank", "intake").level == "open"


def test_lash_above_the_ramp_lands_hard() -> None:
    assert value(SOUND, "cam.ramp") < 0.4
    wide = edited(SOUND, intake__cam__lash="0.6")
    assert value(wide, "cam.ramp") > value(SOUND, "cam.ramp")
    # the reference lobe has no ramp: at 0.2 mm it rises some 3.8 mm/rad, at 8100 rpm 424 rad/s of cam
    bare = set_curve(SOUND, "intake", table())
    assert value(bare, "cam.ramp") == pytest.approx(1.6, abs=0.2)
    assert assess(bare).verdict("cam.ramp", "intake").level == "fail"


def test_overlap_moves_degree_for_degree_and_is_one_figure_for_both_sides() -> None:
    later = edited(SOUND, intake__cam__centreline="119")
    assert math.degrees(value(SOUND, "timing.overlap") - value(later, "timing.overlap")) == pytest.approx(10.0)
    assert value(SOUND, "timing.overlap", "exhaust") == value(SOUND, "timing.overlap")


def test_valves_come_closer_with_advance_and_wider_heads() -> None:
    closer = edited(SOUND, intake__cam__phaser_advance="45")
    wider = edited(SOUND, intake__stack__valve__head="36.5")
    assert value(closer, "valve.to_valve") < value(SOUND, "valve.to_valve")
    assert value(SOUND, "valve.to_valve") - value(wider, "valve.to_valve") == pytest.approx(
        math.cos(math.radians(15)), abs=0.15
    )


def test_two_shut_heads_stand_apart_by_their_geometry() -> None:
    intake, exhaust = Head(19.25, 17.25, math.radians(15)), Head(-19.25, 14.75, math.radians(16))
    # noses far from TDC: both stay shut. Across 38.5 − 17.25·cos 15° − 14.75·cos 16° = 7.66, down 0.40
    shut = closest_approach(intake, exhaust, LOBE, LOBE, 6.0, -6.0)
    assert shut.gap_mm == pytest.approx(math.hypot(7.66, 0.40), abs=0.01)
    meeting = closest_approach(Head(12.0, 17.25, 0.26), Head(-12.0, 14.75, 0.28), LOBE, LOBE, 1.9, -1.9)
    assert meeting.gap_mm < 0


def test_finger_tip_sweep() -> None:
    finger = edited(
        SOUND, engine__follower="finger", intake__follower__finger__mass="40 g", intake__follower__finger__ratio="1.6", intake__cam__lobe_lift="6.25",
        intake__follower__finger__arm="30", intake__follower__finger__arm_height="5",
    )  # fmt: skip
    assert value(finger, "follower.tip_sweep") == pytest.approx(30 - math.sqrt(900 - 25), abs=1e-6)
    off = edited(finger, intake__follower__finger__arm_height="10")
    assert value(off, "follower.tip_sweep") > 3 * value(finger, "follower.tip_sweep")


def test_nose_pressure_of_a_padded_finger_by_hand() -> None:
    finger = edited(
        SOUND, engine__follower="finger", intake__follower__finger__mass="40 g", intake__follower__finger__ratio="1.6", intake__cam__lobe_lift="6.25",
        intake__follower__finger__pad_radius="25",
    )  # fmt: skip
    # r = 17.5 + 25 + 6.25 = 48.75, r″ = −12.966: κ = (48.75 + 12.966)/48.75² = 1/38.51, R = 25·(1 − 25/38.51) = 8.770
    # 778 N at the valve are 1,244 N at the pad: √(1244·115,385/(π·12·8.770)) = 659 MPa
    assert value(finger, "follower.contact_pressure.nose") == pytest.approx(659.0, abs=1.5)
    radius = assess(finger).verdict("follower.radius_of_curvature", "intake")
    assert 12.0 < value(finger, radius.id) < 13.51
    # the path of the pad's centre as a line of the working: 38.51 mm on the nose
    pressure = assess(finger).verdict("follower.contact_pressure.nose", "intake").figure
    assert pressure is not None
    path = next(f for f in steps(pressure) if f.symbol == "ρ_p")
    assert path.value == pytest.approx(38.51, abs=0.01)
    assert "straight in and out" in path.note
    flat = assess(SOUND).verdict("follower.contact_pressure.nose", "intake").figure
    assert flat is not None
    assert [i.symbol for i in flat.inputs] == ["F", "E′", "w", "ρ"]
    without = assess(change(finger, "intake.follower.finger.pad_radius", ""))
    for check in ("follower.radius_of_curvature", "follower.contact_pressure.nose", "control.nose_pressure"):
        verdict = without.verdict(check, "intake")
        assert verdict.level is Level.OPEN
        assert [m.path for m in verdict.missing] == ["intake.follower.finger.pad_radius"]


def test_a_pad_too_large_for_its_lobe_fails() -> None:
    sharp = edited(
        SOUND, engine__follower="finger", intake__follower__finger__mass="40 g", intake__follower__finger__ratio="1.25", intake__cam__lobe_lift="8",
        intake__cam__base_circle="15", intake__follower__finger__pad_radius="120",
    )  # fmt: skip
    verdict = assess(sharp).verdict("follower.radius_of_curvature", "intake")
    assert verdict.level is Level.FAIL
    assert "Undercut" in verdict.note
    # an undercut is no hollow flank
    assert "hollow" not in verdict.note
    assert assess(sharp).verdict("follower.contact_pressure.nose", "intake").level is Level.OPEN


def test_a_shim_over_the_bucket_is_cautioned_at_speed() -> None:
    over = change(SOUND, "intake.follower.bucket.shimming", "shim over")
    assert "8,100 rpm" in follower.cautions(assess(over).sides["intake"])[0]
    slow = edited(over, brief__limiter="6500")
    assert follower.cautions(assess(slow).sides["intake"]) == []


def test_card_against_curve_names_likely_reasons() -> None:
    build = set_curve(edited(SOUND, intake__cam__valve_lift="10.9"), "intake", table())
    rows = {c.label: c for c in card.against_curve(assess(build).sides["intake"])}
    assert rows["Lobe lift"].difference == "0.40 mm"
    assert rows["Valve lift"].reasons == "another ratio, flex, or lash left in"
    assert rows["Duration at 1.00 mm at the lobe"].curve == "226.6°"
    assert rows["Duration at 1.00 mm at the lobe"].reasons == ""
    assert card.against_curve(assess(SOUND).sides["intake"]) == []


def test_evidence_of_a_curve_does_not_prove_what_else_is_printed() -> None:
    build = set_curve(set_evidence(SOUND, "intake.stack.outer.load_1", Evidence.PRINTED), "intake", table())
    assert assess(build).verdict("control.separation", "intake").evidence == "on paper"


def test_opening_against_cylinder_pressure_loads_the_exhaust_lobe() -> None:
    # 5 bar in the cylinder, 1.9 bar behind: 0.1·(6.013·683.5 − 2.913·655.6 − 1.013·27.9)
    ctx = assess(SOUND).sides["exhaust"]
    assert gas.opening_load(ctx).value == pytest.approx(217.1, abs=0.5)
    assert gas.opening_load(assess(SOUND).sides["intake"]).value == 0.0
    soft = edited(SOUND, exhaust__stack__outer__load_1="150", exhaust__stack__outer__load_2="350")
    hard = edited(soft, brief__opening_pressure="30 bar")
    assert value(hard, "follower.contact_pressure.flank", "exhaust") > value(
        soft, "follower.contact_pressure.flank", "exhaust"
    )
    assert value(hard, "follower.contact_pressure.flank") == value(SOUND, "follower.contact_pressure.flank")


def test_card_events_nose_and_area_stand_beside_the_curve() -> None:
    rows = {
        c.label: c for c in card.against_curve(assess(set_curve(SOUND, "intake", table(skew_deg=6.0))).sides["intake"])
    }
    # 1.0 mm at the lobe lasts 226.6·(1 + 1/24) = 236.0°: it opens 118.0 before the middle at 109° after TDC
    assert rows["Opens before TDC"].curve == "9.0°"
    assert rows["Maximum lift after centreline"].curve.startswith("4.")
    assert rows["Area under the curve"].difference.endswith("%")
