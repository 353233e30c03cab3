"""The main views, each as one picture of 1280 × 800, from the demo builds."""

import shutil
import tempfile
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from threading import Thread

from playwright.sync_api import Page, expect, sync_playwright
from waitress.server import create_server

from arcstack.demo.workshop import make_demo
from arcstack.services import Who, Workshop
from arcstack.services.starts import template
from arcstack.web import create_app

PLACE = Path(__file__).parent.parent / "docs" / "screenshots"
STEP = "intake.stack.retainer.step"


def to(page: Page, selector: str) -> None:
    page.evaluate("s => document.querySelector(s).scrollIntoView()", selector)


def unfold(page: Page, part: str) -> None:
    page.evaluate("s => { document.querySelector(s).open = true; }", part)
    to(page, part)


def working(page: Page) -> None:
    page.click("[id='g-spring.reserve.inner'] button")
    page.wait_for_selector("#drawer[open]")


def revisions(page: Page, home: str) -> None:
    page.goto(f"{home}/stack")
    for text in ("0.6", "2.9"):
        before = page.input_value("#base")
        page.fill(f"[id='i-{STEP}']", text)
        page.press(f"[id='i-{STEP}']", "Enter")
        expect(page.locator("#base")).not_to_have_value(before)
    page.goto(f"{home}/revisions?first=1&second=2")
    page.wait_for_selector("text=Compare")
    again = page.locator("text=Look again")
    while again.count():
        page.wait_for_timeout(1000)
        again.click()
        page.wait_for_load_state("networkidle")


def bench(page: Page) -> None:
    page.fill("#sit-name", "H-2")
    page.fill("#sit-hand", "ada")
    page.keyboard.press("Enter")
    page.wait_for_selector("#reading[data-zero]")
    page.fill("#reading", "35.00")
    page.keyboard.press("Enter")
    for text in ("36.72", "36.73", "36.74", "36.74", "36.82", "36.83", "36.78", "36.77", "36.68", "36.69"):
        page.wait_for_selector("#reading-form")
        page.fill("#reading", text)
        page.keyboard.press("Enter")
        page.wait_for_timeout(900)
    page.fill("#reading", "36.81")


def specify(page: Page) -> None:
    page.wait_for_selector("table.specify")
    to(page, ".headline")
    page.wait_for_timeout(1500)


def main() -> None:
    browser_path = shutil.which("chromium") or shutil.which("chromium-browser")
    if browser_path is None:
        raise SystemExit("Chromium is missing: scripts/test installs it.")
    folder = Path(tempfile.mkdtemp())
    make_demo(folder)
    app = create_app(folder)
    server = create_server(app, host="127.0.0.1", port=0, threads=4)
    Thread(target=server.run, daemon=True).start()
    home = f"http://127.0.0.1:{server.effective_port}"
    failing, sound = f"{home}/builds/1", f"{home}/builds/2"
    workshop: Workshop = app.extensions["workshop"]
    made = workshop.create(template("rocker"), Who("demo", lambda: datetime.now(UTC).replace(tzinfo=None)))
    rocker = f"{home}/builds/{made}/intake/stack"
    views: list[tuple[str, str, Callable[[Page], None] | None]] = [
        ("workshop", home, lambda p: p.wait_for_selector(".builds .far-line")),
        ("brief", f"{sound}/intake/brief", None),
        ("cam", f"{sound}/intake/cam", None),
        ("stack", f"{failing}/intake/stack", None),
        ("working", f"{failing}/intake/stack", working),
        ("fit", f"{sound}/intake/fit", None),
        ("shelf", f"{home}/shelf?q=seal,+stem+6.0,+guide+11,+no+taller+than+9.5", None),
        ("specify", f"{sound}/intake/specify", specify),
        ("springs", f"{sound}/intake/springs", None),
        ("packs", f"{sound}/intake/springs", lambda p: to(p, "#compare-title")),
        ("control", f"{failing}/intake/control", None),
        ("bench", f"{sound}/intake/bench?key=open_height&place=1I-a", bench),
        ("sweep", f"{sound}/exhaust/control", lambda p: unfold(p, "#sweep-part")),
        ("window", f"{sound}/intake/window", lambda p: p.wait_for_selector("svg.window")),
        ("clearance", f"{failing}/intake/clearance", None),
        ("practice", f"{failing}/intake/practice", None),
        ("sheet", f"{sound}/sheet", lambda p: to(p, ".sheet-side")),
        ("rocker", rocker, None),
        ("revisions", f"{failing}/intake/revisions", lambda p: revisions(p, f"{failing}/intake")),
    ]
    with sync_playwright() as driver:
        browser = driver.chromium.launch(executable_path=browser_path, args=["--no-sandbox", "--disable-gpu"])
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        for name, address, act in views:
            page.goto(address)
            page.wait_for_selector("html[data-ready]")
            # the elastic train comes in after the page
            page.wait_for_selector(".waiting", state="detached", timeout=60_000)
            page.wait_for_load_state("networkidle")
            if act is not None:
                act(page)
                page.wait_for_selector(".waiting", state="detached", timeout=60_000)
            page.wait_for_timeout(700)
            page.screenshot(path=PLACE / f"{name}.png")
            print(name)
        browser.close()
    server.close()


if __name__ == "__main__":
    main()
