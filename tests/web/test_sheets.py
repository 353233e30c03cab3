"""Sheets: on the page and as PDF the same words and figures, of what stands or of what was signed."""

import io
import re
from html import unescape

import pytest
from pypdf import PdfReader

from arcstack.application.bench import Bench
from arcstack.checks import Level
from arcstack.demo.recorded import returned_record
from arcstack.demo.returned import returned_head
from arcstack.document import change
from arcstack.errors import DocumentError
from arcstack.formats.sheets import Drawing, Pictured, Pictures, Printed, pdf
from arcstack.readings.pictured import SHOTS
from arcstack.readings.returning import Received, What
from arcstack.readings.sent_on import SentOn
from arcstack.readings.taking import How
from arcstack.record.plain import languages, last_look, plain
from arcstack.sheets.report import FIGURES
from arcstack.sheets.saying import mark_drawings
from arcstack.store import Kind, Reason
from arcstack.wear.dispositions import kinds
from arcstack.wear.signs import causes, signs
from arcstack.web.pages.record.sheets import KINDS
from tests.application.pictured import picture
from tests.builds import bramble, quill, sorrel, teasel
from tests.readings.bench import BY
from tests.web.conftest import WHO, Browser
from tests.web.test_record import LINE, let_all_pass, marks, post

UNITS = ("mm", "in", "both")


@pytest.fixture
def returned(browser: Browser) -> int:
    """The demo's head that came back, with its record."""
    build, readings, events = returned_head()
    number = browser.workshop.create(build, WHO)
    record = returned_record(max(e.number for e in events) + 1)
    with browser.workshop.database.session(writes=True) as unit:
        Bench(browser.workshop.database).laid_in(unit, number, readings, [*events, *record])
    return number


def bare(text: str) -> str:
    """A text without any space, for a comparison that does not care where a line was broken."""
    return re.sub(r"\s+", "", text)


def told(browser: Browser, build: int, key: str, units: str = "mm") -> str:
    """The page's words."""
    page = browser.get(f"/builds/{build}/intake/sheets/{key}?units={units}")
    body = re.search(r'<main id="work".*?</main>', page, re.S)
    assert body
    without = re.sub(r"<svg.*?</svg>", " ", body[0], flags=re.S)
    return unescape(re.sub(r"<[^>]+>", " ", without))


def printed(browser: Browser, build: int, key: str, units: str = "mm") -> tuple[str, PdfReader]:
    data = browser.client.get(f"/builds/{build}/intake/sheets/{key}.pdf?units={units}")
    assert data.status_code == 200
    assert data.mimetype == "application/pdf"
    reader = PdfReader(io.BytesIO(data.get_data()))
    return " ".join(page.extract_text() for page in reader.pages), reader


FIGURE = re.compile(r"[−≥≤]?\d[\d,.]*(?: ?(?:mm|N|rpm|in|lbf|bar|psi|g|MPa|m/s|°|cm³))?")


@pytest.mark.parametrize("key", list(KINDS))
@pytest.mark.parametrize("units", UNITS)
def test_a_pdf_says_exactly_what_the_page_says(browser: Browser, returned: int, key: str, units: str) -> None:
    for build in (1, 2, returned):
        page = told(browser, build, key, units)
        paper = bare(printed(browser, build, key, units)[0])
        missing = [w for w in FIGURE.findall(page) if bare(w) not in paper]
        assert missing == [], (build, missing[:5])
        words = [w for w in re.findall(r"[A-Za-zÀ-ž’]{4,}", page) if w not in paper]
        assert words == [], (build, words[:5])


def test_figures_on_the_build_sheet_are_those_of_the_margins(browser: Browser) -> None:
    page = unescape(browser.get("/builds/1/sheet"))
    paper = bare(printed(browser, 1, "build")[0])
    shown = re.findall(r'<th scope="row">([^<]+)</th><td class="num">([^<]+)</td>', page)
    assert len(shown) > 60
    for title, value in shown:
        assert bare(title) in paper, title
        assert bare(value) in paper, (title, value)


