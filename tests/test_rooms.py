"""The drawing of the house has every room, and the rooms that show things know no web framework."""

import re
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
SOURCE = ROOT / "src/arcstack"


def test_the_drawing_of_the_house_has_every_room() -> None:
    drawn = (ROOT / "docs/architecture.md").read_text("utf-8").split("```")[1]
    rooms = {p.name for p in SOURCE.iterdir() if (p / "__init__.py").is_file()}
    assert rooms - set(re.findall(r"[a-z_]+", drawn)) == set()


@pytest.mark.parametrize("room", ["sheets.kinds", "views.margins", "drawings.section", "application"])
def test_what_is_shown_is_had_without_a_web_framework(room: str) -> None:
    code = f"import arcstack.{room}, sys; print(sorted({{'flask', 'werkzeug', 'uvicorn'}} & set(sys.modules)))"
    told = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert told.stdout.strip() == "[]"
