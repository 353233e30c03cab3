"""The record of a head on its pages: provenance, orders, power, costs, and the signature."""

import io
import json
import re
from html import unescape

import pytest

from arcstack.application import PartShelf
from arcstack.application.bench import Bench
from arcstack.document import Entry, Sitting, get
from arcstack.errors import Frozen
from arcstack.formats.readings_json import read_whole
from arcstack.readings import Sheet
from arcstack.readings.brought import BroughtAct, brought
from arcstack.readings.recorded import Arrived, Inspected, Released, Substituted, release, runs
from arcstack.record.ledger import ledger
from arcstack.record.orders import State, lines
from arcstack.shelf import PartKind
from arcstack.store import Shelf
from tests.web.conftest import WHO, Browser
from tests.web.test_bench import sit
from tests.web.test_editing import STEP

AT = "/builds/1/intake"


def post(browser: Browser, tail: str, code: int = 302, **form: object) -> str:
    told = browser.post(f"{AT}{tail}", code, **form)
    return unescape(browser.get(browser.headers["Location"]) if code == 302 else told)


def sheet(browser: Browser, build: int = 1) -> Sheet:
    return Bench(browser.workshop.database).sheet(build, browser.workshop.open(build).build)


def page(browser: Browser, tail: str) -> str:
    return unescape(browser.get(f"{AT}{tail}"))


# -- provenance


def test_work_by_others_is_a_claim_until_we_measured(browser: Browser) -> None:
    assert "Nothing yet. What others did" in page(browser, "/record")
    form = {"worker": "another shop", "known": "told", "name": "Ember Heads", "done": "guides reamed", "day": "2026-01-05",
            "touched": ["Guides"], "places": ["1I-a"]}  # fmt: skip
    assert "Whose hand writes it down" in post(browser, "/record/worked", 422, **form)
    browser.sit()
    for field, text, told in (
        ("worker", "", "Who did it, and how"), ("known", "heard", "how is that known"), ("done", " ", "What was done"),
        ("name", "", "Which shop"), ("day", "2999-01-01", "still to come"), ("day", "soon", "year-month-day"),
        ("touched", "Everything", "no step"), ("places", "9X-z", "9X-z"),
    ):  # fmt: skip
        assert told in post(browser, "/record/worked", 422, **form | {field: text}), field
    told = post(browser, "/record/worked", **form)
    assert "guides reamed (1I-a)" in told
    assert "claim, told" in told
    assert re.search(r"<b>no</b>, 0 of \d+", told)


def test_what_differs_is_told_in_sentences(browser: Browser) -> None:
    browser.post("/builds/1/edit", path="brief.limiter", text="8050", base=1, stage="brief", side="intake")
    assert "Limiter went from" in page(browser, "/record?first=1")
    assert "Nothing between revision 2 and 2" in page(browser, "/record?first=2")


def test_two_heads_never_share_a_number(browser: Browser) -> None:
    def numbered(build: int, text: str) -> str:
        base = browser.workshop.open(build).revision
        return browser.post(
            f"/builds/{build}/edit", 200, path="head.number", text=text, base=base, stage="brief", side="intake"
        )

    numbered(1, "AS-001")
    assert browser.workshop.open(1).build.head.number == "AS-001"
    base = browser.workshop.open(2).revision
    told = browser.client.post(
        "/builds/2/edit",
        data={"path": "head.number", "text": "as-001", "base": base, "stage": "brief", "side": "intake"},
        headers={"X-CSRFToken": browser.token, "Referer": "http://localhost/"},
    ).get_data(as_text=True)
    assert "two heads never share one" in told
    assert browser.workshop.open(2).build.head.number == ""
    copy = browser.workshop.duplicate(1, "The next one", WHO)
    made = browser.workshop.open(copy).build
    assert made.head.number == ""
    assert made.note.startswith("Head number AS-001 left out")


def test_a_head_is_held_against_another_by_its_sizes(browser: Browser) -> None:
    told = page(browser, "/record?other=2")
    assert "Too few numbers to say" in told
    assert browser.client.get(f"{AT}/record?other=99").status_code == 404


# -- orders


LINE = {"part": "outer springs", "count": "8", "why": "lost load", "places": "1I-a, 1I-b", "supplier": "Marrow Springs",
        "day": "2026-01-05", "due": "2026-01-12", "figure": "390 N at 36 mm", "price": "212"}  # fmt: skip


