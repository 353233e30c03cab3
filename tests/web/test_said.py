"""What is said on the pages: none, the sitting, exchanged parts, waivers, steps; and what no page sends."""

import re

import pytest

from arcstack.application import Workshop
from arcstack.checks import Evidence
from arcstack.document import get
from arcstack.web.frame import editing
from tests.web.conftest import Browser

STEP = "intake.stack.retainer.step"


def test_none_is_said_by_a_hand_and_shown_with_it(browser: Browser) -> None:
    browser.post("/who", 302, who="Bea", back="/")
    browser.type("intake.stack.shims.3", "none")
    held = get(browser.build(), "intake.stack.shims.3")
    assert (held.none, held.by.hand, held.stands) == (True, "Bea", Evidence.MEASURED)
    assert browser.headers["X-Accepted"] == '{"text": "none", "evidence": "said"}'
    page = browser.get(f"/builds/{browser.failing}/intake/stack")
    assert re.search(r"no shim · Bea, \d", page)
    assert "there is always one" in browser.type("engine.stroke", "none", 422)


def test_measured_asks_for_a_sitting_and_counts_as_assumed_without_one(browser: Browser) -> None:
    browser.type(STEP, "2.8", evidence="measured")
    assert get(browser.build(), STEP).evidence is Evidence.ASSUMED
    assert 'data-sitting=""' in browser.get(f"/builds/{browser.failing}/intake/stack")
    for form in (
        {"hand": "Wen"},
        {"instrument": "dial"},
        {"hand": "W" * 81, "instrument": "dial"},
        {"hand": "a\x07", "instrument": "b"},
    ):
        assert "Name the instrument and the hand" in browser.post("/sitting", 422, **form)
    browser.sit("dial 4", "Wen")
    page = browser.get(f"/builds/{browser.failing}/intake/stack")
    assert "length" in re.search(r'data-sitting="([^"]*)"', page)[1].split()  # type: ignore[index]
    browser.type(STEP, "2.7", evidence="measured")
    held = get(browser.build(), STEP)
    assert (held.evidence, held.by.instrument, held.by.hand) == (Evidence.MEASURED, "dial 4", "Wen")
    assert "1 of 6 measured" in browser.get(f"/builds/{browser.failing}/intake/stack")


def test_an_instrument_serves_only_the_sort_of_figure_it_was_named_for(browser: Browser) -> None:
    """A micrometer named for a length weighs nothing, and signs no table."""
    browser.post("/sitting", 204, instrument="micrometer 2", hand="Wen", measure="length")
    browser.type(STEP, "2.7", evidence="measured")
    assert get(browser.build(), STEP).evidence is Evidence.MEASURED
    mass = "intake.stack.valve.mass"
    browser.type(mass, "44 g", evidence="measured")
    assert get(browser.build(), mass).evidence is Evidence.ASSUMED
    browser.post("/sitting", 204, instrument="scale 1", hand="Wen", measure="mass")
    browser.type(mass, "45 g", evidence="measured")
    assert get(browser.build(), mass).by.instrument == "scale 1"
    browser.type(STEP, "2.8", evidence="measured")
    assert get(browser.build(), STEP).by.instrument == "micrometer 2"


def test_a_sitting_ends(browser: Browser) -> None:
    browser.sit()
    with browser.client.session_transaction() as session:
        session["instruments"] = {m: ["dial 4", "2026-01-01T00:00:00"] for m in session["instruments"]}
    assert 'data-sitting=""' in browser.get(f"/builds/{browser.failing}/intake/stack")
    with browser.client.session_transaction() as session:
        session["instruments"] = {"length": ["dial 4", "nonsense"], "mass": "x"}
    assert 'data-sitting=""' in browser.get(f"/builds/{browser.failing}/intake/stack")


def test_a_part_exchanged_is_said_at_the_height_in_the_same_answer(browser: Browser) -> None:
    answer = browser.type("intake.stack.retainer.offset", "0.5")
    assert "Retainer offset changed from 0 mm to 0.5 mm since it was read" in answer
    target = "hx-target=\"[id='e-intake.stack.open_height']\""
    assert target in answer
    assert "<option selected>assumed</option>" in answer[answer.index(target) :][:400]
    page = browser.get(f"/builds/{browser.failing}/intake/verdict/stack.installed_height")
    assert "Retainer offset changed" in page
    browser.sit()
    browser.type("intake.stack.open_height", "36.75", evidence="measured")
    assert get(browser.build(), "intake.stack.open_height").doubt == ""


