"""What every part of the document is."""

from typing import ClassVar

from pydantic import BaseModel, ConfigDict, model_validator

from arcstack.build.entry import Entry, Quantity
from arcstack.build.words import Words
from arcstack.errors import QuantityError


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
            if spec is not None and isinstance(value, Entry):
                try:
                    spec.check_entry(value)
                except QuantityError as error:
                    raise ValueError(str(error)) from error
        return self
