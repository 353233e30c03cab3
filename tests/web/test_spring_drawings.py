"""Charts of springs and trains: what they carry is what the core says."""

from itertools import pairwise
from xml.etree.ElementTree import fromstring

import numpy as np
import pytest

from arcstack.assess import assess, coil, cost, elastic, spring, surge
from arcstack.demo import demo_builds
from arcstack.document import Build, change
from arcstack.drawings.goodman import goodman_picture
from arcstack.drawings.section import section
from arcstack.dynamics.motion import trace
from arcstack.trials.heights import height_sweep
from arcstack.trials.packs import tried
from arcstack.units import System
from arcstack.web.stages.boost.charts import gas_chart
from arcstack.web.stages.control.charts import coil_frames, cost_chart, sweep_chart, trace_chart
from arcstack.web.stages.springs.charts import height_chart, load_chart, surge_chart
from tests.builds import SWEEPS

SOUND, FAILING = demo_builds()
CTX = assess(SOUND).sides["intake"]
EMPTY = assess(Build(name="x")).sides["intake"]


def at(chart: dict[str, object], name: str, x: float) -> float:
    """Value of a series at a place, straight between its points."""
    rows = chart.get("series") or [s for p in chart["panels"] for s in p["series"]]  # type: ignore[attr-defined]
    y = next(s for s in rows if s["name"] == name)["y"]  # type: ignore[union-attr]
    pairs = [(a, b) for a, b in zip(chart["x"], y, strict=True) if b is not None]  # type: ignore[call-overload]
    return float(np.interp(x, [a for a, _ in pairs], [b for _, b in pairs]))


def test_load_over_height_meets_its_loads_and_marks() -> None:
    chart = load_chart(CTX, System.MM)
    assert chart is not None
    marks = {m["text"]: m["x"] for m in chart["marks"]}
    assert marks["installed"] == pytest.approx(36.0)
    assert marks["open"] == pytest.approx(26.2)
    assert marks["outer solid"] == pytest.approx(22.6)
    # the inner stands 2.4 mm shorter
    assert marks["inner solid"] == pytest.approx(21.6 + 2.4)
    # the pack goes no further than its first solid spring, the outer's own line on to its own
    least = {s["name"]: min(x for x, y in zip(chart["x"], s["y"], strict=True) if y) for s in chart["series"]}
    assert 24.0 <= least["Pack"] < 24.3
    assert 22.6 <= least["Outer"] < 22.9
    assert chart["first"] < 22.6
    assert at(chart, "Pack", 36.0) == pytest.approx(351.6, abs=0.5)
    assert at(chart, "Pack", 26.2) == pytest.approx(778.2, abs=0.5)
    dots = next(s for s in chart["series"] if s["name"] == "Inner, as taken")
    taken = [(x, y) for x, y in zip(chart["x"], dots["y"], strict=True) if y is not None]
    assert taken[0] == (pytest.approx(35.9), pytest.approx(26.3 * 4.44822, abs=0.1))
    inches = load_chart(CTX, System.INCH)
    assert inches is not None
    assert {m["text"]: m["x"] for m in inches["marks"]}["installed"] == pytest.approx(36.0 / 25.4, abs=1e-4)
    assert at(inches, "Pack", 36.0 / 25.4) == pytest.approx(351.6 / 4.44822, abs=0.2)


def test_readings_of_a_table_are_dots() -> None:
    build = change(SOUND, "intake.stack.outer.table", "37 206; 36 236; 31 386; 26 540")
    chart = load_chart(assess(build).sides["intake"], System.MM)
    assert chart is not None
    dots = next(s for s in chart["series"] if s["name"] == "Outer, as taken")
    assert sum(y is not None for y in dots["y"]) == 4 + 2


def test_height_chart_holds_its_window() -> None:
    swept = height_sweep(assess(FAILING).sides["intake"])
    chart = height_chart(swept, System.MM)
    marks = {m["text"]: m["x"] for m in chart["marks"]}
    assert marks == {"now": 36.0, "from": pytest.approx(37.79, abs=0.01), "to": pytest.approx(38.54, abs=0.01)}
    assert at(chart, "Reserve, inner", 36.0) == pytest.approx(-0.29, abs=0.01)
    assert at(chart, "Seat load", 37.0) < at(chart, "Seat load", 36.0)


def test_surge_chart_peaks_where_a_harmonic_rings() -> None:
    chart = surge_chart(CTX, System.MM)
    assert chart is not None
    driven = next(s for s in chart["panels"][1]["series"] if s["name"] == "Outer")["y"]
    speeds = np.array(chart["x"])
    around = (speeds > 6800) & (speeds < 7400)
    peak = speeds[around][int(np.argmax(np.array(driven)[around]))]
    ninth = next(r for r in surge.ringing(CTX) if r.spring == "outer" and r.found.harmonic == 9)
    assert peak == pytest.approx(ninth.found.rpm, abs=40)
    assert max(np.array(driven)[around]) == pytest.approx(ninth.found.lift_mm * 1000, rel=0.05)
    assert at(chart, "Outer", 8100) == pytest.approx(530.7 / 67.5, abs=0.05)
    thou = surge_chart(CTX, System.INCH)
    assert thou is not None
    assert thou["panels"][1]["name"].endswith("thou")
    again = next(s for s in thou["panels"][1]["series"] if s["name"] == "Outer")["y"]
    assert max(again) == pytest.approx(max(driven) / 25.4, rel=1e-3)


