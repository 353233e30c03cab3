"""Photographs on their page: taken with place and finding, refused in words, ringed on a copy, served safely."""

import io
import re

import pytest

from arcstack.application.bench import Bench
from arcstack.readings import Sheet
from arcstack.readings.pictured import marks, pictures
from tests.application.pictured import picture
from tests.web.conftest import Browser

BACK = "/builds/1/intake/back"
AT = "/builds/1/intake/pictures"


def sheet(browser: Browser) -> Sheet:
    return Bench(browser.workshop.database).sheet(1, browser.workshop.open(1).build)


def send(browser: Browser, *files: tuple[bytes, str], code: int = 302, **form: str) -> str:
    sent = {"picture": [(io.BytesIO(data), name) for data, name in files], **form}
    response = browser.client.post(
        AT, data=sent, headers={"X-CSRFToken": browser.token, "Referer": "http://localhost/"},
        content_type="multipart/form-data",
    )  # fmt: skip
    assert response.status_code == code, response.get_data(as_text=True)[:300]
    return browser.get(AT) if code == 302 else response.get_data(as_text=True)


def test_pictures_are_kept_with_place_shot_phase_and_hand_and_shown_small(browser: Browser) -> None:
    assert "It has a name" in send(browser, (picture(), "a.jpg"), code=422)
    browser.sit()
    told = send(
        browser, (picture(), "IMG_1.jpg"), (picture("PNG"), "b.png"), place="2I-b", shot="tips", note="no scale"
    )
    first, second = pictures(sheet(browser).events)
    assert (first.place, first.shot, first.look, first.by.hand, first.note) == (
        "2I-b",
        "tips",
        "final",
        "Wen",
        "no scale",
    )
    assert second.format == "png"
    assert "2 taken" in told
    assert told.count('/small"') == 2
    for tail, kind in (("small", "image/jpeg"), ("whole", "image/png")):
        response = browser.client.get(f"{AT}/{second.number}/{tail}")
        assert response.status_code == 200
        assert response.mimetype == kind
        assert response.headers["X-Content-Type-Options"] == "nosniff"
        assert response.headers["Content-Disposition"].startswith("inline")
    assert browser.client.get(f"{AT}/{second.number}/whole").data == picture("PNG")


def test_a_finding_and_an_item_go_along_and_the_gate_before_cleaning_opens(browser: Browser) -> None:
    browser.sit()
    browser.post(f"{BACK}/receive", 302, complaint="ticks")
    browser.post(f"{BACK}/find", 302, sign="tip_dents", places=["1I-a"], severity="seen")
    assert "no photograph of it yet" in browser.post(f"{BACK}/stage", 422, stage="pictures")
    number = next(e.number for e in sheet(browser).events if type(e).__name__ == "Found")
    send(browser, (picture(), "x.jpg"), place="1I-a", finding=str(number), item="nothing there")
    (kept,) = pictures(sheet(browser).events)
    assert (kept.finding, kept.item, kept.look) == (number, "", "head whole")
    assert "Dents or dots on the stem tip" in browser.get(f"{AT}/{kept.number}")
    assert "1 picture<" in browser.get(BACK)
    browser.post(f"{BACK}/stage", 302, stage="pictures")
    assert f"{AT}/{kept.number}/small" in browser.get(f"{BACK}?at=1I-a")


@pytest.mark.parametrize(
    ("name", "shown"),
    [("../../etc/passwd.jpg", "passwd.jpg"), ("x/<b>.jpg", "<b>.jpg"), ("a" * 300 + ".jpg", "a" * 80)],
)  # fmt: skip
def test_a_file_named_oddly_is_kept_by_its_hash_and_its_name_is_only_shown(
    browser: Browser, name: str, shown: str
) -> None:
    browser.sit()
    page = send(browser, (picture(), name))
    (kept,) = pictures(sheet(browser).events)
    assert kept.name == shown
    assert "<b>.jpg" not in page


def test_what_is_no_picture_is_told_by_name_and_the_rest_is_kept(browser: Browser) -> None:
    browser.sit()
    told = send(browser, (b"MZ\x90\x00 not a picture", "virus.jpg"), (picture(), "good.jpg"), code=422)
    assert "virus.jpg: That is no photograph" in told
    assert "1 of 2 kept" in told
    assert [p.name for p in pictures(sheet(browser).events)] == ["good.jpg"]
    assert "Choose a photograph" in send(browser, code=422)
    assert "9Z-q" in send(browser, (picture(), "a.jpg"), code=422, place="9Z-q")


def test_two_hundred_megabytes_are_turned_away_before_they_are_read(browser: Browser) -> None:
    browser.sit()
    response = browser.client.post(
        AT, data=io.BytesIO(b"0"), environ_overrides={"CONTENT_LENGTH": "200000000"}, content_type="multipart/form-data; boundary=x",
        headers={"X-CSRFToken": browser.token, "Referer": "http://localhost/"},
    )  # fmt: skip
    assert response.status_code == 413
    assert "more than 25 MB" in response.get_data(as_text=True)
    assert pictures(sheet(browser).events) == ()


def test_rings_are_drawn_on_a_copy_and_the_photograph_stays(browser: Browser) -> None:
    browser.sit()
    send(browser, (picture(), "a.jpg"))
    number = pictures(sheet(browser).events)[0].number
    for text, told in (("here", "Line 1 is no ring"), ("10 20 5 a\n120 5 5", "Line 2 lies outside"), ("1 1 0", "outside"),
                       ("\n".join(["1 1 1"] * 21), "20 rings")):  # fmt: skip
        assert told in browser.post(f"{AT}/{number}/marks", 422, rings=text)
    browser.post(f"{AT}/{number}/marks", 302, rings="34 52 6 dents <i>\n60 20.5 3")
    drawn = marks(sheet(browser).events, number)
    assert drawn is not None
    assert drawn.rings == ((0.34, 0.52, 0.06), (0.6, 0.205, 0.03))
    page = browser.get(f"{AT}/{number}")
    assert len(re.findall(r"<circle cx", page.partition("data-rings")[2])) == 2
    assert "dents &lt;i&gt;" in page
    assert browser.client.get(f"{AT}/{number}/whole").data == picture()


def test_a_picture_taken_off_is_no_longer_shown_and_another_heads_is_not_here(browser: Browser) -> None:
    browser.sit()
    send(browser, (picture(), "a.jpg"))
    number = pictures(sheet(browser).events)[0].number
    browser.get(f"/builds/2/intake/pictures/{number}", 404)
    browser.get(f"/builds/2/intake/pictures/{number}/whole", 404)
    browser.post(f"{AT}/{number}/off", 302)
    browser.get(f"{AT}/{number}", 404)
    assert pictures(sheet(browser).events) == ()


def test_a_picture_whose_file_is_not_here_says_so(browser: Browser) -> None:
    browser.sit()
    send(browser, (picture(), "a.jpg"))
    found = pictures(sheet(browser).events)[0]
    store = browser.client.application.extensions["shop"].pictures
    store.whole(found.sha256, found.format).unlink()
    store.small(found.sha256).unlink()
    assert "not in this workshop" in browser.get(f"{AT}/{found.number}")
    browser.get(f"{AT}/{found.number}/whole", 404)
    browser.get(f"{AT}/{found.number}/small", 404)
