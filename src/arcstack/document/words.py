"""Fields that hold words: free text, and a choice among a few."""

from collections.abc import Callable
from dataclasses import dataclass

LONGEST_TEXT = 80


@dataclass(frozen=True)
class Words:
    """A short free text, such as a part's own code; ``check`` raises ``ValueError`` where it means nothing.

    ``origin`` names the part's own field that says where a table comes from.
    """

    label: str
    help: str = ""
    check: Callable[[str], object] | None = None
    longest: int = LONGEST_TEXT
    origin: str = ""

    def check_text(self, text: str) -> None:
        """Raise ``ValueError``, worded for the field, for a text that the field does not take."""
        if len(text) > self.longest:
            raise ValueError(f"at most {self.longest} characters")
        if not text.isprintable():
            raise ValueError("holds characters that cannot be printed")
        if text and self.check is not None:
            self.check(text)


@dataclass(frozen=True)
class Choice:
    """One of a few words."""

    label: str
    help: str = ""
