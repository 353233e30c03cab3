"""Lash on the page: fitted shims change places before one is bought, and a valve that closes gets none without a cause."""

import re

import pytest

from arcstack.application import PartShelf
from arcstack.application.bench import Bench
from arcstack.demo.workshop import demo_shelf
from arcstack.readings.lash_history import Caused
from tests.web.conftest import WHO, Browser
from tests.web.test_bench import bench, sit

PLACES = ("1I-a", "1I-b", "2I-a", "2I-b")
FITTED, READ = ("2.70", "2.80", "2.75", "2.85"), ("0.12", "0.26", "0.18", "0.24")


@pytest.fixture
def at(browser: Browser) -> str:
    shelf: PartShelf = browser.client.application.extensions["shop"].shelf
    shelf.take(demo_shelf(), WHO)
    sit(browser, f"/builds/{browser.sound}/intake/bench", "micrometer", key="lash_shim")
    sit(browser, f"/builds/{browser.sound}/intake/bench", "feeler", zero="0.25", key="lash")
    return f"/builds/{browser.sound}/intake/bench"


def plain(page: str) -> str:
    return " ".join(re.sub(r"<[^>]+>", " ", page).split())


def read(browser: Browser, at: str, key: str, place: str, text: str) -> None:
    browser.post(at, key=key, place=place, text=text, sure="1")


def four(browser: Browser, at: str) -> None:
    for place, fitted, lash in zip(PLACES, FITTED, READ, strict=True):
        read(browser, at, "lash_shim", place, fitted)
        read(browser, at, "lash", place, lash)


def row(page: str, place: str) -> str:
    found = re.search(rf'<tr><th scope="row">{place}</th>.*?</tr>', page, re.S)
    assert found is not None
    return plain(found.group(0))


def test_the_worked_four_swap_one_keep_one_and_buy_two(browser: Browser, at: str) -> None:
    assert "lash and shim are to be read" in browser.get(f"{at}/lash")
    four(browser, at)
    page = browser.get(f"{at}/lash")
    assert row(page, "1I-a") == "1I-a 2.70 mm 0.12 mm 2.62 mm 2.60 mm from the shelf 0.22 mm"
    assert row(page, "1I-b") == "1I-b 2.80 mm 0.26 mm 2.86 mm 2.85 mm from 2I-b 0.21 mm"
    assert row(page, "2I-a") == "2I-a 2.75 mm 0.18 mm 2.73 mm stays 0.18 mm"
    assert row(page, "2I-b").startswith("2I-b 2.85 mm 0.24 mm 2.89 mm 2.90 mm from the shelf 0.19 mm")
    moves = plain(page.partition("Take out, put in")[2])
    assert "1I-a: out 2.70 mm, in 2.60 mm from the shelf" in moves
    assert "1I-b: out 2.80 mm, in 2.85 mm from 2I-b" in moves
    assert "2I-a" not in moves.partition("They were fitted so")[0]


def test_what_was_fitted_stands_only_once_it_is_read_again(browser: Browser, at: str) -> None:
    four(browser, at)
    layout = re.search(r'name="layout" value="([^"]*)"', browser.get(f"{at}/lash"))
    assert layout is not None
    assert "Something was read meanwhile" in browser.post(f"{at}/lash/fit", 409, layout="1I-a=2.5")
    browser.post(f"{at}/lash/fit", 302, layout=layout.group(1))
    page = browser.get(f"{at}/lash")
    assert "read again: another lash shim was fitted" in row(page, "1I-a")
    # what stayed needs no second look
    assert "stays" in row(page, "2I-a")
    read(browser, at, "lash", "1I-a", "0.21")
    assert row(browser.get(f"{at}/lash"), "1I-a") == "1I-a 2.60 mm 0.21 mm 2.61 mm stays 0.21 mm"


def serviced(browser: Browser, at: str, place: str, found: tuple[str, ...], left: str = "0.20") -> None:
    """Built at 0.20, then found and set back service by service."""
    read(browser, at, "lash_shim", place, "2.70")
    read(browser, at, "lash", place, "0.20")
    for n, text in enumerate(found, 1):
        browser.post(f"{at}/phase", 302, phase=f"service {n}")
        read(browser, at, "lash", place, text)
        if n < len(found):
            read(browser, at, "lash", place, left)


