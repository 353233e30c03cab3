"""Fields that hold words: free text, and a choice among a few."""

from dataclasses import dataclass

LONGEST_TEXT = 80


@dataclass(frozen=True)
class Words:
    """A short free text, such as a part's own code."""

    label: str
    help: str = ""


@dataclass(frozen=True)
class Choice:
    """One of a few words."""

    label: str
    help: str = ""
