"""A head that came back, from its reception to its next revision, as a builder does it who never saw the page."""

from pathlib import Path

from playwright.sync_api import Page, expect

from arcstack.application.bench import Bench
from arcstack.readings import Sheet
from arcstack.readings.returning import Look, findings
from tests.application.pictured import picture
from tests.browser.acts import opened
from tests.browser.conftest import Site


def sheet(site: Site, build: int) -> Sheet:
    return Bench(site.workshop.database).sheet(build, site.workshop.open(build).build)


def found(page: Page, part: str, sign: str, *places: str, much: str = "seen", absent: bool = False) -> None:
    """One finding by keyboard: its part, its sign, where, how much."""
    page.get_by_role("navigation", name="Part").get_by_role("link", name=part).press("Enter")
    page.wait_for_selector("html[data-ready]")
    page.locator(f"input[name=sign][value={sign}]").press("Space")
    for place in places:
        page.locator(f".place-boxes input[value='{place}']").press("Space")
    if not places:
        page.locator("input[name=whole]").press("Space")
    if absent:
        page.locator("input[name=absent]").press("Space")
    else:
        page.locator(f"input[name=severity][value='{much}']").press("Space")
    before = page.locator(".found-list form").count()
    page.get_by_role("button", name="Take the finding").press("Enter")
    expect(page.locator(".found-list form")).to_have_count(before + 1)


def photographed(page: Page, address: str, folder: Path, place: str) -> None:
    file = folder / "IMG_0041.jpg"
    file.write_bytes(picture(size=(1600, 1200)))
    opened(page, f"{address}/pictures")
    page.set_input_files("#p-file", file)
    page.select_option("#p-place", place)
    page.get_by_role("button", name="Keep them").press("Enter")
    expect(page.locator(".gallery img")).to_have_count(1)
    assert page.locator(".gallery img").evaluate("i => i.decode().then(() => i.naturalWidth)") == 480


def passed(page: Page, words: str) -> None:
    page.get_by_role("button", name=words).press("Enter")
    expect(page.locator(".teardown .passed").filter(has_text=words.partition(":")[0])).to_be_visible()


def test_a_head_is_received_read_diagnosed_and_sent_on(page: Page, site: Site, tmp_path: Path) -> None:
    build = site.returned(torn_down=False)
    address = f"{site.address}/builds/{build}/intake"
    opened(page, f"{address}/back")
    page.locator("#whose-hand").fill("Ida")
    page.locator("#whose-hand").press("Enter")
    expect(page.locator("#whose-hand")).to_have_count(0)
    page.locator("#r-complaint").fill("Ticks when cold, flat above 8,000")
    page.locator("#r-distance").fill("14,200")
    page.locator("#r-distance").press("Enter")
    expect(page.locator("h2#find")).to_have_text("A finding, head whole")
    page.get_by_role("button", name="Photographed before any cleaning").press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("no photograph of it yet")
    photographed(page, address, tmp_path, "1I-a")
    opened(page, f"{address}/back")
    passed(page, "Photographed before any cleaning: done")
    found(page, "Valve", "tip_dents", "1I-a", "2I-b", "3I-a", much="catches a nail")
    found(page, "Lobe", "closing_flank", "1I-a", "2I-b")
    found(page, "Follower", "rings_even")
    found(page, "Lobe", "base_rub", absent=True)
    found(page, "Chamber", "shades")
    passed(page, "Looked at whole: lash, tips, lobes, crowns: done")
    passed(page, "Stripped in order, each part to its numbered tray: done")
    found(page, "Seat", "seat_hammered", "1I-a", "2I-b", much="catches a nail")
    passed(page, "All photographed, then cleaned: done")
    assert [f.look for f in findings(sheet(site, build).events)] == [Look.WHOLE] * 5 + [Look.STRIPPED]
    page.get_by_role("link", name="Diagnosis").first.press("Enter")
    chain = page.locator(".chain li")
    expect(chain.first).to_contain_text("Seats sink")
    expect(chain.first).to_contain_text("earliest shown")
    expect(page.locator(".cause.leads h3")).to_contain_text("Float or bounce")
    expect(page.locator(".cause.leads ul[aria-label=Against] li")).to_have_text(["−1 Bucket rings even"])
    expect(page.locator(".healthy")).to_contain_text("chamber halves of different shade")
    expect(page.locator(".record-list")).to_contain_text("Lash at 1I-a closed by 0.05 mm, 0.08 mm")
    page.select_option("#d-cause", "load_lost")
    page.locator("#d-reason").fill("lash closed 0.13 at 1I-a before anything was hammered")
    page.locator("#d-reason").press("Enter")
    expect(page.locator(".step-state")).to_contain_text("Named: Load lost, by Ida")
    page.get_by_role("link", name="Dispositions").first.press("Enter")
    page.get_by_role("link", name="replace the set").press("Enter")
    page.locator("#a-cost").fill("38.50")
    page.locator("#a-cost").press("Enter")
    expect(page.locator(".margins")).to_contain_text("Costs 308.00 for 8 of 8 parts")
    page.get_by_role("link", name="Seat", exact=True).press("Enter")
    page.get_by_role("link", name="recut", exact=True).press("Enter")
    page.locator(".place-boxes input[value='1I-a']").press("Space")
    page.locator("#a-depth").fill("0.10")
    page.locator("#a-depth").press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("asks for this first: height left to take")
    page.locator("#a-left").fill("0.35")
    page.locator("#a-left").press("Enter")
    expect(page.locator(".margins")).to_contain_text(
        "open height, room to the seal, tip, vacuum, seat width, lash at 1I-a"
    )
    page.get_by_role("button", name="Send it on: revision 2").press("Enter")
    page.wait_for_url("**/revisions**")
    expect(page.locator("main")).to_contain_text("Came back: load lost, lash closed 0.13 at 1I-a")
    after = sheet(site, build)
    assert after.item_at("1I-a", "outer") == ""
    assert [c.seat_mm for c in after.cut_at("1I-a")] == [0.1]
    assert site.workshop.open(build).build.note.startswith("Came back: load lost")


def test_a_ring_is_drawn_on_a_copy_by_a_press_and_by_keyboard(page: Page, site: Site, tmp_path: Path) -> None:
    build = site.returned()
    address = f"{site.address}/builds/{build}/intake"
    opened(page, f"{address}/pictures")
    page.locator("#whose-hand").fill("Ida")
    page.locator("#whose-hand").press("Enter")
    expect(page.locator("#whose-hand")).to_have_count(0)
    photographed(page, address, tmp_path, "2I-b")
    page.locator(".gallery a").press("Enter")
    page.wait_for_selector(".pictured img")
    page.locator(".pictured svg").click(position={"x": 200, "y": 100})
    page.keyboard.type("dents")
    page.keyboard.press("Enter")
    page.keyboard.type("70 20 4 step")
    page.get_by_role("button", name="Keep the rings").press("Enter")
    expect(page.locator(".pictured circle")).to_have_count(2)
    expect(page.locator(".pictured text")).to_have_text(["dents", "step"])
    assert page.locator("#p-rings").input_value().splitlines()[1] == "70 20 4 step"
