"""A head that is met for the first time: its pages are shown before its valves are worked, and then ask for the rest."""

import re

import pytest

from tests.web.conftest import Browser

ON_ITS_WAY = {"Accept": "text/html,application/xhtml+xml,*/*;q=0.8"}
PART = {"Accept": "*/*", "HX-Request": "true"}
COMES = 'class="coming"'

PAGES = {
    "bench": "margins", "bench/items": "margins", "bench/lash": "margins", "bench/matching": "margins",
    "bench/mock-up": "margins", "bench/cut": "margins", "bench/table": "margins", "bench/built": "work",
    "bench/built?check=stack.retainer_seal": "work", "bench/to-do": "gates", "sign-off": "work",
    "back/diagnosis": "work", "sheets/report": "work", "sheets/bench?units=in": "work",
}  # fmt: skip
"""Pages that tell of every valve, and the element of each that comes after it."""


def asked(browser: Browser, path: str, headers: dict[str, str]) -> str:
    response = browser.client.get(path, headers=headers)
    assert response.status_code == 200, path
    return response.get_data(as_text=True)


def told(page: str) -> str:
    """A page without what is new each time it is made."""
    return re.sub(r'csrf[^>]*?(value|content)="[^"]*"|X-CSRFToken": "[^"]*"|data-mark="[^"]*"', "", page)


@pytest.mark.parametrize("path", PAGES)
@pytest.mark.parametrize("which", ["sound", "failing"])
def test_a_page_comes_first_then_its_rest_and_once_worked_all_of_it(browser: Browser, path: str, which: str) -> None:
    at, target = f"/builds/{getattr(browser, which)}/exhaust/{path}", PAGES[path]
    first = asked(browser, at, ON_ITS_WAY)
    assert first.count(COMES) == 1
    (ask,) = re.findall(r'hx-get="([^"]*)" hx-trigger="load" hx-target="#(\w+)" hx-select="#(\w+)"', first)
    assert ask[1:] == (target, target)
    assert first.count(f'id="{target}"') == 1
    rest = asked(browser, ask[0].replace("&amp;", "&"), PART)
    assert COMES not in rest
    assert rest.count(f'id="{target}"') == 1
    assert 'http-equiv="refresh"' not in rest
    again = asked(browser, at, ON_ITS_WAY)
    assert told(again) == told(rest) == told(asked(browser, at, {}))


def test_what_is_asked_for_by_a_program_or_without_scripts_comes_in_one_piece(browser: Browser) -> None:
    at = f"/builds/{browser.sound}/intake/bench/built?check=stack.retainer_seal&place=2I-b"
    first = asked(browser, at, ON_ITS_WAY)
    (whole,) = re.findall(r'<noscript><meta http-equiv="refresh" content="0; url=([^"]*)"></noscript>', first)
    page = asked(browser, whole.replace("&amp;", "&"), ON_ITS_WAY)
    assert COMES not in page
    assert "2I-b" in page
    assert "Every valve against every check" in page
    assert COMES not in browser.get(f"/builds/{browser.failing}/intake/bench/built")


def test_a_field_is_there_before_the_margins_are(browser: Browser) -> None:
    at = f"/builds/{browser.sound}/intake/bench"
    browser.post(f"{at}/with", 302, kind="height", name="H-2", hand="Wen", key="open_height")
    browser.post(f"{at}/zero", 302, name="H-2", text="35.00", key="open_height")
    page = asked(browser, f"{at}?key=open_height&place=1I-a", ON_ITS_WAY)
    assert 'id="reading-form"' in page
    assert COMES in page
    assert 'id="head-map"' in page
    assert "#head-map" in page


def test_one_side_that_is_worked_is_shown_and_the_other_is_waited_for(browser: Browser) -> None:
    at = f"/builds/{browser.sound}/intake/bench"
    browser.get(at)
    assert COMES not in asked(browser, at, ON_ITS_WAY)
    # what tells of both sides waits for the other
    assert COMES in asked(browser, f"{at}/to-do", ON_ITS_WAY)
    assert COMES in asked(browser, at.replace("intake", "exhaust"), ON_ITS_WAY)


def test_a_mark_out_of_limits_comes_with_the_margins(browser: Browser) -> None:
    at = f"/builds/{browser.sound}/intake/bench"
    browser.post(f"{at}/with", 302, kind="ruler", name="R-1", hand="Wen", key="seat_width")
    browser.post(f"{at}/zero", 302, name="R-1", text="0", key="seat_width")
    browser.post(at, key="seat_width", place="1I-a", text="4.00", sure="1")
    browser.client.application.extensions["shop"].bench._built.clear()
    address = f"{at}?key=seat_width&place=1I-b"
    first, rest = asked(browser, address, ON_ITS_WAY), asked(browser, address, PART)
    out = re.compile(r"1I-a[^<]*out of limits")
    assert not out.search(first)
    assert out.search(rest)


def test_an_answer_to_a_form_is_never_left_for_later(browser: Browser) -> None:
    at = f"/builds/{browser.sound}/intake"
    headers = {"X-CSRFToken": browser.token, "Referer": "http://localhost/", **ON_ITS_WAY}
    for path, form in (("bench/to-do/sign", {"gate": "paper"}), ("sign-off/waive", {"key": ""})):
        answer = browser.client.post(f"{at}/{path}", data=form, headers=headers)
        assert answer.status_code == 422
        assert COMES not in answer.get_data(as_text=True)


def test_the_sheet_of_a_head_that_was_read_tells_its_valves_after(browser: Browser) -> None:
    sheet, at = f"/builds/{browser.sound}/sheet", f"/builds/{browser.sound}/intake/bench"
    # nothing was read: nothing is to come
    assert COMES not in asked(browser, sheet, ON_ITS_WAY)
    browser.post(f"{at}/with", 302, kind="height", name="H-2", hand="Wen", key="open_height")
    browser.post(f"{at}/zero", 302, name="H-2", text="35.00", key="open_height")
    browser.post(at, key="open_height", place="1I-a", text="36.80")
    browser.client.application.extensions["shop"].bench._built.clear()
    first = asked(browser, sheet, ON_ITS_WAY)
    assert 'hx-target="#built"' in first
    assert 'id="built"' in first
    assert "1 of 8" not in first
    rest = asked(browser, sheet, PART)
    assert "1 of 8" in rest
    assert told(asked(browser, sheet, ON_ITS_WAY)) == told(rest)
