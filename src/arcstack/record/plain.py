"""The plain words of the customer's report: one file for a language."""

import tomllib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

from arcstack.readings.event import Event
from arcstack.readings.returning import Received
from arcstack.readings.sent_on import SentOn

PREFIX = "plain_"


@dataclass(frozen=True)
class Plain:
    """The words of one language: ``told`` gives a sentence with its values put in."""

    key: str
    name: str
    _words: Mapping[str, Any]

    def told(self, section: str, key: str, **values: object) -> str:
        """A sentence. Raises ``KeyError`` for one that the language lacks.

        >>> plain("en").told("words", "km", km="5,000")
        '5,000 km'
        """
        text: str = self._words[section][key]
        return text.format(**values)

    def row(self, section: str, key: str) -> list[str]:
        """Several words that belong together."""
        found: list[str] = list(self._words[section][key])
        return found

    def has(self, section: str, key: str) -> bool:
        return key in self._words[section]

    def keys(self) -> frozenset[tuple[str, str]]:
        """Every sentence there is, by section and key."""
        return frozenset((s, k) for s, rows in self._words.items() if isinstance(rows, dict) for k in rows)


@cache
def languages() -> Mapping[str, Plain]:
    """Every language there is a file for."""
    found = {}
    for file in sorted(resources.files("arcstack.record").iterdir(), key=lambda f: f.name):
        if file.name.startswith(PREFIX) and file.name.endswith(".toml"):
            key = file.name.removeprefix(PREFIX).removesuffix(".toml")
            words = tomllib.loads(file.read_text("utf-8"))
            found[key] = Plain(key, words["language"], words)
    return found


def plain(key: str) -> Plain:
    """The words of a language; English where there are none of it."""
    return languages().get(key) or languages()["en"]


def last_look(events: Sequence[Event]) -> Sequence[Event]:
    """Events of the life in which the head last came back: this one, or the one that ended in this revision."""
    ends = [n for n, e in enumerate(events) if isinstance(e, SentOn)]
    starts = [0, *(n + 1 for n in ends)]
    lives = [events[a:b] for a, b in zip(starts, [*(n + 1 for n in ends), len(events)], strict=True)]
    return next((life for life in reversed(lives) if any(isinstance(e, Received) for e in life)), ())
