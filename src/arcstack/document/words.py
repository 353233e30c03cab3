"""Fields that hold words: free text, and a choice among a few."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date

from arcstack.errors import FieldError

LONGEST_TEXT = 80


def named(text: str, path: str, what: str) -> str:
    """A name as it is kept: spaces drawn together. Raises ``FieldError`` at ``path`` for one that is none.

    >>> named("  Tamarack,  spare ", "name", "A build")
    'Tamarack, spare'
    """
    name = " ".join(text.split())
    if not name or len(name) > LONGEST_TEXT or not name.isprintable():
        raise FieldError(path, f"{what} needs a name of at most {LONGEST_TEXT} characters.")
    return name


def noted(text: str, path: str, longest: int) -> str:
    """A note as it is kept: lines trimmed, the rest as written. Raises ``FieldError`` at ``path``.

    >>> noted("  seat 3 re-cut  ", "note", 500)
    'seat 3 re-cut'
    """
    lines = "\n".join(line.rstrip() for line in text.replace("\r\n", "\n").split("\n")).strip()
    if len(lines) > longest:
        raise FieldError(path, f"A note has at most {longest} characters; this has {len(lines)}.")
    if not all(line.replace("\t", " ").isprintable() for line in lines.split("\n")):
        raise FieldError(path, "Holds characters that cannot be printed.")
    return lines


def one_line(text: str, longest: int) -> str:
    """A text as one line: what cannot be printed left out, spaces single, cut to length.

    >>> one_line("  dents \\n on\\x00 the tip ", 40), one_line("abcdef", 3)
    ('dents on the tip', 'abc')
    """
    printed = "".join(c for c in " ".join(text.split()) if c.isprintable())
    return " ".join(printed.split())[:longest]


def a_day(text: str) -> date:
    """A day written as the calendar's standard has it. Raises ``ValueError``, worded.

    >>> a_day("2026-03-14").day
    14
    """
    try:
        return date.fromisoformat(text)
    except ValueError as error:
        raise ValueError("write a day as year-month-day, such as 2026-03-14") from error


@dataclass(frozen=True)
class Words:
    """A short free text, such as a part's own code; ``check`` raises ``ValueError`` where it means nothing.

    ``origin`` names the part's own field that says where a table comes from; ``day`` is True for a day of the calendar.
    """

    label: str
    help: str = ""
    check: Callable[[str], object] | None = None
    longest: int = LONGEST_TEXT
    origin: str = ""
    day: bool = False

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
    """One of a few words.

    ``assumed`` is True of a fact about a part that something must stand for while nobody says it.
    """

    label: str
    help: str = ""
    assumed: bool = False
