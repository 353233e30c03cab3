"""What is asked of the shelf: read off an address, with the head it is asked for and the search it makes."""

from collections.abc import Hashable
from dataclasses import dataclass, replace
from urllib.parse import urlencode

from flask import request
from werkzeug.datastructures import MultiDict

from arcstack.application import CamLibrary, Current, Job, Kept
from arcstack.assess.context import Context
from arcstack.document import Build, set_cam
from arcstack.drawings.frontier import Axis
from arcstack.shelf import PartKind, ShelfPart
from arcstack.specify import VARIED, Ask, Want, search
from arcstack.units import LENGTH, MONEY, POWER, SPEED
from arcstack.web.kit.session import assessed, part_shelf, searches, workshop

AXES = {
    Want.PRICE: Axis("Price", MONEY),
    Want.FRICTION: Axis("Friction, one valve", POWER),
    Want.SPEED: Axis("Parts at", SPEED),
    Want.RESERVE: Axis("Least reserve to solid", LENGTH),
}

FIRST = (PartKind.PACK, PartKind.RETAINER, PartKind.LOCKS, PartKind.SHIM)
"""Kinds that may change until a builder says otherwise."""


@dataclass(frozen=True)
class Asked:
    """What the address asks: of the shelf, of the drawing, and with which cam."""

    ask: Ask
    across: Want
    up: Want
    cam: str
    values: MultiDict[str, str]

    def query(self, **more: object) -> str:
        """The same question as an address's values, with some of its own."""
        own = [(k, v) for k, v in self.values.items(multi=True) if k not in more and k not in _ONCE]
        return "?" + urlencode([*own, *((k, str(v)) for k, v in more.items() if v != "")])


_ONCE = ("csrf_token", "base", "number", "take", "part", "again")


def asked_for() -> Asked:
    values = request.values
    told = values.getlist("vary")
    vary = tuple(k for k in VARIED if k.value in told) if "vary" in values or "asked" in values else FIRST
    wants = [w for name in ("want", "then", "last") if (w := _want(values.get(name))) is not None]
    want = tuple(dict.fromkeys(wants)) or (Want.SPEED, Want.PRICE)
    weights: tuple[float, ...] = ()
    if values.get("weigh") == "1":
        weights = tuple(
            _weight(values.get(name), len(want) - at) for at, name in zip(range(len(want)), _WEIGHTS, strict=False)
        )
        weights = weights if sum(weights) else ()
    shims = values.get("shims", "2")
    ask = Ask(
        vary, want, weights, on_hand_only=values.get("hand") == "1", keeps_fitted=values.get("keep") == "1",
        holds_target=values.get("height") != "any", most_shims=int(shims) if shims in ("0", "1", "2", "3") else 2,
    )  # fmt: skip
    across = _want(values.get("x")) or Want.PRICE
    up = _want(values.get("y")) or Want.SPEED
    across = across if across in AXES else Want.PRICE
    up = up if up in AXES else Want.SPEED
    return Asked(ask, across, up, values.get("cam", "")[:40], MultiDict(values))


_WEIGHTS = ("weight1", "weight2", "weight3")


def _weight(text: str | None, otherwise: int) -> float:
    return float(text) if text is not None and text in ("0", "1", "2", "3", "4", "5") else float(otherwise)


def _want(text: str | None) -> Want | None:
    return next((w for w in Want if w.value == text), None)


@dataclass(frozen=True)
class Head:
    """The build that is searched, with the cam that was chosen for it, and what its shelf holds."""

    current: Current
    side: str
    build: Build
    ctx: Context
    cam: Kept | None
    parts: list[ShelfPart]

    def ask(self, asked: Asked) -> Ask:
        """What is asked of this head: a kind of which the shelf has none stays as it is fitted."""
        return replace(asked.ask, vary=tuple(k for k in asked.ask.vary if self.offered(asked, k)))

    def offered(self, asked: Asked, kind: PartKind) -> int:
        """How many parts of a kind a search takes: on hand for every place, where only those are asked for."""
        least = max(self.ctx.places, 1) if asked.ask.on_hand_only else 0
        return sum(p.kind is kind and p.on_hand >= least for p in self.parts)

    def key(self, asked: Asked) -> Hashable:
        stamp = tuple((p.key, p.version, p.on_hand, p.price.value if p.price else None) for p in self.parts)
        cam = self.cam.cam.model_dump_json() if self.cam is not None else ""
        return "search", self.current.id, self.current.revision, self.side, self.ask(asked), cam, stamp


def head_of(build_id: int, side: str, asked: Asked) -> Head:
    current = workshop().open(build_id)
    ctx = assessed(current).sides[side]
    kept = next((c for c in kept_cams() if c.key == asked.cam), None)
    build = current.build
    if kept is not None:
        build = set_cam(build, side, kept.cam)
        ctx = ctx.of(build)
    return Head(current, side, build, ctx, kept, list(part_shelf().offered()))


def kept_cams() -> list[Kept]:
    return CamLibrary(workshop().database, workshop()).all()


def job_of(head: Head, asked: Asked, again: bool = False) -> Job:
    return searches().start(
        head.key(asked), lambda count, stop: search(head.ctx, head.parts, head.ask(asked), count, stop), again
    )
