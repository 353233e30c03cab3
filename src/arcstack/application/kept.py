"""What is kept at hand because it takes long to make: the last used, asked for by several threads at once."""

from collections.abc import Callable, Hashable
from threading import Lock
from typing import Generic, TypeVar

from cachetools import LRUCache

K = TypeVar("K", bound=Hashable)
V = TypeVar("V")


class Kept(Generic[K, V]):
    """The last used of what was made, by a key.

    ``most`` is how many are kept, or, where ``size`` tells how much one counts for, how much in all: one that is larger
    than that is kept alone. ``gone`` is told of what is kept no more. Nothing is made while it is locked.
    """

    def __init__(
        self,
        most: float,
        size: Callable[[V], float] = lambda _: 1,
        gone: Callable[[V], None] = lambda _: None,
    ) -> None:
        self._lock = Lock()
        self._rows: LRUCache[K, V] = _Rows(most, lambda v: min(size(v), most), gone)
        self._last: K | None = None

    def __contains__(self, key: K) -> bool:
        with self._lock:
            return key in self._rows

    def get(self, key: K) -> V | None:
        """What is kept under a key, which is used last now; None where nothing is."""
        with self._lock:
            return self._rows.get(key)

    def put(self, key: K, value: V) -> V:
        """Keep a value; gives it."""
        with self._lock:
            self._rows[key] = value
            self._last = key
        return value

    def clear(self) -> None:
        """Keep nothing."""
        with self._lock:
            self._rows.clear()

    @property
    def latest(self) -> V | None:
        """What was put last, while it is kept."""
        with self._lock:
            return self._rows.get(self._last) if self._last is not None else None


class _Rows(LRUCache[K, V]):
    """Tells of what it drops by itself."""

    def __init__(self, most: float, size: Callable[[V], float], gone: Callable[[V], None]) -> None:
        super().__init__(most, size)
        self._gone = gone

    def popitem(self) -> tuple[K, V]:
        key, value = super().popitem()
        self._gone(value)
        return key, value
