import tomllib
from collections.abc import Iterator
from importlib import resources
from typing import Any

from arcstack.checks import Evidence
from arcstack.document import Build, Sitting, change
from arcstack.formats.shelf_csv import read_shelf
from arcstack.shelf import ShelfPart

NAMES = ("tamarack", "fennel")
_SECTIONS = ("head", "job", "brief", "engine", "turbo", "intake", "exhaust")


def demo_builds() -> list[Build]:
    """The demo builds, each typed in field by field as a builder would."""
    folder = resources.files("arcstack.demo")
    return [_typed_in(tomllib.loads((folder / f"{name}.toml").read_text("utf-8"))) for name in NAMES]


def demo_shelf() -> list[ShelfPart]:
    """The demo's parts, read as a builder's own file would be."""
    return read_shelf((resources.files("arcstack.demo") / "shelf.csv").read_bytes()).parts


def typed_figures(name: str) -> list[tuple[str, str, Evidence | None]]:
    """What is typed in for a demo build: (path, text, evidence) in the document's order."""
    text = (resources.files("arcstack.demo") / f"{name}.toml").read_text("utf-8")
    data = tomllib.loads(text)
    return [row for section in _SECTIONS for row in _rows(data.get(section, {}), section)]


def _typed_in(data: dict[str, Any]) -> Build:
    build = Build(name=data["name"], note=data["note"], practice=data["practice"])
    by = Sitting(**data["sitting"])
    for section in _SECTIONS:
        for path, text, evidence in _rows(data.get(section, {}), section):
            build = change(build, path, text, evidence, by=by)
    return build


def over(build: Build, data: dict[str, Any]) -> Build:
    """Another build, told as what it differs in: named anew, each field typed over."""
    by = Sitting(**data["sitting"])
    build = build.model_copy(update={"name": data["name"], "note": data["note"]})
    for section in _SECTIONS:
        for path, text, evidence in _rows(data.get(section, {}), section):
            build = change(build, path, text, evidence, by=by)
    return build


def _rows(table: dict[str, Any], prefix: str) -> Iterator[tuple[str, str, Evidence | None]]:
    for key, value in table.items():
        path = f"{prefix}.{key}"
        if isinstance(value, dict):
            yield from _rows(value, path)
            continue
        text, _, origin = value.partition(" | ")
        yield path, text, Evidence(origin) if origin else None
