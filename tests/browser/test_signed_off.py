"""The sound head signed off by keyboard, from an empty list to its report; and its report read as a customer would."""

import io
import re

from playwright.sync_api import Page, expect
from pypdf import PdfReader

from tests.browser.conftest import Site
from tests.browser.test_bench import opened


def test_the_sound_head_is_signed_off_from_empty_to_report_by_keyboard(page: Page, site: Site) -> None:
    at = f"{site.address}/builds/{site.sound()}/intake"
    opened(page, f"{at}/sign-off")
    page.focus("#whose-hand")
    page.keyboard.type("Ilse")
    page.keyboard.press("Enter")
    expect(page.locator("#whose-hand")).to_have_count(0)
    expect(page.get_by_role("button", name=re.compile("Sign revision 1 as Ilse"))).to_be_disabled()
    for _ in range(20):
        rows = page.locator(".let-pass.all > summary")
        rows = rows if rows.count() else page.locator(".let-pass > summary")
        if not rows.count():
            break
        before = page.locator(".against li").count()
        rows.first.focus()
        page.keyboard.press("Enter")
        page.keyboard.press("Tab")
        page.keyboard.type("on the list of the first look")
        page.keyboard.press("Tab")
        page.keyboard.type("1,000 km")
        page.keyboard.press("Enter")
        page.wait_for_selector("html[data-ready]")
        expect(page.locator(".against li")).not_to_have_count(before)
    expect(page.locator("#work")).to_contain_text("Nothing stands against it")
    page.focus("#s-answers")
    page.keyboard.type("Ilse Kern")
    page.keyboard.press("Tab")
    page.keyboard.type("lash at 1,000 km")
    page.keyboard.press("Enter")
    expect(page.locator(".signed-line")).to_contain_text("Revision 1 is signed off")
    # what is frozen says so at the field
    opened(page, f"{at}/brief")
    page.fill("[id='i-brief.limiter']", "8050")
    page.keyboard.press("Enter")
    expect(page.locator("body")).to_contain_text("signed off and stays as it is")
    opened(page, f"{at}/sheets")
    page.get_by_role("link", name="Look at it").first.press("Enter")
    report = page.locator("#work")
    for words in (
        "What we did not check",
        "Ilse Kern answers for the clearances",
        "Look at it again: lash at 1,000 km",
    ):
        expect(report).to_contain_text(words)
    data = page.request.get(f"{at}/sheets/report.pdf").body()
    paper = " ".join(" ".join(p.extract_text() for p in PdfReader(io.BytesIO(data)).pages).split())
    assert "Ilse Kern answers for the clearances" in paper
    assert "on the list of the first look" in paper


def test_a_head_that_came_back_has_a_report_that_tells_what_was_found(page: Page, site: Site) -> None:
    opened(page, f"{site.address}/builds/{site.returned()}/intake/sheets/report")
    report = page.locator("#work")
    for words in (
        "You told us:",
        "is beaten bright and rounded",
        "We have not yet settled what caused it",
        "This head is not signed off",
    ):
        expect(report).to_contain_text(words)
    expect(page.locator(".budget-bar")).to_have_count(4)