def state(browser: Browser) -> State:
    return lines(sheet(browser).events)[-1].state


def test_a_line_is_ordered_received_and_inspected(browser: Browser) -> None:
    assert "Nothing on order" in page(browser, "/orders")
    assert "It has a name" in post(browser, "/orders", 422, **LINE)
    browser.sit()
    for field, text, told in (
        ("part", "", "Which part"), ("why", "", "why is it wanted"), ("count", "", "whole number"),
        ("count", "1.5", "whole number"), ("count", "0", "How many"), ("places", "9Z-q", "9Z-q"),
        ("due", "2025-12-31", "before it is ordered"), ("price", "-2", "not below nought"), ("price", "x", "a number"),
    ):  # fmt: skip
        assert told in post(browser, "/orders", 422, **LINE | {field: text}), (field, text)
    told = post(browser, "/orders", **LINE)
    assert "8 × outer springs" in told
    assert "days late" in told
    number = lines(sheet(browser).events)[0].order.number
    assert "0 of 8 are in" in post(browser, f"/orders/{number}/inspected", 422, found="390 N", passes="yes")
    assert "8 of 8 are still to come" in post(browser, f"/orders/{number}/arrived", 422, count="9")
    post(browser, f"/orders/{number}/arrived", count="5")
    assert state(browser) is State.PART_CAME
    post(browser, f"/orders/{number}/arrived", count="3")
    assert "only looked at" in post(browser, f"/orders/{number}/inspected", 422, found=" ", passes="yes")
    assert "Does it pass" in post(browser, f"/orders/{number}/inspected", 422, found="390 N")
    post(browser, f"/orders/{number}/inspected", found="340 N", passes="no")
    assert state(browser) is State.TURNED_AWAY
    post(browser, f"/orders/{number}/inspected", found="391 N", passes="yes")
    assert state(browser) is State.PASSED
    assert "No open line" in page(browser, "/orders")
    assert "taken back" in post(browser, f"/orders/{number}/off", 422, reason="")
    post(browser, f"/orders/{number}/off", reason="sent back")
    assert "no such line" in post(browser, f"/orders/{number}/arrived", 422, count="1")


def test_what_is_on_order_for_every_head_stands_on_one_page(browser: Browser) -> None:
    assert "Nothing is on order for any head" in browser.get("/orders")
    browser.sit()
    post(browser, "/orders", **LINE)
    browser.post("/builds/2/intake/orders", 302, **LINE | {"part": "seals", "supplier": "Alder Seals", "due": ""})
    told = unescape(browser.get("/orders"))
    assert told.index("Alder Seals") < told.index("Marrow Springs")
    assert "days late" in told
    assert told.count("on order</td>") == 2
    number = lines(sheet(browser).events)[0].order.number
    post(browser, f"/orders/{number}/off", reason="not wanted")
    assert "outer springs" not in browser.get("/orders")
    browser.post("/builds/2/shelf", 302, to="archived")
    assert "Nothing is on order" in browser.get("/orders")


def test_a_substitute_shows_what_it_opens_before_it_is_taken(browser: Browser) -> None:
    browser.sit()
    shelf = PartShelf(browser.workshop.database)
    part = shelf.add(PartKind.RETAINER, "Heavy Heron 9", WHO)
    post(browser, "/orders", **LINE | {"part": "retainers"})
    number = lines(sheet(browser).events)[0].order.number
    told = page(browser, f"/orders?substitute={number}&place=retainer&key={part.key}")
    assert "Heavy Heron 9 in the intake retainer" in told
    assert re.search(r"\d+ checks move", told)
    base = browser.workshop.open(1).revision
    told = post(browser, f"/orders/{number}/substitute", base=base, place="retainer", key=part.key)
    assert "Substitute: Heavy Heron 9" in told
    event = next(e for e in sheet(browser).events if isinstance(e, Substituted))
    assert event.opened
    assert browser.workshop.open(1).revision == base + 1
    assert browser.workshop.open(1).build.intake.from_shelf["retainer"].key == part.key
    assert browser.client.get(f"{AT}/orders?substitute={number}&place=retainer&key=none").status_code == 200
    browser.post(f"{AT}/orders/{number}/substitute", 404, base=base + 1, place="retainer", key="none")
    browser.post(f"{AT}/orders/{number}/substitute", 422, base=base + 1, place="nowhere", key=part.key)


