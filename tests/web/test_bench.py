"""The bench on the page: named, tried at zero, read, asked again, taken back, matched, cut, waived, signed, in and out."""

import json
import re
import time
from threading import Thread

import pytest

from arcstack.application.bench import Bench
from arcstack.checks import Evidence
from arcstack.formats.readings_json import read_whole
from arcstack.readings import Cut, Phase, Reading, Zero
from arcstack.readings.brought import by_file
from arcstack.readings.built import as_built
from arcstack.readings.instruments.simulated import Faults, StandIn, StandInServer
from tests.web.conftest import Browser


@pytest.fixture
def at(browser: Browser) -> str:
    return f"/builds/{browser.sound}/intake/bench"


def bench(browser: Browser) -> Bench:
    found: Bench = browser.client.application.extensions["shop"].bench
    return found


def readings(browser: Browser) -> tuple[Reading, ...]:
    return bench(browser).sheet(browser.sound, browser.workshop.open(browser.sound).build).standing


def sit(browser: Browser, at: str, kind: str, name: str = "", zero: str = "", key: str = "open_height") -> None:
    """Name an instrument and try its zero."""
    name = name or f"{kind} 1"
    browser.post(f"{at}/with", 302, kind=kind, name=name, hand="Wen", key=key)
    usual = {
        "height": "35.00",
        "tester": "250",
        "vacuum": "0.85",
        "dial": "0",
        "scale": "100 g",
        "bore": "6.000",
        "micrometer": "0",
        "ruler": "0",
    }
    browser.post(f"{at}/zero", 302, name=name, text=zero or usual[kind], key=key)


def test_an_instrument_and_a_hand_are_named_before_the_first_reading(browser: Browser, at: str) -> None:
    page = browser.get(f"{at}?key=open_height&place=1I-a")
    assert "Read with which height micrometer, by whom?" in page
    assert "Whose hand reads?" in browser.post(f"{at}/with", 422, kind="height", name="H-2", hand="")
    assert "Name the instrument" in browser.post(at, 422, key="open_height", place="1I-a", text="36.80")
    assert readings(browser) == ()


def test_a_zero_off_by_more_than_twice_its_resolution_stops_the_instrument(browser: Browser, at: str) -> None:
    browser.post(f"{at}/with", 302, kind="height", name="H-2", hand="Wen")
    assert "off by 0.030 mm" in browser.post(f"{at}/zero", 422, name="H-2", text="35.03")
    assert "Name the instrument" in browser.post(at, 422, key="tip_height", place="1I-a", text="47.00")
    # corrected by name, every reading has it taken off
    browser.post(f"{at}/zero", 302, name="H-2", text="35.03", correct="1")
    browser.post(at, key="tip_height", place="1I-a", text="47.03")
    (taken,) = readings(browser)
    assert taken.value == pytest.approx(47.00)
    # what it says is what stands; what the instrument showed is kept beside it
    assert taken.typed == "47 mm"
    assert taken.note == "shown as 47.03 mm, corrected by name"
    zero = next(
        e
        for e in bench(browser).sheet(browser.sound, browser.workshop.open(browser.sound).build).events
        if isinstance(e, Zero) and e.good
    )
    assert zero.correction == pytest.approx(0.03)


def test_enter_takes_a_reading_and_goes_to_the_next_place(browser: Browser, at: str) -> None:
    sit(browser, at, "height")
    page = browser.post(at, key="tip_height", place="1I-a", text="47.00")
    assert '<h2 id="spot-title">1I-b</h2>' in page
    assert "1I-a: 47.00 mm taken." in page
    kept = readings(browser)[0]
    assert (kept.place, kept.value, kept.by.hand, kept.by.instrument, kept.resolution) == (
        "1I-a",
        47.0,
        "Wen",
        "height 1",
        0.01,
    )
    assert kept.phase is Phase.FINAL


def test_a_wild_reading_is_asked_about_and_taken_when_it_is_meant(browser: Browser, at: str) -> None:
    sit(browser, at, "height")
    browser.post(at, key="tip_height", place="1I-a", text="47.00")
    page = browser.post(at, key="tip_height", place="1I-b", text="74.00")
    assert "Again?" in page
    assert 'value="74.00"' in page
    assert len(readings(browser)) == 1
    browser.post(at, key="tip_height", place="1I-b", text="74.00", sure="1", sure_of="74.00")
    assert [r.value for r in readings(browser)] == [47.0, 74.0]


