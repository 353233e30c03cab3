"""Lash of a side brought to its target: fitted shims that change places first, then new ones; what closes is held."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date

from arcstack.assess import cam, spring
from arcstack.assess.assessment import level as level_of
from arcstack.assess.built import today
from arcstack.assess.context import Context, known
from arcstack.checks import Evidence, Figure, Level, Verdict
from arcstack.checks.verdict import HAIR
from arcstack.document.parts import Adjuster
from arcstack.document.places import Place
from arcstack.evidence.passing import Stands, holds
from arcstack.mech import lash
from arcstack.mech.lash import sequence
from arcstack.readings import Sheet
from arcstack.readings.lash_history import History
from arcstack.readings.returning import findings
from arcstack.settings import setting
from arcstack.units import LENGTH

OPENS_MM = setting("lash.opens")
COLD_C, WITHIN_C = setting("lash.cold"), setting("lash.cold_within")
COLD_WORDS = f"{COLD_C:.0f} ± {WITHIN_C:.0f} °C"
TREND = "lash.trend"
"""Under which name a closing valve is let pass."""

__all__ = [
    "COLD_WORDS", "TREND", "Aim", "Line", "Plan", "Rise", "aim_of", "is_cold", "judged", "plan", "rise", "seat_read",
    "sequence",
]  # fmt: skip


def seat_read(sheet: Sheet, place: str) -> bool:
    """Whether anything that tells a sinking valve was read at a place since its lash was last found there."""
    found = [r.number for r in sheet.readings if r.key == "lash" and r.place == place and not r.void]
    last = sheet.at(place, "lash")
    since = last[0].number if last else max(found, default=0)
    keys = ("vacuum", "vacuum_later", "tip_height", "open_height", "seat_width", "installed_height")
    return any(r.number > since for key in keys for r in sheet.at(place, key))


def is_cold(temperature_C: float) -> bool:
    """Whether an engine is cold enough for its lash to be read."""
    return abs(temperature_C - COLD_C) <= WITHIN_C


@dataclass(frozen=True)
class Line:
    """One valve: what is fitted and read, the shim that is needed and the one that goes in, and the lash it then has.

    ``source`` says where the new one comes from; ``why`` why none goes in; ``read_mm`` is None while it is unread.
    Of a screw ``turns`` are what it is turned by, positive to more lash; ``beyond_mm`` is how far what is needed lies
    beyond every size.
    """

    place: Place
    fitted_mm: float | None
    read_mm: float | None
    needed_mm: float | None
    put_mm: float | None
    source: str
    after_mm: float | None
    in_band: bool
    why: str
    level: Level
    turns: float | None = None
    beyond_mm: float | None = None


@dataclass(frozen=True)
class Plan:
    """A side's lash: a line for every valve, how many shims are bought, and the history of each valve."""

    lines: tuple[Line, ...]
    histories: tuple[History, ...]
    target_mm: float
    band_mm: float
    verdicts: tuple[Verdict, ...] = ()
    screws: bool = False

    @property
    def bought(self) -> int:
        return sum(line.source == "new" for line in self.lines)

    @property
    def moves(self) -> tuple[Line, ...]:
        """Lines in which something is taken out and put in, in the order of the head."""
        return tuple(line for line in self.lines if line.source not in ("", "stays"))


def judged(ctx: Context, found: History) -> tuple[Level, str]:
    """How a valve's history stands by a practice, and what to do about it in words."""
    trend, limit = found.trend, ctx.limit("lash.trend")
    assert limit.high is not None
    fails, closes = limit.high, limit.high - limit.tight
    if found.cause is not None:
        return Level.CLEAR, f"cause found: {found.cause.cause}"
    if found.beds or not trend.steps_mm:
        return Level.CLEAR, "first service: seats bed, no trend yet" if found.beds and len(found.stages) > 1 else ""
    total = trend.total_mm
    closed = f"closed {total:.2f} mm in {len(trend.steps_mm)} services"
    if total >= fails - 1e-9 or (total >= closes - 1e-9 and trend.grows):
        return Level.FAIL, f"{closed}: find the cause; nothing is signed before"
    if (trend.running >= 2 or trend.steady) and total >= closes - 1e-9:
        return Level.TIGHT, f"{closed}: find the cause before any shim"
    if trend.steps_mm[-1] <= -OPENS_MM:
        return Level.TIGHT, f"opened {-trend.steps_mm[-1]:.2f} mm: look at lobe, bucket and tip"
    return Level.CLEAR, ""


def trend_stands(ctx: Context, found: History) -> Stands:
    """What lash closed in all, against the practice's limit."""
    total = found.trend.total_mm
    return Stands(total, total, None, ctx.limit("lash.trend").high)


def trend_passed(ctx: Context, sheet: Sheet, place: Place, on: date) -> bool:
    """Whether a name lets a closing valve have its shim: for what it has closed so far, and no more."""
    history = sheet.lash_of(place)
    level, _ = judged(ctx, history)
    own = (w for w in sheet.waivers if w.check == TREND and w.place == place.label)
    return any(holds(w, level.value, trend_stands(ctx, history), on) for w in own)


