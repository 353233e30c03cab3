"""Parts as things of their own: what a workshop has or could order, and how one is found."""

from arcstack.shelf.part import (
    KINDS,
    OWN,
    RAISING,
    About,
    CapPart,
    LashShim,
    PartKind,
    ShelfPart,
    ShimPart,
    blank,
    changed,
    fields_of,
    title_of,
)
from arcstack.shelf.search import Query, found, read_query, summary

__all__ = [
    "KINDS",
    "OWN",
    "RAISING",
    "About",
    "CapPart",
    "LashShim",
    "PartKind",
    "Query",
    "ShelfPart",
    "ShimPart",
    "blank",
    "changed",
    "fields_of",
    "found",
    "read_query",
    "summary",
    "title_of",
]
