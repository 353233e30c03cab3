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


def test_pages_judge_nothing_of_an_act_and_store_nothing() -> None:
    """A page reads a form, calls, renders: what cannot be is said by the form's kit or by the act."""
    web = [p for p in (SOURCE / "web").rglob("*.py") if p.parent.name != "kit"]
    refuse = [p.name for p in web if "raise FieldError" in p.read_text("utf-8")]
    store = [p.name for p in web if re.search(r"\bbench\(\)\.(happened|add|waive|cut|zero|lay)", p.read_text("utf-8"))]
    assert (refuse, store) == ([], [])
