"""The built wheel holds all that the program needs, and runs from nothing but itself."""

import os
import re
import subprocess
import sys
import zipfile
from pathlib import Path

import pytest

from arcstack import __version__

ROOT = Path(__file__).parents[1]
SOURCE = ROOT / "src" / "arcstack"


@pytest.fixture(scope="module")
def wheel(tmp_path_factory: pytest.TempPathFactory) -> Path:
    out = tmp_path_factory.mktemp("wheel")
    made = subprocess.run(
        [sys.executable, "-m", "pip", "wheel", "-q", "--no-deps", "--no-build-isolation", "-w", str(out), str(ROOT)],
        capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert made.returncode == 0, made.stderr[-800:]
    return next(out.glob("arcstack-*.whl"))


def test_everything_beside_the_code_is_inside(wheel: Path) -> None:
    with zipfile.ZipFile(wheel) as whole:
        inside = set(whole.namelist())
        told = next(n for n in inside if n.endswith(".dist-info/METADATA"))
        metadata = whole.read(told).decode()
    wanted = {
        f"arcstack/{p.relative_to(SOURCE).as_posix()}"
        for p in SOURCE.rglob("*")
        if p.is_file() and "__pycache__" not in p.parts and p.suffix not in (".pyc", ".nbi", ".nbc", ".md")
    }
    assert wanted - inside == set()
    assert f"Version: {__version__}" in metadata
    asked = (ROOT / "requirements.in").read_text().split()
    assert {re.sub(r"[-_.]+", "-", n).lower() for n in re.findall(r"^Requires-Dist: ([\w.-]+)", metadata, re.M)} == {
        re.sub(r"[-_.]+", "-", n).lower() for n in asked
    }


def test_it_runs_from_nothing_but_itself(wheel: Path, tmp_path: Path) -> None:
    home = tmp_path / "site"
    with zipfile.ZipFile(wheel) as whole:
        whole.extractall(home)
    script = (
        "import arcstack, sys\n"
        f"assert arcstack.__file__.startswith({str(home)!r}), arcstack.__file__\n"
        "from pathlib import Path\n"
        "from arcstack.demo.workshop import make_demo\n"
        "from arcstack.web import create_app\n"
        "data = Path(sys.argv[1])\n"
        "make_demo(data)\n"
        "client = create_app(data).test_client()\n"
        "for path in ('/', '/builds/1/intake/stack', '/builds/3/intake/back/diagnosis', '/static/app.css'):\n"
        "    assert client.get(path).status_code == 200, path\n"
        "told = client.get('/builds/3/intake/sheets/report.pdf')\n"
        "assert told.data[:5] == b'%PDF-'\n"
    )
    env = os.environ | {"PYTHONPATH": str(home)}
    told = subprocess.run(
        [sys.executable, "-c", script, str(tmp_path / "data")], env=env, cwd=tmp_path, capture_output=True, text=True,
        check=False,
    )  # fmt: skip
    assert told.returncode == 0, told.stderr[-800:]