# -- power


def table(by: float = 0.0, boost: float = 1.6) -> bytes:
    rows = [f"{n},{n / 20 + by},{boost}" for n in range(3000, 8000, 500)]
    return "\n".join(["rpm,power kW,boost bar", *rows]).encode()


def run(browser: Browser, group: str, *files: bytes, code: int = 302, **form: object) -> str:
    given = {"group": group, "revision": "1", "on-bench": "hub", "on-gear": "4", **form}
    told = browser.client.post(
        f"{AT}/power", data=given | {"table": [(io.BytesIO(f), f"run{n}.csv") for n, f in enumerate(files)]},
        headers={"X-CSRFToken": browser.token, "Referer": "http://localhost/"},
    )  # fmt: skip
    assert told.status_code == code, told.get_data(as_text=True)[:300]
    return page(browser, "/power") if code == 302 else unescape(told.get_data(as_text=True))


def test_runs_come_in_as_tables_and_only_what_passes_the_scatter_counts(browser: Browser) -> None:
    assert "held against each other" in page(browser, "/power")
    assert "Whose hand ran it" in run(browser, "before", table(), code=422)
    browser.sit()
    assert "share a name" in run(browser, "", table(), code=422)
    assert "Drop the runs" in run(browser, "before", code=422)
    assert "run1.csv: no rows of figures" in run(browser, "before", table(), b"nothing", code=422)
    assert runs(sheet(browser).events) == ()
    assert "lies between" in run(browser, "before", table(), code=422, revision="9")
    run(browser, "before", table(-1.0), table(), table(1.0))
    told = run(browser, "after", table(4.5), table(5.5), table(6.5))
    assert "<b>Gain</b> at 3,000 to 7,500 rpm" in told
    assert "Nothing was changed" in told
    assert "+5.5 kW" in told
    assert 'class="span gain"' in told
    assert "Two methods" not in told
    other = run(browser, "dearer", table(20.0), table(21.0), **{"on-gear": "5"})
    assert "runs of two methods" in unescape(browser.get(f"{AT}/power?before=before&after=dearer"))
    assert "3 wanted" in other
    number = runs(sheet(browser).events)[-1].number
    assert "only low stays" in post(browser, "/power/off", 422, run=number, reason="")
    post(browser, "/power/off", run=number, reason="wheel slipped")
    assert "already" in post(browser, "/power/off", 422, run=number, reason="again")


def test_a_changed_build_between_two_groups_is_what_the_difference_is_due_to(browser: Browser) -> None:
    browser.sit()
    run(browser, "before", table(-1.0), table(), table(1.0))
    browser.post("/builds/1/edit", path="brief.limiter", text="8050", base=1, stage="brief", side="intake")
    told = run(browser, "after", table(9.0), table(10.0), table(11.0), revision="2")
    assert "Due to one change" in told
    assert "Limiter went from" in told
    base = browser.workshop.open(1).revision
    browser.post("/builds/1/edit", path="brief.boost", text="1.6 bar", base=base, stage="brief", side="intake")
    told = run(browser, "later", table(19.0), table(20.0), table(21.0), revision="3")
    assert "Not attributable" in told
    assert "2 things were changed" in told


def test_boost_that_differs_is_said_and_a_pasted_table_is_a_run(browser: Browser) -> None:
    browser.sit()
    run(browser, "before", table(-1.0), table(), table(1.0))
    told = run(browser, "after", table(9.0, 1.7), table(10.0, 1.7), table(11.0, 1.7))
    assert "<b>Boost differs</b> at 3,000 to 7,500 rpm" in told
    run(browser, "pasted", pasted=table().decode())
    assert runs(sheet(browser).events)[-1].origin.startswith("pasted (")


# -- costs


def test_hours_and_money_are_booked_corrected_and_summed(browser: Browser) -> None:
    browser.sit()
    assert "Hours, parts or outside" in post(browser, "/costs", 422, sort="beer", what="x")
    assert "more than none" in post(browser, "/costs", 422, sort="hours", what="x", hours="0")
    told = post(browser, "/costs", sort="hours", what="guides", hours="2.5", rate="80")
    told = post(browser, "/costs", sort="parts", what="shims", money="30.50")
    assert "<b>230.50</b>" in told
    number = re.search(r'name="off" value="(\d+)" aria-label="Take back guides"', told)
    assert number
    assert "<b>30.50</b>" in post(browser, "/costs", off=number[1])
    assert "already" in post(browser, "/costs", 422, off=number[1])


