"""A valve too close to its piston: what each way out would take, by figures of its own."""

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace
from itertools import islice

from arcstack.assess import Assessment, cam, checks, phaser, piston
from arcstack.assess.assessment import verdict
from arcstack.assess.context import Context, known
from arcstack.checks import Level
from arcstack.document import Entry, get, set_cam
from arcstack.document.parts import Cam
from arcstack.errors import NotKnown
from arcstack.mech.piston import ValveToPiston
from arcstack.settings import setting
from arcstack.units import ANGLE, LENGTH, System, show

MOST_TURN_RAD = math.radians(setting("clearing.most_turn"))
MOST_CAMS = int(setting("clearing.most_cams"))
PHASER_STEP_RAD = math.radians(setting("clearing.phaser_step"))


@dataclass(frozen=True)
class Way:
    """One way out: by how much, and what else there is to know of it. ``by`` is None where it does not reach.

    ``limit_rad`` is what a phaser would be limited to.
    """

    key: str
    title: str
    by: str
    note: str
    reaches: bool
    limit_rad: float | None = None


@dataclass(frozen=True)
class Tight:
    """A side's gap through its phaser's range, the least that is allowed, and the ways out; none where it holds."""

    gap_mm: float
    least_mm: float
    ways: tuple[Way, ...]

    @property
    def missing_mm(self) -> float:
        return self.least_mm - self.gap_mm


def tight(now: Assessment, side: str, cams: Iterable[tuple[str, Cam]], system: System) -> Tight | None:
    """What would bring a side's least gap to its limit. None where it holds, or cannot be told."""
    ctx = now.sides[side]
    try:
        found, limit = piston.swept(ctx)[1], piston.clearance_limit(ctx, "piston.clearance_swept")
        model, (earlier, later) = piston.pair(ctx), phaser.used(ctx)
    except NotKnown:
        return None
    assert limit.low is not None
    if found.gap_mm >= limit.low:
        return None
    missing = limit.low - found.gap_mm
    # room is gained: where nobody said how the floor lies, as over one that is square
    cut = missing / piston.along(ctx, False).value
    ways = (
        _phaser(ctx, system),
        _pocket(ctx, cut, system),
        _turn(ctx, model, (-later.value, earlier.value), limit.low, system),
        Way(
            "gasket", "A thicker gasket", f"{show(cut, LENGTH, system)} more",
            "Compression falls with it, and the cams of a long drive come late.", True,
        ),
        *_other_cams(now, side, cams, system),
    )  # fmt: skip
    return Tight(found.gap_mm, limit.low, ways)


def _phaser(ctx: Context, system: System) -> Way:
    permitted = piston.permitted(ctx)
    used = phaser.toward(ctx)
    word = "advance" if ctx.intake else "retard"
    if used.value <= 0.0:
        return Way("phaser", "Less phaser", "–", "There is no phaser on this side that could be limited.", False)
    step = math.floor(permitted.value / PHASER_STEP_RAD + 1e-9) * PHASER_STEP_RAD
    if step <= 0.0:
        return Way("phaser", "Less phaser", "–", "Even parked it is too close.", False)
    most = show(permitted.value, ANGLE, system)
    note = f"of {show(used.value, ANGLE, system)} {word}; {most} is the most that holds."
    return Way("phaser", "Less phaser", f"limit it to {show(step, ANGLE, system)}", note, True, step)


def _pocket(ctx: Context, cut: float, system: System) -> Way:
    crown = get(ctx.document, ctx.path("clearance.crown"))
    least = ctx.limit("piston.crown")
    assert least.low is not None
    by = f"{show(cut, LENGTH, system)} deeper"
    if not isinstance(crown, Entry):
        note = f"Give the crown’s thickness under it: {show(least.low, LENGTH, system)} must be left."
        return Way("pocket", "A deeper pocket", by, note, True)
    left = crown.value - cut
    enough = left >= least.low
    note = f"leaves {show(left, LENGTH, system)} of crown"
    if not enough:
        note += f", less than the {show(least.low, LENGTH, system)} that must be"
    return Way("pocket", "A deeper pocket", by, f"{note}.", enough)


def _turn(ctx: Context, model: ValveToPiston, span: tuple[float, float], least: float, system: System) -> Way:
    """The smallest turn of the cam away from the piston that holds, an intake's later and an exhaust's earlier."""
    way = 1.0 if ctx.intake else -1.0

    def holds(turn: float) -> bool:
        moved = replace(model, centreline_rad=model.centreline_rad + way * turn)
        return moved.least_gap(*span).gap_mm >= least

    word = "later" if ctx.intake else "earlier"
    if not holds(MOST_TURN_RAD):
        note = f"{show(MOST_TURN_RAD, ANGLE, system)} of crank do not reach it."
        return Way("cam", f"The cam {word}", "–", note, False)
    low, high = 0.0, MOST_TURN_RAD
    while high - low > math.radians(0.01):
        middle = (low + high) / 2.0
        low, high = (low, middle) if holds(middle) else (middle, high)
    note = f"{show(high / 2.0, ANGLE, system)} of cam in its gear; overlap and the middle of the range go with it."
    return Way("cam", f"The cam {word}", f"{show(high, ANGLE, system)} of crank", note, True)


def _other_cams(now: Assessment, side: str, cams: Iterable[tuple[str, Cam]], system: System) -> list[Way]:
    """Kept cams that hold in its place, the closest first."""
    rows: list[tuple[float, Way]] = []
    about = checks()["piston.clearance_swept"]
    for name, other in islice(cams, MOST_CAMS):
        # only what the gap rests on is worked, not every check of the head
        tried = now.sides[side].of(set_cam(now.build, side, other))
        found = verdict(tried, about)
        if found is None or found.figure is None or found.level is Level.FAIL:
            continue
        lift = known(lambda t=tried: cam.gross_lift(t))  # type: ignore[misc]
        note = f"leaves {show(found.figure.value, LENGTH, system)}"
        note += f", lifts {show(lift.value, LENGTH, system)}." if lift is not None else "."
        rows.append((found.figure.value, Way(f"cam:{name}", f"The kept cam {name}", "in its place", note, True)))
    return [way for _, way in sorted(rows, key=lambda r: r[0])]


def condition(ctx: Context, system: System) -> str:
    """What the head is released on, where its phaser is limited; empty where it is not."""
    if known(lambda: phaser.used(ctx)) is None or not phaser.limited(ctx):
        return ""
    word, held = "advance" if ctx.intake else "retard", ctx.side.cam.phaser_held.value
    return f"{ctx.side_name} phaser limited to {show(phaser.toward(ctx).value, ANGLE, system)} of {word} by {held}"
