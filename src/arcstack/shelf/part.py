"""Parts as things: the document's own part models with an identity, what they cost, and how many there are."""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from types import MappingProxyType
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, SerializeAsAny, StringConstraints, model_validator

from arcstack.checks import Evidence
from arcstack.document import Entry, Sitting, entered, stated, stating
from arcstack.document import Field as DocumentField
from arcstack.document import Kind as FieldKind
from arcstack.document.entry import Printable, Quantity
from arcstack.document.fields import Fields
from arcstack.document.heights import HEIGHT_RESTS_ON
from arcstack.document.parts import (
    Bucket,
    Cap,
    Finger,
    Guide,
    Locator,
    Locks,
    Part,
    Retainer,
    Rings,
    Rocker,
    Seal,
    Spring,
    SpringPack,
    Valve,
)
from arcstack.document.words import Words, named, noted
from arcstack.errors import FieldError
from arcstack.units import LENGTH, MASS, MONEY, System


class PartKind(StrEnum):
    VALVE = "valve"
    PACK = "pack"
    SPRING = "spring"
    RETAINER = "retainer"
    LOCKS = "locks"
    LOCATOR = "locator"
    SHIM = "shim"
    SEAL = "seal"
    GUIDE = "guide"
    BUCKET = "bucket"
    FINGER = "finger"
    ROCKER = "rocker"
    LASH_SHIM = "lash shim"
    CAP = "cap"


RAISING = tuple(PartKind(part) for part in dict(HEIGHT_RESTS_ON))
"""Kinds that move the height a spring stands at."""


class ShimPart(Rings):
    """One shim that lies under a spring."""

    code: Annotated[str, Words("Shim")] = ""
    thickness: Annotated[Entry | None, Quantity("Shim thickness", LENGTH, 0.05, 4, usual=(0.2, 4))] = None


class LashShim(Part):
    """A shim between tip and follower, or over the bucket."""

    code: Annotated[str, Words("Lash shim")] = ""
    diameter: Annotated[Entry | None, Quantity("Lash shim diameter", LENGTH, 5, 40)] = None
    thickness: Annotated[Entry | None, Quantity("Lash shim thickness", LENGTH, 0.5, 6, usual=(1, 6))] = None
    mass: Annotated[Entry | None, Quantity("Lash shim mass", MASS, 0, 0.05, usual=(0.0005, 0.03))] = None


class CapPart(Cap):
    """A cap over the tip with its mass."""

    mass: Annotated[Entry | None, Quantity("Cap mass", MASS, 0, 0.05, usual=(0.0005, 0.03))] = None


@dataclass(frozen=True)
class About:
    """A kind of part: what it and several are called, what it holds, and where it can stand on a side.

    ``places`` are names of places; ``tells`` are the figures that a list shows.
    """

    kind: PartKind
    title: str
    plural: str
    model: type[Part]
    places: tuple[str, ...]
    tells: tuple[str, ...]


KINDS: Mapping[PartKind, About] = MappingProxyType(
    {
        about.kind: about
        for about in (
            About(PartKind.VALVE, "Valve", "Valves", Valve, ("valve",), ("head", "stem", "mass", "material")),
            About(
                PartKind.PACK,
                "Spring pack",
                "Spring packs",
                SpringPack,
                ("pack",),
                ("outer.height_1", "outer.load_1", "inner.load_1", "outer.solid", "inner.solid"),
            ),
            About(
                PartKind.SPRING,
                "Spring",
                "Springs",
                Spring,
                ("outer", "inner"),
                ("height_1", "load_1", "height_2", "load_2", "solid"),
            ),
            About(
                PartKind.RETAINER,
                "Retainer",
                "Retainers",
                Retainer,
                ("retainer",),
                ("offset", "step", "taper", "mass", "material"),
            ),
            About(
                PartKind.LOCKS, "Locks", "Locks", Locks, ("locks",), ("stem", "offset", "taper", "outside", "groove")
            ),
            About(
                PartKind.LOCATOR,
                "Seat or locator",
                "Seats and locators",
                Locator,
                ("locator",),
                ("thickness", "step", "spigot", "material"),
            ),
            About(
                PartKind.SHIM,
                "Shim",
                "Shims",
                ShimPart,
                tuple(f"shim {n}" for n in range(1, 7)),
                ("thickness", "inside", "outside"),
            ),
            About(PartKind.SEAL, "Seal", "Seals", Seal, ("seal",), ("stem", "guide", "height", "outside", "held")),
            About(
                PartKind.GUIDE, "Guide", "Guides", Guide, ("guide",), ("outside", "height", "seal_groove", "material")
            ),
            About(PartKind.BUCKET, "Bucket", "Buckets", Bucket, ("bucket",), ("diameter", "inside", "mass", "crown")),
            About(PartKind.FINGER, "Finger", "Fingers", Finger, ("finger",), ("ratio", "arm", "mass", "meets")),
            About(PartKind.ROCKER, "Rocker", "Rockers", Rocker, ("rocker",), ("ratio", "arm", "mass", "meets")),
            About(
                PartKind.LASH_SHIM,
                "Lash shim",
                "Lash shims",
                LashShim,
                ("lash shim",),
                ("thickness", "diameter", "mass"),
            ),
            About(PartKind.CAP, "Cap", "Caps", CapPart, ("cap",), ("inside", "depth", "top", "mass")),
        )
    }
)


@cache
def fields_of(kind: PartKind) -> Fields:
    """The fields of a kind of part by their paths within it."""
    return Fields(KINDS[kind].model)


