import json
import os
import subprocess
import sys
from pathlib import Path

import pytest
from click.testing import CliRunner

from arcstack.assess import checks
from arcstack.cli import main
from arcstack.demo import demo_builds
from arcstack.demo.returned import returned_head
from arcstack.formats import markdown, read_build, write_build
from arcstack.formats.readings_json import write_whole
from arcstack.formats.shelf_json import read_shelf_json

DOCS = Path(__file__).parent.parent / "docs"


@pytest.fixture
def files(tmp_path: Path) -> list[str]:
    found = []
    for build in demo_builds():
        path = tmp_path / f"{build.name.split(',')[0]}.json"
        path.write_text(write_build(build), "utf-8")
        found.append(str(path))
    return found


def test_check_says_by_its_exit_whether_a_build_fails(files: list[str]) -> None:
    sound, failing = (CliRunner().invoke(main, ["check", f]) for f in files)
    assert sound.exit_code == 0
    assert "TIGHT  intake   stack.retainer_seal" in sound.output
    assert failing.exit_code == 1
    assert "FAIL   intake   spring.reserve.inner" in failing.output


def test_check_json_holds_every_verdict_with_its_working(files: list[str]) -> None:
    result = CliRunner().invoke(main, ["check", files[1], "--json"])
    rows = json.loads(result.output)
    assert {r["id"] for r in rows} == {c for c, about in checks().items() if about.stage not in ("bench", "turbo")} - {
        "cam.lift_shortfall",
        "follower.tip_sweep",
        "fit.cap",
        "lift.cap",
    }
    assert {r["side"] for r in rows} == {"intake", "exhaust"}
    inner = next(r for r in rows if r["id"] == "spring.reserve.inner" and r["side"] == "intake")
    assert inner["value"] == pytest.approx(-0.2902)
    assert (inner["unit"], inner["level"], inner["evidence"]) == ("mm", "fail", "on paper")
    assert inner["limit"]["low"] == 1.5
    assert inner["working"][-1]["formula"] == "R_i = H_i − L − b_i"
    keys = {"id", "side", "value", "unit", "limit", "level", "evidence", "working"}
    assert all(keys <= set(r) for r in rows)


def test_check_of_no_build_says_so(tmp_path: Path) -> None:
    path = tmp_path / "cut.json"
    path.write_text(write_build(demo_builds()[0])[:2000], "utf-8")
    result = CliRunner().invoke(main, ["check", str(path)])
    assert result.exit_code == 2
    assert "cut off" in result.output
    assert "Traceback" not in result.output


def test_schema_is_json_schema() -> None:
    described = json.loads(CliRunner().invoke(main, ["schema"]).output)
    assert described["$schema"].endswith("2020-12/schema")


@pytest.mark.parametrize("name", markdown.PAGES)
def test_reference_pages_say_what_the_code_does(name: str) -> None:
    assert (DOCS / name).read_text("utf-8") == markdown.page(name), "run: arc-stack docs docs"


def test_a_home_that_cannot_be_written_stops_nothing(tmp_path: Path) -> None:
    build = tmp_path / "build.json"
    build.write_text(write_build(demo_builds()[0]), "utf-8")
    env = {"PATH": os.environ["PATH"], "HOME": "/proc/nowhere", "TMPDIR": str(tmp_path)}
    command = [sys.executable, "-c", f"from arcstack.cli import main; main(['check', {str(build)!r}])"]
    done = subprocess.run(command, env=env, capture_output=True, text=True, check=False)
    assert "spring.seat_load" in done.stdout, done.stderr[-500:]
    assert "Traceback" not in done.stderr
    assert list(tmp_path.glob("arc-stack-*/loops-*"))