def test_a_waived_limit_names_who_and_what_the_practice_holds_to(browser: Browser) -> None:
    browser.post("/who", 302, who="Bea", back="/")
    at = f"/builds/{browser.sound}/intake"
    browser.post(f"{at}/practice/limit", 302, base=1, key="stack.retainer_seal", low="1.0 mm", reason="ran before")
    page = browser.get(f"{at}/stack")
    gauge = page[page.index('id="g-stack.retainer_seal"') :][:2500]
    assert 'data-level="waived"' in gauge
    assert "waived by Bea" in gauge
    assert 'aria-label="waived' in gauge
    working = browser.get(f"{at}/verdict/stack.retainer_seal")
    assert "Loosened for this build by <b>Bea</b>" in working
    assert "The practice holds to at least 1.30 mm" in working


def test_one_answer_on_the_brief(browser: Browser) -> None:
    at = f"/builds/{browser.failing}"
    page = browser.get(f"{at}/intake/brief")
    assert 'value="intake" aria-pressed="true"' in page
    told = browser.post(f"{at}/answer", 422, base=1, question="phaser", answer="none")
    assert "A figure stands there, 35 deg" in told
    browser.type("intake.cam.phaser_advance", "", stage="cam")
    browser.post(f"{at}/answer", 302, base=2, question="phaser", answer="none")
    assert browser.build().intake.cam.phaser_advance.none  # type: ignore[union-attr]
    browser.post(f"{at}/answer", 409, base=2, question="phaser", answer="none")
    browser.post(f"{at}/answer", 422, base=3, question="halo", answer="none")


def test_steps_both_ways_and_a_stale_one_is_shown_what_changed(browser: Browser) -> None:
    at = f"/builds/{browser.failing}"
    browser.type(STEP, "0.6")
    browser.post(f"{at}/undo", 204, base=2)
    browser.post(f"{at}/redo", 204, base=3)
    assert get(browser.build(), STEP).typed == "0.6 mm"
    told = browser.post(f"{at}/undo", 409, base=2)
    assert "workshop saved revision 4 while this one stood at 2" in told
    assert "Nothing was stepped" in told
    assert "Nothing to do" in browser.post(f"{at}/redo", 422, base=4)
    browser.post(f"{at}/intake/revisions/restore", 302, base=4, to=1)
    browser.post(f"{at}/undo", 204, base=5)
    assert get(browser.build(), STEP).typed == "0.6 mm"


@pytest.mark.parametrize(
    ("path", "code"),
    [
        ("/builds/99999999999999999999/intake/stack", 404),
        ("/builds/999999999/intake/stack", 404),
        ("/builds/1/intake/revisions?first=99999999999999999999", 404),
        ("/builds/1/intake/revisions?first=nan", 404),
        ("/builds/1/intake/revisions?second=7", 404),
        ("/builds/1/intake/train/trace?rpm=nan", 422),
        ("/builds/1/intake/train/trace?rpm=1e308", 422),
        (f"/builds/1/intake/train/sweep?from=1000&to={'9' * 400}", 422),
        (f"/builds/1/intake/curve/motion?rpm={'9' * 400}", 400),
        ("/builds/1/intake/curve/motion?rpm=nan", 400),
        ("/builds/1/intake/curve/events?advance=inf", 400),
        ("/builds/1/intake/what-if?intake=1e308", 400),
        ("/builds/1/intake/what-if?tooth=nan", 400),
        (f"/builds/1/intake/curve/ratio?ratio={'9' * 400}", 400),
        ("/builds/1/intake/boost-what-if?ratio=nan", 400),
        ("/builds/1/intake/packs/fields?slot=99999999999999999999", 404),
        ("/builds/1/intake/springs?pack=99999999999999999999", 404),
        ("/builds/1/intake/packs/compare?height=1e308", 200),
    ],
)
def test_figures_no_page_sends_are_a_message_or_no_page(browser: Browser, path: str, code: int) -> None:
    assert "Traceback" not in browser.get(path, code)