@pytest.mark.parametrize(
    ("key", "place", "text", "words"),
    [
        ("tip_height", "9I-a", "47.0", "This head has no place 9I-a"),
        ("tip_height", "1I-a", "47 N", "length"),
        ("tip_height", "1I-a", "", "Tip height"),
        ("tip_height", "1I-a", "none", "there is always one"),
        ("tip_height", "1I-a", "470 mm", "between"),
        ("colour", "1I-a", "47.0", "no figure called colour"),
        ("shims", "1I-a", "a + b", "as 0.50 + 0.25"),
        ("valve_mass", "1I-a", "5 bar", "mass"),
    ],
)
def test_what_is_no_reading_is_refused_in_words_and_nothing_is_stored(
    browser: Browser, at: str, key: str, place: str, text: str, words: str
) -> None:
    for kind in ("height", "scale", "micrometer"):
        sit(browser, at, kind, key=key)
    page = browser.post(at, 422, key=key, place=place, text=text)
    assert words in re.sub(r"<[^>]+>", "", page)
    assert readings(browser) == ()


def test_a_question_keeps_note_unit_and_condition_with_the_figure(browser: Browser, at: str) -> None:
    sit(browser, at, "vacuum", key="vacuum")
    for place in ("1I-a", "1I-b", "2I-a", "2I-b", "3I-a"):
        browser.post(at, key="vacuum", place=place, text="0.82")
    given = {
        "key": "vacuum",
        "place": "3I-b",
        "text": "10 inHg",
        "unit": "in",
        "note": "grease on it",
        "with_spring": "1",
    }
    page = browser.post(at, **given)
    assert "Again?" in page
    for kept in ('value="10 inHg"', 'value="grease on it"', 'value="1" checked', '<option value="in" selected>'):
        assert kept in page
    # the next place starts clean
    page = browser.post(at, sure="1", sure_of=given["text"], **given)
    assert "grease on it" not in re.sub(r"<small>.*?</small>", "", page)
    assert 'value="1" checked' not in page


def test_the_last_is_taken_back_and_stays_to_be_seen(browser: Browser, at: str) -> None:
    sit(browser, at, "height")
    browser.post(at, key="tip_height", place="1I-a", text="47.00")
    browser.post(at, key="tip_height", place="1I-b", text="47.02")
    page = browser.post(f"{at}/back", key="tip_height")
    assert "1I-b: 47.02 mm taken back" in page
    assert "<s>47.02 mm</s>" in page
    assert [r.place for r in readings(browser)] == ["1I-a"]
    browser.post(f"{at}/back", key="tip_height")
    assert "nothing of yours to take back" in browser.post(f"{at}/back", key="tip_height")


def test_another_hand_that_was_faster_is_said(browser: Browser, at: str) -> None:
    sit(browser, at, "height")
    browser.post(at, key="tip_height", place="1I-a", text="47.00", seen="0")
    browser.post("/who", 302, who="Ida", back="/")
    sit_again = browser.post(f"{at}/with", 302, kind="height", name="height 1", hand="Ida", key="tip_height")
    assert sit_again is not None
    browser.post(f"{at}/zero", 302, name="height 1", text="35.00")
    page = browser.post(at, key="tip_height", place="1I-a", text="47.05", seen="0")
    assert "Wen read 47.00 mm here meanwhile" in page
    browser.post(at, key="tip_height", place="1I-a", text="47.05", seen="0", sure="1", sure_of="47.05")
    assert [r.value for r in readings(browser)] == [47.05]


def test_a_unit_may_change_with_the_field(browser: Browser, at: str) -> None:
    sit(browser, at, "height")
    browser.post(at, key="tip_height", place="1I-a", text="1.8504", unit="in")
    assert readings(browser)[0].value == pytest.approx(47.00, abs=0.001)


def test_an_open_height_says_what_it_means(browser: Browser, at: str) -> None:
    sit(browser, at, "height")
    browser.post(at, key="open_height", place="1I-a", text="36.81")
    page = browser.post(at, key="open_height", place="1I-a", text="36.82")
    words = re.sub(r"<[^>]+>", "", page)
    assert "1I-a stands at" in words
    assert "N less on the seat than the design" in words


