import re

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from arcstack.document import get
from tests.browser.acts import field, level, opened, put, wait_level
from tests.browser.conftest import Site

STEP = "intake.stack.retainer.step"


def test_the_cam_turns_and_the_gaps_follow(page: Page, site: Site) -> None:
    opened(page, site.stage(site.failing(), "stack"))
    live = page.locator(".callout [data-live='inner']")
    expect(live).to_have_text("−0.09 mm")
    assert page.locator(".part[data-part='inner'].is-solid").count() >= 1
    page.focus("#scrub")
    page.keyboard.press("Home")
    expect(page.locator(".callout [data-live='height']")).to_have_text("36.00 mm")
    expect(live).to_have_text("10.20 mm")
    assert page.locator(".is-solid").count() == 0
    valve = page.locator("svg.section .part[data-part='valve']")
    assert valve.get_attribute("transform") == "translate(0 0)"
    page.keyboard.press("n")
    moved = re.search(r"translate\(0 ([\d.]+)\)", valve.get_attribute("transform") or "")
    assert moved
    assert float(moved[1]) == pytest.approx(10.29, abs=0.01)
    page.keyboard.press("ArrowRight")
    assert page.locator("#scrub").get_attribute("aria-valuenow") == "1"
    page.keyboard.press("PageDown")
    assert page.locator("#scrub").get_attribute("aria-valuenow") == "-9"
    turned = page.locator("[data-turn]").get_attribute("transform") or ""
    assert turned.startswith("rotate(-9 ")


def test_the_lift_curve_is_dragged(page: Page, site: Site) -> None:
    opened(page, site.stage(site.sound(), "stack"))
    box = page.locator("#scrub svg").bounding_box()
    assert box
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 40)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] * 0.35, box["y"] + 40, steps=5)
    page.mouse.up()
    angle = int(page.locator("#scrub").get_attribute("aria-valuenow") or "0")
    assert -40 < angle < -15
    assert page.locator("[data-live='lift']").inner_text() != "9.80 mm"
    page.reload()
    expect(page.locator("#scrub")).to_have_attribute("aria-valuenow", str(angle))


def test_a_wrong_value_stays_where_it_was_typed_through_a_reload(page: Page, site: Site) -> None:
    build = site.sound()
    opened(page, site.stage(build, "stack"))
    page.fill(field(page, STEP), "95 lbf")
    page.press(field(page, STEP), "Enter")
    expect(page.locator(f"[id='m-{STEP}'] .wrong")).to_contain_text("unit of force; this field is a length")
    page.reload()
    page.wait_for_selector("html[data-ready]")
    assert page.input_value(field(page, STEP)) == "95 lbf"
    expect(page.locator(f"[id='m-{STEP}']")).to_contain_text("not saved; 1.5 is what stands")
    page.press(field(page, STEP), "Escape")
    assert page.input_value(field(page, STEP)) == "1.5"
    assert site.workshop.open(build).revision == 1


def test_a_dead_server_is_said_at_the_field_and_nothing_is_lost(page: Page, site: Site) -> None:
    build = site.sound()
    opened(page, site.stage(build, "stack"))
    page.route("**/edit", lambda route: route.abort())
    page.fill(field(page, STEP), "1.4")
    page.press(field(page, STEP), "Enter")
    expect(page.locator(f"[id='m-{STEP}']")).to_contain_text("it is not known whether it was saved")
    page.unroute("**/edit")
    page.reload()
    page.wait_for_selector("html[data-ready]")
    assert page.input_value(field(page, STEP)) == "1.4"
    page.press(field(page, STEP), "Enter")
    expect(page.locator("#base")).to_have_value("2")
    assert get(site.workshop.open(build).build, STEP).typed == "1.4 mm"


def test_two_windows_in_two_fields_are_both_taken_and_each_shows_the_others(window: BrowserContext, site: Site) -> None:
    build = site.sound()
    first, second = window.new_page(), window.new_page()
    for page in (first, second):
        opened(page, site.stage(build, "stack"))
    put(first, "intake.stack.shims.3", "0.3")
    second.fill(field(second, STEP), "1.2")
    second.press(field(second, STEP), "Enter")
    expect(second.locator("#base")).to_have_value("3")
    expect(second.locator("#notice")).to_contain_text("changed Intake shim 3 meanwhile")
    # what the other window changed stands in this one's field
    expect(second.locator(field(second, "intake.stack.shims.3"))).to_have_value("0.3")
    held = site.workshop.open(build).build
    assert get(held, STEP).typed == "1.2 mm"
    assert get(held, "intake.stack.shims.3").typed == "0.3 mm"


def test_two_windows_in_one_field_the_later_is_told_and_chooses(window: BrowserContext, site: Site) -> None:
    build = site.sound()
    first, second = window.new_page(), window.new_page()
    for page in (first, second):
        opened(page, site.stage(build, "stack"))
    put(first, STEP, "1.1")
    second.fill(field(second, STEP), "1.2")
    second.press(field(second, STEP), "Enter")
    told = second.locator(".stale")
    expect(told).to_contain_text("saved revision 2")
    expect(told).to_contain_text("1.1 mm")
    second.click("text=Put mine on top of theirs")
    expect(second.locator("#base")).to_have_value("3")
    assert get(site.workshop.open(build).build, STEP).typed == "1.2 mm"

    first.fill(field(first, STEP), "1.9")
    first.press(field(first, STEP), "Enter")
    first.click("text=Take theirs, drop mine")
    first.wait_for_load_state()
    expect(first.locator(field(first, STEP))).to_have_value("1.2")
    assert site.workshop.open(build).revision == 3


