"""Lash of a side brought to its target: fitted shims that change places first, then new ones; what closes is held."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from arcstack.assess import cam, spring
from arcstack.assess.context import Context, known
from arcstack.checks import Level
from arcstack.document.places import Place
from arcstack.mech import lash
from arcstack.readings import Sheet
from arcstack.readings.lash_history import History, history
from arcstack.settings import setting

BEYOND_MM, CLOSES_MM, FAILS_MM = setting("lash.beyond"), setting("lash.closes"), setting("lash.fails")
OPENS_MM, BAND_MM = setting("lash.opens"), setting("lash.band")


@dataclass(frozen=True)
class Line:
    """One valve: what is fitted and read, the shim that is needed and the one that goes in, and the lash it then has.

    ``source`` says where the new one comes from; ``why`` why none goes in; ``read_mm`` is None while it is unread.
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


@dataclass(frozen=True)
class Plan:
    """A side's lash: a line for every valve, how many shims are bought, and the history of each valve."""

    lines: tuple[Line, ...]
    histories: tuple[History, ...]
    target_mm: float
    band_mm: float

    @property
    def bought(self) -> int:
        return sum(line.source == "new" for line in self.lines)

    @property
    def moves(self) -> tuple[Line, ...]:
        """Lines in which something is taken out and put in, in the order of the head."""
        return tuple(line for line in self.lines if line.source not in ("", "stays"))


def judged(found: History) -> tuple[Level, str]:
    """How a valve's history stands, and what to do about it in words."""
    trend = found.trend
    if found.cause is not None:
        return Level.CLEAR, f"cause found: {found.cause.cause}"
    if found.beds or not trend.steps_mm:
        return Level.CLEAR, "first service: seats bed, no trend yet" if found.beds and len(found.stages) > 1 else ""
    total = trend.total_mm
    closed = f"closed {total:.2f} mm in {len(trend.steps_mm)} services"
    if total >= FAILS_MM or (total >= CLOSES_MM and trend.grows):
        return Level.FAIL, f"{closed}: find the cause; nothing is signed before"
    if trend.running >= 2 and total >= CLOSES_MM:
        return Level.TIGHT, f"{closed}: find the cause before any shim"
    if trend.steps_mm[-1] <= -OPENS_MM:
        return Level.TIGHT, f"opened {-trend.steps_mm[-1]:.2f} mm: look at lobe, bucket and tip"
    return Level.CLEAR, ""


@dataclass(frozen=True)
class Aim:
    """What lash is brought to, mm where the blade goes, in what band, by what sizes; ``ratio`` from blade to shim."""

    target_mm: float
    band_mm: float
    sizes_mm: tuple[float, ...]
    ratio: float = 1.0

    def after(self, fitted_mm: float, read_mm: float, shim_mm: float) -> tuple[float, bool]:
        """Lash with another shim, and whether it lies in the band."""
        found = float(lash.lash_with_mm(fitted_mm, read_mm, shim_mm, self.ratio))
        return found, abs(found - self.target_mm) <= self.band_mm + 1e-9


def aim_of(design: Context, sizes_mm: Sequence[float], *, at_lobe: bool = False) -> Aim:
    """The design's lash as a target; ``at_lobe`` is a blade at the lobe of a finger or rocker whose shim or cap lies at
    its tip. Raises ``NotKnown`` without a target."""
    target, ratio = design.entry("cam.lash", "t").value, cam.ratio(design).value if at_lobe else 1.0
    return Aim(target / ratio, BAND_MM, tuple(sorted(sizes_mm)), ratio)


def plan(design: Context, sheet: Sheet, aim: Aim) -> Plan:
    """Lash as read, and the fewest new shims that bring every valve into its band."""
    own = [p for p in sheet.places if p.side == design.side_name]
    histories = tuple(history(sheet.readings, sheet.events, p) for p in own)
    read: dict[int, tuple[float, float, float]] = {}
    for n, place in enumerate(own):
        shim, gap = sheet.settled(place, "lash_shim"), sheet.settled(place, "lash")
        if shim is not None and gap is not None and not gap.stale:
            needed = float(lash.needed_mm(shim.value, gap.value, aim.target_mm, aim.ratio))
            read[n] = shim.value, gap.value, needed
    free = [n for n in read if not _closes(histories[n])]
    swap = lash.swapped([read[n][0] for n in free], [read[n][2] for n in free], aim.band_mm * aim.ratio)
    comes_from = {n: None if at is None else free[at] for n, at in zip(free, swap.from_place, strict=True)}
    lines = []
    for n, place in enumerate(own):
        level, words = judged(histories[n])
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
            lines.append(_bought(base, aim))
            continue
        after, inside = aim.after(fitted, gap_mm, read[origin][0])
        source = "stays" if origin == n else f"from {own[origin].label}"
        lines.append(replace(base, put_mm=read[origin][0], source=source, after_mm=after, in_band=inside))
    return Plan(tuple(lines), histories, aim.target_mm, aim.band_mm)


def _unread(sheet: Sheet, place: Place, level: Level) -> Line:
    shim, gap = sheet.settled(place, "lash_shim"), sheet.settled(place, "lash")
    why = f"read again: {gap.stale}" if gap is not None and gap.stale else "lash and shim are to be read"
    fitted, read = (x.value if x is not None else None for x in (shim, gap))
    return Line(place, fitted, read, None, None, "", None, False, why, level)


def _bought(base: Line, aim: Aim) -> Line:
    assert base.needed_mm is not None
    assert base.fitted_mm is not None
    assert base.read_mm is not None
    if not aim.sizes_mm:
        return replace(base, why="no lash shim on the shelf to choose from")
    if not aim.sizes_mm[0] - BEYOND_MM <= base.needed_mm <= aim.sizes_mm[-1] + BEYOND_MM:
        why = f"{base.needed_mm:.2f} mm lies beyond every size: tip, seat or bucket is out"
        return replace(base, why=why, level=Level.FAIL)
    size = lash.nearest(base.needed_mm, aim.sizes_mm)
    after, inside = aim.after(base.fitted_mm, base.read_mm, size)
    return replace(base, put_mm=size, source="new", after_mm=after, in_band=inside)


def _closes(found: History) -> bool:
    """Whether no shim is given to a valve, since it closes and nobody said why."""
    level, _ = judged(found)
    return level in (Level.TIGHT, Level.FAIL) and found.trend.total_mm > 0.0


@dataclass(frozen=True)
class Rise:
    """What closing means: the stem stands so much higher, and the spring with it carries so much less."""

    mm: float
    lost_N: float | None


def rise(design: Context, found: History, ratio: float = 1.0) -> Rise:
    """The stem's rise over the services that count, and the load that it costs."""
    rate, total = known(lambda: spring.pack_rate(design)), found.trend.total_mm * ratio
    return Rise(total, rate.value * total if rate is not None else None)
