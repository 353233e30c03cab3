"""Makes small faults, one at a time, in a fixed sample over every room, and tells which of them no test notices.

    python tests/faults.py --each 6 [--room store --room application] [--seed 1]

Not a part of the tests: it takes a minute or so for each fault. It works on a copy. Ends with 1 when more than 8 % were
not noticed.
"""

import argparse
import ast
import os
import random
import re
import shutil
import signal
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parents[1]
SOURCE = ROOT / "src/arcstack"
MOST_UNNOTICED, LONGEST_S = 0.08, 420

TESTS = {
    "cli": ["tests/test_cli.py", "tests/test_cli_shop.py"],
    "demo": ["tests/test_reference.py", "tests/web/test_came_back.py"],
    "drawings": ["tests/web/test_drawings.py", "tests/web/test_spring_drawings.py"],
    "sheets": ["tests/web/test_sheets.py"],
    "views": ["tests/web/test_working.py", "tests/web/test_view.py", "tests/web/test_pages.py"],
}
"""Tests of rooms that have no folder of their own; what a room is used by is tried for every one."""

SWAPS: dict[type[ast.AST], type[ast.AST]] = {
    ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult, ast.Lt: ast.LtE, ast.LtE: ast.Lt,
    ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq, ast.Is: ast.IsNot, ast.IsNot: ast.Is,
    ast.And: ast.Or, ast.Or: ast.And, ast.In: ast.NotIn, ast.NotIn: ast.In,
}  # fmt: skip


@dataclass(frozen=True)
class Fault:
    """A fault that can be made: in which file, at which node in the order of the walk, and in words."""

    file: Path
    node: int
    line: int
    words: str


def faults_of(file: Path) -> Iterator[Fault]:
    """Every fault that can be made in the functions of a file: a step left out, a condition turned, a sign, a number."""
    tree = ast.parse(file.read_text("utf-8"))
    inside = {id(n) for f in ast.walk(tree) if isinstance(f, ast.FunctionDef) for s in f.body for n in ast.walk(s)}
    for number, node in enumerate(ast.walk(tree)):
        if id(node) in inside and (words := _words(node)):
            yield Fault(file, number, getattr(node, "lineno", 0), words)


def _words(node: ast.AST) -> str:
    if isinstance(node, ast.Expr) and isinstance(node.value, ast.Call):
        return f"left out: {ast.unparse(node)[:60]}"
    if isinstance(node, ast.Raise) or (isinstance(node, ast.Assign) and isinstance(node.targets[0], ast.Attribute)):
        return f"left out: {ast.unparse(node)[:60]}"
    if isinstance(node, ast.If):
        return f"always so: if {ast.unparse(node.test)[:60]}"
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not):
        return f"turned: {ast.unparse(node)[:60]}"
    if isinstance(node, ast.Compare) and type(node.ops[0]) in SWAPS:
        return f"{type(node.ops[0]).__name__} exchanged: {ast.unparse(node)[:60]}"
    if isinstance(node, ast.BoolOp) or (isinstance(node, ast.BinOp) and type(node.op) in SWAPS and not _is_text(node)):
        return f"{type(node.op).__name__} exchanged: {ast.unparse(node)[:60]}"
    return ""


def _is_text(node: ast.BinOp) -> bool:
    return any(isinstance(n, ast.JoinedStr | ast.List | ast.Tuple) for n in (node.left, node.right)) or any(
        isinstance(n, ast.Constant) and isinstance(n.value, str) for n in (node.left, node.right)
    )


def made(fault: Fault) -> str:
    """The file's text with the fault in it."""
    tree = ast.parse(fault.file.read_text("utf-8"))
    node = list(ast.walk(tree))[fault.node]
    if isinstance(node, ast.If):
        node.test = ast.Constant(True)
    elif isinstance(node, ast.Compare):
        node.ops[0] = SWAPS[type(node.ops[0])]()  # type: ignore[assignment]
    elif isinstance(node, ast.BoolOp | ast.BinOp):
        node.op = SWAPS[type(node.op)]()  # type: ignore[assignment]
    else:
        _Without(node).visit(tree)
    return ast.unparse(ast.fix_missing_locations(tree))


