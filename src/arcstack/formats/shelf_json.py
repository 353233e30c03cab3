"""A shelf as JSON: every part whole."""

import json
from collections.abc import Iterable
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from arcstack.errors import DocumentError
from arcstack.formats.shelf_csv import LARGEST_SHELF, MOST_PARTS
from arcstack.shelf.part import ShelfPart

SHELF_FORMAT, SHELF_VERSION = "arc-stack-shelf", 1


class _File(BaseModel):
    model_config = ConfigDict(extra="forbid")

    format: Literal["arc-stack-shelf"]
    version: Literal[1]
    parts: list[ShelfPart] = Field(max_length=MOST_PARTS)


def write_shelf_json(parts: Iterable[ShelfPart]) -> str:
    """The parts as a document that ``read_shelf_json`` reads."""
    rows = [part.model_dump(mode="json", exclude_defaults=True) | {"kind": part.kind.value} for part in parts]
    held = {"format": SHELF_FORMAT, "version": SHELF_VERSION, "parts": rows}
    return json.dumps(held, ensure_ascii=False, indent=1) + "\n"


def read_shelf_json(data: bytes | str) -> list[ShelfPart]:
    """The parts in a document. Raises ``DocumentError`` naming the part and the field that is wrong."""
    if len(data) > LARGEST_SHELF:
        raise DocumentError(f"this file is longer than {LARGEST_SHELF // 1_000_000} MB")
    try:
        parts = _File.model_validate_json(data).parts
    except ValidationError as error:
        first = error.errors(include_url=False, include_context=False)[0]
        where = ".".join(str(p + 1) if isinstance(p, int) else str(p) for p in first["loc"]) or "the file"
        raise DocumentError(str(first["msg"]).removeprefix("Value error, ")[:200], where[:120]) from error
    except (RecursionError, UnicodeDecodeError) as error:
        raise DocumentError("this is no shelf") from error
    keys = [p.key for p in parts]
    if len(set(keys)) != len(keys):
        raise DocumentError("two parts have one key")
    return parts
