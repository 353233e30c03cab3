"""Documents of earlier versions as this version writes them: one step for each version, on the bare JSON.

A step leaves what is not shaped as it should be where it is: reading then names it.
"""

from collections.abc import Callable
from typing import Any

from arcstack.document.model import SIDES, VERSION

Raw = dict[str, Any]


def upgraded(raw: Raw) -> Raw:
    """The document, of whatever earlier version, as this version writes it.

    >>> upgraded({"version": 1, "name": "x", "intake": {"stack": {"shim_2": None, "shim_1": None}}})["intake"]
    {'stack': {'shims': [None, None, None]}, 'cam': {}, 'follower': {}}
    """
    version = int(raw["version"])
    while version < VERSION:
        raw = STEPS[version](raw)
        version += 1
    return raw | {"version": VERSION}


def upgraded_cam(raw: Raw) -> Raw:
    """A kept cam as it was stored, bare by version 2 and before, as this version writes it."""
    if "version" in raw:
        return dict(raw["cam"])
    return _cam(_said(raw))


def _from_1(raw: Raw) -> Raw:
    """Version 1 had no *none* and no hand or instrument: what was empty stays not known."""
    return raw


def _from_2(raw: Raw) -> Raw:
    """Version 3 has lists for shims, durations and packs, a follower of each kind, and *none* as a state of its own."""
    raw = _said(raw)
    engine = raw.get("engine")
    kind = engine.get("follower", "bucket") if isinstance(engine, dict) else "bucket"
    return raw | {side: _side(raw[side], str(kind)) for side in SIDES if isinstance(raw.get(side), dict)}


def _said(value: Any) -> Any:
    """Every *none*, which was a figure of nought called *none*, as said by its hand."""
    if isinstance(value, dict):
        if value.get("typed") == "none" and "value" in value:
            return {"none": True, "by": value.get("by")}
        return {name: _said(inner) for name, inner in value.items()}
    if isinstance(value, list) and value and isinstance(value[0], dict):
        return [_said(inner) for inner in value]
    return value


def _gathered(raw: Raw, name: str, most: int, into: str, blank: Any) -> Raw:
    """Fixed slots ``name_1`` to ``name_N`` as one list."""
    slots = [f"{name}_{number}" for number in range(1, most + 1)]
    rest = {n: v for n, v in raw.items() if n not in slots}
    found = [raw.get(slot) or blank for slot in slots]
    return rest | {into: found}


def _cam(cam: Raw) -> Raw:
    return _gathered({n: v for n, v in cam.items() if n != "ratio"}, "duration", 3, "durations", {})


_MOVED = ("seat_stiffness", "seat_damping", "coil_damping")
_OF_A_BUCKET = ("diameter", "offset", "shimming")
_OF_ANY = ("code", "mass", "materials", "stiffness", "damping")


def _side(side: Raw, kind: str) -> Raw:
    side = _gathered(side, "candidate", 5, "candidates", {}) if any(n.startswith("candidate_") for n in side) else side
    cam, stack = side.get("cam", {}), side.get("stack", {})
    if not isinstance(cam, dict) or not isinstance(stack, dict):
        return side
    held = stack.get("bucket")
    bucket: Raw = held if isinstance(held, dict) else {}
    rest = {n: v for n, v in stack.items() if n != "bucket" or not isinstance(v, dict)}
    rest = _gathered(rest, "shim", 3, "shims", None) if any(n.startswith("shim_") for n in rest) else rest
    rest |= {n: bucket[n] for n in _MOVED if n in bucket}
    lever = "rocker" if kind == "rocker" else "finger"
    parts: dict[str, Any] = {"shim_mass": bucket["shim_mass"]} if "shim_mass" in bucket else {}
    for name, value in bucket.items():
        if name != "shim_mass" and name not in _MOVED:
            part = "bucket" if name in _OF_A_BUCKET else kind if name in _OF_ANY else lever
            parts.setdefault(part, {})[name] = value
    if cam.get("ratio") is not None:
        parts.setdefault(lever, {})["ratio"] = cam["ratio"]
    cam = _cam(cam) if any(n.startswith("duration_") for n in cam) else {n: v for n, v in cam.items() if n != "ratio"}
    return side | {"cam": cam, "stack": rest, "follower": parts}


def _from_3(raw: Raw) -> Raw:
    """Version 4 has places for more: bore, dates, decisions, a practice of one's own."""
    return raw


STEPS: dict[int, Callable[[Raw], Raw]] = {1: _from_1, 2: _from_2, 3: _from_3}
"""From each version to the next."""