def test_one_way_is_weighed_against_another(browser: Browser) -> None:
    browser.sit()
    form = {"part": "valve 1I-a", "rate": "80", "salvage-money": "20", "salvage-hours": "0.5", "replace-money": "40"}
    assert "Which way is taken" in post(browser, "/costs/weigh", 422, **form)
    assert "costs less: say why" in post(browser, "/costs/weigh", 422, chosen="salvage", **form)
    told = post(browser, "/costs/weigh", chosen="replace", **form)
    assert "<b>replace 40.00, taken</b>" in told
    assert "salvage 60.00" in told


# -- sign-off


def rows(told: str) -> list[tuple[str, str, str]]:
    """Key, side and state of everything that can be let pass."""
    part = r'name="key" value="([^"]+)"><input type="hidden" name="on" value="([^"]*)"><input type="hidden" name="state" value="([^"]*)">(?!<input type="hidden" name="ended")'
    return [(unescape(a), b, unescape(c)) for a, b, c in re.findall(part, told)]


def let_all_pass(browser: Browser) -> str:
    told = page(browser, "/sign-off")
    for kind in re.findall(r'name="kind" value="([^"]+)"', told):
        told = post(browser, "/sign-off/waive", kind=unescape(kind), reason="known, watched", until="1,000 km")
    for key, on, state in rows(told):
        told = post(browser, "/sign-off/waive", key=key, on=on, state=state, reason="known, watched", until="1,000 km")
    return told


def marks(told: str) -> str:
    found = re.search(r'name="marks" value="([\d.]+)"', told)
    assert found
    return found[1]


def signed(browser: Browser) -> str:
    told = let_all_pass(browser)
    base = browser.workshop.open(1).revision
    return post(browser, "/sign-off", base=base, marks=marks(told), answers="Ilse", next_look="lash at 1,000 km")


def test_what_stands_is_listed_linked_and_let_pass_only_by_name(browser: Browser) -> None:
    told = page(browser, "/sign-off")
    assert "things stand" in told
    for words in ("Mock-up", "Assembly", "not measured: open height", "– all 8", "Let all of these pass by one name"):
        assert words in told
    for link in set(re.findall(r'<a class="cell-link" href="(/builds/1/[^"]+)">Go there', told)):
        assert browser.client.get(unescape(link)).status_code == 200, link
    key, on, state = rows(told)[0]
    assert "Whose name lets it pass" in post(
        browser, "/sign-off/waive", 422, key=key, on=on, state=state, reason="x y z", until="1"
    )
    browser.sit()
    assert "A waiver needs" in post(browser, "/sign-off/waive", 422, key=key, on=on, state=state, reason="", until="1")
    before = len(rows(told))
    told = post(browser, "/sign-off/waive", key=key, on=on, state=state, reason="known", until="1,000 km")
    assert "Wen, until 1,000 km: known" in told
    told = post(browser, "/sign-off/waive", key=key, on=on, state=state, ended="1")
    assert len(rows(told)) == before


def test_nothing_is_signed_while_anything_stands(browser: Browser) -> None:
    browser.sit()
    told = post(
        browser, "/sign-off", 422, base=1, marks=marks(page(browser, "/sign-off")), answers="Ilse", next_look="x"
    )
    assert "things stand against it: mend them" in told
    assert release(sheet(browser).events) is None


