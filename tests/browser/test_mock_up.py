"""A mock-up by keyboard: a cam 2.5° out found by linked wheel and dial, moved, read again; a phaser limited; a shim held."""

import math

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from arcstack.application.bench import Bench
from arcstack.assess import assess, piston
from arcstack.document import Sitting
from arcstack.readings import Phase
from arcstack.readings.mock_up import MockUp
from arcstack.readings.taking import How
from arcstack.trials.timed import card_flanks
from arcstack.trials.turned import Turned, shown
from tests.browser.conftest import Site
from tests.browser.gauges import instruments
from tests.trials.test_turned import engine
from tests.web.conftest import WHO

POINTER, EARLY = 1.5, 2.5


class Engine:
    """An engine that a wheel and a dial are on; its cam is moved with ``moved``."""

    def __init__(self, site: Site, build: int) -> None:
        self.ctx = assess(site.workshop.open(build).build).sides["intake"]
        self.hidden = engine(pointer=POINTER, early=EARLY)
        self.moved = 0.0
        self.crank = 0.0

    def __call__(self, place: str, figure: str) -> float | None:
        late, stop = math.radians(POINTER), self.hidden.stop_rad
        own = card_flanks(self.ctx, 1.0, 0.20, 0.0)
        early = math.radians(EARLY) + 2.0 * self.moved
        wheel = {
            "before": stop - late, "after": stop + late, "by_tdc": own.by_tdc + early - late,
            "by_bdc": own.by_bdc - early + late, "crank": math.radians(self.crank) + late,
        }  # fmt: skip
        if figure in wheel:
            return wheel[figure]
        at = shown(self.ctx, self.hidden, Turned(math.radians(self.crank)), self.moved, 0.20)
        return {"lift": at.lift_mm, "travel": at.travel_mm}.get(figure)


class Hand:
    def __init__(self, page: Page, site: Site, build: int, side: str = "intake") -> None:
        self.page, self.site, self.build, self.side = page, site, build, side

    def open(self, tail: str = "mock-up") -> None:
        self.page.goto(f"{self.site.address}/builds/{self.build}/{self.side}/bench/{tail}")
        self.page.wait_for_selector("html[data-ready]")

    def mock(self) -> MockUp:
        bench = Bench(self.site.workshop.database)
        return bench.sheet(self.build, self.site.workshop.open(self.build).build).mock_up(self.side)

    def ask(self, field: str) -> None:
        """Space in an empty field: the gauge answers, and the hand is on the next field."""
        box = self.page.locator(field)
        box.focus()
        expect(box).to_have_value("")
        self.page.keyboard.press("Space")
        expect(box).not_to_have_value("")

    def type(self, field: str, text: str) -> None:
        self.page.locator(field).focus()
        self.page.keyboard.press("Control+a")
        self.page.keyboard.type(text)

    def tick(self, form: str, *names: str) -> None:
        for name in names:
            box = self.page.locator(f"#{form} input[name='{name}']")
            if not box.is_checked():
                box.focus()
                self.page.keyboard.press("Space")

    def send(self, form: str) -> None:
        """Enter in the form's last field; the page comes again."""
        self.page.locator(f"#{form} input.words").last.focus()
        with self.page.expect_navigation():
            self.page.keyboard.press("Enter")
        self.page.wait_for_selector("html[data-ready]")
        assert not self.page.locator("#work p.wrong[role=alert]").all_inner_texts()


@pytest.fixture
def hand(page: Page, site: Site) -> Hand:
    build = site.sound()
    found = Hand(page, site, build)
    found.open()
    found.type("#m-who", "Wen")
    with page.expect_navigation():
        page.keyboard.press("Enter")
    page.wait_for_selector("html[data-ready]")
    return found


