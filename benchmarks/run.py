"""Measures what the design sets a budget for, each beside a fixed piece of work, as a ratio.

usage: python benchmarks/run.py [--write]   (--write renews the table in docs/performance.md)
"""

import gzip
import math
import os
import platform
import re
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable
from pathlib import Path

import numpy as np
from scipy.integrate import solve_ivp

from arcstack.application import Progress, State, Sweeps
from arcstack.assess import assess, elastic
from arcstack.cli.serving import settle
from arcstack.demo import demo_builds
from arcstack.demo.workshop import make_demo
from arcstack.document import change
from arcstack.dynamics.model import Chain, Train
from arcstack.dynamics.motion import at_speed, at_speeds
from arcstack.dynamics.question import Question, Run, work_out
from arcstack.dynamics.sweep import speeds_rpm, sweep
from arcstack.formats import read_table
from arcstack.mech.cam.law import SymmetricLobe
from arcstack.mech.cam.smoothing import smooth
from arcstack.web import create_app

sys.path.insert(0, str(Path(__file__).parent))
import as_built
import shop

import specify

ROOT = Path(__file__).parent.parent
PAGE = ROOT / "docs" / "performance.md"
RNG = np.random.default_rng(7)
MATRIX = RNG.normal(size=(300, 300))


def yardstick() -> None:
    """Fixed work of about the same kind on any machine: one dense solve and a loop of plain Python."""
    np.linalg.solve(MATRIX, MATRIX)
    sum(i * i for i in range(20_000))


def times(work: Callable[[], object], count: int) -> list[float]:
    found = []
    for _ in range(count):
        start = time.perf_counter()
        work()
        found.append((time.perf_counter() - start) * 1000.0)
    return found


def p95(values: list[float]) -> float:
    return sorted(values)[int(0.95 * (len(values) - 1))]


def checks() -> float:
    build = demo_builds()[0]
    assess(build)
    return statistics.median(times(lambda: assess(build), 40))


def checks_after_a_cam_edit() -> float:
    """Every edit brings a card not met before, so the estimated curve is made anew."""
    build = demo_builds()[0]
    lifts = iter(np.linspace(9.5, 10.5, 41))
    return p95(times(lambda: assess(change(build, "intake.cam.lobe_lift", f"{next(lifts):.4f} mm")), 40))


def sweep_of_chains() -> float:
    """Both springs as chains of 12 coils, 60 speeds of two cam turns."""
    train = elastic.train(assess(demo_builds()[0]).sides["intake"])
    speeds = speeds_rpm(3000.0, 9000.0, 60)
    sweep(train, speeds, turns=2)
    return statistics.median(times(lambda: sweep(train, speeds, turns=2), 9))


def whole_question() -> tuple[float, float, float]:
    """One side's elastic question, each speed turned until steady: a first look, three trains, and all of its band.

    Of the three each stands on the even grid of 25 rpm.
    """
    asked = elastic.question(assess(demo_builds()[0]).sides["intake"])
    grid = asked.runs[0].speeds
    three = Question(tuple(Run(r.name, r.train, grid) for r in asked.runs[:3]))
    work_out(asked.first_look())
    first, some, whole = (
        statistics.median(times(lambda q=q: work_out(q), 3)) for q in (asked.first_look(), three, asked)
    )
    return first, some, whole


def lanes_over_scalar() -> float:
    """How many times as long the scalar loop takes for the same speeds and turns, each on one thread."""
    train = elastic.train(assess(demo_builds()[0]).sides["intake"])
    speeds = speeds_rpm(3000.0, 9000.0, 48)
    at_speeds(train, speeds, 2)
    wide = statistics.median(times(lambda: at_speeds(train, speeds, 2), 5))
    return statistics.median(times(lambda: [at_speed(train, n, 2) for n in speeds], 5)) / wide


