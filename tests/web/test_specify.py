"""Specify on the page: asked, counted, looked at, laid beside, taken, and told why not."""

import html
import re
from threading import Event
from time import monotonic, sleep
from typing import Any

import pytest

from arcstack.application import CamLibrary, PartShelf, Searches
from arcstack.demo import demo_builds
from arcstack.demo.loader import demo_shelf
from arcstack.document import Build, change
from arcstack.shelf import PartKind, ShelfPart, changed
from arcstack.specify import Want
from arcstack.web.pages import specify, specify_asked
from tests.web.conftest import WHO, Browser


@pytest.fixture
def head(browser: Browser) -> str:
    """The address of Specify for the demo's first head over the demo's shelf."""
    PartShelf(browser.workshop.database).take(demo_shelf(), WHO)
    build = browser.workshop.create(demo_builds()[0], WHO)
    return f"/builds/{build}/intake/specify"


def settled(browser: Browser, address: str) -> str:
    """A partial once its search has ended."""
    until = monotonic() + 60.0
    while monotonic() < until:
        page = browser.get(address)
        if "<progress" not in page and 'hx-trigger="load delay:500ms"' not in page:
            return page
        sleep(0.1)
    raise AssertionError(f"{address} did not end")


def plain(page: str) -> str:
    return " ".join(html.unescape(re.sub(r"<[^>]+>", " ", page)).split())


def first_number(page: str) -> int:
    found = re.search(r'name="lay" value="(\d+)"', page)
    assert found is not None
    return int(found[1])


def test_the_page_says_what_it_is_for_and_what_may_change(browser: Browser, head: str) -> None:
    page = plain(browser.get(head))
    assert "Specify, intake" in page
    assert "limiter 8600 rpm" in page or "limiter" in page
    assert "Retainers 20" in page
    assert "by the practice Balanced" in page
    # a bucket's head offers no finger
    assert "Fingers" not in page


def test_counts_the_best_and_the_frontier(browser: Browser, head: str) -> None:
    page = settled(browser, f"{head}/found")
    said = plain(page)
    found = re.search(r"([\d,]+) of ([\d,]+) combinations would do", said)
    assert found is not None
    assert found[2] == "145,600"
    assert "What turned the others away" in said
    assert re.search(r"Locks on stem [\d,–]+ 62,400", said)
    assert page.count("frontier-dot") > 3
    # each row is another set of parts, with how else it could be shimmed
    assert len(set(re.findall(r'name="lay" value="(\d+)"', page))) > 5
    weighed = settled(
        browser, f"{head}/found?asked=1&vary=pack&vary=shim&want=lowest+price&weigh=1&weight1=3&x=friction"
    )
    assert "would do" in weighed


def test_one_is_looked_at_and_taken_with_its_reason(browser: Browser, head: str) -> None:
    number = first_number(settled(browser, f"{head}/found"))
    look = settled(browser, f"{head}/look?number={number}")
    keys = re.search(r'name="take" value="([^"]+)"', look)
    assert keys is not None
    assert "Fit these" in look
    whole = plain(settled(browser, f"{head}/row?number={number}"))
    assert "tight" in whole or "clear" in whole
    assert "fail" not in whole
    browser.post(head, 409, number=str(number), take="another", base="1")
    # one that would not do is not fitted, whoever asks
    wrong = next(n for n in range(40) if f'value="{n}"' not in settled(browser, f"{head}/found"))
    theirs = re.search(r'name="take" value="([^"]*)"', settled(browser, f"{head}/look?number={wrong}"))
    assert theirs is not None
    assert "would not do" in browser.post(head, 409, number=str(wrong), take=theirs[1], base="1")
    browser.post(head, 302, number=str(number), take=keys[1], base="1")
    build = int(head.split("/")[2])
    held = browser.workshop.open(build).build
    assert held.intake.from_shelf["pack"].name
    assert held.intake.stack.retainer.code == held.intake.from_shelf["retainer"].name
    assert "specified for highest speed, best of" in plain(browser.get(f"/builds/{build}/intake/revisions"))
    browser.post(head, 409, number=str(number), take=keys[1], base="1")


def test_up_to_six_are_laid_beside_each_other(browser: Browser, head: str) -> None:
    numbers = re.findall(r'name="lay" value="(\d+)"', settled(browser, f"{head}/found"))
    lay = "&".join(f"lay={n}" for n in numbers[:7])
    page = settled(browser, f"{head}/beside?{lay}")
    assert page.count('<th scope="col">') == 1 + 6
    assert "Moving mass" in page
    assert "Tick up to six" in browser.get(f"{head}/beside")
    for wrong in ("look?number=999999999", "look?number=x", "look", "part?part=none"):
        browser.get(f"{head}/{wrong}", 404)


