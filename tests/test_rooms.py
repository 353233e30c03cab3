"""The drawing of the house has every room, and the rooms that show things know no web framework."""

import ast
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


def test_each_library_that_is_installed_is_told_of_with_what_it_is_for() -> None:
    told = re.findall(r"^\| ([a-z0-9, -]+) \| .{10,} \|$", (ROOT / "docs/architecture.md").read_text("utf-8"), re.M)
    wanted = [n.replace("jinja2", "jinja") for n in (ROOT / "requirements.in").read_text("utf-8").split()]
    assert sorted(n for row in told for n in row.split(", ")) == sorted(wanted)


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


DRAWN = {"charts.py", "mock_up_chart.py"}
"""Where figures become places on a chart."""

ORDERED_AS_ASKED = {("packs.py", "figure.value * (-1 if asked.better >= 0 else 1)")}


def works_out(node: ast.AST) -> bool:
    """Arithmetic on a figure's value, or a comparison of anything with a threshold of its own."""

    def is_figure(n: ast.AST) -> bool:
        unit = r"value|\w+_(mm|N|rad|kg|rpm|MPa|bar|deg)"
        return isinstance(n, ast.Attribute) and bool(re.fullmatch(unit, n.attr))

    if isinstance(node, ast.BinOp) and isinstance(node.op, ast.Add | ast.Sub | ast.Mult | ast.Div | ast.Pow):
        return is_figure(node.left) or is_figure(node.right)
    if isinstance(node, ast.Compare) and all(isinstance(o, ast.Lt | ast.LtE | ast.Gt | ast.GtE) for o in node.ops):
        numbers = [n.value for n in (node.left, *node.comparators) if isinstance(n, ast.Constant)]
        figures = [n for n in (node.left, *node.comparators) if is_figure(n)]
        return any(isinstance(n, float) and n != 0.0 for n in numbers) or (len(figures) > 1)
    return False


def test_pages_work_nothing_out_and_know_no_threshold() -> None:
    found = [
        (p.name, ast.unparse(n))
        for p in (SOURCE / "web").rglob("*.py")
        if p.relative_to(SOURCE / "web").parts[0] in ("pages", "stages", "frame") and p.name not in DRAWN
        for n in ast.walk(ast.parse(p.read_text("utf-8")))
        if works_out(n)
    ]
    assert set(found) - ORDERED_AS_ASKED == set()
