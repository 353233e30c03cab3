"""The window: its edges are where the checks turn, packs run along their own rate, and what is wanted lies inside."""

import numpy as np
import pytest

from arcstack.application.starts import template
from arcstack.assess import assess, coil, spring
from arcstack.assess.catalogue import checks
from arcstack.checks import Level, judge
from arcstack.demo import demo_builds
from arcstack.demo.loader import demo_shelf
from arcstack.document import Build, change
from arcstack.drawings.window import window_drawing
from arcstack.errors import NotKnown
from arcstack.mech.spring.stress import shear_MPa
from arcstack.trials.window import LOADS_N, Window, stood_in, window
from arcstack.units import System
from tests.builds import bramble, sorrel

SOUND, FAILING = demo_builds()
CTX = assess(SOUND).sides["intake"]
FOUND = window(CTX, demo_shelf())


def failing(seat_N: float, rate: float, found: Window = FOUND) -> set[str]:
    """Checks of the window that fail with one spring of such a load and rate."""
    ctx = CTX.of(stood_in(CTX, seat_N, rate))
    asked = [e.check for e in found.edges if not e.of_wire]
    return {c for c in asked if judge(checks()[c].value(ctx), checks()[c].limit_for(ctx)) is Level.FAIL}


@pytest.mark.parametrize("at", [0, 4, 9, 13])
def test_each_edge_is_where_its_check_turns(at: int) -> None:
    rate = FOUND.rates[at]
    for edge in (e for e in FOUND.edges if not e.of_wire):
        for load, inward in ((edge.least_N[at], 1.0), (edge.most_N[at], -1.0)):
            if np.isnan(load) or load in LOADS_N:
                continue
            assert edge.check not in failing(load + inward, rate), (edge.title, load)
            assert edge.check in failing(load - inward, rate), (edge.title, load)


def test_straight_edges_come_to_what_they_are_by_hand() -> None:
    ends = {e.check: e for e in FOUND.edges}
    seat, opened = CTX.limit("spring.seat_load"), CTX.limit("spring.open_load")
    net = 9.8
    assert ends["spring.seat_load"].least_N == pytest.approx([seat.low] * len(FOUND.rates), abs=0.1)
    for rate, most in zip(FOUND.rates, ends["spring.open_load"].most_N, strict=True):
        assert most == pytest.approx(opened.high - rate * net, abs=0.1)  # type: ignore[operator]
    # the difference rule asks the usual load and what gas lifts
    need = checks()["gas.difference_rule"].value(CTX)
    present = checks()["spring.seat_load"].value(CTX)
    assert ends["gas.difference_rule"].least_N == pytest.approx([present - need] * len(FOUND.rates), abs=0.1)


def test_the_fitted_wire_bears_no_more_than_its_edge() -> None:
    """At the pack's own rate, the edge's seat load shears one of its wires to the limit and none past it."""
    (edge,) = [e for e in FOUND.edges if e.of_wire]
    rate = spring.pack_rate(CTX).value
    most = float(np.interp(rate, FOUND.rates, edge.most_N))
    seat, opened = spring.seat_load(CTX).value, spring.open_loads(CTX)
    used = []
    for name, load in zip(("outer", "inner"), opened, strict=True):
        share = next(f.value for f in spring.seat_loads(CTX) if f.label.endswith(name)) / seat
        wound = coil.wound(CTX, name).coil
        limit = CTX.limit(f"spring.stress.{name}").high
        assert limit is not None
        used.append(shear_MPa(load.value + share * (most - seat), wound.wire_mm, wound.mean_mm) / limit)
    assert max(used) == pytest.approx(1.0, abs=2e-3)
    # another pack has another wire: the window itself is not closed by it
    assert (
        any(
            not np.isnan(m) and m > np.interp(r, FOUND.rates, edge.most_N)
            for r, m in zip(FOUND.fine, FOUND.most_N, strict=True)
        )
        or FOUND.empty
    )


def test_every_check_holds_inside_and_one_fails_outside() -> None:
    rng = np.random.default_rng(5)
    inside = outside = 0
    for seat, rate in zip(rng.uniform(150, 700, 60), rng.uniform(16, 79, 60), strict=True):
        found = failing(float(seat), float(rate))
        if FOUND.holds(float(seat), float(rate)):
            inside += 1
            # edges bend a little between the rates that were worked
            assert (
                not found
                or not FOUND.holds(float(seat) + 3.0, float(rate))
                or not FOUND.holds(float(seat) - 3.0, float(rate))
            )
        else:
            outside += bool(found)
    assert inside > 5
    assert outside > 20