def test_a_cam_two_and_a_half_degrees_out_is_found_moved_and_read_again(hand: Hand, site: Site) -> None:
    truth = Engine(site, hand.build)
    with instruments(site, truth, ("wheel", "dial"), "M", noise=0.0):
        hand.open()
        for kind in ("wheel", "dial"):
            hand.page.locator(f"#m-with-{kind}").focus()
            hand.page.keyboard.type(f"{kind} M")
        hand.page.get_by_role("button", name="Read with these").focus()
        with hand.page.expect_navigation():
            hand.page.keyboard.press("Enter")
        hand.page.wait_for_selector("html[data-ready]")
        hand.type("#stand #m-lash", "0.20")
        hand.type("#m-gasket_used", "1.15")
        hand.type("#m-gasket_crushed", "1.15")
        hand.tick("stand", "by_hand", "plugs_out", "light_springs")
        hand.send("stand")
        hand.ask("#m-before")
        expect(hand.page.locator("#m-after")).to_be_focused()
        hand.ask("#m-after")
        hand.send("stop")
        expect(hand.page.locator("#s-stop + ol")).to_contain_text("the pointer reads 1.5° late")
        hand.page.locator("#out button").focus()
        with hand.page.expect_navigation():
            hand.page.keyboard.press("Enter")
        hand.page.wait_for_selector("html[data-ready]")
        for _ in range(2):
            hand.ask("#m-by_tdc")
            hand.ask("#m-by_bdc")
            hand.send("pass")
        work = hand.page.locator("#work")
        expect(work).to_contain_text("2.5° ± 0.5° advanced: gear, tooth, key, stretched chain or cut head.")
        expect(work).to_contain_text("turn the camshaft 1.25° of cam against the way it runs")
        hand.type("#m-turned", "-1.25")
        hand.send("moved")
        truth.moved = math.radians(-1.25)
        hand.ask("#m-by_tdc")
        hand.ask("#m-by_bdc")
        hand.send("pass")
        expect(work).to_contain_text("as the card")
        # pushed at seven angles with lift: the model is put right, and it clears through the whole range
        for angle in (-15.0, -10.0, -5.0, 0.0, 5.0, 10.0, 15.0):
            truth.crank = angle
            for field in ("#m-crank", "#m-lift", "#m-travel"):
                hand.ask(field)
            hand.send("push")
        expect(work).to_contain_text("Geometry good")
        model = piston.pair(truth.ctx)
        least = model.least_gap(0.0, math.radians(25.0)).gap_mm
        expect(work).to_contain_text(f"through its whole range {least:.2f} mm"[:30])
        hand.type("#m-springs_in", "32")
        hand.type("#m-springs_out", "32")
        hand.type("#m-bolts_source", "the engine maker’s sheet")
        hand.tick("close", "phaser_free", "bolts_marked")
        hand.send("close")
        assert hand.mock().closed is not None
        assert len(hand.mock().pushes) == 7
        assert np.isclose(math.degrees(hand.mock().error_rad or 0.0), 1.5, atol=0.3)


def test_the_failing_heads_phaser_is_limited_to_what_clears_and_the_sheet_says_so(page: Page, site: Site) -> None:
    build = site.failing()
    page.goto(site.stage(build, "clearance"))
    page.wait_for_selector("html[data-ready]")
    gap = page.locator("#chamber")
    expect(gap).to_contain_text("−0.47 mm")
    # scrubbed by key, and back to the least gap by one
    crank = page.locator("[data-poise] input[name='crank']")
    crank.focus()
    for _ in range(12):
        page.keyboard.press("ArrowRight")
    expect(gap).not_to_contain_text("−0.47 mm")
    page.keyboard.press("Alt+l")
    expect(gap).to_contain_text("−0.47 mm")
    page.locator("#held").focus()
    page.keyboard.type("software")
    page.get_by_role("button", name="Limit the phaser").focus()
    with page.expect_navigation():
        page.keyboard.press("Enter")
    page.wait_for_selector("html[data-ready]")
    expect(page.locator("#tight")).to_contain_text("intake phaser limited to 18.5° of advance by software")
    for check in ("piston.clearance_swept", "phaser.range"):
        assert page.locator(f"[id='g-{check}'] .mark").first.get_attribute("class").split()[1] != "fail"  # type: ignore[union-attr]
    page.goto(f"{site.address}/builds/{build}/sheet")
    expect(page.locator("#work")).to_contain_text("Intake phaser limited to 18.5° of advance by software")
    # and it is undone like anything else
    page.goto(site.stage(build, "clearance"))
    page.wait_for_selector("html[data-ready]")
    page.keyboard.press("Control+z")
    expect(page.locator("#tight")).to_contain_text("Too tight")


def test_three_services_of_one_closing_valve_get_no_shim_before_a_cause(hand: Hand, site: Site) -> None:
    bench, document = Bench(site.workshop.database), site.workshop.open(hand.build).build
    by = Sitting(hand="Wen", instrument="blades", at=WHO.now())

    def take(key: str, text: str, service: int) -> None:
        phase = Phase.SERVICE if service else Phase.FINAL
        bench.read(hand.build, document, key, "1I-a", text, How(by, phase=phase, service=service, sure=True))

    take("lash_shim", "2.70", 0)
    take("lash", "0.20", 0)
    for service, found in enumerate(("0.19", "0.14", "0.15", "0.12"), 1):
        take("lash", found, service)
        if service < 4:
            take("lash", "0.20", service)
    bench.read(hand.build, document, "seat_width", "1I-a", "1.9", How(by, phase=Phase.SERVICE, service=4, sure=True))
    hand.open("lash")
    work = hand.page.locator("#work")
    expect(work).to_contain_text("closed 0.19 mm in 3 services: find the cause before any shim")
    assert hand.page.get_by_role("button", name="They were fitted so").count() == 0
    hand.page.get_by_label("Cause at 1I-a").focus()
    hand.page.keyboard.type("seat")
    hand.page.get_by_label("What was read or done at 1I-a").focus()
    hand.page.keyboard.type("0.2 deep, cut and lapped")
    with hand.page.expect_navigation():
        hand.page.keyboard.press("Enter")
    expect(work).to_contain_text("cause found: seat recession")