@dataclass(frozen=True)
class Aim:
    """What lash is brought to, mm where the blade goes, in what band, by what sizes; ``ratio`` from blade to shim."""

    target_mm: float
    band_mm: float
    sizes_mm: tuple[float, ...]
    ratio: float
    on_hand: Mapping[float, int]
    """How many of each size lie on the shelf."""

    def after(self, fitted_mm: float, read_mm: float, shim_mm: float) -> tuple[float, bool]:
        """Lash with another shim, and whether it lies in the band."""
        found = float(lash.lash_with_mm(fitted_mm, read_mm, shim_mm, self.ratio))
        return found, abs(found - self.target_mm) <= self.band_mm + 1e-9


def aim_of(design: Context, on_hand: Mapping[float, int], *, at_lobe: bool = False) -> Aim:
    """The design's lash as a target; ``at_lobe`` is a blade at the lobe of a finger or rocker whose shim or cap lies at
    its tip.

    ``on_hand`` is how many there are of each size that is made, nought of one to be bought. Raises ``NotKnown`` without
    a target.
    """
    target, ratio = design.entry("cam.lash", "t").value, cam.ratio(design).value if at_lobe else 1.0
    band = design.limit("lash.band").high
    assert band is not None
    return Aim(target / ratio, band, tuple(sorted(on_hand)), ratio, dict(on_hand))


def plan(design: Context, sheet: Sheet, aim: Aim) -> Plan:
    """Lash as read, and the fewest new shims that bring every valve into its band."""
    own = [p for p in sheet.places if p.side == design.side_name]
    histories = tuple(sheet.lash_of(p) for p in own)
    read: dict[int, tuple[float, float, float]] = {}
    for n, place in enumerate(own):
        shim, gap = sheet.settled(place, "lash_shim"), sheet.settled(place, "lash")
        if shim is not None and gap is not None and not gap.stale:
            needed = float(lash.needed_mm(shim.value, gap.value, aim.target_mm, aim.ratio))
            read[n] = shim.value, gap.value, needed
    passed = {p.label for p in sheet.places if p.side == design.side_name and trend_passed(design, sheet, p, today())}
    free = [
        n for n in read
        if own[n].label in passed or not (_closes(design, histories[n]) or found_closing(sheet, own[n]))
    ]  # fmt: skip
    if _screws(design):
        lines = [_turned(design, sheet, place, histories[n], read.get(n), aim) for n, place in enumerate(own)]
        return Plan(tuple(lines), histories, aim.target_mm, aim.band_mm, _verdicts(design, histories, lines), True)
    # no more of one size than there are valves to take one
    shelf = [size for size, count in aim.on_hand.items() for _ in range(min(count, len(free)))]
    swap = lash.swapped([read[n][0] for n in free], [read[n][2] for n in free], aim.band_mm * aim.ratio, shelf)
    comes_from = {n: None if at is None else free[at] for n, at in zip(free, swap.from_place, strict=True)}
    off_shelf = {n: shelf[at] for n, at in zip(free, swap.from_shelf, strict=True) if at is not None}
    lines, left = [], dict(aim.on_hand)
    for size in off_shelf.values():
        left[size] -= 1
    for n, place in enumerate(own):
        level, words = judged(design, histories[n])
        if n not in read:
            lines.append(_unread(sheet, place, level))
            continue
        fitted, gap_mm, needed = read[n]
        base = Line(place, fitted, gap_mm, needed, None, "", None, False, words, level)
        if n not in free:
            lines.append(replace(base, after_mm=gap_mm, in_band=abs(gap_mm - aim.target_mm) <= aim.band_mm + 1e-9))
            continue
        origin = comes_from[n]
        if origin is None:
            lines.append(_put(design, base, aim, off_shelf.get(n), left))
            continue
        after, inside = aim.after(fitted, gap_mm, read[origin][0])
        source = "stays" if origin == n else f"from {own[origin].label}"
        lines.append(replace(base, put_mm=read[origin][0], source=source, after_mm=after, in_band=inside))
    return Plan(tuple(lines), histories, aim.target_mm, aim.band_mm, _verdicts(design, histories, lines))


def _unread(sheet: Sheet, place: Place, level: Level) -> Line:
    shim, gap = sheet.settled(place, "lash_shim"), sheet.settled(place, "lash")
    why = f"read again: {gap.stale}" if gap is not None and gap.stale else "lash and shim are to be read"
    fitted, read = (x.value if x is not None else None for x in (shim, gap))
    return Line(place, fitted, read, None, None, "", None, False, why, level)


def _screws(design: Context) -> bool:
    return not design.bucket and design.lever.adjuster is Adjuster.SCREW