def test_a_signed_revision_is_frozen_until_it_is_opened_for_a_reason(browser: Browser) -> None:
    browser.sit()
    told = let_all_pass(browser)
    assert "Nothing stands against it" in told
    assert "Who answers" in post(browser, "/sign-off", 422, base=1, marks=marks(told), answers="", next_look="x")
    assert "too old" in post(browser, "/sign-off", 422, base=1, marks="x", answers="Ilse", next_look="x")
    told = signed(browser)
    assert "Revision 1 is signed off" in told
    assert "answers for clearance" in told
    assert "known, watched" in told
    edit = {"path": "brief.limiter", "text": "8050", "base": 1, "stage": "brief", "side": "intake"}
    refused = browser.client.post(
        "/builds/1/edit", data=edit, headers={"X-CSRFToken": browser.token, "Referer": "http://localhost/"}
    )
    assert "signed off and stays as it is" in refused.get_data(as_text=True)
    assert browser.workshop.open(1).revision == 1
    for tail, form in (
        ("/undo", {"base": 1}), ("/redo", {"base": 1}), ("/intake/revisions/restore", {"base": 1, "to": 1}),
        ("/intake/practice", {"base": 1, "practice": "sprint"}), ("/intake/parts", {"base": 1, "place": "retainer", "key": "x"}),
        ("/intake/copy", {"base": 1, "source": "1 exhaust", "parts": ["valve"]}),
    ):  # fmt: skip
        told = browser.client.post(
            f"/builds/1{tail}", data=form, headers={"X-CSRFToken": browser.token, "Referer": "http://localhost/"}
        )
        assert told.status_code < 500, tail
    assert browser.workshop.open(1).revision == 1
    assert "already" in post(browser, "/sign-off", 422, base=1, marks=marks_now(browser), answers="Ilse", next_look="x")
    assert "Why is it opened" in post(browser, "/sign-off/open", 422, base=1, reason="")
    told = post(browser, "/sign-off/open", base=1, reason="a seal weeps")
    assert "Opened again by Wen: a seal weeps" in told
    assert browser.workshop.open(1).revision == 2
    assert browser.workshop.open(1).build.note.startswith("Opened again: a seal weeps")
    assert "nothing to open" in post(browser, "/sign-off/open", 422, base=2, reason="again")
    browser.post("/builds/1/edit", **edit | {"base": 2})
    assert browser.workshop.open(1).revision == 3


def marks_now(browser: Browser) -> str:
    found = Bench(browser.workshop.database).marks(1)
    return f"{found[0]}.{found[1]}"


def test_a_reading_taken_between_looking_and_signing_asks_to_look_again(browser: Browser) -> None:
    browser.sit()
    told = let_all_pass(browser)
    old = marks(told)
    post(browser, "/costs", sort="parts", what="shims", money="1")
    assert "look at what stands against it again" in post(
        browser, "/sign-off", 422, base=1, marks=old, answers="Ilse", next_look="x"
    )


# -- what names another event


def test_everything_that_names_another_event_still_does_after_it_left_and_came_back(browser: Browser) -> None:
    browser.sit()
    for n in range(3):
        post(browser, "/costs", sort="parts", what=f"shims {n}", money="1")
    post(browser, "/orders", **LINE)
    number = lines(sheet(browser).events)[0].order.number
    post(browser, f"/orders/{number}/arrived", count="8")
    post(browser, f"/orders/{number}/inspected", found="391 N", passes="yes")
    signed(browser)
    text = browser.get("/builds/1/export")
    build, readings, events = read_whole(text)
    data = {"file": (io.BytesIO(text.encode()), "head.json"), "csrf_token": browser.token}
    told = browser.client.post("/builds/import", data=data, headers={"Referer": "http://localhost/"})
    if told.status_code == 409:
        form = {"answer": "own", "text": text, "name": "head.json"}
        browser.post("/builds/import", 302, **form)
        at = browser.headers["Location"]
    else:
        at = told.headers["Location"]
    copy = int(at.split("/")[2])
    theirs = sheet(browser, copy)
    assert lines(theirs.events)[0].state is State.PASSED
    own = next(e for e in theirs.events if isinstance(e, Arrived))
    assert own.order == lines(theirs.events)[0].order.number != number
    assert any(isinstance(e, Inspected) and e.order == own.order for e in theirs.events)
    # a file's signature is told of, and signs nothing here
    assert any(isinstance(e, Released) for e in events)
    assert release(theirs.events) is None
    act = next(e for e in theirs.events if isinstance(e, BroughtAct) and e.act == "released")
    assert act.by.hand == "Wen (by file)"
    came = brought(theirs.events)
    assert [(c.file, c.acts > 0) for c in came] == [("head.json", True)]
    page = browser.get(f"/builds/{copy}/intake/record")
    assert "Brought by the file “head.json”" in unescape(page)
    assert "The file says: Signed at its revision 1" in unescape(page)
    told = ledger(theirs)
    assert {e.known for e in told if e.name.endswith("(by file)")} == {"on paper"}
    assert [e.known for e in told if e.what.startswith("Brought by the file")] == ["seen"]
    # the same file again adds nothing
    before = len(theirs.events)
    with browser.workshop.database.session(writes=True) as unit:
        by = Sitting(hand="wen", at=came[0].by.at)
        Bench(browser.workshop.database).brought(unit, copy, readings, events, "head.json", by)
    assert len(sheet(browser, copy).events) == before
    assert build.name == browser.workshop.open(copy).build.name


