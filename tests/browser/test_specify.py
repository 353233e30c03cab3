"""From a template to a clear stack, from nothing that would do to what would, and the lock that sits deep."""

import re

from playwright.sync_api import Page, expect

from arcstack.application import PartShelf
from arcstack.application.starts import template
from arcstack.assess import assess
from arcstack.checks import Level
from arcstack.demo.loader import demo_shelf
from arcstack.dynamics.question import work_out
from tests.browser.acts import opened, put
from tests.browser.conftest import Site
from tests.web.conftest import WHO


def head(site: Site) -> int:
    PartShelf(site.workshop.database).take(demo_shelf(), WHO)
    return site.workshop.create(template("bucket"), WHO)


def test_a_template_is_specified_to_a_stack_that_nothing_fails(page: Page, site: Site) -> None:
    build = head(site)
    opened(page, site.stage(build, "brief"))
    for path, text in (("brief.overspeed", "8400"), ("brief.limiter", "8000"), ("brief.boost", "1.8")):
        put(page, path, text)
    opened(page, f"{site.address}/builds/{build}/intake/parts")
    page.get_by_role("link", name="Specify from a wish").click()
    page.wait_for_selector("table.specify")
    expect(page.locator(".headline")).to_contain_text("combinations would do")
    for kind in ("valve", "locator"):
        page.locator(f"input[name=vary][value={kind}]").check()
    expect(page.locator("#found .wrong")).to_contain_text("Fix what is settled")
    page.locator("input[name=vary][value=valve]").uncheck()
    expect(page.locator(".headline")).to_contain_text("of 1,456,000 combinations")
    page.locator("tr:first-child input[name=lay]").check()
    page.locator("select[name=want]").select_option("least friction")
    # another order is another table, with nothing ticked
    expect(page.locator("tr:first-child input[name=lay]")).not_to_be_checked()
    # the finalists are worked again by every check as they come into view
    expect(page.locator("table.specify .whole").first).to_contain_text(re.compile("tight|clear"))
    page.get_by_role("button", name="Look at 1", exact=True).click()
    page.get_by_role("button", name="Fit these").click()
    page.wait_for_url("**/intake/stack")
    page.wait_for_selector("html[data-ready]")
    made = assess(site.workshop.open(build).build, work_out)
    assert [v.id for v in made.of_side("intake") if v.judges and v.level in (Level.FAIL, Level.OPEN)] == []
    held = site.workshop.open(build).build.intake
    assert {"pack", "retainer", "locks", "locator"} <= set(held.from_shelf)
    page.keyboard.press("Control+z")
    page.wait_for_selector("html[data-ready]")


def test_why_not_is_followed_to_an_answer_that_works(page: Page, site: Site) -> None:
    build = head(site)
    opened(page, site.stage(build, "brief"))
    for path, text in (("brief.overspeed", "10600"), ("brief.limiter", "10200")):
        put(page, path, text)
    opened(page, f"{site.address}/builds/{build}/intake/specify?asked=1&vary=pack&vary=shim")
    expect(page.locator(".headline")).to_contain_text(re.compile(r"^0 of"))
    row = page.locator("table.why tr", has_text="Limiter and overspeed")
    # every change is tried at a dozen amounts: long work, with its progress shown
    expect(row).to_be_visible(timeout=120_000)
    lower = re.search(r"([\d,]+) rpm lower", row.inner_text())
    assert lower is not None
    by = int(lower[1].replace(",", "")) + 1
    row.get_by_role("link").click()
    page.wait_for_selector("html[data-ready]")
    put(page, "brief.limiter", str(10200 - by))
    put(page, "brief.overspeed", str(10600 - by))
    opened(page, f"{site.address}/builds/{build}/intake/specify?asked=1&vary=pack&vary=shim")
    page.wait_for_selector("table.specify")
    expect(page.locator(".headline")).not_to_contain_text(re.compile(r"^0 of"))


def test_the_frontier_and_the_table_lead_to_the_same_place_by_keyboard(page: Page, site: Site) -> None:
    build = head(site)
    opened(page, f"{site.address}/builds/{build}/intake/specify")
    page.wait_for_selector("svg.frontier a")
    page.locator("svg.frontier a").first.focus()
    page.keyboard.press("Enter")
    expect(page.locator("#look-title")).to_be_visible()
    for at in range(3):
        page.locator("table.specify input[name=lay]").nth(at).check()
    page.get_by_role("button", name="Lay beside each other").focus()
    page.keyboard.press("Enter")
    expect(page.locator("table.beside thead th")).to_have_count(4)
    # the lock that goes in by hand, looks right and sits deep
    page.get_by_label("Why is a part not in the list?").select_option(label="L-6 worn pattern")
    expect(page.locator("#of-part")).to_contain_text("L-6 worn pattern")
