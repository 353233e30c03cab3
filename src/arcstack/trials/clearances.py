"""Valve to piston and valve to valve as they were measured: by dial, by clay, and the model put right by them."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from arcstack.assess import phaser, piston, running, timing
from arcstack.assess.context import Context, known
from arcstack.checks import Evidence, Figure, Level, Verdict
from arcstack.mech import pushed
from arcstack.mech.cam.law import Array
from arcstack.mech.piston import LeastGap, ValveToPiston, along_valve
from arcstack.mech.scatter import Known, off_the_rest
from arcstack.mech.timing import tooth_rad
from arcstack.readings.mock_up import Between, Clay, MockUp, Pushed, Stood
from arcstack.settings import setting
from arcstack.trials.timed import judged
from arcstack.units import ANGLE, LENGTH, show

PUSH_GOOD_MM, GEOMETRY_MM = setting("mock_up.push_good"), setting("mock_up.geometry")
PUSH_APART_MM, CLAY_GOOD_MM = setting("mock_up.push_apart"), setting("mock_up.clay_good")
TELLS_RAD, TIMING_OPEN_RAD = math.radians(setting("mock_up.tells")), math.radians(setting("mock_up.timing_open"))


@dataclass(frozen=True)
class ByClay:
    """An imprint over a valve, how the engine stood for it, and its least gap, gasket and lash put right."""

    read: Clay
    stood: Stood
    gap_mm: float


@dataclass(frozen=True)
class Gaps:
    """What pushes and clay say of one valve, beside the model.

    ``tells`` says in words what is off, or that it cannot be told. ``least`` and ``swept`` are the model's least gap,
    parked and through the phaser's range, put right by the dial; ``half_mm`` is what readings leave it open by;
    ``teeth`` the same a tooth early and a tooth late. ``aside`` counts pushes that were taken as the engine stood
    otherwise, ``clays`` every imprint, each at its own phaser. ``apart`` is a push that lies off all others: nothing
    rests on any until it is read again or taken back.
    """

    place: str
    stood: Stood
    rows: tuple[pushed.Compared, ...]
    pair: ValveToPiston
    fit: pushed.Fit | None
    tells: str
    right: ValveToPiston | None
    least: LeastGap | None
    swept: LeastGap | None
    half_mm: float
    teeth: tuple[float, float] | None
    clays: tuple[ByClay, ...]
    radial_mm: float | None
    edges: tuple[str, ...]
    aside: int
    verdicts: tuple[Verdict, ...]
    apart: pushed.Push | None = None

    @property
    def gasket_mm(self) -> float:
        """What the mock-up's gasket adds to every travel, along the valve."""
        return _gasket_mm(self.stood, self.pair)

    def gap_mm(self, pair: ValveToPiston, crank_rad: Array) -> Array:
        """A model's gap over the crank, its phaser as the engine stood, no lash."""
        return pushed.gap_mm(pair, crank_rad, 0.0, self.stood.phaser_rad)

    @property
    def by_dial(self) -> list[tuple[float, float]]:
        """Crank angle (rad) and gap (mm) of each push: the mock-up's gasket taken out, and its lash where the valve was
        open by then, as both are out of the curves."""
        found = []
        for row in self.rows:
            at = np.array([row.push.crank_rad])
            lash = self.gap_mm(self.pair, at) - pushed.gap_mm(self.pair, at, self.stood.lash_mm, self.stood.phaser_rad)
            found.append((row.push.crank_rad, row.push.travel_mm + float(lash[0]) - self.gasket_mm))
        return found

    @property
    def by_clay(self) -> list[tuple[float, float]]:
        """Where each imprint of this phaser's place was thinnest by the model (crank, rad), and its gap (mm)."""
        at = self.pair.least_gap(self.stood.phaser_rad, self.stood.phaser_rad).crank_rad
        return [(at, c.gap_mm) for c in self.clays if c.stood.phaser_rad == self.stood.phaser_rad]

    @property
    def clay_mm(self) -> float | None:
        """The least by clay; None while none was pressed."""
        return min((c.gap_mm for c in self.clays), default=None)