def test_what_a_file_says_was_measured_is_told_as_that(browser: Browser) -> None:
    """A document's own figures, limits and sides taken: in the hand that the file names, and said to be by file."""
    browser.sit()
    browser.type(STEP, "0.6", evidence="measured")
    assert entry(browser, browser.failing).by.hand == "Wen"
    text = browser.get(f"/builds/{browser.failing}/export")
    # back to its own head, what it said itself is its own; what the file changed is the file's
    told = json.loads(text)
    other = "intake.cam.valve_lift"
    measured = {"typed": "11.2 mm", "value": 11.2, "evidence": "measured"}
    told["intake"]["cam"]["valve_lift"] = measured | {"by": {"hand": "Wen", "instrument": "dial 1"}}
    changed = json.dumps(told)
    browser.post("/builds/import", 302, answer="next", text=changed, name="h.json", base=2)
    assert entry(browser, browser.failing).by.hand == "Wen"
    assert entry(browser, browser.failing, other).by.hand == "Wen (by file)"
    browser.post("/builds/import", 302, answer="own", text=changed, name="h.json")
    copy = int(browser.headers["Location"].split("/")[2])
    assert [entry(browser, copy, p).by.hand for p in (STEP, other)] == ["Wen (by file)"] * 2
    # and told so once only, however often it goes out and comes in
    text = browser.get(f"/builds/{copy}/export")
    browser.post("/builds/import", 302, answer="own", text=text, name="h.json")
    assert entry(browser, int(browser.headers["Location"].split("/")[2])).by.hand == "Wen (by file)"


def entry(browser: Browser, build_id: int, path: str = STEP) -> Entry:
    return get(browser.workshop.open(build_id).build, path)


@pytest.mark.parametrize("tail", ["record", "orders", "power", "costs", "sign-off"])
@pytest.mark.parametrize("build", [1, 2])
@pytest.mark.parametrize("system", ["mm", "in"])
def test_every_page_stands_on_both_builds_in_both_systems(browser: Browser, tail: str, build: int, system: str) -> None:
    browser.client.post(
        "/units", data={"system": system, "csrf_token": browser.token}, headers={"Referer": "http://localhost/"}
    )
    for side in ("intake", "exhaust"):
        assert 'aria-current="page"' in browser.get(f"/builds/{build}/{side}/{tail}")
    assert browser.client.get(f"/builds/99/intake/{tail}").status_code == 404


def test_nothing_is_written_untold_beneath_a_signature(browser: Browser) -> None:
    """Readings, cuts, orders and waivers wait until the head is opened again or received; runs and costs do not."""
    browser.sit()
    sit(browser, f"{AT}/bench", "height")
    signed(browser)
    before = len(sheet(browser).events), len(sheet(browser).readings)
    headers = {"X-CSRFToken": browser.token, "Referer": "http://localhost/"}
    for tail, form in (
        ("/bench", {"key": "tip_height", "place": "1I-a", "text": "44.2"}),
        ("/bench/cut", {"place": "1I-a", "face": "0.10", "seat": "", "tip": "", "note": "x"}),
        ("/orders", LINE),
        ("/bench/items/put", {"item": "O-1", "sort": "outer", "place": "1I-a"}),
    ):
        told = browser.client.post(f"/builds/1/intake{tail}", data=form, headers=headers)
        assert told.status_code in (404, 409, 422), tail
    assert (len(sheet(browser).events), len(sheet(browser).readings)) == before
    post(browser, "/costs", sort="parts", what="a stamp", money="1")
    # nor is it taken away for good
    browser.workshop.shelve(1, Shelf.DELETED, WHO)
    with pytest.raises(Frozen):
        browser.workshop.remove(1)
    browser.workshop.shelve(1, Shelf.OPEN, WHO)
    post(browser, "/sign-off/open", base=1, reason="a seal weeps")
    browser.post("/builds/1/intake/bench", key="tip_height", place="1I-a", text="44.2")
