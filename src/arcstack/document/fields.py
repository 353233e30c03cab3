"""Every editable field of the document by its path, read off the parts' own definitions.

A list's places are numbered from 1 in a path: ``intake.stack.shims.2``.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Any, get_args

from pydantic import BaseModel
from pydantic.fields import FieldInfo

from arcstack.document.entry import Quantity
from arcstack.document.model import Build
from arcstack.document.parts import Listed
from arcstack.document.words import Choice, Words

PLACE = "#"
"""Stands for a number in the path of a list's field."""


SILENT = ("not stated", "not said")
"""Options that say that nobody said anything."""


class Kind(StrEnum):
    QUANTITY = "quantity"
    WORDS = "words"
    CHOICE = "choice"


@dataclass(frozen=True)
class Field:
    """A field by its path; ``quantity`` for figures, ``options`` for choices.

    ``each`` is True for what stands at every valve. ``lists`` are the lists it stands in, outermost first. ``assumed``
    is the option that stands for a choice about a part while nobody says it, ``silent`` the one that says that nobody
    did; each is empty where there is none.
    """

    path: str
    label: str
    help: str
    kind: Kind
    quantity: Quantity | None = None
    options: tuple[str, ...] = ()
    words: Words | None = None
    each: bool = False
    lists: tuple[Listed, ...] = ()
    assumed: str = ""
    silent: str = ""


def _walk(model: type[BaseModel], prefix: str, lists: tuple[Listed, ...]) -> Iterator[Field]:
    for name, info in model.model_fields.items():
        path, inner, inside = f"{prefix}{name}", info.annotation, lists
        listed = next((m for m in info.metadata if isinstance(m, Listed)), None)
        if listed is not None:
            path, inner, inside = f"{path}.{PLACE}", get_args(inner)[0], (*lists, listed)
        if isinstance(inner, type) and issubclass(inner, BaseModel):
            yield from _walk(inner, path + ".", inside)
            continue
        field = _field(path, info, model)
        if field is not None:
            yield replace(field, lists=inside)


def _field(path: str, info: FieldInfo, model: type[BaseModel]) -> Field | None:
    for spec in info.metadata:
        if isinstance(spec, Quantity):
            each = getattr(model, "at_every_valve", False) if spec.each is None else spec.each
            return Field(path, spec.label, spec.help, Kind.QUANTITY, quantity=spec, each=each)
        if isinstance(spec, Words):
            return Field(path, spec.label, spec.help, Kind.WORDS, words=spec)
        if isinstance(spec, Choice):
            assert isinstance(info.annotation, type)
            assert issubclass(info.annotation, StrEnum)
            options, assumed = tuple(info.annotation), str(info.default) if spec.assumed else ""
            silent = next((str(o) for o in options if o in SILENT), "")
            return Field(path, spec.label, spec.help, Kind.CHOICE, options=options, assumed=assumed, silent=silent)
    return None


class Fields(Mapping[str, Field]):
    """Fields by path. Each place of a list has its own path; the definition behind them is one."""

    def __init__(self, model: type[BaseModel]) -> None:
        self._defined = {f.path: f for f in _walk(model, "", ())}
        self._found: dict[str, Field] = {}

    def __getitem__(self, path: str) -> Field:
        found = self._found.get(path)
        if found is None:
            found = self._found[path] = self._resolved(path)
        return found

    def _resolved(self, path: str) -> Field:
        names = path.split(".")
        numbers = [int(n) for n in names if n.isascii() and n.isdigit()]
        defined = self._defined[".".join(PLACE if n.isascii() and n.isdigit() else n for n in names)]
        if PLACE in names or len(numbers) != len(defined.lists):
            raise KeyError(path)
        if any(not 1 <= n <= listed.most for n, listed in zip(numbers, defined.lists, strict=True)):
            raise KeyError(path)
        if path != ".".join(str(int(n)) if n.isascii() and n.isdigit() else n for n in names):
            raise KeyError(path)
        numbered = f"{defined.label} {numbers[-1]}" if names[-1].isdigit() else defined.label
        if names[0] == "exhaust" and defined.quantity is not None and defined.quantity.exhaust:
            numbered = defined.quantity.exhaust
        return replace(defined, path=path, label=numbered)

    def __iter__(self) -> Iterator[str]:
        for path, field in self._defined.items():
            yield from _numbered(path, [range(1, listed.most + 1) for listed in field.lists])

    def __len__(self) -> int:
        return sum(1 for _ in self)

    @property
    def defined(self) -> tuple[Field, ...]:
        """Each definition once, ``#`` standing for the place in a list."""
        return tuple(self._defined.values())

    def of(self, *builds: Build) -> Iterator[Field]:
        """The fields of some builds, in the document's order: of a list, the places that one of them fills."""
        for path, field in self._defined.items():
            if not field.lists:
                yield self[path]
                continue
            held = path.partition(f".{PLACE}")[0].split(".")
            longest = max(len(_reached(build, held)) for build in builds)
            for numbered in _numbered(path, [range(1, longest + 1)]):
                yield self[numbered]


def _reached(build: Build, names: list[str]) -> tuple[Any, ...]:
    found: Any = build
    for name in names:
        found = getattr(found, name)
    assert isinstance(found, tuple)
    return found


def _numbered(path: str, places: list[range]) -> Iterator[str]:
    if not places:
        yield path
        return
    for number in places[0]:
        yield from _numbered(path.replace(PLACE, str(number), 1), places[1:])


FIELDS = Fields(Build)