def gaps(ctx: Context, mock: MockUp, place: str, timing: Known | None = None) -> Gaps | None:
    """What was pushed and pressed at one place against the model; None while nothing was. Raises ``NotKnown``.

    ``timing`` is how early the cam stands by its passes, where it was timed.
    """
    taken = [p for p in mock.pushes if p.place == place and p.number in mock.error_for and p.number in mock.stood_for]
    clays = [c for c in mock.clays if c.place == place and c.number in mock.stood_for]
    if not (taken or clays):
        return None
    stood = mock.stood_for[(taken or clays)[-1].number]
    # lash, gasket and phaser of the last readings: what was read otherwise is no row of the same fit
    pushes = [p for p in taken if _alike(mock.stood_for[p.number], stood)]
    model = piston.pair(ctx)
    # the mock-up's gasket is not the engine's: put right before anything is compared
    as_lies = replace(model, drop_at_tdc_mm=model.drop_at_tdc_mm + _gasket_mm(stood, model))
    made = [_push(mock, p) for p in pushes]
    rows = pushed.compared(as_lies, made, stood.lash_mm, stood.phaser_rad)
    turn = timing or Known(0.0, TIMING_OPEN_RAD)
    far = _apart(as_lies, rows, stood.lash_mm, stood.phaser_rad, turn)
    fit, tells = _fitted(as_lies, made, rows, stood.lash_mm, stood.phaser_rad, turn) if far is None else (None, "")
    if far is not None:
        tells = _read_again(far, len(rows))
    right = pushed.corrected(model, fit) if fit is not None else None
    span = _span(ctx)
    least = right.least_gap() if right is not None else None
    swept = right.least_gap(*span) if right is not None else None
    half = _half(model, fit, swept) if fit is not None and swept is not None else 0.0
    clay = tuple(ByClay(c, mock.stood_for[c.number], _by_clay(c, mock.stood_for[c.number], model)) for c in clays)
    radial = min((c.radial_mm for c in clays if c.radial_mm is not None), default=None)
    edges = tuple(dict.fromkeys(c.edge for c in clays if c.edge))
    teeth = _teeth(ctx, right, span) if right is not None else None
    verdicts = (
        *_measured(ctx, place, fit, swept, half, made, _set_up(stood, made, timing)),
        *((_open(ctx, "piston.clearance_measured", "Piston, measured", tells),) if far is not None else ()),
        *_pressed(ctx, place, clay),
        *_radial(ctx, place, radial),
        *_agreement(ctx, model, right, stood.phaser_rad, clay),
    )
    return Gaps(
        place, stood, tuple(rows), model, fit, tells, right, least, swept, half, teeth, clay, radial, edges,
        len(taken) - len(pushes), verdicts, far.push if far is not None else None,
    )  # fmt: skip


def _gasket_mm(stood: Stood, model: ValveToPiston) -> float:
    return (stood.gasket_used_mm - stood.gasket_crushed_mm) * float(along_valve(model.valve_angle_rad, model.flat))


def _alike(one: Stood, other: Stood) -> bool:
    def how(s: Stood) -> tuple[float, ...]:
        return s.lash_mm, s.gasket_used_mm, s.gasket_crushed_mm, s.phaser_rad

    return how(one) == how(other)


def _push(mock: MockUp, p: Pushed) -> pushed.Push:
    return pushed.Push(p.crank_rad - mock.error_for[p.number], p.travel_mm, p.lift_mm)


def _by_clay(c: Clay, stood: Stood, model: ValveToPiston) -> float:
    gasket = (stood.gasket_used_mm, stood.gasket_crushed_mm)
    lash, lean = stood.lash_mm, model.valve_angle_rad
    return float(pushed.by_clay_mm(c.imprint_mm, *gasket, lean, lash, along_cylinder=c.along_cylinder, flat=model.flat))


