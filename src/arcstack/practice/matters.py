"""Matters that a build decides: each side with its reason, none of them the program's."""

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib import resources
from types import MappingProxyType


@dataclass(frozen=True)
class Matter:
    """What builders disagree about; ``sides`` are the choices, each with the reason of those who take it."""

    key: str
    title: str
    sides: Mapping[str, str]

    def said(self, choice: str) -> str:
        """A choice as a page says it.

        >>> matters()["used_springs"].said("load_loss")
        'load loss'
        """
        return choice.replace("_", " ")


@cache
def matters() -> Mapping[str, Matter]:
    """Every matter by its key, in the order they are asked."""
    data = tomllib.loads((resources.files("arcstack.practice") / "matters.toml").read_text("utf-8"))
    found = {
        key: Matter(key, row["title"], MappingProxyType({k: v for k, v in row.items() if k != "title"}))
        for key, row in data.items()
    }
    return MappingProxyType(found)
