"""The events of a cam on any basis, as a table."""

from collections.abc import Callable
from dataclasses import dataclass

from arcstack.assess import cam, placed, timing
from arcstack.assess.context import Context, known
from arcstack.assess.timing import Events
from arcstack.units import ANGLE, LENGTH, System, show

CHECK_LIFTS = (0.1, 0.1524, 0.5, 1.0, 1.27, 2.0)
"""0.1 to 2 mm, with 0.006 and 0.050 in among them."""


AT_LOBE = "at the lobe"


@dataclass(frozen=True)
class EventRow:
    """One check lift: opening and closing as builders say them, duration, middle."""

    lift: str
    opens: str
    closes: str
    duration: str
    middle: str
    overlap: str


@dataclass(frozen=True)
class EventTable:
    basis: str
    rows: list[EventRow]


def tables(ctx: Context, advance_rad: float, system: System) -> list[EventTable]:
    """Events at the lobe, and at the valve with cold and with hot lash, the phaser at ``advance_rad``."""
    lash_cold = known(lambda: cam.lash(ctx))
    if lash_cold is None or not placed.has_curve(ctx):
        return []
    cold = lash_cold.value
    bases = [(AT_LOBE, 0.0), (f"at the valve, lash {show(cold, LENGTH, system)}", cold)]
    hot = ctx.side.cam.lash_hot
    if hot is not None:
        bases.append((f"at the valve, hot, lash {show(hot.value, LENGTH, system)}", hot.value))
    across = _across(ctx)
    found = []
    for basis, lash in bases:
        rows = []
        for lift in CHECK_LIFTS:
            at = cam.at_valve_mm(ctx, lift) if basis == AT_LOBE else lift + lash
            if cam.reaches(ctx, at):
                events = timing.events(ctx, at, advance_rad)
                other = across(lift, basis) if across else None
                rows.append(_row(ctx, lift, events, other, system))
        found.append(EventTable(basis, rows))
    return found


def _across(ctx: Context) -> Callable[[float, str], Events | None] | None:
    """The other side's events at the same lift on the same kind of basis, its phaser parked; None without its curve."""
    other = ctx.other
    lash_cold = known(lambda: cam.lash(other))
    if lash_cold is None or not placed.has_curve(other):
        return None
    cold = lash_cold.value
    hot = other.side.cam.lash_hot

    def events(lift: float, basis: str) -> Events | None:
        lash = hot.value if hot is not None and "hot" in basis else cold
        at = cam.at_valve_mm(other, lift) if basis == AT_LOBE else lift + lash
        if not cam.reaches(other, at):
            return None
        return timing.events(other, at)

    return events


def _row(ctx: Context, lift: float, e: Events, other: Events | None, system: System) -> EventRow:
    before, after = timing.from_centres(ctx, e)
    opens_by, closes_by = ("TDC", "BDC") if ctx.intake else ("BDC", "TDC")
    opens, closes = _said(-before, opens_by), _said(after, closes_by)
    return EventRow(
        str(show(lift, LENGTH, system)),
        opens,
        closes,
        str(show(e.duration_rad, ANGLE)),
        str(show(abs(e.centreline_rad), ANGLE)),
        "–" if other is None else str(show(timing.overlap_rad(*((e, other) if ctx.intake else (other, e))), ANGLE)),
    )


def _said(angle: float, centre: str) -> str:
    return f"{show(abs(angle), ANGLE)} {'A' if angle >= 0 else 'B'}{centre}"