@pytest.mark.parametrize(("system", "wanted"), [(System.MM, ["0", "200", "400"]), (System.INCH, ["0", "40", "80"])])
def test_goodman_axes_read_in_round_figures(system: System, wanted: list[str]) -> None:
    root = fromstring(str(goodman_picture(CTX, system)))
    words = [e.text for e in root.iter() if e.get("class") == "tick-words"]
    assert words[:3] == wanted


def test_goodman_points_stand_at_their_stress() -> None:
    root = fromstring(str(goodman_picture(CTX, System.MM)))
    points = [e for e in root.iter() if (e.get("class") or "").startswith("goodman-point")]
    lines = [e for e in root.iter() if (e.get("class") or "").startswith("goodman-line")]
    rays = [e for e in root.iter() if (e.get("class") or "").startswith("goodman-ray")]
    assert len(points) == len(lines) == len(rays) == 2
    seat, open_ = (f.value for f in spring.stresses(CTX, "outer"))
    factor = coil.goodman(CTX, "outer", *spring.stresses(CTX, "outer")).value
    # the ray meets the line at factor times the point
    x0, y0 = float(rays[0].get("x1", 0)), float(rays[0].get("y1", 0))
    reached = float(rays[0].get("x2", 0)) - x0
    assert reached / (float(points[0].get("cx", 0)) - x0) == pytest.approx(factor, rel=1e-3)
    mean, amplitude = (open_ + seat) / 2, (open_ - seat) / 2
    up = (y0 - float(points[0].get("cy", 0))) / (y0 - float(lines[0].get("y1", 0)))
    along = (float(points[0].get("cx", 0)) - x0) / (float(lines[0].get("x2", 0)) - x0)
    assert 1.0 / (up + along) == pytest.approx(factor, rel=1e-3)
    assert mean > amplitude > 0


def test_sweep_chart_holds_the_sweep_and_its_band() -> None:
    ctx = assess(SOUND, SWEEPS.answer).sides["intake"]
    answer = elastic.answer(ctx)
    chart = sweep_chart(ctx, answer, System.MM)
    rows = answer.rows[elastic.AS_BUILT]
    assert chart["x"] == [r.rpm for r in rows]
    for panel in chart["panels"]:
        (series,) = panel["series"]
        for low, y, high in zip(series["low"], series["y"], series["high"], strict=True):
            assert low <= y <= high
    assert at(chart, "Peak contact force", 8100.0) == pytest.approx(
        next(r.peak_contact_N for r in rows if r.rpm == 8100.0), abs=0.01
    )
    assert [m["text"] for m in chart["marks"]] == ["usual", "limiter", "overspeed"]


def test_trace_and_coils_hold_one_motion() -> None:
    found = trace(elastic.train(CTX), 8100.0)
    chart = trace_chart(CTX, found, System.MM)
    assert at(chart, "Valve", 0.0) == pytest.approx(float(found.valve_mm.max()), abs=0.02)
    frames = coil_frames(CTX, found)
    assert len(frames["angle"]) == len(frames["valve"]) == len(frames["springs"][0]["coils"])
    for one in frames["springs"]:
        for valve, coils in zip(frames["valve"], one["coils"], strict=True):
            # from the retainer down to the seat, nowhere through one another by more than a coil's give
            ends = [one["height"] - valve, *coils, 0.0]
            assert all(a - b > -0.1 for a, b in pairwise(ends))
    whole = 120.0 / 8100.0
    assert 0.3 * whole < frames["seconds"][-1] < whole


def test_cost_chart_lays_the_packs_side_by_side() -> None:
    chart = cost_chart(tried(CTX), System.MM)
    assert chart is not None
    names = [s["name"] for s in chart["panels"][2]["series"]]
    assert names == ["TS-30 outer", "CR-27 beehive", "HV-38 heavy dual"]
    for panel in chart["panels"]:
        light, heavy = (next(s for s in panel["series"] if s["name"] == n)["y"] for n in (names[1], names[2]))
        assert all(a < b for a, b in zip(light, heavy, strict=True))
    rpm = chart["x"][6]
    assert chart["panels"][2]["series"][0]["y"][6] == pytest.approx(cost.power_at(CTX, rpm), rel=1e-3)


def test_a_beehive_is_drawn_narrow_at_the_top() -> None:
    build = change(SOUND, "intake.stack.outer.shape", "beehive")
    build = change(build, "intake.stack.outer.outside_top", "22 mm")
    picture, _, _ = section(assess(build), "intake", System.MM, 0)
    circles = [
        (-float(e.get("cy", 0)), abs(float(e.get("cx", 0))))
        for e in fromstring(str(picture)).iter()
        if (e.get("class") or "") == "coil outer"
    ]
    circles.sort()
    assert circles[0][1] == pytest.approx((28.2 - 3.7) / 2, abs=0.01)
    assert circles[-1][1] == pytest.approx((22.0 - 3.7) / 2, abs=0.01)
    assert [r for _, r in circles] == sorted((r for _, r in circles), reverse=True)


def test_gas_chart_tops_at_the_difference_rule() -> None:
    chart = gas_chart(assess(SOUND).sides["exhaust"], System.MM)
    assert chart is not None
    force = next(s for s in chart["panels"][1]["series"] if s["name"] == "On the exhaust valve")["y"]
    assert max(v for v in force if v is not None) == pytest.approx(115.5, abs=1.0)


def test_nothing_is_drawn_of_nothing() -> None:
    assert load_chart(EMPTY, System.MM) is None
    assert surge_chart(EMPTY, System.MM) is None
    assert goodman_picture(EMPTY, System.MM) is None
    assert gas_chart(EMPTY, System.MM) is None
    assert cost_chart(tried(EMPTY), System.MM) is None
