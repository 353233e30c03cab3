"""Pages of a head that is met for the first time: shown at once, and their rest after, whatever happens meanwhile."""

import re

import pytest
from playwright.sync_api import Browser, Page, Route, expect

from tests.browser.acts import opened
from tests.browser.conftest import Site
from tests.browser.test_bench import sit

COMING = ".coming"


def is_rest(route: Route) -> bool:
    request = route.request
    return request.method == "GET" and request.headers.get("hx-request") == "true"


@pytest.mark.parametrize(
    ("path", "shows"),
    [
        ("bench/built#all", "Every valve against every check"), ("bench/to-do", "The paper check"),
        ("sign-off", "stand"), ("sheets/report", "What we did not check"), ("back/diagnosis", "What would decide"),
        ("bench", "measured"),
    ],
)  # fmt: skip
def test_the_rest_of_a_page_comes_by_itself(page: Page, site: Site, path: str, shows: str) -> None:
    opened(page, f"{site.address}/builds/{site.returned()}/intake/{path}")
    expect(page.locator(COMING)).to_have_count(0)
    expect(page.locator("body")).to_contain_text(re.compile(shows, re.IGNORECASE))
    expect(page.locator("main#work")).to_have_count(1)
    if path.endswith("#all"):
        expect(page.locator("#all")).to_be_in_viewport()


def test_a_reading_that_is_taken_meanwhile_is_not_undone_by_what_comes_late(page: Page, site: Site) -> None:
    address = f"{site.address}/builds/{site.sound()}/intake/bench?key=open_height&place=1I-a"
    held: list[Route] = []
    page.route("**/bench?**", lambda route: held.append(route) if is_rest(route) else route.continue_())
    opened(page, address)
    sit(page)
    with page.expect_request(lambda r: r.headers.get("hx-request") == "true" and r.method == "GET"):
        opened(page, address)
    expect(page.locator(COMING)).to_have_count(1)
    expect(page.locator("#reading")).to_be_focused()
    # what comes late was worked before the reading
    late = held[-1].fetch()
    page.keyboard.type("36.80", delay=60)
    page.keyboard.press("Enter")
    expect(page.locator(".here-list")).to_contain_text("36.80")
    expect(page.locator(COMING)).to_have_count(0)
    now = page.locator("#margins").inner_text()
    assert "1 of 8 measured" in now
    held[-1].fulfill(response=late)
    page.wait_for_timeout(400)
    assert page.locator("#margins").inner_text() == now
    expect(page.locator("#head-map")).to_contain_text("36.80")


@pytest.mark.parametrize("how", ["no answer", "broken"])
def test_a_rest_that_does_not_come_says_so_and_is_asked_for_again(page: Page, site: Site, how: str) -> None:
    tries: list[str] = []

    def answer(route: Route) -> None:
        if not is_rest(route) or tries:
            return route.continue_()
        tries.append(route.request.url)
        return route.abort() if how == "no answer" else route.fulfill(status=500, body="<main id='work'>broken</main>")

    page.route("**/bench/built**", answer)
    opened(page, f"{site.address}/builds/{site.sound()}/intake/bench/built")
    expect(page.locator(".coming [role=alert]")).to_have_text(re.compile("could not be worked"))
    expect(page.locator(".stale")).to_have_count(0)
    page.get_by_role("button", name="Try again").click()
    expect(page.get_by_role("heading", name="Every valve against every check")).to_be_visible()
    assert len(tries) == 1


def test_without_scripts_the_page_comes_in_one_piece(chromium: Browser, site: Site) -> None:
    context = chromium.new_context(java_script_enabled=False)
    page = context.new_page()
    page.goto(f"{site.address}/builds/{site.sound()}/intake/bench/built?check=stack.retainer_seal")
    page.wait_for_url("**whole=1")
    assert "Every valve against every check" in page.inner_text("main")
    context.close()
