"""A finger at the bench: its mass by weighing and swinging, its side play; angles of a seat."""

import re

import pytest

from arcstack.application.starts import template
from tests.web.conftest import WHO, Browser
from tests.web.test_bench import sit


@pytest.fixture
def at(browser: Browser) -> str:
    return f"/builds/{browser.workshop.create(template('finger'), WHO)}/intake/bench"


def plain(page: str) -> str:
    return " ".join(re.sub(r"<[^>]+>", " ", page).split())


def test_a_finger_is_weighed_and_swung_to_its_mass_at_the_valve(browser: Browser, at: str) -> None:
    """A bar of 40 g and 40 mm shows 20 g under its end and swings in 0.3276 s: a third of it, 13.3 g, is at its end."""
    sit(browser, at, "scale", key="follower_mass")
    page = browser.get(f"{at}?key=follower_mass")
    assert "Mass at the valve by weighing and swinging" in page
    page = browser.get(f"{at}?key=follower_mass&at_tip=20&arm=40&period=0.3276")
    assert "J/r² = 13.3 g" in plain(page)
    put = re.search(r'data-put="([^"]+)"', page)
    assert put is not None
    assert put.group(1).startswith("13.3")
    page = browser.get(f"{at}?key=follower_mass&at_tip=20&arm=40&period=")
    assert "at most 20.0 g, by weighing alone" in plain(page)


@pytest.mark.parametrize(
    ("form", "words"),
    [
        ("at_tip=20&arm=40&period=x", "One full swing, in seconds"),
        ("at_tip=20&arm=40&period=-1", "One full swing, in seconds"),
        ("at_tip=20&arm=40&period=3.3", "time it again"),
        ("at_tip=0&arm=40&period=0.33", "Weigh it at its tip"),
        ("at_tip=20&arm=0&period=0.33", "Weigh it at its tip"),
        ("at_tip=20+mm&arm=40&period=0.33", "mm"),
        ("at_tip=20&arm=40+g&period=0.33", "g"),
    ],
)
def test_a_swing_that_no_lever_makes_is_refused(browser: Browser, at: str, form: str, words: str) -> None:
    page = browser.get(f"{at}?key=follower_mass&{form}")
    assert words in plain(page).partition("by weighing and swinging")[2]
    assert "J/r² =" not in plain(page)


def test_a_bucket_is_not_swung(browser: Browser) -> None:
    page = browser.get(f"/builds/{browser.sound}/intake/bench?key=follower_mass")
    assert "swinging" not in page


def test_the_seats_angle_is_told_against_the_face(browser: Browser, at: str) -> None:
    at = f"/builds/{browser.sound}/intake/bench"
    sit(browser, at, "protractor", zero="45", key="angle_seat")
    browser.post(at, key="angle_seat", place="1I-a", text="45.5")
    page = plain(browser.get(f"{at}?key=angle_seat&place=1I-a"))
    face = browser.build().intake.stack.valve.face_angle
    assert ("steeper than the face" in page) == (face is not None)
    assert "lap band" in page.lower()
