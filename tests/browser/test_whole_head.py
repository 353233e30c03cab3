"""A whole head by keyboard: measured from simulated instruments, springs matched, proven; then a retainer exchanged."""

import re

import pytest
from playwright.sync_api import Page, expect

from arcstack.application.bench import Bench
from arcstack.assess import assess
from arcstack.assess.built import Built, built
from arcstack.document import Build, change
from arcstack.readings import Sheet
from arcstack.readings.learning import seen, sound_head
from arcstack.readings.left import left
from tests.browser.conftest import Site
from tests.browser.gauges import instruments
from tests.browser.test_daily import stocked
from tests.web.conftest import WHO

SAFE = ("spring.reserve.outer", "spring.reserve.inner", "stack.retainer_seal", "stack.installed_height", "lift.net",
        "spring.seat_load", "spring.open_load", "guide.clearance", "seat.vacuum", "seat.vacuum_decay")  # fmt: skip
"""What a head must not be run without: each proven at every place by the bench alone."""


class Hand:
    """Reads a build's head with nothing but the keyboard."""

    def __init__(self, page: Page, site: Site, build: int) -> None:
        self.page, self.site, self.build = page, site, build
        self.bench = Bench(site.workshop.database)
        self.keys = 0

    def press(self, key: str) -> None:
        self.page.keyboard.press(key)
        self.keys += 1

    def type(self, text: str) -> None:
        self.page.keyboard.type(text, delay=45)
        self.keys += len(text)

    def document(self) -> Build:
        return self.site.workshop.open(self.build).build

    def sheet(self) -> Sheet:
        return self.bench.sheet(self.build, self.document())

    def built(self) -> Built:
        return built(assess(self.document()), self.sheet())

    def open(self, tail: str) -> None:
        self.page.goto(f"{self.site.address}/builds/{self.build}/intake/bench{tail}")
        self.page.wait_for_selector("html[data-ready]")

    def sit(self, kind: str) -> None:
        """Name the instrument and the hand, and have its zero asked."""
        expect(self.page.locator("#sit-name")).to_be_focused()
        self.page.keyboard.press("Control+a")
        self.type(f"{kind} 1")
        self.page.locator("#sit-hand").focus()  # the list of instruments eats a Tab in some builds of the browser
        self.page.keyboard.press("Control+a")
        self.type("Wen")
        self.press("Enter")

    def read_all(self) -> None:
        """Space until every place of every step that is read at a place is read."""
        self.open("")
        while True:
            state = self.page.locator("#sit-name, #reading[data-zero], #reading-form, .reading-done").first
            expect(state).to_be_visible()
            if self.page.locator("#sit-name").count():
                kind = self.page.locator("input[name='kind']").input_value()
                self.sit(kind)
                expect(self.page.locator("#reading[data-zero]")).to_be_focused()
            elif self.page.locator("#reading[data-zero]").count():
                self.press("Space")
                expect(self.page.locator("#reading-form")).to_be_visible()
            else:
                self.read()
                if not [x for x in left(self.sheet()) if not x.spot.asked.item]:
                    return

    def read(self) -> None:
        """One reading: asked of the gauge, taken, and the page gone on."""
        seen_before = len(self.sheet().readings)
        self.press("Space")
        expect(self.page.locator(f"#bench[data-stands]:not([data-taken='{seen_before}'])")).to_be_visible()
        assert len(self.sheet().readings) == seen_before + 1

    def test_springs(self, side: str, sort: str, serials: list[str]) -> None:
        """Each spring: both loads, solid by its slope, its mass."""
        self.page.goto(f"{self.site.address}/builds/{self.build}/{side}/bench/springs?sort={sort}")
        self.page.wait_for_selector("html[data-ready]")
        if self.page.locator("#sit-name").count():
            self.sit("tester")
            expect(self.page.locator("#zero-read")).to_be_focused()
            self.page.wait_for_selector("html[data-ready]")
            self.press("Space")
        for serial in serials:
            expect(self.page.locator("#t-item")).to_be_focused()
            self.page.wait_for_selector("html[data-ready]")
            self.type(serial)
            for _ in range(3):
                self.press("Tab")
            for field in ("#t-load_1", "#t-load_2"):
                expect(self.page.locator(field)).to_be_focused()
                self.press("Space")
                expect(self.page.locator(field)).not_to_have_value("")
            expect(self.page.locator("#t-solid")).to_be_focused()
            self.press("Space")
            for n in range(30):
                expect(self.page.locator("#t-press_load")).to_be_focused()
                self.press("Space")
                expect(self.page.locator(f"form[data-tester][data-presses='{n + 1}']")).to_be_visible()
                self.page.wait_for_selector("html[data-ready]")
                if "Let it up" in self.page.locator(".reading-said").inner_text():
                    break
            self.press("Shift+Tab")
            expect(self.page.locator("#t-mass")).to_be_focused()
            self.press("Space")
            expect(self.page.locator("#t-mass")).not_to_have_value("")
            self.press("Enter")
            said = self.page.locator(".reading-said")
            expect(said).to_contain_text(re.compile("taken|Again"))
            if "Again?" in said.inner_text():
                # far from few neighbours: it is meant
                self.page.wait_for_selector("html[data-ready]")
                self.press("Enter")
            expect(said).to_have_text(f"{serial} taken.")


