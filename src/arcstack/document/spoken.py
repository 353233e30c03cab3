"""A field as a builder speaks of it: which side, which part, which figure."""

from collections.abc import Mapping
from types import MappingProxyType

from arcstack.document.fields import FIELDS
from arcstack.document.model import SIDES
from arcstack.errors import FieldError

PARTS: Mapping[str, str] = MappingProxyType(
    {
        "outer": "outer spring",
        "inner": "inner spring",
        "durations": "duration",
        "candidates": "candidate",
        "stack": "",
        "follower": "",
        "pocket": "",
        "rings": "",
    }
)
"""Names of the document's parts where they differ from the word in a path."""

_SAID_ALONE = MappingProxyType({"code": "code", "height_basis": "open height taken"})
"""Labels that their group's heading completes on the page."""

_HEAD = ("brief", "engine", "head", "job")


def spoken(path: str) -> str:
    """The field at ``path`` with its side and part. Raises ``FieldError`` for a path that is no field.

    >>> spoken("intake.stack.inner.coils"), spoken("exhaust.candidates.2.outer.rate"), spoken("brief.limiter")
    ('intake inner spring, coils, total', 'exhaust candidate 2, outer spring, rate', 'limiter')
    >>> spoken("intake.cam.durations.1.check_lift"), spoken("intake.stack.shims.2")
    ('intake cam, duration 1, check lift', 'intake shim 2')
    """
    try:
        label = FIELDS[path].label
    except KeyError:
        raise FieldError(path, "There is no such field.") from None
    names = path.split(".")[:-1]
    side = names.pop(0) if names and names[0] in SIDES else ""
    if names and names[0] in _HEAD:
        # the engine's and the brief's figures are one of a kind, and need no part named
        names = []
    if path.rpartition(".")[2].isdigit():
        names.pop()
    parts: list[str] = []
    for name in names:
        if name.isdigit():
            parts[-1] += f" {name}"
        elif PARTS.get(name, name):
            parts.append(PARTS.get(name, name))
    own = (_SAID_ALONE.get(path.rpartition(".")[2]) if side else None) or _lower(label)
    if parts and own.startswith(parts[-1].split(", ")[-1].split(" ")[0] + " ") and len(parts) == 1:
        parts = []
    where = ", ".join(parts)
    whose = " ".join(x for x in (side, where) if x)
    if not where:
        return f"{side} {own}".strip()
    return f"{whose}, {own}"


def _lower(label: str) -> str:
    """A label within a sentence; a short form stays as it is."""
    return label if label[:2].isupper() else label[0].lower() + label[1:]
