"""What a figure read of a build, so that a change elsewhere leaves it standing.

Each thing that can be read (a field by its path, a limit by its key) is one bit; what a figure read, with everything
that it rests on, is a set of bits in one whole number.
"""

from functools import cache
from threading import Lock, local
from typing import Any

from pydantic import BaseModel

from arcstack.document import FIELDS, Build
from arcstack.document.parts import MeasuredCurve, Part

_bits: dict[str, int] = {}
_lock = Lock()


def bit(token: str) -> int:
    """The bit that stands for a field's path, a limit's key, or another thing that can be read."""
    found = _bits.get(token)
    if found is None:
        with _lock:
            found = _bits.setdefault(token, 1 << len(_bits))
    return found


def tokens(bits: int) -> list[str]:
    """What the bits stand for."""
    return [token for token, one in _bits.items() if bits & one]


class _Frames(local):
    """Of each thread: what the figure that is being worked has read so far."""

    read = 0


_frames = _Frames()


def note(bits: int) -> None:
    """The figure that is being worked has read this."""
    _frames.read |= bits


def begun() -> int:
    """Begin to collect what is read for a figure; what the one around it had read is given to ``ended``."""
    around, _frames.read = _frames.read, 0
    return around


def ended(around: int) -> int:
    """What was read since, which the figure around has read too."""
    read = _frames.read
    _frames.read = around | read
    return read


class Noting:
    """Collects what is read inside it, and notes it for the figure around it too."""

    __slots__ = ("_around", "read")

    def __enter__(self) -> "Noting":
        self._around = begun()
        return self

    def __exit__(self, *_told: object) -> None:
        self.read = ended(self._around)


PRACTICE = "practice"


def limit_token(key: str) -> str:
    return f"limit {key}"


@cache
def _fields_of(kind: type[Part]) -> frozenset[str]:
    return frozenset(kind.model_fields)


class Watched:
    """A document, or a part of it, that notes each field that is read of it; a list and a lift table are one field."""

    __slots__ = ("_inner", "_part", "_path")

    def __init__(self, part: Part, path: str = "") -> None:
        self._part = part
        self._path = path
        self._inner: dict[str, tuple[int, Any]] = {}

    def __getattr__(self, name: str) -> Any:
        found = self._inner.get(name)
        if found is None:
            if name not in _fields_of(type(self._part)):
                # a method reads through this too; kept here it would hold on to this for ever
                return getattr(type(self._part), name).__get__(self)
            found = self._inner[name] = self._looked_up(name)
        if found[0]:
            _frames.read |= found[0]
        return found[1]

    def _looked_up(self, name: str) -> tuple[int, Any]:
        value = getattr(self._part, name)
        path = f"{self._path}.{name}" if self._path else name
        if isinstance(value, Part) and not isinstance(value, MeasuredCurve):
            return 0, Watched(value, path)
        said = bit(f"{self._path}.stated") if path in FIELDS and FIELDS[path].assumed else 0
        return bit(path) | said, value


def changed(before: Build, after: Build) -> int:
    """What stands differently in another document: fields, and limits of its own."""
    bits = _differs(before, after, "")
    if (before.practice_version, before.own_practice) != (after.practice_version, after.own_practice):
        bits |= bit(PRACTICE)
    for key in {*before.overrides, *after.overrides}:
        if before.overrides.get(key) != after.overrides.get(key):
            bits |= bit(limit_token(key))
    return bits


def _differs(before: Part, after: Part, path: str) -> int:
    if before is after:
        return 0
    bits = 0
    for name in _fields_of(type(before)):
        old, new = getattr(before, name), getattr(after, name)
        if old is new:
            continue
        inner = f"{path}.{name}" if path else name
        if isinstance(old, Part) and not isinstance(old, MeasuredCurve):
            bits |= _differs(old, new, inner)
        elif not _same(old, new):
            bits |= bit(inner)
    return bits


def _same(old: Any, new: Any) -> bool:
    """Whether two values of a field are equal; of two models by what they hold, which is quicker to ask than they."""
    if type(old) is type(new) and isinstance(old, BaseModel):
        return bool(old.__dict__ == new.__dict__)
    return bool(old == new)