def _span(ctx: Context) -> tuple[float, float]:
    """The phaser's range that is used; none where nobody spoke of one."""
    found = known(lambda: phaser.used(ctx))
    return (-found[1].value, found[0].value) if found is not None else (0.0, 0.0)


def _half(model: ValveToPiston, fit: pushed.Fit, swept: LeastGap) -> float:
    """What the readings leave the least gap open by."""
    return fit.gap_half_mm(pushed.sensitivity(model, swept.crank_rad, 0.0, swept.phaser_rad))


def _teeth(ctx: Context, right: ValveToPiston, span: tuple[float, float]) -> tuple[float, float] | None:
    """Least gap through the range with the cam a tooth early and a tooth late; None without the sprocket's teeth."""
    teeth = known(lambda: ctx.entry("engine.sprocket_teeth", "z"))
    if teeth is None:
        return None
    step = tooth_rad(teeth.value)
    early, late = (
        replace(right, centreline_rad=right.centreline_rad + sign * step).least_gap(*span).gap_mm
        for sign in (-1.0, 1.0)
    )
    return early, late


def _apart(
    model: ValveToPiston, rows: Sequence[pushed.Compared], lash: float, phaser: float, timing: Known
) -> pushed.Compared | None:
    """A push that lies off all others, by its lift, by lift and travel together, or by travel alone."""
    slopes = [pushed.sensitivity(model, r.push.crank_rad, lash, phaser) for r in rows]
    whole = [(n, r) for n, r in enumerate(rows) if r.geometry_off_mm is not None and r.lift_off_mm is not None]
    if whole:
        early = [slopes[n] * timing.half for n, _ in whole]
        off = [(r.lift_off_mm or 0.0) + slopes[n] * timing.value for n, r in whole]
        series = [([r.geometry_off_mm or 0.0 for _, r in whole], [0.0] * len(whole)), (off, early)]
    else:
        whole = list(enumerate(rows))
        off = [r.gap_off_mm - s * timing.value for r, s in zip(rows, slopes, strict=True)]
        series = [(off, [s * timing.half for s in slopes])]
    for values, free in series:
        at = off_the_rest(values, PUSH_GOOD_MM, PUSH_APART_MM, free)
        if at is not None:
            return whole[at][1]
    return None


def _read_again(far: pushed.Compared, count: int) -> str:
    """What to do about a push that lies off the others."""
    where = show(far.push.crank_rad, ANGLE)
    if count == 2:
        return f"the two pushes do not go together: read both again, the one at {where} first"
    return f"the push at {where} lies off all others, as a dial read a turn wrong does: read it again or take it back"


def _open(ctx: Context, key: str, title: str, why: str) -> Verdict:
    """A check of a mock-up that nothing can be said of, for a reason."""
    return Verdict(key, ctx.side_name, title, "mock-up", None, None, Level.OPEN, (), True, why)


def _fitted(
    model: ValveToPiston, made: list[pushed.Push], rows: list[pushed.Compared], lash: float, phaser: float,
    timing: Known,
) -> tuple[pushed.Fit | None, str]:  # fmt: skip
    """What fits the pushes, and what that says: with lifts the two are told apart, without them only as far as the
    angles let them."""
    if not made:
        return None, ""
    with_lift = [r for r in rows if r.geometry_off_mm is not None and r.lift_off_mm is not None]
    if not with_lift:
        fit = pushed.fit_pushes(model, made, PUSH_GOOD_MM, lash, phaser, timing)
        return fit, _CANNOT if fit.timing_half_rad > TELLS_RAD else ""
    slopes = [pushed.sensitivity(model, r.push.crank_rad, lash, phaser) for r in with_lift]
    fit = pushed.fit_lifts(with_lift, slopes, PUSH_GOOD_MM, timing)
    if abs(fit.drop_mm) > GEOMETRY_MM:
        return fit, f"the chamber is {'tighter' if fit.drop_mm < 0 else 'roomier'} than the model"
    sure = abs(fit.drop_mm) + fit.drop_half_mm <= 2.0 * GEOMETRY_MM
    return fit, "geometry good" if sure else "too few pushes that agree to call the geometry good"