def test_a_vacuum_with_a_spring_in_is_kept_and_does_not_count(browser: Browser, at: str) -> None:
    sit(browser, at, "vacuum", key="vacuum")
    page = browser.post(at, key="vacuum", place="1I-a", text="0.84", with_spring="1")
    assert "with spring: it does not count" in page
    assert "needs vacuum" in re.sub(r"<[^>]+>", "", browser.get(f"{at}/built?check=seat.vacuum&place=1I-a")).lower()


def spring(browser: Browser, at: str, serial: str, load: float, solid: str = "21.6", **more: object) -> str:
    given = {"item": serial, "load_1": f"{load}", "load_2": f"{load + 340:.1f}", "solid": solid, "mass": "42 g"} | more
    return browser.post(f"{at}/springs", **given)


def test_springs_are_sorted_by_their_own_solid_height(browser: Browser, at: str) -> None:
    sit(browser, at, "tester")
    page = browser.get(f"{at}/springs")
    allowed = float(re.search(r"reading-figure static\">([0-9.]+)", page)[1])  # type: ignore[index]
    spring(browser, at, "s-01", 268.0, f"{allowed - 0.1:.2f}")
    page = spring(browser, at, "S-02", 270.0, f"{allowed + 0.4:.2f}")
    rows = dict(re.findall(r'<th scope="row">(S-0\d).*?(pass|reject)', page, re.S))
    assert rows == {"S-01": "pass", "S-02": "reject"}


def test_a_solid_height_above_the_installed_one_is_asked_about(browser: Browser, at: str) -> None:
    sit(browser, at, "tester")
    assert "at which S-01 carried its load. Again?" in spring(browser, at, "S-01", 268.0, "37.0")
    assert readings(browser) == ()


def test_a_height_a_thousand_times_too_large_is_refused_whole(browser: Browser, at: str) -> None:
    sit(browser, at, "tester")
    page = browser.post(f"{at}/springs", 422, item="S-01", height_1="36000 mm", load_1="270", load_2="600")
    assert "between" in page
    assert readings(browser) == ()


def test_what_was_not_taken_after_all_is_seen_nowhere(browser: Browser, at: str) -> None:
    """A table that fails at its last line leaves no trace, though the next reading takes the number of its first."""
    sit(browser, at, "height")
    table = "place;tip height\n1I-a;47.0\n1I-b;47.1\n2I-a;48.9\n"
    assert "Nothing was taken" in browser.post(f"{at}/table", 422, text=table, take="1", instrument="H-2")
    for place in ("4I-a", "4I-b"):
        browser.post(at, key="tip_height", place=place, text="47.30")
    assert [(r.place, r.value) for r in readings(browser)] == [("4I-a", 47.30), ("4I-b", 47.30)]


def test_a_spring_that_lost_load_in_service_is_retired(browser: Browser, at: str) -> None:
    sit(browser, at, "tester")
    spring(browser, at, "S-01", 270.0)
    browser.post(f"{at}/phase", 302, phase="service 1", key="tip_height")
    page = browser.post(f"{at}/springs", item="S-01", load_1="245")
    assert re.search(r"9\.3 %.*retire", page, re.S)


def test_springs_are_matched_put_and_the_spread_is_said(browser: Browser, at: str) -> None:
    sit(browser, at, "tester")
    assert "8 more springs" in browser.get(f"{at}/matching")
    for n, load in enumerate((266, 269, 272, 275, 271, 268, 273, 270), 1):
        spring(browser, at, f"S-0{n}", load)
    page = browser.get(f"{at}/matching?school=least")
    layout = re.search(r'name="layout" value="([^"]+)"', page)[1]  # type: ignore[index]
    before, after = map(float, re.search(r"as laid out <b>([0-9.]+) N</b>, matched <b>([0-9.]+) N</b>", page).groups())  # type: ignore[union-attr]
    assert after <= before
    assert "look again" in browser.post(f"{at}/matching", 409, school="least", layout="other")
    browser.post(f"{at}/matching", 302, school="least", layout=layout)
    sheet = bench(browser).sheet(browser.sound, browser.workshop.open(browser.sound).build)
    assert {p.label: sheet.item_at(p.label, "outer") for p in sheet.places if p.side == "intake"} == dict(
        pair.split("=") for pair in layout.split(",")
    )
    assert "set.load_spread" not in browser.get(f"{at}/to-do")