def edited_checks() -> float:
    """Every check of both sides after an edit: a retainer's step, a mass, a speed, in turn."""
    build, n = demo_builds()[0], 40
    held = [assess(build)]
    fields = (
        ("intake.stack.retainer.step", "1.{} mm"),
        ("exhaust.stack.valve.mass", "4{}.5 g"),
        ("brief.limiter", "79{}0"),
    )
    edited = iter([change(build, path, text.format(i % 10)) for i in range(n) for path, text in (fields[i % 3],)])

    def once() -> None:
        held[0] = assess(next(edited), before=held[0])

    return p95(times(once, n))


BUILDS, REVISIONS = 2000, 20


class Still(Sweeps):
    """Sweeps that nobody works, so that no train met on one page turns beside the next page."""

    def start(self, question: object, again: bool = False) -> Progress:
        return Progress(State.STOPPED, 0, 1)


ONE_MASS = {"mass_kg": 0.112, "k": 28e6, "zeta": 0.06, "seat_k": 90e6, "seat_zeta": 0.15, "load": 380.0, "rate": 44e3}


def one_mass() -> tuple[float, float, float, float]:
    """The one-mass case at 7000 rpm by the compiled loop and by LSODA, the latter at the accuracy of the former.

    Gives both times (ms) and both errors of the peak contact force against LSODA at 1e-10.
    """
    lobe = SymmetricLobe.polynomial(10.4, math.radians(74.0), (2.0, 8.0, 10.0, 12.0))
    g = ONE_MASS
    spring = Chain(g["load"], g["rate"] / 1000.0, 50.0)
    train = Train(lobe, g["mass_kg"], (spring,), 0.2, g["k"] / 1e3, g["zeta"], g["seat_k"] / 1e3, g["seat_zeta"])
    at_speed(train, 7000.0, turns=1)
    ours = statistics.median(times(lambda: at_speed(train, 7000.0, turns=1), 9))
    reach = np.radians(np.linspace(-79.0, 281.0, 3601))
    true = _peak(lobe, reach, 1e-10)
    our_error = abs(at_speed(train, 7000.0, turns=1).peak_contact_N / true - 1.0)
    tolerance = 1e-2
    while abs(_peak(lobe, reach, tolerance) / true - 1.0) > max(our_error, 1e-4) and tolerance > 1e-9:
        tolerance /= 2.0
    theirs = statistics.median(times(lambda: _peak(lobe, reach, tolerance), 3))
    return ours, theirs, our_error, abs(_peak(lobe, reach, tolerance) / true - 1.0)


def _peak(lobe: SymmetricLobe, reach: np.ndarray, tolerance: float) -> float:
    """Peak contact force of the one-mass case by a general stiff solver."""
    g, omega = ONE_MASS, 7000.0 * math.pi / 60.0
    c = 2.0 * g["zeta"] * math.sqrt(g["k"] * g["mass_kg"])
    c_seat = 2.0 * g["seat_zeta"] * math.sqrt(g["seat_k"] * g["mass_kg"])

    def contact(angle: float, x: float, v: float) -> float:
        at = np.array([angle])
        over = float(lobe.evaluate(at)[0]) * 1e-3 - 0.2e-3 - x
        if over <= 0.0:
            return 0.0
        return max(0.0, g["k"] * over + c * (float(lobe.evaluate(at, 1)[0]) * 1e-3 * omega - v))

    def motion(angle: float, state: np.ndarray) -> list[float]:
        x, v = state
        seat = max(0.0, -g["seat_k"] * x - c_seat * v) if x < 0.0 else 0.0
        force = contact(angle, x, v) + seat - g["load"] - g["rate"] * x
        return [v / omega, force / g["mass_kg"] / omega]

    start = [-g["load"] / g["seat_k"], 0.0]
    found = solve_ivp(
        motion, (reach[0], reach[-1]), start, "LSODA", t_eval=reach, rtol=tolerance, atol=tolerance * 1e-5,
        max_step=math.radians(2.0),
    )  # fmt: skip
    return max(contact(a, x, v) for a, x, v in zip(found.t, *found.y, strict=True))


