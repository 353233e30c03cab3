"""The additions that docs/architecture.md shows, applied to a copy of the source, do what it says of them."""

import os
import re
import shutil
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parent.parent
SEEN = """
import tempfile
from pathlib import Path
from arcstack.assess import assess
from arcstack.demo import demo_builds
from arcstack.formats import markdown
from arcstack.mech.stack import compressed_share
from arcstack.practice import practices
from arcstack.web import create_app
build = demo_builds()[0]
assert compressed_share(12.0, 48.0) == 0.25
for practice, level in (("balanced", "clear"), ("long-life", "clear")):
    verdict = assess(build.model_copy(update={"practice": practice})).verdict("stack.shim_stack", "intake")
    assert (verdict.figure.value, verdict.level.value) == (0.75, level), verdict
assert "stack.shim_stack" in markdown.page("verdicts.md")
assert [p.name for p in practices()] == ["Long-life", "Balanced", "Sprint", "Hill"], [p.name for p in practices()]
hill = assess(build.model_copy(update={"practice": "hill"}))
assert hill.verdict("spring.reserve.outer", "intake").limit.low == 1.3
assert hill.verdict("spring.reserve.inner", "intake").limit.low == 1.0
app = create_app(Path(tempfile.mkdtemp()))
workshop = app.extensions["shop"].workshop
from arcstack.application import Who
from datetime import datetime
build_id = workshop.create(build, Who("ann", lambda: datetime(2026, 3, 1)))
with app.test_client() as client:
    page = client.get(f"/builds/{build_id}/intake/shims").get_data(as_text=True)
    assert "<h1>Shims, intake</h1>" in page
    assert 'id="f-intake.stack.shims.3"' in page
    assert 'id="g-stack.shim_stack"' in page
print("as told")
"""


def test_each_addition_is_the_whole_of_it(tmp_path: Path) -> None:
    text = (ROOT / "docs" / "architecture.md").read_text("utf-8")
    diffs = re.findall(r"```diff\n(.*?)```", text, re.S)
    assert len(diffs) == 4
    shutil.copytree(ROOT / "src", tmp_path / "src", ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
    for diff in diffs:
        applied = subprocess.run(
            ["git", "apply", "-p1", "--unidiff-zero", "-"],
            cwd=tmp_path,
            input=diff,
            text=True,
            capture_output=True,
            check=False,
        )
        assert applied.returncode == 0, applied.stderr
    done = subprocess.run(
        [sys.executable, "-c", SEEN], cwd=tmp_path, env=os.environ | {"PYTHONPATH": str(tmp_path / "src")},
        capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert done.stdout.strip() == "as told", done.stderr[-1500:]