def _turned(
    design: Context, sheet: Sheet, place: Place, found: History, read: tuple[float, float, float] | None, aim: Aim
) -> Line:
    """A valve whose lash a screw sets: by how much it is turned. Raises ``NotKnown`` without its pitch."""
    level, words = judged(design, found)
    gap = sheet.settled(place, "lash")
    if gap is None or gap.stale:
        return _unread(sheet, place, level)
    pitch, moves = design.entry("follower.screw_pitch", "p").value, 1.0
    if (arm := known(lambda: design.entry("follower.screw_moves", "i"))) is not None:
        moves = arm.value
    off = gap.value - aim.target_mm
    line = Line(place, None, gap.value, None, None, "", gap.value, abs(off) <= aim.band_mm + 1e-9, words, level)
    if _closes(design, found) or line.in_band:
        return line
    # less lash is the screw turned in, which is negative
    return replace(line, turns=float(lash.screw_turns(-off, pitch, moves)), after_mm=aim.target_mm, in_band=True)


def _beyond(needed_mm: float, sizes_mm: Sequence[float]) -> float:
    """How far a shim that is needed lies beyond every size; nought within them."""
    return max(sizes_mm[0] - needed_mm, needed_mm - sizes_mm[-1], 0.0)


def _put(design: Context, base: Line, aim: Aim, shelf_mm: float | None, left: dict[float, int]) -> Line:
    """The shim from the shelf that is meant for this valve, else the nearest that is made: to be bought, unless one of
    it is left."""
    assert base.needed_mm is not None
    assert base.fitted_mm is not None
    assert base.read_mm is not None
    if not aim.sizes_mm:
        return replace(base, why="no lash shim on the shelf to choose from")
    beyond, limit = _beyond(base.needed_mm, aim.sizes_mm), design.limit("lash.size_range")
    assert limit.high is not None
    if beyond > limit.high + 1e-9:
        why = f"{base.needed_mm:.2f} mm lies beyond every size: tip, seat or bucket is out"
        return replace(base, why=why, level=Level.FAIL, beyond_mm=beyond)
    fitted, read = base.fitted_mm, base.read_mm
    size = lash.nearest(base.needed_mm, aim.sizes_mm) if shelf_mm is None else shelf_mm
    here = shelf_mm is not None or left.get(size, 0) > 0
    if here and shelf_mm is None:
        left[size] -= 1
    after, inside = aim.after(fitted, read, size)
    source = "from the shelf" if here else "new"
    return replace(base, put_mm=size, source=source, after_mm=after, in_band=inside, beyond_mm=beyond)


def _verdicts(design: Context, histories: Sequence[History], lines: Sequence[Line]) -> tuple[Verdict, ...]:
    """The worst trend of a side, and what lies furthest beyond the sizes made."""
    found = []
    told = [h for h in histories if h.trend.steps_mm and not h.beds]
    if told:
        worst = max(told, key=lambda h: (judged(design, h)[0].severity, h.trend.total_mm))
        steps = [
            Figure(f"s_{n}", f"Closed, service {n}", step, LENGTH, Evidence.MEASURED)
            for n, step in enumerate(worst.trend.steps_mm, 1)
        ]
        total = worst.trend.total_mm
        note = f"{worst.place.label}. {judged(design, worst)[1]}".strip()
        figure = Figure.calculated("s", "Lash closed in all", total, LENGTH, "s = Σs_i", *steps, note=note)
        level, limit = judged(design, worst)[0], design.limit("lash.trend")
        found.append(
            Verdict("lash.trend", design.side_name, "Lash, closing", "bench", figure, limit, level, (), True, note)
        )
    asked = [line for line in lines if line.beyond_mm is not None]
    if asked:
        worst_line = max(asked, key=lambda line: line.beyond_mm or 0.0)
        assert worst_line.needed_mm is not None
        needed = Figure(
            "t_n", f"Shim needed, {worst_line.place.label}", worst_line.needed_mm, LENGTH, Evidence.MEASURED
        )
        words = "by how far t_n lies beyond every size"
        figure = Figure.calculated("b", "Beyond the sizes made", worst_line.beyond_mm or 0.0, LENGTH, words, needed)
        limit = design.limit("lash.size_range")
        found.append(
            Verdict(
                "lash.size_range", design.side_name, "Shims within the sizes made", "bench", figure, limit,
                level_of(figure, limit), (), True, worst_line.place.label,
            )
        )  # fmt: skip
    return tuple(found)


def found_closing(sheet: Sheet, place: Place) -> bool:
    """Whether a hand found at a teardown that lash closes there: its shim is held as by the trend of readings."""
    own = [f for f in findings(sheet.events) if f.sign == "lash_closing" and not f.absent]
    return any(not f.places or place.label in f.places for f in own)


def _closes(ctx: Context, found: History) -> bool:
    """Whether no shim is given to a valve, since it closes and nobody said why."""
    level, _ = judged(ctx, found)
    return level in (Level.TIGHT, Level.FAIL) and found.trend.total_mm > 0.0


@dataclass(frozen=True)
class Rise:
    """What closing means: the stem stands so much higher, and the spring with it carries so much less."""

    mm: float
    lost_N: float | None

    @property
    def is_up(self) -> bool:
        return self.mm > HAIR


def rise(design: Context, found: History, ratio: float = 1.0) -> Rise:
    """The stem's rise over the services that count, and the load that it costs."""
    rate, total = known(lambda: spring.pack_rate(design)), found.trend.total_mm * ratio
    return Rise(total, rate.value * total if rate is not None else None)
