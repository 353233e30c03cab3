"""Seat load and rate for which the checks of a head, its cam and its speeds hold, whatever spring gives them.

One spring of one rate stands in for the pack, with the pack's mass; everything else is left as it is. Each check is
asked itself, so an edge of the window is where that check turns.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace

import numpy as np

from arcstack.assess import cam, coil, spring, stack
from arcstack.assess.catalogue import checks
from arcstack.assess.context import Context, known
from arcstack.checks import Evidence, Limit
from arcstack.document import Build, Entry
from arcstack.document.parts import Pack, Spring
from arcstack.errors import FieldError, MissingInput, NotKnown
from arcstack.mech.spring.stress import shear_MPa
from arcstack.settings import setting
from arcstack.shelf import PartKind, ShelfPart
from arcstack.shelf.fitting import fitted
from arcstack.units import FORCE, LENGTH, MASS, RATE, Dimension
from arcstack.units.display import plain

RATES = int(setting("window.rates"))
HALVINGS = int(setting("window.halvings"))
FINE = int(setting("window.fine"))
"""Parts of the way between two rates in which the region is drawn and asked."""

LOADS_N = (40.0, 1200.0)
RATES_N_PER_MM = (15.0, 80.0)

EDGES = (
    "control.separation", "control.force_reserve", "control.overspeed", "gas.boost_rule", "gas.difference_rule",
    "follower.contact_pressure.nose", "control.nose_pressure", "control.friction", "spring.seat_load",
    "spring.open_load",
)  # fmt: skip
"""Checks whose figure follows from seat load, rate and what is moved alone."""


def _entry(value: float, dimension: Dimension) -> Entry:
    return Entry(value=value, typed=plain(value, dimension), evidence=Evidence.ASSUMED)


@dataclass(frozen=True)
class Edge:
    """Where one check turns: at each rate the least and most seat load (N) at which it holds; nan where none does.

    ``of_wire`` is an edge of the fitted wire alone: another pack has its own, and the window is not closed by it.
    """

    check: str
    title: str
    least_N: tuple[float, ...]
    most_N: tuple[float, ...]
    of_wire: bool = False


@dataclass(frozen=True)
class PackLine:
    """A pack as its height moves, at its own rate: from its lowest height to the seat with no shim under it.

    ``low_N`` belongs to the tallest height, ``high_N`` to the lowest; ``at_N`` is where it stands now, or would at the
    head's present height. ``holds`` is True where some height of it lies in the window; ``ends`` say why it ends.
    """

    name: str
    rate_N_per_mm: float
    low_N: float
    high_N: float
    at_N: float
    fitted: bool
    holds: bool
    ends: tuple[str, str]


@dataclass(frozen=True)
class Wanted:
    """What spring to ask a maker for; lengths mm. Any field that the head does not tell is None."""

    height_mm: float
    lift_mm: float
    seat_N: float
    open_N: float
    rate_N_per_mm: float
    seat_range_N: tuple[float, float]
    solid_mm: float | None
    outside_mm: float | None
    inside_mm: float | None
    surge_Hz: float | None


@dataclass(frozen=True)
class Window:
    """The edges over ``rates``; at each of the ``fine`` ones every check holds from ``least_N`` to ``most_N``.

    Both are nan at a rate where no seat load will do.
    """

    rates: tuple[float, ...]
    edges: tuple[Edge, ...]
    fine: tuple[float, ...]
    least_N: tuple[float, ...]
    most_N: tuple[float, ...]
    packs: tuple[PackLine, ...]
    wanted: Wanted | None
    left_out: tuple[str, ...]

    @property
    def empty(self) -> bool:
        return all(np.isnan(self.least_N))

    def holds(self, seat_N: float, rate: float) -> bool:
        """Whether a point lies in the window, straight between the rates that were worked."""
        if not self.rates[0] <= rate <= self.rates[-1]:
            return False
        low, high = (float(np.interp(rate, self.fine, ends)) for ends in (self.least_N, self.most_N))
        return bool(low <= seat_N <= high)


def stood_in(ctx: Context, seat_N: float, rate: float) -> Build:
    """The build with one spring of a seat load and rate in place of its pack. Raises ``NotKnown``."""
    return _stood_in(ctx.build, ctx.side_name, stack.installed_height(ctx).value, _mass(ctx), seat_N, rate)


def _mass(ctx: Context) -> float:
    """What the springs of the pack weigh together."""
    parts = ctx.side.stack
    names = ["outer"] if parts.pack is Pack.SINGLE else ["outer", "inner"]
    return sum(ctx.entry(f"stack.{name}.mass", "m").value for name in names)


def _stood_in(build: Build, side: str, height_mm: float, mass_kg: float, seat_N: float, rate: float) -> Build:
    # by its load at the height it stands at: a soft spring's free length may be more than any spring's that is made
    one = Spring(
        rate=_entry(rate, RATE), height_1=_entry(height_mm, LENGTH), load_1=_entry(seat_N, FORCE),
        mass=_entry(mass_kg, MASS),
    )  # fmt: skip
    held = build.side(side)
    changed = held.stack.model_copy(update={"pack": Pack.SINGLE, "outer": one, "inner": Spring()})
    return build.model_copy(update={side: held.model_copy(update={"stack": changed})})


def _gaps(ctx: Context, check: str) -> tuple[float, float]:
    """How far a check's value is inside each end of its limit; infinite where it has none, or a soft one."""
    about = checks()[check]
    value, limit = about.value(ctx), about.limit_for(ctx)
    low = np.inf if limit.low is None or limit.soft_low else value - limit.low
    high = np.inf if limit.high is None or limit.soft_high else limit.high - value
    return low, high


