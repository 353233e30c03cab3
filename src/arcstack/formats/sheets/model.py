"""What stands on a sheet, block by block. Every figure is a text already, with its unit: a sheet works nothing out."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import ClassVar

from arcstack.checks import Level


@dataclass(frozen=True)
class Heading:
    """A heading of ``level`` 1 or 2."""

    kind: ClassVar[str] = "heading"
    text: str
    level: int = 1


@dataclass(frozen=True)
class Paragraph:
    """Plain words; ``tone`` is empty, ``note`` for small print, ``caution`` or ``lead``."""

    kind: ClassVar[str] = "paragraph"
    text: str
    tone: str = ""


@dataclass(frozen=True)
class Told:
    """Sentences one under another; ``ticks`` prints a box to tick before each."""

    kind: ClassVar[str] = "told"
    rows: Sequence[str]
    ticks: bool = False


@dataclass(frozen=True)
class Lines:
    """Labels with what stands for them, and a small word behind; in so many columns."""

    kind: ClassVar[str] = "lines"
    rows: Sequence[tuple[str, str, str]]
    columns: int = 2


@dataclass(frozen=True)
class Cell:
    """One cell of a table: its text, and the mark of a verdict before it where there is one."""

    text: str
    level: Level | None = None
    proven: bool = False
    strong: bool = False


@dataclass(frozen=True)
class Table:
    """Heads and rows; ``right`` are the columns whose figures stand under each other."""

    kind: ClassVar[str] = "table"
    heads: Sequence[str]
    rows: Sequence[Sequence[Cell]]
    right: Sequence[int] = ()
    caption: str = ""
    small: bool = False
    widths: Sequence[float] = ()


@dataclass(frozen=True)
class Drawing:
    """A drawing as SVG, as a page shows it; on paper ``height_mm`` high, with ``style`` and ``margin`` (in its own
    units) beside it for words that stand out of it."""

    kind: ClassVar[str] = "drawing"
    svg: str
    words: str
    height_mm: float = 90.0
    style: str = ""
    margin: float = 0.0


@dataclass(frozen=True)
class Gap:
    """One part of a bar: what it is, how long, and its text."""

    label: str
    length: float
    text: str


@dataclass(frozen=True)
class Bar:
    """Lengths that make up one height, end to end, to one scale."""

    kind: ClassVar[str] = "bar"
    title: str
    parts: Sequence[Gap]
    legend: bool = True


@dataclass(frozen=True)
class Pictured:
    """One photograph: its bytes as JPEG, PNG or WebP, what it shows, and its number in the record."""

    data: bytes
    format: str
    words: str
    number: int = 0


@dataclass(frozen=True)
class Pictures:
    """Photographs in their order."""

    kind: ClassVar[str] = "pictures"
    rows: Sequence[Pictured]
    columns: int = 3


@dataclass(frozen=True)
class Sign:
    """Lines to sign on: who, and what is written there already."""

    kind: ClassVar[str] = "sign"
    rows: Sequence[tuple[str, str]]


Block = Heading | Paragraph | Told | Lines | Table | Drawing | Bar | Pictures | Sign


@dataclass(frozen=True)
class Printed:
    """A sheet: its title, the lines under it, its blocks, and what stands at the foot of every page."""

    title: str
    under: Sequence[str]
    blocks: Sequence[Block]
    foot: str
    wide: bool = False
    dense: bool = False
    language: str = "en"
    marks: dict[str, str] = field(default_factory=dict)
    """The marks of verdicts as SVG, by level and ``proven`` or ``paper``."""
