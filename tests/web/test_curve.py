import io
import math
import re
from html import unescape

import numpy as np
import pytest

from arcstack.assess import assess, cam
from arcstack.checks import Evidence
from arcstack.mech.cam.law import SymmetricLobe
from tests.web.conftest import Browser

LOBE = SymmetricLobe.polynomial(10.4, math.radians(72.0), (2.0, 8.0, 14.0, 20.0))
TABLE = "\n".join(
    f"{a} {y:.3f}" for a, y in zip(range(-90, 91), LOBE.evaluate(np.radians(np.arange(-90.0, 91.0))), strict=True)
)


def at(browser: Browser, what: str) -> str:
    return f"/builds/{browser.sound}/intake/curve/{what}"


def test_a_table_is_shown_before_it_is_taken(browser: Browser) -> None:
    page = browser.post(at(browser, "read"), table=TABLE)
    assert "181 rows" in page
    assert "lift 10.400 mm" in page
    assert "Take this curve" in page
    assert browser.workshop.open(browser.sound).revision == 1


def test_taken_dropped_and_stepped_back(browser: Browser) -> None:
    browser.post(at(browser, "take"), 204, table=TABLE, base=1, origin="rig, 3 May", place="lobe")
    held = browser.workshop.open(browser.sound).build.intake.cam.curve
    assert held is not None
    assert (held.origin, len(held.cam_rad)) == ("rig, 3 May", 181)
    page = browser.get(f"/builds/{browser.sound}/intake/cam")
    assert "rig, 3 May" in page
    assert "Card against curve" in page
    browser.post(at(browser, "drop"), 204, base=2)
    assert browser.workshop.open(browser.sound).build.intake.cam.curve is None
    rows = browser.get(f"/builds/{browser.sound}/intake/revisions?first=2&second=3")
    assert "rig, 3 May, 181 points" in rows
    browser.post(at(browser, "take"), 409, table=TABLE, base=1)


def test_who_took_a_table_makes_it_measured(browser: Browser) -> None:
    cam_page = f"/builds/{browser.sound}/intake/cam"
    browser.post(at(browser, "take"), 204, table=TABLE, base=1, instrument="dial gauge 3", hand="")
    assert browser.workshop.open(browser.sound).build.intake.cam.curve.by is None  # type: ignore[union-attr]
    assert "counts as assumed" in browser.get(cam_page)
    assert "Who took it?" in browser.post(at(browser, "sign"), 422, base=2, instrument="dial gauge 3", hand=" ")
    browser.post(at(browser, "sign"), 204, base=2, instrument="dial gauge 3", hand="Ansel")
    assert "Taken with dial gauge 3, Ansel" in browser.get(cam_page)
    found = assess(browser.workshop.open(browser.sound).build).sides["intake"]
    table = found.side.cam.curve
    assert table is not None
    assert cam.measured_lift(found, table).evidence is Evidence.MEASURED
    # the sitting is remembered: the next table is offered with it
    assert 'value="dial gauge 3"' in browser.post(at(browser, "read"), table=TABLE)
    browser.post(at(browser, "take"), 204, table=TABLE, base=3, instrument="rig 2", hand="Brice")
    assert "Taken with rig 2, Brice" in browser.get(cam_page)
    browser.post(at(browser, "drop"), 204, base=4)
    browser.post(at(browser, "sign"), 404, base=5, instrument="rig 2", hand="Brice")


def test_a_slipped_point_is_named_on_the_page(browser: Browser) -> None:
    page = browser.post(at(browser, "read"), table=TABLE.replace("\n0 10.400", "\n0 10400"))
    assert "Line 91: at 0° the lift reads 10400, and its neighbours say about 10.4" in page
    assert "Take this curve" not in page


def test_a_file_is_read_as_well_as_a_paste(browser: Browser) -> None:
    page = browser.post(at(browser, "read"), file=(io.BytesIO(b"\x89PNG\r\n\x1a\n\x00\x00"), "lift.png"))
    assert "picture or a program" in page
    page = browser.post(at(browser, "read"), file=(io.BytesIO(TABLE.encode("utf-16")), "lift.txt"))
    # what was understood goes along with the form that takes it
    text = re.search(r"<textarea[^>]*name=\"table\"[^>]*>([^<]*)</textarea>|name=\"table\" value=\"([^\"]*)\"", page)
    assert text is not None
    browser.post(at(browser, "take"), 204, table=unescape(text[1] or text[2]), base=1, place="lobe")
    held = browser.workshop.open(browser.sound).build.intake.cam.curve
    assert held is not None
    assert len(held.cam_rad) == 181
    assert "Take this curve" in page


@pytest.mark.parametrize("table", ["", "<script>alert(1)</script>\n" * 12, "1;2\n" * 40])
def test_what_is_no_table_is_told_kept_and_not_taken(browser: Browser, table: str) -> None:
    page = browser.post(at(browser, "read"), table=table)
    assert 'class="wrong"' in page
    assert "Take this curve" not in page
    assert "<script>" not in page
    browser.post(at(browser, "take"), 422, table=table, base=1)


def test_ten_megabytes_are_refused(browser: Browser) -> None:
    assert "more than 2 MB" in browser.post(at(browser, "read"), 413, table="1 2\n" * 2_500_000)


def test_corrections_are_obeyed(browser: Browser) -> None:
    page = browser.post(at(browser, "read"), table=TABLE, lift_unit="in", angle_unit="crank degrees")
    assert "no valve&#39;s" in page
    assert re.search(r"<option selected>in</option>", page)


def test_the_curve_is_carried_away_as_a_table(browser: Browser) -> None:
    response = browser.client.get(at(browser, "export.csv"))
    assert response.mimetype == "text/csv"
    assert "cam angle deg,lift mm" in response.get_data(as_text=True)
    assert browser.client.get("/builds/1/left/curve/export.csv").status_code == 404


def test_events_follow_the_phaser(browser: Browser) -> None:
    parked, advanced = (browser.get(at(browser, f"events?advance={a}")) for a in (0, 10))
    assert "at the lobe" in parked
    # card: opens 4° BTDC and closes 42° ABDC at 1.0 mm
    assert "4.0° BTDC" in parked
    assert "14.0° BTDC" in advanced
    assert "32.0° ABDC" in advanced


def test_what_if_stores_nothing(browser: Browser) -> None:
    url = f"/builds/{browser.failing}/intake/what-if"
    still = browser.get(url)
    assert re.search(r"Piston, phased.*?−0.47 mm.*?<b>−0.47 mm", still, re.S)
    moved = browser.get(f"{url}?intake=116&exhaust=111")
    assert not re.search(r"<b>−0.47 mm", moved)
    assert "Give the cam sprocket" in browser.get(f"{url}?tooth=1")
    assert browser.workshop.open(browser.failing).revision == 1
    browser.type("engine.sprocket_teeth", "40", 200, "edit", stage="cam")
    assert "18.0 crank degrees late" in browser.get(f"{url}?tooth=1")
    assert "belt or chain pitch" in browser.get(f"{url}?cut=0.5")