def window(ctx: Context, parts: Iterable[ShelfPart] = ()) -> Window:
    """The window of one side, and packs as lines through it. Raises ``NotKnown`` while height or mass is missing."""
    height, mass = stack.installed_height(ctx).value, _mass(ctx)
    spring.moving_mass(ctx)
    rates = tuple(float(r) for r in np.linspace(*RATES_N_PER_MM, RATES))
    base = ctx.of(_stood_in(ctx.build, ctx.side_name, height, mass, 300.0, 40.0))
    judging = [c for c in EDGES if checks()[c].applies(base) and checks()[c].judges(base)]
    edges, left_out = [], []
    for check in judging:
        if known(lambda: _gaps(base, check)) is None:  # noqa: B023
            left_out.append(checks()[check].title)
            continue
        ends = [_ends(base, height, mass, check, rate) for rate in rates]
        low, high = zip(*ends, strict=True)
        edges.append(Edge(check, checks()[check].title, tuple(low), tuple(high)))
    fine, least, most = _common(edges, rates)
    edges += _wire(ctx, rates)
    made = Window(rates, tuple(edges), fine, least, most, (), None, tuple(left_out))
    lines = tuple(line for line in (_lines(ctx, made, parts)) if line is not None)
    return replace(made, packs=lines, wanted=_wanted(ctx, made))


def _wire(ctx: Context, rates: tuple[float, ...]) -> list[Edge]:
    """The most seat load that the fitted wires bear open at each rate, load and rate shared between them as now.

    Of a spring that carries the share b of the seat load and a of the rate, b·S + a·k·L_n is no more than its shear
    limit lets through.
    """
    if not spring.each_load_known(ctx):
        return []
    try:
        lines = [spring.line(ctx, n) for n in spring.springs(ctx)]
        loads, net = [f.value for f in spring.seat_loads(ctx)], cam.net_lift(ctx).value
        most = np.full(len(rates), LOADS_N[1])
        for name, line, load in zip(spring.springs(ctx), lines, loads, strict=True):
            wound = coil.wound(ctx, name).coil
            limit = ctx.limit(f"spring.stress.{name}").high
            if limit is None or line.table is not None or load <= 0.0:
                return []
            bears = limit / shear_MPa(1.0, wound.wire_mm, wound.mean_mm)
            rate = line.rate.value / sum(row.rate.value for row in lines)
            most = np.minimum(most, (bears - rate * np.array(rates) * net) / (load / sum(loads)))
    except NotKnown:
        return []
    least = np.where(most < LOADS_N[0], np.nan, LOADS_N[0])
    ends = tuple(least.tolist()), tuple(np.where(np.isnan(least), np.nan, most).tolist())
    return [Edge("spring.stress", "Stress of the fitted wire", *ends, of_wire=True)]


NEAR_N = setting("window.near")
"""How near an edge of the window is looked for."""


def _ends(base: Context, height: float, mass: float, check: str, rate: float) -> tuple[float, float]:
    """The seat loads between which a check holds at one rate: more load helps one end and hurts the other."""

    def gaps(seat_N: float) -> tuple[float, float]:
        return _gaps(base.of(_stood_in(base.build, base.side_name, height, mass, seat_N, rate)), check)

    at_low, at_high = (gaps(load) for load in LOADS_N)
    least, most = LOADS_N
    for end in (0, 1):
        low, high = at_low[end], at_high[end]
        if np.isinf(low) or (low >= 0.0 and high >= 0.0):
            continue
        if low < 0.0 and high < 0.0:
            return float("nan"), float("nan")
        at = _turns(lambda load: gaps(load)[end], low, high)  # noqa: B023
        if low < 0.0:
            least = max(least, at)
        else:
            most = min(most, at)
    return (least, most) if least <= most else (float("nan"), float("nan"))


def _turns(gap: Callable[[float], float], at_low: float, at_high: float) -> float:
    """The seat load at which a gap turns its sign: false position, the end that stands still halved (Illinois)."""
    low, high = LOADS_N
    before, stood = low, 0
    for _ in range(HALVINGS):
        middle = high - at_high * (high - low) / (at_high - at_low)
        if abs(middle - before) < NEAR_N:
            return middle
        before, found = middle, gap(middle)
        if (found < 0.0) == (at_high < 0.0):
            high, at_high = middle, found
            at_low, stood = (at_low / 2.0 if stood == 1 else at_low), 1
        else:
            low, at_low = middle, found
            at_high, stood = (at_high / 2.0 if stood == -1 else at_high), -1
    return before


