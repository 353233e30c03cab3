"""The mock-up on the page: gates, the stop met both ways, both flanks, what to move, a timing kept, valve to piston."""

import math
import re

import pytest

from arcstack.application.bench import Bench
from arcstack.assess import assess, cam, piston, placed
from arcstack.assess.built import built
from arcstack.document import Build
from arcstack.readings.mock_up import MockUp
from arcstack.trials.timed import card_flanks
from tests.web.conftest import Browser

STAND = {"act": "stand", "lash": "0.20", "gasket_used": "1.15", "gasket_crushed": "1.15", "phaser": "0",
         "by_hand": "1", "plugs_out": "1", "light_springs": "1"}  # fmt: skip


@pytest.fixture(params=["intake", "exhaust"])
def side(request: pytest.FixtureRequest) -> str:
    return str(request.param)


@pytest.fixture
def at(browser: Browser, side: str) -> str:
    browser.post("/who", 302, who="Wen", back="/")
    return f"/builds/{browser.sound}/{side}/bench/mock-up"


def sound(browser: Browser) -> Build:
    return browser.workshop.open(browser.sound).build


def plain(page: str) -> str:
    return " ".join(re.sub(r"<[^>]+>", " ", page).split())


def mock(browser: Browser, side: str) -> MockUp:
    service: Bench = browser.client.application.extensions["shop"].bench
    return service.sheet(browser.sound, sound(browser)).mock_up(side)


def ready(browser: Browser, at: str, error: float = 1.5) -> None:
    """Standing, the stop met both ways with a pointer so far off, and out again."""
    browser.post(at, 302, **STAND)
    browser.post(at, 302, act="stop", before=f"{33 - error}", after=f"{33 + error}")
    browser.post(at, 302, act="out")


def shown(
    browser: Browser, side: str, early: float = 0.0, error: float = 1.5, lash: float = 0.2, check: float = 1.0
) -> dict[str, str]:
    """Both flanks as a wheel that reads so late shows a cam so early, in degrees."""
    own = card_flanks(assess(sound(browser)).sides[side], check, lash, 0.0)
    near, far = math.degrees(own.by_tdc), math.degrees(own.by_bdc)
    if side == "intake":
        near, far = near + early - error, far - early + error
    else:
        near, far = near - early + error, far + early - error
    return {"by_tdc": f"{near:.3f}", "by_bdc": f"{far:.3f}"}


def highest(browser: Browser, side: str, lash: float = 0.2) -> str:
    return f"{cam.gross_lift(assess(sound(browser)).sides[side]).value - lash:.2f}"


def test_nothing_is_turned_before_it_stands_and_the_stop_is_out(browser: Browser, at: str, side: str) -> None:
    assert "Say first how the engine stands" in browser.post(at, 422, act="stop", before="31.5", after="34.5")
    browser.post(at, 302, **(STAND | {"plugs_out": ""}))
    assert "Not yet: plugs out." in browser.post(at, 422, act="stop", before="31.5", after="34.5")
    browser.post(at, 302, **STAND)
    assert "True TDC first" in browser.post(at, 422, act="pass", place="1I-a", by_tdc="10", by_bdc="40")
    browser.post(at, 302, act="stop", before="31.5", after="34.5")
    page = plain(browser.get(at))
    assert "31.5° before, 34.5° after: the pointer reads 1.5° late" in page
    assert "The stop is in" in page
    assert "It bends rods" in browser.post(at, 422, act="pass", place="1I-a", by_tdc="10", by_bdc="40")
    browser.post(at, 302, act="out")
    assert "The stop is in" not in plain(browser.get(at))
    assert mock(browser, side).passes == ()


