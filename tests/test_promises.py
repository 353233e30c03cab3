"""The page of promises: each is held by a test that there is."""

import re
from pathlib import Path

ROOT = Path(__file__).parents[1]


def test_every_test_that_the_page_of_promises_names_is_there() -> None:
    page = (ROOT / "docs" / "security.md").read_text("utf-8")
    tests = {p: p.read_text("utf-8") for p in (ROOT / "tests").rglob("test_*.py")}
    named = set(re.findall(r"`(test_\w+)`", page))
    assert len(named) > 20
    there = {name for text in tests.values() for name in re.findall(r"^def (test_\w+)", text, re.MULTILINE)}
    assert named <= there, named - there
    for path in re.findall(r"`((?:tests|benchmarks|scripts)/[\w/.]+)`", page):
        assert (ROOT / path).exists(), path
