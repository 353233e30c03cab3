"""The build document as JSON, and its schema."""

import json
from contextlib import suppress
from typing import Any

from pydantic import ValidationError

from arcstack.document import FIELDS, FORMAT, VERSION, Build, judged_by, problems
from arcstack.document.upgrade import upgraded
from arcstack.errors import DocumentError, PracticeError
from arcstack.settings import setting

LARGEST = int(setting("import.largest_build"))


_OF_THIS_VERSION = f'{{"format":"{FORMAT}","version":{VERSION},'
"""How a document starts that this version stored."""


BENCH = "bench_rows"
"""Under which name a build's file carries its readings and events."""


def write_build(build: Build, compact: bool = False) -> str:
    """The document as JSON, indented unless ``compact``; the same build always gives the same text.

    What is left out stands as the schema's default says.
    """
    text = build.model_dump_json(exclude_defaults=True, indent=None if compact else 2)
    # a document always says what it is, which its defaults say too
    gap = "" if compact else "\n  "
    colon = ":" if compact else ": "
    kind = f'{{{gap}"format"{colon}"{FORMAT}",{gap}"version"{colon}{VERSION},'
    return kind + text[1:] + ("" if compact else "\n")


def read_build(data: bytes | str, kept: bool = False) -> Build:
    """The build in a JSON document of this version or an earlier one.

    Raises ``DocumentError``, with the line or the field, for anything that is not a whole, sound build: cut off, of a
    later version, too long, nested without end, with figures that cannot be. A document that was ``kept`` here was
    looked through when it was taken in: figures that are known by now not to go together are told on its page.
    """
    if len(data) > LARGEST:
        raise DocumentError(f"this file is {len(data) / 1e6:.1f} MB long; a build has less than {LARGEST / 1e6:.0f} MB")
    if kept and isinstance(data, str) and data.startswith(_OF_THIS_VERSION):
        with suppress(ValidationError):
            return Build.model_validate_json(data)
    raw = _load(data)
    if not isinstance(raw, dict):
        raise DocumentError("this is JSON, but not a build: it should start with {")
    _check_kind(raw)
    # what was read of the head travels with it, and is no part of its document
    raw.pop(BENCH, None)
    try:
        raw = upgraded(raw)
        build = Build.model_validate_json(json.dumps(raw))
    except ValidationError as error:
        raise _worded(error) from error
    except (RecursionError, ValueError, TypeError, AttributeError) as error:
        raise DocumentError("holds something that no build holds") from error
    for path, message in () if kept else problems(build):
        raise DocumentError(message, _place(path))
    _check_practice(build)
    return build


def schema() -> dict[str, Any]:
    """The JSON Schema of the build document."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        **Build.model_json_schema(),
        "title": "Arc Stack build",
    }


def _load(data: bytes | str) -> Any:
    def refuse(word: str) -> Any:
        raise DocumentError(f"{word} is no figure")

    try:
        text = data.decode("utf-8-sig") if isinstance(data, bytes) else data
        return json.loads(text, parse_constant=refuse, object_pairs_hook=_once)
    except UnicodeDecodeError as error:
        raise DocumentError("this is not text; choose the JSON file that was exported") from error
    except json.JSONDecodeError as error:
        where = f"line {error.lineno}"
        cut = error.pos >= len(text.rstrip()) - 1 or error.msg.startswith("Unterminated string")
        told = "the file is cut off here" if cut else f"this is not JSON: {error.msg.lower()}"
        raise DocumentError(told, where) from error
    except (RecursionError, ValueError) as error:
        raise DocumentError("nested or written in a way that no build is") from error


def _once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found = dict(pairs)
    if len(found) != len(pairs):
        names = [k for k, _ in pairs]
        twice = next(n for n in names if names.count(n) > 1)
        raise DocumentError(f"“{twice[:40]}” stands twice; which one holds cannot be told")
    return found


def _check_kind(raw: dict[str, Any]) -> None:
    if raw.get("format") != FORMAT:
        raise DocumentError(f"this is not a build document: its format is not “{FORMAT}”", "format")
    version = raw.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or not 1 <= version <= VERSION:
        raise DocumentError(
            f"this document is of version {str(version)[:20]}; this program reads version {VERSION} and earlier",
            "version",
        )


def _check_practice(build: Build) -> None:
    try:
        chosen = judged_by(build)
    except PracticeError as error:
        raise DocumentError(str(error), "practice") from error
    for key, override in build.overrides.items():
        spec = chosen.limits.get(key) or chosen.limits.get(key.split("@")[0])
        if spec is None:
            raise DocumentError(f"there is no limit called “{key}”", "overrides")
        for entry in (override.low, override.high):
            if entry is not None and abs(entry.value) > 1e6:
                raise DocumentError(f"the limit for “{key}” is absurd", "overrides")


def _place(path: str) -> str:
    spec = FIELDS.get(path)
    return f"{path} ({spec.label})" if spec else path


def _worded(error: ValidationError) -> DocumentError:
    first = error.errors(include_url=False)[0]
    # places of a list are counted from 1, as everywhere
    path = ".".join(str(p + 1 if isinstance(p, int) else p) for p in first["loc"] if p not in ("Entry", "Absent"))
    message = first["msg"].removeprefix("Value error, ")
    if first["type"] == "extra_forbidden":
        message = "no build has this field"
    more = len(error.errors()) - 1
    tail = f" (and {more} more)" if more else ""
    return DocumentError(message[:300] + tail, _place(path)[:120])
