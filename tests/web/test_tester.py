"""The spring tester: a spring is pressed towards solid step by step, and an instrument far off is never corrected."""

import re

import pytest

from tests.web.conftest import Browser
from tests.web.test_bench import readings, sit

PRESSES = (("22.2", "842"), ("22.0", "850"), ("21.8", "922"), ("21.6", "1002"))


@pytest.fixture
def at(browser: Browser) -> str:
    return f"/builds/{browser.sound}/intake/bench"


def carried(page: str) -> str:
    found = re.search(r'name="presses" value="([^"]*)"', page)
    assert found is not None
    return found.group(1)


def pressed(browser: Browser, at: str, presses: tuple[tuple[str, str], ...], **more: str) -> str:
    page, held = "", ""
    for height, load in presses:
        page = browser.post(
            f"{at}/springs/press", presses=held, press_height=height, press_load=load, item="S-01", **more
        )
        held = carried(page)
    return page


def test_solid_is_where_the_load_climbs_five_times_as_steep(browser: Browser, at: str) -> None:
    sit(browser, at, "tester")
    page = pressed(browser, at, PRESSES[:2])
    assert "Let it up" not in page
    assert 'id="t-press_height"' in page
    assert 'value="21.90"' in page
    # one step is steep: the taller end of it, which errs to the safe side
    page = pressed(browser, at, PRESSES[:3])
    assert "Solid at 22.00 mm, ± 0.10 mm and told at the taller end: between 22.00 mm and 21.80 mm" in page
    # one more beyond meets the two lines: 850 + 40·(22 − h) = 922 + 400·(21.8 − h), h = 21.978, with its own 40 N/mm;
    # loads good to 2 N leave 0.011 of that, and the taller end is told
    own = {"height_1": "36.0", "load_1": "290", "height_2": "26.0", "load_2": "690"}
    page = pressed(browser, at, PRESSES, **own)
    assert "Solid at 21.99 mm, ± 0.01 mm" in page
    assert 'value="21.989 mm"' in page
    assert readings(browser) == ()
    browser.post(f"{at}/springs", item="S-01", presses=carried(page), solid="21.989", **own)
    solid = next(r for r in readings(browser) if r.key == "outer.solid")
    assert (solid.value, solid.resolution, solid.note) == (21.989, pytest.approx(0.011), "by the slope of 4 presses")


@pytest.mark.parametrize(
    ("form", "words"),
    [
        ({"press_height": "22.0", "press_load": "618", "presses": "22.0000 610.000"}, "was pressed already"),
        ({"press_height": "22.0", "press_load": "3 mm", "presses": ""}, "mm"),
        ({"press_height": "", "press_load": "618", "presses": ""}, ""),
        ({"press_height": "22.0", "press_load": "618", "presses": "nan 610"}, "begin again"),
        ({"press_height": "22.0", "press_load": "618", "presses": "x"}, "begin again"),
        ({"press_height": "22.0", "press_load": "618", "presses": ";".join(["22 1"] * 41)}, "begin again"),
        ({"press_height": "22000", "press_load": "618", "presses": ""}, "begin again"),
    ],
)
def test_a_press_that_cannot_be_is_refused(browser: Browser, at: str, form: dict[str, str], words: str) -> None:
    sit(browser, at, "tester")
    page = browser.post(f"{at}/springs/press", 422, **form)
    assert words in page
    assert readings(browser) == ()


def test_the_tester_is_named_and_tried_on_its_own_page(browser: Browser, at: str) -> None:
    page = browser.post(f"{at}/with", 302, kind="tester", name="T-1", hand="Wen", to="tester", sort="inner")
    assert "bench/springs?sort=inner" in page
    page = browser.post(f"{at}/zero", 422, name="T-1", text="255 N", to="tester")
    assert "Spring tester, intake" in page
    assert "off by 5.0 N" in page
    assert "Correct every reading by it" in page
    browser.post(f"{at}/zero", 302, name="T-1", text="255 N", to="tester", correct="1")
    # every load that it then reads has it taken off, and no length has
    browser.post(f"{at}/springs", item="S-01", height_1="36", load_1="275 N", free_length="46.20 mm", sort="outer")
    load, length = (next(r for r in readings(browser) if r.key == f"outer.{f}") for f in ("load_1", "free_length"))
    assert (load.value, load.note) == (pytest.approx(270.0), "shown as 275 N, corrected by name")
    assert (length.value, length.note) == (pytest.approx(46.20), "")