@pytest.mark.parametrize(
    ("form", "words"),
    [
        ({"act": "stop", "before": "-31", "after": "34"}, "above nought"),
        ({"act": "stop", "before": "31", "after": "149"}, "further from a dead centre"),
        ({"act": "stop", "before": "31", "after": "75"}, "read from BDC"),
        ({"act": "stop", "before": "", "after": "34"}, "is empty"),
        ({"act": "stop", "before": "3 mm", "after": "34"}, "Stop before TDC"),
        ({"act": "pass", "by_tdc": "10", "by_bdc": "40", "turned_back": "1"}, "go round 720°"),
        ({"act": "pass", "by_tdc": "10", "by_bdc": "40", "place": "9I-z"}, "no place 9I-z"),
        ({"act": "pass", "by_tdc": "10", "by_bdc": "40", "check_lift": "9.9 mm", "highest": "9.6"}, "never passes that check lift"),
        ({"act": "pass", "by_tdc": "200", "by_bdc": "40"}, "further from a dead centre"),
        ({"act": "push", "crank": "5", "travel": "-1"}, "not below nought"),
        ({"act": "push", "crank": "90", "travel": "4"}, "Within 60°"),
        ({"act": "clay", "imprint": "0"}, "nought means they touched"),
        ({"act": "clay", "imprint": "40"}, "between nought and 15"),
        ({"act": "clay", "imprint": "9"}, "is that the thinnest place"),
        ({"act": "clay", "imprint": "2", "radial": "20"}, "Room around the valve lies"),
        ({"act": "clay", "imprint": "2", "edge": "bent"}, "edge is clean, sharp, overhanging"),
        ({"act": "between", "gap": "3", "inlet": "1I-a", "outlet": "1E-a"}, "how both sides stand"),
        ({"act": "bearing", "bearing": "0", "runout": "0.01"}, "counted from the drive"),
        ({"act": "bearing", "bearing": "1", "runout": "5"}, "between nought and 2"),
        ({"act": "room", "room": "-1"}, "between nought and 30"),
        ({"act": "close", "springs_in": "16", "springs_out": ""}, "count them"),
        ({"act": "close", "springs_in": "16", "springs_out": "16", "bolts_marked": "1"}, "By which figure?"),
        ({"act": "stand", "phaser": "10"}, "What holds the phaser there?"),
        ({"act": "stand", "adjusters": "loose"}, "none, solid or soft"),
        ({"act": "keep", "reason": "it ran"}, "no timing to keep"),
        ({"act": "moved", "turned": "0"}, "By how many"),
        ({"act": "moved", "turned": "90"}, "By how many"),
        ({"act": "stand", "lash": "20"}, "Lash lies between"),
        ({"act": "nothing"}, "no part of a mock-up"),
        ({"act": "withdraw", "event": "99"}, "stands no more"),
        ({"act": "withdraw", "event": "²"}, "stands no more"),
    ],
)  # fmt: skip
def test_what_cannot_be_is_refused_in_words(
    browser: Browser, at: str, side: str, form: dict[str, str], words: str
) -> None:
    ready(browser, at)
    place = {"place": "1I-a" if side == "intake" else "1E-a"}
    more = STAND if form["act"] == "stand" else {}
    before = mock(browser, side)
    assert words in plain(browser.post(at, 422, **(more | place | form)))
    assert mock(browser, side) == before


def test_a_cam_that_is_early_is_found_moved_and_read_again(browser: Browser, at: str, side: str) -> None:
    """Two and a half degrees early, whatever the pointer reads: 1.25 of cam against its running, 0.87 mm at 40 mm."""
    ready(browser, at)
    place = "1I-a" if side == "intake" else "1E-a"
    for _ in range(2):
        browser.post(at, 302, act="pass", place=place, highest=highest(browser, side), **shown(browser, side, 2.5))
    page = plain(browser.get(at))
    assert "2.5° ± 0.5° advanced: gear, tooth, key, stretched chain or cut head." in page
    assert (
        "turn the camshaft 1.25° of cam against the way it runs; at a slot radius of 40.00 mm that is 0.87 mm" in page
    )
    assert 'class="gear-turn"' in browser.get(at)
    assert "Repeatability 0.0°" in page
    browser.post(at, 302, act="moved", turned="-1.25")
    assert mock(browser, side).passes == ()
    browser.post(at, 302, act="pass", place=place, highest=highest(browser, side), **shown(browser, side, 0.1))
    page = plain(browser.get(at))
    assert "as the card" in page
    assert "Centreline, as decided 0.1°" in page


def test_more_lash_is_called_lash_and_the_gear_is_left_alone(browser: Browser, at: str, side: str) -> None:
    ready(browser, at)
    place = "1I-a" if side == "intake" else "1E-a"
    off = shown(browser, side, check=1.3)
    browser.post(at, 302, act="pass", place=place, highest=highest(browser, side, 0.5), **off)
    page = plain(browser.get(at))
    assert ": lash. Leave the gear alone" in page
    assert "turn the camshaft" not in page


def test_a_late_cam_with_wrong_lash_is_told_as_both(browser: Browser, at: str, side: str) -> None:
    ready(browser, at)
    place = "1I-a" if side == "intake" else "1E-a"
    off = shown(browser, side, early=-6.0, check=1.3)
    browser.post(at, 302, act="pass", place=place, highest=highest(browser, side, 0.5), **off)
    page = plain(browser.get(at))
    assert f"{place}: lash; with that taken out, 6.0° ± 1.1° retarded. Leave the gear alone" in page