def test_a_cut_is_looked_at_before_it_is_booked_and_never_given_back(browser: Browser, at: str) -> None:
    page = browser.get(f"{at}/cut?place=1I-a&face=0.10&seat=0.20")
    words = re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", page))
    assert "the valve rises 0.30 mm" in words
    assert "Bucket lash changes by −0.30 mm" in words
    assert "Installed height" in words
    assert "not given back" in browser.get(f"{at}/cut?place=1I-a&face=-0.10")
    browser.post(f"{at}/cut", 302, place="1I-a", face="0.10", seat="0.20", tip="", note="seat burnt")
    assert "Say at which place" in browser.post(f"{at}/cut", 422, place="1I-a")
    sheet = bench(browser).sheet(browser.sound, browser.workshop.open(browser.sound).build)
    assert [(e.place, e.face_mm, e.seat_mm) for e in sheet.events if isinstance(e, Cut)] == [("1I-a", 0.1, 0.2)]


def test_a_fault_is_let_pass_by_hand_with_a_reason_and_an_end(browser: Browser, at: str) -> None:
    sit(browser, at, "vacuum", key="vacuum")
    browser.post(at, key="vacuum", place="1I-a", text="0.60")
    assert "when it ends" in browser.post(
        f"{at}/to-do/waive", 422, check="seat.vacuum", place="1I-a", reason="old seat"
    )
    browser.post(
        f"{at}/to-do/waive",
        302,
        check="seat.vacuum",
        place="1I-a",
        reason="laps in",
        until="500 km",
        settles="read again",
    )
    page = browser.get(f"{at}/to-do")
    assert "Let pass by hand" in page
    assert "Seat vacuum fails at 1I-a" not in page
    page = browser.get(f"{at}/built?check=seat.vacuum&place=1I-a")
    assert "Let pass by <b>Wen</b> until 500 km" in page
    assert 'class="mark waived' in page
    browser.post(f"{at}/to-do/waive", 302, check="seat.vacuum", place="1I-a", ended="1")
    assert "Seat vacuum fails at 1I-a" in browser.get(f"{at}/to-do")
    browser.post(f"{at}/to-do/waive", 404, check="no.check", place="1I-a")


def test_the_margins_are_those_of_the_side_the_units_and_the_last_reading(browser: Browser, at: str) -> None:
    def margins(address: str) -> str:
        found = re.search(r'<ul><li class="gauge built.*?</ul>', browser.get(address), re.S)
        assert found
        return found[0]

    first = margins(at)
    assert margins(f"{at}/to-do") == first
    # the side that is asked for is the one that is read next
    assert "1E-a" in browser.get(at.replace("/intake/", "/exhaust/"))
    other = margins(at.replace("/intake/", "/exhaust/"))
    assert "/exhaust/bench/built" in other
    assert "/intake/bench/built" not in other
    sit(browser, at, "height")
    for _ in range(2):
        browser.post(at, 200, key="open_height", place="1I-a", text="36.72", sure="1", sure_of="36.72")
    read = margins(at)
    assert read != first
    assert margins(at.replace("/intake/", "/exhaust/")) == other
    browser.post("/units", 302, system="in", back="/")
    inches = margins(at)
    assert "<small>in</small>" in inches
    assert "<small>mm</small>" not in inches
    browser.post("/units", 302, system="mm", back="/")
    assert margins(at) == read


def test_a_gate_is_signed_with_what_stands_against_it_said(browser: Browser, at: str) -> None:
    assert "Say whose hand signs" in browser.post(f"{at}/to-do/sign", 422, gate="bench")
    browser.post("/who", 302, who="Wen", back="/")
    assert "stand against it" in browser.post(f"{at}/to-do/sign", 422, gate="bench")
    browser.post(f"{at}/to-do/sign", 302, gate="bench", sure="1")
    assert "Signed by <b>Wen</b>" in browser.get(f"{at}/to-do")


def test_what_is_left_is_listed_with_its_time_and_what_to_measure_next(browser: Browser, at: str) -> None:
    page = re.sub(r"<[^>]+>", " ", browser.get(f"{at}/to-do"))
    assert re.search(r"\d+ readings to take, about \d+ min", page)
    assert "decides this: measured to" in page


def test_an_exchanged_retainer_opens_what_rests_on_it(browser: Browser, at: str) -> None:
    sit(browser, at, "height")
    for text in ("36.80", "36.81"):
        browser.post(at, key="open_height", place="1I-a", text=text)
    build = browser.workshop.open(browser.sound)
    browser.post(
        f"/builds/{browser.sound}/edit",
        path="intake.stack.retainer.code",
        text="R-99",
        base=build.revision,
        stage="stack",
        side="intake",
    )
    page = browser.get(f"{at}?key=open_height&place=1I-a")
    assert "1I-a: 36.80, stale" in page or "1I-a: 36.81, stale" in page
    assert "Retainer" in browser.get(f"{at}/to-do")