class _Without(ast.NodeTransformer):
    """Leaves one statement out, or a ``not``."""

    def __init__(self, gone: ast.AST) -> None:
        self.gone = gone

    def visit(self, node: ast.AST) -> ast.AST:
        if node is self.gone:
            return node.operand if isinstance(node, ast.UnaryOp) else ast.Pass()
        return self.generic_visit(node)


def tests_of(room: str, file: Path) -> list[str]:
    """What is run, the nearest first: the module's own examples, every test that names it, its room's tests, and every
    test that names a module which uses what it makes."""
    of_room = [f"tests/{room}"] if (ROOT / "tests" / room).is_dir() else TESTS.get(room, [])
    near = [t for t in _naming(file) if not t.startswith(tuple(f"{r}/" for r in of_room))]
    own = {n.name for n in ast.parse(file.read_text("utf-8")).body if isinstance(n, ast.FunctionDef | ast.ClassDef)}
    used = re.compile(rf"\b(?:{'|'.join(map(re.escape, sorted(own))) or 'nothing at all'})\b")
    users = [p for p in SOURCE.rglob("*.py") if p != file and _imports(p, room) and used.search(p.read_text("utf-8"))]
    far = [t for p in users for t in _naming(p)]
    covered = tuple(f"{r}/" for r in of_room)
    return [str(file.relative_to(ROOT)), *near, *of_room, *dict.fromkeys(t for t in far if not t.startswith(covered))]


def _imports(file: Path, room: str) -> bool:
    return f"arcstack.{room}" in file.read_text("utf-8")


def _naming(file: Path) -> list[str]:
    """Tests that name a module, but for those of the browser."""
    naming = re.compile(rf"\b{re.escape('.'.join(file.relative_to(SOURCE.parent).with_suffix('').parts))}\b")
    tests = [p for p in sorted((ROOT / "tests").rglob("test_*.py")) if p.parent.name != "browser"]
    return [str(p.relative_to(ROOT)) for p in tests if naming.search(p.read_text("utf-8"))]


def notices(copy: Path, fault: Fault, tests: list[str]) -> str:
    """How the tests end with the fault: ``noticed``, ``too long``, or ``not noticed``."""
    place = copy / fault.file.relative_to(ROOT)
    good = place.read_text("utf-8")
    place.write_text(made(fault), "utf-8")
    command = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", "-o", "addopts=--doctest-modules"]
    env = os.environ | {"PYTHONPATH": str(copy / "src"), "PYTHONDONTWRITEBYTECODE": "1"}
    run = subprocess.Popen(
        [*command, *tests], cwd=copy, env=env, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
        start_new_session=True,
    )  # fmt: skip
    try:
        return "noticed" if run.wait(LONGEST_S) else "not noticed"
    except subprocess.TimeoutExpired:
        return "too long"
    finally:
        if run.poll() is None:
            os.killpg(run.pid, signal.SIGKILL)
            run.wait()
        place.write_text(good, "utf-8")


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--each", type=int, default=6, help="faults in each room")
    parser.add_argument("--room", action="append", help="only these rooms")
    parser.add_argument("--seed", default="1")
    asked = parser.parse_args()
    rooms = asked.room or sorted(p.name for p in SOURCE.iterdir() if (p / "__init__.py").is_file())
    total = unnoticed = 0
    with tempfile.TemporaryDirectory(prefix="faults-") as folder:
        copy = Path(folder) / "copy"
        ignored = shutil.ignore_patterns(".git", ".venv", "node_modules", "__pycache__", ".*_cache")
        shutil.copytree(ROOT, copy, ignore=ignored)
        for room in rooms:
            every = [f for file in sorted((SOURCE / room).rglob("*.py")) for f in faults_of(file)]
            sample = random.Random(f"{asked.seed} {room}").sample(every, min(asked.each, len(every)))
            missed = 0
            for fault in sample:
                told = notices(copy, fault, tests_of(room, fault.file))
                if told == "not noticed":
                    missed += 1
                    print(f"  {fault.file.relative_to(SOURCE)}:{fault.line} {fault.words}", flush=True)
            print(f"{room}: {len(sample)} made, {missed} not noticed", flush=True)
            total, unnoticed = total + len(sample), unnoticed + missed
    print(f"{total} made, {unnoticed} not noticed ({unnoticed / max(total, 1):.0%})")
    return int(unnoticed > MOST_UNNOTICED * total)


if __name__ == "__main__":
    sys.exit(main())