@pytest.mark.parametrize(("read", "code"), [("275 N", 302), ("276 N", 422), ("225 N", 302), ("224 N", 422)])
def test_an_instrument_further_off_than_can_be_corrected_is_set_or_mended(
    browser: Browser, at: str, read: str, code: int
) -> None:
    browser.post(f"{at}/with", 302, kind="tester", name="T-1", hand="Wen")
    page = browser.post(f"{at}/zero", code, name="T-1", text=read, correct="1")
    assert ("So much is never corrected" in page) == (code == 422)


def test_a_spring_read_before_it_stands_anywhere_is_of_the_side_it_was_read_for(browser: Browser, at: str) -> None:
    """Intake and exhaust have springs of two lots: what was read of one is not stale once it is put."""
    sit(browser, at, "tester")
    exhaust = at.replace("intake", "exhaust")
    browser.post(f"{exhaust}/springs", item="X-1", load_1="430", load_2="880", solid="21.5")
    browser.post(f"{exhaust}/items", 302, **{"outer@1E-a": "X-1"})
    page = browser.get(f"{exhaust}/springs")
    assert "X-1" in page
    assert "stale" not in page


def test_springs_of_the_other_side_are_not_in_the_mean(browser: Browser, at: str) -> None:
    sit(browser, at, "tester")
    for n, load in enumerate(("270", "276")):
        browser.post(f"{at}/springs", item=f"S-{n}", load_1=load, load_2="610", solid="21.5")
    browser.post(f"{at}/items", 302, **{"outer@1I-a": "S-0", "outer@1I-b": "S-1"})
    assert "mean 273.0 N" in browser.get(f"{at}/springs")
    page = browser.get(f"{at.replace('intake', 'exhaust')}/springs")
    assert "No outer spring was read yet" in page
    assert "mean" not in page.partition("No outer spring")[0].partition("Spring tester")[2]


def test_a_spring_is_asked_about_only_against_its_own_lot_at_its_own_height(browser: Browser, at: str) -> None:
    sit(browser, at, "tester")
    for n, load in enumerate(("270", "271", "269", "270", "272")):
        browser.post(f"{at}/springs", item=f"S-{n}", load_1=load, height_1="36.0")
    page = browser.post(f"{at}/springs", item="S-9", load_1="300", height_1="36.0")
    assert "300.0 N lies far from its neighbours at 270.0 N. Again?" in page
    # at another height it is another load, and the other side has another lot
    assert "S-9 taken." in browser.post(f"{at}/springs", item="S-9", load_1="300", height_1="35.2")
    exhaust = at.replace("intake", "exhaust")
    assert "X-1 taken." in browser.post(f"{exhaust}/springs", item="X-1", load_1="430", height_1="36.0")


def test_the_tester_and_its_hand_are_shown_and_changed_where_springs_are_read(browser: Browser, at: str) -> None:
    assert "reading-with" not in browser.get(f"{at}/springs")
    sit(browser, at, "tester", "T-1")
    page = re.sub(r"<[^>]+>", "", browser.get(f"{at}/springs?sort=outer"))
    assert re.search(r"Wen · T-1, zero\s+250\S* N at \d\d:\d\d", page)
    asks = browser.get(f"{at}/springs?sort=outer&sit=1")
    assert "Keep T-1" in asks
    assert 'id="tester-form"' not in asks
    browser.post(f"{at}/with", 302, kind="tester", name="T-2", hand="Ilse", to="tester", sort="outer")
    assert "its zero is to be tried" in browser.get(f"{at}/springs?sort=outer")