def test_a_table_is_shown_line_by_line_before_it_is_taken(browser: Browser, at: str) -> None:
    table = "place; open height [mm]; tip height\n1I-a; 36,80; 47.0\n1I-b; 36.82; 470\n"
    page = browser.post(f"{at}/table", text=table)
    assert "3 of 4 understood" in page
    assert "nothing was taken" in browser.post(f"{at}/table", 422, text=table, take="1")
    good = table.replace("470", "47.1")
    browser.post(f"{at}/table", 302, text=good, take="1", instrument="H-2")
    assert [(r.place, r.key, r.value) for r in readings(browser)] == [
        ("1I-a", "open_height", 36.8), ("1I-a", "tip_height", 47.0), ("1I-b", "open_height", 36.82), ("1I-b", "tip_height", 47.1),
    ]  # fmt: skip
    out = browser.get(f"{at}/table/readings.csv")
    assert out.splitlines()[0].startswith("place,item,figure,reading")
    assert "4 of 4 understood" in browser.post(f"{at}/table", text=out)


def test_a_table_counts_as_measured_only_by_an_instrument_that_was_on_its_zero(browser: Browser, at: str) -> None:
    table = "place;open height;tip height;instrument\n1I-a;36.80;47.0;\n1I-b;36.82;47.1;H-3\n"
    page = browser.post(f"{at}/table", text=table, instrument="eye")
    assert "0 of 4 count as measured" in page
    assert "name no height micrometer of this workshop that was on its zero today" in page
    sit(browser, at, "height", "H-2")
    sit(browser, at, "dial", "D-1")
    for name, good in (("H-2", 2), ("D-1", 0), ("eye", 0)):
        assert f"{good} of 4 count as measured" in browser.post(f"{at}/table", text=table, instrument=name)
    browser.post(f"{at}/table", 302, text=table, take="1", instrument="H-2")
    assert [(r.place, r.by.instrument) for r in readings(browser)] == [
        ("1I-a", "H-2"), ("1I-a", "H-2"), ("1I-b", ""), ("1I-b", ""),
    ]  # fmt: skip
    build = browser.workshop.open(browser.sound).build
    sheet = bench(browser).sheet(browser.sound, build)
    worth = [as_built(sheet, p).intake.stack.open_height.stands for p in sheet.places if p.label in ("1I-a", "1I-b")]
    assert worth == [Evidence.MEASURED, Evidence.ASSUMED]


def test_hand_and_instrument_are_shown_where_a_figure_is_taken_and_changed_there(browser: Browser, at: str) -> None:
    sit(browser, at, "height", "H-2")
    spot = f"{at}?key=open_height&place=1I-a"
    page = browser.get(spot)
    assert re.search(r"Wen · H-2, zero\s+35\.00\d* mm at", re.sub(r"<[^>]+>", "", page)), page.split("reading-with")[1][
        :300
    ]
    asks = browser.get(f"{spot}&sit=1")
    assert "Read with which height micrometer, by whom?" in asks
    assert "Keep H-2" in asks
    assert 'id="reading-form"' not in asks
    browser.post(f"{at}/with", 302, kind="height", name="H-9", hand="Ilse", key="open_height")
    page = browser.get(spot)
    assert "H-9: zero first." in page
    browser.post(f"{at}/zero", 302, name="H-9", text="35.00", key="open_height")
    browser.post(at, key="open_height", place="1I-a", text="36.80")
    assert (readings(browser)[0].by.hand, readings(browser)[0].by.instrument) == ("Ilse", "H-9")


def test_what_a_spreadsheet_would_run_leaves_as_text_and_comes_back(browser: Browser, at: str) -> None:
    sit(browser, at, "height", "@SUM(1)")
    browser.sit(hand="=1+1")
    browser.post(f"{at}/table", 302, text="place;tip height\n1I-a;47.0\n", take="1", instrument="@SUM(1)")
    out = browser.get(f"{at}/table/readings.csv")
    cells = [c for line in out.splitlines()[1:] for c in line.split(",")]
    assert "'@SUM(1)" in cells
    assert "'=1+1" in cells
    assert not [c for c in cells if c and c[0] in "=@+\t"]
    assert "1 of 1 understood" in browser.post(f"{at}/table", text=out)


