import tomllib
from collections.abc import Mapping
from functools import cache
from importlib import resources
from types import MappingProxyType
from typing import Any

from arcstack.checks import Sense
from arcstack.errors import PracticeError
from arcstack.practice.model import SIDES_TAKEN, LimitSpec, Practice, Schools
from arcstack.units import DIMENSIONS, parse

BALANCED = "balanced"
"""The practice a new build starts with."""


@cache
def practices() -> tuple[Practice, ...]:
    """The shipped practices, one file each, in the order they are offered."""
    files = [f for f in (resources.files("arcstack.practice") / "schools").iterdir() if f.name.endswith(".toml")]
    texts = {f.name.removesuffix(".toml"): f.read_text("utf-8") for f in files}
    found = [read(name, text, texts) for name, text in texts.items()]
    return tuple(sorted(found, key=lambda p: (p.place, p.id)))


def practice(name: str) -> Practice:
    """A shipped practice by its id. Raises ``PracticeError`` for an unknown one."""
    for found in practices():
        if found.id == name:
            return found
    raise PracticeError(f"there is no practice called “{name}”")


def read(name: str, text: str, others: Mapping[str, str] = MappingProxyType({})) -> Practice:
    """A practice from its TOML text, or from what it does otherwise than one of the ``others``, its ``based_on``.

    Raises ``PracticeError`` naming the limit that is incomplete.
    """
    data = tomllib.loads(text)
    if base := data.get("based_on"):
        if base not in others:
            raise PracticeError(f"there is no practice called “{base}” to stand on")
        under = tomllib.loads(others[base])
        if "based_on" in under:
            raise PracticeError(f"“{base}” stands on another practice itself")
        data |= {part: under[part] | data.get(part, {}) for part in ("schools", "limits")}
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
        return parse(str(row[name]), dimension).value if name in row else None

    low, high = value("low"), value("high")
    if (low is None and sense is not Sense.AT_MOST) or (high is None and sense is not Sense.AT_LEAST):
        raise PracticeError(f"{key}: “{sense}” needs its {'low' if low is None else 'high'} end")
    if low is not None and high is not None and low >= high:
        raise PracticeError(f"{key}: the low end must be below the high end")
    tight = value("tight")
    if tight is None:
        raise PracticeError(f"{key}: say within what distance of the limit a value is tight")
    return LimitSpec(
        key, sense, low, high, tight, dimension, row["reason"], bool(row.get("soft_high")), bool(row.get("soft_low"))
    )
