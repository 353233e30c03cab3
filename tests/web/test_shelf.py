"""The shelf's pages: entered, found, read from files, fitted, and told of later changes."""

import html
import io
import re
from pathlib import Path

from arcstack.application import PartShelf
from arcstack.application.starts import template
from arcstack.demo.workshop import make_demo
from arcstack.document import Build
from arcstack.shelf import PartKind, ShelfPart, changed
from arcstack.web import create_app
from tests.builds import SWEEPS
from tests.web.conftest import WHO, Browser


def shelf(browser: Browser) -> PartShelf:
    return PartShelf(browser.workshop.database)


def stocked(browser: Browser) -> dict[str, ShelfPart]:
    from arcstack.demo.loader import demo_shelf

    shelf(browser).take(demo_shelf(), WHO)
    return {p.name: p for p in shelf(browser).all()}


def test_an_empty_shelf_says_what_to_do_and_takes_a_part(browser: Browser) -> None:
    assert "The shelf is empty" in browser.get("/shelf")
    browser.post("/shelf/add", 302, kind="seal", name="SL-1")
    where = browser.headers["Location"]
    page = browser.get(where)
    assert "Stem that the seal fits" in page
    key = where.rsplit("/", 1)[1]
    form = {"version": "1", "name": "SL-1", "stem": "6", "stem:is": "measured", "height": ".35 in", "price": "3,20"}
    browser.post(f"/shelf/part/{key}", 302, **form)
    held = shelf(browser).get(key)
    assert (held.at("stem").typed, held.at("height").typed, held.version) == ("6 mm", ".35 in", 2)
    # a field that is wrong keeps the rest as it was typed, and nothing is stored
    page = browser.post(f"/shelf/part/{key}", 422, version="2", name="SL-1", stem="600", height="7")
    assert "Not saved: 1 field is not accepted" in page
    assert 'value="600"' in page
    assert 'name="height" value="7"' in page
    assert shelf(browser).get(key).at("height").typed == ".35 in"
    page = browser.post(f"/shelf/part/{key}", 409, version="1", name="other")
    assert "was changed by another window" in page
    for form in ({"kind": "seal", "name": "SL-1"}, {"kind": "seal", "name": " "}, {"kind": "wheel", "name": "x"}):
        browser.post("/shelf/add", 409 if form["name"] == "SL-1" else 422, **form)


def test_search_retire_take_off_and_put_back(browser: Browser) -> None:
    parts = stocked(browser)
    page = browser.get("/shelf/listed?q=seal,+stem+6.0,+guide+11,+no+taller+than+9.5")
    assert re.findall(r">(SL-[^<]+)</a>", page) == ["SL-6 low", "SL-6 std", "SL-6 steel"]
    assert "seal above what holds it at most 9.5" in page
    assert "No part here is that" in browser.get("/shelf/listed?q=seal,+stem+60")
    assert "SL-6" not in browser.get("/shelf/listed?kind=valve")
    key = parts["SL-6 low"].key
    browser.post(f"/shelf/part/{key}/retire", 302)
    assert "SL-6 low" not in browser.get("/shelf/listed?q=seal")
    assert "SL-6 low" in browser.get("/shelf?retired=1")
    browser.post(f"/shelf/part/{key}/retire", 302)
    browser.post(f"/shelf/part/{key}/remove", 302)
    page = browser.get(browser.headers["Location"])
    assert "Put it back" in page
    browser.get(f"/shelf/part/{key}", 404)
    browser.post("/shelf/put-back", 302, key=key)
    assert shelf(browser).get(key).name == "SL-6 low"
    browser.post("/shelf/put-back", 404, key="0" * 32)


def test_a_file_is_shown_before_it_is_taken(browser: Browser) -> None:
    text = "kind;name;stem (mm);height (mm)\nseal;S-1;6,0;8,4\nseal;S-2;6,0;=A1\nseal;S-3;600;8\n"
    page = browser.post("/shelf/import", text=text)
    assert "columns apart by semicolons, decimal comma" in page
    assert "2 cannot be taken" in page
    assert "a formula" in page
    assert shelf(browser).all() == ()
    # all of it cannot be taken; the sound ones can, when that is asked
    browser.post("/shelf/import", text=text, answer="all")
    assert shelf(browser).all() == ()
    browser.post("/shelf/import", 302, text=text, answer="sound")
    assert [p.name for p in shelf(browser).all()] == ["S-1"]
    assert "1 new, 0 changed" in browser.get(browser.headers["Location"])
    for bad, code in (("", 422), ("kind,name\n", 422), ("x" * 2_000_001, 422)):
        browser.post("/shelf/import", code, text=bad)
    browser.post("/shelf/import", 422, text="{}")
    csv = browser.get("/shelf/export.csv?kind=seal")
    assert csv.startswith("\ufeffkind,name")
    answer = browser.client.post(
        "/shelf/import", data={"file": (io.BytesIO(browser.get("/shelf/export.json").encode()), "shelf.json")},
        headers={"X-CSRFToken": browser.token, "Referer": "http://localhost/"},
    )  # fmt: skip
    assert answer.headers["Location"].endswith("new=0&altered=0")