def edits() -> dict[str, float]:
    """An edit of each stage through the application, request to answer, compressed pages left out."""
    folder = Path(tempfile.mkdtemp())
    make_demo(folder)
    client = create_app(folder).test_client()
    token = re.search(r'csrf-token" content="([^"]+)"', client.get("/").get_data(as_text=True))[1]  # type: ignore[index]
    found = {}
    for stage, path, start in (
        ("stack", "intake.stack.retainer.step", 1.0),
        ("clearance", "intake.clearance.drop_at_tdc", 6.0),
        ("control", "brief.limiter", 7000.0),
        ("cam", "intake.cam.lobe_lift", 9.5),
        ("springs", "intake.stack.outer.load_1", 236.0),
        ("boost", "brief.boost", 1.5),
    ):
        base = int(
            re.search(r'id="base"[^>]*value="(\d+)"', client.get(f"/builds/1/intake/{stage}").get_data(as_text=True))[1]
        )  # type: ignore[index]
        taken = []
        for i in range(40):
            form = {
                "path": path,
                "text": f"{start * (1 + i / 1000):.4f}",
                "evidence": "measured",
                "base": base + i,
                "stage": stage,
                "side": "intake",
            }
            begin = time.perf_counter()
            answer = client.post(
                "/builds/1/edit", data=form, headers={"X-CSRFToken": token, "Referer": "http://localhost/"}
            )
            taken.append((time.perf_counter() - begin) * 1000.0)
            assert answer.status_code == 200, answer.get_data(as_text=True)
        found[stage] = p95(taken)
    return found


def reading() -> float:
    """A pasted table of 720 points: read, judged and smoothed."""
    lobe = SymmetricLobe.polynomial(10.4, math.radians(72.0), (2.0, 8.0, 14.0, 20.0))
    degrees = np.arange(-180.0, 180.0, 0.5)
    lift = lobe.evaluate(np.radians(degrees)) + RNG.normal(0.0, 0.005, len(degrees))
    text = "\n".join(f"{a:.1f}\t{y:.4f}" for a, y in zip(degrees, lift, strict=True))

    def once() -> None:
        found = read_table(text)
        smooth(np.array(found.cam_rad), np.array(found.lift_mm))

    once()
    return p95(times(once, 30))


def slide() -> float:
    """A centreline slid on the what-if: from request to answer."""
    folder = Path(tempfile.mkdtemp())
    make_demo(folder)
    client = create_app(folder).test_client()
    asked = iter(np.linspace(100.0, 118.0, 41))
    return p95(times(lambda: client.get(f"/builds/1/intake/what-if?intake={next(asked):.1f}&exhaust=111"), 40))


def start(page: str) -> float:
    """From the command to a page, caches warm."""
    folder = tempfile.mkdtemp()
    make_demo(Path(folder))

    def once() -> None:
        command = [sys.executable, "-m", "arcstack.cli", "demo", "--port", "8199", "--data", folder]
        server = subprocess.Popen(
            command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, env=shop.as_installed()
        )
        try:
            while True:
                try:
                    urllib.request.urlopen(f"http://127.0.0.1:8199{page}").read()
                    return
                except OSError:
                    time.sleep(0.02)
        finally:
            server.terminate()
            server.wait()

    once()
    return statistics.median(times(once, 5))


def assets() -> float:
    """Compressed size of styles, scripts and fonts of the heaviest page, kB."""
    static = ROOT / "src/arcstack/web/static"
    files = [p for p in static.rglob("*") if p.suffix in (".css", ".js")]
    fonts = [p for p in static.rglob("*.woff2")]
    return (sum(len(gzip.compress(p.read_bytes())) for p in files) + sum(p.stat().st_size for p in fonts)) / 1000.0


