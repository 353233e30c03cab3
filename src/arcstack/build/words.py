"""Fields that hold words: free text, and a choice among a few."""

from collections.abc import Callable
from dataclasses import dataclass

LONGEST_TEXT = 80


@dataclass(frozen=True)
class Words:
    """A short free text, such as a part's own code; ``check`` raises ``ValueError`` where it means nothing."""

    label: str
    help: str = ""
    check: Callable[[str], object] | None = None
    longest: int = LONGEST_TEXT


@dataclass(frozen=True)
class Choice:
    """One of a few words."""

    label: str
    help: str = ""
