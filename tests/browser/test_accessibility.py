import pytest
from playwright.sync_api import Page

from arcstack.application import PartShelf
from arcstack.demo.loader import demo_shelf
from arcstack.document import Build
from tests.browser.acts import opened
from tests.browser.conftest import Site
from tests.web.conftest import WHO

PAGES = [
    "brief",
    "cam",
    "stack",
    "fit",
    "parts",
    "height",
    "springs",
    "control",
    "boost",
    "clearance",
    "practice",
    "revisions",
    "cams",
    "copy",
]


def faults(page: Page, axe: str) -> list[str]:
    page.evaluate(axe)
    found = page.evaluate("axe.run(document, {resultTypes: ['violations']})")
    return [f"{v['impact']} {v['id']}: {[n['target'] for n in v['nodes']][:4]}" for v in found["violations"]]


@pytest.mark.parametrize("name", PAGES)
def test_no_fault_on_any_page_full_or_empty(page: Page, site: Site, axe: str, name: str) -> None:
    empty = site.workshop.create(Build(name="Nothing yet"), WHO)
    for build in (site.failing(), empty):
        opened(page, site.stage(build, name))
        assert faults(page, axe) == []


def test_no_fault_on_the_shelf(page: Page, site: Site, axe: str) -> None:
    PartShelf(site.workshop.database).take(demo_shelf(), WHO)
    first = PartShelf(site.workshop.database).all()[0]
    for address in ("/shelf", "/shelf?q=seal,+stem+60", f"/shelf/part/{first.key}", "/shelf/import"):
        opened(page, f"{site.address}{address}")
        assert faults(page, axe) == [], address
    page.fill("#text", "kind,name,stem (mm),colour\nseal,S-1,6,red\nseal,S-2,600,red\n")
    page.get_by_role("button", name="Read", exact=True).click()
    page.wait_for_selector("#understood-title")
    page.wait_for_selector("html[data-ready]")
    assert faults(page, axe) == []
    build = site.failing()
    waits = {
        "window": "svg.window",
        "specify": "table.specify",
        "specify?asked=1&vary=valve&vary=cap": "#why table, #why p",
    }
    for address in ("parts?place=pack", "height?vary=retainer&most=2", *waits):
        opened(page, f"{site.address}/builds/{build}/intake/{address}")
        if address in waits:
            page.wait_for_selector(waits[address])
        assert faults(page, axe) == [], address


def test_no_fault_in_the_workshop_a_drawer_or_an_error(page: Page, site: Site, axe: str) -> None:
    opened(page, site.address)
    assert faults(page, axe) == []
    page.click("[data-open-keys]")
    assert faults(page, axe) == []
    opened(page, f"{site.address}/nowhere")
    assert faults(page, axe) == []
    opened(page, site.stage(site.failing(), "stack"))
    page.click("[id='g-spring.reserve.inner'] button")
    page.wait_for_selector("#drawer[open] .lines")
    assert faults(page, axe) == []


def test_targets_are_big_enough_for_a_gloved_finger(page: Page, site: Site) -> None:
    opened(page, site.stage(site.sound(), "stack"))
    small = page.evaluate(
        """[...document.querySelectorAll('.top a, .top button, .stages a, .field input, .field select, .gauge button')]
        .map(e => [e.outerHTML.slice(0, 60), e.getBoundingClientRect()])
        .filter(([, r]) => r.width > 0 && r.height < 42).map(([h]) => h)"""
    )
    assert small == []


@pytest.mark.parametrize(
    "tail",
    ["", "?key=open_height", "/springs", "/matching", "/cut?place=1I-a&face=0.1", "/built", "/built?check=stack.retainer_seal", "/to-do", "/table", "/items", "/shop", "/mock-up", "/lash", "/assembly", "/assembly?step=locators", "/assembly/list", "/../back", "/../back/diagnosis", "/../pictures"],
)  # fmt: skip
def test_no_fault_at_the_bench(page: Page, site: Site, axe: str, tail: str) -> None:
    empty = site.workshop.create(Build(name="Nothing yet"), WHO)
    for build in (site.failing(), empty):
        if build == empty and tail not in (
            "",
            "/springs",
            "/built",
            "/to-do",
            "/items",
            "/shop",
            "/mock-up",
            "/lash",
            "/assembly",
            "/assembly/list",
        ):
            continue
        opened(page, f"{site.address}/builds/{build}/intake/bench{tail}")
        assert faults(page, axe) == []


@pytest.mark.parametrize("tail", ["", "?part=lobe&at=1I-a", "/diagnosis", "/dispositions?kind=valve&what=reface"])
def test_no_fault_on_a_head_that_came_back(page: Page, site: Site, axe: str, tail: str) -> None:
    opened(page, f"{site.address}/builds/{site.returned()}/intake/back{tail}")
    assert faults(page, axe) == []


@pytest.mark.parametrize(
    "tail", ["record?other=1", "orders", "power", "costs", "sign-off", "sheets", "sheets/report", "sheets/bench"]
)
def test_no_fault_in_the_record(page: Page, site: Site, axe: str, tail: str) -> None:
    opened(page, f"{site.address}/builds/{site.returned()}/intake/{tail}")
    assert faults(page, axe) == []


def test_no_fault_on_instruments_and_lessons(page: Page, site: Site, axe: str) -> None:
    for address in ("/instruments", "/learning", "/learning/trays/3", "/orders", "/backups"):
        opened(page, f"{site.address}{address}")
        assert faults(page, axe) == [], address
