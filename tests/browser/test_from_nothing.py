"""The failing demo build entered from nothing by keyboard, as a builder would; its fault found and mended."""

from pathlib import Path

from playwright.sync_api import Page, expect

from arcstack.demo import demo_builds
from arcstack.demo.loader import typed_figures
from arcstack.document import Entry, get
from arcstack.readings.brought import document_by_file
from arcstack.web.kit.stage import STAGES
from tests.browser.acts import opened, wait_level
from tests.browser.conftest import Site

ROWS = {path: (text, evidence) for path, text, evidence in typed_figures("fennel")}


def worth(held: object) -> tuple[object, ...]:
    """What a figure says and what it is worth, whenever it was taken."""
    return (held.typed, held.value, held.stands) if isinstance(held, Entry) else ()


def focused(page: Page) -> str:
    return page.evaluate("document.activeElement.closest('.field')?.dataset.path ?? ''")


def walk_the_fields(page: Page) -> None:
    """From the first field on, type what belongs there and press Enter, to the last."""
    page.evaluate("document.querySelector('.field input, .field select.choice').focus()")
    seen = []
    while (path := focused(page)) and path not in seen:
        seen.append(path)
        text, evidence = ROWS.get(path, ("", None))
        tag, kind, held = page.evaluate("(e => [e.tagName, e.type, e.value])(document.activeElement)")
        if text and tag == "SELECT":
            while page.evaluate("document.activeElement.value") != text:
                page.keyboard.press("ArrowDown")
        elif text and kind == "date":
            # the browser asks for month, day and year in turn
            year, month, day = text.split("-")
            page.keyboard.type(month + day + year)
        elif text and held == "":
            page.keyboard.type(text)
            # one key while typing turns the origin
            for _ in range(3):
                if evidence is None or page.input_value(f"[id='e-{path}']") == evidence:
                    break
                page.keyboard.press("Alt+e")
        page.keyboard.press("Enter")
        if page.locator("#sitting[open]").count():
            # asked once: with what, by whom
            page.fill("#sitting-instrument", "caliper, feeler gauges")
            page.fill("#sitting-hand", "Odo")
            page.keyboard.press("Enter")
            expect(page.locator("#sitting")).to_be_hidden()
            assert focused(page) == path
            page.keyboard.press("Enter")
    # past the last field stands the next stage
    expect(page.locator("[data-stage-link]:focus")).to_be_visible()
    expect(page.locator(".field.busy, .field.draft")).to_have_count(0)
    assert page.locator(".field .wrong").count() == 0


def test_entered_by_keyboard_found_failing_mended_and_carried_away(page: Page, site: Site, tmp_path: Path) -> None:
    opened(page, site.address)
    page.locator("#name").focus()
    page.keyboard.type("Fennel, ice-trial three")
    page.keyboard.press("Enter")
    page.wait_for_url("**/intake/brief")
    build_id = int(page.url.split("/builds/")[1].split("/")[0])
    for side in ("intake", "exhaust"):
        stages = ("2", "3", "8") if side == "exhaust" else ("1", "2", "3", "4", "8")
        for number in stages:
            page.keyboard.press(f"Alt+{number}")
            page.wait_for_selector(f"[data-stage-link='{number}'][aria-current]")
            page.wait_for_selector("html[data-ready]")
            walk_the_fields(page)
        page.keyboard.press("Alt+s")
        page.wait_for_selector(f".build:not([data-side='{side}'])")
        page.wait_for_selector("html[data-ready]")
    entered = site.workshop.open(build_id).build
    demo = demo_builds()[1]
    for path in ROWS:
        # how parts fit is entered once here: the other side is the same page
        if path.startswith("exhaust.") and STAGES.of_field(path) == "fit":
            continue
        here, there = get(entered, path), get(demo, path)
        assert (worth(here), str(here) if isinstance(here, str) else "") == (
            worth(there),
            str(there) if isinstance(there, str) else "",
        )

    page.keyboard.press("Alt+3")
    page.wait_for_selector("svg.section")
    page.wait_for_selector("html[data-ready]")
    wait_level(page, "spring.reserve.inner", "fail")
    expect(page.locator("[id='g-spring.reserve.inner'] .gauge-value")).to_contain_text("−0.29")

    step = "[id='i-intake.stack.retainer.step']"
    page.focus(step)
    page.keyboard.press("Control+a")
    page.keyboard.type("0.6")
    # the margins answer while it is still being typed
    expect(page.locator("[id='g-spring.reserve.inner'] .gauge-value")).to_contain_text("2.01")
    assert get(site.workshop.open(build_id).build, "intake.stack.retainer.step").typed == "2.9 mm"
    page.keyboard.press("Enter")
    expect(page.locator(".field.draft")).to_have_count(0)
    wait_level(page, "spring.reserve.inner", "tight")
    page.reload()
    wait_level(page, "spring.reserve.inner", "tight")
    assert page.input_value(step) == "0.6"

    with page.expect_download() as download:
        page.click("text=Export")
    file = tmp_path / "fennel.json"
    download.value.save_as(file)
    opened(page, site.address)
    page.set_input_files("#file", file)
    page.click("button:has-text('Import')")
    expect(page.locator(".ask")).to_contain_text("This build is here already")
    page.click("button:has-text('As a build of its own')")
    page.wait_for_url("**/intake/stack")
    copy_id = int(page.url.split("/builds/")[1].split("/")[0])
    assert copy_id != build_id
    # all of it; whose hands they were is told as told by a file
    assert site.workshop.open(copy_id).build == document_by_file(site.workshop.open(build_id).build)
    wait_level(page, "spring.reserve.inner", "tight")
    wait_level(page, "piston.clearance_swept", "fail")
    wait_level(page, "piston.clearance", "clear")
