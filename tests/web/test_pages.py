import io
import json
import re

import pytest

from arcstack.assess import checks
from arcstack.assess.catalogue import figures
from arcstack.document import Build
from arcstack.formats import read_build, write_build
from arcstack.readings.brought import document_by_file
from arcstack.web.stages import every_stage
from tests.web.conftest import WHO, Browser


@pytest.mark.parametrize("side", ["intake", "exhaust"])
@pytest.mark.parametrize("stage", [s.name for s in every_stage()])
def test_every_stage_shows_for_a_full_and_an_empty_build(browser: Browser, stage: str, side: str) -> None:
    empty = browser.workshop.create(Build(name="Nothing yet"), WHO)
    for build in (browser.sound, browser.failing, empty):
        page = browser.get(f"/builds/{build}/{side}/{stage}")
        assert "Margins" in page
        assert not re.search(r"\bnan\b", page.lower())
        assert ">inf<" not in page


def test_every_field_stands_on_a_stage() -> None:
    from arcstack.document import FIELDS, SLOTS
    from arcstack.readings import ASKED
    from arcstack.web.stages.springs.fields import CANDIDATE_GROUPS

    shown = {path for s in every_stage() for g in s.groups for path in g.paths}
    slots = {f"candidates.{slot}.{path}" for slot in SLOTS for g in CANDIDATE_GROUPS for path in g.paths}
    shown |= slots | {asked.path for asked in ASKED.values()}
    # what a spring lost is told by its own readings, before and after
    shown |= {f"bench.{name}_{when}" for name in ("outer", "inner") for when in ("before", "after")}
    for path in FIELDS:
        tail = path.split(".", 1)[1] if path.startswith(("intake", "exhaust")) else path
        tail = re.sub(r"^follower\.(bucket|finger|rocker)\.", "follower.", tail)
        tail = re.sub(r"^stack\.shims\.\d$", "stack.shims.1", tail)
        assert tail in shown or path in shown, path


SELDOM = {"cam.lift_shortfall", "follower.tip_sweep", "fit.cap", "lift.cap", "fit.shims"}
"""Checks that a bucket engine with no lift measured at the valve, no cap and no shims does not have."""


@pytest.mark.parametrize(
    "check", sorted({c for c, about in checks().items() if about.stage not in ("bench", "turbo")} - SELDOM)
)
def test_every_verdict_opens_to_its_working(browser: Browser, check: str) -> None:
    page = browser.get(f"/builds/{browser.failing}/intake/verdict/{check}")
    assert "What went in, weakest first" in page
    empty = browser.workshop.create(Build(name="Nothing yet"), WHO)
    assert "It needs" in browser.get(f"/builds/{empty}/intake/verdict/{check}")


@pytest.mark.parametrize("name", sorted(figures()))
def test_every_figure_opens_to_its_working(browser: Browser, name: str) -> None:
    assert "What went in" in browser.get(f"/builds/{browser.sound}/exhaust/working/{name}")


def test_working_puts_the_numbers_in(browser: Browser) -> None:
    page = browser.get(f"/builds/{browser.failing}/intake/verdict/spring.reserve.inner")
    assert "32.20 − 10.49 − 22.00" in page
    assert "Printed solid heights are wrong" in page


def test_inches_everywhere_at_one_switch(browser: Browser) -> None:
    browser.post("/units", 302, system="in", back=f"/builds/{browser.failing}/intake/stack")
    page = browser.get(f"/builds/{browser.failing}/intake/stack")
    assert re.search(r'id="i-intake.stack.open_height" value="1.4469"', page)
    assert "36.75 mm" in page
    assert 'value="10.4902"' not in page
    cam = browser.get(f"/builds/{browser.failing}/intake/cam")
    assert re.search(r'id="i-intake.cam.lobe_lift" value="0.413"', cam)


def test_import_and_export_without_loss(browser: Browser) -> None:
    exported = browser.client.get(f"/builds/{browser.failing}/export")
    assert exported.headers["Content-Disposition"] == 'attachment; filename="fennel-ice-trial-three.json"'
    taken = read_build(exported.data)
    assert taken.model_copy(update={"identity": ""}) == browser.build()
    # under its own identity it is here already; without one it is another build
    asked = browser.post("/builds/import", 409, file=(io.BytesIO(exported.data), "fennel.json"))
    assert "This build is here already" in asked
    assert "Nothing in it differs" in asked
    own = write_build(taken.model_copy(update={"identity": ""})).encode()
    browser.post("/builds/import", 302, file=(io.BytesIO(own), "fennel.json"))
    newest = browser.workshop.builds().rows[0]
    came = browser.workshop.open(max(b.id for b in browser.workshop.builds().rows)).build
    # all of it, and whose hands it says it was by is told as what a file says
    assert came == document_by_file(browser.build())
    assert newest.newest == 1


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b'{"format": "arc-stack-build"', "line 1: the file is cut off here"),
        (b'{"format": "arc-stack-build", "version": 9}', "of version 9"),
        (b"\x89PNG\r\n\x1a\n\x00", "not text"),
        (b"<script>alert(1)</script>", "not JSON"),
        (b"", "cut off"),
    ],
)
def test_a_file_that_is_no_build_is_told_and_nothing_stored(browser: Browser, content: bytes, words: str) -> None:
    before = len(browser.workshop.builds().rows)
    page = browser.post("/builds/import", 422, file=(io.BytesIO(content), "<b>x</b>.json"))
    assert words in page
    assert "<b>x</b>" not in page
    assert len(browser.workshop.builds().rows) == before


