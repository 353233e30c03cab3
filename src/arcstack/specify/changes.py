"""Single changes of head or parts that may let something through, each by an amount."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from arcstack.checks import Evidence
from arcstack.document import Absent, Build, Entry
from arcstack.document.heights import height_with
from arcstack.document.load_table import read_load_table
from arcstack.document.parts import Spring
from arcstack.settings import setting
from arcstack.shelf import PartKind, ShelfPart
from arcstack.units import FORCE, GAUGE_PRESSURE, LENGTH, MASS, RATIO, SPEED, Dimension
from arcstack.units.display import plain

Parts = Sequence[ShelfPart]
Put = Callable[[Build, str, Parts, float], tuple[Build, Parts]]


@dataclass(frozen=True)
class Change:
    """One thing that may change by an amount above nought, up to ``reach`` and to within ``step``.

    ``sign`` says which way it goes, ``kind`` whose part it is; without one it is the head's or the brief's. What it
    makes of checks named in ``leaves`` is no matter. Of a ``steady`` one more never shuts out what less lets through.
    """

    key: str
    title: str
    dimension: Dimension
    sign: float
    reach: float
    step: float
    put: Put
    kind: PartKind | None = None
    leaves: tuple[str, ...] = ()
    steady: bool = False

    def applied(self, build: Build, side: str, parts: Parts, by: float) -> tuple[Build, Parts]:
        """Head and shelf with the change made."""
        return self.put(build, side, parts, self.sign * by)


def _moved(entry: Entry, by: float, dimension: Dimension) -> Entry:
    value = entry.value + by
    return Entry(value=value, typed=plain(value, dimension), evidence=Evidence.ASSUMED)


def _brief(dimension: Dimension, *names: str) -> Put:
    """Figures of the brief moved together; the others held below the highest speed."""

    def put(build: Build, _side: str, parts: Parts, by: float) -> tuple[Build, Parts]:
        brief = build.brief
        changes: dict[str, Any] = {}
        for name in names:
            held = getattr(brief, name)
            if held is not None:
                changes[name] = _moved(held, by, dimension)
        most = changes.get("limiter")
        for name in ("usual_speed", "peak_speed"):
            held = getattr(brief, name)
            if most is not None and held is not None and held.value > most.value:
                changes[name] = most
        return build.model_copy(update={"brief": brief.model_copy(update=changes)}), parts

    return put


def _lift(build: Build, side: str, parts: Parts, by: float) -> tuple[Build, Parts]:
    """This side's lobe lower by so much at its top, its card or table in proportion."""
    held = build.side(side)
    cam = held.cam
    changes: dict[str, Any] = {}
    if cam.curve is not None:
        top = max(cam.curve.lift_mm)
        lifts = tuple(lift * (1.0 + by / top) for lift in cam.curve.lift_mm)
        changes["curve"] = cam.curve.model_copy(update={"lift_mm": lifts})
    elif cam.lobe_lift is not None:
        changes["lobe_lift"] = _moved(cam.lobe_lift, by, LENGTH)
        if isinstance(cam.valve_lift, Entry):
            share = by / cam.lobe_lift.value
            changes["valve_lift"] = _moved(cam.valve_lift, cam.valve_lift.value * share, LENGTH)
    return build.model_copy(update={side: held.model_copy(update={"cam": cam.model_copy(update=changes)})}), parts


def _in_parts(kind: PartKind, change: Callable[[Any, float], Any]) -> Put:
    """Every part of a kind changed, on the shelf and as it is fitted."""

    def put(build: Build, side: str, parts: Parts, by: float) -> tuple[Build, Parts]:
        held = build.side(side)
        stack = held.stack
        # a pack is no part of its own in a stack: its fields are
        if kind is PartKind.PACK:
            fitted = stack.model_copy(update=_springs(stack, change, by))
        else:
            fitted = stack.model_copy(update={kind.value: change(getattr(stack, kind.value), by)})
            # a height that was read with the part goes with it, as if the other had been there
            fitted = fitted.model_copy(update={"open_height": height_with(stack, fitted, "a part imagined otherwise")})
        made = build.model_copy(update={side: held.model_copy(update={"stack": fitted})})
        changed = []
        for part in parts:
            if part.kind is not kind:
                changed.append(part)
                continue
            body = part.body
            body = body.model_copy(update=_springs(body, change, by)) if kind is PartKind.PACK else change(body, by)
            changed.append(part.model_copy(update={"body": body}))
        return made, changed

    return put


def _springs(pack: Any, change: Callable[[Any, float], Any], by: float) -> dict[str, Any]:
    return {name: change(getattr(pack, name), by) for name in ("outer", "inner")}


def _field(name: str, dimension: Dimension, least: float | None = None) -> Callable[[Any, float], Any]:
    """A figure of a part moved; where there is none of it, from nought."""

    def change(part: Any, by: float) -> Any:
        held = getattr(part, name)
        if isinstance(held, Absent):
            held = Entry(value=0.0, typed="0", evidence=Evidence.ASSUMED)
        if held is None:
            return part
        made = _moved(held, by, dimension)
        if least is not None and made.value < least:
            made = _moved(held, least - held.value, dimension)
        return part.model_copy(update={name: made})

    return change


