"""Control and Springs in the browser: map, turn and sweep linked, coils moving, packs entered and compared."""

import re

from playwright.sync_api import Page, expect

from tests.browser.acts import field, opened, put, unfolded, wait_level
from tests.browser.conftest import Site


def test_map_turn_and_sweep_move_together(page: Page, site: Site) -> None:
    unfolded(page, site.stage(site.sound(), "control"))
    expect(page.locator("#trace .chart svg")).to_be_visible()
    wait_level(page, "control.elastic_separation", "tight")
    expect(page.locator("#limit")).to_contain_text("8,696 rpm")
    box = page.locator("#map svg").bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] * 0.3)
    expect(page.locator("#map-read")).to_have_text(re.compile(r"[−\d]+°, [\d,]+ rpm: \d+ N"))
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] * 0.6)
    expect(page.locator("#trace-rpm")).not_to_have_value("8100")
    picked = page.input_value("#trace-rpm")
    expect(page.locator("#trace .chart")).to_have_attribute("aria-label", re.compile(f"{int(picked):,} rpm"))
    # the sweep takes a click too
    sweep = page.locator("#sweep .chart")
    sweep.scroll_into_view_if_needed()
    place = sweep.bounding_box()
    assert place is not None
    page.mouse.click(place["x"] + place["width"] * 0.75, place["y"] + 80)
    expect(page.locator("#trace-rpm")).not_to_have_value(picked)


def test_the_map_by_keyboard(page: Page, site: Site) -> None:
    unfolded(page, site.stage(site.failing(), "control"))
    page.locator("#map").focus()
    page.keyboard.press("ArrowLeft")
    first = page.locator("#map-read").text_content()
    page.keyboard.press("Shift+ArrowUp")
    expect(page.locator("#map-read")).not_to_have_text(first or "")
    page.keyboard.press("Enter")
    expect(page.locator("#trace-rpm")).not_to_have_value("7900")
    expect(page.locator("#trace .chart svg")).to_be_visible()


def test_coils_move_and_can_be_held(page: Page, site: Site) -> None:
    unfolded(page, site.stage(site.failing(), "control"))
    expect(page.locator("#coils .coil-bar").first).to_be_attached()
    assert page.locator(".coil-bar.touching").count() == 0
    slider = page.locator("[data-coil-at]")
    slider.focus()
    for _ in range(70):
        page.keyboard.press("ArrowRight")
    # this build's inner spring goes solid at full lift
    assert page.locator(".coil-bar.touching").count() > 3
    page.locator("[data-coil-play]").click()
    before = page.locator("[data-coil='time']").text_content()
    expect(page.locator("[data-coil='time']")).not_to_have_text(before or "")
    page.locator("[data-coil-play]").click()
    held = page.locator("[data-coil='time']").text_content()
    page.wait_for_timeout(150)
    expect(page.locator("[data-coil='time']")).to_have_text(held or "")


def test_a_speed_out_of_reason_is_told_and_the_rest_kept(page: Page, site: Site) -> None:
    unfolded(page, site.stage(site.sound(), "control"))
    expect(page.locator("#sweep .chart svg")).to_be_visible()
    page.fill("#sweep-to", "50000")
    page.press("#sweep-to", "Enter")
    expect(page.locator("#sweep")).to_contain_text("past what any cam turns")
    expect(page.locator("#map svg")).to_be_visible()
    page.fill("#sweep-to", "9000")
    page.press("#sweep-to", "Enter")
    expect(page.locator("#sweep .chart svg")).to_be_visible()


def test_an_edit_answers_everywhere_without_a_new_page(page: Page, site: Site) -> None:
    build = site.sound()
    unfolded(page, site.stage(build, "control"))
    expect(page.locator("#limit")).to_contain_text("8,696 rpm")
    page.evaluate("window.kept = true")
    put(page, "brief.limiter", "8120 rpm")
    expect(page.locator("#map svg")).to_contain_text("limiter 8,120")
    wait_level(page, "control.force_reserve", "clear")
    put(page, "brief.limiter", "8690 rpm")
    wait_level(page, "control.force_reserve", "tight")
    wait_level(page, "control.elastic_separation", "tight")
    # the turn and what would raise it follow too
    told = page.locator("#trace .trace-rows").text_content()
    put(page, "intake.follower.bucket.stiffness", "9000 N/mm")
    expect(page.locator("#trace .trace-rows")).not_to_have_text(told or "")
    expect(page.locator("#raise tbody tr")).to_have_count(6)
    assert page.evaluate("window.kept") is True