def test_a_valve_that_closes_gets_no_shim_until_its_cause_is_found(browser: Browser, at: str) -> None:
    """First service beds; then 0.20 to 0.14, to 0.15, to 0.12: 0.19 mm of stem rise, and its load."""
    serviced(browser, at, "1I-a", ("0.19", "0.14", "0.15", "0.12"))
    page = browser.get(f"{at}/lash")
    held = row(page, "1I-a")
    assert "closed 0.19 mm in 3 services: find the cause before any shim" in held
    assert "2.70 mm 0.12 mm 2.62 mm –" in held
    told = plain(page.partition("Service by service")[2])
    assert "0.06 mm, 0.05 mm, 0.08 mm" in told
    assert re.search(r"the stem stands 0\.19 mm higher, the spring carries \d+ N less", told)
    assert 'class="lash-line"' in page
    assert "Say which cause" in browser.post(f"{at}/lash/cause", 422, place="1I-a", cause="a witch", note="burnt")
    assert "Say which cause" in browser.post(f"{at}/lash/cause", 422, place="1I-a", cause="seat recession", note="")
    blind = {"place": "1I-a", "cause": "seat recession", "note": "0.2 deep, seat cut and lapped"}
    assert "Read it there first" in browser.post(f"{at}/lash/cause", 422, **blind)
    sit(browser, at, "ruler", zero="0", key="seat_width")
    read(browser, at, "seat_width", "1I-a", "1.9")
    browser.post(f"{at}/lash/cause", 302, **blind)
    service: Bench = bench(browser)
    assert isinstance(service.sheet(browser.sound, browser.workshop.open(browser.sound).build).events[-1], Caused)
    page = browser.get(f"{at}/lash")
    assert "cause found: seat recession" in page
    assert "2.60 mm from the shelf" in row(page, "1I-a")


def test_what_closes_more_and_more_is_signed_by_nobody(browser: Browser, at: str) -> None:
    serviced(browser, at, "1I-a", ("0.19", "0.17", "0.10"))
    # built on feeler gauges good to 0.01: a step of 0.10 after one of 0.03 grows by more than both can be off
    page = browser.get(f"{at}/lash")
    assert "closed 0.13 mm in 2 services: find the cause; nothing is signed before" in page
    assert "Lash at 1I-a: closed 0.13 mm" in browser.get(f"{at}/to-do")


def test_the_first_service_beds_the_seats_and_is_no_trend(browser: Browser, at: str) -> None:
    serviced(browser, at, "1I-a", ("0.05",))
    page = browser.get(f"{at}/lash")
    assert "first service: seats bed, no trend yet" in page
    assert "find the cause" not in page
    assert "stem stands" not in page


def test_lash_that_opens_points_to_the_lobe_and_may_be_shimmed(browser: Browser, at: str) -> None:
    serviced(browser, at, "1I-a", ("0.20", "0.27"))
    page = browser.get(f"{at}/lash")
    assert "opened 0.07 mm: look at lobe, bucket and tip" in page
    assert "from the shelf" in row(page, "1I-a")


def test_a_shim_that_nobody_makes_stops_it(browser: Browser, at: str) -> None:
    read(browser, at, "lash_shim", "1I-a", "6.0")
    read(browser, at, "lash", "1I-a", "0.20")
    read(browser, at, "lash", "1I-a", "0.40")
    assert "lies beyond every size: tip, seat or bucket is out" in row(browser.get(f"{at}/lash"), "1I-a")


def served(browser: Browser, at: str, code: int = 302, **form: str) -> str:
    return browser.post(f"{at}/lash/service", code, **form)


def test_services_have_their_distance_and_hours_and_never_go_back(browser: Browser, at: str) -> None:
    serviced(browser, at, "1I-a", ("0.19", "0.14"))
    served(browser, at, distance="9,200", hours="61", events="14", oil="a racing 10W-60", cold="19")
    page = plain(browser.get(f"{at}/lash"))
    assert "service 2 · 9,200 km · 61 h · 14 limiter events · a racing 10W-60 · 19 °C" in page
    assert "at 9,200 km" in page
    assert "Not cold" not in page
    browser.post(f"{at}/phase", 302, phase="service 3")
    assert "The distance goes back: service 2 had 9,200 already" in served(browser, at, 422, distance="8000")
    assert "The hours goes back" in served(browser, at, 422, hours="20")
    browser.post(f"{at}/phase", 302, phase="service 1")
    assert "lies past service 2" in served(browser, at, 422, distance="12000")
    served(browser, at, distance="4000", cold="64")
    assert "Not cold: lash is read at 20 ± 5 °C" in plain(browser.get(f"{at}/lash"))


