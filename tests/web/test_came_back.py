"""The head that comes back, on its pages: received, torn down in order, found, diagnosed, disposed, sent on."""

import re

import pytest

from arcstack.application.bench import Bench
from arcstack.application.reasons import words
from arcstack.document import change
from arcstack.document.places import places
from arcstack.drawings.signs import drawn_signs
from arcstack.formats import read_build, write_build
from arcstack.readings import Put, Sheet
from arcstack.readings.returning import findings, named
from arcstack.readings.sent_on import SentOn
from arcstack.store import Kind, Reason
from arcstack.wear.signs import causes, chains, signs
from arcstack.wear.trays import lesson
from tests.web.conftest import WHO, Browser

BACK = "/builds/1/intake/back"


def post(browser: Browser, tail: str, code: int = 302, **form: object) -> str:
    told = browser.post(f"{BACK}{tail}", code, **form)
    return browser.get(browser.headers["Location"]) if code == 302 else told


def sheet(browser: Browser) -> Sheet:
    return Bench(browser.workshop.database).sheet(1, browser.workshop.open(1).build)


def came_in(browser: Browser) -> None:
    browser.sit()
    post(browser, "/receive", complaint="Ticks when cold", distance="14,200", hours="", events="212")


def find(browser: Browser, sign: str, *at: str, code: int = 302, **more: str) -> str:
    form = {"sign": sign, "places": list(at), "severity": "seen", **more}
    if not at:
        form["whole"] = "1"
    return post(browser, "/find", code, **form)


def test_every_sign_has_a_drawing_in_both_lights(browser: Browser) -> None:
    assert drawn_signs() == set(signs())
    came_in(browser)
    seen = set()
    for part in ("lash", "valve", "seat", "follower", "lobe", "journal", "spring", "seal", "chamber"):
        page = browser.get(f"{BACK}?part={part}")
        seen |= set(re.findall(r'name="sign" value="(\w+)"', page))
        assert page.count('class="straight"') == page.count('class="raking"') >= 1
    assert seen == set(signs())


def test_a_head_is_received_in_its_customers_words_by_a_name(browser: Browser) -> None:
    assert "It has a name" in post(browser, "/receive", 422, complaint="ticks")
    browser.sit()
    assert "In his own words" in post(browser, "/receive", 422, complaint="  ")
    for field, text, told in (
        ("distance", "far", "is a number"),
        ("hours", "-1", "between 0"),
        ("events", "inf", "between 0"),
    ):
        assert told in post(browser, "/receive", 422, complaint="ticks", **{field: text})
    told = post(browser, "/receive", complaint="Ticks <b>loud</b>", distance="14,200")
    assert "Ticks &lt;b&gt;loud&lt;/b&gt;" in told
    assert "14,200 km" in told


def test_nothing_is_cleaned_before_it_was_looked_at_and_photographed(browser: Browser) -> None:
    browser.sit()
    assert "Receive the head first" in post(browser, "/stage", 422, stage="pictures")
    came_in(browser)
    assert "Not yet: photographed before any cleaning comes first" in post(browser, "/stage", 422, stage="cleaned")
    assert "no photograph of it yet" in post(browser, "/stage", 422, stage="pictures")
    post(browser, "/stage", stage="pictures", reason="the customer has them")
    assert "passed already" in post(browser, "/stage", 422, stage="pictures", reason="again")
    assert "A finding, head whole" in browser.get(BACK)
    post(browser, "/stage", stage="whole")
    assert "Nothing was found yet" in post(browser, "/stage", 422, stage="stripped")
    post(browser, "/stage", stage="stripped", reason="only the seals are changed")
    assert "A finding, stripped" in browser.get(BACK)
    assert "no photograph of it yet" in post(browser, "/stage", 422, stage="cleaned", reason="no")
    post(browser, "/stage", stage="cleaned", reason="nothing to see")
    assert "A finding, clean" in browser.get(BACK)
    assert "no stage of a teardown" in post(browser, "/stage", 422, stage="burnt")


@pytest.mark.parametrize(
    ("form", "told"),
    [
        ({"sign": "magic", "places": ["1I-a"], "severity": "seen"}, "Choose what was seen"),
        ({"sign": "tip_dents", "severity": "seen"}, "Where?"),
        ({"sign": "tip_dents", "places": ["9I-z"], "severity": "seen"}, "9I-z"),
        ({"sign": "tip_dents", "places": ["1I-a"]}, "How much of it"),
        ({"sign": "tip_dents", "places": ["1I-a"], "severity": "measurable step"}, "has a measure"),
    ],
)
def test_a_finding_that_says_too_little_is_refused_in_words(
    browser: Browser, form: dict[str, object], told: str
) -> None:
    came_in(browser)
    assert told in post(browser, "/find", 422, **form)
    assert findings(sheet(browser).events) == ()


def test_a_finding_wants_a_head_that_was_received(browser: Browser) -> None:
    browser.sit()
    assert "Receive the head first" in find(browser, "tip_dents", "1I-a", code=422)