def measured(page: Page, site: Site, cylinders: int) -> Hand:
    """A head of so many cylinders measured whole, its springs matched, and what was laid read once more."""
    stocked(site)
    build = site.workshop.create(
        change(site.workshop.open(site.sound()).build, "engine.cylinders", str(cylinders)), WHO
    )
    hand = Hand(page, site, build)
    hidden = sound_head(hand.document(), 3)
    with instruments(site, lambda where, figure: seen(hidden, hand.sheet(), where, figure)):
        hand.read_all()
        for side in ("intake", "exhaust"):
            for sort in ("outer", "inner"):
                own = [
                    i for i, (s, at) in hidden.springs.items() if s == sort and (at[1] == "E") == (side == "exhaust")
                ]
                hand.test_springs(side, sort, own)
                page.goto(f"{site.address}/builds/{build}/{side}/bench/matching?sort={sort}")
                page.wait_for_selector("html[data-ready]")
                put = page.get_by_role("button", name="Put them so")
                put.focus()
                hand.press("Enter")
                expect(page.locator("s")).to_have_count(0)
        # shims as they were solved are laid, and read before they count; heights stand on what lies there
        if left(hand.sheet()):
            hand.read_all()
        _exchange(hand)
    return hand


def _exchange(hand: Hand) -> None:
    """Another retainer on the intake side: what rests on it is open, and read again."""
    assert left(hand.sheet()) == ()
    before = len(hand.sheet().readings)
    hand.page.goto(f"{hand.site.address}/builds/{hand.build}/intake/parts?place=retainer")
    hand.page.wait_for_selector("html[data-ready]")
    was = hand.document().intake.stack.retainer.code
    hand.page.locator(".choose input[type=radio]:not(:checked)").first.focus()
    hand.press("Space")
    fit = hand.page.get_by_role("button", name="Fit ")
    fit.focus()
    hand.press("Enter")
    expect(hand.page.locator("#base")).not_to_have_value("1")
    assert hand.document().intake.stack.retainer.code != was
    open_again = left(hand.sheet())
    assert {x.spot.asked.key for x in open_again} == {
        "open_height", "installed_height", "retainer_mass", "retainer_step", "retainer_depth",
    }  # fmt: skip
    assert not any(a.proven for a in hand.built().sides["intake"] if a.check == "spring.reserve.outer")
    hand.read_all()
    assert len(hand.sheet().readings) - before == len(open_again) + sum(
        x.spot.asked.key == "open_height" for x in open_again
    )


def proven(hand: Hand) -> None:
    head = hand.built()
    assert left(hand.sheet()) == ()
    for side in ("intake", "exhaust"):
        for check in SAFE:
            across = head.across(check, side)
            assert across.proven, (side, check, [(p.label, v.evidence, v.note) for p, v in across.at][:2])
            assert across.measured == len(across.at), (side, check)


def test_a_head_is_measured_by_keyboard_from_the_first_guide_to_matched_springs_and_proven(
    page: Page, site: Site
) -> None:
    hand = measured(page, site, cylinders=1)
    proven(hand)
    hand.open("/to-do")
    expect(page.locator("#left-title")).to_have_text("Everything is read")


def test_a_lesson_is_read_and_finished_by_keyboard(page: Page, site: Site) -> None:
    page.goto(f"{site.address}/learning")
    page.wait_for_selector("html[data-ready]")
    page.locator("#seed-zero").focus()
    page.keyboard.press("Control+a")
    page.keyboard.type("3")
    page.keyboard.press("Enter")
    page.wait_for_url("**/bench/lesson")
    build = int(page.url.split("/builds/")[1].split("/")[0])
    hand = Hand(page, site, build)
    hand.open("?key=runout")
    expect(page.locator("#reading[data-zero]")).to_be_focused()
    hand.press("Space")
    expect(page.locator("#reading-form, .reading-card .wrong").first).to_be_visible()
    if page.locator(".reading-card .wrong").count():
        # its zero is off by more than it may: corrected by name
        page.get_by_role("button", name="Correct every reading by it").focus()
        hand.press("Enter")
        expect(page.locator("#reading-form")).to_be_visible()
    worst, where = 0.0, ""
    for place in [p.label for p in hand.sheet().places]:
        hand.open(f"?key=runout&place={place}")
        hand.read()
        value = hand.sheet().readings[-1].value
        worst, where = max((worst, where), (value, place))
    assert worst == pytest.approx(0.11, abs=0.03)
    # what is wrong is named: what it is, and where
    hand.open("/lesson")
    page.locator("#fault").focus()
    hand.type("a bent")
    hand.press("Tab")
    hand.type(where)
    hand.press("Enter")
    expect(page.locator("ul.plain-list")).to_contain_text(f"a bent valve, {where}")
    hand.open("/lesson")
    page.get_by_role("button", name="End it and show the truth").focus()
    hand.press("Enter")
    expect(page.locator("h2").first).to_have_text("1 of 1 faults found")
    expect(page.locator("table.parts")).to_contain_text(where)
