import json
import re

import pytest
from sqlalchemy import text

from arcstack.application.reasons import words
from arcstack.checks import Evidence
from arcstack.document import get
from arcstack.document.belongs import resting_on
from tests.web.conftest import Browser

STEP = "intake.stack.retainer.step"


def test_an_accepted_edit_answers_with_every_part_it_touches(browser: Browser) -> None:
    browser.sit()
    answer = browser.type(STEP, "0.6", evidence="measured")
    for part in ("#margins", "#stages", "#topline", "#section", "#scrubber", "#outputs"):
        assert f'hx-target="{part}"' in answer
    assert 'data-level="clear" ' in answer or 'data-level="clear"' in answer
    assert json.loads(browser.headers["X-Accepted"]) == {"text": "0.6", "evidence": "measured"}
    entry = get(browser.build(), STEP)
    assert (entry.typed, entry.evidence) == ("0.6 mm", Evidence.MEASURED)
    assert (
        words(browser.workshop.revisions(browser.failing).rows[0].reason)
        == "Intake retainer, step to inner spring: 2.9 mm → 0.6 mm"
    )


def test_a_preview_answers_and_stores_nothing(browser: Browser) -> None:
    answer = browser.type(STEP, "0.6", 200, "preview")
    assert "not accepted yet" in answer
    assert "#topline" not in answer
    assert browser.workshop.open(browser.failing).revision == 1


def test_another_unit_may_be_typed_and_is_kept(browser: Browser) -> None:
    browser.type(STEP, "0.025 in")
    assert get(browser.build(), STEP).typed == "0.025 in"


def test_a_converted_figure_is_not_rounded_by_leaving_its_field(browser: Browser) -> None:
    path = "intake.cam.lobe_lift"
    exact = get(browser.build(), path).value
    browser.sit()
    browser.type(path, "10.490", stage="cam", evidence="measured")
    entry = get(browser.build(), path)
    assert (entry.value, entry.typed, entry.evidence) == (exact, "0.413 in", Evidence.MEASURED)


@pytest.mark.parametrize(
    ("path", "text", "words"),
    [
        (STEP, "wide", "is no figure"),
        (STEP, "95 lbf", "unit of force; this field is a length"),
        (STEP, "90", "not between"),
        ("engine.rod", "41", "shorter than half the stroke"),
        ("intake.stack.inner.outside", "40", "larger than its outer"),
        (STEP, "<script>alert(1)</script>", "is no figure"),
        ("name", " ", "needs a name"),
    ],
)
def test_a_wrong_value_is_told_at_its_field_and_not_stored(browser: Browser, path: str, text: str, words: str) -> None:
    for mode in ("edit", "preview"):
        answer = browser.type(path, text, 422, mode)
        assert words in answer
        assert f"[id='m-{path}']" in answer
        assert "<script>" not in answer
    assert browser.workshop.open(browser.failing).revision == 1


@pytest.mark.parametrize(
    "more",
    [{"path": "intake.stack.halo"}, {"base": "x"}, {"base": "-3"}, {"stage": "halo"}, {"side": "left"}, {"base": ""}],
)
def test_a_request_no_page_makes_is_refused(browser: Browser, more: dict[str, str]) -> None:
    form = {"path": STEP, "text": "1", "base": "1", "stage": "stack", "side": "intake"} | more
    browser.post(f"/builds/{browser.failing}/edit", 400, **form)


def test_the_slower_window_is_shown_the_difference(browser: Browser) -> None:
    browser.post("/who", 302, who="Bea", back="/")
    browser.type(STEP, "0.4")
    browser.post("/who", 302, who="Wen", back="/")
    answer = browser.type(STEP, "0.6", 409, base=1)
    assert "Bea saved revision 2" in answer
    assert "Not saved: Bea was faster" in answer
    # both values are told
    assert "You typed <b>0.6</b>" in answer
    assert "Bea has <b>0.4 mm" in answer
    assert get(browser.build(), STEP).typed == "0.4 mm"
    browser.type(STEP, "0.6", base=2)
    assert get(browser.build(), STEP).typed == "0.6 mm"


