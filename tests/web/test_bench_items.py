"""Items on the page: numbered, exchanged, taken out; stages of service; what an exchange told."""

import pytest

from arcstack.readings import Phase
from tests.web.conftest import Browser
from tests.web.test_bench import bench, readings, sit


@pytest.fixture
def at(browser: Browser) -> str:
    return f"/builds/{browser.sound}/intake/bench"


def stands(browser: Browser, place: str, sort: str) -> str:
    return bench(browser).sheet(browser.sound, browser.workshop.open(browser.sound).build).item_at(place, sort)


def test_what_has_no_serial_is_numbered_by_its_place(browser: Browser, at: str) -> None:
    page = browser.get(f"{at}/items")
    assert "Number what has no serial" in page
    browser.post(f"{at}/items", 302, number="1")
    assert (stands(browser, "3I-b", "valve"), stands(browser, "3I-b", "follower")) == ("V-3I-B", "F-3I-B")
    assert stands(browser, "3E-b", "valve") == ""
    assert "Number what has no serial" not in browser.get(f"{at}/items")


def test_two_valves_are_exchanged_in_one_go_and_the_leak_follows_its_valve(browser: Browser, at: str) -> None:
    browser.post(f"{at}/items", 302, number="1")
    sit(browser, at, "vacuum", key="vacuum")
    for place, text in (("1I-a", "0.84"), ("1I-b", "0.60")):
        browser.post(at, key="vacuum", place=place, text=text)
    exchange = {"valve@1I-a": "v-1i-b", "valve@1I-b": "V-1I-A"}
    browser.post(f"{at}/items", 302, **exchange)
    assert (stands(browser, "1I-a", "valve"), stands(browser, "1I-b", "valve")) == ("V-1I-B", "V-1I-A")
    # buckets stayed, and what was read with another valve is to be read again
    assert stands(browser, "1I-a", "follower") == "F-1I-A"
    assert "Valve V-1I-A stood there and V-1I-B does" in browser.get(f"{at}/to-do")
    for place, text in (("1I-a", "0.61"), ("1I-b", "0.83")):
        page = browser.post(at, key="vacuum", place=place, text=text)
    assert "the difference follows the valve" in page
    assert "It follows the valve." in browser.get(f"{at}/items")


@pytest.mark.parametrize(
    ("form", "words"),
    [
        ({"valve@1I-a": "V-1", "valve@1I-b": "V-1"}, "V-1 is given twice: one item stands in one place."),
        ({"valve@1I-a": "E-7"}, "E-7 is a valve of the exhaust side."),
        ({"valve@1I-a": "B-7"}, "B-7 is a follower."),
        ({"outer@1I-a": "B-7"}, "B-7 is a follower."),
        ({"valve@1I-a": "x" * 21}, "An item needs a serial of at most 20 characters"),
    ],
)
def test_what_cannot_stand_there_is_refused_and_stays_typed(
    browser: Browser, at: str, form: dict[str, str], words: str
) -> None:
    browser.post(f"{at.replace('intake', 'exhaust')}/items", 302, **{"valve@1E-a": "E-7", "follower@1E-a": "B-7"})
    browser.post(f"{at.replace('intake', 'exhaust')}/items", 302, **{"valve@1E-a": "", "follower@1E-a": ""})
    page = browser.post(f"{at}/items", 422, **form)
    assert words in page
    assert next(iter(form.values())).upper() in page
    assert stands(browser, "1I-a", "valve") == ""


def test_an_item_taken_out_is_listed_as_in_no_place(browser: Browser, at: str) -> None:
    browser.post(f"{at}/items", 302, **{"valve@1I-a": "V-1"})
    assert "In no place" not in browser.get(f"{at}/items")
    browser.post(f"{at}/items", 302, **{"valve@1I-a": ""})
    page = browser.get(f"{at}/items")
    assert page.partition("In no place")[2].split()[0:3] != []
    assert "V-1 <small>valve</small>" in page


def test_a_second_service_is_read_beside_the_first(browser: Browser, at: str) -> None:
    sit(browser, at, "height", key="tip_height")
    assert "service 2" not in browser.get(f"{at}?key=tip_height")
    browser.post(f"{at}/phase", 400, phase="service 2")
    for n, text in ((1, "47.20"), (2, "47.10")):
        browser.post(f"{at}/phase", 302, phase=f"service {n}")
        browser.post(at, key="tip_height", place="1I-a", text=text)
    assert [(r.phase, r.service, r.value) for r in readings(browser)] == [
        (Phase.SERVICE, 1, 47.2), (Phase.SERVICE, 2, 47.1),
    ]  # fmt: skip
    page = browser.get(f"{at}?key=tip_height&place=1I-a")
    assert "service 1 47.20" in page
    assert "service 2 47.10" in page
    assert '<option value="service 3"' in page
