import re

from arcstack.application import CamLibrary
from arcstack.document import Build
from tests.web.conftest import WHO, Browser


def at(browser: Browser, build: int, what: str = "") -> str:
    return f"/builds/{build}/intake/cams{what}"


def key_of(page: str, name: str) -> str:
    found = re.search(rf'value="([0-9a-f]{{32}})"[^>]*aria-label="compare {name}"', page)
    assert found
    return found[1]


def test_keep_use_compare_and_ask(browser: Browser) -> None:
    assert "None yet" in browser.get(at(browser, browser.sound))
    browser.post(at(browser, browser.sound, "/keep"), 302, name="Hill 254")
    page = browser.get(at(browser, browser.failing))
    key = key_of(page, "Hill 254")
    assert "Tamarack, hill-climb four, intake" in page

    compared = browser.get(at(browser, browser.failing, f"?cam={key}"))
    assert "now: F-262 in" in compared
    assert re.search(r"Net lift.*?10.29 mm.*?best.*?9.80 mm.*?worst", compared, re.S)
    assert browser.workshop.open(browser.failing).revision == 1

    browser.post(at(browser, browser.failing, "/use"), 302, key=key, base=1)
    lift = browser.workshop.open(browser.failing).build.intake.cam.lobe_lift
    assert lift is not None
    assert lift.typed == "10.00 mm"

    browser.type("intake.cam.lobe_lift", "10.30", 200, "edit", stage="cam")
    asked = browser.post(at(browser, browser.failing, "/keep"), 409, name="Hill 254")
    assert "is kept already" in asked
    assert "1 other side carries it: Tamarack, hill-climb four, intake" in asked
    held = browser.workshop.open(browser.sound).build.intake.cam.lobe_lift
    assert held is not None
    assert held.typed == "10.00 mm"
    browser.post(at(browser, browser.failing, "/keep"), 302, name="Hill 254", answer="builds")
    changed = browser.workshop.open(browser.sound).build.intake.cam.lobe_lift
    assert changed is not None
    assert changed.value == 10.3


def test_wrong_requests_are_told(browser: Browser) -> None:
    assert "A cam needs a name" in browser.post(at(browser, browser.sound, "/keep"), 422, name=" ")
    assert "not kept any more" in browser.post(at(browser, browser.sound, "/use"), 404, key="gone", base=1)
    browser.get("/builds/1/left/cams", 404)
    assert "Kept cams" in browser.get(at(browser, browser.sound, "?cam=gone"))


def test_a_longer_lobe_shows_what_it_reopens(browser: Browser) -> None:
    at = f"/builds/{browser.sound}/intake/curve/longer"
    page = browser.get(f"{at}?by=10&held=events+at+overlap")
    assert "Opens" in page
    assert "after BDC" in page
    assert "Piston, phased, intake" in page
    browser.get(f"{at}?by=wide", 400)
    assert browser.get(f"{at}?by=0&held=nothing").count("<tr>") == 3
    empty = browser.workshop.create(Build(name="Nothing yet"), WHO)
    assert "A duration and a centreline are needed." in browser.get(f"/builds/{empty}/intake/curve/longer?by=10")


def test_a_cam_that_many_heads_carry_names_the_first_of_them(browser: Browser) -> None:
    browser.post(at(browser, browser.sound, "/keep"), 302, name="Hill 254")
    library = CamLibrary(browser.workshop.database, browser.workshop)
    (kept,) = library.all()
    for n in range(4):
        browser.workshop.create(library.use(kept.key, Build(name=f"Head {n}"), "exhaust"), WHO)
    page = browser.get(at(browser, browser.sound))
    assert "Head 0, exhaust" in page
    assert "Head 2, exhaust" in page
    assert "Head 3, exhaust" not in page
    assert "and 2 more" in page
