"""A document in the making: many fields laid over another, each part of it copied once."""

from typing import Any

from pydantic import BaseModel

from arcstack.document.model import Build


class Draft:
    """Values put by the path of a field, unchecked as ``put`` does it one by one; ``done`` gives the document.

    A list is put whole.

    >>> draft = Draft(Build(name="One"))
    >>> draft.put("brief.limiter", None)
    >>> draft.put("name", "Two")
    >>> draft.get("name"), draft.done().name, draft.build.name
    ('Two', 'Two', 'One')
    """

    def __init__(self, build: Build) -> None:
        self.build = build
        self._put: dict[str, Any] = {}

    def get(self, path: str) -> Any:
        """What stands at a field now."""
        if path in self._put:
            return self._put[path]
        found: Any = self.build
        for name in path.split("."):
            found = getattr(found, name)
        return found

    def put(self, path: str, value: Any) -> None:
        """Put a value at the path of a field: nothing is checked or outdated by it."""
        self._put[path] = value

    def done(self) -> Build:
        """The document with everything that was put."""
        found: Build = _laid(self.build, [(path.split("."), value) for path, value in self._put.items()])
        return found


def _laid(part: BaseModel, rows: list[tuple[list[str], Any]]) -> Any:
    update: dict[str, Any] = {}
    inner: dict[str, list[tuple[list[str], Any]]] = {}
    for (name, *rest), value in rows:
        if rest:
            inner.setdefault(name, []).append((rest, value))
        else:
            update[name] = value
    update |= {name: _laid(getattr(part, name), own) for name, own in inner.items()}
    return part.model_copy(update=update) if update else part