def test_the_report_tells_the_returned_head_in_plain_words(browser: Browser, returned: int) -> None:
    text, reader = printed(browser, returned, "report")
    paper = " ".join(text.split())
    for words in (
        "Sallow Hours Racing brought the head H5",
        "You told us: “Ticks when cold, goes flat above 8,000, and it was never like that before.”",
        "14,200 km, 90 hours",
        "is beaten bright and rounded, at 1I-a, 2I-b, 3I-a",
        "We looked for this and did not find it: the bearings of a camshaft are scored",
        "intake guides reamed, seats recut (Ember Heads, there is a paper). We have not measured",
        "not measured at 8 of 8 valves (inlet",
        "Parts are still to come",
        "This head is not signed off. This report is a draft",
        "The phaser may turn the inlet cam no further than",
        "worked out from what was measured in part",
        "measured at every valve",
    ):
        assert words in paper, words
    assert len(reader.pages) == 2
    for jargon in ("reserve", "retainer", "verdict", "seat load", "open load", "bucket", "on paper"):
        assert jargon not in paper.lower(), jargon


def test_the_height_budget_closes(browser: Browser) -> None:
    page = browser.get("/builds/1/intake/sheets/report?units=mm")
    bars = re.findall(r"<figcaption>([^<]+)</figcaption><div class=\"budget-bar\">(.*?)</div>", page, re.S)
    assert len(bars) == 4
    for title, parts in bars:
        whole = float(re.search(r"([\d.]+) mm", title)[1])  # type: ignore[index]
        own = [float(x) for x in re.findall(r"<b>([\d.]+) mm</b>", parts)]
        assert sum(own) == pytest.approx(whole, abs=0.011), title


def test_a_signed_head_shows_what_was_signed_whatever_came_after(browser: Browser) -> None:
    browser.sit()
    post(browser, "/orders", **LINE)
    page = let_all_pass(browser)
    post(browser, "/sign-off", base=1, marks=marks(page), answers="Ilse Kern", next_look="lash at 1,000 km")
    before = told(browser, 1, "report")
    for words in ("Ilse Kern answers for the clearances. Signed by Wen", "Look at it again: lash at 1,000 km",
                  "What was let pass, and by whom", "known, watched"):  # fmt: skip
        assert words in " ".join(before.split()), words
    post(browser, "/costs", sort="parts", what="x", money="1")
    post(browser, "/sign-off/open", base=1, reason="a seal weeps")
    post(browser, "/orders", **LINE | {"part": "another line"})
    draft = told(browser, 1, "report")
    assert "This head is not signed off" in draft
    assert "another line" in told(browser, 1, "orders")


def test_nothing_is_ordered_for_a_head_that_is_signed_off(browser: Browser) -> None:
    browser.sit()
    page = let_all_pass(browser)
    post(browser, "/sign-off", base=1, marks=marks(page), answers="Ilse Kern", next_look="x y")
    assert "signed off and stays as it is" in post(browser, "/orders", 422, **LINE)
    assert "Nothing was ordered" in told(browser, 1, "orders")


def test_photographs_stand_in_the_report_in_their_order(browser: Browser) -> None:
    browser.sit()
    for shot, place in (("numbers", ""), ("crowns", "1I-a"), ("tips", "1I-b")):
        browser.client.post(
            "/builds/1/intake/pictures",
            data={
                "picture": (io.BytesIO(picture(size=(640 + 10 * len(shot), 480))), f"{shot}.jpg"),
                "shot": shot,
                "place": place,
            },
            headers={"X-CSRFToken": browser.token, "Referer": "http://localhost/"},
        )
    page = unescape(browser.get("/builds/1/intake/sheets/report"))
    order = re.findall(r'alt="([^"]+)" loading', page)
    assert order == [
        "The cups between cam and valve, 1I-a",
        "The ends of the valve stems, 1I-b",
        "Numbers and marks of the head",
    ]
    _, reader = printed(browser, 1, "report")
    assert sum(len(p.images) for p in reader.pages) >= 3


