"""Assembly on its page: one step, what is refused and kept, tools, the second hand, the list to print."""

import re
from datetime import UTC, datetime

import pytest

from arcstack.application.bench import Bench
from arcstack.assembly.steps import tools_of
from arcstack.document import Sitting
from arcstack.document.places import places
from arcstack.readings import Phase, Sheet
from arcstack.readings.taking import How
from tests.web.conftest import Browser

PAGE = "/builds/1/intake/bench/assembly"


def post(browser: Browser, tail: str, code: int = 302, **form: str) -> str:
    """What the page says after an act: its refusal, or the page it leads to."""
    told = browser.post(f"{PAGE}{tail}", code, **form)
    return browser.get(browser.headers["Location"]) if code == 302 else told


def act(browser: Browser, step: str, what: str, code: int = 302, **form: str) -> str:
    return post(browser, "", code, step=step, act=what, **form)


def own_all(browser: Browser) -> None:
    post(browser, "/tools", step="tools", rest="owned")


def to_wash(browser: Browser) -> None:
    browser.sit()
    own_all(browser)
    act(browser, "tools", "done")


def test_the_first_step_asks_for_every_tool_and_goes_on_once_each_is_said(browser: Browser) -> None:
    browser.sit()
    told = browser.get(PAGE)
    assert "Step 1 of 20" in told
    tools = tools_of(Sheet(browser.workshop.open(1).build))
    assert f"{len(tools)} tools are not said yet" in told
    assert "Not yet" in act(browser, "tools", "done", 422)
    post(browser, "/tools", **{"step": "tools", "tool.block": "borrowed", "tool.cord": "owned"})
    assert f"{len(tools) - 1} tools are not said yet" in browser.get(PAGE)
    own_all(browser)
    assert "<h1>Final wash</h1>" in act(browser, "tools", "done")


def test_a_done_without_what_it_needs_is_refused_and_what_was_typed_is_kept(browser: Browser) -> None:
    to_wash(browser)
    act(browser, "wash", "done", seen="yes")
    told = act(browser, "threads", "done", 422, **{"plugs_wanted": "7", "plug_torque": "15 Nm", "count.plugs": "7"})
    assert "The lubricant is part of the torque" in told
    again = browser.get(f"{PAGE}?step=threads")
    assert 'value="15 Nm"' in again
    assert "doing" in again
    told = act(
        browser, "threads", "done", 422,
        **{"plugs_wanted": "7", "plug_torque": "15 Nm", "plug_torque.lubricant": "oil", "plug_torque.source": "book 4",
           "count.plugs": "6"},
    )  # fmt: skip
    assert "Oilway plugs in: 6 of 7, 1 short. Nothing goes on until it is found." in told
    act(browser, "threads", "done",
        **{"plugs_wanted": "7", "plug_torque": "11", "plug_torque.lubricant": "oil", "plug_torque.source": "book 4",
           "count.plugs": "7"})  # fmt: skip
    assert 'value="11 N·m"' in browser.get(f"{PAGE}?step=threads")


def test_a_step_is_reopened_with_those_on_it_and_a_count_is_never_skipped(browser: Browser) -> None:
    to_wash(browser)
    act(browser, "wash", "done", seen="yes")
    act(browser, "seats", "done")
    told = browser.get(f"{PAGE}?step=wash")
    assert re.search(r"Reopened with it: Pre-lube chosen\.", told)
    act(browser, "wash", "reopen", reason="a chip was found")
    assert "a chip was found" in browser.get(f"{PAGE}?step=wash")
    assert "Final wash was reopened after it" in browser.get(f"{PAGE}?step=seats")
    assert "is not skipped" in act(browser, "locks", "skip", 422, reason="late")
    assert "nothing a step takes" in act(browser, "wash", "burn", 422)
    assert "reopen it first" in act(browser, "tools", "done", 422)
    browser.get(f"{PAGE}?step=nothing", 404)


