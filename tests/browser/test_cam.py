from playwright.sync_api import Page, expect

from tests.browser.acts import opened, put, unfolded, wait_level
from tests.browser.conftest import Site
from tests.web.test_curve import TABLE


def test_a_measured_table_is_read_corrected_taken_and_dropped(page: Page, site: Site, tmp_path: object) -> None:
    build = site.sound()
    unfolded(page, site.stage(build, "cam"))
    page.click("summary:has-text('Read a measured lift table')")
    page.fill("#table", TABLE.replace("-90 0.000", "-90 about nought"))
    page.click("#table-form button")
    told = page.locator(".understood")
    expect(told).to_contain_text("Line 1")
    expect(told).to_contain_text("lift 10.400 mm")
    page.select_option(".understood select[name='lift_unit']", "in")
    expect(told).to_contain_text("no valve's")
    expect(told.locator("text=Take this curve")).to_have_count(0)
    assert page.input_value("#table").startswith("-90 about")
    page.select_option(".understood select[name='lift_unit']", "mm")
    page.click("text=Take this curve")
    expect(page.locator("#base")).to_have_value("2")
    expect(page.locator(".curve-box")).to_contain_text("180 readings at the lobe")
    wait_level(page, "cam.ramp", "fail")
    page.click("text=Drop it, back to the card")
    expect(page.locator("#base")).to_have_value("3")
    wait_level(page, "cam.ramp", "tight")


def test_three_panels_share_a_cursor_and_the_phaser_slides_the_events(page: Page, site: Site) -> None:
    unfolded(page, site.stage(site.sound(), "cam"))
    chart = page.locator(".chart svg")
    for words in ("lift, mm", "velocity, mm/rad", "acceleration, mm/rad²"):
        expect(chart).to_contain_text(words)
    expect(page.locator("#events")).to_contain_text("4.0° BTDC")
    page.focus("input[name='advance']")
    for _ in range(10):
        page.keyboard.press("ArrowRight")
    expect(page.locator("#events")).to_contain_text("14.0° BTDC")
    expect(page.locator("#advance-now")).to_have_text("10")


def test_sliding_a_centreline_answers_and_stores_nothing(page: Page, site: Site) -> None:
    build = site.failing()
    opened(page, site.stage(build, "clearance"))
    expect(page.locator("#whatif")).to_contain_text("−0.47 mm")
    page.focus(".what-if input[name='intake']")
    for _ in range(20):
        page.keyboard.press("ArrowRight")
    expect(page.locator("#now-intake")).to_have_text("116")
    expect(page.locator("#whatif tbody tr").nth(1).locator("b")).not_to_have_text("−0.47 mm")
    assert site.workshop.open(build).revision == 1


def test_tables_under_a_slider_follow_an_edit(page: Page, site: Site) -> None:
    unfolded(page, site.stage(site.sound(), "cam"))
    expect(page.locator("#events")).to_contain_text("4.0° BTDC")
    put(page, "intake.cam.centreline", "112")
    expect(page.locator("#events")).to_contain_text("1.0° BTDC")
    expect(page.locator("#motion")).to_contain_text("m/s²")


def test_a_file_is_dropped_on_the_table(page: Page, site: Site) -> None:
    unfolded(page, site.stage(site.sound(), "cam"))
    page.click("summary:has-text('Read a measured lift table')")
    carried = page.evaluate_handle(
        "text => { const d = new DataTransfer(); d.items.add(new File([text], 'rig.txt', {type: 'text/plain'})); return d; }",
        TABLE,
    )
    page.dispatch_event("#table", "drop", {"dataTransfer": carried})
    expect(page.locator(".understood")).to_contain_text("lift 10.400 mm")


def test_a_name_in_a_tooltip_is_text(page: Page, site: Site) -> None:
    name = "<b class=hostile>Wide</b>"
    opened(page, site.stage(site.sound(), "cams"))
    page.fill("#cam-name", name)
    page.click(".keep button")
    page.check(f'input[aria-label="compare {name}"]')
    page.click("button:has-text('Compare')")
    chart = page.locator(".chart").first
    expect(chart.locator("svg")).to_contain_text(name)
    chart.hover()
    tip = chart.locator("> div").last
    expect(tip).to_contain_text(name)
    assert page.locator(".hostile").count() == 0


def test_cams_are_kept_compared_and_put_on_the_head(page: Page, site: Site) -> None:
    build = site.sound()
    opened(page, site.stage(build, "cams"))
    page.fill("#cam-name", "Long stroker")
    page.click(".keep button")
    page.check("input[aria-label='compare Long stroker']")
    page.click("button:has-text('Compare')")
    expect(page.locator(".comparison")).to_contain_text("Area under the curve")
    expect(page.locator(".chart svg")).to_contain_text("Long stroker")
    other = site.failing()
    opened(page, site.stage(other, "cams"))
    page.locator("tr:has-text('Long stroker') button:has-text('Use on intake')").click()
    page.wait_for_url("**/intake/cam")
    wait_level(page, "timing.overlap", "clear")
    held = site.workshop.open(other).build.intake.cam.lobe_lift
    assert held is not None
    assert held.typed == "10.00 mm"
