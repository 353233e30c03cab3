"""A mock-up against the design: what each pass of the wheel shows, what it points to, what to move, what it leaves."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from statistics import stdev

from arcstack.assess import cam, placed
from arcstack.assess.assessment import level
from arcstack.assess.context import Context, known
from arcstack.checks import Evidence, Figure, Limit, Verdict
from arcstack.mech import degreeing, timing
from arcstack.mech.degreeing import Flanks, Points, Within
from arcstack.mech.scatter import Known, reading_half
from arcstack.readings.mock_up import MockUp, Pass
from arcstack.settings import setting
from arcstack.units import ANGLE

LIFT_RIGHT_MM = setting("mock_up.lift_right")
TOOTH_RAD = math.radians(setting("mock_up.tooth"))
BACK_MM = setting("mock_up.back")
TURN_SHOWS_RAD = math.radians(setting("mock_up.twist_tells"))
TURN_TELLS_RAD = math.radians(setting("mock_up.advance_tells"))
SLOT_MM = setting("mock_up.slot_radius")
WHEEL_RAD = math.radians(setting("mock_up.wheel_good"))


@dataclass(frozen=True)
class Degreed:
    """One pass with the pointer's error taken out, and by how much the cam stands earlier than the curve says."""

    read: Pass
    flanks: Flanks
    advance_rad: float
    voided: str


@dataclass(frozen=True)
class Timed:
    """A side as it was timed. ``card`` are the curve's own flanks at the check lift, as the engine stood."""

    passes: tuple[Degreed, ...]
    card: Flanks | None
    highest_mm: float | None
    advance_rad: float | None
    points: Points | None
    turn_cam_rad: float
    teeth: int
    verdicts: tuple[Verdict, ...]
    place: str = ""
    """The valve that all of it is true of; others are in ``passes`` and ``twist_rad``."""
    advance_half_rad: float = 0.0
    """Half of the width that wheel, passes and stop leave the advance."""

    @property
    def known(self) -> Known | None:
        """How early the cam stands, for what rests on it; None where the passes point to anything but its turn."""
        if self.advance_rad is None or self.points not in (Points.AS_CARD, Points.GEAR):
            return None
        return Known(self.advance_rad, self.advance_half_rad)

    @property
    def twist_rad(self) -> float | None:
        """How far two valves of the cam lie apart in its timing; None while only one was timed."""
        by_place: dict[str, list[float]] = {}
        for p in self.counted:
            by_place.setdefault(p.read.place, []).append(p.advance_rad)
        means = [_mean(values) for values in by_place.values()]
        return max(means) - min(means) if len(means) > 1 else None

    @property
    def shows_turn(self) -> bool:
        """Whether a turn of the camshaft in its gear is worth drawing."""
        return bool(self.advance_rad) and abs(self.turn_cam_rad) > TURN_SHOWS_RAD

    @property
    def asks_turn(self) -> bool:
        """Whether the camshaft is to be turned in its gear: by a slot, not by a tooth."""
        turns = self.points in (Points.GEAR, Points.AS_CARD) and not self.teeth
        return turns and abs(self.turn_cam_rad) > TURN_TELLS_RAD

    @property
    def is_lash_or_ratio(self) -> bool:
        """Whether the passes point to lash or ratio."""
        return self.points in (Points.LASH, Points.RATIO)

    @property
    def is_off_beside(self) -> bool:
        """Whether the cam stands off its card also with lash or ratio, which the passes point to, taken out."""
        return self.is_lash_or_ratio and abs(self.advance_rad or 0.0) > TURN_TELLS_RAD

    @property
    def leaves_gear(self) -> bool:
        """Whether the passes point to anything that no turn in the gear mends."""
        return self.points not in (None, Points.GEAR, Points.AS_CARD)

    @property
    def is_early(self) -> bool:
        return (self.advance_rad or 0.0) > 0.0

    @property
    def counted(self) -> tuple[Degreed, ...]:
        """Passes whose dial came back to nought."""
        return tuple(p for p in self.passes if not p.voided)


def card_flanks(ctx: Context, check_lift_mm: float, lash_mm: float, phaser_rad: float) -> Flanks:
    """The curve's flanks at a lift of the valve, with the lash and the phaser of the mock-up."""
    found = timing.events(cam.curve(ctx).valve, check_lift_mm + lash_mm, placed.nose_crank_rad(ctx), phaser_rad)
    if ctx.intake:
        return Flanks(-found.opens_rad, found.closes_rad - math.pi)
    return Flanks(found.closes_rad, -found.opens_rad - math.pi, True)