def _common(edges: list[Edge], rates: tuple[float, ...]) -> tuple[tuple[float, ...], ...]:
    """Fine rates, and the seat loads between which every edge holds at each: straight between the rates worked."""
    fine = np.linspace(rates[0], rates[-1], FINE * (len(rates) - 1) + 1)
    low, high = np.full(len(fine), LOADS_N[0]), np.full(len(fine), LOADS_N[1])
    for edge in edges:
        low = np.maximum(low, np.interp(fine, rates, edge.least_N))
        high = np.minimum(high, np.interp(fine, rates, edge.most_N))
    nowhere = ~(low <= high)
    low, high = np.where(nowhere, np.nan, low), np.where(nowhere, np.nan, high)
    return tuple(fine.tolist()), tuple(low.tolist()), tuple(high.tolist())


def _lines(ctx: Context, found: Window, parts: Iterable[ShelfPart]) -> Iterable[PackLine | None]:
    side = ctx.side.stack
    own = side.name or side.outer.code or "fitted pack"
    yield _line(ctx, found, own, True)
    for part in parts:
        # the fitted pack is on the shelf too, and its outer spring named after it
        same = own == part.name or own.startswith(f"{part.name} ")
        if part.kind is PartKind.PACK and not part.retired and not same:
            try:
                tried = ctx.of(fitted(ctx.build, ctx.side_name, part, "pack"))
            except FieldError:
                continue
            yield _line(tried, found, part.name, False)


def _line(ctx: Context, found: Window, name: str, is_fitted: bool) -> PackLine | None:
    """A pack of straight springs as its height moves; None for one whose table curves, or that is not known whole."""
    try:
        lines = [spring.line(ctx, n) for n in spring.springs(ctx)]
        if any(line.table is not None for line in lines):
            return None
        rate = sum(line.rate.value for line in lines)
        seat, height = spring.seat_load(ctx).value, stack.installed_height(ctx).value
        tallest = stack.open_height(ctx).value
        reserves = [spring.reserve_outer(ctx).value - _floor(ctx, "outer")]
        if len(lines) > 1:
            reserves.append(spring.reserve_inner(ctx).value - _floor(ctx, "inner"))
    except NotKnown:
        return None
    lowest = height - min(reserves)
    ends = (seat + rate * (height - tallest), seat + rate * (height - lowest))
    if ends[1] < ends[0]:
        # solid before it is even on its seat: no height will do
        return PackLine(name, rate, ends[1], ends[0], seat, is_fitted, False, ("solid", "on the seat"))
    span = np.linspace(ends[0], ends[1], 41)
    holds = any(found.holds(float(load), rate) for load in span)
    return PackLine(name, rate, ends[0], ends[1], seat, is_fitted, holds, ("on the seat, no shim", "reserve used up"))


def _floor(ctx: Context, name: str) -> float:
    limit: Limit = ctx.limit(f"spring.reserve.{name}")
    return limit.low or 0.0


def _wanted(ctx: Context, found: Window) -> Wanted | None:
    """The middle of the window, and the room that the head leaves for such a spring."""
    low, high = np.array(found.least_N), np.array(found.most_N)
    wide = high - low
    if not np.isfinite(wide).any():
        return None
    at = int(np.nanargmax(wide))
    inside = [i for i in range(len(wide)) if np.isfinite(wide[i])]
    # the middle of the rates that will do, if the window is open there, else where it is widest
    middle = inside[len(inside) // 2]
    at = middle if np.isfinite(wide[middle]) and wide[middle] > 0.5 * wide[at] else at
    rate, seat = found.fine[at], float((low[at] + high[at]) / 2.0)
    target = known(lambda: ctx.entry("stack.target_height", "H_t"))
    height = target.value if target is not None else stack.installed_height(ctx).value
    try:
        gross, net = cam.gross_lift(ctx).value, cam.net_lift(ctx).value
    except MissingInput:
        return None
    pocket = known(lambda: ctx.entry("stack.pocket.diameter", "D"))
    bucket = known(lambda: ctx.entry("follower.inside", "D")) if ctx.bucket else None
    asked = ((pocket, "fit.pocket"), (bucket, "fit.pocket.bucket"))
    rooms = [f.value - ctx.limit(key).tight for f, key in asked if f is not None]
    seal = known(lambda: ctx.entry("stack.seal.outside", "D"))
    limiter, order = known(lambda: ctx.entry("brief.limiter", "n")), ctx.limit("spring.surge_order").low
    return Wanted(
        height, gross, seat, seat + rate * net, rate, (float(low[at]), float(high[at])),
        height - gross - _floor(ctx, "outer"),
        min(rooms) if rooms else None,
        seal.value + ctx.limit("fit.seal.inner").tight if seal is not None else None,
        order * limiter.value / 120.0 if order is not None and limiter is not None else None,
    )  # fmt: skip