def test_units_evidence_and_the_other_unit_beneath(page: Page, site: Site) -> None:
    build = site.sound()
    opened(page, site.stage(build, "stack"))
    put(page, "intake.stack.open_height", "1.447 in")
    expect(page.locator("[id='m-intake.stack.open_height'] .other")).to_have_text("1.447 in")
    assert page.input_value(field(page, "intake.stack.open_height")) == "36.754"
    page.select_option("[id='e-intake.stack.open_height']", "printed")
    expect(page.locator("#base")).to_have_value("3")
    entry = get(site.workshop.open(build).build, "intake.stack.open_height")
    assert (entry.typed, entry.evidence.value) == ("1.447 in", "printed")
    mark = page.locator("[id='g-stack.retainer_seal'] .gauge-head .mark")
    expect(mark).to_have_attribute("aria-label", re.compile("on paper"))
    page.keyboard.press("Alt+u")
    page.wait_for_selector("button[value='in'][aria-pressed='true']")
    assert page.input_value(field(page, "intake.stack.open_height")) == "1.447"


def test_working_opens_from_a_margin_and_a_figure_and_leads_to_the_field(page: Page, site: Site) -> None:
    opened(page, site.stage(site.failing(), "stack"))
    page.click("[id='g-spring.reserve.inner'] button")
    drawer = page.locator("#drawer")
    expect(drawer).to_contain_text("32.20 − 10.49 − 22.00")
    drawer.locator("a:has-text('Lobe lift')").click()
    page.wait_for_url("**/intake/cam#f-intake.cam.lobe_lift")
    page.wait_for_selector("html[data-ready]")
    expect(page.locator(field(page, "intake.cam.lobe_lift"))).to_be_focused()
    page.click("button:has-text('10.29')")
    expect(drawer).to_contain_text("once, at the valve")
    page.keyboard.press("Escape")
    expect(drawer).not_to_be_visible()


def test_step_back_by_key(page: Page, site: Site) -> None:
    build = site.failing()
    opened(page, site.stage(build, "stack"))
    put(page, STEP, "0.6")
    wait_level(page, "spring.reserve.inner", "tight")
    page.keyboard.press("Alt+z")
    wait_level(page, "spring.reserve.inner", "fail")
    expect(page.locator(field(page, STEP))).to_have_value("2.9")
    assert site.workshop.open(build).revision == 3


def test_practice_and_its_limit_on_screen(page: Page, site: Site) -> None:
    opened(page, site.stage(site.sound(), "practice"))
    page.click("button:has-text('Long-life')")
    wait_level(page, "spring.reserve.inner", "tight")
    row = page.locator("tr[id='limit-spring.reserve.inner']")
    row.locator("summary").click()
    row.locator("input[name='low']").fill("1.2 mm")
    row.locator("input[name='reason']").fill("measured three times")
    row.locator("button:has-text('Set')").click()
    wait_level(page, "spring.reserve.inner", "waived")
    expect(page.locator("tr[id='limit-spring.reserve.inner']")).to_contain_text("measured three times")


def test_a_part_in_the_drawing_leads_to_its_field(page: Page, site: Site) -> None:
    opened(page, site.stage(site.sound(), "stack"))
    page.focus(field(page, STEP))
    assert page.locator("svg.section .part[data-part='retainer'].lit").count() == 1
    page.locator("svg.section .part[data-part='seal'] .rubber").click(position={"x": 4, "y": 20})
    expect(page.locator(field(page, "intake.stack.seal_height"))).to_be_focused()


def test_charts_are_drawn_from_the_same_figures(page: Page, site: Site) -> None:
    build = site.failing()
    opened(page, site.stage(build, "clearance"))
    expect(page.locator(".chart svg")).to_contain_text("least −0.47 mm at 7.1°")
    put(page, "intake.clearance.drop_at_tdc", "8.9")
    expect(page.locator(".chart svg")).to_contain_text("least 2.43 mm")
    wait_level(page, "piston.clearance_swept", "clear")
    assert level(page, "piston.clearance") == "clear"


@pytest.mark.parametrize("width", [1280, 820])
@pytest.mark.parametrize("stage", ["brief", "cam", "stack", "control", "clearance", "practice", "revisions", "cams"])
def test_nothing_scrolls_sideways(page: Page, site: Site, stage: str, width: int) -> None:
    page.set_viewport_size({"width": width, "height": 800 if width == 1280 else 1180})
    opened(page, site.stage(site.sound(), stage))
    over = page.evaluate("document.documentElement.scrollWidth - window.innerWidth")
    inner = page.evaluate("(w => w.scrollWidth - w.clientWidth)(document.querySelector('.work'))")
    assert over <= 0
    assert inner <= 0


def test_margins_of_one_stage_keep_what_fails_elsewhere_in_sight(page: Page, site: Site) -> None:
    build = site.failing()
    opened(page, site.stage(build, "clearance"))
    own, failing, other = (
        page.locator(f"[id='g-{check}']") for check in ("piston.clearance", "spring.reserve.inner", "timing.overlap")
    )
    expect(other).to_be_visible()
    page.keyboard.press("Alt+m")
    expect(other).to_be_hidden()
    expect(own).to_be_visible()
    expect(failing).to_be_visible()
    # the choice outlives an edit's swap, another stage and a reload
    put(page, "intake.clearance.drop_at_tdc", "6.1")
    expect(page.locator("[data-show='here']")).to_have_attribute("aria-pressed", "true")
    expect(other).to_be_hidden()
    opened(page, site.stage(build, "cam"))
    expect(other).to_be_visible()
    expect(own).to_be_hidden()
    opened(page, site.stage(build, "brief"))
    expect(own).to_be_visible()
    opened(page, site.stage(build, "cam"))
    page.locator("[data-show='all']").click()
    expect(own).to_be_visible()