def timed(ctx: Context, mock: MockUp) -> Timed:
    """What the passes of a side come to. Raises ``NotKnown`` while the design has no curve or centreline."""
    rows: list[Degreed] = []
    for p in mock.passes:
        error, stood = mock.error_for.get(p.number), mock.stood_for.get(p.number)
        if error is None or stood is None:
            continue
        flanks = p.flanks(error)
        own = card_flanks(ctx, p.check_lift_mm, stood.lash_mm, stood.phaser_rad)
        back = "" if p.returned_mm <= BACK_MM + 1e-9 else "the dial did not come back to nought: dial or lash moved"
        rows.append(Degreed(p, flanks, degreeing.advance_rad(own.centreline, flanks.centreline), back))
    counted = [r for r in rows if not r.voided]
    tdc = _tdc(ctx, mock)
    if not counted:
        return Timed(tuple(rows), None, None, None, None, 0.0, 0, tdc)
    last = counted[-1].read
    stood = mock.stood_for[last.number]
    lash, phaser = stood.lash_mm, stood.phaser_rad
    # of the valve that was read last: a mean over two valves is true of neither
    same = [
        r for r in counted
        if (r.read.place, r.read.check_lift_mm) == (last.place, last.check_lift_mm)
        and (mock.stood_for[r.read.number].lash_mm, mock.stood_for[r.read.number].phaser_rad) == (lash, phaser)
    ]  # fmt: skip
    own = card_flanks(ctx, last.check_lift_mm, lash, phaser)
    mean = Flanks(_mean([r.flanks.by_tdc for r in same]), _mean([r.flanks.by_bdc for r in same]), own.exhaust)
    heights = [r.read.highest_mm for r in same if r.read.highest_mm is not None]
    peak = cam.gross_lift(ctx).value - lash
    highest = _mean(heights) if heights else None

    def flanks_at(check_mm: float) -> Flanks:
        return card_flanks(ctx, min(check_mm, 0.97 * peak), lash, phaser)

    lifts = None if highest is None else (peak, highest)
    told = degreeing.points_to(own, mean, _within(ctx), lifts, flanks_at, last.check_lift_mm)
    points, advance = told.points, told.advance
    teeth_known = known(lambda: ctx.entry("engine.sprocket_teeth", "z"))
    teeth = degreeing.teeth_off(advance, round(teeth_known.value), TOOTH_RAD) if teeth_known else 0
    kept = mock.kept.advance_rad if mock.kept is not None else 0.0
    half = _advance_half(same)
    verdicts = (*tdc, *_verdicts(ctx, own, mean, same, advance - kept, half))
    turn = degreeing.turn_in_gear_rad(advance)
    return Timed(tuple(rows), own, highest, advance, points, turn, teeth, verdicts, last.place, half)


def along_slot_mm(ctx: Context, found: Timed) -> tuple[float, float]:
    """The radius of the gear's slots, or a usual one, and by how much the camshaft's turn moves along them (mm)."""
    radius = known(lambda: ctx.entry("engine.slot_radius", "R_s"))
    at = radius.value if radius is not None else SLOT_MM
    return at, abs(found.turn_cam_rad) * at


def twisted(ctx: Context, found: Timed) -> bool | None:
    """Whether two valves of a cam lie further apart in its timing than a reading repeats; None while that is open."""
    twist, limit = found.twist_rad, ctx.limit("timing.repeat").high
    return None if twist is None or limit is None else twist > limit


def _advance_half(same: Sequence[Degreed]) -> float:
    """Half of the width of an advance: its passes scatter, and true TDC is read on the same wheel, both ways.

    A centreline lies in the middle of two events, each good to a reading of the wheel; so does TDC.
    """
    middles = [r.flanks.centreline for r in same]
    good, mean = WHEEL_RAD / math.sqrt(2.0), _mean(middles)
    return math.hypot(reading_half([m - mean for m in middles], 1.0, good) / math.sqrt(len(same)), good)


def _mean(values: Sequence[float]) -> float:
    return math.fsum(values) / len(values)


def _within(ctx: Context) -> Within:
    ends = [ctx.limit(f"timing.{key}").high for key in ("duration", "centreline", "flanks")]
    duration, centreline, flanks = (e if e is not None else 0.0 for e in ends)
    return Within(duration, centreline, flanks, LIFT_RIGHT_MM)


