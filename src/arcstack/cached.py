"""``cached_property`` as Python has had it since 3.12: threads that ask it of different objects do not wait for each
other. Before, one lock was held for every object of a class while one of them was worked."""

import sys

if sys.version_info >= (3, 12):
    from functools import cached_property as cached_property
else:
    from collections.abc import Callable
    from typing import Any, Generic, TypeVar, overload

    T = TypeVar("T")

    class cached_property(Generic[T]):
        """A value worked once for an object and then kept in its dictionary."""

        def __init__(self, work: Callable[[Any], T]) -> None:
            self.work, self.name = work, work.__name__
            self.__doc__ = work.__doc__

        def __set_name__(self, _owner: type, name: str) -> None:
            self.name = name

        @overload
        def __get__(self, held: None, owner: type | None = None) -> "cached_property[T]": ...

        @overload
        def __get__(self, held: object, owner: type | None = None) -> T: ...

        def __get__(self, held: object | None, owner: type | None = None) -> "cached_property[T] | T":
            if held is None:
                return self
            found: T = self.work(held)
            held.__dict__[self.name] = found
            return found