def test_edits_of_different_fields_are_both_taken_and_told(browser: Browser) -> None:
    browser.post("/who", 302, who="Bea", back="/")
    browser.type("intake.stack.shims.3", "0.3")
    browser.post("/who", 302, who="Wen", back="/")
    answer = browser.type(STEP, "0.6", base=1)
    assert "Bea changed Intake shim 3 meanwhile" in answer
    theirs = json.loads(re.search(r'id="theirs">(.*?)</script>', answer)[1])  # type: ignore[index]
    assert theirs == [{"path": "intake.stack.shims.3", "text": "0.3", "evidence": "printed"}]
    assert get(browser.build(), STEP).typed == "0.6 mm"
    assert get(browser.build(), "intake.stack.shims.3").typed == "0.3 mm"
    rows = browser.workshop.revisions(browser.failing).rows
    assert [(r.number, r.author, r.reason.path) for r in rows[:2]] == [
        (3, "Wen", STEP),
        (2, "Bea", "intake.stack.shims.3"),
    ]
    # one step back takes the last of the two back, and leaves the other
    browser.post(f"/builds/{browser.failing}/undo", 204, base=3)
    assert get(browser.build(), STEP).typed == "2.9 mm"
    assert get(browser.build(), "intake.stack.shims.3").typed == "0.3 mm"


def test_a_field_that_rests_on_what_another_hand_changed_is_asked_for_again(browser: Browser) -> None:
    """An open height was read with a retainer: with another one it is not the height of what stands there now."""
    assert "stack.open_height" in resting_on("stack.retainer.offset")
    browser.type("intake.stack.retainer.offset", "0.4")
    browser.type("intake.stack.open_height", "36.4", 409, base=1)
    # the other side's stands on its own
    browser.type("exhaust.stack.open_height", "36.4", base=1, side="exhaust")
    browser.type("intake.stack.open_height", "36.4", base=3)


def test_step_back_and_restore(browser: Browser) -> None:
    browser.type(STEP, "0.6")
    browser.type(STEP, "0.9")
    browser.post(f"/builds/{browser.failing}/undo", 204, base=3)
    assert browser.headers["HX-Refresh"] == "true"
    assert get(browser.build(), STEP).typed == "0.6 mm"
    browser.post(f"/builds/{browser.failing}/undo", 409, base=2)
    page = browser.get(f"/builds/{browser.failing}/intake/revisions?first=1&second=4")
    assert "2.9 mm" in page
    assert "Inner reserve, intake" in page
    browser.post(f"/builds/{browser.failing}/intake/revisions/restore", 302, base=4, to=1)
    assert get(browser.build(), STEP).typed == "2.9 mm"
    browser.post(f"/builds/{browser.failing}/intake/revisions/restore", 409, base=4, to=1)


@pytest.mark.parametrize("path", ["-1", "\x00", "intake.nothing", "name", "brief.limiter", "A" * 3000])
@pytest.mark.parametrize("act", ["undo", "redo", "edit"])
def test_a_stale_step_with_a_field_that_no_page_sends_is_told_and_never_breaks(
    browser: Browser, act: str, path: str
) -> None:
    told = browser.client.post(
        f"/builds/{browser.failing}/{act}",
        data={"base": "9", "path": path, "text": "1", "csrf_token": browser.token},
        headers={"X-CSRFToken": browser.token, "Referer": "http://localhost/"},
    )
    assert told.status_code in (400, 404, 409), told.status_code


def test_a_page_left_open_writes_into_no_other_head_that_bears_its_number(browser: Browser) -> None:
    drawn = browser.get(f"/builds/{browser.failing}/intake/bench")
    identity = browser.workshop.row(browser.failing).identity
    assert f'data-head="{identity}"' in drawn
    assert f'"X-Head": "{identity}"' in drawn
    # another workshop was restored beneath the page: its head of that number is another
    with browser.workshop.database.session(writes=True) as session:
        session.execute(text("UPDATE build SET identity = 'ab' WHERE id = :n"), {"n": browser.failing})
    reading = {"key": "open_height", "place": "1I-a", "text": "36.8", "sure": "1", "head": identity}
    assert "Nothing was stored" in browser.post(f"/builds/{browser.failing}/intake/bench", 409, **reading)
    typed = {"path": STEP, "text": "0.6", "base": 1, "stage": "stack", "side": "intake", "csrf_token": browser.token}
    told = browser.client.post(
        f"/builds/{browser.failing}/edit",
        data=typed,
        headers={"X-CSRFToken": browser.token, "Referer": "http://localhost/", "X-Head": identity},
    )
    assert told.status_code == 409
    assert browser.workshop.open(browser.failing).revision == 1
    assert "36.8" not in browser.get(f"/builds/{browser.failing}/intake/bench?place=1I-a")
    # what is no head's, the hand's name among it, is asked from any page
    browser.post("/who", 302, who="Bea", back="/", head=identity)
    # a page drawn of it as it is now goes on
    browser.type(STEP, "0.6", head="ab")
    assert browser.workshop.open(browser.failing).revision == 2


def test_the_hand_at_work_is_set_beside_the_revision(browser: Browser) -> None:
    browser.post("/who", 302, who="Bea", back="/")
    browser.type(STEP, "0.6")
    assert browser.workshop.revisions(browser.failing).rows[0].author == "Bea"
