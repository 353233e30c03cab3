"""What happens to a head beside its readings. What is true of every event of a kind stands on its class."""

from collections.abc import Iterable, Mapping
from dataclasses import replace
from types import MappingProxyType
from typing import Any, ClassVar, Self, TypeVar

from pydantic import ConfigDict

from arcstack.document import Sitting

STRICT = ConfigDict(extra="forbid", allow_inf_nan=False)
"""A row of a file or of the store holds what its class names, and no figure that is none."""

_KINDS: dict[str, type["Event"]] = {}


class Event:
    """Base of every event, each a frozen dataclass that begins with ``number`` and has ``by``.

    ``kind`` is what it is called where it is stored. ``names`` is its field that names another event by its number.
    ``decides`` says that it binds whoever does it: by a file it is only told of. ``after_release`` says that it may be
    written of a head that is signed off: what happens to it out of the house, and after it.
    """

    __pydantic_config__: ClassVar[ConfigDict] = STRICT

    kind: ClassVar[str]
    names: ClassVar[str] = ""
    decides: ClassVar[bool] = False
    after_release: ClassVar[bool] = False

    number: int
    by: Sitting

    def __init_subclass__(
        cls, /, kind: str, names: str = "", decides: bool = False, after_release: bool = False, **more: Any
    ) -> None:
        super().__init_subclass__(**more)
        if kind in _KINDS:
            raise TypeError(f"two events are called {kind}")
        cls.kind, cls.names, cls.decides, cls.after_release = kind, names, decides, after_release
        _KINDS[kind] = cls

    def changed(self, **fields: Any) -> Self:
        """The same with other values in some fields."""
        return replace(self, **fields)  # type: ignore[type-var]

    def renumbered(self, events: Mapping[int, int], readings: Mapping[int, int]) -> Self:
        """The same with what it names called by the new numbers, by the old; what is not there any more is named 0."""
        was: int | None = getattr(self, self.names) if self.names else None
        return self.changed(**{self.names: events.get(was, 0)}) if was else self

    @property
    def as_told(self) -> str:
        """An act that decides in words, as it is told where it came by a file."""
        return self.kind


KINDS: Mapping[str, type[Event]] = MappingProxyType(_KINDS)
"""Every event there is, by what it is called where it is stored."""

E = TypeVar("E", bound=Event)


def of_kind(events: Iterable[Event], *kinds: type[E]) -> tuple[E, ...]:
    """Events of a kind, or of several, in their order."""
    return tuple(e for e in events if isinstance(e, kinds))


def last_of(events: Iterable[Event], *kinds: type[E]) -> E | None:
    """The last of a kind, None where there is none."""
    found = of_kind(events, *kinds)
    return found[-1] if found else None