def _row(name: str, value: float, budget: float, unit: str, yard: float) -> str:
    if unit == "ms":
        return f"| {name} | {value:.1f} ms | {f'{budget:g} ms' if budget else '–'} | {value / yard:.1f} |"
    return f"| {name} | {value:.0f} {unit} | {budget:g} {unit} | – |"


def main() -> None:
    settle()
    yard = statistics.median(times(yardstick, 30))
    rows: list[tuple[str, float, float, str]] = [
        ("every check of one build, both sides, none known before", checks(), 10, "ms"),
        ("every check after an edit (95th percentile)", edited_checks(), 10, "ms"),
        ("the same after a cam edit, curve made anew (95th percentile)", checks_after_a_cam_edit(), 100, "ms"),
    ]
    rows += [
        ("720 points of a lift table, read and smoothed (95th percentile)", reading(), 100, "ms"),
        ("a centreline slid, request to answer (95th percentile)", slide(), 100, "ms"),
    ]
    rows.append(("elastic train: chains of 12, 60 speeds × 2 turns", sweep_of_chains(), 250, "ms"))
    first, three, whole = whole_question()
    rows += [
        ("the whole question: a coarse first answer", first, 250, "ms"),
        ("three trains on a grid of 25 rpm to past overspeed, each speed until steady", three, 1000, "ms"),
        ("the whole question with its band, 11 trains", whole, 1000, "ms"),
    ]
    ours, theirs, our_error, their_error = one_mass()
    rows += [
        (f"an edit on {stage}, request to swapped parts (95th percentile)", t, 40, "ms") for stage, t in edits().items()
    ]
    rows += [
        ("start to first page, warm caches", start("/"), 1500, "ms"),
        ("start to a build opened at once", start("/builds/1/intake/stack"), 2000, "ms"),
        ("styles, scripts and fonts, compressed", assets(), 600, "kB"),
    ]
    searched = specify.measured()
    rows += [
        ("a million combinations of seven kinds, every closed check, the best 200", searched["million"], 250, "ms"),
        ("ten million of them", searched["ten"], 2500, "ms"),
        ("memory held at most by then", searched["memory"], 1000, "MB"),
    ]
    rows += [
        # the budget is that of a head that is open
        (f"sixteen valves as built: {name}", t, 0 if name == "first" else 60, "ms")
        for name, t in as_built.measured().items()
    ]
    machine = f"{os.cpu_count()} cores, {platform.machine()}, Python {platform.python_version()}"
    lines = [
        f"{machine}. The yardstick is one dense solve of 300 unknowns",
        f"and a loop of plain Python, run beside it: {yard:.1f} ms.",
        "",
        "| work | measured | budget | × yardstick |",
        "|---|---|---|---|",
        *(_row(name, value, budget, unit, yard) for name, value, budget, unit in rows),
    ]
    each = searched["million"] / 1e6
    lines += [
        "",
        f"A combination of a million takes {each * 1000:.2f} µs; the same columns in plain numpy one after another",
        f"take {searched['numpy']:.2f} ms, {searched['numpy'] / each:.0f} times as long, and the full checks",
        f"{searched['one']:.0f} ms, {searched['one'] / each:.0f} times.",
        "",
        f"On one thread the loop in lanes turns speeds {lanes_over_scalar():.1f} times as fast as the scalar one.",
        "",
        f"One mass, one turn at 7,000 rpm: the compiled loop takes {ours:.2f} ms and is {our_error:.1e} off in peak",
        f"contact force; LSODA at matched accuracy ({their_error:.1e} off) takes {theirs:.0f} ms,",
        f"{theirs / ours:.0f} times as long.",
    ]
    text = "\n".join(lines)
    print(text)
    if "--write" in sys.argv:
        page = PAGE.read_text("utf-8")
        PAGE.write_text(
            re.sub(r"(?s)(<!-- measured -->\n).*(\n<!-- end -->)", lambda m: m[1] + text + m[2], page), "utf-8"
        )


if __name__ == "__main__":
    main()