def test_a_pass_mistyped_is_taken_back_and_stays_to_be_seen(browser: Browser, at: str, side: str) -> None:
    ready(browser, at)
    place = "1I-a" if side == "intake" else "1E-a"
    for early in (0.2, 20.0):
        browser.post(at, 302, act="pass", place=place, highest=highest(browser, side), **shown(browser, side, early))
    slip = mock(browser, side).passes[1].number
    browser.post(at, 302, act="withdraw", event=str(slip))
    page = plain(browser.get(at))
    assert len(mock(browser, side).passes) == 1
    assert f"{place}: 0.2° ± 1.1° advanced: as the card" in page
    assert f"Taken back: {place}, pass" in page
    assert "stands no more" in browser.post(at, 422, act="withdraw", event=str(slip))


def test_a_pass_whose_dial_did_not_come_back_counts_for_nothing(browser: Browser, at: str, side: str) -> None:
    ready(browser, at)
    place = "1I-a" if side == "intake" else "1E-a"
    browser.post(at, 302, act="pass", place=place, returned="0.05", **shown(browser, side, 2.5))
    page = plain(browser.get(at))
    assert "did not come back to nought" in page
    assert "advanced" not in page


def test_cam_degrees_are_asked_about(browser: Browser, at: str, side: str) -> None:
    ready(browser, at)
    place = "1I-a" if side == "intake" else "1E-a"
    read = {k: f"{float(v) / 2:.3f}" for k, v in shown(browser, side, error=0.0).items()}
    if min(abs(float(v)) for v in read.values()) < 3.1:
        pytest.skip("an event near its dead centre tells nothing")
    page = browser.post(at, 422, act="pass", place=place, **read)
    assert "cam degrees?" in page
    browser.post(at, 302, act="pass", place=place, sure="1", **read)


def test_a_timing_kept_is_the_builds_and_every_check_as_built_stands_on_it(
    browser: Browser, at: str, side: str
) -> None:
    ready(browser, at)
    place = "1I-a" if side == "intake" else "1E-a"
    browser.post(at, 302, act="pass", place=place, highest=highest(browser, side), **shown(browser, side, 3.0))
    assert "Why is it kept?" in browser.post(at, 422, act="keep", reason="")
    browser.post(at, 302, act="keep", reason="more pull below 4,000")
    page = plain(browser.get(at))
    assert "Kept: 3.0° earlier than the card, by Wen : more pull below 4,000" in page
    assert "Centreline, as decided 0.0°" in page
    service: Bench = browser.client.application.extensions["shop"].bench
    design = assess(sound(browser))
    head = built(design, service.sheet(browser.sound, sound(browser)))
    ctx, was = head.contexts[place], design.sides[side]
    moved = math.degrees(placed.centreline(ctx).value - placed.centreline(was).value)
    assert moved == pytest.approx(-3.0 if side == "intake" else 3.0, abs=0.01)
    # an intake earlier comes nearer to the piston, an exhaust earlier goes from it
    gaps = piston.pair(ctx).least_gap().gap_mm - piston.pair(was).least_gap().gap_mm
    assert gaps < -0.05 if side == "intake" else gaps > 0.05
    assert placed.centreline(ctx).proven or placed.centreline(ctx).weakest.value == "measured"


def test_pushes_tell_a_tight_chamber_and_the_gaskets_difference_is_taken_out(
    browser: Browser, at: str, side: str
) -> None:
    """The engine is 0.40 tighter than its model, laid on a gasket 0.15 thicker than crushed, lash 0.20 set."""
    ready(browser, at)
    browser.post(at, 302, **(STAND | {"gasket_used": "1.30"}))
    place, ctx = ("1I-a" if side == "intake" else "1E-a"), assess(sound(browser)).sides[side]
    model = piston.pair(ctx)
    lies = 0.15 * math.cos(model.valve_angle_rad) - 0.40
    import numpy as np

    for angle in (-10, -5, 0, 5, 10):
        here = np.radians([float(angle)])
        lift = float(model.net_lift_mm(here, 0.0, 0.20)[0])
        travel = float(model.room_mm(here)[0]) + lies - lift
        form = {"crank": f"{angle + 1.5}", "lift": f"{lift:.4f}", "travel": f"{travel:.4f}"}
        browser.post(at, 302, act="push", place=place, **form)
    page = plain(browser.get(at))
    assert "Drop −0.40 mm" in page
    assert "The chamber is tighter than the model" in page
    least = model.least_gap().gap_mm - 0.40
    assert f"Least gap by the model put right: {least:.2f} mm ± 0.0" in page
    assert "Dial, clay and model apart 0.40 mm" in page
    # one push more, its dial read a turn wrong: nothing rests on any of them until it is read again
    browser.post(at, 302, act="push", place=place, crank="8.5", lift="1.80", travel="6.4")
    wrong = plain(browser.get(at))
    assert "The push at 7.0° lies off all others" in wrong
    assert "Piston, measured –" in wrong
    assert "Least gap by the model put right" not in wrong
    # pushed alone it is said what cannot be told
    browser.post(at, 302, act="moved", turned="1")
    for angle in (-5, 0, 5):
        browser.post(at, 302, act="push", place=place, crank=f"{angle + 1.5}", travel="4.0")
    assert "read the lift too" in plain(browser.get(at))