@pytest.mark.parametrize(
    ("text", "words"),
    [("", "no reading in it"), ("a;b\n1;2", "a column called place"), ("place;place\n1;2", "Two columns"), ("place;colour\n1I-a;2", "no figure called"), ("place\n1I-a", "no column of a figure")],
)  # fmt: skip
def test_a_file_that_is_no_table_of_readings_is_refused(browser: Browser, at: str, text: str, words: str) -> None:
    assert words in browser.post(f"{at}/table", 422, text=text)


def test_two_columns_exchanged_are_noticed(browser: Browser, at: str) -> None:
    page = browser.post(f"{at}/table", text="place;vacuum;tip height\n1I-a;47.0;0.82\n")
    assert "0 of 2 understood" in page


def test_a_build_carries_its_readings_and_comes_back_whole(browser: Browser, at: str) -> None:
    sit(browser, at, "height")
    browser.post(at, key="tip_height", place="1I-a", text="47.00")
    browser.post(at, key="tip_height", place="1I-a", text="47.04", sure="1", sure_of="47.04", seen="99")
    browser.post(f"{at}/cut", 302, place="1I-a", face="0.10")
    text = browser.get(f"/builds/{browser.sound}/export")
    build, rows, events = read_whole(text)
    assert len(rows) == 2
    browser.post("/builds/import", 302, answer="own", text=text, name="copy.json")
    made = int(re.search(r"/builds/(\d+)/", browser.headers["Location"])[1])  # type: ignore[index]
    again = bench(browser).sheet(made, build)
    # under a name that says that it came by a file
    assert [(r.value, r.place, r.typed, r.by) for r in again.standing] == [
        (r.value, r.place, r.typed, by_file(r.by)) for r in readings(browser)
    ]
    assert len(again.events) == len(events) + 1
    broken = json.loads(text)
    broken["bench_rows"]["readings"][0]["value"] = "much"
    count = len(browser.workshop.builds().rows)
    assert "Nothing was stored" in browser.post(
        "/builds/import", 422, answer="own", text=json.dumps(broken), name="x.json"
    )
    assert len(browser.workshop.builds().rows) == count


def test_a_linked_instrument_is_asked_and_heard(browser: Browser, at: str) -> None:
    server = StandInServer(StandIn("height", truth=lambda place, figure: 36.80, faults=Faults(0.0, 0.0, 0.0, 0.0)))
    Thread(target=server.serve_forever, daemon=True).start()
    form = {
        "name": "H-9",
        "kind": "height",
        "address": f"socket://127.0.0.1:{server.port}",
        "asks": "R {place} {figure}",
    }
    assert "not on the list" in browser.post("/instruments", 422, **form)
    browser.post("/instruments/addresses", 302, address=form["address"])
    browser.post("/instruments", 302, **form)
    asked = json.loads(browser.post(f"{at}/ask", name="H-9", place="1I-a", key="open_height"))
    text = ""
    for _ in range(200):
        time.sleep(0.02)
        told = json.loads(browser.get(f"{at}/heard?name=H-9&after={asked['after']}&place=1I-a&key=open_height"))
        text = told.get("text", "")
        if text:
            break
    assert text == "36.80 mm"
    # what it was asked for at one place is no reading of the next, however late it comes
    asked = json.loads(browser.post(f"{at}/ask", name="H-9", place="1I-b", key="open_height"))
    told = {}
    for _ in range(200):
        time.sleep(0.02)
        told = json.loads(browser.get(f"{at}/heard?name=H-9&after={asked['after']}&place=2I-a&key=open_height"))
        if told.get("trouble"):
            break
    assert told["text"] == ""
    assert told["trouble"] == "H-9 answered late, for 1I-b: 36.80 mm. It was taken nowhere; read it there again."
    server.shutdown()
    server.server_close()
    assert "trouble" in json.loads(browser.get(f"{at}/heard?name=nobody&after=0"))
    browser.post("/instruments/remove", 302, name="H-9")


