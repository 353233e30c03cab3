"""A mock-up against the design: what each pass of the wheel shows, what it points to, what to move, what it leaves."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from arcstack.assess import cam, piston
from arcstack.assess.assessment import level
from arcstack.assess.context import Context, known
from arcstack.checks import Evidence, Figure, Verdict
from arcstack.mech import degreeing, pushed, timing
from arcstack.mech.degreeing import Flanks, Points, Within
from arcstack.mech.piston import LeastGap, ValveToPiston
from arcstack.readings.mock_up import MockUp, Pass
from arcstack.settings import setting
from arcstack.units import ANGLE, LENGTH

LIFT_RIGHT_MM, PUSH_GOOD_MM = setting("mock_up.lift_right"), setting("mock_up.push_good")
TOOTH_RAD = math.radians(setting("mock_up.tooth"))
TELLS_RAD, BACK_MM = math.radians(setting("mock_up.tells")), setting("mock_up.back")
GEOMETRY_MM = setting("mock_up.geometry")


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

    @property
    def counted(self) -> tuple[Degreed, ...]:
        """Passes whose dial came back to nought."""
        return tuple(p for p in self.passes if not p.voided)


def card_flanks(ctx: Context, check_lift_mm: float, lash_mm: float, phaser_rad: float) -> Flanks:
    """The curve's flanks at a lift of the valve, with the lash and the phaser of the mock-up."""
    found = timing.events(cam.curve(ctx).valve, check_lift_mm + lash_mm, cam.nose_crank_rad(ctx), phaser_rad)
    if ctx.intake:
        return Flanks(-found.opens_rad, found.closes_rad - math.pi)
    return Flanks(found.closes_rad, -found.opens_rad - math.pi, True)


def timed(ctx: Context, mock: MockUp) -> Timed:
    """What the passes of a side come to. Raises ``NotKnown`` while the design has no curve or centreline."""
    error = mock.error_rad
    lash, phaser = (mock.stood.lash_mm, mock.stood.phaser_rad) if mock.stood else (0.0, 0.0)
    rows: list[Degreed] = []
    for p in mock.passes if error is not None else ():
        assert error is not None
        flanks = p.flanks(error)
        own = card_flanks(ctx, p.check_lift_mm, lash, phaser)
        back = "" if p.returned_mm <= BACK_MM + 1e-9 else "the dial did not come back to nought: dial or lash moved"
        rows.append(Degreed(p, flanks, degreeing.advance_rad(own.centreline, flanks.centreline), back))
    counted = [r for r in rows if not r.voided]
    tdc = _tdc(ctx, mock)
    if not counted:
        return Timed(tuple(rows), None, None, None, None, 0.0, 0, tdc)
    last = counted[-1].read
    same = [r for r in counted if r.read.check_lift_mm == last.check_lift_mm]
    own = card_flanks(ctx, last.check_lift_mm, lash, phaser)
    mean = Flanks(_mean([r.flanks.by_tdc for r in same]), _mean([r.flanks.by_bdc for r in same]), own.exhaust)
    advance = degreeing.advance_rad(own.centreline, mean.centreline)
    heights = [r.read.highest_mm for r in same if r.read.highest_mm is not None]
    peak = cam.gross_lift(ctx).value - lash
    highest = _mean(heights) if heights else None

    def flanks_at(check_mm: float) -> Flanks:
        return card_flanks(ctx, min(check_mm, 0.97 * peak), lash, phaser)

    lifts = None if highest is None else (peak, highest)
    points = degreeing.points_to(own, mean, _within(ctx), lifts, flanks_at, last.check_lift_mm)
    teeth_known = known(lambda: ctx.entry("engine.sprocket_teeth", "z"))
    teeth = degreeing.teeth_off(advance, round(teeth_known.value), TOOTH_RAD) if teeth_known else 0
    kept = mock.kept.advance_rad if mock.kept is not None else 0.0
    verdicts = (*tdc, *_verdicts(ctx, own, mean, same, advance - kept))
    return Timed(tuple(rows), own, highest, advance, points, degreeing.turn_in_gear_rad(advance), teeth, verdicts)


def _mean(values: Sequence[float]) -> float:
    return math.fsum(values) / len(values)