_CANNOT = "cannot tell a tight chamber from an early cam; read the lift too"


def _read(symbol: str, label: str, value: float) -> Figure:
    return Figure(symbol, label, value, LENGTH, Evidence.MEASURED)


def _said(symbol: str, label: str, value: float, stood: Stood) -> Figure:
    """How the engine stood, as a hand said it: no reading of it was kept."""
    return Figure(symbol, label, value, LENGTH, Evidence.PRINTED, note=f"said by {stood.by.hand}")


def _set_up(stood: Stood, made: Sequence[pushed.Push], timing: Known | None) -> tuple[Figure, ...]:
    """What pushes rest on beside the dial: how the engine stood, and how early the cam does where nothing tells it."""
    found = [_said("s", "Lash as it was set", stood.lash_mm, stood)]
    if stood.gasket_used_mm != stood.gasket_crushed_mm:
        found.append(_said("g_u", "Gasket as it lay", stood.gasket_used_mm, stood))
        found.append(_said("g_c", "Gasket as it is crushed", stood.gasket_crushed_mm, stood))
    if timing is None and all(p.lift_mm is None for p in made):
        note = f"not timed: open by {show(TIMING_OPEN_RAD, ANGLE)}"
        found.append(Figure("φ_c", "How early the cam stands", 0.0, ANGLE, Evidence.ASSUMED, note=note, unsaid=True))
    return tuple(found)


def _measured(
    ctx: Context, place: str, fit: pushed.Fit | None, swept: LeastGap | None, half: float,
    made: Sequence[pushed.Push], set_up: tuple[Figure, ...],
) -> tuple[Verdict, ...]:  # fmt: skip
    """The least gap of the model put right, through the phaser's range; and what is left of it at speed."""
    if fit is None or swept is None:
        return ()
    limit = piston.clearance_limit(ctx, "piston.clearance_swept")
    reads = [_read(f"c_{n}", f"Travel at {show(p.crank_rad, ANGLE)}", p.travel_mm) for n, p in enumerate(made, 1)]
    band = (swept.gap_mm - half, swept.gap_mm + half)
    note = f"At {place}, {show(swept.phaser_rad, ANGLE)} earlier than parked; no lash."
    words = "least gap of the model put right by the readings"
    # between the angles that were pushed, and wherever the phaser stands, it is the design's own curve and crank
    under = [*set_up, *piston.rests(ctx), *(known(lambda: phaser.used(ctx)) or ())]
    figure = Figure.calculated(
        "c_m", "Piston, measured", swept.gap_mm, LENGTH, words, *reads, *under, note=note, band=band
    )
    found = [judged(ctx, "piston.clearance_measured", "Piston, measured", figure, limit)]
    left = known(lambda: running.left_of(ctx, figure))
    if left is not None:
        found.append(judged(ctx, "piston.clearance_running", "Piston, measured, hot at overspeed", left))
    return tuple(found)


def _radial(ctx: Context, place: str, radial: float | None) -> tuple[Verdict, ...]:
    if radial is None:
        return ()
    figure = _read("r_p", f"Room around the valve, {place}", radial)
    return (judged(ctx, "piston.radial", "Pocket, room around", figure),)