def test_cams_are_read_in_the_head_and_valves_between_heads(browser: Browser, at: str, side: str) -> None:
    for n, runout in enumerate(("0.010", "0.034", "0.012"), 1):
        browser.post(at, 302, act="bearing", bearing=str(n), runout=runout, spins="1")
    place = "1I-a" if side == "intake" else "1E-a"
    browser.post(at, 302, act="room", place=place, room="0.8")
    page = plain(browser.get(at))
    assert "Cam runout 0.03 mm at most 0.03 mm" in page
    assert "Lobe to head 0.80 mm at least 1.00 mm" in page
    for s in ("intake", "exhaust"):
        ready(browser, f"/builds/{browser.sound}/{s}/bench/mock-up")
    assert "of one cylinder" in browser.post(at, 422, act="between", inlet="1I-a", outlet="2E-a", gap="7")
    browser.post(at, 302, act="between", inlet="1I-a", outlet="1E-b", gap="7")
    assert "1I-a, 1E-b 7.00 mm" in plain(browser.get(at))


def test_it_is_taken_down_by_count_and_the_bench_is_not_signed_before(browser: Browser, at: str, side: str) -> None:
    ready(browser, at)
    to_do = at.replace("mock-up", "to-do")
    assert "checking springs out, phaser free, gear bolts marked: not said yet" in plain(browser.get(at))
    assert f"Mock-up, {side}: checking springs out" in plain(browser.get(to_do))
    short = {"act": "close", "springs_in": "32", "springs_out": "31", "bolts_source": "its maker’s sheet"}
    browser.post(at, 302, **short, phaser_free="1", bolts_marked="1")
    assert "1 checking springs short" in plain(browser.get(at))
    browser.post(at, 302, **(short | {"springs_out": "32"}), phaser_free="1", bolts_marked="1")
    page = plain(browser.get(at))
    assert "32 checking springs out of 32" in page or "True TDC, both ways: fail" in page
    assert "checking springs short" not in page
    # a stop met 3° apart still stands against it
    assert f"Mock-up, {side}: True TDC" in plain(browser.get(to_do))


def test_the_slot_moves_by_the_gears_own_radius(browser: Browser, at: str, side: str) -> None:
    build = browser.workshop.open(browser.sound)
    form = {"path": "engine.slot_radius", "text": "52", "base": build.revision, "stage": "cam", "side": side}
    browser.post(f"/builds/{browser.sound}/edit", 200, **form)
    ready(browser, at)
    place = "1I-a" if side == "intake" else "1E-a"
    browser.post(at, 302, act="pass", place=place, **shown(browser, side, 2.5))
    assert "at a slot radius of 52.00 mm that is 1.13 mm" in plain(browser.get(at))


def test_inches_are_read_as_inches(browser: Browser, at: str, side: str) -> None:
    browser.post("/units", 302, system="in", back="/")
    browser.post(at, 302, **(STAND | {"lash": "0.008", "gasket_used": "0.045", "gasket_crushed": "0.045"}))
    stood = mock(browser, side).stood
    assert stood is not None
    assert stood.lash_mm == pytest.approx(0.2032)
    assert stood.gasket_used_mm == pytest.approx(1.143)
    browser.post(at, 302, act="stop", before="33", after="33")
    browser.post(at, 302, act="out")
    place = "1I-a" if side == "intake" else "1E-a"
    browser.post(at, 302, act="push", place=place, crank="5", lift="0.08", travel="0.17")
    pushed = mock(browser, side).pushes[-1]
    assert pushed.travel_mm == pytest.approx(4.318)
    assert pushed.lift_mm == pytest.approx(2.032)
    assert "0.1700 in" in plain(browser.get(at))


