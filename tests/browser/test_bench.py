"""The bench by keyboard alone: a gauge that is asked, one that types, a wild reading, the tray, and the head as built."""

import re
from collections.abc import Iterator
from threading import Thread

import pytest
from playwright.sync_api import Page, Route, expect

from arcstack.readings.instruments.simulated import Faults, StandIn, StandInServer
from tests.browser.conftest import Site

GAUGE = """(text) => {
  const at = document.activeElement;
  const press = (key) => at.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true }));
  for (const key of text) if (press(key)) at.value += key;
  press("Enter");
}"""
"""A gauge types as fast as its line allows, wherever the cursor is."""


def bench(site: Site, build: int, tail: str = "") -> str:
    return f"{site.address}/builds/{build}/intake/bench{tail}"


def opened(page: Page, address: str) -> None:
    page.goto(address)
    page.wait_for_selector("html[data-ready]")


def sit(page: Page, name: str = "H-2", zero: str = "35.00") -> None:
    """Name instrument and hand by keyboard, and try the zero where it was not tried yet."""
    page.fill("#sit-name", name)
    page.fill("#sit-hand", "Wen")
    page.keyboard.press("Enter")
    expect(page.locator("#reading")).to_be_focused()
    if page.locator("#reading[data-zero]").count():
        page.keyboard.type(zero, delay=60)
        page.keyboard.press("Enter")
    expect(page.locator("#reading-form")).to_be_visible()


@pytest.fixture(scope="module")
def height() -> Iterator[StandInServer]:
    def truth(place: str, figure: str) -> float:
        return 36.70 + 0.02 * (ord(place[-1]) - ord("a")) + 0.01 * int(place[0])

    server = StandInServer(StandIn("height", truth=truth, faults=Faults(0.0, 0.0, 0.0, 0.0)))
    Thread(target=server.serve_forever, daemon=True).start()
    yield server
    server.shutdown()
    server.server_close()


def test_a_side_is_read_by_keyboard_and_the_margins_follow(page: Page, site: Site) -> None:
    build = site.sound()
    opened(page, bench(site, build, "?key=tip_height"))
    sit(page)
    for n in range(8):
        expect(page.locator("#reading")).to_be_focused()
        place = page.locator("#spot-title").inner_text()
        page.keyboard.type(f"47.0{n % 4}", delay=60)
        page.keyboard.press("Enter")
        expect(page.locator("#spot-title")).not_to_have_text(place)
    expect(page.locator("#spot-title")).to_have_text("4E-b")
    expect(page.locator(".head-cell.read")).to_have_count(8)
    expect(page.locator(".bench-progress")).to_contain_text("8 of 16 read")
    # the last of them is taken back with a key on the empty field
    page.keyboard.press("Backspace")
    expect(page.locator("#spot-title")).to_have_text("4I-b")
    expect(page.locator(".here-list s")).to_have_text("47.03 mm")
    # skipped and noted by keys too
    page.keyboard.press("s")
    expect(page.locator("#spot-title")).not_to_have_text("4I-b")
    page.keyboard.press("n")
    expect(page.locator("#reading-note")).to_be_focused()
    page.reload()
    expect(page.locator(".head-cell.read")).to_have_count(7)


def test_a_gauge_that_was_tried_is_not_asked_again_on_the_next_head(page: Page, site: Site) -> None:
    opened(page, bench(site, site.sound(), "?key=tip_height"))
    page.fill("#sit-name", "H-once")
    page.fill("#sit-hand", "Wen")
    page.keyboard.press("Enter")
    expect(page.locator("#reading[data-zero]")).to_be_focused()
    page.keyboard.type("35.00", delay=60)
    page.keyboard.press("Enter")
    expect(page.locator("#reading-form")).to_be_visible()
    opened(page, bench(site, site.sound(), "?key=tip_height"))
    expect(page.locator("#reading-form #reading")).to_be_focused()