def _pressed(ctx: Context, place: str, clays: Sequence[ByClay]) -> tuple[Verdict, ...]:
    """The least gap by clay, held to the limit of where the phaser was held."""
    found = []
    for clay in clays:
        held = clay.stood.phaser_rad
        read = _read("t", "Thinnest of the clay", clay.read.imprint_mm)
        inputs = [read, _said("s", "Lash as it was set", clay.stood.lash_mm, clay.stood)]
        formula = "c_l = t·cos(α)" if clay.read.along_cylinder else "c_l = t"
        if clay.read.along_cylinder or clay.stood.gasket_used_mm != clay.stood.gasket_crushed_mm:
            inputs.append(ctx.entry("clearance.valve_angle", "α"))
        if clay.stood.gasket_used_mm != clay.stood.gasket_crushed_mm:
            inputs += [
                _said("g_u", "Gasket as it lay", clay.stood.gasket_used_mm, clay.stood),
                _said("g_c", "Gasket as it is crushed", clay.stood.gasket_crushed_mm, clay.stood),
                piston.along(ctx, False),
            ]
            formula += f" − (g_u − g_c)·{inputs[-1].symbol}"
        where = "phaser parked" if held == 0.0 else f"phaser held {show(held, ANGLE)} earlier"
        band = (clay.gap_mm - CLAY_GOOD_MM, clay.gap_mm + CLAY_GOOD_MM)
        figure = Figure.calculated(
            "c_l",
            "Piston, by clay",
            clay.gap_mm,
            LENGTH,
            f"{formula} − s",
            *inputs,
            note=f"At {place}, {where}.",
            band=band,
        )
        key = "piston.clearance" if held == 0.0 else "piston.clearance_swept"
        found.append(judged(ctx, "piston.clearance_clay", "Piston, by clay", figure, piston.clearance_limit(ctx, key)))
    return tuple(found)


def _agreement(
    ctx: Context, model: ValveToPiston, right: ValveToPiston | None, dial_rad: float, clays: Sequence[ByClay]
) -> tuple[Verdict, ...]:
    """Dial, clay and model: how far the furthest two lie apart, each at the phaser that it was read at."""
    rows: list[tuple[float, list[tuple[str, float]]]] = []
    states: list[tuple[float, ByClay | None]] = [(c.stood.phaser_rad, c) for c in clays]
    for phaser_rad, clay in states or [(dial_rad, None)]:
        found = [("Model", model.least_gap(phaser_rad, phaser_rad).gap_mm)]
        found += [("Dial", right.least_gap(phaser_rad, phaser_rad).gap_mm)] if right is not None else []
        found += [("Clay", clay.gap_mm)] if clay is not None else []
        rows.append((phaser_rad, found))
    phaser_rad, found = max(rows, key=lambda row: max(v for _, v in row[1]) - min(v for _, v in row[1]))
    if len(found) < 2:
        return ()
    leaves = [_read(f"c_{name[0].lower()}", f"Least gap, {name.lower()}", v) for name, v in found]
    leaves[0] = replace(leaves[0], evidence=piston.parked_gap(ctx).weakest)
    values = [v for _, v in found]
    note = "" if phaser_rad == 0.0 else f"Phaser {show(phaser_rad, ANGLE)} earlier than parked."
    apart = Figure.calculated(
        "Δc", "Least gaps apart", max(values) - min(values), LENGTH, "Δc = most of c − least of c", *leaves, note=note
    )
    return (judged(ctx, "piston.agreement", "Dial, clay and model apart", apart),)


def least_of_side(places: Mapping[str, Context], g: Gaps) -> tuple[str, float] | None:
    """Every place of a side by its own heights, put right by what one of them showed: the worst, and its least gap
    through the phaser's range. None without a push."""
    if g.fit is None:
        return None
    found = []
    for label, ctx in places.items():
        model = known(lambda c=ctx: piston.pair(c))  # type: ignore[misc]
        if model is not None:
            found.append((label, pushed.corrected(model, g.fit).least_gap(*_span(ctx)).gap_mm))
    return min(found, key=lambda row: row[1], default=None)


# -- valve to valve


@dataclass(frozen=True)
class Met:
    """One measured gap between two heads: the model's with both phasers and lashes as they stood, how far the measured
    one lies off it, and the least that leaves with both phasers at their most and no lash."""

    read: Between
    model_mm: float
    least_mm: float
    verdict: Verdict

    @property
    def off_mm(self) -> float:
        return self.read.gap_mm - self.model_mm


