import tomllib
from collections.abc import Mapping
from functools import cache
from importlib import resources
from types import MappingProxyType
from typing import Any

from arcstack.checks import Sense
from arcstack.errors import PracticeError, QuantityError
from arcstack.practice.model import SIDES_TAKEN, LimitSpec, Practice, Schools
from arcstack.units import DIMENSIONS, parse

BALANCED = "balanced"
"""The practice a new build starts with."""


@cache
def _texts() -> Mapping[tuple[str, int], str]:
    """Every shipped file by its id and version: the newest as ``id.toml``, an earlier one as ``id@1.toml``."""
    found = {}
    for file in (resources.files("arcstack.practice") / "schools").iterdir():
        if file.name.endswith(".toml"):
            text = file.read_text("utf-8")
            found[file.name.removesuffix(".toml").partition("@")[0], int(tomllib.loads(text)["version"])] = text
    return MappingProxyType(found)


@cache
def practices() -> tuple[Practice, ...]:
    """The shipped practices, each in its newest version, in the order they are offered."""
    names = dict.fromkeys(name for name, _ in _texts())
    return tuple(sorted((practice(name) for name in names), key=lambda p: (p.place, p.id)))


def _newest(name: str) -> int:
    versions = [version for found, version in _texts() if found == name]
    if not versions:
        raise PracticeError(f"there is no practice called “{name}”")
    return max(versions)


@cache
def practice(name: str, version: int | None = None) -> Practice:
    """A shipped practice by its id, in a version that was shipped or else its newest.

    Raises ``PracticeError`` for an unknown id.
    """
    newest = _newest(name)
    text = _texts().get((name, version or newest)) or _texts()[name, newest]
    return read(name, text, {other: _texts()[other, _newest(other)] for other, _ in _texts()})


def shipped(name: str, version: int | None = None) -> dict[str, Any]:
    """What a shipped practice says, as its file has it, with what it takes over from the one it stands on.

    Raises ``PracticeError`` for an unknown id.
    """
    newest = _newest(name)
    text = _texts().get((name, version or newest)) or _texts()[name, newest]
    return _whole(text, {other: _texts()[other, _newest(other)] for other, _ in _texts()})


def read(name: str, text: str, others: Mapping[str, str] = MappingProxyType({})) -> Practice:
    """A practice from its TOML text, or from what it does otherwise than one of the ``others``, its ``based_on``.

    Raises ``PracticeError`` naming the limit that is incomplete.
    """
    return made(name, _whole(text, others))


@cache
def _shared() -> Mapping[str, Any]:
    """What parts must leave to fit, and what the bench allows: alike in every practice that says nothing else of it."""
    found: dict[str, Any] = {}
    for file in ("fits.toml", "bench.toml", "timing.toml", "turbo.toml", "assembly.toml"):
        found |= tomllib.loads((resources.files("arcstack.practice") / file).read_text("utf-8"))["limits"]
    return MappingProxyType(found)


def _whole(text: str, others: Mapping[str, str]) -> dict[str, Any]:
    data = tomllib.loads(text)
    if base := data.get("based_on"):
        if base not in others:
            raise PracticeError(f"there is no practice called “{base}” to stand on")
        under = tomllib.loads(others[base])
        if "based_on" in under:
            raise PracticeError(f"“{base}” stands on another practice itself")
        data |= {part: under[part] | data.get(part, {}) for part in ("schools", "limits")}
    if "limits" in data:
        data["limits"] = dict(_shared()) | data["limits"]
    return data


def made(name: str, data: Mapping[str, Any]) -> Practice:
    """A practice from what its file says. Raises ``PracticeError`` naming the limit that is incomplete."""
    if not isinstance(data.get("version"), int) or data["version"] < 1:
        raise PracticeError("a practice needs its version, counted from 1")
    limits = {key: _limit(key, row) for key, row in data["limits"].items()}
    schools = data["schools"]
    return Practice(
        name,
        data["version"],
        data.get("place", len(data)),
        data["name"],
        data["about"],
        _schools(schools),
        MappingProxyType({key: row["reason"] for key, row in schools.items()}),
        MappingProxyType(limits),
    )


def _schools(rows: dict[str, Any]) -> Schools:
    for name, choices in SIDES_TAKEN.items():
        if name not in rows:
            raise PracticeError(f"the practice takes no side on {name}")
        if rows[name]["value"] not in choices:
            raise PracticeError(f"{name}: “{rows[name]['value']}” is none of {', '.join(str(c) for c in choices)}")
    if unknown := set(rows) - set(SIDES_TAKEN):
        raise PracticeError(f"there is no school of {', '.join(sorted(unknown))}")
    return Schools(**{name: row["value"] for name, row in rows.items()})


def _limit(key: str, row: dict[str, Any]) -> LimitSpec:
    if not str(row.get("reason", "")).strip():
        raise PracticeError(f"{key}: a limit needs its reason")
    dimension = DIMENSIONS[row["dimension"]]
    sense = Sense(row["sense"])

    def value(name: str) -> float | None:
        try:
            return parse(str(row[name]), dimension).value if name in row else None
        except QuantityError as error:
            raise PracticeError(f"{key}: {error}") from error

    low, high = value("low"), value("high")
    if (low is None and sense is not Sense.AT_MOST) or (high is None and sense is not Sense.AT_LEAST):
        raise PracticeError(f"{key}: “{sense}” needs its {'low' if low is None else 'high'} end")
    if low is not None and high is not None and low >= high:
        raise PracticeError(f"{key}: the low end must be below the high end")
    tight = value("tight")
    if tight is None:
        raise PracticeError(f"{key}: say within what distance of the limit a value is tight")
    return LimitSpec(
        key, sense, low, high, tight, dimension, row["reason"], bool(row.get("soft_high")), bool(row.get("soft_low")),
        value("tight_high"),
    )  # fmt: skip
