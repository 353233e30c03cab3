"""What every part of the document is."""

from dataclasses import dataclass
from typing import Annotated, Any, ClassVar

from pydantic import BaseModel, ConfigDict, Field, GetCoreSchemaHandler, StringConstraints, model_validator
from pydantic_core import CoreSchema, core_schema

from arcstack.document.entry import Entry, Quantity
from arcstack.document.words import Words
from arcstack.errors import QuantityError


@dataclass(frozen=True)
class Listed:
    """Says of a field that it is a list of at most so many; ``blank`` stands where nothing was said.

    Blanks at its end are left out: what is read always equals what is written.
    """

    most: int
    blank: Any

    def taken(self, items: tuple[Any, ...]) -> tuple[Any, ...]:
        """The list as it is kept. Raises ``ValueError`` for one that is too long."""
        kept = trimmed(items, self.blank)
        if len(kept) > self.most:
            raise ValueError(f"at most {self.most}")
        return kept

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.no_info_after_validator_function(self.taken, handler(source))


def trimmed(items: tuple[Any, ...], blank: Any) -> tuple[Any, ...]:
    """A list without the blanks at its end: places stay where they are.

    >>> trimmed((1, None, 2, None), None)
    (1, None, 2)
    """
    length = len(items)
    while length and items[length - 1] == blank:
        length -= 1
    return items[:length]


StatedChoices = Annotated[tuple[Annotated[str, StringConstraints(max_length=40)], ...] | None, Field(max_length=8)]
"""A part's own choices that a hand stated; None in one that never kept them, where whatever differs from what stands
while nobody says anything was stated."""


class Part(BaseModel):
    """Base of every part: frozen, with no field it does not know, every figure within its range."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    at_every_valve: ClassVar[bool] = False
    """True for a part that stands at every valve: one of them measured is one of many."""

    @model_validator(mode="after")
    def _within_range(self) -> "Part":
        for name, info in type(self).model_fields.items():
            value = getattr(self, name)
            words = next((m for m in info.metadata if isinstance(m, Words)), None)
            if words is not None:
                words.check_text(value)
            spec = next((m for m in info.metadata if isinstance(m, Quantity)), None)
            for entry in value if isinstance(value, tuple) else (value,):
                if spec is not None and isinstance(entry, Entry):
                    try:
                        spec.check_entry(entry)
                    except QuantityError as error:
                        raise ValueError(str(error)) from error
        return self
