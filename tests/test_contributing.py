"""The examples of CONTRIBUTING.md and the commands of the owner's page do what they say."""

import re
import shlex
from pathlib import Path

import click
import pytest

from arcstack.cli import main

ROOT = Path(__file__).parents[1]
SECTIONS = re.split(r"^## ", (ROOT / "CONTRIBUTING.md").read_text("utf-8"), flags=re.M)[1:]
EXAMPLES = [(s.splitlines()[0], m[1]) for s in SECTIONS if (m := re.search(r"^```python\n(.*?)^```", s, re.M | re.S))]


@pytest.mark.parametrize(("title", "code"), EXAMPLES, ids=[t for t, _ in EXAMPLES])
def test_an_example_runs(title: str, code: str) -> None:
    assert "assert" in code, title
    exec(compile(code, title, "exec"), {})


def test_each_thing_that_is_added_has_its_example() -> None:
    assert [t for t, _ in EXAMPLES] == [
        "A check",
        "A stage",
        "A school",
        "An instrument",
        "A sheet",
        "A language of the report",
        "An event that is stored",
        "An act",
    ]


@pytest.mark.parametrize("page", ["docs/owner.md", "docs/security.md", "README.md", "docs/arc-stack.service"])
def test_every_command_that_is_written_down_is_one(page: str) -> None:
    text = (ROOT / page).read_text("utf-8")
    lines = re.findall(r"arc-stack +([a-z]+(?:-[a-z]+)*)((?: +[^\s`#]+)*)", text)
    assert lines, page
    for name, rest in lines:
        command = main.get_command(click.Context(main), name)
        assert command is not None, (page, name)
        known = {o for p in command.params if isinstance(p, click.Option) for o in p.opts}
        used = {w for w in shlex.split(rest.replace("’", "")) if w.startswith("--")}
        assert used <= known, (page, name, used - known)
