"""Valves and piston drawn at any crank angle, and the phaser limited from the page."""

import math
import re
from xml.etree.ElementTree import fromstring

import pytest

from arcstack.application import Sweeps
from arcstack.assess import assess, piston
from arcstack.demo import demo_builds
from arcstack.document import change
from arcstack.drawings.chamber import Poise, chamber, drawing
from arcstack.errors import NotKnown
from arcstack.units import System
from arcstack.web.kit.stage import On
from arcstack.web.stages.clearance.view import budget
from tests.builds import OTHERS
from tests.web.conftest import Browser

SOUND, FAILING = demo_builds()


@pytest.mark.parametrize("crank", [-60.0, -12.5, 0.0, 7.0, 60.0])
@pytest.mark.parametrize("advance", [0.0, 25.0])
def test_the_gap_drawn_is_the_gap_worked(crank: float, advance: float) -> None:
    now = assess(SOUND)
    made = chamber(now, Poise(math.radians(crank), {"intake": math.radians(advance)}))
    for valve in made.valves:
        model = piston.pair(now.sides[valve.side])
        phase = math.radians(advance) if valve.side == "intake" else 0.0
        lift = float(model.net_lift_mm(math.radians(crank), phase, 0.0))  # type: ignore[arg-type]
        room = float(model.room_mm(math.radians(crank)))  # type: ignore[arg-type]
        assert valve.lift == pytest.approx(lift)
        assert valve.gap == pytest.approx(room - lift)
        # drawn along the valve: from its face to the pocket's floor is the gap itself
        face, floor = valve.along(valve.lift), valve.along(valve.lift + valve.gap)
        assert math.dist(face, floor) == pytest.approx(abs(valve.gap))
    intake, exhaust = made.valves
    # heads face each other across the bore, each opening toward its middle
    assert intake.face[0] < 0.0 < exhaust.face[0]
    assert intake.way[0] > 0.0 > exhaust.way[0]


def test_the_piston_falls_as_the_crank_says() -> None:
    now = assess(SOUND)
    top, after = (chamber(now, Poise(math.radians(a), {})).crown for a in (0.0, 30.0))
    # stroke 86.2, rod 141.5: 43.1·(1 − cos 30°) + 141.5 − √(141.5² − 21.55²) = 5.77 + 1.65
    assert top - after == pytest.approx(7.42, abs=0.15)


def test_it_says_in_words_what_it_shows_and_what_was_not_given() -> None:
    markup, made = drawing(
        assess(FAILING), "intake", Poise(math.radians(7.0), {"intake": math.radians(35.0)}), System.MM
    )
    root = fromstring(str(markup))
    assert "intake valve open" in root.attrib["aria-label"]
    assert "−0.47 mm from the piston" in root.attrib["aria-label"]
    assert root.find(".//*[@class='met']") is not None
    assert "intake valve above the head’s face" in made.assumed
    clear, _ = drawing(assess(SOUND), "intake", Poise(0.0, {}), System.INCH)
    assert 'class="met"' not in str(clear)
    assert " in from the piston" in str(clear)


@pytest.mark.parametrize("make", OTHERS, ids=lambda f: f.__name__)
def test_other_heads_are_drawn_or_say_what_is_missing(make: object) -> None:
    now = assess(make())  # type: ignore[operator]
    try:
        markup, _ = drawing(now, "exhaust", Poise(0.1, {}), System.MM)
    except NotKnown as told:
        assert told.missing
    else:
        assert "nan" not in str(markup)


def test_one_side_alone_is_drawn() -> None:
    made = chamber(assess(change(SOUND, "exhaust.clearance.drop_at_tdc", "")), Poise(0.0, {}))
    assert [v.side for v in made.valves][:1] == ["intake"]


def test_the_page_opens_at_the_least_gap_and_looks_elsewhere(browser: Browser) -> None:
    url = f"/builds/{browser.failing}/intake"
    page = browser.get(f"{url}/clearance")
    assert '"crank": 7.0' in page
    assert "−0.47 mm" in page
    looked = browser.get(f"{url}/what-if/look?crank=20&intake=0&exhaust=0")
    assert "After" not in looked
    assert "20.0° after TDC" in looked
    browser.get(f"{url}/what-if/look?crank=200", 400)
    browser.get(f"{url}/what-if/look?crank=0&intake=50", 400)
    browser.get(f"{url}/what-if/look?crank=x", 400)
    # cleared in another window since: it says what it needs
    browser.type("engine.rod", "", stage="brief")
    assert "cannot be drawn any more: needs rod" in browser.get(f"{url}/what-if/look?crank=20")


def test_a_phaser_is_limited_from_the_page_and_the_sheet_tells_it(browser: Browser) -> None:
    browser.post("/who", 302, who="Wen", back="/")
    url = f"/builds/{browser.failing}/intake"
    page = browser.get(f"{url}/clearance")
    limit = re.search(r'name="limit" value="([0-9.]+)"', page)
    assert limit is not None
    assert "limit it to 18.5°" in page
    base = browser.workshop.open(browser.failing).revision
    browser.post(f"{url}/what-if/limit", 422, base=base, limit=limit[1], held="hope")
    browser.post(f"{url}/what-if/limit", 302, base=base, limit=limit[1], held="a stop")
    after = browser.get(f"{url}/clearance")
    assert "Condition of release: intake phaser limited to 18.5° of advance by a stop" in after
    assert "Too tight" not in after
    assert "Intake phaser limited to 18.5° of advance by a stop" in browser.get(f"/builds/{browser.failing}/sheet")
    assert "phaser limited to: – → 18.5 deg, by a stop" in browser.get(f"/builds/{browser.failing}/intake/revisions")
    assert assess(browser.build()).verdict("piston.clearance_swept", "intake").level != "fail"


def test_the_budget_from_cold_to_hot_is_on_the_page_once_the_train_is_known(browser: Browser, worked: Sweeps) -> None:
    url = f"/builds/{browser.sound}/intake/clearance"
    page = browser.get(url)
    if "From cold to hot at overspeed" not in page:
        # the trains of this page were not turned: the rest of it stands
        assert "Piston and valves" in page
    made = budget(On(SOUND, 1, "intake", assess(SOUND, worked.answer), System.MM, {}))
    assert made[0].kind == "cold"
    assert made[-1].kind == "left"
    assert {row.kind for row in made[1:-1]} == {"taken"}
    assert "0.10 to 0.24" in next(r.note for r in made if r.label.startswith("Rod stretch"))
    assert all(0.0 <= row.start <= 100.0 and row.width >= 0.0 for row in made)
    # what is left begins where the last take ended
    assert made[-1].width == pytest.approx(made[-2].start, abs=0.2)
    assert budget(On(SOUND, 1, "intake", assess(SOUND), System.MM, {})) == []