def _read(symbol: str, label: str, value: float) -> Figure:
    return Figure(symbol, label, value, ANGLE, Evidence.MEASURED)


def judged(ctx: Context, key: str, title: str, figure: Figure, limit: Limit | None = None) -> Verdict:
    """A figure of the mock-up held to a limit, its own where no other is given."""
    held = limit or ctx.limit(key)
    return Verdict(key, ctx.side_name, title, "mock-up", figure, held, level(figure, held), (), True, figure.note)


def _tdc(ctx: Context, mock: MockUp) -> tuple[Verdict, ...]:
    if not mock.stops:
        return ()
    stop = mock.stops[-1]
    a, b = _read("a", "Stop before TDC", stop.before_rad), _read("b", "Stop after TDC", stop.after_rad)
    apart = Figure.by("Stop both ways", ANGLE, "Δ = |a − b|", a, b)
    return (judged(ctx, "timing.tdc", "True TDC, both ways", apart),)


def _verdicts(
    ctx: Context, own: Flanks, mean: Flanks, same: Sequence[Degreed], off: float, half: float
) -> tuple[Verdict, ...]:
    found: list[Verdict] = []
    if len(same) > 1:
        events = ([r.flanks.by_tdc for r in same], [r.flanks.by_bdc for r in same])
        # what two passes differ by as a rule: a span would grow with every further pass
        differ = max(math.sqrt(2.0) * stdev(values) for values in events)
        reads = [_read(f"e_{n}", f"Pass {n}, {p.read.place}", p.flanks.by_tdc) for n, p in enumerate(same, 1)]
        formula = "r = √2 × standard deviation of one event"
        repeat = Figure.calculated("r", "Same event, pass to pass", differ, ANGLE, formula, *reads)
        found.append(judged(ctx, "timing.repeat", "Repeatability", repeat))
    d_card, d_read = _read("D_c", "Duration by the curve", own.duration), _read("D", "Duration as read", mean.duration)
    d_card = replace(d_card, evidence=cam.curve(ctx).origin.weakest)
    longer = Figure.by("Duration off", ANGLE, "ΔD = |D − D_c|", d_read, d_card)
    found.append(judged(ctx, "timing.duration", "Duration against the curve", longer))
    c_card, c_read = (
        _read("C_c", "Centreline by the card", own.centreline),
        _read("C", "Centreline as read", mean.centreline),
    )
    c_card = replace(c_card, evidence=placed.centreline(ctx).weakest)
    band, formula = (max(0.0, abs(off) - half), abs(off) + half), "ΔC = |C_c − C − advance kept|"
    centre = Figure.calculated("ΔC", "Centreline off", abs(off), ANGLE, formula, c_card, c_read, band=band)
    found.append(judged(ctx, "timing.centreline", "Centreline, as decided", centre))
    first, second = degreeing.shifts_rad(own, mean)
    s_1, s_2 = _read("s_1", "Flank by TDC, earlier by", first), _read("s_2", "Flank by BDC, earlier by", second)
    apart = Figure.calculated("Δs", "Flanks’ shifts apart", abs(first - second), ANGLE, "Δs = |s_1 − s_2|", s_1, s_2)
    found.append(judged(ctx, "timing.flanks", "Both flanks alike", apart))
    return tuple(found)


def told_apart(ctx: Context, own: Timed, other: Timed | None) -> str:
    """Whether what both cams show is one gear's doing or the drive's, in words; empty where nothing is off."""
    limit = ctx.limit("timing.centreline").high
    assert limit is not None
    if own.advance_rad is None or own.points is not Points.GEAR or abs(own.advance_rad) <= limit:
        return ""
    if other is None or other.advance_rad is None:
        return "Time the other cam too: both alike is the chain or a cut head, one alone is its own gear, tooth or key."
    if abs(other.advance_rad) <= limit:
        return "The other cam stands right: it is this one’s gear, tooth or key."
    if abs(own.advance_rad - other.advance_rad) <= limit:
        if own.advance_rad > 0.0:
            return (
                "Both cams are early alike: true TDC again, then the crank’s gear. A chain that stretches and a head "
                "that is cut make them late."
            )
        return (
            "Both cams are late alike: a stretched chain or a cut head, not one gear. Measure the chain, and what was "
            "taken off the head."
        )
    return "Both cams are off, and not alike: each has its own gear to look at first."
