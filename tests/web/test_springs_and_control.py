"""Springs, Control and Boost as pages: what they show, what they wait for, what they refuse."""

import json
import re
import time
from html import unescape
from pathlib import Path
from typing import Any
from xml.etree.ElementTree import fromstring

import pytest
from flask import Flask

from arcstack.application import State, Sweeps
from arcstack.assess import assess
from arcstack.assess.catalogue import figures
from arcstack.demo import demo_builds
from arcstack.document import Build, change
from arcstack.drawings.force_map import force_map
from arcstack.dynamics import warm
from arcstack.dynamics.question import Answer, Question, work_out
from arcstack.units import System
from arcstack.web.stages.springs.view import compared
from tests.web.conftest import WHO, Browser, browsing

SOUND, FAILING = demo_builds()


def charts(page: str) -> list[Any]:
    return [json.loads(unescape(text)) for text in re.findall(r"data-chart='(.*?)'", page)]


def until(browser: Browser, path: str, words: str) -> str:
    """A page asked for until it says so, as a browser asks again."""
    for _ in range(200):
        page = browser.get(path)
        if words in page:
            return page
        time.sleep(0.05)
    raise AssertionError(f"{path} never said {words}")


@pytest.mark.parametrize("stage", ["springs", "control", "boost"])
def test_pages_are_whole_and_hold_no_figure_that_is_none(browser: Browser, stage: str) -> None:
    empty = browser.workshop.create(Build(name="Nothing yet"), WHO)
    for build in (browser.sound, browser.failing, empty):
        for side in ("intake", "exhaust"):
            page = browser.get(f"/builds/{build}/{side}/{stage}")
            assert not re.search(r"\b(NaN|Infinity|nan|inf)\b", page)
            assert (len(charts(page)) == 0) is (build == empty)
    assert "Give " in browser.get(f"/builds/{empty}/intake/{stage}")


def test_the_map_shows_the_zero_line_the_limiter_and_where_it_parts() -> None:
    ctx = assess(SOUND).sides["intake"]
    found = force_map(ctx, True, System.MM)
    root = fromstring(str(found.svg))
    kinds = {e.get("class") for e in root.iter()}
    assert {"zero", "speed-line limiter", "speed-line overspeed", "parting"} <= kinds
    assert "9,722" in "".join(root.itertext())
    # the table under the cursor: nothing parted at the limiter, something parted at the top
    rows = dict(zip(found.speeds, found.force, strict=True))
    low = min(rows, key=lambda n: abs(n - 8100))
    assert min(v for v in rows[low] if v is not None) > 100
    assert min(v for v in rows[max(rows)] if v is not None) < 0
    alone = force_map(assess(SOUND).sides["exhaust"], False, System.INCH)
    assert alone.unit == "lbf"
    assert alone.words != force_map(assess(SOUND).sides["exhaust"], True, System.INCH).words


def test_the_map_is_asked_for_without_gas(browser: Browser) -> None:
    at = f"/builds/{browser.sound}/exhaust/train/map"
    assert "Parts first at 9,558" in browser.get(at)
    assert "Parts first at 10,343" in browser.get(f"{at}?gas=off")


def test_one_turn_at_a_speed(browser: Browser) -> None:
    warm.load()
    page = browser.get(f"/builds/{browser.failing}/intake/train/trace?rpm=7900")
    (chart,) = charts(page)
    names = [s["name"] for p in chart["panels"] for s in p["series"]]
    assert names[:4] == ["Cam, less lash", "Valve", "Gap", "On the cam"]
    frames = json.loads(re.search(r'id="coil-frames">(.+?)</script>', page)[1])  # type: ignore[index]
    assert [s["name"] for s in frames["springs"]] == ["outer", "inner"]
    assert len(frames["springs"][0]["coils"][0]) == 12
    assert max(frames["valve"]) == pytest.approx(10.29, abs=0.03)
    assert frames["seconds"] == sorted(frames["seconds"])
    # the inner spring of this build goes solid: its coils clash
    assert re.search(r"Coils clash with</dt><dd>[1-9]\d\d N", page)
    quiet = browser.get(f"/builds/{browser.sound}/intake/train/trace?rpm=5000")
    assert re.search(r"Coils clash with</dt><dd>0 N", quiet)


