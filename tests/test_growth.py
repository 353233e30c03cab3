"""An invented check and an invented stage, each in one place: seen everywhere, and gone again with it."""

import sys
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path
from types import ModuleType

import pytest

from arcstack.application import Sweeps, Who
from arcstack.assess import Check, assess, catalogue, checks, stack
from arcstack.assess.check import Mover, Says
from arcstack.demo import demo_builds
from arcstack.formats import markdown, verdicts
from arcstack.trials.heights import height_sweep
from arcstack.web import create_app, stages
from arcstack.web.stages import every_stage

WHO = Who("ann", lambda: datetime(2026, 3, 1, 8))
SOUND = demo_builds()[0]


@pytest.fixture
def invented() -> Iterator[None]:
    """One module more in the room: the one record that a check is."""
    module = ModuleType("arcstack.assess.invented")
    module.CHECKS = (  # type: ignore[attr-defined]
        Check(
            "stack.invented",
            "Invented height",
            "stack",
            "The outer spring stands taller than a made-up limit.",
            work=stack.installed_height,
            limit="spring.reserve.outer",
            moved_by=(Mover.HEIGHT,),
            says=Says.ALWAYS,
        ),
    )
    found = catalogue._modules

    def with_one_more() -> Iterator[ModuleType]:
        yield from found()
        yield module

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(catalogue, "_modules", with_one_more)
        catalogue.checks.cache_clear()
        yield
    catalogue.checks.cache_clear()


def test_an_invented_check_is_seen_everywhere(invented: None, tmp_path: Path) -> None:
    found = assess(SOUND)
    for side in ("intake", "exhaust"):
        verdict = found.verdict("stack.invented", side)
        assert verdict.figure is not None
        assert verdict.figure.value == pytest.approx(36.0, abs=0.5)
    assert {"stack.invented"} <= {v["id"] for v in verdicts(found)}
    assert "| `stack.invented` | Invented height | stack |" in markdown.page("verdicts.md")
    assert "Invented height" in [b.title for b in height_sweep(found.sides["intake"]).bounds]
    app = create_app(tmp_path, sweeps=Sweeps())
    build_id = app.extensions["shop"].workshop.create(SOUND, WHO)
    with app.test_client() as client:
        page = client.get(f"/builds/{build_id}/intake/stack").get_data(as_text=True)
        assert 'id="g-stack.invented"' in page
        working = client.get(f"/builds/{build_id}/intake/verdict/stack.invented").get_data(as_text=True)
        assert "What went in" in working


def test_and_it_is_gone_again() -> None:
    assert "stack.invented" not in checks()


STAGE = '''"""A stage that nobody has."""

from flask import Blueprint

from arcstack.web.kit.stage import Group, Stage

STAGE = Stage(
    "invented",
    "Invented",
    35,
    (Group("Heights again", ("stack.open_height", "brief.boost")),),
    (("stack.installed_height", "Worked out"),),
    under="stack",
    blueprint=Blueprint("invented", __name__, template_folder="templates"),
)
'''

PAGE = """{% extends "layout/build.html" %}
{% from "parts/macros.html" import fields %}
{% block work %}
<h1>Invented, {{ side }}</h1>
<div class="fields">{{ fields(groups) }}</div>
<div id="outputs">{% include "parts/_outputs.html" %}</div>
{% endblock %}
"""


@pytest.fixture
def one_stage_more(tmp_path: Path) -> Iterator[Path]:
    """One folder more beside the stages."""
    folder = tmp_path / "stages" / "invented"
    (folder / "templates" / "invented").mkdir(parents=True)
    (folder / "__init__.py").write_text(STAGE, "utf-8")
    (folder / "templates" / "invented" / "page.html").write_text(PAGE, "utf-8")
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(stages, "__path__", [*stages.__path__, str(tmp_path / "stages")])
        yield tmp_path
    sys.modules.pop("arcstack.web.stages.invented", None)


def test_an_invented_stage_is_a_folder(one_stage_more: Path) -> None:
    assert [s.name for s in sorted(every_stage(), key=lambda s: s.place)][2:6] == [
        "stack", "fit", "invented", "springs",
    ]  # fmt: skip
    app = create_app(one_stage_more / "data", sweeps=Sweeps())
    app.config["WTF_CSRF_ENABLED"] = False
    build_id = app.extensions["shop"].workshop.create(SOUND, WHO)
    with app.test_client() as client:
        page = client.get(f"/builds/{build_id}/exhaust/invented").get_data(as_text=True)
        assert "<h1>Invented, exhaust</h1>" in page
        assert 'id="f-exhaust.stack.open_height"' in page
        # its place in the rail is its key, and those after it move on by one
        assert 'data-stage-link="5"><svg' in page
        assert "Brief, Cam, Stack, Fit, Invented, Springs, Control, Boost, Clearance" in page
        form = {"path": "exhaust.stack.open_height", "text": "37.1 mm", "base": 1, "stage": "invented"}
        swapped = client.post(f"/builds/{build_id}/edit", data=form | {"side": "exhaust"})
        assert swapped.status_code == 200
        assert 'hx-target="#outputs"' in swapped.get_data(as_text=True)


def test_and_the_stage_is_gone_again(tmp_path: Path) -> None:
    assert "invented" not in [s.name for s in every_stage()]
    app = create_app(tmp_path, sweeps=Sweeps())
    build_id = app.extensions["shop"].workshop.create(SOUND, WHO)
    with app.test_client() as client:
        assert client.get(f"/builds/{build_id}/exhaust/invented").status_code == 404
