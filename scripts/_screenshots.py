"""The main views, each as one picture of 1280 × 800, from the demo builds."""

import math
import shutil
import sys
import tempfile
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from threading import Thread

import numpy as np
from flask import Flask
from playwright.sync_api import Page, sync_playwright

from arcstack.application import Who
from arcstack.assembly.steps import tools_of
from arcstack.assess import assess, piston
from arcstack.demo.workshop import demo_shelf, make_demo
from arcstack.document import Sitting
from arcstack.readings import Phase
from arcstack.readings.assembling import Held, SetUp, State, Stepped, Tooled, Where
from arcstack.readings.lash_history import Served
from arcstack.readings.mock_up import Pass, Pushed, Stood, StopMet, StopOut
from arcstack.readings.taking import How
from arcstack.trials.timed import card_flanks
from arcstack.web import create_app
from arcstack.web.server import server

NOW = datetime(2026, 3, 2, 9, 20, tzinfo=UTC)
PLACE = Path(__file__).parent.parent / "docs" / "screenshots"
STEP = "intake.stack.retainer.step"


def to(page: Page, selector: str) -> None:
    page.evaluate("s => document.querySelector(s).scrollIntoView()", selector)


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


def mocked_up(app: Flask, build_id: int) -> None:
    """A cam that was found 2.5° early, and its valve pushed to the piston at seven angles."""
    bench, build = app.extensions["shop"].bench, app.extensions["shop"].workshop.open(build_id).build
    ctx, by, side = assess(build).sides["intake"], Sitting(hand="Ilse", instrument="wheel and dial", at=NOW), "intake"
    lash, early, late = 0.20, math.radians(2.5), math.radians(0.2)
    own, model = card_flanks(ctx, 1.0, lash, 0.0), piston.pair(ctx)
    bench.happened(build_id, Stood(0, side, lash, 1.15, 1.15, 0.0, "", True, True, True, by))
    bench.happened(build_id, StopMet(0, math.radians(32.8), math.radians(33.2), by))
    bench.happened(build_id, StopOut(0, by))
    for shift in (early, early + math.radians(0.2)):
        flanks = own.by_tdc + shift - late, own.by_bdc - shift + late
        bench.happened(build_id, Pass(0, side, "1I-a", 1.0, *flanks, None, 0.0, by))
    for angle in (-15.0, -10.0, -5.0, 0.0, 5.0, 10.0, 15.0):
        at = np.radians([angle])
        lift = float(model.net_lift_mm(at, early, lash)[0])
        travel = float(model.room_mm(at)[0]) - lift - 0.10
        bench.happened(build_id, Pushed(0, side, "1I-a", math.radians(angle) + late, travel, lift, by))


def served(app: Flask, build_id: int) -> None:
    """Four services of a side, in which one valve closes."""
    bench, build = app.extensions["shop"].bench, app.extensions["shop"].workshop.open(build_id).build
    by = Sitting(hand="Ilse", instrument="blades", at=NOW)
    places = [f"{n}I-{v}" for n in (1, 2, 3, 4) for v in "ab"]
    found = {"1I-a": ("0.19", "0.14", "0.15", "0.12"), "1I-b": ("0.19", "0.20", "0.21", "0.26"),
             "2I-b": ("0.20", "0.20", "0.20", "0.24")}  # fmt: skip
    rows = []
    for place, shim in zip(places, ("2.70", "2.80", "2.75", "2.85", "2.70", "2.65", "2.80", "2.75"), strict=True):
        final = How(by, phase=Phase.FINAL, sure=True)
        rows += [("lash_shim", place, "", f"{shim} mm", final), ("lash", place, "", "0.20 mm", final)]
        for service, text in enumerate(found.get(place, ("0.19", "0.20", "0.20", "0.20")), 1):
            how = How(by, phase=Phase.SERVICE, service=service, sure=True)
            rows += [("lash", place, "", f"{t} mm", how) for t in ((text, "0.20") if service < 4 else (text,))]
    bench.take_all(build_id, build, rows)
    for service in (1, 2, 3, 4):
        bench.happened(build_id, Served(0, service, 4200.0 * service, 28.0 * service, 9 + service, "", 19.0, by))