# -- a whole lift curve


def lifted(browser: Browser, at: str, side: str, lash: float = 0.2, error: float = 1.5, step: int = 6) -> list[float]:
    """Every few degrees of a whole lobe as wheel and dial show it, through the form."""
    ctx = assess(sound(browser)).sides[side]
    model = piston.pair(ctx)
    import numpy as np

    centre, half = round(math.degrees(model.centreline_rad)), 174
    taken = []
    place = "1I-a" if side == "intake" else "1E-a"
    for angle in range(centre - half, centre + half + 1, step):
        lift = float(model.net_lift_mm(np.radians([float(angle)]), 0.0, lash)[0])
        form = {"crank": f"{angle + error}", "lift": f"{lift:.3f}", "anew": "1" if not taken else ""}
        browser.post(at, 302, act="lift", place=place, **form)
        taken.append(lift)
    return taken


def test_a_curve_by_dial_becomes_the_sides_measured_table_with_its_lash(browser: Browser, at: str, side: str) -> None:
    ready(browser, at)
    was = assess(sound(browser)).sides[side]
    taken = lifted(browser, at, side)
    page = plain(browser.get(at))
    assert f"{len(taken)} points of" in page
    base = browser.workshop.open(browser.sound).revision
    browser.post(f"{at}/curve", 302, base=base)
    cam_part = sound(browser).side(side).cam
    assert cam_part.curve is not None
    assert cam_part.curve.place == "valve"
    assert cam_part.curve.by is not None
    assert cam_part.curve.by.hand == "Wen"
    assert cam_part.curve_lash is not None
    assert cam_part.curve_lash.value == pytest.approx(0.2)  # type: ignore[union-attr]
    now = assess(sound(browser)).sides[side]
    # gross lift is what the dial had and the lash it was read with, and the gap to the piston is the same
    assert cam.gross_lift(now).value == pytest.approx(cam.gross_lift(was).value, abs=0.03)
    assert piston.pair(now).least_gap().gap_mm == pytest.approx(piston.pair(was).least_gap().gap_mm, abs=0.15)
    assert "Measured curve taken" in browser.get(f"/builds/{browser.sound}/{side}/revisions")


@pytest.mark.parametrize(
    ("form", "words"),
    [
        ({"crank": "20"}, "Turned back, or out of order"),
        ({"crank": "30"}, "Turned back, or out of order"),
        ({"crank": "500"}, "after gas-exchange TDC"),
        ({"crank": "40", "lift": "-1"}, "from nought to 25"),
        ({"crank": "40", "place": "other"}, "begin anew for another valve"),
    ],
)
def test_a_point_that_cannot_follow_is_refused(
    browser: Browser, at: str, side: str, form: dict[str, str], words: str
) -> None:
    ready(browser, at)
    letter = "I" if side == "intake" else "E"
    own = {"act": "lift", "place": f"1{letter}-a", "lift": "1.0"}
    browser.post(at, 302, **(own | {"crank": "30"}))
    other = {"place": f"2{letter}-a"} if form.get("place") else {}
    assert words in plain(browser.post(at, 422, **(own | form | other)))
    # begun anew it is another run
    browser.post(at, 302, **(own | {"crank": "10", "anew": "1"}))
    assert len(mock(browser, side).lifted) == 1
    # as the engine now stands the run cannot go on
    browser.post(at, 302, **(STAND | {"lash": "0.30"}))
    assert "stands otherwise" in plain(browser.post(at, 422, **(own | {"crank": "40"})))


def test_a_run_that_does_not_come_back_is_no_table(browser: Browser, at: str, side: str) -> None:
    ready(browser, at)
    base = browser.workshop.open(browser.sound).revision
    assert "No lift curve was taken" in browser.post(f"{at}/curve", 422, base=base)
    place = "1I-a" if side == "intake" else "1E-a"
    for n in range(5):
        browser.post(at, 302, act="lift", place=place, crank=str(10 * n), lift=f"{0.4 * n}")
    assert "begins and ends with the lobe away" in browser.post(f"{at}/curve", 422, base=base)
    browser.post(at, 302, act="lift", place=place, crank="60", lift="0")
    assert "no lift table yet" in browser.post(f"{at}/curve", 422, base=base)
    assert sound(browser).side(side).cam.curve is None
