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

_ORDER = ("cam", "stack", "fit", "springs", "control", "clearance", "turbo", "bench")
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


_OTHERS = {
    "cam.card.angle": "Cam card, angles",
    "cam.card.lift": "Cam card, lifts",
    "gas.usual_seat_load": "Usual seat load, no boost",
    "gas.opening_pressure": "Assumed cylinder as exhaust opens",
    "gas.pulse_ratio": "Assumed pulse peak ÷ mean",
    "gas.back_pressure_ratio": "Assumed back pressure ÷ boost",
    "piston.rod_allowance": "Added for aluminium rods",
    "stack.installed_height": "Installed height, off target",
    "lift.net": "Net lift ÷ head diameter",
    "control.separation": "Separation ÷ limiter",
    "control.elastic_separation": "Elastic separation ÷ limiter",
    "control.parting_gap": "Gap that counts as parted",
    "control.nose_pressure": "Nose, usual speed ÷ materials’ limit",
    "control.friction_coefficient": "Assumed friction of follower on lobe, sliding",
    "control.friction_coefficient.roller": "Assumed friction of roller on lobe",
    "spring.nest_gap.interference": "Between springs, interference fit",
    "spring.load_loss": "Assumed load loss of new springs",
    "guide.clearance.loose": "Guide clearance, loose school",
    "oil.restrictor.rolling": "Turbo feed restrictor, rolling bearings",
    "oil.restrictor.plain": "Turbo feed restrictor, plain bearings",
    "second.height": "Height read by another hand, apart",
    "bucket.clearance": "Bucket in its bore",
    "timing.tdc": "True TDC, both ways apart",
    "timing.repeat": "Same event, pass to pass",
    "timing.duration": "Duration, off the curve",
    "timing.centreline": "Centreline, off what was decided",
    "timing.flanks": "Flanks’ shifts apart",
    "piston.rod_stretch.steel": "Assumed rod stretch, steel",
    "piston.rod_stretch.titanium": "Assumed rod stretch, titanium",
    "piston.rod_stretch.aluminium": "Assumed rod stretch, aluminium",
    "piston.bearing_clearance": "Assumed pin and big-end clearance",
    "lash.trend": "Lash closing, service by service",
    "lash.size_range": "Shim needed beyond the sizes made",
    "piston.radial": "Room around the valve in its pocket",
    "cam.runout": "Cam runout in its bearings",
    "cam.room": "Lobe to head",
    "piston.crown": "Crown left under a pocket",
    "piston.agreement": "Dial, clay and model apart",
    "set.height_spread": "Spread of heights",
    "set.load_spread": "Spread of seat loads",
    "set.mass_spread": "Spread of masses",
    "set.tip_spread": "Spread of tips",
    "fit.pocket.bucket": "Room inside the bucket",
    "fit.pocket.locator": "Locator in the pocket",
    "fit.seal.stem": "Seal on the stem",
    "fit.seal.guide": "Seal on the guide",
    "fit.seal.inner": "Seal inside the spring",
    "fit.locator.steel": "Aluminium without hardened steel",
    "fit.locator.base": "Springs not located below",
    "fit.cap.depth": "Tip past the cap",
    "fit.cap.inside": "Cap over the tip",
    "fit.shims.count": "How many shims",
    "fit.shims.total": "Shims in all",
    "fit.shims.guide": "Shims over the guide",
    "fit.shims.pocket": "Shims in the pocket",
    "fit.shims.hardened": "Soft shims",
    "stack.height_reachable": "Shims that the target asks for",
}
"""Titles of limits that are not a check's own."""


def limit_title(key: str) -> str:
    """What a limit is called on every page; ``key`` with its side or without. Raises ``KeyError``.

    >>> limit_title("control.separation@intake"), limit_title("stack.retainer_seal")
    ('Separation ÷ limiter', 'Retainer to seal')
    """
    bare = key.split("@")[0]
    if bare.startswith("follower.contact_pressure."):
        check, _, pair = bare.rpartition(".")
        return f"{checks()[check].title}, {pair}"
    return _OTHERS.get(bare) or checks()[bare].title


def title_of(key: str) -> str:
    """What a check that was let pass is called; one of an earlier version by its own name.

    >>> title_of("valve.runout"), title_of("lash.trend"), title_of("an.earlier.check")
    ('Face runout', 'Lash closing, service by service', 'an.earlier.check')
    """
    if key in checks():
        return checks()[key].title
    try:
        return limit_title(key)
    except KeyError:
        return key