@pytest.mark.parametrize("rpm", ["50000", "0", "-4", "fast", ""])
def test_a_speed_that_no_cam_turns_is_told(browser: Browser, rpm: str) -> None:
    page = browser.get(f"/builds/{browser.sound}/intake/train/trace?rpm={rpm}", 422)
    assert "between 300 rpm and 25,000 rpm" in page


def test_a_sweep_of_ones_own_and_its_ends(browser: Browser) -> None:
    at = f"/builds/{browser.sound}/intake/train/sweep"
    assert "50,000 rpm is past what any cam turns" in browser.get(f"{at}?from=2000&to=50000", 422)
    assert "higher highest speed" in browser.get(f"{at}?from=6000&to=5000", 422)
    page = until(browser, f"{at}?from=5000&to=7000", "data-chart")
    (chart,) = charts(page)
    assert (chart["x"][0], chart["x"][-1]) == (5000.0, 7000.0)
    assert all("low" in p["series"][0] for p in chart["panels"])


def test_trace_and_sweep_say_what_they_need(browser: Browser) -> None:
    empty = browser.workshop.create(Build(name="Nothing yet"), WHO)
    assert "Needs " in browser.get(f"/builds/{empty}/intake/train/trace?rpm=6000")
    assert "Needs " in browser.get(f"/builds/{empty}/intake/train/sweep?from=2000&to=6000")
    assert browser.get(f"/builds/{empty}/intake/train/raise") == ""
    browser.get(f"/builds/{empty}/starboard/train/map", 404)


def test_what_would_raise_it_comes_when_it_is_worked(browser: Browser) -> None:
    page = until(browser, f"/builds/{browser.sound}/intake/train/raise", "10 g off the valve")
    gains = [int(g.replace(",", "").replace("−", "-")) for g in re.findall(r"<small>([+−][\d,]+)</small>", page)]
    assert gains[0] == max(gains[::2])


def test_margins_wait_stop_and_arrive(tmp_path: Path, application: Flask, both_demo_builds: Path) -> None:
    warm.load()
    with browsing(application, both_demo_builds, tmp_path, Sweeps()) as browser:
        page = browser.get(f"/builds/{browser.sound}/intake/control")
        assert "Elastic train not worked out yet" in page
        assert 'id="elastic-wait"' in page
        assert "Rigid train only so far" in page
        at = f"/builds/{browser.sound}/intake/train"
        assert "progress" in browser.get(f"{at}/wait?stage=control")
        stopped = browser.post(f"{at}/stop", stage="control")
        assert "stopped at" in stopped
        assert "hx-trigger" not in stopped.split("</div>")[0].split("<button")[0]
        assert "stopped at" in browser.get(f"{at}/wait?stage=control")
        browser.get(f"{at}/wait?stage=control&again=1")
        arrived = until(browser, f"{at}/wait?stage=control", "#margins")
        assert "#limit" in arrived
        assert "Elastic train not worked out yet" not in arrived
        assert "elastic-wait" not in browser.get(f"/builds/{browser.sound}/intake/cam")


def test_sweeps_tell_how_far_they_are_and_what_fails() -> None:
    from arcstack.assess import elastic

    warm.load()
    sweeps = Sweeps()
    question = elastic.question(assess(SOUND).sides["intake"])
    first = sweeps.start(question)
    assert first.state in (State.WAITING, State.RUNNING)
    for _ in range(400):
        if sweeps.start(question).state is State.DONE:
            break
        time.sleep(0.02)
    found = sweeps.known(question)
    assert found is not None
    assert sweeps.answer(question) is found
    assert sweeps.start(question).behind == question.size