def test_the_bench_sheet_marks_what_no_instrument_read_and_what_no_longer_holds(browser: Browser) -> None:
    workshop = browser.workshop
    bench, now = Bench(workshop.database), workshop.open(1).build
    scale, none = BY.model_copy(update={"instrument": "scale 1"}), BY.model_copy(update={"instrument": ""})
    bench.put(1, now, "O-7", "outer", "1I-a", BY)
    for key, place, text, by in (
        ("valve_mass", "1I-a", "61.2 g", scale), ("valve_mass", "1I-b", "61.4 g", none), ("seat_width", "1I-b", "1.21", none),
    ):  # fmt: skip
        bench.read(1, now, key, place, text, How(by, sure=True))
    bench.read_spring(1, now, "outer.solid", "O-7", "24.31 mm", How(none, sure=True))
    rows = dict(
        re.findall(r"<tr><td[^>]*>(?:<[^>]+>)*(\dI-[ab])(.*?)</tr>", browser.get("/builds/1/intake/sheets/bench"))
    )
    assert "61.2<" in rows["1I-a"]
    assert "61.4 *<" in rows["1I-b"]
    assert "1.21 *<" in rows["1I-b"]
    assert "24.31 *<" in rows["1I-a"]
    workshop.edit(1, 1, lambda b: (change(b, "intake.stack.valve.code", "another"), Reason(Kind.FIELD)), WHO)
    rows = dict(
        re.findall(r"<tr><td[^>]*>(?:<[^>]+>)*(\dI-[ab])(.*?)</tr>", browser.get("/builds/1/intake/sheets/bench"))
    )
    assert "(61.2)<" in rows["1I-a"]
    assert "(61.4) *<" in rows["1I-b"]


def test_what_is_asked_wrongly_is_no_sheet(browser: Browser) -> None:
    for tail in ("/sheets/nothing", "/sheets/nothing.pdf", "/sheets/../../x.pdf"):
        assert browser.client.get(f"/builds/1/intake{tail}").status_code == 404, tail
    assert browser.client.get("/builds/99/intake/sheets/report.pdf").status_code == 404
    assert browser.client.get("/builds/1/intake/sheets/report?units=furlongs").status_code == 200


def test_an_empty_build_has_every_sheet(browser: Browser) -> None:
    from arcstack.document import Build

    empty = browser.workshop.create(Build(name="Nothing yet"), WHO)
    for key in KINDS:
        printed(browser, empty, key)
    assert "We have measured nothing yet" in told(browser, empty, "report")


@pytest.mark.parametrize(
    "name", ["#let x = 1", "$ x $ *bold* _under_ @ref <label>", "”„‟ ≥ Ω 漢字 \\n", "<script>x</script>", "a" * 80]
)
def test_what_is_typed_is_never_read_as_the_sheets_own_language(browser: Browser, name: str) -> None:
    build = browser.workshop.open(1).build.model_copy(update={"name": name, "note": f'{name}\n#import "x"'})
    number = browser.workshop.create(build, WHO)
    text, _ = printed(browser, number, "build")
    plain_words = "".join(c for c in name if c.isascii() and c.isalnum())
    assert plain_words[:12] in "".join(c for c in text if c.isalnum())


def test_every_follower_has_every_sheet(browser: Browser) -> None:
    for made in (quill(), sorrel(), bramble(), teasel()):
        number = browser.workshop.create(made, WHO)
        for key in KINDS:
            for units in ("mm", "both"):
                page, paper = told(browser, number, key, units), bare(printed(browser, number, key, units)[0])
                assert [w for w in FIGURE.findall(page) if bare(w) not in paper] == [], (made.name, key)
                assert "nan" not in re.findall(r"[a-z]+", page.lower())


def test_a_picture_that_is_none_and_a_drawing_that_is_none_are_told() -> None:
    for block in (Pictures([Pictured(b"no picture", "jpeg", "x")]), Drawing("<svg", "x")):
        with pytest.raises(DocumentError, match="could not be set"):
            pdf(Printed("x", [], [block], "x"))


# -- the words of a language


def test_a_language_has_every_word_that_a_report_may_need() -> None:
    english = languages()["en"]
    for words in languages().values():
        assert words.keys() == english.keys(), words.name
    assert all(english.has("signs", s) for s in signs())
    assert all(english.has("causes", c) for c in causes())
    assert all(english.has("parts", k) for k in kinds())
    assert all(english.has("shots", s) for s in SHOTS)
    assert all(english.has("what", w.value) for w in What)
    assert all(english.has("figures", f) for f in FIGURES)
    assert plain("none such") is english


def test_marks_are_drawn_for_every_level() -> None:
    assert {n.split("-")[0] for n in mark_drawings()} == {level.value for level in Level}


def test_the_last_look_is_of_the_life_it_came_back_in() -> None:
    build, _, events = returned_head()
    came = next(e for e in events if isinstance(e, Received))
    assert came in last_look(events)
    sent = SentOn(999, 2, "worn", came.by)
    assert came in last_look([*events, sent])
    assert last_look([*events, sent])[-1] is sent
    again = Received(1000, "again", "", None, None, None, came.by)
    assert [e for e in last_look([*events, sent, again]) if isinstance(e, Received)] == [again]
    assert last_look([]) == ()
    assert build.name