def test_a_wild_reading_is_asked_about_and_enter_takes_it(page: Page, site: Site) -> None:
    build = site.sound()
    opened(page, bench(site, build, "?key=tip_height"))
    sit(page)
    for text in ("47.00", "74.00"):
        page.keyboard.type(text, delay=60)
        page.keyboard.press("Enter")
        expect(page.locator("#reading-said")).not_to_be_empty()
        page.wait_for_timeout(300)
    expect(page.locator("#reading-said")).to_contain_text("Again?")
    expect(page.locator("#reading")).to_have_value("74.00")
    page.keyboard.press("Enter")
    expect(page.locator("#reading-said")).to_contain_text("74.00 mm taken")


def test_a_gauge_that_is_asked_sends_its_line_and_the_hand_goes_on(
    page: Page, site: Site, height: StandInServer
) -> None:
    build = site.sound()
    opened(page, f"{site.address}/instruments")
    page.fill("#a-address", f"socket://127.0.0.1:{height.port}")
    page.get_by_role("button", name="Put it on the list").click()
    page.fill("#i-name", "H-9")
    page.select_option("#i-kind", "height")
    page.select_option("#i-address", f"socket://127.0.0.1:{height.port}")
    page.click("#line > summary")
    page.fill("#i-asks", "R {place} {figure}")
    page.get_by_role("button", name="Keep it").click()
    expect(page.locator("table.parts").first).to_contain_text("H-9")
    opened(page, bench(site, build, "?key=open_height"))
    page.fill("#sit-name", "H-9")
    page.fill("#sit-hand", "Wen")
    page.keyboard.press("Enter")
    expect(page.locator("#reading[data-zero]")).to_be_focused()
    page.keyboard.press("Space")
    expect(page.locator("#reading-form")).to_be_visible()
    # twice each, with nothing but the space bar
    for place, after in (("1I-a", "1I-a"), ("1I-a", "1I-b"), ("1I-b", "1I-b"), ("1I-b", "2I-a")):
        expect(page.locator("#spot-title")).to_have_text(place)
        count = page.locator(".last-five li b").count()
        page.keyboard.press("Space")
        expect(page.locator("#reading-said")).to_contain_text(f"{place}: 36.7")
        expect(page.locator("#spot-title")).to_have_text(after)
        page.wait_for_timeout(250)
        assert count <= 5
    expect(page.locator(".head-cell[data-place='1I-a']")).to_contain_text("36.71")
    expect(page.locator(".head-cell[data-place='1I-b']")).to_contain_text("36.73")


def test_a_key_that_comes_before_the_script_asks_the_gauge_all_the_same(
    page: Page, site: Site, height: StandInServer
) -> None:
    build = site.sound()
    name = "H-slow"
    opened(page, f"{site.address}/instruments")
    if not page.locator("#i-address option", has_text=str(height.port)).count():
        page.fill("#a-address", f"socket://127.0.0.1:{height.port}")
        page.get_by_role("button", name="Put it on the list").click()
    page.fill("#i-name", name)
    page.select_option("#i-kind", "height")
    page.select_option("#i-address", f"socket://127.0.0.1:{height.port}")
    page.click("#line > summary")
    page.fill("#i-asks", "R {place} {figure}")
    page.get_by_role("button", name="Keep it").click()
    opened(page, bench(site, build, "?key=open_height"))
    page.fill("#sit-name", name)
    page.fill("#sit-hand", "Wen")
    held: list[Route] = []
    page.route("**/app*.js*", lambda route: held.append(route))
    page.locator("#sit-hand").press("Enter", no_wait_after=True)
    expect(page.locator("#reading[data-zero]")).to_be_focused()
    page.keyboard.press("Space")
    expect(page.locator("#reading[data-zero]")).to_have_value(" ")
    assert held
    for route in held:
        route.continue_()
    expect(page.locator("#reading-form")).to_be_visible()


