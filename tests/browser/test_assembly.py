"""A head put together by keyboard, from its tools to its last count."""

from datetime import UTC, datetime

from playwright.sync_api import Page, expect

from arcstack.application.bench import Bench
from arcstack.assembly.progress import standings
from arcstack.assembly.second import table
from arcstack.document import Sitting
from arcstack.document.places import places
from arcstack.readings import Phase, Sheet
from arcstack.readings.assembling import State
from arcstack.readings.taking import How
from tests.browser.acts import opened
from tests.browser.conftest import Site


def measured(site: Site, build_id: int) -> None:
    """Heights and shims of every place, by Wen."""
    build = site.workshop.open(build_id).build
    by = Sitting(hand="Wen", instrument="H-2", at=datetime.now(UTC).replace(microsecond=0))
    how = How(by, Phase.FINAL, sure=True)
    texts = {"tip_height": "44.2 mm", "open_height": "36.8 mm", "shims": "0.50 + 0.30 mm"}
    rows = [(key, p.label, "", text, how) for p in places(build) for key, text in texts.items()]
    Bench(site.workshop.database).take_all(build_id, build, rows)


def sheet(site: Site, build_id: int) -> Sheet:
    return Bench(site.workshop.database).sheet(build_id, site.workshop.open(build_id).build)


def hand(page: Page, name: str) -> None:
    page.locator("#as-who").fill(name)
    page.locator("#as-who").press("Enter")
    expect(page.locator("#as-who")).to_have_value(name)


def answer(page: Page) -> None:
    """Fill what the step asks, by keyboard alone, and press Enter on the bar."""
    for box in page.locator(".tick-line input").all():
        box.press("Space")
    for group in page.locator(".step-field").all():
        legend = group.locator("legend").inner_text()
        texts = ["12"] if "has" in legend else ["9 Nm", "engine oil", "book, page 4"]
        if legend.startswith("Clearance in a bore") or "turn" in legend:
            continue
        for field, text in zip(group.locator("input").all(), texts, strict=False):
            field.fill(text)
    for counted in page.locator(".count-line").all():
        fill = counted.locator("[data-fill]")
        if fill.count():
            fill.press("Enter")
        else:
            counted.locator("input").fill("12" if "?" in counted.inner_text() else "0")
    page.locator("button.step-bar").press("Enter")


def second(page: Page) -> None:
    hand(page, "Ida")
    for row in page.locator("input[name^='again.']").all():
        name = row.get_attribute("name") or ""
        row.fill("44.21" if "tip" in name else "36.80")
    page.locator("input[name^='again.']").last.press("Enter")
    expect(page.locator("button.step-bar")).to_be_enabled()


def test_a_sound_head_goes_together_to_its_last_count_by_keyboard(page: Page, site: Site) -> None:
    build_id = site.sound()
    measured(site, build_id)
    opened(page, f"{site.address}/builds/{build_id}/intake/bench/assembly")
    hand(page, "Wen")
    page.locator("#as-days").fill("30")
    page.locator("#as-days").press("Enter")
    expect(page.get_by_text("quick-washing assembly lube").first).to_be_visible()
    page.get_by_role("button", name="The rest are owned").press("Enter")
    expect(page.locator("button.step-bar")).to_be_enabled()
    total = len(standings(sheet(site, build_id)))
    for n in range(1, total + 1):
        expect(page.locator(".step-no")).to_contain_text(f"Step {n} of {total}")
        if page.locator("h1").inner_text().startswith("Second reading"):
            second(page)
        if n == total:
            page.locator(".step-field input").first.fill("Wen")
            page.locator(".count-line input").fill("0")
            page.locator("button.step-bar").press("Enter")
            break
        answer(page)
    expect(page.locator(".all-done")).to_be_visible()
    own = sheet(site, build_id)
    assert {s.state for s in standings(own, table(own, 0.03))} == {State.DONE}
    expect(page.locator(".assembly-sum")).to_contain_text("204 of 204")


def test_a_count_that_is_short_stays_on_the_page_and_the_bar_waits(page: Page, site: Site) -> None:
    build_id = site.sound()
    opened(page, f"{site.address}/builds/{build_id}/intake/bench/assembly?step=locks")
    expect(page.locator("button.step-bar")).to_be_disabled()
    expect(page.locator(".step-waits")).to_contain_text("Retainers, compressed is to do")
    expect(page.locator(".way-pair").first).to_contain_text("Held by each lock, open")
    page.get_by_role("button", name="All 16").first.press("Enter")
    expect(page.locator("[id='c-locks.intake']")).to_have_value("16")
    expect(page.get_by_role("button", name="All 16").last).to_be_focused()


def test_the_bar_is_reached_with_the_side_of_a_hand_on_a_tablet(page: Page, site: Site) -> None:
    page.set_viewport_size({"width": 820, "height": 1180})
    opened(page, f"{site.address}/builds/{site.sound()}/intake/bench/assembly?step=seals")
    bar = page.locator(".step-bar").bounding_box()
    assert bar is not None
    assert bar["height"] >= 60
    assert bar["width"] >= 400
    assert bar["y"] + bar["height"] <= 1180