def test_a_part_is_fitted_once_it_was_shown_what_that_turns(browser: Browser) -> None:
    parts = stocked(browser)
    build_id = browser.workshop.create(template("bucket"), WHO)
    at = f"/builds/{build_id}/intake/parts"
    page = html.unescape(browser.get(f"{at}?place=locks"))
    rows = dict(re.findall(r"> (L-[^<]+?)</label>.*?</svg> ([a-z ]+)</span>", page, re.S))
    assert rows["L-6 0.0"] == "fits"
    assert rows["L-7 0.0"] == "does not fit"
    worn = parts["L-6 worn pattern"]
    page = html.unescape(browser.get(f"{at}?place=locks&key={worn.key}"))
    assert "lock depth, intake" in page.lower()
    assert "Fit L-6 worn pattern" in page
    browser.post(at, 302, base=1, place="locks", key=worn.key)
    build = browser.workshop.open(build_id).build
    assert build.intake.stack.locks.code == "L-6 worn pattern"
    assert build.intake.from_shelf["locks"].key == worn.key
    assert "L-6 worn pattern fitted from the shelf" in browser.get(f"/builds/{build_id}/intake/revisions")
    # told of a later change, with what it would turn, and taken or not
    shelf(browser).save(changed(worn, "outside", "11.2 mm"), WHO)
    page = html.unescape(browser.get(at))
    assert "changed on the shelf since" in page
    assert "11.10 mm" in page
    browser.post(f"{at}/keep", 302, base=2, place="locks")
    assert "changed on the shelf since" not in browser.get(at)
    shelf(browser).remove(worn.key)
    assert "taken off the shelf since" in browser.get(at)
    assert browser.workshop.open(build_id).build.intake.stack.locks.outside.typed == "11.10 mm"  # type: ignore[union-attr]
    browser.post(at, 404, base=3, place="locks", key=worn.key)
    browser.post(at, 422, base=3, place="wheel", key=worn.key)
    browser.post(at, 422, base=3, place="valve", key=parts["SL-6 low"].key)
    browser.post(at, 409, base=2, place="locks", key=parts["L-6 0.0"].key)


def test_places_are_those_of_the_head(browser: Browser) -> None:
    for kind, own in (("bucket", "bucket"), ("finger", "finger"), ("rocker", "rocker")):
        build_id = browser.workshop.create(template(kind), WHO)
        page = browser.get(f"/builds/{build_id}/exhaust/parts?place=nothing")
        offered = re.findall(r'<option value="([a-z 0-9]+)"', page)
        assert own in offered
        assert not {"bucket", "finger", "rocker"} - {own} & set(offered)
        assert "The shelf has no retainer yet" in page
        assert "shim 2" in offered
        assert "shim 3" not in offered


def test_every_place_offers_its_parts_on_the_demo_builds(tmp_path: Path) -> None:
    make_demo(tmp_path)
    app = create_app(tmp_path, sweeps=SWEEPS)
    places = ("valve", "pack", "outer", "retainer", "locks", "locator", "shim 1", "seal", "guide", "bucket",
              "lash shim", "cap")  # fmt: skip
    with app.test_client() as client:
        for number, place in enumerate(places):
            address = f"/builds/{1 + number % 2}/exhaust/parts?place={place.replace(' ', '+')}"
            page = client.get(address).get_data(as_text=True)
            assert page.count('name="key"') >= 4, place
    kinds = {p.kind for p in PartShelf(app.extensions["shop"].workshop.database).all()}
    assert kinds == set(PartKind)


def test_the_window_comes_after_its_page_with_packs_and_the_spring_wanted(browser: Browser) -> None:
    stocked(browser)
    at = f"/builds/{browser.sound}/intake/window"
    page = browser.get(at)
    assert f'hx-get="{at}/worked"' in page
    worked = browser.get(f"{at}/worked")
    assert "<svg" in worked
    assert "the hatched region meets every check" in worked
    assert re.search(r"TS-30 outer <small>fitted</small>", worked)
    assert "Spring wanted, intake of Tamarack" in worked
    assert "Solid height, at most</dt><dd>24.50 mm" in worked
    browser.post("/units", 302, system="in", back="/")
    assert "Solid height, at most</dt><dd>0.9646 in" in browser.get(f"{at}/worked")
    empty = browser.workshop.create(Build(name="Nothing yet"), WHO)
    assert "Needs" in browser.get(f"/builds/{empty}/intake/window/worked")