@pytest.mark.parametrize(
    "back",
    [
        "//evil.example",
        "/\\evil.example",
        "/\t/evil.example",
        "https://evil.example",
        "/%09/evil.example",
        "/nowhere",
        "javascript:alert(1)",
        "/static/../..//evil",
    ],
)
def test_back_leads_to_this_site_only(browser: Browser, back: str) -> None:
    browser.post("/units", 302, system="in", back=back)
    assert browser.headers["Location"] == "/"
    own = f"/builds/{browser.sound}/intake/springs?pack=2"
    browser.post("/units", 302, system="mm", back=own)
    assert browser.headers["Location"] == own


def test_what_fails_after_saving_is_told_as_saved(browser: Browser, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setitem(browser.client.application.config, "PROPAGATE_EXCEPTIONS", False)

    def breaks(*_: object) -> str:
        raise RuntimeError("the drawing broke")

    monkeypatch.setattr(editing, "parts_of", breaks)
    told = browser.type(STEP, "0.6", 500)
    assert "Saved as revision 2; this page could not be drawn" in told
    assert "Nothing" not in told
    assert browser.headers["X-Stored"] == "2"
    assert get(browser.build(), STEP).typed == "0.6 mm"
    monkeypatch.setattr(Workshop, "edit", breaks)
    told = browser.type(STEP, "0.9", 500)
    assert "Nothing of this change was stored" in told
    assert "X-Stored" not in browser.headers


def test_trouble_in_a_drawing_leaves_the_rest_of_the_page(browser: Browser, monkeypatch: pytest.MonkeyPatch) -> None:
    from arcstack.web.stages.boost import view as boost
    from arcstack.web.stages.cam import view as cam
    from arcstack.web.stages.clearance import view as clearance
    from arcstack.web.stages.control import view as control
    from arcstack.web.stages.springs import view as springs
    from arcstack.web.stages.stack import view as stack

    def breaks(*_: object) -> object:
        raise ZeroDivisionError("division by zero")

    broken = (
        (stack, "section"), (cam, "cam_chart"), (springs, "heights"), (control, "force_map"), (boost, "gas_chart"),
        (clearance, "clearance_chart"), (springs, "load_chart"), (springs, "compared"),
    )  # fmt: skip
    for module, name in broken:
        monkeypatch.setattr(module, name, breaks)
    for stage in ("stack", "cam", "springs", "control", "boost", "clearance"):
        page = browser.get(f"/builds/{browser.sound}/intake/{stage}")
        assert 'id="margins"' in page
    assert "These figures cannot be drawn" in browser.get(f"/builds/{browser.sound}/intake/stack")


def test_a_name_taken_in_the_same_moment_is_told(browser: Browser, monkeypatch: pytest.MonkeyPatch) -> None:
    from arcstack.store import Cams

    at = f"/builds/{browser.sound}/intake/cams"
    browser.post(f"{at}/keep", 302, name="shared")
    # the other hand's cam is not seen when it is looked for, but its name is taken when it is put
    monkeypatch.setattr(Cams, "named", lambda *_: None)
    told = browser.post(f"{at}/keep", 409, name="shared")
    assert "was kept in the same moment" in told


def test_texts_of_a_document_are_held_to_what_their_fields_take(browser: Browser) -> None:
    import io
    import json

    raw = json.loads(browser.get(f"/builds/{browser.sound}/export"))
    for path, text, words in (
        (("intake", "stack", "valve", "code"), "x" * 81, "at most 80 characters"),
        (("intake", "stack", "valve", "code"), "a\u0007b", "cannot be printed"),
        (("intake", "candidates", 0, "name"), "\u202eabc", "cannot be printed"),
    ):
        broken = json.loads(json.dumps(raw))
        part = broken
        for name in path[:-1]:
            part = part[name]
        part[path[-1]] = text
        file = (io.BytesIO(json.dumps(broken).encode()), "build.json")
        assert words in browser.post("/builds/import", 422, file=file)


def test_every_shipped_script_and_font_has_its_terms(browser: Browser) -> None:
    for name in ("htmx", "echarts", "echarts-notice", "echarts-d3", "zrender", "tslib", "tailwindcss", "b612"):
        assert len(browser.get(f"/static/licenses/{name}.txt")) > 150
