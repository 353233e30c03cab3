"""Nothing written as a test is left out of the run."""

import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parent.parent


def test_every_test_file_and_every_worked_example_is_collected() -> None:
    seen = subprocess.run(
        [sys.executable, "-m", "pytest", "--collect-only", "-p", "no:cacheprovider"],
        cwd=ROOT, capture_output=True, text=True, check=True,
    ).stdout  # fmt: skip
    wanted = {str(p.relative_to(ROOT)) for p in (ROOT / "tests").rglob("test_*.py")}
    wanted |= {str(p.relative_to(ROOT)) for p in (ROOT / "src").rglob("*.py") if ">>> " in p.read_text("utf-8")}
    assert {f for f in wanted if f"{f}::" not in seen} == set()