PRICE = Quantity("Price", MONEY, 0, 100_000, "In your own money.")
Count = Annotated[int, Field(ge=0, le=100_000)]
Text = Annotated[str, StringConstraints(max_length=80), Printable]
LONGEST_PART_NOTE = 500


class ShelfPart(BaseModel):
    """A part that a workshop can fit. ``version`` rises with each change of it; a retired one is kept, not offered."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    key: Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{32}$")]
    kind: PartKind
    name: Annotated[str, StringConstraints(min_length=1, max_length=80, strip_whitespace=True), Printable]
    number: Text = ""
    version: Annotated[int, Field(ge=1)] = 1
    price: Entry | None = None
    on_hand: Count = 0
    on_order: Count = 0
    lead_days: Count | None = None
    second_source: Text = ""
    note: Annotated[str, StringConstraints(max_length=LONGEST_PART_NOTE)] = ""
    retired: bool = False
    body: SerializeAsAny[Part]

    @model_validator(mode="before")
    @classmethod
    def _of_its_kind(cls, data: Any) -> Any:
        if isinstance(data, dict) and isinstance(data.get("body"), dict):
            try:
                kind = PartKind(data.get("kind", ""))
            except ValueError:
                return data
            return data | {"body": KINDS[kind].model.model_validate(data["body"])}
        return data

    @model_validator(mode="after")
    def _whole(self) -> "ShelfPart":
        if not isinstance(self.body, KINDS[self.kind].model):
            raise ValueError(f"the figures are not a {self.kind.value}'s")
        if self.price is not None:
            PRICE.check_entry(self.price)
        return self

    def at(self, path: str) -> Any:
        """What the part holds at a path within it."""
        found: Any = self.body
        for name in path.split("."):
            found = getattr(found, name)
        return found

    def said(self, path: str) -> Any:
        """What a hand said at a path within it; None for a choice that something only stands for."""
        head, _, name = path.rpartition(".")
        silent = fields_of(self.kind)[path].assumed and name not in stated(self.at(head) if head else self.body)
        return None if silent else self.at(path)


OWN = ("name", "number", "price", "on_hand", "on_order", "lead_days", "second_source", "note")
"""What every part has beside its figures."""

_TITLES = MappingProxyType(
    {
        "name": "Name", "number": "Maker’s number", "price": "Price", "on_hand": "On hand", "on_order": "On order",
        "lead_days": "Lead time, days", "second_source": "Second source", "note": "Note",
    }
)  # fmt: skip


def title_of(kind: PartKind, path: str) -> str:
    """What a field of a part is called. Raises ``KeyError``."""
    if path in _TITLES:
        return _TITLES[path]
    label = fields_of(kind)[path].label
    head, _, _ = path.rpartition(".")
    return f"{head.capitalize()} spring, {label[0].lower()}{label[1:]}" if head else label


def changed(
    part: ShelfPart, path: str, text: str, evidence: Evidence | None = None, system: System = System.MM,
    by: Sitting | None = None,
) -> ShelfPart:  # fmt: skip
    """The part with a field set from typed text. Raises ``FieldError`` naming the field."""
    if path in OWN:
        return part.model_copy(update={path: _own(path, text, system)})
    spec = _field(part.kind, path)
    held = part.at(path)
    value = None
    if spec.kind is not FieldKind.QUANTITY or text.strip():
        value = entered(spec, text or spec.assumed, type(held), evidence, system, by)
    body = _put(part.body, path.split("."), value)
    if spec.assumed:
        body = stating(part.body, body, path, bool(text))
    try:
        type(body).model_validate(body.model_dump())
    except ValueError as error:
        raise FieldError(path, str(error)[:200]) from error
    return part.model_copy(update={"body": body})


def _field(kind: PartKind, path: str) -> DocumentField:
    try:
        return fields_of(kind)[path]
    except KeyError:
        raise FieldError(path, f"A {KINDS[kind].title.lower()} has no such field.") from None


_COUNTS = ("on_hand", "on_order", "lead_days")


def _own(path: str, text: str, system: System) -> Any:
    if path == "name":
        return named(text, path, "A part")
    if path in _COUNTS:
        return _count(path, text)
    if path == "price":
        spec = DocumentField("price", PRICE.label, "", FieldKind.QUANTITY, quantity=PRICE)
        return entered(spec, text, str, None, system, None) if text.strip() else None
    if path == "note":
        return noted(text, path, LONGEST_PART_NOTE)
    words = " ".join(text.split())
    if len(words) > 80 or not words.isprintable():
        raise FieldError(path, f"{_TITLES[path]} has at most 80 characters that can be printed.")
    return words


def _count(path: str, text: str) -> int | None:
    bare = text.strip()
    if not bare:
        return None if path == "lead_days" else 0
    if not re.fullmatch(r"[0-9]{1,6}", bare) or int(bare) > 100_000:
        raise FieldError(path, f"{_TITLES[path]} is a whole number, such as 16.")
    return int(bare)


def _put(held: Part, steps: list[str], value: Any) -> Part:
    inner = _put(getattr(held, steps[0]), steps[1:], value) if len(steps) > 1 else value
    return held.model_copy(update={steps[0]: inner})


def blank(key: str, kind: PartKind, name: str) -> ShelfPart:
    """A part of which nothing is known yet but its name."""
    return ShelfPart(key=key, kind=kind, name=named(name, "name", "A part"), body=KINDS[kind].model())