def _within(ctx: Context) -> Within:
    ends = [ctx.limit(f"timing.{key}").high for key in ("duration", "centreline", "flanks")]
    duration, centreline, flanks = (e if e is not None else 0.0 for e in ends)
    return Within(duration, centreline, flanks, LIFT_RIGHT_MM)


def _read(symbol: str, label: str, value: float) -> Figure:
    return Figure(symbol, label, value, ANGLE, Evidence.MEASURED)


def _verdict(ctx: Context, key: str, title: str, figure: Figure) -> Verdict:
    limit = ctx.limit(key)
    return Verdict(key, ctx.side_name, title, "mock-up", figure, limit, level(figure, limit), (), True, figure.note)


def _tdc(ctx: Context, mock: MockUp) -> tuple[Verdict, ...]:
    if not mock.stops:
        return ()
    stop = mock.stops[-1]
    a, b = _read("a", "Stop before TDC", stop.before_rad), _read("b", "Stop after TDC", stop.after_rad)
    apart = Figure.calculated("Δ", "Stop both ways", abs(b.value - a.value), ANGLE, "Δ = |a − b|", a, b)
    return (_verdict(ctx, "timing.tdc", "True TDC, both ways", apart),)


def _verdicts(ctx: Context, own: Flanks, mean: Flanks, same: Sequence[Degreed], off: float) -> tuple[Verdict, ...]:
    found: list[Verdict] = []
    if len(same) > 1:
        spans = [
            max(values) - min(values) for values in ([r.flanks.by_tdc for r in same], [r.flanks.by_bdc for r in same])
        ]
        reads = [_read(f"e_{n}", f"Pass {n}, {p.read.place}", p.flanks.by_tdc) for n, p in enumerate(same, 1)]
        formula = "r = most of one event − least of it"
        repeat = Figure.calculated("r", "Same event, pass to pass", max(spans), ANGLE, formula, *reads)
        found.append(_verdict(ctx, "timing.repeat", "Repeatability", repeat))
    d_card, d_read = _read("D_c", "Duration by the curve", own.duration), _read("D", "Duration as read", mean.duration)
    longer = Figure.calculated(
        "ΔD", "Duration off", abs(d_read.value - d_card.value), ANGLE, "ΔD = |D − D_c|", d_read, d_card
    )
    found.append(_verdict(ctx, "timing.duration", "Duration against the curve", longer))
    c_card, c_read = (
        _read("C_c", "Centreline by the card", own.centreline),
        _read("C", "Centreline as read", mean.centreline),
    )
    centre = Figure.calculated("ΔC", "Centreline off", abs(off), ANGLE, "ΔC = |C_c − C − advance kept|", c_card, c_read)
    found.append(_verdict(ctx, "timing.centreline", "Centreline, as decided", centre))
    first, second = degreeing.shifts_rad(own, mean)
    s_1, s_2 = _read("s_1", "Flank by TDC, earlier by", first), _read("s_2", "Flank by BDC, earlier by", second)
    apart = Figure.calculated("Δs", "Flanks’ shifts apart", abs(first - second), ANGLE, "Δs = |s_1 − s_2|", s_1, s_2)
    found.append(_verdict(ctx, "timing.flanks", "Both flanks alike", apart))
    return tuple(found)


@dataclass(frozen=True)
class Gaps:
    """What pushes and clay say of one valve, beside the model. ``tells`` says in words what is off, or that it cannot
    be told; ``least`` is the model's least gap, parked, put right by what was measured."""

    rows: tuple[pushed.Compared, ...]
    pair: ValveToPiston
    fit: pushed.Fit | None
    tells: str
    least: LeastGap | None
    swept: LeastGap | None
    clay_mm: float | None
    agreement: Verdict | None