def test_packs_on_one_basis(browser: Browser) -> None:
    at = f"/builds/{browser.sound}/intake/packs/compare"
    page = browser.get(at)
    assert page.index("TS-30 outer") < page.index("CR-27 beehive") < page.index("HV-38 heavy dual")
    assert "−34" in page
    assert "best" in page
    own = browser.get(f"{at}?basis=own")
    assert "35.80 mm" in own
    assert "35.50 mm" in own
    same = browser.get(f"{at}?basis=same&height=1.40+in")
    assert same.count("35.56 mm") == 3
    assert "no figure" in browser.get(f"{at}?height=tall")
    assert "Target height" in browser.get(f"{at}?height=300")
    dear = browser.get(f"{at}?sort=price")
    assert dear.index("TS-30 outer") < dear.index("CR-27 beehive") < dear.index("HV-38 heavy dual")
    light = browser.get(f"{at}?sort=moving")
    assert light.index("CR-27 beehive") < light.index("TS-30 outer")


def test_each_pack_is_turned_in_the_background(browser: Browser) -> None:
    at = f"/builds/{browser.sound}/intake/packs/compare"
    for _ in range(200):
        page = browser.get(at)
        if "Turning the elastic train" not in page:
            break
        time.sleep(0.05)
    row = page[page.index("Elastic separation") : page.index("Separation, settled")]
    assert row.count("rpm") == 3
    assert re.search(r"8,8\d\d rpm", row)
    # the beehive is light and weak: it parts first, and fails
    assert "mark fail" in row
    heavy = browser.get(f"{at}?sort=parts")
    assert heavy.index("HV-38 heavy dual") < heavy.index("TS-30 outer") < heavy.index("CR-27 beehive")


def test_packs_are_added_fitted_and_cleared(browser: Browser) -> None:
    at = f"/builds/{browser.failing}/intake"
    browser.post(f"{at}/packs/take", 302, base=1)
    assert browser.headers["Location"].endswith("/springs?pack=1")
    page = browser.get(f"{at}/springs?pack=1")
    assert "Pack 1, not fitted" in page
    assert 'id="f-intake.candidates.1.outer.table"' in page
    browser.type("intake.candidates.1.inner.solid", "20.0 mm", stage="springs", base=2)
    browser.post(f"{at}/packs/fit", 302, base=3, slot=1)
    assert browser.build().intake.stack.inner.solid.value == 20.0  # type: ignore[union-attr]
    assert browser.build().intake.candidate(1).inner.solid.value == 22.0  # type: ignore[union-attr]
    browser.post(f"{at}/packs/clear", 302, base=4, slot=1)
    assert browser.build().intake.candidate(1).outer.code == ""
    browser.post(f"{at}/packs/clear", 404, base=5, slot=1)
    assert "Another window was faster" in browser.post(f"{at}/packs/take", 409, base=2)
    for base in range(5, 10):
        browser.post(f"{at}/packs/take", 302, base=base)
    assert "Every slot is taken" in browser.post(f"{at}/packs/take", 409, base=10)
    assert "Six stand side by side" in browser.get(f"{at}/springs")
    browser.get(f"{at}/packs/fields?slot=9", 404)
    assert "Fitted pack" in browser.get(f"{at}/packs/fields")


def test_an_edit_on_springs_swaps_all_that_rests_on_it(browser: Browser) -> None:
    swapped = browser.type("intake.stack.outer.table", "36 236; 31 386; 26 540", stage="springs")
    for target in ("#margins", "#chart", "#compare", "#height", "#stress", "#surge", "#outputs"):
        assert f'hx-target="{target}"' in swapped
    refused = browser.type("intake.stack.outer.table", "36 236; 31 200; 26 540", 422, stage="springs", base=2)
    assert "must rise as the spring is shortened" in refused


def test_an_edit_on_control_swaps_map_and_limit_and_waits_for_the_train(browser: Browser) -> None:
    swapped = browser.type("brief.limiter", "7600 rpm", stage="control")
    for target in ("#limit", "#map-box", "#sweep", "#chart", "#outputs"):
        assert f'hx-target="{target}"' in swapped
    assert 'id="elastic-wait"' in swapped
    previewed = browser.type("brief.limiter", "7500 rpm", 200, "preview", stage="control", base=2)
    assert "worked out once this is accepted" in previewed


