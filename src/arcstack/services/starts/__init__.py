"""Templates that a new build may start from: one TOML file each, every figure assumed."""

import tomllib
from collections.abc import Iterator, Mapping
from functools import cache
from importlib import resources
from types import MappingProxyType
from typing import Any

from arcstack.checks import Evidence
from arcstack.document import Build, change


@cache
def _files() -> Mapping[str, dict[str, Any]]:
    files = sorted(resources.files(__name__).iterdir(), key=lambda f: f.name)
    return MappingProxyType(
        {f.name.removesuffix(".toml"): tomllib.loads(f.read_text("utf-8")) for f in files if f.name.endswith(".toml")}
    )


def templates() -> Mapping[str, str]:
    """What each template is, by its key.

    >>> templates()["bucket"]
    'Bucket head: direct acting, twin cam, double springs'
    """
    return MappingProxyType({key: f"{data['name']}: {data['about']}" for key, data in _files().items()})


@cache
def template(key: str) -> Build:
    """A build that starts from a template. Raises ``KeyError`` for one that does not exist."""
    data = _files()[key]
    build = Build(name=data["name"])
    for section in ("brief", "engine", "intake", "exhaust"):
        for path, text in _rows(data[section], section):
            build = change(build, path, text, Evidence.ASSUMED)
    return build


def _rows(table: dict[str, Any], prefix: str) -> Iterator[tuple[str, str]]:
    for key, value in table.items():
        if isinstance(value, dict):
            yield from _rows(value, f"{prefix}.{key}")
        else:
            yield f"{prefix}.{key}", value
