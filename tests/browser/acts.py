"""What a builder does at the keyboard, in a few words."""

from playwright.sync_api import Page, expect


def opened(page: Page, address: str) -> Page:
    page.goto(address)
    page.wait_for_selector("html[data-ready]")
    return page


def unfolded(page: Page, address: str) -> Page:
    """A page with its deeper parts open."""
    opened(page, address)
    page.evaluate("document.querySelectorAll('details.deeper').forEach(part => { part.open = true; })")
    return page


def field(page: Page, path: str) -> str:
    return f"[id='i-{path}']"


def put(page: Page, path: str, text: str) -> None:
    """Type over a field and press Enter, then wait until it is accepted."""
    revision = page.input_value("#base")
    page.fill(field(page, path), text)
    page.press(field(page, path), "Enter")
    expect(page.locator("#base")).not_to_have_value(revision)


def level(page: Page, check: str) -> str | None:
    return page.locator(f"[id='g-{check}']").get_attribute("data-level")


def wait_level(page: Page, check: str, wanted: str) -> None:
    expect(page.locator(f"[id='g-{check}']")).to_have_attribute("data-level", wanted)
