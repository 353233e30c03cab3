"""Signs, causes, chains and remedies, as the data file has them."""

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cache
from importlib import resources
from types import MappingProxyType
from typing import Any


@dataclass(frozen=True)
class Sign:
    """One sign of wear: on which part, and which causes it speaks for or against, from −3 to 3.

    ``opposite`` is the sign that its absence is; ``normal`` ones speak for nothing. ``fact`` is a cause that it is
    itself: a part seen the wrong way up is no clue to be outvoted.
    """

    id: str
    title: str
    part: str
    why: str
    weights: Mapping[str, int] = field(default_factory=dict)
    opposite: str = ""
    normal: bool = False
    fact: str = ""


@dataclass(frozen=True)
class Cause:
    """A cause: what it is, and the reading that would tell it from others."""

    id: str
    title: str
    says: str
    tells: str
    reading: str


@dataclass(frozen=True)
class Link:
    """One link of a chain: a cause, or what follows of one, and the signs that show it."""

    title: str
    cause: str = ""
    signs: tuple[str, ...] = ()


@dataclass(frozen=True)
class Chain:
    """Cause and effect, the earliest link first, and the reading that would show where it began."""

    id: str
    title: str
    causes: tuple[str, ...]
    began: str
    reading: str
    links: tuple[Link, ...]


@dataclass(frozen=True)
class Tempting:
    """A remedy that tempts: why it does not answer, and the causes one of which must have been found."""

    id: str
    title: str
    why: str
    asks: tuple[str, ...]


@cache
def _file() -> Mapping[str, Any]:
    return MappingProxyType(tomllib.loads((resources.files("arcstack.wear") / "signs.toml").read_text("utf-8")))


@cache
def signs() -> Mapping[str, Sign]:
    """Every sign by its id, in the file's order.

    >>> signs()["tip_dents"].weights["float"], signs()["base_rub"].opposite
    (3, 'base_clean')
    """
    return MappingProxyType({raw["id"]: Sign(**raw) for raw in _file()["signs"]})


@cache
def causes() -> Mapping[str, Cause]:
    """Every cause by its id."""
    return MappingProxyType({raw["id"]: Cause(**raw) for raw in _file()["causes"]})


@cache
def chains() -> tuple[Chain, ...]:
    """Every chain of cause and effect."""
    return tuple(_chain(dict(raw)) for raw in _file()["chains"])


def _chain(raw: dict[str, Any]) -> Chain:
    rows: list[dict[str, Any]] = raw.pop("links")
    links = tuple(Link(r["title"], r.get("cause", ""), tuple(r.get("signs", ()))) for r in rows)
    return Chain(links=links, causes=tuple(raw.pop("causes")), **raw)


@cache
def remedies() -> Mapping[str, Tempting]:
    """Every remedy that tempts, by its id."""
    rows = [Tempting(raw["id"], raw["title"], raw["why"], tuple(raw["asks"])) for raw in _file()["remedies"]]
    return MappingProxyType({t.id: t for t in rows})