@pytest.mark.parametrize(
    ("form", "words"),
    [({"kind": "height", "name": ""}, "Name"), ({"kind": "x", "name": "a"}, "kind of instrument"), ({"kind": "height", "name": "a", "resolution": "3 N"}, "length"), ({"kind": "height", "name": "a", "pattern": "("}, "pattern"), ({"kind": "height", "name": "a", "speed": "fast"}, "baud"), ({"kind": "height", "name": "a", "address": "spy://socket://127.0.0.1:1?file=x"}, "not on the list"), ({"kind": "height", "name": "a", "address": "/etc/passwd"}, "not on the list"), ({"kind": "height", "name": "a", "asks": "R\r\nDELE 1"}, "one line of plain letters"), ({"kind": "height", "name": "a", "pattern": "(?P<value>a)(?=b)"}, "pattern")],
)  # fmt: skip
def test_an_instrument_that_cannot_be_is_refused(browser: Browser, form: dict[str, str], words: str) -> None:
    assert words in browser.post("/instruments", 422, **form)


def test_an_instrument_that_does_not_answer_is_kept_and_said(browser: Browser) -> None:
    at = "socket://127.0.0.1:1"
    assert "serial port" in browser.post("/instruments/addresses", 422, address="file:///etc/passwd")
    browser.post("/instruments/addresses", 302, address=at)
    assert "does not answer" in browser.post("/instruments", name="H-8", kind="height", address=at)
    # off the list again, nothing is reached there
    browser.post("/instruments/addresses/off", 302, address=at)
    told = json.loads(browser.get("/builds/1/intake/bench/heard?name=H-8"))
    assert "not on the owner" in told["trouble"]


def test_a_head_without_cylinders_says_what_to_enter(browser: Browser) -> None:
    from arcstack.document import Build
    from tests.web.conftest import WHO

    made = browser.workshop.create(Build(name="Bare"), WHO)
    assert "how many cylinders" in browser.get(f"/builds/{made}/intake/bench")


def test_a_lesson_is_started_measured_and_its_truth_shown(browser: Browser) -> None:
    assert "The whole head" in browser.get("/learning")
    assert "whole number" in browser.post("/learning", 422, lesson="zero", seed="x")
    browser.post("/learning", 302, lesson="zero", seed="3")
    made = int(re.search(r"/builds/(\d+)/", browser.headers["Location"])[1])  # type: ignore[index]
    at = f"/builds/{made}/intake/bench"
    assert "To the bench" in browser.get(f"{at}/lesson")
    page = browser.get(f"{at}?key=runout&place=1I-a")
    assert f"Lesson {made}: dial: zero first." in re.sub(r"<[^>]+>", "", page)
    asked = json.loads(browser.post(f"{at}/ask", name=f"Lesson {made}: dial", place="1I-a", key="runout"))
    text = ""
    for _ in range(200):
        time.sleep(0.02)
        text = json.loads(
            browser.get(f"{at}/heard?name=Lesson {made}: dial&after={asked['after']}&place=1I-a&key=runout")
        ).get("text", "")
        if text:
            break
    assert text.endswith(" mm")
    # named: what it is and where, and what is not there is a false alarm
    assert "one of the list" in browser.post(f"{at}/lesson/name", 422, fault="a curse", where="1I-a")
    assert "Say where" in browser.post(f"{at}/lesson/name", 422, fault="a bent valve", where="9X")
    browser.post(f"{at}/lesson/name", 302, fault="a seat that leaks", where="1i-A")
    browser.post(f"{at}/lesson/name", 302, fault="a seat that leaks", where="2I-a")
    browser.post(f"{at}/lesson/name", 302, fault="a seat that leaks", where="2I-a", off="1")
    browser.post(f"{at}/lesson", 302)
    page = browser.get(f"{at}/lesson")
    assert "0 of 1 faults found, 1 false alarm" in page
    assert "a seat that leaks, 1I-a" in page
    assert "counts for nothing" in browser.post(f"{at}/lesson/name", 422, fault="a bent valve", where="1I-a")
    assert "never measured" in page
    assert "a bent valve" in page
    browser.get(f"/builds/{browser.sound}/intake/bench/lesson", 404)