def met(intake: Context, mock: MockUp) -> tuple[Met, ...]:
    """Each measured gap between heads against the model. Raises ``NotKnown`` while the model cannot be worked."""
    found = []
    for read in mock.betweens:
        phasers = (read.intake_phaser_rad, read.exhaust_phaser_rad)
        model = timing.valve_gap_at(intake, phasers, (read.intake_lash_mm, read.exhaust_lash_mm)).gap_mm
        least = timing.valve_gap(intake)
        off = read.gap_mm - model
        inputs = (least, _read("v_r", "Gap as read", read.gap_mm), _read("v_0", "The model’s as it stood", model))
        figure = Figure.calculated(
            "v_m", "Valve to valve, measured", least.value + off, LENGTH, "v_m = v_v + v_r − v_0", *inputs,
            note=f"{read.place} and {read.other}; phasers at their most, no lash.",
        )  # fmt: skip
        limit = intake.limit("valve.to_valve")
        verdict = judged(intake, "valve.to_valve_measured", "Valve to valve, measured", figure, limit)
        found.append(Met(read, model, figure.value, verdict))
    return tuple(found)


# -- cams in the head


def cams_in_head(ctx: Context, mock: MockUp, places: int) -> tuple[Verdict, ...]:
    """Runout of each bearing and room of each lobe, the worst of what was read."""
    found = []
    if mock.bearings:
        worst = max(mock.bearings, key=lambda b: b.runout_mm)
        reads = [_read(f"r_{b.bearing}", f"Runout, bearing {b.bearing}", b.runout_mm) for b in mock.bearings]
        words = "r = most of r_i"
        figure = Figure.calculated(
            "r", "Cam runout", worst.runout_mm, LENGTH, words, *reads, note=f"bearing {worst.bearing}"
        )
        found.append(judged(ctx, "cam.runout", "Cam runout", figure))
    if mock.rooms:
        least = min(mock.rooms, key=lambda r: r.room_mm)
        reads = [_read(f"s_{n}", f"Lobe to head, {r.place}", r.room_mm) for n, r in enumerate(mock.rooms, 1)]
        note = f"{least.place}; {len(mock.rooms)} of {places} read"
        figure = Figure.calculated("s", "Lobe to head", least.room_mm, LENGTH, "s = least of s_i", *reads, note=note)
        if len(mock.rooms) < places:
            figure = replace(figure, sample=(len(mock.rooms), places))
        found.append(judged(ctx, "cam.room", "Lobe to head", figure))
    return tuple(found)


# -- what still stands against it


@dataclass(frozen=True)
class Gate:
    """One thing that a mock-up still asks for: by its key, in words, and the verdict where it is one, of a valve."""

    key: str
    words: str
    verdict: Verdict | None = None
    place: str = ""


def against(mock: MockUp, verdicts: Sequence[tuple[str, Verdict]]) -> tuple[Gate, ...]:
    """What stands against a mock-up that was begun: gates that are not closed, and what fails, each with its valve."""
    if not mock.begun:
        return ()
    found = []
    if mock.stop_in:
        found.append(Gate("stop", "the positive stop is in"))
    if mock.closed is None:
        found.append(Gate("closed", "checking springs out, phaser free, gear bolts marked: not said yet"))
    else:
        found += [Gate(f"closed.{n}", words) for n, words in enumerate(mock.closed.wanting)]
    if any(not b.spins for b in mock.bearings):
        found.append(Gate("spins", "the camshaft does not spin by hand"))
    if mock.moved:
        found.append(Gate("moved", "the cam was moved: read timing, clearance and lash again"))
    found += [
        Gate(v.id, f"{v.title}: {v.level.value}", v, place)
        for place, v in verdicts
        if v.level in (Level.FAIL, Level.OPEN)
    ]
    return tuple(found)
