"""Templates that a new build may start from: one TOML file each, every figure assumed."""

import tomllib
from collections.abc import Iterator, Mapping
from functools import cache
from importlib import resources
from types import MappingProxyType
from typing import Any

from arcstack.checks import Evidence
from arcstack.document import SIDES, Build, change


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
    return _assuming(build)


def _assuming(build: Build) -> Build:
    """The build with every choice about its parts assumed, but for the kind of follower that was asked for."""
    changes: dict[str, Any] = {"engine": build.engine.model_copy(update={"stated": ("follower",)})}
    for name in SIDES:
        side, kind = build.side(name), build.engine.follower
        follower = side.follower.model_copy(
            update={kind.value: side.follower.of(kind).model_copy(update={"stated": ()})}
        )
        stack = side.stack.model_copy(update={"stated": ()})
        changes[name] = side.model_copy(update={"stack": stack, "follower": follower})
    return build.model_copy(update=changes)


def _rows(table: dict[str, Any], prefix: str) -> Iterator[tuple[str, str]]:
    for key, value in table.items():
        if isinstance(value, dict):
            yield from _rows(value, f"{prefix}.{key}")
        else:
            yield f"{prefix}.{key}", value
