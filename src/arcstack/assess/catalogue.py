"""Every check and every named figure, gathered from the modules of this room: ``CHECKS`` and ``FIGURES`` in each."""

import pkgutil
from collections.abc import Iterator, Mapping
from functools import cache
from importlib import import_module
from types import MappingProxyType, ModuleType

from arcstack.assess.check import Check, Named
from arcstack.assess.context import Context, guarded
from arcstack.checks import Figure
from arcstack.errors import NotKnown

ROOM = "arcstack.assess"

_ORDER = ("cam", "stack", "springs", "control", "clearance")
"""Stages in the order of the work; what stands on another comes after."""


def _modules() -> Iterator[ModuleType]:
    for found in pkgutil.iter_modules(import_module(ROOM).__path__, f"{ROOM}."):
        yield import_module(found.name)


@cache
def checks() -> Mapping[str, Check]:
    """Every check by its id, in the order of the work."""
    found: list[Check] = [c for module in _modules() for c in getattr(module, "CHECKS", ())]
    found.sort(key=lambda c: _ORDER.index(c.stage) if c.stage in _ORDER else len(_ORDER))
    by_id = {c.id: c for c in found}
    if len(by_id) != len(found):
        raise ValueError("two checks have one id")
    return MappingProxyType(by_id)


@cache
def figures() -> Mapping[str, Named]:
    """Every named figure by its name."""
    found: list[Named] = [f for module in _modules() for f in getattr(module, "FIGURES", ())]
    by_name = {f.name: f for f in found}
    if len(by_name) != len(found):
        raise ValueError("two figures have one name")
    return MappingProxyType(by_name)


def find(ctx: Context, name: str) -> Figure | NotKnown:
    """The figure called ``name``, or why it cannot be told. Raises ``KeyError``."""
    work = figures()[name].work
    try:
        return guarded(lambda: work(ctx), name)
    except NotKnown as told:
        return told