def _stiffer(spring: Spring, by: float) -> Spring:
    """A spring of so many parts in one more rate, that carries as much where its load is first stated."""
    changes: dict[str, Any] = {}
    if spring.table:
        curve = read_load_table(spring.table)
        load = curve.loads_N[-1]
        rows = zip(curve.heights_mm, curve.loads_N, strict=True)
        changes["table"] = "\n".join(f"{h:.6f} {load + (f - load) * (1.0 + by):.6f}" for h, f in rows)
    if spring.height_1 and spring.load_1 and spring.load_2:
        rise = spring.load_2.value - spring.load_1.value
        changes["load_2"] = _moved(spring.load_2, rise * by, FORCE)
    if spring.rate:
        rate = spring.rate.value * (1.0 + by)
        changes["rate"] = spring.rate.model_copy(update={"value": rate})
        if spring.free_length:
            at = spring.height_1.value if spring.height_1 else 0.8 * spring.free_length.value
            free = at + (spring.free_length.value - at) / (1.0 + by)
            changes["free_length"] = spring.free_length.model_copy(update={"value": free})
    return spring.model_copy(update=changes)


def _stronger(spring: Spring, by: float) -> Spring:
    """A spring of so many parts in one more load at every height."""
    changes: dict[str, Any] = {}
    if spring.table:
        curve = read_load_table(spring.table)
        rows = zip(curve.heights_mm, curve.loads_N, strict=True)
        changes["table"] = "\n".join(f"{h:.6f} {f * (1.0 + by):.6f}" for h, f in rows)
    for name in ("load_1", "load_2", "rate"):
        held = getattr(spring, name)
        if held is not None:
            changes[name] = held.model_copy(update={"value": held.value * (1.0 + by)})
    return spring.model_copy(update=changes)


def _target(build: Build, side: str, parts: Parts, by: float) -> tuple[Build, Parts]:
    held = build.side(side)
    if held.stack.target_height is None:
        return build, parts
    stack = held.stack.model_copy(update={"target_height": _moved(held.stack.target_height, by, LENGTH)})
    return build.model_copy(update={side: held.model_copy(update={"stack": stack})}), parts


def _seal(build: Build, side: str, parts: Parts, by: float) -> tuple[Build, Parts]:
    """The seal's top lower, of the one that is fitted and of every one on the shelf."""
    made, changed = _in_parts(PartKind.SEAL, _field("height", LENGTH))(build, side, parts, by)
    held = made.side(side)
    if held.stack.seal_height is not None:
        stack = held.stack.model_copy(update={"seal_height": _moved(held.stack.seal_height, by, LENGTH)})
        made = made.model_copy(update={side: held.model_copy(update={"stack": stack})})
    return made, changed


_OWN_FORMS = ("spring.rate_consistency",)
"""A spring that is only imagined has no wire of its own to agree with."""

SHARE = setting("whynot.share")


def changes() -> tuple[Change, ...]:
    """What may be tried, in the order in which it costs least to do."""
    least_mass = setting("whynot.least_mass")
    return (
        Change(
            "overspeed", "Overspeed", SPEED, -1.0, setting("whynot.speed"), 10.0, _brief(SPEED, "overspeed"),
            steady=True,
        ),
        Change(
            "limiter", "Limiter and overspeed", SPEED, -1.0, setting("whynot.speed"), 10.0,
            _brief(SPEED, "limiter", "overspeed"), steady=True,
        ),
        Change(
            "boost", "Boost", GAUGE_PRESSURE, -1.0, setting("whynot.boost"), 0.02, _brief(GAUGE_PRESSURE, "boost"),
            steady=True,
        ),
        Change("target_low", "Target height", LENGTH, -1.0, 2.0, 0.02, _target),
        Change("target_high", "Target height", LENGTH, 1.0, 2.0, 0.02, _target),
        Change(
            "retainer_high", "Retainer offset", LENGTH, 1.0, 2.5, 0.02,
            _in_parts(PartKind.RETAINER, _field("offset", LENGTH)), PartKind.RETAINER,
        ),
        Change(
            "retainer_low", "Retainer offset", LENGTH, -1.0, 2.5, 0.02,
            _in_parts(PartKind.RETAINER, _field("offset", LENGTH)), PartKind.RETAINER,
        ),
        Change("seal", "Top of the seal", LENGTH, -1.0, 3.0, 0.02, _seal, PartKind.SEAL, steady=True),
        Change("lift", "Lobe lift", LENGTH, -1.0, setting("whynot.lift"), 0.02, _lift),
        Change(
            "valve_mass", "Valve mass", MASS, -1.0, 0.03, 0.0005,
            _in_parts(PartKind.VALVE, _field("mass", MASS, least_mass)), PartKind.VALVE, steady=True,
        ),
        Change(
            "load_more", "Pack, load at every height", RATIO, 1.0, SHARE, 0.01,
            _in_parts(PartKind.PACK, _stronger), PartKind.PACK, _OWN_FORMS,
        ),
        Change(
            "load_less", "Pack, load at every height", RATIO, -1.0, SHARE, 0.01,
            _in_parts(PartKind.PACK, _stronger), PartKind.PACK, _OWN_FORMS,
        ),
        Change(
            "rate_more", "Pack, rate", RATIO, 1.0, SHARE, 0.01, _in_parts(PartKind.PACK, _stiffer), PartKind.PACK,
            _OWN_FORMS,
        ),
        Change(
            "rate_less", "Pack, rate", RATIO, -1.0, SHARE, 0.01, _in_parts(PartKind.PACK, _stiffer), PartKind.PACK,
            _OWN_FORMS,
        ),
        Change(
            "solid", "Pack, solid height", LENGTH, -1.0, 3.0, 0.02,
            _in_parts(PartKind.PACK, _field("solid", LENGTH)), PartKind.PACK, steady=True,
        ),
    )  # fmt: skip