def test_the_fitted_pack_stands_where_it_stands_and_its_ends_are_its_limits() -> None:
    line = next(p for p in FOUND.packs if p.fitted)
    seat = assess(SOUND).verdict("spring.seat_load", "intake").figure
    assert seat is not None
    assert line.at_N == pytest.approx(seat.value)
    # 236 to 536 N over ten millimetres, and 26.3 to 56.7 lbf
    assert line.rate_N_per_mm == pytest.approx(30.0 + (56.7 - 26.3) * 4.4482216 / 10.0)
    # without its 0.75 of shims it stands taller and carries less
    assert line.low_N == pytest.approx(seat.value - 0.75 * line.rate_N_per_mm)
    # the inner has 0.5 over its floor: so much lower it may go
    inner = assess(SOUND).verdict("spring.reserve.inner", "intake").figure
    assert inner is not None
    assert line.high_N == pytest.approx(seat.value + (inner.value - 1.5) * line.rate_N_per_mm)
    assert line.holds
    names = [p.name for p in FOUND.packs]
    # the fitted one is on the shelf too, and drawn once
    assert len(names) == len(set(names)) == sum(p.kind.value == "pack" for p in demo_shelf())


def test_what_is_wanted_lies_inside_and_fits_the_head() -> None:
    w = FOUND.wanted
    assert w is not None
    assert FOUND.holds(w.seat_N, w.rate_N_per_mm)
    assert failing(w.seat_N, w.rate_N_per_mm) == set()
    assert w.open_N == pytest.approx(w.seat_N + 9.8 * w.rate_N_per_mm)
    assert w.solid_mm == pytest.approx(36.0 - 10.0 - 1.5)
    assert w.outside_mm == pytest.approx(29.2 - 0.5)
    assert w.inside_mm == pytest.approx(13.2 + 1.0)
    assert w.surge_Hz == pytest.approx(10 * 8100 / 120)


def test_the_room_asked_for_is_the_practice_s() -> None:
    hard = SOUND.model_copy(update={"practice": "sprint"})
    ctx = assess(hard).sides["intake"]
    found = window(ctx)
    floor = ctx.limit("spring.reserve.outer").low
    assert found.wanted is not None
    assert floor is not None
    assert floor != 1.5
    assert found.wanted.solid_mm == pytest.approx(36.0 - 10.0 - floor)


def test_a_head_asked_too_much_has_no_window_and_says_so() -> None:
    asked = change(change(SOUND, "brief.overspeed", "13000"), "brief.limiter", "12500")
    found = window(assess(asked).sides["intake"])
    assert found.empty
    assert found.wanted is None
    assert not any(p.holds for p in found.packs)
    assert "no seat load and rate" in window_drawing(found, System.MM)


@pytest.mark.parametrize("make", [lambda: FAILING, sorrel, bramble, lambda: template("rocker")])
def test_other_heads_and_units_are_worked_and_drawn(make: object) -> None:
    build: Build = make()  # type: ignore[operator]
    found = window(assess(build).sides["exhaust"], demo_shelf()[:60])
    for system in System:
        drawn = window_drawing(found, system)
        assert "nan" not in drawn
        assert ("lbf" in drawn) is (system is System.INCH)
    # a pack of a table that curves has no rate of its own to run along
    assert any(p.fitted for p in found.packs) is (build.exhaust.stack.outer.table == "")


def test_what_is_missing_is_asked_for() -> None:
    with pytest.raises(NotKnown):
        window(assess(Build(name="x")).sides["intake"])
    short = window(assess(change(SOUND, "brief.boost", "")).sides["intake"])
    assert any("rule" in title or "Separation" in title for title in short.left_out)


@pytest.mark.parametrize("height", ["41", "44.5", "58"])
def test_a_tall_spring_has_a_window_too(height: str) -> None:
    """At 58 mm and 15 N/mm, a load of 1,200 N asks for a free length of 138 mm: no maker's, and no fault of a page's."""
    tall = change(SOUND, "intake.stack.open_height", height)
    tall = change(change(tall, "intake.stack.target_height", height), "intake.stack.shims.1", "none")
    found = window(assess(change(tall, "intake.stack.shims.2", "")).sides["intake"])
    assert len(found.rates) > 5
    assert "svg" in window_drawing(found, System.MM)