def assembled(app: Flask, build_id: int) -> None:
    """A head as far as the seats under its springs."""
    bench, by = app.extensions["shop"].bench, Sitting(hand="Ilse", instrument="", at=NOW)
    sheet = bench.sheet(build_id, app.extensions["shop"].workshop.open(build_id).build)
    bench.happened(build_id, SetUp(0, Where.BENCH, 21.0, by))
    for tool in tools_of(sheet):
        bench.happened(build_id, Tooled(0, tool, Held.OWNED, by))
    for step in ("tools", "wash", "threads", "seats", "checking_out", "valves", "locators"):
        bench.happened(build_id, Stepped(0, step, State.DONE, by))
    bench.happened(build_id, Stepped(0, "second", State.SKIPPED, by, "the only hand in the shop today"))


def specify(page: Page) -> None:
    page.wait_for_selector("table.specify")
    to(page, ".headline")
    page.wait_for_timeout(1500)


def main() -> None:
    browser_path = shutil.which("chromium-headless-shell") or shutil.which("chromium")
    if browser_path is None:
        raise SystemExit("Chromium is missing: scripts/test installs it.")
    folder = Path(tempfile.mkdtemp())
    make_demo(folder)
    app = create_app(folder)
    door = server(app, "127.0.0.1", 0)
    Thread(target=door.run, daemon=True).start()
    home = f"http://127.0.0.1:{door.port}"
    failing, sound = f"{home}/builds/1", f"{home}/builds/2"
    app.extensions["shop"].shelf.take(demo_shelf(), Who("demo", lambda: NOW.replace(tzinfo=None)))
    mocked_up(app, 2)
    served(app, 2)
    assembled(app, 2)
    views: list[tuple[str, str, Callable[[Page], None] | None]] = [
        ("workshop", home, lambda p: p.wait_for_selector(".builds .far-line")),
        ("brief", f"{sound}/intake/brief", None),
        ("cam", f"{sound}/intake/cam", None),
        ("stack", f"{failing}/intake/stack", None),
        ("shelf", f"{home}/shelf?q=seal,+stem+6.0,+guide+11,+no+taller+than+9.5", None),
        ("specify", f"{sound}/intake/specify", specify),
        ("springs", f"{sound}/intake/springs", None),
        ("mock-up", f"{sound}/intake/bench/mock-up", lambda p: to(p, "#s-pass")),
        ("lash", f"{sound}/intake/bench/lash", None),
        ("control", f"{failing}/intake/control", None),
        ("bench", f"{sound}/intake/bench?key=open_height&place=1I-a", bench),
        ("as-built", f"{sound}/intake/bench/built", None),
        ("clearance", f"{failing}/intake/clearance", lambda p: to(p, "#look")),
        ("assembly", f"{sound}/intake/bench/assembly?step=seals", None),
        ("came-back", f"{home}/builds/3/intake/back?part=lobe", None),
        ("diagnosis", f"{home}/builds/3/intake/back/diagnosis", None),
        ("report", f"{home}/builds/3/intake/sheets/report", lambda p: to(p, "h2:nth-of-type(5)")),
        ("sign-off", f"{sound}/intake/sign-off", None),
        ("power", f"{home}/builds/3/intake/power", None),
    ]
    with sync_playwright() as driver:
        browser = driver.chromium.launch(executable_path=browser_path, args=["--no-sandbox", "--disable-gpu"])
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        for name, address, act in [v for v in views if not sys.argv[1:] or v[0] in sys.argv[1:]]:
            page.goto(address)
            page.wait_for_selector("html[data-ready]")
            # the elastic train comes in after the page
            page.wait_for_selector(".waiting, .coming", state="detached", timeout=60_000)
            page.wait_for_load_state("networkidle")
            if act is not None:
                act(page)
                page.wait_for_selector(".waiting, .coming", state="detached", timeout=60_000)
            page.wait_for_timeout(700)
            page.screenshot(path=PLACE / f"{name}.png")
            print(name)
        browser.close()
    door.stop()


if __name__ == "__main__":
    main()