def test_findings_lie_over_the_head_and_one_is_taken_back(browser: Browser) -> None:
    came_in(browser)
    find(browser, "tip_dents", "1I-a", "2I-b", severity="catches a nail", colour="bright")
    find(browser, "base_rub", absent="1", severity="")
    page = find(browser, "carbon", "3E-a")
    assert "1I-a: 1, out of limits" in page
    assert "No: Rub on the base circle" in page
    assert "2 km" not in browser.get(f"{BACK}?at=2I-b")
    assert "Dents or dots on the stem tip" not in browser.get(f"{BACK}?at=3E-a").partition("Found so far")[2]
    number = findings(sheet(browser).events)[0].number
    post(browser, "/take-back", finding=number)
    assert "taken back already" in post(browser, "/take-back", 422, finding=number)
    assert [f.sign for f in findings(sheet(browser).events)] == ["base_rub", "carbon"]


def test_a_strip_that_contradicts_what_was_seen_whole_keeps_both(browser: Browser) -> None:
    came_in(browser)
    find(browser, "tip_dents", "1I-a")
    for stage in ("pictures", "whole", "stripped"):
        post(browser, "/stage", stage=stage, reason="seen")
    page = find(browser, "tip_dents", "1I-a", absent="1", severity="")
    assert "contradicted by a later look, stripped" in page
    assert "contradicts what was seen with the head whole" in page
    assert "Nothing found here points anywhere" in browser.get(f"{BACK}/diagnosis")


def floated(browser: Browser) -> None:
    came_in(browser)
    find(browser, "tip_dents", "1I-a", severity="catches a nail")
    find(browser, "closing_flank", "1I-a")
    find(browser, "springs_lost", "1I-a", severity="measurable step", value="7 %")
    find(browser, "lash_closing")
    find(browser, "rings_even")
    find(browser, "shades")


def test_a_diagnosis_shows_its_chain_from_the_earliest_link_and_what_speaks_against(browser: Browser) -> None:
    assert "Nothing was found yet" in browser.get(f"{BACK}/diagnosis")
    floated(browser)
    page = browser.get(f"{BACK}/diagnosis")
    assert "One chain: seats sank, load was lost, valves floated" in page
    assert re.search(r'class="met first"><b>Seats sink</b><small class="began">earliest shown', page)
    assert "Bucket rings even" in page
    assert "−1" in page
    assert "Normal, and no sign of trouble:</b> chamber halves of different shade" in page
    assert "What would decide:" in page
    assert "%" not in re.sub(r"Springs lost more than 5 %|7 %", "", page.partition("<main")[2].partition("</main")[0])
    assert "Separation, intake" in page
    other = browser.get(f"{BACK}/diagnosis?of=exhaust")
    assert "Dents or dots" not in other.partition("<main")[2].partition("</main")[0]
    assert "Diagnosis, cylinder 1" in browser.get(f"{BACK}/diagnosis?of=1")


def test_each_side_has_its_own_headline_and_its_own_cause(browser: Browser) -> None:
    floated(browser)
    assert 'class="by-side"' not in browser.get(f"{BACK}/diagnosis")
    find(browser, "stem_blue", "2E-a", severity="measurable step", value="4 mm")
    page = browser.get(f"{BACK}/diagnosis")
    told = re.findall(r"<dt><a[^>]*>(\w+)</a></dt><dd>([^<]*)</dd>", page)
    assert [side for side, _ in told] == ["Intake", "Exhaust"]
    assert told[1][1] == causes()["heat"].title.lower()
    assert told[0][1] != told[1][1]
    post(browser, "/diagnosis", cause="heat", reason="purple at the neck", at="exhaust")
    post(browser, "/diagnosis", cause="open", reason="springs not on the tester yet", at="intake")
    assert "no such part" in post(browser, "/diagnosis", 422, cause="heat", reason="by its look", at="attic")
    page = re.sub(r"<[^>]+>", "", browser.get(f"{BACK}/diagnosis"))
    assert f"Named for exhaust: {causes()['heat'].title}" in page
    assert "Named for intake: open question, by Wen: springs not on the tester yet." in page
    assert [(n.at, n.cause) for n in named(sheet(browser).events)] == [("exhaust", "heat"), ("intake", "open")]


def test_a_cause_is_named_by_a_hand_and_a_tempting_remedy_asks_for_it(browser: Browser) -> None:
    floated(browser)
    told = post(browser, "/dispositions/remedy", 422, remedy="thinner_shim", reason="")
    assert "the shim hides it until a spring breaks" in told
    assert "what shows it" in post(browser, "/diagnosis", 422, cause="load_lost", reason="")
    page = post(browser, "/diagnosis", cause="load_lost", reason="springs 7 % down on the tester")
    assert "Named: <b>Load lost</b>" in page
    assert "Taken by Wen, for load lost" in post(browser, "/dispositions/remedy", remedy="thinner_shim")
    assert "Taken by Wen: to drive it home" in post(
        browser, "/dispositions/remedy", remedy="new_seals", reason="to drive it home"
    )


