"""What a reading at a place means for the head: against its target, in load, against its other face."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from arcstack.assess.bench import band
from arcstack.assess.context import Context, known
from arcstack.assess.spring import seat_load
from arcstack.assess.stack import installed_height
from arcstack.document.entry import Entry
from arcstack.document.places import Place
from arcstack.mech.shims import ShimStack
from arcstack.settings import setting
from arcstack.trials.matching import Prefer, Seat, Shelf, shims_for

LOAD_TELLS_N, HEIGHT_TELLS_MM = setting("meaning.load"), setting("meaning.height")
ANGLE_TELLS_RAD = setting("meaning.angle")

HEIGHTS = ("open_height", "installed_height", "shims")
"""Figures of the bench that move a spring's installed height."""


@dataclass(frozen=True)
class HeightMeans:
    """Where a spring stands at a place and its target, mm; by how much its seat load lies off the design's, N, None
    where that tells nothing; the shims that would bring it to the target, and where it would stand then."""

    height_mm: float
    target_mm: float
    load_off_N: float | None
    shims: ShimStack | None
    would_be_mm: float


def height_means(ctx: Context, design: Context, place: Place, sizes_mm: Sequence[float]) -> HeightMeans | None:
    """What the height at a place means, with the shims of a shelf; None while height or target is not known."""
    height, target = known(lambda: installed_height(ctx)), known(lambda: ctx.entry("stack.target_height", "t"))
    if height is None or target is None:
        return None
    load, was = known(lambda: seat_load(ctx).value), known(lambda: seat_load(design).value)
    off = load - was if load is not None and was is not None else 0.0
    shims, would_be = None, height.value
    if abs(height.value - target.value) > HEIGHT_TELLS_MM and sizes_mm:
        under = sum(s.value for s in ctx.side.stack.shims if isinstance(s, Entry))
        seat = Seat(place, height.value + under, 0.0, under)
        shims = shims_for(seat, Shelf(tuple(sizes_mm), target.value, 0.0), Prefer.NEAREST)
        would_be = seat.height(shims.total_mm)
    return HeightMeans(height.value, target.value, off if abs(off) > LOAD_TELLS_N else None, shims, would_be)


class Lies(StrEnum):
    """How a seat's angle lies against its face's."""

    SAME = "as its face"
    STEEPER = "steeper than the face"
    FLATTER = "flatter than the face"


def seat_against_face(ctx: Context, seat_rad: float) -> tuple[Lies, float] | None:
    """How a seat's angle lies against the face's, and by how much, rad; None while the face's is not known."""
    face = known(lambda: ctx.entry("stack.valve.face_angle", "α_f"))
    if face is None:
        return None
    apart = seat_rad - face.value
    if abs(apart) <= ANGLE_TELLS_RAD:
        return Lies.SAME, 0.0
    return (Lies.STEEPER if apart > 0.0 else Lies.FLATTER), abs(apart)


def band_means(ctx: Context) -> str:
    """What the contact band's readings round the seat say; empty while they are not all there."""
    even = known(lambda: band(ctx))
    return even.note if even is not None else ""
