"""Every editable field of the document by its path, read off the parts' own definitions."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType

from pydantic import BaseModel
from pydantic.fields import FieldInfo

from arcstack.build.entry import Quantity
from arcstack.build.model import Build
from arcstack.build.words import Choice, Words


class Kind(StrEnum):
    QUANTITY = "quantity"
    WORDS = "words"
    CHOICE = "choice"


@dataclass(frozen=True)
class Field:
    """A field by its path; ``quantity`` for figures, ``options`` for choices.

    ``each`` is True for what stands at every valve.
    """

    path: str
    label: str
    help: str
    kind: Kind
    quantity: Quantity | None = None
    options: tuple[str, ...] = ()
    words: Words | None = None
    each: bool = False


def _walk(model: type[BaseModel], prefix: str) -> Iterator[Field]:
    for name, info in model.model_fields.items():
        path = f"{prefix}{name}"
        inner = info.annotation
        if isinstance(inner, type) and issubclass(inner, BaseModel):
            yield from _walk(inner, path + ".")
            continue
        field = _field(path, info, model)
        if field is not None:
            yield field


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
            return Field(path, spec.label, spec.help, Kind.CHOICE, options=tuple(info.annotation))
    return None


FIELDS: Mapping[str, Field] = MappingProxyType({f.path: f for f in _walk(Build, "")})