def test_a_head_is_sent_on_with_its_reason_its_cuts_and_its_parts_out(browser: Browser) -> None:
    floated(browser)
    bench, build = Bench(browser.workshop.database), browser.workshop.open(1).build
    by = next(e for e in sheet(browser).events).by
    bench.put_all(1, build, [("O-7", "outer", "1I-a"), ("V-7", "valve", "1I-a")], by)
    at = f"{BACK}/dispositions"
    base = browser.workshop.open(1).revision
    assert "Nothing was decided yet" in post(browser, "/dispositions/next", 422, base=base)
    assert "Choose one or several" in post(browser, "/dispositions", 422, kind="springs", what="replace the set")
    assert "Say what becomes of it" in post(browser, "/dispositions", 422, kind="springs", what="pray")
    assert "asks for this first: seat cut by" in post(
        browser, "/dispositions", 422, kind="seat", what="recut", places=["1I-a"]
    )
    intake = [p.label for p in places(build) if p.side == "intake"]
    post(browser, "/dispositions", kind="springs", what="replace the set", places=intake, cost="12.50")
    told = post(browser, "/dispositions", kind="seat", what="recut", places=["1I-a"], depth="0.10 mm", left="0.40 mm")
    assert "Costs <b>100.00</b> for 8 of 9 parts" in told
    assert "No cause is named" in post(browser, "/dispositions/next", 422, base=base)
    post(browser, "/diagnosis", cause="load_lost", reason="springs 7 % down")
    told = browser.get(at)
    assert "Load lost, springs 7 % down; springs replace the set (1I-a, 1I-b" in told
    assert "open height, room to the seal, tip, vacuum, seat width, lash at 1I-a" in told
    post(browser, "/dispositions/next", base=base)
    current = browser.workshop.open(1)
    assert current.revision == base + 1
    assert current.build.note.startswith("Came back: load lost, springs 7 % down")
    latest = browser.workshop.revisions(1).rows[0]
    assert words(latest.reason).startswith("Came back: load lost")
    now = sheet(browser)
    assert now.item_at("1I-a", "outer") == ""
    assert now.item_at("1I-a", "valve") == "V-7"
    assert [(c.seat_mm, c.valve) for c in now.cut_at("1I-a")] == [(0.1, "V-7")]
    assert isinstance(now.events[-1], SentOn)
    assert isinstance(now.events[-2], Put)
    assert findings(now.events) == ()
    assert "Receive the head" in browser.get(BACK)
    assert "Nothing decided yet" in browser.get(at)


def test_what_cannot_be_printed_never_gets_into_the_next_revision(browser: Browser) -> None:
    came_in(browser)
    post(browser, "/dispositions", kind="retainer", what="replace one", places=["1I-a"])
    post(browser, "/diagnosis", cause="float", reason="dents\x00on the\x07tip")
    base = browser.workshop.open(1).revision
    post(browser, "/dispositions/next", base=base)
    note = browser.workshop.open(1).build.note
    assert "dentson thetip" in note
    assert all(c.isprintable() or c == "\n" for c in note)
    assert read_build(write_build(browser.workshop.open(1).build)).note == note


def test_a_revision_made_meanwhile_stops_it_and_nothing_is_half_stored(browser: Browser) -> None:
    came_in(browser)
    post(browser, "/dispositions", kind="retainer", what="replace one", places=["1I-a"])
    current, before = browser.workshop.open(1), len(sheet(browser).events)
    other = change(current.build, "intake.stack.retainer.code", "R-9")
    browser.workshop.save(1, current.revision, other, WHO, Reason(Kind.FIELD, "intake.stack.retainer.code"))
    browser.post(f"{BACK}/dispositions/next", 409, base=current.revision)
    assert len(sheet(browser).events) == before


def test_a_head_without_places_says_what_is_missing(browser: Browser) -> None:
    browser.post("/builds", 302, name="Bare")
    for tail in ("", "/diagnosis", "/dispositions"):
        assert "cylinders" in browser.get(f"/builds/3/intake/back{tail}").lower()


def test_three_trays_ask_for_cause_and_reading_before_they_show_the_answer(browser: Browser) -> None:
    assert "Reading wear" in browser.get("/learning")
    browser.post("/learning/trays", 405)
    browser.client.get("/learning/trays?seed=7")
    asked = browser.get("/learning/trays/7")
    of = lesson(7)
    assert "That is my reading" in asked
    assert 'class="points"' not in asked
    assert "Name a cause" in browser.post("/learning/trays/7", 422, cause=of.cause, reading="")
    assert "Name a cause" in browser.post("/learning/trays/7", 422, cause="luck", reading="look")
    told = browser.post("/learning/trays/7", cause=of.cause, reading=causes()[of.cause].reading)
    assert "that would decide it" in told
    assert 'class="points"' in told
    other = next(c for c in causes() if c != of.cause and c not in {x for ch in chains() for x in ch.causes})
    assert f"not {causes()[other].title.lower()}" in browser.post("/learning/trays/7", cause=other, reading="look")
    browser.get("/learning/trays/1000000", 404)
    for text, seed in (("12", 12), ("x", 1), ("9999999", 1)):
        assert browser.client.get(f"/learning/trays?seed={text}").headers["Location"].endswith(f"/{seed}")