def test_a_table_of_parts_becomes_a_shelf_document(tmp_path: Path) -> None:
    table = tmp_path / "seals.csv"
    table.write_text("name;stem (mm);height (mm);colour\nS-1;6,0;8,4;red\nS-2;600;8;red\n", "utf-8")
    run = CliRunner().invoke(main, ["shelf", "--csv", str(table), "--kind", "seal", "--json"])
    assert run.exit_code == 1
    assert "line 3" in run.stderr
    parts = read_shelf_json(run.stdout)
    assert [(p.name, p.at("height").value) for p in parts] == [("S-1", 8.4)]
    said = CliRunner().invoke(main, ["shelf", "--csv", str(table), "--kind", "seal"])
    assert "colour: left out" in said.stdout
    assert "1 parts" in said.stdout
    assert CliRunner().invoke(main, ["shelf", "--csv", str(table)]).exit_code == 2


def test_a_shelf_is_searched_with_no_server(files: list[str], tmp_path: Path) -> None:
    shelf = tmp_path / "shelf.csv"
    shelf.write_bytes((Path(markdown.__file__).parents[1] / "demo" / "shelf.csv").read_bytes())
    run = CliRunner().invoke(main, ["shelf", "--csv", str(shelf), "--json"])
    document = tmp_path / "shelf.json"
    document.write_text(run.stdout, "utf-8")
    told = []
    for file in (shelf, document):
        run = CliRunner().invoke(
            main, ["specify", files[0], "--shelf", str(file), "--vary", "pack,shims,locks", "--want", "price", "--json"]
        )
        assert run.exit_code == 0, run.output
        told.append(json.loads(run.stdout))
    assert [{k: v for k, v in t.items() if k != "best"} for t in told] == [
        {k: v for k, v in told[0].items() if k != "best"}
    ] * 2
    best = told[1]["best"]
    prices = [row["price"] for row in best]
    assert prices == sorted(prices)
    assert best[0]["figures"]["control.separation"]["level"] in ("clear", "tight")
    assert set(best[0]["parts"]) == {"pack", "locks"}
    counts = {c["check"]: c for c in told[1]["turned_away"]}
    assert counts["fit.lock_stem"]["failed"] > counts["fit.lock_stem"]["by_it_alone"] > 0
    said = CliRunner().invoke(main, ["specify", files[0], "--shelf", str(document), "--vary", "pack,shim"])
    assert "combinations would do" in said.stdout
    assert "turned away by installed height" in said.stdout


@pytest.mark.parametrize(
    ("more", "code", "words"),
    [
        (["--vary", "wheel"], 2, "name kinds out of"),
        (["--vary", "rocker"], 0, "1 of 1"),
        (["--vary", "pack,retainer,locks,shim,valve,locator,seal,guide,bucket"], 2, "more than"),
        (["--side", "exhaust", "--any-height", "--on-hand", "--most", "1"], 0, "would do"),
    ],
)
def test_what_is_asked_of_a_shelf_is_read(files: list[str], more: list[str], code: int, words: str) -> None:
    shelf = Path(markdown.__file__).parents[1] / "demo" / "shelf.csv"
    run = CliRunner().invoke(main, ["specify", files[0], "--shelf", str(shelf), *more])
    assert run.exit_code == code, run.output
    assert words in run.output


def test_a_shelf_with_a_wrong_line_is_not_half_searched(files: list[str], tmp_path: Path) -> None:
    table = tmp_path / "packs.csv"
    table.write_text("kind;name;stem (mm)\nseal;S-1;6\nseal;S-2;600\n", "utf-8")
    run = CliRunner().invoke(main, ["specify", files[0], "--shelf", str(table)])
    assert run.exit_code == 2
    assert "line 3" in run.output


def test_check_and_the_library_read_a_build_that_was_exported_with_its_readings(tmp_path: Path) -> None:
    path = tmp_path / "rowan.json"
    path.write_text(write_whole(*returned_head()), "utf-8")
    result = CliRunner().invoke(main, ["check", str(path)])
    assert result.exit_code in (0, 1)
    assert "readings in the file are not counted" in result.output
    assert read_build(path.read_bytes()) == returned_head()[0]
    assert json.loads(CliRunner().invoke(main, ["check", str(path), "--json"]).stdout)