def test_what_would_raise_it_comes_by_itself(page: Page, site: Site) -> None:
    unfolded(page, site.stage(site.sound(), "control"))
    expect(page.locator("#raise")).to_contain_text("10 g off the valve")
    expect(page.locator("#raise tbody tr")).to_have_count(6)


def test_a_pack_is_added_its_table_pasted_and_fitted(page: Page, site: Site) -> None:
    build = site.failing()
    unfolded(page, site.stage(build, "springs"))
    page.get_by_role("button", name="Add a pack").click()
    page.wait_for_url("**pack=1**")
    page.wait_for_selector("html[data-ready]")
    put(page, "intake.candidates.1.name", "Softer pair")
    table = field(page, "intake.candidates.1.inner.table")
    page.locator(table).focus()
    page.evaluate(
        """([at, text]) => {
          const data = new DataTransfer();
          data.setData("text", text);
          document.querySelector(at).dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));
        }""",
        [table, "34\t100\n29\t165\n24\t236\n"],
    )
    expect(page.locator(table)).to_have_value("34 100; 29 165; 24 236")
    page.press(table, "Enter")
    expect(page.locator("#compare")).to_contain_text("Softer pair")
    expect(page.locator("#compare tbody tr").filter(has_text="Seat load")).to_contain_text("−")
    put(page, "intake.candidates.1.inner.solid", "19.6 mm")
    page.get_by_role("button", name="Fit Softer pair").click()
    page.wait_for_url("**/springs")
    wait_level(page, "spring.reserve.inner", "clear")
    assert site.workshop.open(build).build.intake.stack.inner.table == "34 100; 29 165; 24 236"


def test_packs_are_ordered_by_a_row_and_moved_to_their_own_heights(page: Page, site: Site) -> None:
    unfolded(page, site.stage(site.sound(), "springs"))
    heads = page.locator("#compare .pack-name")
    expect(heads.first).to_have_text("TS-30 outer")
    page.get_by_role("button", name="Moving mass").click()
    expect(heads.first).to_have_text("CR-27 beehive")
    page.get_by_label("each at its own advised height").check()
    expect(page.locator("#compare")).to_contain_text("35.50 mm")
    expect(heads.first).to_have_text("CR-27 beehive")


def test_a_falling_table_is_told_at_its_field_and_kept(page: Page, site: Site) -> None:
    unfolded(page, site.stage(site.sound(), "springs"))
    at = "intake.stack.outer.table"
    page.fill(field(page, at), "36 236; 31 200; 26 540")
    page.press(field(page, at), "Enter")
    expect(page.locator(f"[id='m-{at}']")).to_contain_text("must rise as the spring is shortened")
    expect(page.locator(field(page, at))).to_have_value("36 236; 31 200; 26 540")
    expect(page.locator("#chart .chart svg")).to_be_visible()


def test_back_pressure_slid_turns_the_exhaust(page: Page, site: Site) -> None:
    opened(page, site.stage(site.sound(), "boost", "exhaust"))
    expect(page.locator("#supposed tbody tr")).to_have_count(4)
    ratio = page.get_by_label("Back pressure ÷ boost").first
    ratio.focus()
    for _ in range(6):
        page.keyboard.press("PageUp")
    row = page.locator("#supposed tbody tr").filter(has_text="Difference rule exhaust")
    expect(row.locator(".mark.fail")).to_be_visible()


def test_control_prints_its_pictures(page: Page, site: Site) -> None:
    unfolded(page, site.stage(site.sound(), "control"))
    expect(page.locator("#sweep .chart svg")).to_be_visible()
    page.emulate_media(media="print")
    expect(page.locator("#map svg")).to_be_visible()
    expect(page.locator("#sweep .chart svg")).to_be_visible()
    expect(page.locator("[data-coil-play]")).to_be_hidden()


def test_a_printed_chart_is_drawn_to_the_width_of_the_paper(page: Page, site: Site) -> None:
    unfolded(page, site.stage(site.sound(), "springs"))
    svg = page.locator("#height .chart svg")
    on_screen = svg.bounding_box()
    assert on_screen
    assert on_screen["width"] > 700
    page.evaluate("() => { window.dispatchEvent(new Event('beforeprint')) }")
    # drawn anew at once: nothing in it reaches past the paper
    reach = page.evaluate(
        """() => { const svg = document.querySelector('#height .chart svg');
        const left = svg.getBoundingClientRect().left;
        return Math.max(...[...svg.querySelectorAll('path, text')].map(e => e.getBoundingClientRect().right - left)) }"""
    )
    assert 500 < reach <= 682
    page.evaluate("() => { window.dispatchEvent(new Event('afterprint')) }")
    again = svg.bounding_box()
    assert again
    assert again["width"] == on_screen["width"]