def test_how_long_it_stands_chooses_what_goes_on(browser: Browser) -> None:
    browser.sit()
    assert "a number" in post(browser, "/set-up", 422, where="on the bench", days="soon")
    assert "between 0 and" in post(browser, "/set-up", 422, where="on the bench", days="-1")
    assert "between 0 and" in post(browser, "/set-up", 422, where="on the moon", days="3")
    told = post(browser, "/set-up", step="seats", where="on the bench", days="90")
    assert "<h1>Pre-lube chosen</h1>" in told
    assert re.search(r"Seats <b>thin grease</b>, bores and lobes <b>grease</b>", told)
    assert "smokes until it is burnt" in browser.get(f"{PAGE}/list")
    assert "cams in" in post(browser, "/set-up", step="tools", where="on the engine, cams in", days="1")
    assert "Two evened shoes" in browser.get(PAGE)


def test_a_second_hand_reads_the_places_that_are_named(browser: Browser) -> None:
    browser.sit()
    told = browser.get(f"{PAGE}?step=second")
    assert "is not read yet" in told
    bench, build = Bench(browser.workshop.database), browser.workshop.open(1).build
    how = How(
        Sitting(hand="Wen", instrument="H-2", at=datetime.now(UTC).replace(microsecond=0)), Phase.FINAL, sure=True
    )
    rows = [
        (k, p.label, "", t, how) for p in places(build) for k, t in (("tip_height", "44.2"), ("open_height", "36.8"))
    ]
    bench.take_all(1, build, rows)
    names = re.findall(r'name="(again\.[^"]+)"', browser.get(f"{PAGE}?step=second"))
    assert len(names) == 6
    text = {n: "44.22" if "tip" in n else "36.80" for n in names}
    assert "Wen read it first today" in post(browser, "/second", 422, step="second", **text)
    browser.sit(hand="Ida")
    assert "far from the first" in post(browser, "/second", 422, step="second", **{names[0]: "442"})
    assert "Nothing was typed" in post(browser, "/second", 422, step="second")
    assert "deep" in post(browser, "/second", 422, step="second", **{names[0]: "deep"})
    told = post(browser, "/second", step="second", **text)
    assert "still to be read" not in told
    assert "0.02 mm" in told
    told = post(browser, "/second", step="second", **{names[0]: "44.26" if "tip" in names[0] else "36.86"})
    assert "read all of them again" in told


@pytest.mark.parametrize("step", ["locators", "seals", "outer", "inner", "locks"])
def test_both_ways_are_drawn_with_what_the_wrong_one_does(browser: Browser, step: str) -> None:
    told = browser.get(f"{PAGE}?step={step}")
    assert told.count('class="one-way right-one"') == told.count('class="one-way wrong-one"') >= 1
    for build in (1, 2):
        browser.get(f"/builds/{build}/exhaust/bench/assembly?step={step}")


def test_a_maker_figure_that_is_missing_is_printed_as_where_to_look(browser: Browser) -> None:
    told = browser.get(f"{PAGE}/list")
    assert told.count("see the engine maker&#39;s data") >= 5
    assert "Locks, intake __ of 16" in told


def test_a_head_without_places_says_what_is_missing(browser: Browser) -> None:
    browser.post("/builds", 302, name="Bare")
    for tail in ("", "/list"):
        assert "cylinders" in browser.get(f"/builds/3/intake/bench/assembly{tail}").lower()


def test_the_gate_of_assembly_names_each_step_that_is_not_closed(browser: Browser) -> None:
    at = "/builds/1/intake/bench/to-do"
    told = browser.get(at)
    assert "Seals: to do" in told
    assert "Tools and hands: to do" in told
    to_wash(browser)
    act(browser, "wash", "done", seen="yes")
    act(browser, "second", "skip", reason="the only hand here")
    told = browser.get(at)
    assert "Tools and hands: to do" not in told
    assert "Second reading by another hand: skipped, the only hand here" in told
    assert "stand against it" in browser.post(f"{at}/sign", 422, gate="assembly")
    browser.post(f"{at}/sign", 302, gate="assembly", sure="1")
    assert "18 against it" in browser.get(at)
