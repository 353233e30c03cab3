"""What the wrong way of putting a part in does to this build's own figures."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from types import MappingProxyType

from arcstack.assess import spring, stack
from arcstack.assess.context import Context, known
from arcstack.checks import Figure
from arcstack.document.entry import amount
from arcstack.document.parts import Wound
from arcstack.mech import stack as heights
from arcstack.mech.spring.geometry import still_end_kg
from arcstack.settings import setting
from arcstack.units import FORCE, LENGTH, MASS, Dimension

NOT_HOME_MM = setting("assembly.not_home")


@dataclass(frozen=True)
class Moved:
    """One figure the right way and the wrong way; None the wrong way where it cannot be told."""

    label: str
    right: float
    wrong: float
    dimension: Dimension
    fails: bool = False


@dataclass(frozen=True)
class Pair:
    """The right and the wrong way of one part: in words, and what it does to figures. ``needs`` names what is missing
    where nothing can be said of them."""

    key: str
    title: str
    right: str
    wrong: str
    moved: tuple[Moved, ...]
    says: str
    needs: str = ""


def _value(work: Callable[[Context], Figure], ctx: Context) -> float | None:
    found = known(lambda: work(ctx))
    return found.value if found is not None else None


def _load(ctx: Context, name: str, height_mm: float) -> float | None:
    """What one spring carries at a height other than its own."""
    there = known(lambda: replace(spring.height(ctx, name), value=height_mm))
    found = known(lambda: spring.line(ctx, name).load("F", "Load", there)) if there is not None else None
    return found.value if found is not None else None


def locator(ctx: Context) -> tuple[Pair, ...]:
    """The inner spring's seat upside down: for both shapes that it may have, since nothing of it says which."""
    words = "Step up, spigot on the guide."
    step = known(lambda: ctx.entry("stack.locator.step", "l_s"))
    outer, inner = _value(spring.reserve_outer, ctx), _value(spring.reserve_inner, ctx)
    height, inner_height = _value(stack.installed_height, ctx), _value(stack.inner_height, ctx)
    if step is None or height is None:
        title = "Seat upside down"
        return (Pair("locator", title, words, "", (), "", "step of the locator and installed height"),)
    found = []
    for pressed, shape in ((False, "flat-backed"), (True, "pressed from sheet")):
        by_outer, by_inner = heights.upside_down_mm(step.value, pressed)
        rows = [Moved("Installed height, outer", height, height + by_outer, LENGTH)]
        if inner_height is not None:
            rows.append(Moved("Installed height, inner", inner_height, inner_height + by_inner, LENGTH))
        for name, at, by in (("outer", height, by_outer), ("inner", inner_height, by_inner)):
            if at is not None and name in spring.springs(ctx):
                seated, then = _load(ctx, name, at), _load(ctx, name, at + by)
                if seated is not None and then is not None:
                    rows.append(Moved(f"Seat load, {name}", seated, then, FORCE))
        for label, reserve, by in (("Reserve, outer", outer, by_outer), ("Reserve, inner", inner, by_inner)):
            if reserve is not None:
                rows.append(Moved(label, reserve, reserve + by, LENGTH, reserve + by < 0.0))
        solid = [r.label.lower() for r in rows if r.fails]
        says = (
            f"Goes solid before full lift: {', '.join(solid)}." if solid else "Every load and reserve is another one."
        )
        found.append(Pair("locator", f"Seat upside down, {shape}", words, "Step down.", tuple(rows), says))
    return tuple(found)


def seal(ctx: Context) -> tuple[Pair, ...]:
    """A seal that is not at its stop."""
    room = _value(stack.retainer_seal, ctx)
    right, wrong = "Over a sleeve, pressed to its stop.", "Over bare grooves, left off its stop."
    if room is None:
        return (
            Pair("seal", "Seal off its stop", right, wrong, (), "The lip is cut by the groove.", "room to the seal"),
        )
    left = room - NOT_HOME_MM
    rows = (Moved("Retainer to seal, full lift", room, left, LENGTH, left < 0.0),)
    says = (
        "The retainer meets it at full lift." if left < 0.0 else "The groove's edge cuts the lip: oil past the guide."
    )
    return (Pair("seal", f"Seal off its stop by {NOT_HOME_MM:g} mm", right, wrong, rows, says),)


def lock(ctx: Context) -> tuple[Pair, ...]:
    """One lock that is not home: the other one carries the load."""
    right, wrong = "Both flush, gap even, tip proud.", "One stands above its groove."
    rows = []
    for label, work in (("Held by each lock, seated", spring.seat_load), ("Held by each lock, open", spring.open_load)):
        load = _value(work, ctx)
        if load is not None:
            rows.append(Moved(label, load / 2.0, load, FORCE))
    needs = "" if rows else "loads of the springs"
    says = "The other carries all of it, on one side of the stem: it leaves at speed, and the valve drops."
    return (Pair("lock", "Lock not home", right, wrong, tuple(rows), says, needs),)


def end(ctx: Context) -> tuple[Pair, ...]:
    """A spring with its close-wound end up: those coils move with the retainer."""
    right, wrong = "Close-wound end down, mark up.", "Close-wound end up."
    rows = []
    moving = _value(spring.moving_mass, ctx)
    for name in spring.springs(ctx):
        part = getattr(ctx.side.stack, name)
        mass, coils, active = (amount(f) for f in (part.mass, part.coils, part.active))
        if mass is None or coils is None or active is None or moving is None:
            continue
        more = still_end_kg(mass, coils, active)
        if more > 0.0:
            rows.append(Moved(f"Moving mass, {name} up", moving, moving + more, MASS))
    if not rows:
        says = "By their figures both ends are alike: follow the mark. Wound closer at one end, that end stands still."
        return (Pair("end", "Spring end up or down", right, wrong, (), says),)
    says = "The coils that should stand still move with the valve: it parts at a lower speed."
    return (Pair("end", "Close-wound end up", right, wrong, tuple(rows), says),)


def hands(ctx: Context) -> tuple[Pair, ...]:
    """Two springs of a pack wound the same way."""
    outer, inner = ctx.side.stack.outer.wound, ctx.side.stack.inner.wound
    right, wrong = "Wound against each other.", "Wound the same way."
    if Wound.UNSTATED in (outer, inner):
        return (Pair("hands", "Hands of the springs", right, wrong, (), "Look at both before the inner goes in."),)
    alike = "These two are wound alike: the coils of one fall between the other's and lock." if outer is inner else ""
    says = (
        alike or f"Outer {outer.value}, inner {inner.value}: with both alike the coils fall into each other and lock."
    )
    return (Pair("hands", "Hands of the springs", right, wrong, (), says),)


_PICTURES: Mapping[str, Callable[[Context], tuple[Pair, ...]]] = MappingProxyType(
    {"locator": locator, "seal": seal, "lock": lock, "end": end, "hands": hands}
)


def pairs(key: str, ctx: Context) -> tuple[Pair, ...]:
    """The right and the wrong way of what a step shows; empty for a step that shows none."""
    return _PICTURES[key](ctx) if key in _PICTURES else ()
