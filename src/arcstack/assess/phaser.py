"""How far the phaser of a side goes from parked, and what it is limited to."""

from arcstack.assess.context import Context, figure, length
from arcstack.checks import Figure
from arcstack.document import Entry, get
from arcstack.document.parts import HeldBy
from arcstack.errors import MissingInput
from arcstack.units import ANGLE

IS_THERE_A_PHASER = "Is there a phaser? Type its range or none"
WAYS = ("cam.phaser_advance", "cam.phaser_retard")


def toward_piston(ctx: Context) -> str:
    """The way that brings the valve to the piston near gas-exchange TDC: an intake's earlier, an exhaust's later."""
    return WAYS[0] if ctx.intake else WAYS[1]


@figure
def used(ctx: Context) -> tuple[Figure, Figure]:
    """How far it goes earlier and later from parked, a limit to it counted.

    Raises ``MissingInput`` naming each way that nobody spoke of.
    """
    unsaid = [p for p in WAYS if not ctx.given(p)]
    if unsaid:
        raise MissingInput(*(ctx.missing(p) for p in unsaid), why=IS_THERE_A_PHASER)
    earlier, later = (_limited(ctx, path, symbol) for path, symbol in zip(WAYS, ("φ₊", "φ₋"), strict=True))
    return earlier, later


def toward(ctx: Context) -> Figure:
    """How far it goes toward the piston, a limit to it counted."""
    return used(ctx)[0 if ctx.intake else 1]


def toward_if_said(ctx: Context) -> Figure:
    """The same, where nothing is known of the other way. Raises ``MissingInput`` while it is not said."""
    path = toward_piston(ctx)
    ctx.stated(path, "φ", IS_THERE_A_PHASER)
    return _limited(ctx, path, "φ₊" if ctx.intake else "φ₋")


def limited(ctx: Context) -> bool:
    """Whether it is kept from its whole range: a limit counts once it is said what keeps it."""
    if not _asked(ctx) or ctx.side.cam.phaser_held is HeldBy.NOT_SAID:
        return False
    return ctx.entry("cam.phaser_limit", "φ_l").value < ctx.entry(toward_piston(ctx), "φ_m").value


def unheld(ctx: Context) -> bool:
    """Whether a limit is given of which nobody said what keeps it."""
    return _asked(ctx) and ctx.side.cam.phaser_held is HeldBy.NOT_SAID


def _asked(ctx: Context) -> bool:
    return isinstance(get(ctx.document, ctx.path("cam.phaser_limit")), Entry)


def _limited(ctx: Context, path: str, symbol: str) -> Figure:
    if path != toward_piston(ctx) or not limited(ctx):
        return ctx.entry(path, symbol)
    reach, limit = ctx.entry(path, "φ_m"), ctx.entry("cam.phaser_limit", "φ_l")
    note = f"Limited by {ctx.side.cam.phaser_held.value}: a condition of release."
    label = f"{reach.label}, limited"
    return length(symbol, label, limit.value, f"{symbol} = min(φ_m, φ_l)", reach, limit, note=note, of=ANGLE)
