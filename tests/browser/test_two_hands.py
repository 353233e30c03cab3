"""Two tablets on one head: signed in by name, each sees within a second what the other read."""

from collections.abc import Iterator
from dataclasses import dataclass

import pytest
from playwright.sync_api import Browser, Page, expect

from arcstack.application import Sweeps, Workshop
from arcstack.application.people import Role
from arcstack.demo import demo_builds
from arcstack.web import create_app
from arcstack.web.network import Network
from tests.browser.acts import put
from tests.browser.conftest import PATIENCE_MS, answering
from tests.browser.test_bench import sit
from tests.web.conftest import WHO

WORDS = "four old seats ring"


@dataclass(frozen=True)
class Shop:
    """A workshop served to people who sign in."""

    address: str
    workshop: Workshop


@pytest.fixture(scope="module")
def shop(tmp_path_factory: pytest.TempPathFactory, worked: Sweeps) -> Iterator[Shop]:
    app = create_app(tmp_path_factory.mktemp("shop"), sweeps=worked, network=Network())
    for name, role in (("Ilse", Role.OWNER), ("Wen", Role.MEASURE), ("Guest", Role.LOOK)):
        app.extensions["shop"].people.put(name, role, WORDS, WHO)
    with answering(app) as address:
        yield Shop(address, app.extensions["shop"].workshop)


def tablet(chromium: Browser, shop: Shop, name: str, to: str) -> Page:
    """A browser of its own, signed in by keyboard."""
    context = chromium.new_context(viewport={"width": 1280, "height": 800})
    context.set_default_timeout(PATIENCE_MS)
    page = context.new_page()
    page.goto(shop.address + to)
    expect(page.locator("#in-name")).to_be_focused()
    page.keyboard.type(name)
    page.keyboard.press("Tab")
    page.keyboard.type(WORDS)
    page.keyboard.press("Enter")
    page.wait_for_url(lambda url: "/sign-in" not in url)
    page.wait_for_selector("html[data-ready]")
    return page


def test_each_sees_what_the_other_read_and_keeps_what_is_being_typed(chromium: Browser, shop: Shop) -> None:
    build = shop.workshop.create(demo_builds()[0], WHO)
    at = f"/builds/{build}/intake/bench?key=open_height"
    wen, ilse = tablet(chromium, shop, "Wen", at), tablet(chromium, shop, "Ilse", at)
    sit(wen, "H-2")
    sit(ilse, "H-3")
    expect(ilse.locator(".last-five")).to_contain_text("none yet")
    ilse.locator("#reading").fill("36.")
    wen.keyboard.type("36.72", delay=60)
    wen.keyboard.press("Enter")
    expect(wen.locator(".last-five")).to_contain_text("36.72")
    # by itself: nothing of her page is touched or reloaded
    expect(ilse.locator(".last-five")).to_contain_text("36.72")
    expect(ilse.locator("#reading")).to_have_value("36.")
    expect(ilse.locator("#reading")).to_be_focused()
    expect(ilse.locator(".here-list")).to_contain_text("Wen")
    for page in (wen, ilse):
        page.context.close()


def test_any_other_page_says_that_another_hand_changed_the_head_and_never_says_so_of_its_own(
    chromium: Browser, shop: Shop
) -> None:
    build = shop.workshop.create(demo_builds()[0], WHO)
    wen = tablet(chromium, shop, "Wen", f"/builds/{build}/intake/bench?key=open_height")
    ilse = tablet(chromium, shop, "Ilse", f"/builds/{build}/intake/bench/to-do")
    expect(ilse.locator("#another-hand")).to_be_hidden()
    before = ilse.locator(".bench-page, main").first.inner_text()
    sit(wen, "H-2")
    for _ in range(2):
        wen.keyboard.type("36.72", delay=60)
        wen.keyboard.press("Enter")
    expect(ilse.locator("#another-hand")).to_be_visible()
    ilse.get_by_role("button", name="Show it").click()
    expect(ilse.locator("#another-hand")).to_be_hidden()
    assert ilse.locator(".bench-page, main").first.inner_text() != before
    # what a page changes itself is on it already
    ilse.goto(f"{shop.address}/builds/{build}/intake/stack")
    ilse.wait_for_selector("html[data-ready]")
    mark = ilse.locator("body").get_attribute("data-mark")
    put(ilse, "intake.stack.retainer.step", "1.4")
    expect(ilse.locator("body")).not_to_have_attribute("data-mark", mark or "")
    expect(ilse.locator("#another-hand")).to_be_hidden()
    wen.keyboard.type("36.80", delay=60)
    wen.keyboard.press("Enter")
    expect(ilse.locator("#another-hand")).to_be_visible()
    for page in (wen, ilse):
        page.context.close()


def test_a_guest_sees_it_and_may_change_nothing(chromium: Browser, shop: Shop) -> None:
    build = shop.workshop.create(demo_builds()[0], WHO)
    page = tablet(chromium, shop, "Guest", f"/builds/{build}/intake/costs")
    page.fill("#b-what", "guides")
    page.fill("#b-hours", "2")
    page.keyboard.press("Enter")
    expect(page.locator("body")).to_contain_text("Your role does not let you do that")
    page.goto(f"{shop.address}/")
    expect(page.locator("body")).to_contain_text("Guest, look: sees everything, changes nothing")
    page.get_by_role("button", name="Sign out").click()
    page.wait_for_url("**/sign-in*")
    page.context.close()