@pytest.mark.parametrize(
    ("form", "words"),
    [
        ({"distance": "far"}, "Distance is a number"),
        ({"distance": "-5"}, "Distance lies between"),
        ({"events": "2.5"}, "are counted"),
        ({"cold": "400"}, "Temperature lies between"),
    ],
)
def test_what_no_service_can_be_is_refused(browser: Browser, at: str, form: dict[str, str], words: str) -> None:
    assert words in plain(served(browser, at, 422, **form))
    browser.post(f"{at}/phase", 302, phase="mock-up")
    assert "This is the mock-up phase" in served(browser, at, 422, distance="10")


def test_valves_are_read_by_the_firing_order(browser: Browser, at: str) -> None:
    build = browser.workshop.open(browser.sound)
    form = {
        "path": "engine.firing_order",
        "text": "1-3-4-2",
        "base": build.revision,
        "stage": "brief",
        "side": "intake",
    }
    browser.post(f"/builds/{browser.sound}/edit", 200, **form)
    read(browser, at, "lash", "3I-a", "0.20")
    page = plain(browser.get(f"{at}/lash"))
    assert "at firing TDC Cylinder 1 1I-a 1I-b then turn 180° Cylinder 3 3I-a ✓ 3I-b then turn 180° Cylinder 4" in page


def test_an_order_that_leaves_a_cylinder_out_is_told_and_shows_no_sequence(browser: Browser, at: str) -> None:
    build = browser.workshop.open(browser.sound)
    form = {"path": "engine.firing_order", "text": "1-3-2", "base": build.revision, "stage": "brief", "side": "intake"}
    browser.post(f"/builds/{browser.sound}/edit", 200, **form)
    page = browser.get(f"{at}/lash")
    assert "The firing order leaves out cylinder 4" in page
    assert 'class="sequence"' not in page


def test_two_blades_are_typed_as_one(browser: Browser, at: str) -> None:
    read(browser, at, "lash_shim", "1I-a", "2.70")
    read(browser, at, "lash", "1I-a", "0.20/0.22")
    assert row(browser.get(f"{at}/lash"), "1I-a").startswith("1I-a 2.70 mm 0.21 mm 2.71 mm")


def test_a_closing_valve_is_let_pass_by_name_alone_and_the_sheet_says_so(browser: Browser, at: str) -> None:
    serviced(browser, at, "1I-a", ("0.19", "0.14", "0.15", "0.12"))
    assert "A waiver needs" in browser.post(f"{at}/lash/pass", 422, place="1I-a", reason="", until="the next strip")
    browser.post(f"{at}/lash/pass", 302, place="1I-a", reason="one event to go", until="the next strip")
    assert "2.60 mm from the shelf" in row(browser.get(f"{at}/lash"), "1I-a")
    assert "Lash closing, service by service at 1I-a" in plain(browser.get(f"/builds/{browser.sound}/sheet"))
    assert "Lash closing, service by service at 1I-a" in plain(browser.get(f"{at}/to-do"))


def test_on_two_banks_the_crank_turns_through_the_other_bank_too(browser: Browser, at: str) -> None:
    """Ten cylinders, 72° apart, of which this bank has every second: 144° from one to the next of its own."""
    for path, text in (
        ("engine.cylinders", "10"),
        ("engine.banks", "2"),
        ("engine.firing_order", "1-6-5-10-2-7-3-8-4-9"),
    ):
        revise(browser, path, text)
    page = plain(browser.get(f"{at}/lash"))
    assert "Say at the brief which cylinders of the engine this bank holds" in page
    assert "then turn" not in page
    revise(browser, "head.cylinders", "1-2-3-4-5")
    page = plain(browser.get(f"{at}/lash"))
    assert "at firing TDC Cylinder 1" in page
    assert page.count("then turn 144°") == 4
    assert "72°" not in page
    revise(browser, "head.cylinders", "6-7-8-9-10")
    assert "6I-a" in browser.get(f"{at}/lash")


def revise(browser: Browser, path: str, text: str) -> None:
    form = {
        "path": path,
        "text": text,
        "base": browser.workshop.open(browser.sound).revision,
        "stage": "brief",
        "side": "intake",
    }
    browser.post(f"/builds/{browser.sound}/edit", 200, **form)