def gaps(ctx: Context, mock: MockUp, place: str) -> Gaps | None:
    """What was pushed and pressed at one place against the model; None while nothing was. Raises ``NotKnown``."""
    error = mock.error_rad
    pushes = [p for p in mock.pushes if p.place == place]
    clays = [c for c in mock.clays if c.place == place]
    if error is None or mock.stood is None or not (pushes or clays):
        return None
    stood, model = mock.stood, piston.pair(ctx)
    lean = math.cos(model.valve_angle_rad)
    # the mock-up's gasket is not the engine's: put right before anything is compared
    off = (stood.gasket_used_mm - stood.gasket_crushed_mm) * lean
    as_lies = replace(model, drop_at_tdc_mm=model.drop_at_tdc_mm + off)
    made = [pushed.Push(p.crank_rad - error, p.travel_mm, p.lift_mm) for p in pushes]
    rows = pushed.compared(as_lies, made, stood.lash_mm, stood.phaser_rad)
    fit, tells = _fitted(as_lies, made, rows, stood.lash_mm, stood.phaser_rad)
    right = pushed.corrected(model, fit) if fit is not None else None
    least = right.least_gap() if right is not None else None
    swept = right.least_gap(*_phaser_range(ctx)) if right is not None else None
    gasket, lash = (stood.gasket_used_mm, stood.gasket_crushed_mm), stood.lash_mm
    by_clay = [
        float(pushed.by_clay_mm(c.imprint_mm, *gasket, model.valve_angle_rad, lash, along_cylinder=c.along_cylinder))
        for c in clays
    ]
    clay = min(by_clay, default=None)
    return Gaps(
        tuple(rows), model, fit, tells, least, swept, clay, _agreement(ctx, model, least, clay, stood.phaser_rad)
    )


def _phaser_range(ctx: Context) -> tuple[float, float]:
    advance, retard = (known(lambda p=p: ctx.optional(p, "φ")) for p in ("cam.phaser_advance", "cam.phaser_retard"))  # type: ignore[misc]
    return -(retard.value if retard else 0.0), advance.value if advance else 0.0


def _fitted(
    model: ValveToPiston, made: list[pushed.Push], rows: list[pushed.Compared], lash: float, phaser: float
) -> tuple[pushed.Fit | None, str]:
    """What fits the pushes, and what that says: with lifts the two are told apart, without them only as far as the
    angles let them."""
    if not made:
        return None, ""
    with_lift = [r for r in rows if r.geometry_off_mm is not None and r.lift_off_mm is not None]
    if with_lift:
        drop = _mean([r.geometry_off_mm or 0.0 for r in with_lift])
        slopes = [pushed.sensitivity(model, r.push.crank_rad, lash, phaser) for r in with_lift]
        square = math.fsum(s * s for s in slopes)
        turn = -math.fsum((r.lift_off_mm or 0.0) * s for r, s in zip(with_lift, slopes, strict=True))
        early = turn / square if square > 0.0 else 0.0
        fit = pushed.Fit(
            drop,
            early,
            PUSH_GOOD_MM / math.sqrt(len(with_lift)),
            PUSH_GOOD_MM / math.sqrt(square) if square else math.inf,
        )
        says = (
            "geometry good"
            if abs(drop) <= GEOMETRY_MM
            else f"the chamber is {'tighter' if drop < 0 else 'roomier'} than the model"
        )
        return fit, says
    try:
        fit = pushed.fit_pushes(model, made, PUSH_GOOD_MM, lash, phaser)
    except ValueError:
        drop = pushed.drop_that_fits_mm(model, made, lash, phaser) - model.drop_at_tdc_mm
        return pushed.Fit(drop, 0.0, PUSH_GOOD_MM, math.inf), _CANNOT
    return fit, _CANNOT if fit.timing_half_rad > TELLS_RAD else ""


_CANNOT = "cannot tell a tight chamber from an early cam; read the lift too"


def _agreement(
    ctx: Context, model: ValveToPiston, least: LeastGap | None, clay: float | None, phaser: float
) -> Verdict | None:
    """Dial, clay and model as marks on one curve: how far the furthest two lie apart, as they were measured."""
    found = [("Model", model.least_gap(phaser, phaser).gap_mm)]
    found += [("Dial", least.gap_mm)] if least is not None else []
    found += [("Clay", clay)] if clay is not None else []
    if len(found) < 2:
        return None
    leaves = [
        Figure(f"c_{name[0].lower()}", f"Least gap, {name.lower()}", v, LENGTH, Evidence.MEASURED) for name, v in found
    ]
    values = [v for _, v in found]
    apart = Figure.calculated(
        "Δc", "Least gaps apart", max(values) - min(values), LENGTH, "Δc = most of c − least of c", *leaves
    )
    return _verdict(ctx, "piston.agreement", "Dial, clay and model", apart)