def test_nothing_would_do_and_why(browser: Browser, head: str) -> None:
    build = int(head.split("/")[2])
    current = browser.workshop.open(build)
    faster = change(change(current.build, "brief.overspeed", "11000 rpm"), "brief.limiter", "10400 rpm")
    other = browser.workshop.create(faster, WHO)
    address = f"/builds/{other}/intake/specify"
    asked = "asked=1&vary=retainer&vary=shim&shims=1"
    said = plain(settled(browser, f"{address}/found?{asked}"))
    assert re.search(r"\b0 of [\d,]+ combinations would do", said)
    assert "Nearest:" in said
    assert "turned away by" in said
    why = plain(settled(browser, f"{address}/why?{asked}"))
    assert re.search(r"Limiter and overspeed [\d,]+ rpm lower", why) or "No single change" in why


def test_the_field_that_would_free_most_is_named(browser: Browser, head: str) -> None:
    """Retainers of which nobody said how far they hang down: none fails, and none can be told to clear the seal."""
    shelf = PartShelf(browser.workshop.database)
    for part in shelf.offered(PartKind.RETAINER):
        bare = part.model_copy(update={"body": part.body.model_copy(update={"depth": None})})
        shelf.save(bare, WHO) if part.name.startswith("R-7 Ti") else shelf.remove(part.key)
    asked = "asked=1&vary=retainer&height=any"
    assert re.search(r"\b0 of 8 combinations would do", plain(settled(browser, f"{head}/found?{asked}")))
    why = plain(settled(browser, f"{head}/why?{asked}"))
    assert re.search(
        r"Of 8 looked at, typing this on the shelf would free most: underside below outer seat \( ?\d lack it alone",
        why,
    ), why


def test_a_kind_of_which_too_few_lie_there_stays_as_it_is_where_only_what_is_on_hand_is_asked_for(
    browser: Browser, head: str
) -> None:
    shelf = PartShelf(browser.workshop.database)
    for part in shelf.offered(PartKind.LOCKS):
        shelf.save(part.model_copy(update={"on_hand": 7}), WHO)
    asked = "asked=1&vary=locks&vary=retainer&hand=1"
    assert "would do" in plain(settled(browser, f"{head}/found?{asked}"))
    box = re.search(r'<input type="checkbox" name="vary" value="locks"[^>]*>', browser.get(f"{head}?{asked}"))
    assert box is not None
    assert "disabled" in box[0]
    assert "checked" not in box[0]


def test_why_a_part_is_not_in_the_list(browser: Browser, head: str) -> None:
    parts = {p.name: p for p in PartShelf(browser.workshop.database).all()}
    said = plain(settled(browser, f"{head}/part?part={parts['L-6 worn pattern'].key}"))
    assert "L-6 worn pattern" in said
    assert "would do" in said or "turned away by" in said
    # a kind that is fixed is not asked about
    browser.get(f"{head}/part?part={parts['SL-6 low'].key}", 404)


def test_what_cannot_be_searched_is_said(browser: Browser, head: str) -> None:
    build = int(head.split("/")[2])
    bare = browser.workshop.create(change(browser.workshop.open(build).build, "brief.limiter", ""), WHO)
    assert "Needs" in browser.get(f"/builds/{bare}/intake/specify/found")
    many = "&".join(f"vary={k}" for k in ("pack", "retainer", "locks", "shim", "valve", "locator", "bucket", "seal"))
    page = plain(browser.get(f"{head}/found?asked=1&{many}"))
    assert "more than the 30,000,000" in page
    assert "Fix what is settled" in page
    for part in PartShelf(browser.workshop.database).offered(PartKind.LOCKS):
        PartShelf(browser.workshop.database).remove(part.key)
    # a kind of which there is none stays as it is fitted, and is not ticked
    assert "would do" in plain(settled(browser, f"{head}/found"))
    box = re.search(r'<input type="checkbox" name="vary" value="locks"[^>]*>', browser.get(head))
    assert box is not None
    assert "disabled" in box[0]
    assert "checked" not in box[0]
    # nothing may change: the one that is fitted, as it is
    assert "1 of 1 combinations would do" in plain(settled(browser, f"{head}/found?asked=1"))


def test_a_changed_shelf_is_searched_anew(browser: Browser, head: str) -> None:
    shelf = PartShelf(browser.workshop.database)
    before = plain(settled(browser, f"{head}/found"))
    pack: ShelfPart = next(p for p in shelf.all() if p.name == "TS-34")
    shelf.save(changed(pack, "outer.solid", "33 mm"), WHO)
    after = plain(settled(browser, f"{head}/found"))
    assert before.split(" combinations")[0] != after.split(" combinations")[0]