def test_height_window_and_surge_in_words(browser: Browser) -> None:
    page = browser.get(f"/builds/{browser.failing}/intake/springs")
    assert (
        "Every limit but the elastic train’s holds from 37.79 mm (inner reserve) to 38.54 mm (seat load); now 36.00 mm, outside it."
        in page
    )
    assert "avoid holding it" in page
    sound = browser.get(f"/builds/{browser.sound}/intake/springs")
    assert "now inside it" in sound


def test_supposed_pressures_move_both_rules(browser: Browser) -> None:
    at = f"/builds/{browser.sound}/intake/boost-what-if"
    page = browser.get(f"{at}?ratio=1.27&pulse=1.75")
    assert re.search(r"from 1\.6\d × boost", page)
    worse = browser.get(f"{at}?ratio=2.2&pulse=1.75")
    assert worse.count("mark fail") > page.count("mark fail")
    browser.get(f"{at}?ratio=9", 400)
    empty = browser.workshop.create(Build(name="Nothing yet"), WHO)
    assert "Needs boost" in browser.get(f"/builds/{empty}/intake/boost-what-if")


@pytest.mark.parametrize("pack", ["single", "dual", "assembled"])
@pytest.mark.parametrize("follower", ["bucket", "finger", "rocker"])
def test_every_page_and_margin_stands_whatever_is_fitted(browser: Browser, pack: str, follower: str) -> None:
    build = change(change(FAILING, "engine.follower", follower), "intake.stack.pack", pack)
    for school in ("long-life", "sprint"):
        number = browser.workshop.create(build.model_copy(update={"practice": school}), WHO)
        for stage in ("brief", "cam", "stack", "springs", "control", "boost", "clearance"):
            page = browser.get(f"/builds/{number}/intake/{stage}")
            assert not re.search(r"\b(NaN|Infinity|nan|inf)\b", page)
        for name in figures():
            browser.get(f"/builds/{number}/intake/working/{name}")
        for verdict in assess(build).of_side("intake"):
            browser.get(f"/builds/{number}/intake/verdict/{verdict.id}")
    page = browser.get(f"/builds/{number}/intake/springs")
    assert ("Surge frequency, inner" in page) is (pack != "single")
    assert ("Fatigue factor, outer" in page) is (pack != "assembled")


def test_revisions_are_compared_without_what_still_turns(browser: Browser) -> None:
    browser.type("brief.overspeed", "8450 rpm", stage="brief", base=1)
    at = f"/builds/{browser.failing}/intake/revisions?first=1&second=2"
    page = browser.get(at)
    if "is being turned" in page:
        assert "Elastic separation, exhaust" not in page
    for _ in range(200):
        page = browser.get(at)
        if "is being turned" not in page:
            break
        time.sleep(0.05)
    # the exhaust parts at 8,410 rpm: past 8,400, short of 8,450
    assert re.search(r"Elastic separation, exhaust.*tight.*→.*fail", page)


def test_the_stated_speed_says_when_it_is_proven(browser: Browser) -> None:
    page = browser.get(f"/builds/{browser.sound}/intake/control")
    assert "On paper until what drives it is measured" in page


def test_a_speed_is_not_stated_over_a_solid_spring_without_a_word(browser: Browser) -> None:
    said = "The intake inner spring goes solid 0.29 mm before full lift. Mend that first"
    for side in ("intake", "exhaust"):
        assert said in browser.get(f"/builds/{browser.failing}/{side}/control")
    assert "Mend that first" not in browser.get(f"/builds/{browser.sound}/intake/control")


class _JustInTime:
    """Sweeps of which each ends between the first time it is asked for and the second."""

    def __init__(self) -> None:
        self.asked: set[str] = set()

    def __call__(self, question: Question) -> Answer | None:
        if question.key in self.asked:
            return work_out(question)
        self.asked.add(question.key)
        return None


def test_a_sweep_that_ends_while_the_page_is_made_is_not_waited_for_in_vain() -> None:
    shown = compared(assess(SOUND, _JustInTime()).sides["intake"], {}, System.MM)
    cells = next(r for r in shown.rows if r.key == "parts").cells
    assert all(c.text != "–" for c in cells) or shown.waits
    assessment = assess(SOUND, _JustInTime())
    left_open = [v for v in assessment.verdicts if v.figure is None and not v.missing]
    assert left_open
    assert assessment.waiting