def test_fifty_megabytes_are_refused_before_they_are_read(browser: Browser) -> None:
    page = browser.post("/builds/import", 413, file=(io.BytesIO(b" " * 50_000_000), "big.json"))
    assert "more than 2 MB" in page


def test_no_file_and_no_name_are_told(browser: Browser) -> None:
    assert "Choose the JSON file" in browser.post("/builds/import", 422)
    assert "A build needs a name" in browser.post("/builds", 422, name=" ")
    browser.post("/builds", 302, name="Larch, spare head")
    assert browser.workshop.builds().rows[0].name == "Larch, spare head"


@pytest.mark.parametrize(
    "path",
    [
        "/nowhere",
        "/builds/999/intake/stack",
        "/builds/1/left/stack",
        "/builds/1/intake/halo",
        "/builds/1/intake/working/halo",
        "/builds/1/intake/verdict/halo",
        "/builds/1/left/practice",
        "/builds/1/left/revisions",
        "/builds/1/intake/revisions?first=77",
    ],
)
def test_what_is_not_there_is_said_without_a_trace(browser: Browser, path: str) -> None:
    page = browser.get(path, 404)
    assert "Traceback" not in page
    assert "To the workshop" in page


def test_a_change_without_the_pages_token_is_refused(browser: Browser) -> None:
    response = browser.client.post("/units", data={"system": "in"})
    assert response.status_code == 400
    assert "too old" in response.get_data(as_text=True)


def test_headers_and_hosts_are_strict(browser: Browser) -> None:
    response = browser.client.get("/")
    policy = response.headers["Content-Security-Policy"]
    assert "script-src 'self'" in policy
    assert "unsafe-eval" not in policy
    browser.post("/units", 302, system="mm", back="/")
    assert "SameSite=Strict" in browser.headers["Set-Cookie"]
    assert browser.client.get("/", headers={"Host": "elsewhere.example"}).status_code == 400


def test_the_way_back_never_leaves_the_site(browser: Browser) -> None:
    for back in ("https://elsewhere.example/", "//elsewhere.example", "/\\elsewhere.example"):
        browser.post("/units", 302, system="mm", back=back)
        assert browser.headers["Location"] == "/"


def test_practice_is_chosen_and_one_limit_changed_and_given_back(browser: Browser) -> None:
    at = f"/builds/{browser.failing}/intake/practice"
    assert "a millimetre must be left" in browser.get(at)
    browser.post(f"{at}/choose", 302, base=1, practice="sprint")
    assert browser.build().practice == "sprint"
    browser.post(f"{at}/limit", 302, base=2, key="spring.nest_gap", low="0.8 mm", high="3", reason="measured twice")
    override = browser.build().overrides["spring.nest_gap"]
    assert (override.low.typed, override.high.typed) == ("0.8 mm", "3 mm")  # type: ignore[union-attr]
    assert "<b>This build:</b>" in browser.get(at)
    browser.post(f"{at}/limit", 302, base=3, key="spring.nest_gap", reset="1")
    assert browser.build().overrides == {}


@pytest.mark.parametrize(
    ("form", "words"),
    [
        ({"low": "1 mm", "high": "3 mm", "reason": ""}, "Say in a few words why"),
        ({"low": "1 N", "high": "3 mm", "reason": "because"}, "unit of force"),
        ({"low": "4 mm", "high": "3 mm", "reason": "because"}, "must be below the high end"),
    ],
)
def test_a_limit_that_is_none_is_told(browser: Browser, form: dict[str, str], words: str) -> None:
    page = browser.post(f"/builds/{browser.failing}/intake/practice/limit", 422, base=1, key="spring.nest_gap", **form)
    assert words in page
    assert browser.build().overrides == {}


def test_schema_of_frames_is_whole(browser: Browser) -> None:
    page = browser.get(f"/builds/{browser.failing}/intake/stack")
    found = re.search(r'id="frames">(.+?)</script>', page)
    assert found
    frames = json.loads(found[1])
    assert (frames["unit"], frames["decimals"]) == ("mm", 2)
    rows = [frames["swing"], *frames["live"].values(), *frames["levels"].values()]
    assert {len(row) for row in rows} == {len(frames["lift"])}
    nose = -frames["first"]
    assert frames["live"]["lift"][nose] == 10.29
    # at the nose the inner spring has 0.20 lash more than at gross lift: still solid
    assert (frames["live"]["inner"][nose], frames["levels"]["inner"][nose]) == (-0.09, "fail")
    assert frames["live"]["height"][0] == 36.0


def test_how_far_it_could_go_comes_row_by_row(browser: Browser) -> None:
    page = browser.get(f"/builds/{browser.sound}/intake/brief")
    rows = re.findall(r'hx-get="(/builds/\d+/room/[a-z_]+)"', page)
    assert len(rows) == 7
    assert "8,548 rpm, then force reserve, exhaust" in browser.get(rows[0])
    assert "nothing" in browser.get(rows[0]) or "were that mended" in browser.get(rows[0])
    browser.get(f"/builds/{browser.sound}/room/wings", 404)
    empty = browser.workshop.create(Build(name="Nothing yet"), WHO)
    assert "is not given" in browser.get(f"/builds/{empty}/room/limiter")
