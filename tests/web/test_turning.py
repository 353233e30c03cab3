"""A lesson's engine on the page: turned, stopped, looked at from the side; found, moved and told at the end."""

import math
import re

import pytest

from arcstack.readings.learning import truth
from arcstack.readings.lessons import LESSONS
from tests.web.conftest import Browser


def plain(page: str) -> str:
    return " ".join(re.sub(r"<[^>]+>", " ", page).split())


def started(browser: Browser, lesson: str, seed: str = "3") -> str:
    browser.post("/who", 302, who="Wen", back="/")
    browser.post("/learning", 302, lesson=lesson, seed=seed)
    found = re.search(r"/builds/(\d+)/", browser.headers["Location"])
    assert found is not None
    return f"/builds/{found[1]}"


def build_of(browser: Browser, url: str) -> int:
    return int(url.rpartition("/")[2])


def turn(browser: Browser, url: str, side: str = "intake", **form: str) -> dict[str, float | str]:
    page = browser.post(f"{url}/{side}/bench/turn", **form)
    found = {k: v for k, v in re.findall(r"data-(wheel|dial|travel)>([^<]*)<", page)}
    return found | {"page": page}


def wheel(shown: dict[str, float | str]) -> tuple[float, str]:
    """Degrees, after positive, and the dead centre."""
    words = str(shown["wheel"])
    if words.startswith("at "):
        return 0.0, words[3:]
    degrees, way, centre = re.fullmatch(r"([0-9.]+)° (after|before) (TDC|BDC)", words).groups()  # type: ignore[union-attr]
    return float(degrees) * (1.0 if way == "after" else -1.0), centre


def dial(shown: dict[str, float | str]) -> float:
    return float(str(shown["dial"]).split()[0])


def test_the_engine_is_on_the_page_of_a_lesson_alone(browser: Browser) -> None:
    assert "The engine of this lesson" not in browser.get(f"/builds/{browser.sound}/intake/bench/mock-up")
    browser.post(f"/builds/{browser.sound}/intake/bench/turn", 404, by="1")
    url = started(browser, "timing")
    page = browser.get(f"{url}/intake/bench/mock-up")
    assert "The engine of this lesson" in page
    assert 'class="degree-wheel"' in page
    for form, code in (({"by": "x"}, 400), ({"by": "9999"}, 400)):
        browser.post(f"{url}/intake/bench/turn", code, **form)
    # what no page sends changes nothing
    before = turn(browser, url)
    assert turn(browser, url, eye="from above", stop="half")["wheel"] == before["wheel"]


def flank(browser: Browser, url: str, side: str, up: bool) -> float:
    """Turned forward to 1.00 mm of lift, as finely as the buttons go; what the wheel then shows."""
    for step, most in (("5", 160), ("1", 12), ("0.2", 40)):
        for _ in range(most):
            shown = turn(browser, url, side, by=step)
            if (dial(shown) >= 1.0) is up:
                break
        if step != "0.2":
            # back past it and round: forward again
            back = -float(step) - 2.0
            turn(browser, url, side, by=str(back - 6.0))
            shown = turn(browser, url, side, by="6")
    degrees, centre = wheel(shown)
    near = "TDC" if (side == "intake") is up else "BDC"
    if centre == near:
        return degrees
    return degrees + math.copysign(180.0, -degrees)


def test_the_lesson_of_timing_is_done_by_wheel_and_dial(browser: Browser) -> None:
    """Stop met both ways, both flanks, moved by half the other way, read again: found, whatever the pointer reads."""
    url = started(browser, "timing", "5")
    hidden = truth(browser.workshop.open(build_of(browser, url)).build, "timing", 5)
    side = hidden.faults[0].place
    at = f"{url}/{side}/bench/mock-up"
    browser.post(at, 302, act="stand", lash="0.20", gasket_used="1.1", gasket_crushed="1.1", phaser="0", by_hand="1",
                 plugs_out="1", light_springs="1")  # fmt: skip
    turn(browser, url, side, stop="in")
    first = turn(browser, url, side, by="360")
    assert "against the stop" in str(first["page"])
    before = -wheel(first)[0]
    after = wheel(turn(browser, url, side, by="-700"))[0]
    browser.post(at, 302, act="stop", before=f"{before}", after=f"{after}")
    page = plain(browser.get(at))
    pointer = math.degrees(hidden.mocked.pointer_rad)
    assert f"the pointer reads {abs(pointer):.1f}° {'late' if pointer > 0 else 'early'}" in page
    browser.post(at, 302, act="out")
    turn(browser, url, side, stop="out")
    place = "1I-a" if side == "intake" else "1E-a"

    def read() -> None:
        turn(browser, url, side, by="-40")
        turn(browser, url, side, by="20")
        while dial(turn(browser, url, side, by="30")) > 0.0:
            pass
        opens, closes = flank(browser, url, side, True), flank(browser, url, side, False)
        tdc, bdc = (-opens, closes) if side == "intake" else (closes, -opens)
        browser.post(at, 302, act="pass", place=place, by_tdc=f"{tdc:.1f}", by_bdc=f"{bdc:.1f}")

    read()
    found = re.search(r"([0-9.]+)° ± [0-9.]+° (advanced|retarded)", plain(browser.get(at)))
    assert found is not None
    early = float(found[1]) * (1.0 if found[2] == "advanced" else -1.0)
    assert early == pytest.approx(math.degrees(hidden.mocked.early_rad[side]), abs=0.6)
    browser.post(at, 302, act="moved", turned=f"{-early / 2.0:.2f}")
    read()
    again = re.search(r"([0-9.]+)° ± [0-9.]+° (advanced|retarded)", plain(browser.get(at)))
    assert again is not None
    assert float(again[1]) < 0.7
    browser.post(f"{url}/{side}/bench/lesson", 302)
    told = plain(browser.get(f"{url}/{side}/bench/lesson"))
    assert "1 of 1 faults found" in told
    assert "The engine of this lesson" not in browser.get(at)


def test_the_lesson_of_lash_begins_with_three_services_and_ends_with_a_cause(browser: Browser) -> None:
    url = started(browser, "lash", "2")
    hidden = truth(browser.workshop.open(build_of(browser, url)).build, "lash", 2)
    place = hidden.faults[0].place
    side = "intake" if "I-" in place else "exhaust"
    page = plain(browser.get(f"{url}/{side}/bench/lash"))
    assert "closed 0.19 mm in 3 services: find the cause before any shim" in page
    browser.post(f"{url}/{side}/bench/lesson", 302)
    assert "never measured" in plain(browser.get(f"{url}/{side}/bench/lesson"))


def test_every_lesson_starts_and_shows_its_engine_or_its_bench(browser: Browser) -> None:
    for lesson in LESSONS:
        url = started(browser, lesson, "1")
        assert LESSONS[lesson].title in browser.get(f"{url}/intake/bench/lesson")
        assert "The engine of this lesson" in browser.get(f"{url}/exhaust/bench/mock-up")
