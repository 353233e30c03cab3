"""What every part of the document is."""

from pydantic import BaseModel, ConfigDict, model_validator

from arcstack.build.entry import Entry, Quantity
from arcstack.build.words import Words
from arcstack.errors import QuantityError


class Part(BaseModel):
    """Base of every part: frozen, with no field it does not know, every figure within its range."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    @model_validator(mode="after")
    def _within_range(self) -> "Part":
        for name, info in type(self).model_fields.items():
            value = getattr(self, name)
            words = next((m for m in info.metadata if isinstance(m, Words)), None)
            if words is not None and words.check is not None and value:
                words.check(value)
            spec = next((m for m in info.metadata if isinstance(m, Quantity)), None)
            if spec is not None and isinstance(value, Entry):
                try:
                    spec.check_entry(value)
                except QuantityError as error:
                    raise ValueError(str(error)) from error
        return self