def test_digits_that_come_before_the_script_stay_and_the_hand_goes_on_in_them(page: Page, site: Site) -> None:
    build = site.sound()
    opened(page, bench(site, build, "?key=tip_height"))
    page.fill("#sit-name", "H-early")
    page.fill("#sit-hand", "Wen")
    page.keyboard.press("Enter")
    expect(page.locator("#reading[data-zero]")).to_be_focused()
    page.wait_for_selector("html[data-ready]")
    held: list[Route] = []
    page.route("**/app*.js*", lambda route: held.append(route))
    page.keyboard.type("35.00", delay=60)
    page.locator("#reading").press("Enter", no_wait_after=True)
    expect(page.locator("#reading-form #reading")).to_be_focused()
    page.keyboard.type("47.", delay=60)
    for route in held:
        route.continue_()
    page.wait_for_selector("html[data-ready]")
    page.keyboard.type("21", delay=60)
    page.keyboard.press("Enter")
    expect(page.locator("#reading-said")).to_contain_text("1I-a: 47.21 mm taken")


def test_what_a_gauge_types_goes_to_the_reading_wherever_the_cursor_is(page: Page, site: Site) -> None:
    build = site.sound()
    opened(page, bench(site, build, "?key=tip_height"))
    sit(page)
    page.keyboard.press("n")
    expect(page.locator("#reading-note")).to_be_focused()
    # a hand's note, then a gauge that types in one go
    page.keyboard.type("new tip", delay=60)
    page.evaluate(GAUGE, "47.21")
    expect(page.locator("#reading-said")).to_contain_text("1I-a: 47.21 mm taken")
    expect(page.locator(".last-five li").first).to_contain_text("47.21 mm")
    page.click(".head-cell[data-place='1I-a']")
    expect(page.locator(".here-list")).to_contain_text("new tip")
    expect(page.locator(".here-list")).not_to_contain_text("new tip4")


def test_a_head_as_built_is_looked_at_valve_by_valve(page: Page, site: Site) -> None:
    build = site.sound()
    opened(page, bench(site, build, "?key=open_height"))
    sit(page)
    for text in ("36.81", "36.82"):
        page.keyboard.type(text, delay=60)
        page.keyboard.press("Enter")
        expect(page.locator("#reading-said")).to_contain_text(text)
    page.get_by_role("link", name="As built").first.click()
    page.wait_for_selector("html[data-ready]")
    page.click(".valves a[aria-label^='Retainer to seal at 1I-a']")
    page.wait_for_selector("html[data-ready]")
    expect(page.locator("#check-title")).to_contain_text("Retainer to seal, 1I-a")
    expect(page.locator(".built-section svg.section")).to_be_visible()
    expect(page.locator("table.inputs")).to_contain_text("measured")
    expect(page.locator("#margins")).to_contain_text("1 of 8 measured")
    page.get_by_role("link", name="Design", exact=True).click()
    expect(page).to_have_url(re.compile("/intake/stack"))


def test_a_hand_that_types_ahead_of_the_page_loses_no_digit(page: Page, site: Site) -> None:
    build = site.sound()
    opened(page, bench(site, build, "?key=tip_height"))
    sit(page)
    for n in range(4):
        for key in f"47.0{n}":
            page.keyboard.press(key)
            page.wait_for_timeout(45)
        page.keyboard.press("Enter")
    expect(page.locator(".bench-progress")).to_contain_text("4 of 16 read")
    texts = page.locator(".last-five li .num").all_inner_texts()
    assert texts[:4] == ["47.03 mm", "47.02 mm", "47.01 mm", "47.00 mm"]


def test_ctrl_z_at_the_bench_takes_the_last_reading_back_and_never_the_design(page: Page, site: Site) -> None:
    build = site.sound()
    revision = site.workshop.open(build).revision
    opened(page, bench(site, build, "?key=tip_height&place=1I-a"))
    sit(page)
    page.keyboard.type("47.00", delay=60)
    page.keyboard.press("Enter")
    expect(page.locator("#reading-said")).to_contain_text("1I-a: 47.00 mm taken")
    page.keyboard.press("Control+z")
    expect(page.locator("#reading-said")).to_contain_text("47.00 mm taken back; it stays to be seen")
    opened(page, bench(site, build, "/to-do"))
    page.keyboard.press("Control+z")
    page.wait_for_timeout(300)
    assert site.workshop.open(build).revision == revision