def test_every_kept_cam_is_tried_however_many_there_are(
    browser: Browser, head: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    # as where each search takes longer than a page waits for it
    monkeypatch.setattr("arcstack.web.pages.specify.WAIT_S", 0.0)
    library, build = CamLibrary(browser.workshop.database, browser.workshop), demo_builds()[0]
    lifts = [f"{9.4 + n / 10:.1f} mm" for n in range(11)]
    for n, lift in enumerate(lifts):
        library.keep(f"cam {n:02}", change(build, "intake.cam.lobe_lift", lift).intake.cam, WHO)
    library.keep("cam 99", Build(name="bare").intake.cam, WHO)
    said = plain(settled(browser, f"{head}/cams?hand=1"))
    assert len(re.findall(r"cam \d\d", said)) == 12
    # what cannot be searched with a cam is told as a dash, and the rest stands
    assert "cam 99 – –" in said
    for n in (0, 10):
        (key,) = [k.key for k in library.all() if k.name == f"cam {n:02}"]
        own = plain(settled(browser, f"{head}/found?hand=1&cam={key}"))
        alone = re.search(r"([\d,]+) of [\d,]+ combinations would do", own)
        count = alone[1] if alone else "0"
        assert f"cam {n:02} {count} " in said


def test_why_no_kept_cam_can_be_tried_is_said(browser: Browser, head: str) -> None:
    library = CamLibrary(browser.workshop.database, browser.workshop)
    library.keep("bare", Build(name="bare").intake.cam, WHO)
    said = plain(settled(browser, f"{head}/cams"))
    assert "Needs" in said
    assert "lift" in said
    assert "It was stopped" not in said


def test_trying_every_cam_is_stopped_and_gone_on_with(browser: Browser, head: str) -> None:
    library, build = CamLibrary(browser.workshop.database, browser.workshop), demo_builds()[0]
    for n in range(12):
        library.keep(f"cam {n:02}", build.intake.cam, WHO)
    browser.get(f"{head}/cams")
    assert "It was stopped" in settled_by_post(browser, f"{head}/cams/stop", f"{head}/cams")
    assert len(re.findall(r"cam \d\d", plain(settled(browser, f"{head}/cams?again=1")))) == 12


def settled_by_post(browser: Browser, post: str, address: str) -> str:
    browser.post(post)
    return settled(browser, address)


def test_a_search_is_stopped_and_gone_on_with() -> None:
    searches = Searches()
    begun: list[int] = []

    def work(count: "object", stop: "object") -> str:
        begun.append(1)
        while not stop():  # type: ignore[operator]
            count(len(begun), 10)  # type: ignore[operator]
            sleep(0.005)
        return "part of it"

    job = searches.start("one", work)
    while not job.behind:
        sleep(0.005)
    assert searches.known("one") is None
    searches.stop("one")
    assert job.ended.wait(5.0)
    assert searches.known("one") == "part of it"
    assert searches.start("one", work) is job
    again = searches.start("one", work, again=True)
    assert again is not job
    searches.stop("one")
    assert again.ended.wait(5.0)


def test_what_is_made_of_many_searches_holds_up_no_single_one() -> None:
    searches, held = Searches(), Event()
    slow = searches.start("many", lambda count, stop: held.wait(10.0), many=True)
    assert searches.start("one", lambda count, stop: "found").ended.wait(5.0)
    assert not slow.done
    held.set()
    assert slow.ended.wait(5.0)


def test_nobody_waits_at_a_page_for_a_search_that_takes_long(
    browser: Browser, head: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    held, real = Event(), specify_asked.search

    def slowly(*args: Any) -> Any:
        held.wait(30.0)
        return real(*args)

    monkeypatch.setattr(specify_asked, "search", slowly)
    monkeypatch.setattr(specify, "WAIT_S", 0.05)
    for part in ("why", "look?number=0", "row?number=0", "beside?lay=0", "part?part=none"):
        page = browser.get(f"{head}/{part}")
        assert "Being searched" in page, part
        assert f'hx-get="{head}/{part}' in html.unescape(page), part
    before = browser.workshop.open(int(head.split("/")[2])).revision
    assert "still being made" in browser.post(head, 409, base=1, number=0, take="x")
    assert browser.workshop.open(int(head.split("/")[2])).revision == before
    held.set()
    assert "Being searched" not in settled(browser, f"{head}/look?number=0")


def test_wants_are_read_strictly(browser: Browser, head: str) -> None:
    for query in (
        "want=nothing",
        "shims=99",
        "vary=wheel&asked=1",
        "x=nothing&y=nothing",
        "weigh=1&weight1=-3",
        "cam=none",
    ):
        assert "would do" in settled(browser, f"{head}/found?{query}"), query
    assert len(Want) == 5