def test_the_map_of_a_check_tells_read_from_read_in_part_and_from_what_no_longer_holds(
    browser: Browser, at: str
) -> None:
    sit(browser, at, "height")
    for text in ("36.80", "36.81"):
        browser.post(at, key="open_height", place="1I-a", text=text)
    page = browser.get(f"{at}/built?check=stack.installed_height&place=1I-a")
    cells = dict(re.findall(r'data-place="([^"]+)" class="head-cell (\w+)', page))
    assert cells["1I-a"] == "part"
    assert cells["1I-b"] == "empty"
    assert "0 of 8 measured; at 1I-a still on paper: shim" in plain_text(page)
    sit(browser, at, "micrometer", key="shims")
    browser.post(at, key="shims", place="1I-a", text="0.50 + 0.25")
    page = browser.get(f"{at}/built?check=stack.installed_height&place=1I-a")
    assert dict(re.findall(r'data-place="([^"]+)" class="head-cell (\w+)', page))["1I-a"] == "read"
    assert "1 of 8 measured" in plain_text(page)
    build = browser.workshop.open(browser.sound)
    form = {
        "path": "intake.stack.locks.code",
        "text": "L-other",
        "base": build.revision,
        "stage": "stack",
        "side": "intake",
    }
    browser.post(f"/builds/{browser.sound}/edit", 200, **form)
    page = browser.get(f"{at}/built?check=stack.installed_height&place=1I-a")
    assert dict(re.findall(r'data-place="([^"]+)" class="head-cell (\w+)', page))["1I-a"] == "stale"
    assert "0 of 8 measured" in plain_text(page)


def plain_text(page: str) -> str:
    return re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", page))


def test_after_a_question_another_wild_figure_is_asked_about_too(browser: Browser, at: str) -> None:
    sit(browser, at, "height")
    for place in ("1I-a", "1I-b", "2I-a", "2I-b", "3I-a"):
        browser.post(at, key="tip_height", place=place, text="47.00")
    assert "Again?" in browser.post(at, key="tip_height", place="3I-b", text="74.00")
    assert "Again?" in browser.post(at, key="tip_height", place="3I-b", text="57.40", sure="1", sure_of="74.00")
    assert len(readings(browser)) == 5


def test_a_phase_chosen_on_one_head_is_no_other_s(browser: Browser, at: str) -> None:
    browser.post(f"{at}/phase", 302, phase="incoming", key="tip_height", place="1I-a")
    sit(browser, at, "height", key="tip_height")
    browser.post(at, key="tip_height", place="1I-a", text="47.00")
    assert readings(browser)[-1].phase is Phase.INCOMING
    other = f"/builds/{browser.failing}/intake/bench"
    browser.post(other, key="tip_height", place="1I-a", text="46.00")
    found = bench(browser).sheet(browser.failing, browser.workshop.open(browser.failing).build).readings
    # the gauge's zero belongs to it on every head; the phase does not
    assert [(r.typed, r.phase) for r in found] == [("46.00 mm", Phase.FINAL)]


def test_a_zero_found_off_marks_what_was_read_since_the_last_good_one(browser: Browser, at: str) -> None:
    sit(browser, at, "height", name="H-2")
    browser.post(at, key="tip_height", place="1I-a", text="47.00")
    browser.post(f"{at}/zero", 302, name="H-2", text="35.00", key="tip_height")
    browser.post(at, key="tip_height", place="1I-b", text="47.01")
    browser.post(f"{at}/zero", 422, name="H-2", text="35.07", key="tip_height")
    sheet = bench(browser).sheet(browser.sound, browser.workshop.open(browser.sound).build)
    told = {p.label: s.stale for p in sheet.places if (s := sheet.settled(p, "tip_height")) is not None}
    assert told == {"1I-a": "", "1I-b": "H-2 was found off when it was next tried"}


def test_one_hand_is_one_hand_however_its_name_is_typed(browser: Browser, at: str) -> None:
    sit(browser, at, "height")
    browser.post(at, key="tip_height", place="1I-a", text="47.00")
    browser.post(f"{at}/with", 302, kind="height", name="height 1", hand=" wen ", key="tip_height")
    assert "taken back" in browser.post(f"{at}/back", key="tip_height", place="1I-b")


def test_a_cut_below_what_is_there_is_not_booked_unasked(browser: Browser, at: str) -> None:
    told = browser.post(f"{at}/cut", 422, place="1I-a", face="", seat="", tip="0.60", note="")
    assert "its hard skin is about 0.5 mm" in told
    browser.post(f"{at}/cut", 302, place="1I-a", face="", seat="", tip="0.60", note="a cap goes on it")
    build = browser.workshop.open(browser.sound)
    form = {
        "path": "intake.stack.valve.margin",
        "text": "1.2 mm",
        "base": build.revision,
        "stage": "stack",
        "side": "intake",
    }
    browser.post(f"/builds/{browser.sound}/edit", 200, **form)
    assert "cannot have come off its face" in browser.post(
        f"{at}/cut", 422, place="1I-b", face="2.9", seat="", tip="", note="x y z"
    )
