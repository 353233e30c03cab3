import io
import math
import re

import numpy as np
import pytest

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


def test_a_file_is_read_as_well_as_a_paste(browser: Browser) -> None:
    page = browser.post(at(browser, "read"), file=(io.BytesIO(TABLE.encode("utf-16")), "lift.txt"))
    assert "picture or a program" in page
    page = browser.post(at(browser, "read"), file=(io.BytesIO(TABLE.encode()), "lift.txt"))
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
