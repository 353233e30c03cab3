"""Printed sheets: what stands on one, as blocks of plain words, and the same as PDF."""

from arcstack.formats.sheets.model import (
    Bar,
    Block,
    Cell,
    Drawing,
    Gap,
    Heading,
    Lines,
    Paragraph,
    Pictured,
    Pictures,
    Printed,
    Sign,
    Table,
    Told,
)
from arcstack.formats.sheets.pdf import pdf

__all__ = [
    "Bar", "Block", "Cell", "Drawing", "Gap", "Heading", "Lines", "Paragraph", "Pictured", "Pictures", "Printed",
    "Sign", "Table", "Told", "pdf",
]  # fmt: skip
